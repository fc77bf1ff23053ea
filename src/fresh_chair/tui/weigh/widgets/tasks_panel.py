"""The list of tasks at the right of one task, with completion at each chair, its outcomes, and the usability scale."""

from collections.abc import Iterator

from textual.content import Content

from fresh_chair.core.figures.cell import CellFigures
from fresh_chair.core.figures.estimate import interval_words
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.text import clipped, legible
from fresh_chair.tui.widgets.signs import OUTCOME_COLOUR, Signs, chair_colour


def tasks_panel(weighing: Weighing, in_hand: int, signs: Signs) -> Content:
    """Every task with how many completed it at each chair; below, the outcomes of the one in hand."""
    study = weighing.study
    room = max(38 - 5 * len(study.chairs), 6)
    parts = [
        Content.assemble(
            (clipped("completed, of n", room).rjust(room + 1), "$thread"),
            *((f"{chair.letter:>5}", f"bold {chair_colour(chair)}") for chair in study.chairs),
        )
    ]
    for index, card in enumerate(study.cards):
        here = index == in_hand
        row: list[tuple[str, str]] = [
            (signs.here if here else " ", "$lamp"),
            (clipped(legible(card.title), room - 1).ljust(room), "bold $lamp" if here else "$chalk"),
        ]
        for chair in study.chairs:
            rate = weighing.cells[card.id, chair.letter].lenient
            row.append((f"{rate.x}/{rate.n}".rjust(5) if rate.n else "-".rjust(5), "$chalk" if rate.n else "$clay"))
        parts.append(Content.assemble(*row))
    parts += [Content(""), *_outcomes(weighing, in_hand, signs), Content(""), *_satisfaction(weighing)]
    return Content("\n").join(parts)


def _outcomes(weighing: Weighing, in_hand: int, signs: Signs) -> Iterator[Content]:
    """The outcomes of the task in hand, chair by chair."""
    study = weighing.study
    card = study.cards[in_hand]
    for chair in study.chairs:
        cell = weighing.cells[card.id, chair.letter]
        drawn = [
            ((signs.outcomes[outcome] + " ") * count, OUTCOME_COLOUR[outcome]) for outcome, count in cell.counts.items()
        ]
        yield Content.assemble((f"{chair.letter} ", chair_colour(chair)), *drawn)
        extra = _besides(cell)
        if extra:
            yield Content.styled("  " + "; ".join(extra), "$thread")


def _satisfaction(weighing: Weighing) -> Iterator[Content]:
    """The System Usability Scale at each chair."""
    for satisfaction in weighing.satisfaction:
        mean = satisfaction.mean
        said = "no scores yet"
        if mean.value is not None:
            spread = "" if mean.low is None else f" ({interval_words(mean.low, mean.high)})"
            said = f"{mean.value:.0f}{spread} n {mean.n}"
        chair = weighing.study.chair_by_letter[satisfaction.chair]
        yield Content.assemble((f"{satisfaction.chair} ", chair_colour(chair)), ("SUS ", "$thread"), said)


def _besides(cell: CellFigures) -> list[str]:
    """Things that stand beside the outcomes of a cell, in a few words each."""
    extra = []
    if cell.said_done_was_not:
        extra.append(f"said done, was not: {cell.said_done_was_not}")
    if cell.assists:
        extra.append("helped once" if cell.assists == 1 else f"helped {cell.assists} times")
    if cell.by_workaround:
        extra.append(f"completed only by a workaround: {cell.by_workaround}")
    return extra
