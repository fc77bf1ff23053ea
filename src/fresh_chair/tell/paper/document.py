"""One PDF from the parts that were asked for."""

from collections.abc import Callable, Sequence
from io import BytesIO
from pathlib import Path
from typing import Any, Literal

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import BaseDocTemplate, Flowable, Frame, NextPageTemplate, PageBreak, PageTemplate, Paragraph

from fresh_chair.core.plan.fixtures import Fixture
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.text import clipped, legible
from fresh_chair.core.words.catalogue import Words
from fresh_chair.tell.paper.cards import four_to_a_page, large_cards
from fresh_chair.tell.paper.ratings import rating_forms
from fresh_chair.tell.paper.sheets import consent_form, fixture_list, running_sheets
from fresh_chair.tell.paper.style import MARGIN, PLAIN, QUIET, SIZES, Paper, paragraph, use_fonts

Printed = Literal["cards", "cards-4", "running", "consent", "ratings", "fixtures"]
PRINTED: dict[Printed, str] = {
    "cards": "Task cards",
    "cards-4": "Task cards, small",
    "running": "Running sheets",
    "consent": "Consent form",
    "ratings": "Rating forms",
    "fixtures": "On the bench",
}
# Handed to participants: nothing of the study's own stands on them.
_BARE = ("cards", "cards-4", "consent", "ratings")


class _Bookmark(Flowable):
    """A place in the PDF's own list of contents."""

    def __init__(self, title: str) -> None:
        super().__init__()
        self._title = title

    def wrap(self, aW: float, aH: float) -> tuple[float, float]:
        return 0, 0

    def draw(self) -> None:
        canvas: Canvas = self.canv
        canvas.bookmarkPage(self._title)
        canvas.addOutlineEntry(self._title, self._title)


def printed(
    study: Study,
    parts: Sequence[Printed],
    *,
    paper: Paper,
    seats: Sequence[Seat],
    fixtures: Sequence[Fixture],
    fonts: Path,
    words: Words,
) -> bytes:
    """The PDF.

    Args:
        study: The plan.
        parts: What goes into it, in this order.
        paper: Its size.
        seats: The sittings that get a running sheet.
        fixtures: What goes on the list for the bench.
        fonts: The folder of the fonts to embed.
        words: The language of its sentences.

    Returns:
        The file's bytes; the same plan gives the same bytes.
    """
    use_fonts(fonts)
    buffer = BytesIO()
    width, height = SIZES[paper]
    frame = Frame(
        MARGIN, MARGIN, width - 2 * MARGIN, height - 2 * MARGIN, leftPadding=0, rightPadding=0, topPadding=0,
        bottomPadding=0,
    )  # fmt: skip
    document = BaseDocTemplate(
        buffer,
        pagesize=(width, height),
        title=legible(study.title),
        author="Fresh Chair",
        subject="for print",
        invariant=1,
    )
    document.addPageTemplates(
        [
            PageTemplate("bare", [frame]),
            PageTemplate("footed", [frame], onPage=_footer(study.title, width)),
        ]
    )
    document.build(_story(study, parts, seats, fixtures, words))
    return buffer.getvalue()


def _story(
    study: Study, parts: Sequence[Printed], seats: Sequence[Seat], fixtures: Sequence[Fixture], words: Words
) -> list[Flowable]:
    cards = [card for card in study.cards if not card.dropped]
    makers: dict[Printed, Callable[[], list[Flowable]]] = {
        "cards": lambda: large_cards(cards, words),
        "cards-4": lambda: four_to_a_page(cards, words),
        "running": lambda: running_sheets(study, seats, words),
        "consent": lambda: consent_form(study, words),
        "ratings": lambda: rating_forms(study, seats, words),
        "fixtures": lambda: fixture_list(study, fixtures, words),
    }
    story: list[Flowable] = []
    for part in parts:
        made = makers[part]() or [_nothing(part, words)]
        template = NextPageTemplate("bare" if part in _BARE else "footed")
        story += [template, *([PageBreak()] if story else []), _Bookmark(words.say(PRINTED[part])), *made]
    # The first page is begun before its template is asked for.
    if parts[0] not in _BARE:
        story.insert(0, NextPageTemplate("footed"))
    return story


def _nothing(part: Printed, words: Words) -> Paragraph:
    no_sitting = part in ("running", "ratings")
    return paragraph(words.say("No sitting is to come.") if no_sitting else words.say("There is no card yet."), 12)


def _footer(title: str, width: float) -> Callable[[Canvas, Any], None]:
    def draw(canvas: Canvas, document: Any) -> None:
        canvas.setFont(PLAIN, 7)
        canvas.setFillColor(QUIET)
        canvas.drawString(MARGIN, 10 * mm, clipped(legible(title), 90))
        canvas.drawRightString(width - MARGIN, 10 * mm, str(document.page))

    return draw
