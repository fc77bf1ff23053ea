"""Pictures attached to marks, as documents show them."""

from collections.abc import Iterator, Mapping
from pathlib import Path

from fresh_chair.core.evidence.attachments import Attachment
from fresh_chair.services.evidence.attachments import all_attachments, path_of
from fresh_chair.services.report.telling.quotes import choices_of
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.tell.document.model import Document, Picture

_SHOWN = (".png", ".jpg", ".jpeg")
# A larger picture stays a file of its own.
_MOST_BYTES = 8_000_000
_BEGINS = (b"\x89PNG\r\n", b"\xff\xd8\xff")


def pictures_at(told: ToldStudy, sitting: int, entry: str, title: str) -> Iterator[Picture]:
    """The pictures that show a mark, but for those of a mark that the reviewer left out."""
    if told.beside is None or choices_of(told).get(f"mark:{entry}") == "left out":
        return
    for each in told.opened.sittings[sitting].attachments:
        if each.about == entry and _there(each.attachment, told.beside):
            alt = told.words.say("{file}, attached to: {mark}", file=each.attachment.name, mark=title)
            yield Picture(each.attachment.copy_name, title, alt)


def picture_bytes(told: ToldStudy, document: Document) -> Mapping[str, bytes]:
    """The content of the pictures of a document, by name."""
    names = {block.name for block in document.blocks() if isinstance(block, Picture)}
    if told.beside is None or not names:
        return {}
    held = {attachment.copy_name: attachment for _, attachment in all_attachments(told.opened)}
    return {name: path_of(held[name], told.beside).read_bytes() for name in sorted(names)}


def _there(attachment: Attachment, study: Path) -> bool:
    """Whether a file is a picture that can be shown, by its first bytes and not by its name alone."""
    path = path_of(attachment, study)
    try:
        if not attachment.name.lower().endswith(_SHOWN) or path.stat().st_size > _MOST_BYTES:
            return False
        with path.open("rb") as file:
            return file.read(8).startswith(_BEGINS)
    except OSError:
        return False
