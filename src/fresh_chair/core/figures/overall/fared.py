"""Who fared better: each person's chairs held against each other, task by task."""

from collections.abc import Mapping
from itertools import permutations

from fresh_chair.core.figures.overall.rows import Compared, ComparedRow, Seated

# Both completed alike: the other one's time has to be this many times one's own to lose.
MARGIN_RATIO = 1.25


def fared_shares(compared: Compared) -> dict[tuple[str, str, str], float]:
    """For each person and two of their chairs: the mean over tasks tried at both of 1 better, 0 even, -1 worse.

    A higher outcome wins, whatever the times; two that were both completed unaided, or both with help, go by time.

    Returns:
        By person, first and second chair; from -1 to 1. Chairs without a task in common are not there.

    Source:
        Generalised pairwise comparison: Buyse (2010), Statistics in Medicine 29, 3245-3257.
    """
    by_person: dict[str, dict[str, dict[str, ComparedRow]]] = {}
    for row in compared.rows:
        by_person.setdefault(row.person, {}).setdefault(row.chair, {})[row.card] = row
    found: dict[tuple[str, str, str], float] = {}
    for person, chairs in by_person.items():
        for first, second in permutations(chairs, 2):
            mine, theirs = chairs[first], chairs[second]
            common = sorted(mine.keys() & theirs.keys())
            if common:
                found[person, first, second] = sum(_better(mine[c], theirs[c]) for c in common) / len(common)
    return found


def fared_scores(shares: Mapping[tuple[str, str, str], float]) -> dict[Seated, float]:
    """A score a sitting: the sum of its shares over the person's other chairs, over one more than their number.

    >>> fared_scores({("P1", "A", "B"): 1.0, ("P1", "B", "A"): -1.0})
    {('P1', 'A'): 0.5, ('P1', 'B'): -0.5}
    """
    sums: dict[Seated, list[float]] = {}
    for (person, first, _), share in shares.items():
        sums.setdefault((person, first), []).append(share)
    return {seated: sum(listed) / (len(listed) + 1) for seated, listed in sums.items()}


def _better(mine: ComparedRow, theirs: ComparedRow) -> int:
    if mine.rank != theirs.rank:
        return 1 if mine.rank > theirs.rank else -1
    if not mine.outcome.completed:
        return 0
    ratio = max(theirs.hands_seconds, 0.1) / max(mine.hands_seconds, 0.1)
    return 1 if ratio > MARGIN_RATIO else -1 if 1 / ratio > MARGIN_RATIO else 0
