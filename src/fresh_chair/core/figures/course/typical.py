"""Each person's typical time at each of their chairs, over the tasks they completed at every one."""

from collections.abc import Iterable
from math import exp, log

from fresh_chair.core.figures.facts import AttemptFact


def typical_times(facts: Iterable[AttemptFact]) -> dict[str, dict[str, float]]:
    """Geometric mean seconds by person and chair; people who completed no task at all of their chairs are left out.

    Args:
        facts: Attempts; those that do not count, and later tries, are passed over.
    """
    logs: dict[str, dict[str, dict[str, float]]] = {}
    sat: dict[str, set[str]] = {}
    for fact in facts:
        if fact.outcome.counts and fact.first_try:
            sat.setdefault(fact.participant, set()).add(fact.chair)
            if fact.outcome.completed and fact.hands_seconds > 0:
                logs.setdefault(fact.participant, {}).setdefault(fact.card, {})[fact.chair] = log(fact.hands_seconds)
    found: dict[str, dict[str, float]] = {}
    for person, cards in logs.items():
        whole = [by_chair for by_chair in cards.values() if by_chair.keys() == sat[person]]
        if whole:
            found[person] = {c: exp(sum(each[c] for each in whole) / len(whole)) for c in sorted(sat[person])}
    return found
