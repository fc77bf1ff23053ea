"""A sitting drawn over time: a row an attempt, its lanes, its marks, and where one stands."""

from textual.content import Content
from textual.widget import Widget

from fresh_chair.core.text import clipped, legible
from fresh_chair.services.sitting.looking_back import SittingOverTime, TimedEntry, TimeRow, axis_steps
from fresh_chair.tui.sit.widgets.clock_panel import drawn_tick
from fresh_chair.tui.widgets.cells import row_of
from fresh_chair.tui.widgets.signs import LANE_COLOUR, OUTCOME_COLOUR, Signs

_TITLE = 22


class TimeDrawing(Widget):
    """Draws a view model; knows no journal."""

    def __init__(self, signs: Signs) -> None:
        super().__init__()
        self._signs = signs
        self._sitting: SittingOverTime | None = None
        self._here: TimedEntry | None = None
        self._window = (0, 1)

    def show(self, sitting: SittingOverTime, here: TimedEntry | None, window: tuple[int, int]) -> None:
        """Draw this sitting.

        Args:
            sitting: Everything of it.
            here: The entry that one stands at.
            window: From when to when, in nanoseconds since the sitting began.
        """
        self._sitting, self._here, self._window = sitting, here, window
        self.refresh()

    def render(self) -> Content:
        """The axis, the rows, and where one stands."""
        sitting = self._sitting
        if sitting is None:
            return Content("")
        title = _TITLE if self.size.width >= 70 else 12
        width = max(self.size.width - title - 3, 20)
        spare = self.size.height >= 3 + 3 * len(sitting.rows)
        lines = [self._axis(title, width)]
        rows = list(enumerate(sitting.rows))
        room = max((self.size.height - 2) // (3 if spare else 2), 1)
        here = self._here.row if self._here is not None and self._here.row is not None else 0
        first = min(max(here - room // 2, 0), max(len(rows) - room, 0))
        for place, row in rows[first : first + room]:
            lines += self._row(place, row, title, width)
            if spare:
                lines.append(Content(""))
        lines.append(self._foot(title, width))
        return Content("\n").join(lines)

    def _column(self, at_ns: int, width: int) -> int:
        begin, end = self._window
        return (at_ns - begin) * (width - 1) // max(end - begin, 1)

    def _axis(self, title: int, width: int) -> Content:
        cells: list[tuple[str, str]] = [(" ", "")] * width
        for at_ns, label in axis_steps(*self._window, max(width // 10, 2)):
            place = self._column(at_ns, width)
            if place >= 0 and place + len(label) <= width:
                cells[place : place + len(label)] = [(sign, "$thread") for sign in label]
        return Content.assemble(" " * (title + 1), row_of(cells))

    def _row(self, place: int, row: TimeRow, title: int, width: int) -> list[Content]:
        here = self._here is not None and self._here.row == place
        lanes: list[tuple[str, str]] = [(self._signs.none if here else " ", "$seam")] * width
        marks: list[tuple[str, str]] = [(" ", "")] * width
        for span in row.spans:
            begin, end = self._column(span.begin_ns, width), self._column(span.end_ns, width)
            for cell in range(max(begin, 0), min(max(end, begin + 1), width)):
                lanes[cell] = (self._signs.lanes[span.lane], LANE_COLOUR[span.lane])
        for sign, colour, at_ns in (
            (self._signs.expert, "$moss", row.benchmark_ns),
            (self._signs.limit, "$clay", row.limit_ns),
        ):
            if at_ns is not None and 0 <= (cell := self._column(at_ns, width)) < width:
                lanes[cell] = (sign, colour)
        for tick in row.ticks:
            cell = self._column(tick.at_ns, width)
            drawn = drawn_tick(tick)
            if drawn is not None and 0 <= cell < width:
                marks[cell] = drawn
        if self._here is not None and here and 0 <= (cell := self._column(self._here.at_ns, width)) < width:
            sign = marks[cell][0] if marks[cell][0] != " " else self._signs.limit
            marks[cell] = (sign, "bold $board on $lamp")
        end = self._column(row.end_ns, width) + 1
        if row.outcome is not None and 0 <= end < width:
            lanes[end] = (self._signs.outcomes[row.outcome], OUTCOME_COLOUR[row.outcome])
        name = clipped(legible(row.title), title).ljust(title)
        return [
            Content.assemble(" " * (title + 1), row_of(marks)),
            Content.assemble((name, "bold $chalk" if here else "$thread"), " ", row_of(lanes)),
        ]

    def _foot(self, title: int, width: int) -> Content:
        cells: list[tuple[str, str]] = [(self._signs.line, "$seam")] * width
        if self._here is not None and 0 <= (cell := self._column(self._here.at_ns, width)) < width:
            cells[cell] = (self._signs.expert, "$lamp")
        return Content.assemble(" " * (title + 1), row_of(cells))
