"""Paper, type and ink of everything that is printed."""

from functools import cache
from pathlib import Path
from typing import Literal
from xml.sax.saxutils import escape

from reportlab import rl_config
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import Paragraph

from fresh_chair.core.text import legible, legible_lines

Paper = Literal["a4", "letter"]
SIZES: dict[Paper, tuple[float, float]] = {"a4": A4, "letter": LETTER}
MARGIN = 18 * mm
INK = HexColor("#23282d")
QUIET = HexColor("#69727a")
RULE = HexColor("#cfc6b5")
PLAIN, BOLD, SLANTED = "FreshChairSans", "FreshChairSans-Bold", "FreshChairSans-Oblique"


@cache
def use_fonts(folder: Path) -> None:
    """Make the three faces known; they are embedded, so that a page looks the same everywhere.

    Args:
        folder: Where DejaVuSans.ttf, DejaVuSans-Bold.ttf and DejaVuSans-Oblique.ttf lie.
    """
    pdfmetrics.registerFont(TTFont(PLAIN, str(folder / "DejaVuSans.ttf")))
    pdfmetrics.registerFont(TTFont(BOLD, str(folder / "DejaVuSans-Bold.ttf")))
    pdfmetrics.registerFont(TTFont(SLANTED, str(folder / "DejaVuSans-Oblique.ttf")))
    pdfmetrics.registerFontFamily(PLAIN, normal=PLAIN, bold=BOLD, italic=SLANTED, boldItalic=BOLD)
    # Every page begins with a font of the library's own choice, which is never embedded; it begins with ours.
    rl_config.canvas_basefontname = PLAIN


def style(size: float, *, bold: bool = False, quiet: bool = False, air: float = 1.35) -> ParagraphStyle:
    """A paragraph of this size in points."""
    return ParagraphStyle(
        "p",
        fontName=BOLD if bold else PLAIN,
        fontSize=size,
        leading=size * air,
        textColor=QUIET if quiet else INK,
        splitLongWords=1,
    )


def escaped(text: str) -> str:
    """A text with its markup made harmless."""
    return escape(legible_lines(text)).replace("\t", " ").replace("\n", "<br/>")


def paragraph(text: str, size: float = 9.5, *, bold: bool = False, quiet: bool = False) -> Paragraph:
    """A text as a paragraph with its markup made harmless."""
    return Paragraph(escaped(text), style(size, bold=bold, quiet=quiet))


def labelled(label: str, text: str, size: float = 9.5) -> Paragraph:
    """A quiet label and a text after it."""
    colour = f'<font color="#{QUIET.hexval()[2:]}">{escape(label)}</font>'
    return Paragraph(f"{colour} {escape(legible(text))}", style(size))
