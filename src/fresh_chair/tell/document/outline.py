"""A document as lines for a terminal: headings, and the blocks below them."""

from collections.abc import Iterator
from typing import Literal

from fresh_chair.core.frozen import frozen
from fresh_chair.tell.document import model as m

LineKind = Literal["heading", "paragraph", "own", "open", "quiet", "item", "quote", "row", "figure", "picture"]


@frozen
class OutlineLine:
    """One line, before it is wrapped.

    Attributes:
        section: The section it belongs to.
        level: The depth of that section, from 1.
        hang: How far the lines it is wrapped into hang in.
        name: Of a figure its chart.
    """

    kind: LineKind
    text: m.Text
    section: str
    level: int
    hang: int = 0
    name: str = ""


def outline(document: m.Document) -> Iterator[OutlineLine]:
    """The lines of a document."""
    for level, section in document.walk():
        if section.title:
            yield OutlineLine("heading", (m.Run(section.title, "strong"),), section.id, level)
        for block in section.blocks:
            for kind, text, hang, name in _lines(block):
                yield OutlineLine(kind, text, section.id, level, hang, name)


def _lines(block: m.Block) -> Iterator[tuple[LineKind, m.Text, int, str]]:
    match block:
        case m.Paragraph():
            looks: dict[str, LineKind] = {"own": "own", "open": "open", "quiet": "quiet"}
            yield looks.get(block.look, "paragraph"), block.text, 0, ""
        case m.Listing():
            for number, item in enumerate(block.items, start=1):
                sign = f"{number}. " if block.numbered else "- "
                yield "item", (m.Run(sign), *item), len(sign), ""
        case m.Quotation():
            source = (m.Run(" ("), *block.source, m.Run(")", "quiet")) if block.source else ()
            yield "quote", (*block.text, *source), 0, ""
        case m.Table():
            if block.title:
                yield "quiet", (m.Run(block.title),), 0, ""
            for row in block.rows:
                yield "row", _row(block.heads, row), 4, ""
        case m.Figure():
            yield "figure", (m.Run(block.title),), 0, block.name
        case m.Picture():
            yield "picture", (m.Run(f"{block.title} ({block.name})"),), 2, block.name


def _row(heads: tuple[m.Text, ...], row: tuple[m.Text, ...]) -> m.Text:
    """A row on one line: its head, then every other cell after the name of its column."""
    spans: list[m.Run] = [m.Run(m.plain(row[0]), "strong")]
    for head, cell in zip(heads[1:], row[1:], strict=True):
        if m.plain(cell).strip():
            spans += [m.Run(f"; {m.plain(head)} ", "quiet"), *cell]
    return tuple(spans)
