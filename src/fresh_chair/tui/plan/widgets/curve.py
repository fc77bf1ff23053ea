"""A curve over the number of people, in cells. Pure drawing."""

from collections.abc import Sequence

from textual.content import Content

from fresh_chair.core.plan.aims import Aim
from fresh_chair.tui.widgets.signs import Signs

_LEFT = 8


def curve(
    points: Sequence[tuple[int, float]],
    *,
    people: int,
    needed: int,
    planned: int,
    aim: Aim,
    signs: Signs,
    width: int,
    height: int,
) -> Content:
    """The power of each number of people, with the aim as a line across.

    Args:
        points: Number of people and what they reach, from few to many.
        people: The number in hand, drawn filled.
        needed: The fewest that reach the aim.
        planned: How many the study plans, 0 for none.
        aim: What is to be reached.
        signs: The glyphs to draw with.
        width: Cells.
        height: Rows of the curve itself.
    """
    step = 2 if width - _LEFT >= 2 * len(points) else 1
    shown = points[: max((width - _LEFT) // step, 1)]
    low, high = (0.0, 1.0) if aim.id == "see" else (0.0, 0.5)
    target = 0.8 if aim.id == "see" else aim.target

    def row_of(value: float) -> int:
        share = (min(max(value, low), high) - low) / (high - low)
        return round((1 - share) * (height - 1))

    rows: list[list[tuple[str, str]]] = [[(" " * step, "")] * len(shown) for _ in range(height)]
    across = row_of(target)
    rows[across] = [(signs.line * step, "$thread")] * len(shown)
    for column, (count, value) in enumerate(shown):
        if value > high:
            continue
        sign, colour = signs.dot, "$moss" if count >= needed else "$tide"
        if count in (people, planned):
            sign, colour = (signs.point, "bold $lamp") if count == people else (signs.hollow, "$lamp")
        rows[row_of(value)][column] = (sign + " " * (step - 1), colour)
    lines = []
    for number, row in enumerate(rows):
        value = high - (high - low) * number / (height - 1)
        tick = _tick(target) if number == across else _tick(value) if number in (0, height - 1) else ""
        colour = "$lamp" if number == across else "$thread"
        lines.append(Content.assemble((f"{tick:>{_LEFT - 1}} ", colour), *row))
    below = (_axis([count for count, _ in shown], step), "people at each chair")
    return Content("\n").join([*lines, *(Content.styled(" " * _LEFT + words, "$thread") for words in below)])


def _axis(counts: Sequence[int], step: int) -> str:
    """The first number and every tenth, under their columns."""
    axis = [" "] * (len(counts) * step)
    for column, count in enumerate(counts):
        label = str(count)
        if (count % 10 == 0 or column == 0) and column * step + len(label) <= len(axis):
            axis[column * step : column * step + len(label)] = label
    return "".join(axis)


def _tick(value: float) -> str:
    return f"{100 * value:.0f} %"
