"""A document as one HTML file that needs no other: its charts and pictures are in it."""

import re
from base64 import b64encode
from collections.abc import Callable, Mapping

from jinja2 import Environment, PackageLoader, StrictUndefined
from markupsafe import Markup

from fresh_chair.core.text import legible
from fresh_chair.tell.document.model import Document, block_texts

# Ids that the drawing library gives every part of a chart, and that nothing refers to.
_DRAWN_ID = re.compile(r' id="(?:[A-Za-z]\w*?\.)?[A-Za-z]\w*?_\d+"')


def html_of(
    document: Document, charts: Mapping[str, bytes], pictures: Mapping[str, bytes], says: Callable[[str], str]
) -> str:
    """The document as HTML.

    Args:
        document: The document.
        charts: SVG by the chart's name.
        pictures: PNG or JPEG by the picture's name.
        says: Says a message in the document's language.
    """
    environment = Environment(
        loader=PackageLoader("fresh_chair.tell", "templates"),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
        keep_trailing_newline=True,
    )
    environment.filters["safe_text"] = lambda value: legible(str(value))
    return environment.get_template("document.html.j2").render(
        document=document,
        charts={name: Markup(_bare_svg(svg)) for name, svg in charts.items()},
        pictures={name: _data_address(data) for name, data in pictures.items()},
        anchors=_anchors(document),
        _=says,
        object_id=id,
        kind=lambda block: type(block).__name__.lower(),
    )


def _anchors(document: Document) -> dict[int, frozenset[str]]:
    """The ids that each block is the first to show, by the block's identity: an id stands once in a page."""
    seen = {section.id for _, section in document.walk()}
    found: dict[int, frozenset[str]] = {}
    for block in document.blocks():
        new = {span.id for text in block_texts(block) for span in text if span.id} - seen
        seen |= new
        found[id(block)] = frozenset(new)
    return found


def _bare_svg(svg: bytes) -> str:
    text = svg.decode()
    drawn = text[text.index("<svg") :]
    used = set(re.findall(r'(?:href="#|url\(#)([^")]+)', drawn))
    return _DRAWN_ID.sub(lambda match: match[0] if match[0][5:-1] in used else "", drawn)


def _data_address(data: bytes) -> str:
    kind = "png" if data.startswith(b"\x89PNG") else "jpeg"
    return f"data:image/{kind};base64,{b64encode(data).decode()}"
