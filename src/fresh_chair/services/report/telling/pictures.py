"""Pictures attached to marks, as documents show them."""

from collections.abc import Iterator, Mapping
from functools import lru_cache
from pathlib import Path

from fresh_chair.core.evidence.attachments import Attachment
from fresh_chair.core.findings.sorted_findings import FindingView
from fresh_chair.services.evidence.attachments import all_attachments, path_of
from fresh_chair.services.report.telling.quotes import choices_of
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.tell.document.model import Document, Picture

_SHOWN = (".png", ".jpg", ".jpeg")
# A larger picture stays a file of its own.
_MOST_BYTES = 8_000_000


def pictures_at(told: ToldStudy, sitting: int, entry: str, title: str) -> Iterator[Picture]:
    """The pictures that show a mark, but for those of a mark that the reviewer left out."""
    if told.beside is None or choices_of(told).get(f"mark:{entry}") == "left out":
        return
    for each in told.opened.sittings[sitting].attachments:
        if each.about == entry and _read(each.attachment, told.beside) is not None:
            alt = told.words.say("{file}, attached to: {mark}", file=each.attachment.name, mark=title)
            yield Picture(each.attachment.copy_name, title, alt)


def pictures_of(told: ToldStudy, view: FindingView, *, chair: str = "") -> Iterator[Picture]:
    """The pictures that show the marks of a finding, at one chair or, where it is empty, at all."""
    for each in view.observations:
        if each.sitting and chair in ("", each.chair):
            yield from pictures_at(told, each.sitting, each.entry, each.words or view.title)


def picture_bytes(told: ToldStudy, document: Document) -> Mapping[str, bytes]:
    """The content of the pictures of a document, by name."""
    names = {block.name for block in document.blocks() if isinstance(block, Picture)}
    if told.beside is None or not names:
        return {}
    held = {attachment.copy_name: attachment for _, attachment in all_attachments(told.opened)}
    read = {name: _read(held[name], told.beside) for name in sorted(names)}
    return {name: data for name, data in read.items() if data is not None}


def _read(attachment: Attachment, study: Path) -> bytes | None:
    """A picture as documents show it; None where the file is none, is too large, is damaged or is not there."""
    path = path_of(attachment, study)
    try:
        if not attachment.name.lower().endswith(_SHOWN) or path.stat().st_size > _MOST_BYTES:
            return None
        return _clean(attachment.sha256, path)
    except OSError:
        return None


@lru_cache(maxsize=64)
def _clean(sha256: str, path: Path) -> bytes | None:
    """Each picture is decoded once, though every format asks for it."""
    from fresh_chair.tell.document.clean_pictures import clean_picture

    return clean_picture(path.read_bytes())
