"""The figures of a document drawn small, each on one axis for all of its rows. Pure drawing."""

from collections.abc import Callable, Mapping

from textual.content import Content

from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.text import clipped, legible
from fresh_chair.tui.weigh.widgets.axis import Axis, interval_row
from fresh_chair.tui.widgets.signs import OUTCOME_COLOUR, Signs, chair_colour

_LEFT = 29
_MOST_ROWS = 12


def small_figure(name: str, weighing: Weighing, signs: Signs) -> list[Content]:
    """A chart by its name, small; nothing for one that has no small form."""
    makers: Mapping[str, Callable[[Weighing, Signs], list[Content]]] = {
        "outcomes": _outcomes, "times": _times, "waits": _waits,
    }  # fmt: skip
    rows = makers[name](weighing, signs) if name in makers else []
    more = len(rows) - _MOST_ROWS
    return [*rows[:_MOST_ROWS], *([Content.styled(f"   and {more} more", "$thread")] if more > 0 else [])]


def _outcomes(weighing: Weighing, signs: Signs) -> list[Content]:
    """Every cell's outcomes as signs."""
    rows = []
    most = max((sum(cell.counts.values()) for cell in weighing.cells.values()), default=0)
    for card in weighing.study.cards:
        parts: list[tuple[str, str]] = [("   " + clipped(legible(card.title), _LEFT - 1).ljust(_LEFT), "$chalk")]
        for chair in weighing.study.chairs:
            cell = weighing.cells[card.id, chair.letter]
            parts.append((f" {chair.letter} ", chair_colour(chair)))
            drawn = 0
            for outcome, count in cell.counts.items():
                parts.append(((signs.outcomes[outcome] + " ") * count, OUTCOME_COLOUR[outcome]))
                drawn += count
            parts.append((" " * 2 * (most - drawn), ""))
        rows.append(Content.assemble(*parts))
    return rows


def _times(weighing: Weighing, signs: Signs) -> list[Content]:
    """Every cell's time on one axis of logarithms."""
    values = [
        value
        for cell in weighing.cells.values()
        for value in (cell.all_seconds.low, cell.all_seconds.value, cell.all_seconds.high)
        if value is not None
    ]
    if not values:
        return [Content.styled("   no times yet", "$thread")]
    axis = Axis(max(min(values), 0.5), max(values), 14, logarithmic=True)
    rows = []
    for card in weighing.study.cards:
        parts: list[Content | tuple[str, str]] = [
            ("   " + clipped(legible(card.title), _LEFT - 1).ljust(_LEFT), "$chalk")
        ]
        for chair in weighing.study.chairs:
            cell = weighing.cells[card.id, chair.letter]
            drawn = interval_row(cell.all_seconds, axis, signs, chair_colour(chair))
            parts += [(" ", ""), drawn, (" ", "")]
        rows.append(Content.assemble(*parts))
    return rows


def _waits(weighing: Weighing, signs: Signs) -> list[Content]:
    """Each chair's share of waits as a bar."""
    rows = []
    for each in weighing.machine:
        if each.card or each.share is None or each.chair not in weighing.study.chair_by_letter:
            continue
        chair = weighing.study.chair_by_letter[each.chair]
        full = round(40 * each.share)
        label = ("   " + clipped(legible(chair.title), _LEFT - 1).ljust(_LEFT), chair_colour(chair))
        bar = (signs.severities[4] * full, "$tide")
        rows.append(Content.assemble(label, bar, (f" {100 * each.share:.0f} %", "$thread")))
    return rows
