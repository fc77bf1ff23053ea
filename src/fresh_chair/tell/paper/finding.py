"""A finding's page on one sheet of paper: two columns, made smaller until they fit."""

from collections.abc import Sequence
from io import BytesIO
from pathlib import Path

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, KeepInFrame, Paragraph, Spacer

from fresh_chair.core.text import clipped, legible
from fresh_chair.tell.paper.style import MARGIN, PLAIN, QUIET, RULE, SIZES, Paper, paragraph, use_fonts

# A name, and its lines: the words, and whether they stand back.
Column = Sequence[tuple[str, Sequence[tuple[str, bool]]]]
_HEAD = 22 * mm
_GAP = 8 * mm


def finding_pdf(
    name: str, title: str, below: str, columns: tuple[Column, Column], *, study: str, paper: Paper, fonts: Path
) -> bytes:
    """One page as a PDF; the same finding gives the same bytes.

    Args:
        name: Its number as it is spoken of.
        title: Its title.
        below: Its sort and tags.
        columns: The sections of the left and of the right column.
        study: The study's title, for the foot.
        paper: Its size.
        fonts: The folder of the fonts to embed.
    """
    use_fonts(fonts)
    buffer = BytesIO()
    width, height = SIZES[paper]
    canvas = Canvas(buffer, pagesize=(width, height), invariant=1)
    canvas.setTitle(legible(f"{name} {title}"))
    canvas.setAuthor("Fresh Chair")
    room = height - 2 * MARGIN - _HEAD
    _drawn(canvas, _head(name, title, below), MARGIN, height - MARGIN - _HEAD, width - 2 * MARGIN, _HEAD)
    canvas.setStrokeColor(RULE)
    canvas.line(MARGIN, height - MARGIN - _HEAD, width - MARGIN, height - MARGIN - _HEAD)
    each = (width - 2 * MARGIN - _GAP) / 2
    for index, column in enumerate(columns):
        _drawn(canvas, _story(column), MARGIN + index * (each + _GAP), MARGIN, each, room - 3 * mm)
    canvas.setFont(PLAIN, 7)
    canvas.setFillColor(QUIET)
    canvas.drawString(MARGIN, 10 * mm, clipped(legible(study), 90))
    canvas.showPage()
    canvas.save()
    return buffer.getvalue()


def _head(name: str, title: str, below: str) -> list[Flowable]:
    return [paragraph(f"{name}  {title}", 14, bold=True), Spacer(0, 1 * mm), paragraph(below, 9, quiet=True)]


def _story(column: Column) -> list[Flowable]:
    found: list[Flowable] = []
    for name, lines in column:
        found += [paragraph(name, 8, bold=True), Spacer(0, 0.6 * mm)]
        found += [_line(words, quiet=quiet) for words, quiet in lines]
        found.append(Spacer(0, 2.4 * mm))
    return found


def _line(words: str, *, quiet: bool) -> Paragraph:
    return paragraph(words.strip(), 8.5, quiet=quiet)


def _drawn(canvas: Canvas, story: list[Flowable], left: float, bottom: float, width: float, height: float) -> None:
    """Draw a story into a rectangle, from its top, smaller where it would not fit."""
    fitted = KeepInFrame(width, height, story or [Spacer(0, 0)], mode="shrink")
    _, used = fitted.wrapOn(canvas, width, height)
    fitted.drawOn(canvas, left, bottom + height - used)
