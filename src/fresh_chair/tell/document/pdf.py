"""A document as PDF: bookmarks, page numbers, every font embedded, charts as they were drawn."""

from collections.abc import Mapping, Sequence
from io import BytesIO
from pathlib import Path
from typing import Any

from pypdf import PdfReader, PdfWriter, Transformation
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import (
    BaseDocTemplate,
    Flowable,
    Frame,
    Image,
    KeepTogether,
    LongTable,
    PageTemplate,
    Paragraph,
    Spacer,
    TableStyle,
)

from fresh_chair.core.text import clipped, legible
from fresh_chair.tell.document import model as m
from fresh_chair.tell.paper.style import (
    BOLD,
    INK,
    MARGIN,
    PLAIN,
    QUIET,
    RULE,
    SIZES,
    SLANTED,
    Paper,
    escaped,
    use_fonts,
)

# Sizes that are tried, the largest first, for a document that has so many pages and no more.
_SIZES = (9.5, 9.0, 8.5, 8.0, 7.5)
_HEAD_SIZES = {1: 1.55, 2: 1.2, 3: 1.05}


class _Mark(Flowable):
    """A section's place in the list of contents, and the end of links to it."""

    def __init__(self, key: str, title: str, level: int) -> None:
        super().__init__()
        self._key, self._title, self._level = key, title, level
        # A heading is never the last thing on a page.
        self.keepWithNext = 1

    def wrap(self, aW: float, aH: float) -> tuple[float, float]:
        return 0, 0

    def draw(self) -> None:
        self.canv.bookmarkHorizontal(self._key, 0, 12)
        self.canv.addOutlineEntry(legible(self._title), self._key, min(self._level - 1, 3), closed=self._level > 1)


class _ChartRoom(Flowable):
    """The room a chart takes; it is laid in once all pages are there."""

    def __init__(self, name: str, width: float, height: float, places: list[tuple[str, int, float, float, float]]):
        super().__init__()
        self._name, self._wide, self._high, self._places = name, width, height, places
        # It stays with its caption, and with the heading above it.
        self.keepWithNext = 1

    def wrap(self, aW: float, aH: float) -> tuple[float, float]:
        return self._wide, self._high

    def draw(self) -> None:
        left, bottom = self.canv.absolutePosition(0, 0)
        self._places.append((self._name, self.canv.getPageNumber(), left, bottom, self._wide))


def pdf_of(
    document: m.Document,
    charts: Mapping[str, bytes],
    pictures: Mapping[str, bytes],
    *,
    paper: Paper,
    fonts: Path,
) -> bytes:
    """The document as PDF; the same document gives the same bytes.

    Args:
        document: The document.
        charts: PDF of one page by the chart's name.
        pictures: PNG or JPEG by the picture's name.
        paper: Its size.
        fonts: The folder of the fonts to embed.
    """
    use_fonts(fonts)
    made = b""
    for size in _SIZES if document.pages else _SIZES[:1]:
        made, pages = _Pages(document, charts, pictures, paper, size).made()
        if pages <= document.pages:
            break
    return made


class _Pages:
    """One try at laying out a document, at one size of type."""

    def __init__(
        self,
        document: m.Document,
        charts: Mapping[str, bytes],
        pictures: Mapping[str, bytes],
        paper: Paper,
        size: float,
    ) -> None:
        self._document, self._pictures, self._size = document, pictures, size
        self._charts = {name: PdfReader(BytesIO(data)).pages[0] for name, data in charts.items()}
        self._page_width, self._page_height = SIZES[paper]
        self._width = self._page_width - 2 * MARGIN
        self._places: list[tuple[str, int, float, float, float]] = []

    def made(self) -> tuple[bytes, int]:
        """The PDF, and how many pages it has."""
        buffer = BytesIO()
        # A document of so many pages and no more has its margins for it.
        top, foot = (MARGIN * 0.7, MARGIN * 0.9) if self._document.pages else (MARGIN * 0.85, MARGIN)
        frame = Frame(
            MARGIN, foot, self._width, self._page_height - foot - top, leftPadding=0, rightPadding=0, topPadding=0,
            bottomPadding=0,
        )  # fmt: skip
        template = BaseDocTemplate(
            buffer,
            pagesize=(self._page_width, self._page_height),
            title=legible(self._document.title),
            author="Fresh Chair",
            subject=self._document.name,
            lang=self._document.language,
            initialFontName=PLAIN,
            invariant=1,
        )
        template.addPageTemplates([PageTemplate("page", [frame], onPage=self._foot)])
        template.build(self._story())
        return self._with_charts(buffer)

    def _with_charts(self, buffer: BytesIO) -> tuple[bytes, int]:
        if not self._places:
            return buffer.getvalue(), len(PdfReader(buffer).pages)
        writer = PdfWriter(clone_from=PdfReader(buffer))
        for name, page, left, bottom, width in self._places:
            chart = self._charts[name]
            scale = width / float(chart.mediabox.width)
            moved = Transformation().scale(scale).translate(left, bottom)
            writer.pages[page - 1].merge_transformed_page(chart, moved)
        for page_made in writer.pages:
            page_made.compress_content_streams()
        laid = BytesIO()
        writer.write(laid)
        return laid.getvalue(), len(writer.pages)

    def _foot(self, canvas: Any, template: Any) -> None:
        canvas.setFont(PLAIN, 7)
        canvas.setFillColor(QUIET)
        status = f" · {self._document.status}" if self._document.status else ""
        canvas.drawString(MARGIN, 10 * mm, clipped(legible(self._document.title + status), 110))
        canvas.drawRightString(self._page_width - MARGIN, 10 * mm, str(template.page))

    def _style(self, size: float = 1.0, **more: Any) -> ParagraphStyle:
        given: dict[str, Any] = {
            "fontName": PLAIN,
            "bulletFontName": PLAIN,
            "textColor": INK,
            "splitLongWords": 1,
            **more,
        }
        points = size * self._size
        return ParagraphStyle("p", fontSize=points, leading=points * (1.27 if self._document.pages else 1.38), **given)

    def _story(self) -> list[Flowable]:
        document = self._document
        story: list[Flowable] = [Paragraph(escaped(document.title), self._style(1.9, fontName=BOLD)), Spacer(0, 2)]
        for line in (document.subtitle, document.status):
            if line:
                story += [Paragraph(escaped(line), self._style(1.05, textColor=QUIET)), Spacer(0, 2)]
        if document.sample:
            story += [Paragraph(escaped(document.sample), self._style(0.95, fontName=SLANTED)), Spacer(0, 4)]
        for section in document.sections:
            story += self._section(section, 1)
        if document.footer:
            story += [Spacer(0, 6), Paragraph(self._inline(document.footer), self._style(0.85, textColor=QUIET))]
        return story

    def _section(self, section: m.Section, level: int) -> list[Flowable]:
        size = _HEAD_SIZES.get(level, 1.0)
        head: list[Flowable] = [_Mark(section.id, section.title, level)] if section.title else []
        if section.title:
            close = 0.6 if self._document.pages else 1.0
            above = self._size * (1.6 if level == 1 else 1.0) * close
            styled = self._style(size, fontName=BOLD, spaceBefore=above, spaceAfter=self._size * 0.35, keepWithNext=1)
            head.append(Paragraph(escaped(section.title), styled))
        blocks: list[Flowable] = []
        for block, leads in m.with_leads(section.blocks):
            blocks += self._leading(block) if leads and isinstance(block, m.Paragraph) else self._block(block)
        if section.keep:
            return [KeepTogether(head + blocks), *self._inner(section, level)]
        return [*head, *blocks, *self._inner(section, level)]

    def _inner(self, section: m.Section, level: int) -> list[Flowable]:
        return [flowable for part in section.sections for flowable in self._section(part, level + 1)]

    def _leading(self, block: m.Paragraph) -> Sequence[Flowable]:
        """A paragraph that stays on the page with the first line below it."""
        styled = self._paragraph_style(block.look)
        styled.keepWithNext, styled.spaceAfter = 1, self._air
        return [Paragraph(self._inline(block.text), styled)]

    @property
    def _air(self) -> float:
        """The space below a block, in points."""
        return self._size * (0.25 if self._document.pages else 0.45)

    def _block(self, block: m.Block) -> Sequence[Flowable]:
        air = self._air
        match block:
            case m.Paragraph():
                return [Paragraph(self._inline(block.text), self._paragraph_style(block.look)), Spacer(0, air)]
            case m.Listing():
                styled = self._style(leftIndent=self._size * 1.5, bulletIndent=self._size * 0.3)
                signs = [f"{number}." if block.numbered else "•" for number in range(1, len(block.items) + 1)]
                items = [
                    Paragraph(self._inline(item), styled, bulletText=sign)
                    for item, sign in zip(block.items, signs, strict=True)
                ]
                return [*items, Spacer(0, air)]
            case m.Quotation():
                source = f" <font face='{PLAIN}'>({self._inline(block.source)})</font>" if block.source else ""
                styled = self._style(fontName=SLANTED, leftIndent=self._size * 1.5)
                return [Paragraph(f"{self._inline(block.text)}{source}", styled), Spacer(0, air)]
            case m.Table():
                return [*self._table(block), Spacer(0, air * 1.5)]
            case m.Figure():
                return self._figure(block)
            case m.Picture():
                return self._picture(block)

    def _paragraph_style(self, look: m.ParagraphLook) -> ParagraphStyle:
        if look == "own":
            return self._style(leftIndent=self._size, borderColor=RULE)
        if look == "open":
            return self._style(leftIndent=self._size, fontName=BOLD)
        if look == "lead":
            return self._style(1.12)
        return self._style(0.9, textColor=QUIET) if look == "quiet" else self._style()

    def _table(self, table: m.Table) -> list[Flowable]:
        small = self._style(0.82)
        quiet = self._style(0.82, textColor=QUIET)
        rows = [[Paragraph(self._inline(head), quiet) for head in table.heads]]
        rows += [[Paragraph(self._inline(cell), small) for cell in row] for row in table.rows]
        drawn = LongTable(rows, colWidths=self._widths(table), repeatRows=1)
        pad, gap = self._size * 0.18, self._size * 0.6
        whole = (0, 0), (-1, -1)
        drawn.setStyle(
            TableStyle(
                [
                    ("FONTNAME", *whole, PLAIN),
                    ("LINEBELOW", *whole, 0.4, RULE),
                    ("VALIGN", *whole, "TOP"),
                    ("LEFTPADDING", *whole, 0),
                    ("RIGHTPADDING", *whole, gap),
                    ("TOPPADDING", *whole, pad),
                    ("BOTTOMPADDING", *whole, pad),
                ]
            )
        )
        head = [Paragraph(escaped(table.title), self._style(0.9, textColor=QUIET))] if table.title else []
        return [*head, drawn]

    def _widths(self, table: m.Table) -> list[float]:
        """Widths by the longest word and the longest text of each column."""
        if table.wide:
            return [self._width * share / sum(table.wide) for share in table.wide]
        columns = list(zip(*(tuple(map(m.plain, row)) for row in (table.heads, *table.rows)), strict=True))
        words = [max((len(word) for text in column for word in text.split()), default=1) for column in columns]
        whole = [max(map(len, column)) for column in columns]
        wanted = [min(max(word + 2, length**0.8 + 2), 60) for word, length in zip(words, whole, strict=True)]
        return [self._width * each / sum(wanted) for each in wanted]

    def _figure(self, figure: m.Figure) -> list[Flowable]:
        chart = self._charts[figure.name]
        wide, high = float(chart.mediabox.width), float(chart.mediabox.height)
        most = 0.42 * self._page_height
        scale = min(self._width / wide, most / high, 1.0)
        room = _ChartRoom(figure.name, wide * scale, high * scale, self._places)
        caption = Paragraph(escaped(figure.title), self._style(0.85, textColor=QUIET, spaceAfter=self._size))
        return [room, caption]

    def _picture(self, picture: m.Picture) -> list[Flowable]:
        drawn = Image(BytesIO(self._pictures[picture.name]))
        scale = min(0.75 * self._width / drawn.imageWidth, 0.4 * self._page_height / drawn.imageHeight, 0.5)
        drawn.drawWidth, drawn.drawHeight = drawn.imageWidth * scale, drawn.imageHeight * scale
        drawn.hAlign = "LEFT"
        caption = Paragraph(escaped(picture.title), self._style(0.85, textColor=QUIET, spaceAfter=self._size))
        return [KeepTogether([drawn, caption])]

    def _inline(self, text: m.Text) -> str:
        return "".join(self._span(span) for span in text)

    def _span(self, span: m.Run) -> str:
        shown = escaped(span.text)
        if span.look == "strong":
            shown = f"<font face='{BOLD}'>{shown}</font>"
        elif span.look == "quote":
            shown = f"<font face='{SLANTED}'>{shown}</font>"
        elif span.look == "quiet":
            shown = f"<font color='#{QUIET.hexval()[2:]}'>{shown}</font>"
        if span.id and self._document.full:
            return f'<a href="{self._document.full}.html#{escaped(span.id)}">{shown}</a>'
        return f'<a href="#{escaped(span.to)}">{shown}</a>' if span.to else shown
