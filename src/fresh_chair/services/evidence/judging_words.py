"""Everything that reviewers wrote besides their marks: titles of findings, reasons, advice, records of evidence."""

from collections.abc import Iterator
from dataclasses import asdict
from typing import Any

from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.store.scrubbing import WORD_FIELDS


def judging_words(opened: StudyReading, *, paragraphs: bool = False) -> Iterator[tuple[str, str]]:
    """Each text with the finding or the record it stands in, as evidence names it; only those that hold now.

    Args:
        opened: The study.
        paragraphs: Whether the reviewer's own paragraphs are among them.
    """
    for finding in opened.findings.by_id.values():
        target = f"finding:{finding.id}"
        yield target, finding.title
        yield from ((target, judged.reason) for judged in finding.severities.values() if judged.reason)
        for versions in finding.parts.values():
            for held in versions.values():
                if (part := held[-1].part) is not None:
                    yield from ((target, text) for text in words_in(asdict(part)))
    for kind in opened.evidence.state.records:
        if kind == "paragraph" and not paragraphs:
            continue
        for record in opened.evidence.state.held(kind):
            yield from ((f"{kind}:{record.record.id}", text) for text in words_in(asdict(record.record)))


def words_in(data: Any) -> Iterator[str]:
    """Every text in the fields of a content that hold free text."""
    for _, text in fields_in(data):
        yield text


def fields_in(data: Any) -> Iterator[tuple[str, str]]:
    """The same with the name of each field."""
    if isinstance(data, dict):
        for field, value in data.items():
            if isinstance(value, str) and value and field in WORD_FIELDS:
                yield field, value
            else:
                yield from fields_in(value)
    elif isinstance(data, list | tuple):
        for each in data:
            yield from fields_in(each)
