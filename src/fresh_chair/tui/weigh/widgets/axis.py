"""Dots and intervals on a shared axis, drawn from cells."""

from collections.abc import Callable
from math import log

from textual.content import Content

from fresh_chair.core.figures.estimate import Estimate
from fresh_chair.core.frozen import frozen
from fresh_chair.tui.widgets.cells import row_of
from fresh_chair.tui.widgets.signs import Signs


@frozen
class Axis:
    """Where a value stands between the ends of an axis.

    Attributes:
        low: Value at the left end.
        high: Value at the right end.
        logarithmic: Whether equal ratios take equal room; both ends are then above 0.
        width: Cells from end to end.
    """

    low: float
    high: float
    width: int
    logarithmic: bool = False

    def column(self, value: float) -> int:
        """The cell of a value; values beyond an end stand at the end."""
        low, high, at = self.low, self.high, min(max(value, self.low), self.high)
        if self.logarithmic:
            low, high, at = log(low), log(high), log(at)
        return round((at - low) / (high - low) * (self.width - 1)) if high > low else 0


def interval_row(estimate: Estimate, axis: Axis, signs: Signs, colour: str, *, point: str | None = None) -> Content:
    """One estimate as a dot on its interval; an end that is open, or beyond the axis, points outwards."""
    cells: list[tuple[str, str]] = [(" ", "")] * axis.width
    if estimate.low is not None and (estimate.high is not None or estimate.value is not None):
        high = float("inf") if estimate.high is None else estimate.high
        begin, end = axis.column(estimate.low), axis.column(high)
        for index in range(begin, end + 1):
            cells[index] = (signs.line, colour)
        if end > begin:
            cells[begin] = (signs.open_low if estimate.low < axis.low else signs.end_low, colour)
            cells[end] = (signs.open_high if high > axis.high else signs.end_high, colour)
    if estimate.value is not None:
        cells[axis.column(estimate.value)] = (point or signs.point, f"bold {colour}")
    return row_of(cells)


def scale_row(axis: Axis, ticks: list[float], label: Callable[[float], str]) -> Content:
    """The axis' own row: labels where they stand, none over another."""
    letters = [" "] * axis.width
    free_from = 0
    for tick in ticks:
        text = label(tick)
        begin = min(max(axis.column(tick) - len(text) // 2, 0), axis.width - len(text))
        if begin < free_from:
            continue
        letters[begin : begin + len(text)] = list(text)
        free_from = begin + len(text) + 1
    return Content.styled("".join(letters[: axis.width]), "$thread")


def time_ticks(low: float, high: float) -> list[float]:
    """Round times between two ends, in seconds, the ends' sides left out."""
    round_times = (1, 2, 5, 10, 20, 30, 60, 120, 180, 300, 600, 900, 1200, 1800, 3600, 7200, 14400)
    return [float(tick) for tick in round_times if low <= tick <= high]


def time_label(seconds: float) -> str:
    """A time as an axis says it: 45s, 2m, 1h."""
    if seconds < 60:
        return f"{seconds:.0f}s"
    return f"{seconds / 60:g}m" if seconds < 3600 else f"{seconds / 3600:g}h"
