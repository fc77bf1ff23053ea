"""Routes: the first choice, the ways people went between places, where they gave up, and lostness."""

from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import replace
from itertools import pairwise
from math import sqrt

from fresh_chair.core.figures.completion import adjusted_wald
from fresh_chair.core.figures.estimate import Estimate, Proportion, mean_with_t
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.outcome import Outcome


@frozen
class RouteEdge:
    """A way from one place to the next, and how many attempts took it.

    Attributes:
        origin: Where from; empty for the beginning.
        target: Where to; empty where the attempt ended there.
        end: How it ended; None where it went on.
    """

    origin: str
    target: str
    end: Outcome | None
    attempts: int


@frozen
class RouteFigures:
    """The ways of one task on one chair.

    Attributes:
        attempts: Counted first tries with a place logged.
        first_right: Those whose first place was on the expected route, of those where that is known.
        edges: The graph of places, by how often each way was taken.
        lostness: Mean over attempts, 0 for the straight way; none without an expected route.
        expected: The steps of the expected route.
    """

    card: str
    chair: str
    attempts: int
    first_right: Proportion
    edges: tuple[RouteEdge, ...]
    lostness: Estimate
    expected: tuple[str, ...]


def lostness(places: Sequence[str], steps: int) -> float | None:
    """How lost was a person on the way?

    Args:
        places: Those visited, each time anew.
        steps: Of the expected route.

    Returns:
        0 for the straight way; None where nothing was visited, or no route is expected.

    Source: Smith, P. A. (1996). Towards a practical measure of hypertext usability. Interacting with Computers 8,
        365-381: sqrt((N/S - 1)^2 + (R/N - 1)^2), N distinct places, S visited in all, R expected.

    >>> lostness(["a", "b", "c"], 3)
    0.0
    """
    visited, distinct = len(places), len(set(places))
    if not visited or not steps:
        return None
    return sqrt((distinct / visited - 1) ** 2 + (steps / distinct - 1) ** 2)


def route_figures(card: str, chair: str, expected: Sequence[str], facts: Sequence[AttemptFact]) -> RouteFigures:
    """The ways of one task on one chair; attempts that do not count, and later tries, are passed over."""
    counted = [fact for fact in facts if fact.outcome.counts and fact.first_try]
    firsts = [fact.first_choice for fact in counted if fact.first_choice]
    gone = [fact for fact in counted if fact.spots]
    ways: Counter[tuple[str, str, Outcome | None]] = Counter()
    for fact in gone:
        stations = ["", *fact.spots]
        ways.update((origin, target, None) for origin, target in pairwise(stations))
        ways[stations[-1], "", fact.outcome] += 1
    edges = tuple(RouteEdge(*way, count) for way, count in sorted(ways.items(), key=_by_count))
    lost = [value for fact in gone if (value := lostness(fact.spots, len(expected))) is not None]
    return RouteFigures(
        card,
        chair,
        len(gone),
        adjusted_wald(firsts.count("right"), len(firsts)),
        edges,
        _mean_lostness(lost),
        tuple(expected),
    )


def _mean_lostness(lost: Sequence[float]) -> Estimate:
    """Their mean; lostness is never below 0, so its interval is cut there."""
    mean = mean_with_t(lost, method="mean lostness (Smith 1996), t interval cut at 0")
    return mean if mean.low is None else replace(mean, low=max(mean.low, 0.0))


def _by_count(way: tuple[tuple[str, str, Outcome | None], int]) -> tuple[int, str, str, str]:
    (origin, target, end), count = way
    return -count, origin, target, "" if end is None else end.value


def all_routes(study: Study, facts: Iterable[AttemptFact]) -> tuple[RouteFigures, ...]:
    """Those of every task on every chair where a place, or the first choice, was logged."""
    by_cell: dict[tuple[str, str], list[AttemptFact]] = defaultdict(list)
    for fact in facts:
        if fact.spots or fact.first_choice:
            by_cell[fact.card, fact.chair].append(fact)
    return tuple(
        route_figures(card.id, chair.letter, card.routes.get(chair.letter, ()), by_cell[card.id, chair.letter])
        for card in study.cards
        for chair in study.chairs
        if (card.id, chair.letter) in by_cell
    )
