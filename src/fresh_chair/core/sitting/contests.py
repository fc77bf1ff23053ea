"""Contests: the same steps at several chairs side by side, read from the walks that are their sides."""

from collections.abc import Mapping

from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.sitting.state.walk import ChairTurn, Contest, Judgement
from fresh_chair.core.sitting.walked import StepLine, step_lines


@frozen
class ContestRow:
    """One step of a contest at all of its chairs.

    Attributes:
        cells: The step at each chair, in the order of the contest's chairs; None where it was not gone through.
        judgement: Which was better, as it was said last.
    """

    title: str
    card: str
    cells: tuple[StepLine | None, ...]
    judgement: Judgement | None


@frozen
class ContestView:
    """A contest as a screen or a table shows it.

    Attributes:
        sittings: The sitting at each chair, in the order of the chairs; None where it has not begun.
        turns: Where each chair was altered, or left for another machine: steps after that are of another state of it.
    """

    name: str
    reviewer: str
    chairs: tuple[str, ...]
    sittings: tuple[int | None, ...]
    rows: tuple[ContestRow, ...]
    turns: tuple[tuple[ChairTurn, ...], ...] = ()

    @property
    def empty(self) -> int:
        """How many cells are empty."""
        return sum(cell is None for row in self.rows for cell in row.cells)

    @property
    def undecided(self) -> int:
        """How many steps say nothing of which was better."""
        return sum(row.judgement is None for row in self.rows)

    def count(self, better: str) -> int:
        """At how many steps a chair, `neither` or `cannot say` was the answer."""
        return sum(row.judgement is not None and row.judgement.better == better for row in self.rows)


def contests_of(study: Study, sittings: Mapping[int, Sitting]) -> list[ContestView]:
    """Every contest of a study, in the order in which they began."""
    found: dict[tuple[str, str], tuple[Contest, dict[str, int]]] = {}
    for seat in sorted(study.seats, key=lambda seat: seat.number):
        walk = sitting.walk if (sitting := sittings.get(seat.number)) is not None else None
        if walk is not None and walk.contest is not None:
            _, sides = found.setdefault((seat.participant, walk.contest.name), (walk.contest, {}))
            sides.setdefault(seat.chair, seat.number)
    return [_view(sittings, name, reviewer, contest, sides) for (reviewer, name), (contest, sides) in found.items()]


def step_key(title: str, card: str) -> str:
    """The key under which the steps of several chairs are one: the card, or the title where it stood on no list."""
    return f"card {card}" if card else title.strip().casefold()


def _view(
    sittings: Mapping[int, Sitting], name: str, reviewer: str, contest: Contest, sides: dict[str, int]
) -> ContestView:
    rows: dict[str, dict[str, StepLine]] = {}
    for letter in contest.chairs:
        for step in step_lines(sittings[sides[letter]]) if letter in sides else ():
            # Gone through twice at a chair, the later one counts.
            rows.setdefault(step_key(step.title, step.card), {})[letter] = step
    return ContestView(
        name=name,
        reviewer=reviewer,
        chairs=contest.chairs,
        sittings=tuple(sides.get(letter) for letter in contest.chairs),
        turns=tuple(_turns(sittings, sides.get(letter)) for letter in contest.chairs),
        rows=tuple(_row(contest.chairs, steps) for steps in rows.values()),
    )


def _turns(sittings: Mapping[int, Sitting], number: int | None) -> tuple[ChairTurn, ...]:
    walk = sittings[number].walk if number is not None else None
    return () if walk is None else tuple(walk.turns)


def _row(chairs: tuple[str, ...], steps: dict[str, StepLine]) -> ContestRow:
    first = next(iter(steps.values()))
    said = [step.judgement for step in steps.values() if step.judgement is not None]
    return ContestRow(
        title=first.title,
        card=first.card,
        cells=tuple(steps.get(letter) for letter in chairs),
        judgement=max(said, key=lambda judgement: judgement.wall_ns) if said else None,
    )
