"""Who fared better: each person's chairs held against each other, task by task."""

from collections.abc import Mapping
from itertools import permutations
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from fresh_chair.core.figures.overall.rows import Compared, ComparedRow, Seated

Numbers = NDArray[np.float64]
# Both completed alike: the other one's time has to be this many times one's own to lose.
MARGIN_RATIO = 1.25


# All of a share, or the part of it that comes from higher outcomes, or from times where outcomes are even.
SharePartName = Literal["all", "outcome", "time"]


def fared_shares(compared: Compared, part: SharePartName = "all") -> dict[tuple[str, str, str], float]:
    """For each person and two of their chairs: the mean over tasks tried at both of 1 better, 0 even, -1 worse.

    A higher outcome wins, whatever the times; two that were both completed unaided, or both with help, go by time.

    Args:
        compared: The rows of the study.
        part: All of the share, or the part by outcome or by time; these two add up to it.

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
        shares, common = _person_shares(chairs, part)
        for (i, first), (j, second) in permutations(enumerate(chairs), 2):
            if common[i, j]:
                found[person, first, second] = float(shares[i, j])
    return found


def _person_shares(chairs: Mapping[str, Mapping[str, ComparedRow]], part: SharePartName) -> tuple[Numbers, Numbers]:
    """One person's shares by first and second chair, and how many tasks they have in common; arrays of chairs."""
    column = {card: at for at, card in enumerate(dict.fromkeys(card for rows in chairs.values() for card in rows))}
    size = len(chairs), len(column)
    there, ranks, completed, seconds = (np.zeros(size) for _ in range(4))
    for i, rows in enumerate(chairs.values()):
        for card, row in rows.items():
            at = i, column[card]
            there[at], ranks[at], completed[at] = 1.0, row.rank, row.outcome.completed
            seconds[at] = max(row.hands_seconds, 0.1)
    both = there[:, None] * there[None, :]
    higher = np.sign(ranks[:, None] - ranks[None, :])
    with np.errstate(divide="ignore", invalid="ignore"):
        ratio = seconds[None, :] / seconds[:, None]
        faster = (ratio > MARGIN_RATIO) * 1.0 - (1 / ratio > MARGIN_RATIO) * 1.0
    tied = (higher == 0) & (completed[:, None] > 0)
    by_time = np.where(tied, faster, 0.0)
    better = {"all": by_time + higher, "outcome": higher, "time": by_time}[part] * both
    common = both.sum(axis=2)
    return better.sum(axis=2) / np.maximum(common, 1), common


def fared_scores(shares: Mapping[tuple[str, str, str], float]) -> dict[Seated, float]:
    """A score a sitting: the sum of its shares over the person's other chairs, over one more than their number.

    >>> fared_scores({("P1", "A", "B"): 1.0, ("P1", "B", "A"): -1.0})
    {('P1', 'A'): 0.5, ('P1', 'B'): -0.5}
    """
    sums: dict[Seated, list[float]] = {}
    for (person, first, _), share in shares.items():
        sums.setdefault((person, first), []).append(share)
    return {seated: sum(listed) / (len(listed) + 1) for seated, listed in sums.items()}
