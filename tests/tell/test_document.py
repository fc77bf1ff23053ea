"""The renderers: one document as HTML, Markdown, PDF, OpenDocument text and lines, whatever is in its words."""

import re
from html.parser import HTMLParser
from io import BytesIO
from zipfile import ZipFile

import pytest
from PIL import Image
from pypdf import PdfReader

from fresh_chair.core.words.catalogue import ENGLISH
from fresh_chair.draw.paper import font_folder, new_figure, saved
from fresh_chair.tell.document.html import html_of
from fresh_chair.tell.document.markdown import markdown_of
from fresh_chair.tell.document.model import (
    Document,
    Figure,
    Listing,
    Paragraph,
    Picture,
    Quotation,
    Run,
    Section,
    Table,
    plain,
)
from fresh_chair.tell.document.odt import odt_of
from fresh_chair.tell.document.outline import outline
from fresh_chair.tell.document.pdf import pdf_of
from tests.tell.pdf_fonts import unembedded

HOSTILE = '<script>alert(1)</script> =cmd|calc \x1b[31m **bold** [link](x) "q" $x^2$ | & {{ 7*7 }} \u202e </text:p>'
TEXT = (Run(HOSTILE),)


def document(*, pages: int = 0, full: str = "") -> Document:
    """Every kind of block, with words that act wherever they are let."""
    blocks = (
        Paragraph((Run("met by "), Run("3 of 5", id="finding/F2/A"), Run(HOSTILE, "strong"))),
        Paragraph(TEXT, "own"),
        Listing((TEXT, (Run("3 of 5", id="finding/F2/A"),)), numbered=True),
        Quotation(TEXT, TEXT),
        Table((TEXT, (Run("n"),)), ((TEXT, (Run("4", id="people/A"),)), ((Run("b"),), TEXT)), HOSTILE),
        Figure("outcomes", HOSTILE, HOSTILE),
        Picture("p.png", HOSTILE, HOSTILE),
    )
    inner = Section("inner", "Inner", (Paragraph((Run("see above", to="outer"),)),))
    outer = Section("outer", HOSTILE, blocks, (inner,))
    return Document(
        "researcher", "researcher", HOSTILE, HOSTILE, "en", (outer,), "Draft", "made up", TEXT, full=full, pages=pages
    )


def picture() -> bytes:
    data = BytesIO()
    Image.new("RGB", (40, 20), "red").save(data, "png")
    return data.getvalue()


def chart(kind: str) -> bytes:
    figure = new_figure(4, 2)
    figure.add_subplot().plot([1, 2], [1, 2])
    return saved(figure, kind)


class Page(HTMLParser):
    """Everything of a page that matters here."""

    def __init__(self) -> None:
        super().__init__()
        self.tags: list[str] = []
        self.ids: list[str] = []
        self.links: list[str] = []
        self.alone: list[str] = []
        self.text: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.tags.append(tag)
        given = dict(attrs)
        if given.get("id"):
            self.ids.append(str(given["id"]))
        if given.get("href", "").startswith("#"):  # type: ignore[union-attr]
            self.links.append(str(given["href"])[1:])
        self.alone += [str(given[name]) for name in ("src",) if name in given]

    def handle_data(self, data: str) -> None:
        self.text.append(data)


def html(made: Document) -> Page:
    page = Page()
    page.feed(html_of(made, {"outcomes": chart("svg")}, {"p.png": picture()}, ENGLISH.gettext))
    return page


def test_nothing_acts_in_html_and_every_link_has_its_end() -> None:
    page = html(document())
    assert "script" not in page.tags
    assert "49" not in " ".join(page.text).split()
    assert len(page.ids) == len(set(page.ids))
    assert {"finding/F2/A", "people/A", "outer", "inner", "figure-outcomes"} <= set(page.ids)
    assert set(page.links) <= set(page.ids)
    assert all(each.startswith("data:image/") for each in page.alone), "one file, and no other"
    assert HOSTILE.split("\x1b")[0] in "".join(page.text)


def test_html_has_what_a_screen_reader_goes_by() -> None:
    text = html_of(document(), {"outcomes": chart("svg")}, {"p.png": picture()}, ENGLISH.gettext)
    assert '<html lang="en">' in text
    assert text.count("<h1") == 1
    assert '<th scope="col">' in text
    assert '<th scope="row">' in text
    assert 'role="img" aria-label="' in text
    assert 'alt="' in text
    assert "prefers-color-scheme: dark" in text
    assert "@media print" in text


def test_numbers_lead_to_the_full_report_where_there_is_one() -> None:
    alone, led = document(), document(full="researcher")
    assert "researcher.html#" not in markdown_of(alone)
    assert "[3 of 5](researcher.html#finding/F2/A)" in markdown_of(led)
    assert 'href="researcher.html#people/A"' in html_of(
        led, {"outcomes": chart("svg")}, {"p.png": picture()}, ENGLISH.gettext
    )


def test_nothing_acts_in_markdown() -> None:
    text = markdown_of(document())
    assert "<script" not in text.replace("\\<", "")
    assert "\x1b" not in text
    assert "\u202e" not in text
    # A bar in a cell would begin another one.
    rows = [line for line in text.splitlines() if line.startswith("| ")]
    assert {len(re.findall(r"(?<!\\)\|", row)) for row in rows} == {3}


@pytest.mark.parametrize("pages", [0, 2])
def test_every_font_of_a_pdf_is_embedded_and_its_headings_are_bookmarks(pages: int) -> None:
    charts, pictures = {"outcomes": chart("pdf")}, {"p.png": picture()}
    made = pdf_of(document(pages=pages), charts, pictures, paper="a4", fonts=font_folder())
    assert made == pdf_of(document(pages=pages), charts, pictures, paper="a4", fonts=font_folder())
    reader = PdfReader(BytesIO(made))
    assert unembedded(reader) == set()
    titles = [each.title for each in reader.outline if not isinstance(each, list)]
    assert titles[0] is not None
    assert titles[0].startswith("<script>")
    text = "".join(page.extract_text() for page in reader.pages)
    assert "3 of 5" in text
    assert "made up" in text
    assert text.rstrip().endswith(str(len(reader.pages))) or f"{len(reader.pages)}" in text


def test_open_document_text_is_whole_has_no_date_of_today_and_the_same_bytes() -> None:
    charts, pictures = {"outcomes": chart("png")}, {"p.png": picture()}
    made = odt_of(document(), charts, pictures, day="2026-11-20")
    assert made == odt_of(document(), charts, pictures, day="2026-11-20")
    with ZipFile(BytesIO(made)) as packed:
        assert packed.testzip() is None
        assert packed.namelist()[0] == "mimetype"
        assert {each.date_time for each in packed.infolist()} == {(1980, 1, 1, 0, 0, 0)}
        content, meta = packed.read("content.xml").decode(), packed.read("meta.xml").decode()
        styles = packed.read("styles.xml").decode()
        assert sum(name.startswith("Pictures/") for name in packed.namelist()) == 2
    assert "num-list-format" not in styles[styles.index("<text:outline-style") : styles.index("</text:outline-style")]
    assert "2026-11-20T12:00:00" in meta
    assert "&lt;script&gt;" in content
    assert content.index("table:table-header-rows") < content.index(">4<")
    assert 'text:bookmark text:name="finding/F2/A"' in content


def test_the_outline_has_every_heading_and_figure_and_the_whole_has_every_text() -> None:
    made = document()
    drawn = [line for line in outline(made) if line.kind in ("heading", "figure")]
    assert [(line.kind, line.level) for line in drawn] == [("heading", 1), ("figure", 1), ("heading", 2)]
    whole = "\n".join(plain(line.text) for line in outline(made))
    for text in made.texts():
        for run in text:
            assert run.text in whole
