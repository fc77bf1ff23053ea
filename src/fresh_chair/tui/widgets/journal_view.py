"""The journal, newest at the bottom."""

from collections.abc import Sequence
from textwrap import wrap

from textual.content import Content
from textual.widget import Widget

from fresh_chair.core.text import clipped, legible
from fresh_chair.services.sitting_view import JournalLine

_COLOURS = {
    "snag": "$clay",
    "delight": "$moss",
    "helped": "$lamp",
    "wrong_place": "$lamp",
    "wait_began": "$tide",
    "wait_ended": "$tide",
    "aside_began": "$plum",
    "aside_ended": "$plum",
    "said_done": "$plum",
    "sitting_resumed": "$clay",
    "sitting_broken_off": "$clay",
}


class JournalView(Widget):
    """Draws as many of the newest lines as fit, so that a long journal costs no more than a short one."""

    def __init__(self, *, id: str | None = None) -> None:
        super().__init__(id=id)
        self._title = "journal"
        self._lines: Sequence[JournalLine] = ()
        self._back = 0

    @property
    def rows(self) -> int:
        """How many entries fit."""
        return max(self.content_size.height - 1, 1)

    def show(self, lines: Sequence[JournalLine], title: str) -> None:
        """Draw these lines, the newest in sight."""
        self._lines, self._title, self._back = lines, title, 0
        self.refresh()

    def look(self, rows: int) -> None:
        """Look further back by some rows, or forward again."""
        self._back = max(self._back + rows, 0)
        self.refresh()

    def render(self) -> Content:
        """A title, then time and text of each entry."""
        width = max(self.content_size.width, 10)
        drawn: list[Content] = []
        for line in self._lines:
            drawn += self._entry(line, width)
        self._back = min(self._back, max(len(drawn) - self.rows, 0))
        end = len(drawn) - self._back
        shown = drawn[max(end - self.rows, 0) : end]
        return Content("\n").join([Content.styled(clipped(self._title, width), "$thread"), *shown])

    def _entry(self, line: JournalLine, width: int) -> list[Content]:
        style = _COLOURS.get(line.kind, "$chalk")
        if line.struck:
            style = "$thread strike"
        text = legible(line.text)
        room = max(width - 8, 8)
        pieces = wrap(text, room)[:3] or [""]
        first = Content.assemble((f"{line.at:>6}  ", "$thread"), (pieces[0], style))
        if line.words_missing:
            first = Content.assemble((f"{line.at:>6}  ", "$thread"), (clipped(text, room), f"{style} italic"))
        return [first, *(Content.assemble(" " * 8, (piece, style)) for piece in pieces[1:])]
