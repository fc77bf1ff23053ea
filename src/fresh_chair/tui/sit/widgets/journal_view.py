"""The journal, newest at the bottom."""

from collections.abc import Sequence
from textwrap import wrap

from textual.content import Content
from textual.strip import Strip
from textual.visual import Visual
from textual.widget import Widget

from fresh_chair.core.text import clipped, legible
from fresh_chair.services.sitting.view import JournalLine

_COLOURS = {
    "snag": "$clay",
    "delight": "$moss",
    "helped": "$lamp",
    "wrong_place": "$lamp",
    "marked": "$lamp",
    "quote": "$plum",
    "warning": "$clay",
    "chair_witnessed": "$tide",
    "chair_found": "$tide",
    "wait_began": "$tide",
    "wait_ended": "$tide",
    "aside_began": "$plum",
    "aside_ended": "$plum",
    "said_done": "$plum",
    "sitting_resumed": "$clay",
    "sitting_broken_off": "$clay",
}
# So many drawn entries are kept: a few screens full.
_MOST_KEPT = 300
_MOST_ROWS = 3


def _room(width: int) -> int:
    """How wide the words of an entry may be, beside its time."""
    return max(width - 8, 8)


class JournalView(Widget):
    """Draws as many of the newest lines as fit, so that a long journal costs no more than a short one."""

    def __init__(self, *, id: str | None = None) -> None:
        super().__init__(id=id)
        self._title = "journal"
        self._lines: Sequence[JournalLine] = ()
        self._back = 0
        self._asked: object = None
        self._shown: list[Strip] = []
        self._kept: dict[tuple[JournalLine, int, str, bool], list[Strip]] = {}

    @property
    def rows(self) -> int:
        """How many entries fit."""
        return max(self.content_size.height - 1, 1)

    @property
    def wanted(self) -> int:
        """How many entries are needed to fill the view."""
        return self.rows + self._back

    def show(self, lines: Sequence[JournalLine], title: str) -> None:
        """Draw these lines, the newest in sight."""
        self._lines, self._title = lines, title
        self.refresh()

    def look(self, rows: int) -> None:
        """Look further back by some rows, or forward again."""
        self._back = max(self._back + rows, 0)
        self.refresh()

    def newest(self) -> None:
        """Look at the newest entries again."""
        self._back = 0

    def render_line(self, y: int) -> Strip:
        """One row: the title, or a row of an entry. An entry that was drawn before is not drawn anew."""
        width = max(self.content_size.width, 10)
        rows = self._drawn(width)
        if y >= len(rows):
            return Strip.blank(width, self.visual_style.rich_style)
        return rows[y]

    def _drawn(self, width: int) -> list[Strip]:
        asked = (self._lines, self._title, self._back, width, self.rows, self.app.theme)
        if asked != self._asked:
            self._asked = asked
            self._shown = self._rows(width)
        return self._shown

    def _rows(self, width: int) -> list[Strip]:
        wanted = self.rows + self._back
        drawn: list[Strip] = []
        whole = self._fit_whole(width)
        for line in reversed(self._lines):
            drawn += reversed(self._entry(line, width, whole=whole))
            if len(drawn) >= wanted:
                break
        else:
            self._back = max(len(drawn) - self.rows, 0)
        title = self._strip(Content.styled(clipped(self._title, width), "$thread"), width)
        return [title, *reversed(drawn[self._back : self._back + self.rows])]

    def _fit_whole(self, width: int) -> bool:
        """Whether there is room for every word of every entry."""
        if len(self._lines) > self.rows:
            return False
        return sum(len(wrap(legible(line.text), _room(width)) or [""]) for line in self._lines) <= self.rows

    def _entry(self, line: JournalLine, width: int, *, whole: bool) -> list[Strip]:
        key = (line, width, self.app.theme, whole)
        if key not in self._kept:
            if len(self._kept) > _MOST_KEPT:
                self._kept.clear()
            self._kept[key] = [self._strip(row, width) for row in self._words(line, width, whole=whole)]
        return self._kept[key]

    def _strip(self, row: Content, width: int) -> Strip:
        return Visual.to_strips(self, row, width, 1, self.visual_style, pad=True)[0]

    def _words(self, line: JournalLine, width: int, *, whole: bool) -> list[Content]:
        style = _COLOURS.get(line.kind, "$chalk")
        if line.struck:
            style = "$thread strike"
        text = legible(line.text)
        room = _room(width)
        pieces = wrap(text, room) or [""]
        if len(pieces) > _MOST_ROWS and not whole:
            pieces = [*pieces[: _MOST_ROWS - 1], clipped(" ".join(pieces[_MOST_ROWS - 1 :]), room)]
        first = Content.assemble((f"{line.at:>6}  ", "$thread"), (pieces[0], style))
        if line.words_missing:
            first = Content.assemble((f"{line.at:>6}  ", "$thread"), (clipped(text, room), f"{style} italic"))
        return [first, *(Content.assemble(" " * 8, (piece, style)) for piece in pieces[1:])]
