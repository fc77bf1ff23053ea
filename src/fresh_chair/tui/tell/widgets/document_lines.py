"""A document as the lines of a list: open points in front, then its outline or its whole text. Pure drawing."""

from collections.abc import Callable, Iterator, Sequence
from textwrap import wrap

from textual.content import Content

from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import count_of, legible
from fresh_chair.services.report.telling.open_points import OpenPoint
from fresh_chair.tell.document.model import Document, plain
from fresh_chair.tell.document.outline import OutlineLine, outline

_COLOURS = {
    "heading": "bold $lamp",
    "paragraph": "$chalk",
    "own": "$lamp",
    "open": "$clay",
    "quiet": "$thread",
    "item": "$chalk",
    "quote": "$plum",
    "row": "$chalk",
    "figure": "bold $tide",
    "picture": "$tide",
}
Small = Callable[[str], list[Content]]


@frozen
class DocumentLine:
    """One line of the list.

    Attributes:
        id: None for one that cannot be in hand.
        rows: What is drawn, a row each.
        section: The section it belongs to; empty for none.
        words: Its text, whole.
        figure: The name of its chart; empty for none.
        point: The key of the open point it is; empty for none.
    """

    id: str | None
    rows: tuple[Content, ...]
    section: str = ""
    words: str = ""
    figure: str = ""
    point: str = ""


def document_lines(
    document: Document, points: Sequence[OpenPoint], width: int, *, whole: bool, small: Small
) -> list[DocumentLine]:
    """The lines of a document.

    Args:
        document: The document.
        points: What is open, and what was answered.
        width: How many cells a row has.
        whole: Its whole text; otherwise headings, figures, own words and the first words of each section.
        small: Draws a chart small, by its name.
    """
    lines = [*_points(points, width)]
    lines.append(DocumentLine(None, (Content(""),)))
    title = Content.styled(legible(document.title), "bold $lamp")
    about = " · ".join(filter(None, (document.subtitle, document.status)))
    lines.append(DocumentLine(None, (title, Content.styled(legible(about), "$thread"))))
    before = ""
    for number, line in enumerate(outline(document)):
        first = line.section != before and line.kind not in ("heading", "quiet")
        before = line.section if first else before
        if whole or line.kind in ("heading", "figure", "own") or first:
            lines += _line(line, number, width, whole, small)
    return lines


def _points(points: Sequence[OpenPoint], width: int) -> Iterator[DocumentLine]:
    """Open points in front of everything; those that were answered are counted in one line."""
    waiting = [each for each in points if each.answer is None]
    answered = len(points) - len(waiting)
    said = (
        f"{count_of(len(waiting), 'thing')} open before it goes out"
        if waiting
        else "nothing is open before it goes out"
    )
    more = f", {answered} answered" if answered else ""
    yield DocumentLine(None, (Content.assemble((said, "bold $clay" if waiting else "$moss"), (more, "$thread")),))
    for each in waiting:
        rows = tuple(
            Content.styled(f"{'! ' if not row else '  '}{part}", "$clay")
            for row, part in enumerate(wrap(legible(each.words), max(width - 3, 20)) or [""])
        )
        yield DocumentLine(f"point:{each.key}", rows, "", each.words, "", each.key)


def _line(line: OutlineLine, number: int, width: int, whole: bool, small: Small) -> Iterator[DocumentLine]:
    indent = "  " * min(line.level - 1, 2) if line.kind == "heading" else "  " * min(line.level, 2)
    text = legible(plain(line.text))
    hang = indent + " " * line.hang
    parts = wrap(text, max(width - 2, 20), initial_indent=indent, subsequent_indent=hang) or [indent]
    if not whole and line.kind not in ("heading", "figure") and len(parts) > 2:
        parts = [parts[0], parts[1][: max(width - 4, 10)] + "…"]
    rows = [Content.styled(part, _COLOURS[line.kind]) for part in parts]
    if line.kind == "heading" and line.level == 1:
        yield DocumentLine(None, (Content(""),))
    if line.kind == "figure":
        rows += small(line.name)
    yield DocumentLine(f"line:{number}", tuple(rows), line.section, plain(line.text), line.name)
