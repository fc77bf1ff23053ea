"""The figures of a document drawn small, each on one axis for all of its rows. Pure drawing."""

from collections.abc import Callable, Mapping

from textual.content import Content

from fresh_chair.core.figures.estimate import Estimate
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.text import clipped, legible
from fresh_chair.tui.weigh.widgets.axis import Axis, interval_row
from fresh_chair.tui.widgets.signs import OUTCOME_COLOUR, Signs, chair_colour

_LEFT = 29
_MOST_ROWS = 12


def small_figure(name: str, weighing: Weighing, signs: Signs) -> list[Content]:
    """A chart by its name, small; nothing for one that has no small form."""
    makers: Mapping[str, Callable[[Weighing, Signs], list[Content]]] = {
        "outcomes": _outcomes, "times": _times, "waits": _waits, "overall": _overall, "fared_better": _fared,
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


def _overall(weighing: Weighing, signs: Signs) -> list[Content]:
    """Each pair on each measure in margins: left of the middle the first chair is better, right of it the second."""
    axis, rows = Axis(-6.0, 6.0, 41), list[Content]()
    for measure, found in weighing.overall.items():
        for verdict in found.verdicts:
            pair = verdict.estimate
            if pair.value is None or verdict.low is None or verdict.high is None:
                continue
            sign = 1 if measure == "time" else -1
            low, high = sorted(sign * end / verdict.margin for end in (verdict.low, verdict.high))
            shown = Estimate(_within(sign * pair.value / verdict.margin), _within(low), _within(high), pair.people, "")
            winner = weighing.study.chair_by_letter.get(verdict.winner)
            colour = "$thread" if winner is None else chair_colour(winner)
            label = f"   {measure} {pair.first} - {pair.second}".ljust(_LEFT + 3)
            rows.append(Content.assemble((label, "$chalk"), interval_row(shown, axis, signs, colour)))
    return rows


def _within(value: float) -> float:
    return min(max(value, -6.0), 6.0)


def _fared(weighing: Weighing, signs: Signs) -> list[Content]:
    """How many of the people at both fared better at which chair."""
    found = weighing.overall.get("who fared better")
    rows = []
    for verdict, flip in zip(found.verdicts, found.flips, strict=True) if found is not None else ():
        first, second = (
            weighing.study.chair_by_letter[each] for each in (verdict.estimate.first, verdict.estimate.second)
        )
        label = f"   {first.letter} - {second.letter}".ljust(_LEFT + 3)
        full = signs.severities[4]
        parts = [(f"{full} " * flip.first, chair_colour(first)), (f"{full} " * flip.even, "$thread")]
        parts.append((f"{full} " * flip.second, chair_colour(second)))
        said = f" {flip.first} better at {first.letter}, {flip.even} alike, {flip.second} at {second.letter}"
        rows.append(Content.assemble((label, "$chalk"), *parts, (said, "$thread")))
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
