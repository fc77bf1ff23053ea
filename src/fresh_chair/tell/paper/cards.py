"""Task cards for the participant: nothing but the goal, as large as its place allows.

No title and no id: both are the moderator's, and may give the answer away. A small number finds the card again on the
running sheet.
"""

from collections.abc import Sequence

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, PageBreak, Paragraph

from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.words.catalogue import Words
from fresh_chair.tell.paper.style import BOLD, PLAIN, QUIET, RULE, escaped, style

_LARGEST, _SMALLEST = 30.0, 8.0


def goal_paragraph(goal: str, width: float, height: float, largest: float = _LARGEST) -> tuple[Paragraph, float]:
    """The goal in the largest type with which it fits, and the height it takes, in points."""
    size = largest
    while True:
        text = Paragraph(escaped(goal), style(size, air=1.45))
        _, taken = text.wrap(width, 10_000)
        if taken <= height or size <= _SMALLEST:
            return text, taken
        size -= 0.5


class LargeCard(Flowable):
    """One card that fills a page."""

    def __init__(self, card: TaskCard, number: int, words: Words) -> None:
        super().__init__()
        self._card, self._number, self._words = card, number, words

    def wrap(self, aW: float, aH: float) -> tuple[float, float]:
        """All there is."""
        self.width, self.height = aW, aH
        return aW, aH

    def draw(self) -> None:
        """The goal a little above the middle, the number in the corner."""
        canvas: Canvas = self.canv
        text, taken = goal_paragraph(self._card.goal, self.width, self.height - 30 * mm)
        text.drawOn(canvas, 0, (self.height - taken) * 0.58)
        _number(canvas, self._number, self.width, 0, self._words)


class FourCards(Flowable):
    """Up to four cards on a page, with lines to cut along."""

    def __init__(self, cards: Sequence[tuple[int, TaskCard]], words: Words) -> None:
        super().__init__()
        self._cards, self._words = cards, words

    def wrap(self, aW: float, aH: float) -> tuple[float, float]:
        """All there is."""
        self.width, self.height = aW, aH
        return aW, aH

    def draw(self) -> None:
        """Two rows of two."""
        canvas: Canvas = self.canv
        half, tall, pad = self.width / 2, self.height / 2, 9 * mm
        canvas.setStrokeColor(RULE)
        canvas.setDash(2, 3)
        canvas.line(half, -6 * mm, half, self.height + 6 * mm)
        canvas.line(-6 * mm, tall, self.width + 6 * mm, tall)
        canvas.setDash()
        for index, (number, card) in enumerate(self._cards):
            left, foot = half * (index % 2), tall * (1 - index // 2)
            room = tall - 2 * pad - 8 * mm
            text, taken = goal_paragraph(card.goal, half - 2 * pad, room, 16.0)
            text.drawOn(canvas, left + pad, foot + pad + 8 * mm + (room - taken) * 0.6)
            _number(canvas, number, left + half - pad, foot + pad, self._words)


def large_cards(cards: Sequence[TaskCard], words: Words) -> list[Flowable]:
    """Every card on a page of its own."""
    pages: list[Flowable] = []
    for number, card in enumerate(cards, start=1):
        pages += [LargeCard(card, number, words), PageBreak()]
    return pages[:-1]


def four_to_a_page(cards: Sequence[TaskCard], words: Words) -> list[Flowable]:
    """Four cards on each page."""
    numbered = list(enumerate(cards, start=1))
    pages: list[Flowable] = []
    for first in range(0, len(numbered), 4):
        pages += [FourCards(numbered[first : first + 4], words), PageBreak()]
    return pages[:-1]


def _number(canvas: Canvas, number: int, right: float, foot: float, words: Words) -> None:
    canvas.setFillColor(QUIET)
    canvas.setFont(PLAIN, 7)
    width = canvas.stringWidth(f" {number}", BOLD, 9)
    canvas.drawRightString(right - width, foot, words.say("card"))
    canvas.setFont(BOLD, 9)
    canvas.drawRightString(right, foot, f" {number}")
