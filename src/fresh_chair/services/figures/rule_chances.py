"""The plan itself simulated: how often the program's own rule would name the right chair, with how many people."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace
from itertools import combinations
from math import log, sqrt
from statistics import median
from typing import TYPE_CHECKING

from fresh_chair.core.figures.overall.estimates import OverallMeasure, main_measure_of, margins_of
from fresh_chair.core.figures.simulation.design import (
    DrawnChair,
    DrawnDesign,
    DrawnTask,
    orders_repeated,
    with_chairs,
)
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.orders import williams_orders
from fresh_chair.services.plan.schedule import ratio_spread_of
from fresh_chair.services.study.snapshot import StudyReading

if TYPE_CHECKING:
    from fresh_chair.core.figures.simulation.drawing import Chances

# The numbers of people that are worked out beside the plan's own and a few more than those.
NUMBERS = (5, 8, 12, 20)
MORE = (1, 3)
MOST_PEOPLE = 60
STUDIES, _BLOCK = 400, 100
# How far apart the one chair lies from all others, by measure: small, middling, large.
DIFFERENCES: Mapping[OverallMeasure, tuple[float, float, float]] = {
    "who fared better": (1.25, 1.5, 2.0),
    "time": (1.25, 1.5, 2.0),
    "completed unaided": (15, 30, 45),
    "completed": (15, 30, 45),
    "ease": (0.5, 1.0, 1.5),
    "satisfaction": (8, 16, 24),
}
# Where the study cannot say yet: who does not give up, and how much of the spread of times is how a chair suits one.
_COMPLETING, _SUITS, _LEAST_RESIDUAL, _ENOUGH = 0.85, 0.25, 0.1, 10


@frozen
class Assumed:
    """The plan, and everything that is taken for granted about its outcome.

    Attributes:
        measure: The primary one; who fared better where none was chosen.
        difference: How far apart the one chair lies, in the measure's words: times, points.
        slow: The letter of that chair.
        planned: People who are to sit at both chairs of a pair: the fewest of all compared pairs.
        attempts: How many attempts of this study completion is known from; 0 where it is the usual share.
        times: How many pairs of times their spread is known from; 0 where it is the usual one.
    """

    design: DrawnDesign
    pairs: tuple[tuple[str, str], ...]
    measure: OverallMeasure
    margins: Mapping[OverallMeasure, float]
    difference: float
    slow: str
    planned: int
    completing: float
    attempts: int
    spread: float
    times: int

    def at(self, people: int) -> DrawnDesign:
        """The design for so many people at both chairs of each pair, all chairs alike: their orders again and again."""
        orders = self.design.orders
        count = 1
        while _at_both(orders_repeated(orders, count), self.pairs) < people:
            count += 1
        return replace(self.design, orders=orders_repeated(orders, count))

    def apart(self, design: DrawnDesign) -> DrawnDesign:
        """The same with the one chair worse than all others."""
        size, slow = self.difference, self.slow
        if self.measure in ("who fared better", "time"):
            return with_chairs(design, slower={slow: log(max(size, 1.01))})
        if self.measure in ("completed unaided", "completed"):
            return with_chairs(design, completing={slow: max(self.completing - size / 100, 0.0)})
        # A point of ease is ten of the System Usability Scale in drawn studies.
        return with_chairs(design, easier={slow: -size if self.measure == "ease" else -size / 10})

    @property
    def winners(self) -> dict[tuple[str, str], str]:
        """The truly better chair of each pair that has one."""
        return {pair: next(c for c in pair if c != self.slow) for pair in self.pairs if self.slow in pair}


@frozen
class RuleChances:
    """The outcome of so many drawn studies with this many people at both chairs.

    Attributes:
        apart: Where one chair is worse by the assumed difference.
        alike: Where all chairs are the same.
        settled: All the studies that were to be drawn are.
    """

    people: int
    apart: Chances
    alike: Chances
    settled: bool


def assumed(opened: StudyReading, *, size: int = 1) -> Assumed | None:
    """The plan as it is to be simulated; None where it has not two chairs and a card.

    Args:
        opened: The study.
        size: Which of the measure's differences, 0 to 2.
    """
    study = opened.study
    comparing = study.sheet.comparing
    letters = tuple(chair.letter for chair in study.chairs)
    cards = [card for card in study.cards if not card.dropped]
    if len(letters) < 2 or not cards:
        return None
    pairs = tuple(comparing.pairs_of_letters or combinations(letters, 2))
    measure = main_measure_of(comparing)
    facts = [fact for fact in opened.facts() if fact.outcome.counts and fact.first_try]
    known: dict[str, list[float]] = {}
    for fact in facts:
        if fact.outcome.completed and fact.hands_seconds > 0:
            known.setdefault(fact.card, []).append(fact.hands_seconds)
    tasks = []
    for card in cards:
        expert = [seconds for seconds in card.benchmark_seconds.values() if seconds]
        usual = 2.5 * sum(expert) / len(expert) if expert else 0.4 * card.limit_seconds
        seconds = median(known[card.id]) if len(known.get(card.id, ())) >= 3 else usual
        tasks.append(DrawnTask(card.id, seconds, float(card.limit_seconds)))
    spread, times = ratio_spread_of(opened)
    tried = len(facts) if len(facts) >= _ENOUGH else 0
    went_on = sum(fact.outcome.completed or fact.outcome == "out of time" for fact in facts)
    completing = went_on / tried if tried else _COMPLETING
    orders = _orders(opened, letters, pairs)
    design = DrawnDesign(
        tuple(tasks),
        tuple(DrawnChair(letter, completing=completing) for letter in letters),
        orders,
        residual=max(sqrt(max(spread**2 / 2 - _SUITS**2, 0.0)), _LEAST_RESIDUAL),
        person_chair=_SUITS,
    )
    planned = _at_both(_planned_orders(opened), pairs)
    slow = pairs[0][1]
    difference = DIFFERENCES[measure][size]
    return Assumed(
        design, pairs, measure, margins_of(comparing), difference, slow, planned, completing, tried, spread, times
    )


def _planned_orders(opened: StudyReading) -> tuple[tuple[str, ...], ...]:
    """Each counted person's chairs in the order they are planned to sit at them."""
    study = opened.study
    left = {person.code for person in study.people if person.left}
    found: dict[str, list[tuple[int, str]]] = {}
    for seat in study.seats:
        if study.counted(seat.participant) and seat.participant not in left:
            found.setdefault(seat.participant, []).append((seat.position, seat.chair))
    return tuple(tuple(dict.fromkeys(chair for _, chair in sorted(seats))) for seats in found.values())


def _orders(
    opened: StudyReading, letters: Sequence[str], pairs: Sequence[tuple[str, str]]
) -> tuple[tuple[str, ...], ...]:
    """The planned orders where each pair has people by them, otherwise balanced ones."""
    planned = _planned_orders(opened)
    if planned and _at_both(planned, pairs):
        return planned
    return tuple(tuple(letters[index] for index in row) for row in williams_orders(len(letters)))


def _at_both(orders: Sequence[Sequence[str]], pairs: Sequence[tuple[str, str]]) -> int:
    return min((sum(first in order and second in order for order in orders) for first, second in pairs), default=0)


def numbers_of(found: Assumed) -> list[int]:
    """The numbers of people that are worked out: the plan's own first, then a few more, then the usual ones."""
    own = [found.planned, *(found.planned + more for more in MORE)] if found.planned >= 2 else []
    most = max(MOST_PEOPLE, found.planned)
    return [each for each in dict.fromkeys([*own, *NUMBERS]) if 2 <= each <= most]


def rule_chances(found: Assumed, seed: int = 1, studies: int = STUDIES) -> Iterator[RuleChances]:
    """Each number of people as far as it is worked out, again and again until all are; from a seed.

    The first answer is that of the plan's own number, from a hundred studies.

    Args:
        found: The plan with its assumptions.
        seed: Of the draws.
        studies: How many for each number of people and each truth, in hundreds.
    """
    from fresh_chair.core.figures.simulation.drawing import Chances, counted_chances, drawn_verdicts

    for people in numbers_of(found):
        design = found.at(people)
        ways = {"apart": (found.apart(design), found.winners), "alike": (design, {})}
        sums = {way: Chances(0, 0, 0, 0, 0) for way in ways}
        blocks = max(studies // _BLOCK, 1)
        for block in range(blocks):
            for way, (truth, winners) in ways.items():
                drawn = drawn_verdicts(
                    truth,
                    studies=_BLOCK,
                    seed=seed * 1_000_003 + people * 1_009 + block * 2 + (way == "alike"),
                    pairs=found.pairs,
                    margins=found.margins,
                    measures=[found.measure],
                )
                sums[way] += counted_chances([each[found.measure] for each in drawn], winners)
            yield RuleChances(people, sums["apart"], sums["alike"], block + 1 >= blocks)


def rule_chances_apart(found: Assumed, *, stopped: Callable[[], bool] = lambda: False) -> Iterator[RuleChances]:
    """The same from a process of its own, so that no key waits.

    Raises:
        Stopped: Where it was given up.
    """
    from fresh_chair.services.system.child import in_child

    yield from in_child(f"{__name__}:rule_chances", found, stopped=stopped)
