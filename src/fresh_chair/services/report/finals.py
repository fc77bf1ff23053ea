"""Drafts and final documents: a final one is kept with its day and hash, a later one names the changes."""

import hashlib
from dataclasses import replace

from fresh_chair.core.evidence.telling import FinalDocument
from fresh_chair.services.evidence.records import evidence_of_kind, put_evidence
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tell.document.markdown import markdown_of
from fresh_chair.tell.document.model import Document, Listing, Paragraph, Run, Section


def content_hash(document: Document) -> str:
    """The hash of a document's content, without its status."""
    return hashlib.sha256(markdown_of(replace(document, status="")).encode()).hexdigest()


def section_hashes(document: Document) -> dict[str, str]:
    """The hash of each section of a document, by its id."""
    alone = replace(document, status="", sample="", footer=())
    return {
        section.id: hashlib.sha256(markdown_of(replace(alone, sections=(section,))).encode()).hexdigest()[:16]
        for section in document.sections
    }


def last_final(told: ToldStudy) -> FinalDocument | None:
    """The newest final document of the same reader, chair, sitting and language; None where none was given out."""
    this = (told.reader, told.chair, told.sitting, told.words.language)
    held = [each.record for each in evidence_of_kind(told.opened, "final")]
    fitting = [
        each
        for each in held
        if isinstance(each, FinalDocument) and (each.reader, each.chair, each.sitting, each.language) == this
    ]
    return fitting[-1] if fitting else None


def with_status(told: ToldStudy, document: Document) -> Document:
    """A document with its status: the final one as it was given out, or a draft, with the changes since then."""
    say = told.words.say
    if told.reader is None or document.status:
        return document
    final = last_final(told)
    if final is None:
        return replace(document, status=say("Draft"))
    if final.sha256 == content_hash(document):
        status = say("Final, {day}, SHA-256 {hash}", day=told.words.day(final.on), hash=final.sha256[:16])
        return replace(document, status=status)
    status = say("Draft; it differs from the final one of {day}", day=told.words.day(final.on))
    return replace(document, status=status, sections=(_changed(told, document, final), *document.sections))


def _changed(told: ToldStudy, document: Document, final: FinalDocument) -> Section:
    """Which sections are other than in the final one, new, or gone."""
    before = dict(part.split("=", 1) for part in final.sections if "=" in part)
    titles = {section.id: section.title for section in document.sections}
    items = []
    for name, digest in section_hashes(document).items():
        if name not in before:
            items.append(told.prose.say("new: {section}", section=Run(titles[name] or name, to=name)))
        elif before[name] != digest:
            items.append(told.prose.say("changed: {section}", section=Run(titles[name] or name, to=name)))
    items += [told.prose.say("gone: {section}", section=name) for name in before if name not in titles]
    about = Paragraph(told.prose.say("Since the final one of {day}:", day=told.words.day(final.on)))
    return Section("changed", told.words.say("What changed"), (about, Listing(tuple(items))))


def make_final(opened: OpenStudy, told: ToldStudy, document: Document, day: str) -> FinalDocument:
    """Keep that a document is final as it is now.

    Args:
        opened: The open study.
        told: What the document was made from.
        document: It, without its status.
        day: The day on which it is given out.

    Raises:
        Refused: Where the study may only be read.
        NotSaved: Where the disk refuses.
    """
    sections = "; ".join(f"{name}={digest}" for name, digest in section_hashes(document).items())
    texts = {
        "reader": told.reader or "researcher",
        "chair": told.chair,
        "sitting": str(told.sitting),
        "on": day,
        "language": told.words.language,
        "sha256": content_hash(document),
        "sections": sections,
    }
    record = put_evidence(opened, "final", texts)
    assert isinstance(record, FinalDocument)
    return record
