"""A document as OpenDocument text, for people who go on writing in it."""

from collections.abc import Iterator, Mapping
from datetime import datetime
from io import BytesIO
from typing import Any
from zipfile import ZIP_DEFLATED, ZIP_STORED, ZipFile, ZipInfo

import odfdo
from odfdo.element import Element
from reportlab.lib.utils import ImageReader

from fresh_chair.core.text import legible_lines
from fresh_chair.tell.document import model as m

_WIDTH_CM, _MOST_CM = 17.0, 21.0
_LOOKS = {"strong": "FcStrong", "quiet": "FcQuiet", "quote": "FcQuote"}
_PARAGRAPHS = {"plain": "Text_20_body", "lead": "FcLead", "quiet": "FcSmall", "own": "FcOwn", "open": "FcOpen"}
_BULLET = '<text:list-level-style-bullet text:level="1" text:bullet-char="•">{props}</text:list-level-style-bullet>'
_NUMBER = (
    '<text:list-level-style-number text:level="1" style:num-suffix="." style:num-format="1">{props}'
    "</text:list-level-style-number>"
)
_INDENT = (
    '<style:list-level-properties text:list-level-position-and-space-mode="label-alignment">'
    '<style:list-level-label-alignment text:label-followed-by="listtab" text:list-tab-stop-position="0.8cm" '
    'fo:text-indent="-0.5cm" fo:margin-left="0.8cm"/></style:list-level-properties>'
)
# A zip file has no date before this; every file in it has this one, so that the same study gives the same bytes.
_NO_DATE = (1980, 1, 1, 0, 0, 0)


def odt_of(document: m.Document, charts: Mapping[str, bytes], pictures: Mapping[str, bytes], *, day: str) -> bytes:
    """The document as OpenDocument text; the same document gives the same bytes.

    Args:
        document: The document.
        charts: PNG by the chart's name.
        pictures: PNG or JPEG by the picture's name.
        day: The day of what it tells, such as 2026-11-20; its dates are of that day.
    """
    made = _Text(document, {**charts, **pictures})
    return made.bytes(day)


class _Text:
    """The text as it is made, element by element."""

    def __init__(self, document: m.Document, images: Mapping[str, bytes]) -> None:
        self._document, self._images = document, images
        self._odf = odfdo.Document("text")
        self._body = self._odf.body
        self._seen: set[str] = set()
        self._tables = 0

    def bytes(self, day: str) -> bytes:
        """The file."""
        self._styles()
        self._body.clear()
        self._front()
        for level, section in self._document.walk():
            if section.title:
                head = odfdo.Header(min(level + 1, 10), style=f"Heading_20_{min(level + 1, 10)}")
                head.append(odfdo.Bookmark(section.id))
                head.append(legible_lines(section.title))
                self._body.append(head)
            for block, leads in m.with_leads(section.blocks):
                if leads and isinstance(block, m.Paragraph):
                    style = "FcLabel" if block.look == "quiet" else "FcLabelPlain"
                    self._body.append(self._paragraph(block.text, style))
                    continue
                for element in self._block(block):
                    self._body.append(element)
        if self._document.footer:
            self._body.append(self._paragraph(self._document.footer, "FcSmall"))
        self._dated(day)
        return _packed(self._odf)

    def _dated(self, day: str) -> None:
        moment = datetime.fromisoformat(f"{day}T12:00:00")
        meta = self._odf.meta
        meta.set_title(legible_lines(self._document.title))
        meta.set_creator("Fresh Chair")
        meta.set_initial_creator("Fresh Chair")
        meta.set_generator("Fresh Chair")
        meta.set_creation_date(moment)
        meta.set_modification_date(moment)
        self._odf.set_language(_locale(self._document.language))

    def _styles(self) -> None:
        add = self._odf.insert_style
        add(odfdo.Style("text", name="FcStrong", bold=True))
        add(odfdo.Style("text", name="FcQuiet", color="#525b62"))
        add(odfdo.Style("text", name="FcQuote", italic=True))
        looks: dict[str, dict[str, Any]] = {
            "FcLead": {"size": "13pt"},
            "FcSmall": {"size": "9pt", "color": "#525b62"},
            "FcLabel": {"size": "9pt", "color": "#525b62"},
            "FcLabelPlain": {},
            "FcOwn": {"italic": True},
            "FcOpen": {"bold": True},
            "FcCell": {"size": "8.5pt"},
            "FcHead": {"size": "8.5pt", "color": "#525b62"},
        }
        for name, given in looks.items():
            style = odfdo.Style("paragraph", name=name, area="text", **given)
            if name.startswith("FcLabel"):
                style.set_properties({"fo:keep-with-next": "always"}, area="paragraph")
            if name == "FcLead":
                style.set_properties({"fo:margin-bottom": "0.25cm"}, area="paragraph")
            add(style)
        quoted = odfdo.Style("paragraph", name="FcQuotation", area="text", italic=True)
        quoted.set_properties({"fo:margin-left": "0.8cm", "fo:margin-bottom": "0.2cm"}, area="paragraph")
        add(quoted)
        box = odfdo.Style("table-cell", name="FcBox", border_bottom="0.5pt solid #cfc6b5", padding="0.07cm")
        box.set_properties({"fo:padding-left": "0cm"}, area="table-cell")
        add(box, automatic=True)
        for depth in range(1, 7):
            heading = self._odf.get_style("paragraph", f"Heading_20_{depth}")
            assert isinstance(heading, odfdo.Style)
            heading.set_properties({"fo:font-style": "normal", "style:font-name": "DejaVu Sans"}, area="text")
        for name, level in (("FcBullets", _BULLET), ("FcNumbers", _NUMBER)):
            listed = f'<text:list-style style:name="{name}">{level.format(props=_INDENT)}</text:list-style>'
            styles = self._odf.styles.root.get_element("//office:styles")
            assert styles is not None
            styles.append(Element.from_tag(listed))
        self._without_numbers()

    def _without_numbers(self) -> None:
        """Headings without numbers: the template of the library has them."""
        for outline in self._odf.styles.root.get_elements("//text:outline-style"):
            outline.clear()
            outline.set_attribute("style:name", "Outline")
            for level in range(1, 11):
                # Made anew: the template's levels say in a second attribute, of one program, that there are dots.
                plain = f'<text:outline-level-style text:level="{level}" style:num-format=""/>'
                outline.append(Element.from_tag(plain))

    def _front(self) -> None:
        document = self._document
        title = odfdo.Header(1, style="Heading_20_1")
        title.append(legible_lines(document.title))
        self._body.append(title)
        for line, style in ((document.subtitle, "FcLead"), (document.status, "FcSmall"), (document.sample, "FcOwn")):
            if line:
                self._body.append(self._paragraph((m.Run(line),), style))

    def _block(self, block: m.Block) -> Iterator[Element]:
        match block:
            case m.Paragraph():
                yield self._paragraph(block.text, _PARAGRAPHS[block.look])
            case m.Listing():
                listed = odfdo.List(style="FcNumbers" if block.numbered else "FcBullets")
                for item in block.items:
                    entry = odfdo.ListItem()
                    entry.append(self._paragraph(item, "Text_20_body"))
                    listed.append(entry)
                yield listed
            case m.Quotation():
                source = (m.Run(" ("), *block.source, m.Run(")")) if block.source else ()
                yield self._paragraph((*block.text, *source), "FcQuotation")
            case m.Table():
                if block.title:
                    yield self._paragraph((m.Run(block.title),), "FcSmall")
                yield self._table(block)
            case m.Figure() | m.Picture():
                yield self._image(block)
                yield self._paragraph((m.Run(block.title),), "FcSmall")

    def _table(self, table: m.Table) -> Element:
        self._tables += 1
        made = odfdo.Table(f"table-{self._tables}")
        for row in table.rows:
            made.append(self._row(row, "FcCell"))
        heads = Element.from_tag("table:table-header-rows")
        heads.append(self._row(table.heads, "FcHead"))
        # They stand behind the columns, and before every row.
        columns = len(made.get_elements("table:table-column"))
        made.insert(heads, position=columns)
        return made

    def _row(self, cells: tuple[m.Text, ...], style: str) -> Element:
        row = odfdo.Row()
        for text in cells:
            cell = odfdo.Cell(style="FcBox")
            cell.append(self._paragraph(text, style))
            row.append(cell)
        return row

    def _image(self, block: m.Figure | m.Picture) -> Element:
        data = self._images[block.name]
        wide, high = ImageReader(BytesIO(data)).getSize()
        width = min(_WIDTH_CM, _MOST_CM * wide / high)
        uri = self._odf.add_file(BytesIO(data))
        size = (f"{width:.2f}cm", f"{width * high / wide:.2f}cm")
        frame = odfdo.Frame.image_frame(uri, name=block.name, size=size, anchor_type="as-char")
        frame.svg_title = legible_lines(block.title)
        frame.svg_description = legible_lines(block.alt)
        paragraph = odfdo.Paragraph("", style="Text_20_body")
        paragraph.append(frame)
        return paragraph

    def _paragraph(self, text: m.Text, style: str) -> Element:
        paragraph = odfdo.Paragraph("", style=style)
        for span in text:
            paragraph.append(self._span(span, paragraph))
        return paragraph

    def _span(self, span: m.Run, paragraph: Element) -> Element | str:
        shown = legible_lines(span.text)
        if span.id and self._document.full:
            return odfdo.Link(f"{self._document.full}.html#{span.id}", text=shown)
        if span.to:
            return odfdo.Link(f"#{span.to}", text=shown)
        if span.id and span.id not in self._seen:
            self._seen.add(span.id)
            paragraph.append(odfdo.Bookmark(span.id))
        return odfdo.Span(shown, style=_LOOKS[span.look]) if span.look in _LOOKS else shown


def _locale(language: str) -> str:
    """A language with a country, as the format wants it."""
    return language if "-" in language else {"en": "en-GB", "de": "de-DE"}.get(language, language)


def _packed(odf: odfdo.Document) -> bytes:
    """The file with its parts in one order, and without a date."""
    saved, packed = BytesIO(), BytesIO()
    odf.save(saved)
    with ZipFile(saved) as before, ZipFile(packed, "w") as after:
        names = sorted(before.namelist(), key=lambda name: (name != "mimetype", name))
        for name in names:
            entry = ZipInfo(name, _NO_DATE)
            entry.external_attr = 0o644 << 16
            after.writestr(entry, before.read(name), ZIP_STORED if name == "mimetype" else ZIP_DEFLATED)
    return packed.getvalue()
