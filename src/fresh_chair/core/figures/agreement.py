"""Agreement of raters and of observers: Krippendorff's alpha, Cohen's kappa, any-two agreement."""

from collections.abc import Hashable, Mapping, Sequence
from itertools import combinations

from fresh_chair.core.frozen import frozen


@frozen
class Alpha:
    """Krippendorff's alpha, with its units and ratings.

    Attributes:
        value: From below 0 to 1; None where it is undefined.
        units: Units with two ratings or more; the others say nothing about agreement.
        ratings: Ratings of those units.
        why: Why it is undefined; empty where it is not.
    """

    value: float | None
    units: int
    ratings: int
    why: str = ""


def ordinal_alpha(units: Sequence[Sequence[int]]) -> Alpha:
    """How far several raters agree on an ordered scale, beyond chance: 1 is full agreement, 0 is chance.

    Args:
        units: For each unit rated the values it was given, in any order; raters may be missing.

    Returns:
        Undefined where no unit has two ratings, or where all ratings are equal: without any variation nothing tells
        agreement from a scale that is not used.

    Source:
        Krippendorff, K. (2011), Computing Krippendorff's Alpha-Reliability, section on ordinal data.

    >>> ordinal_alpha([[1, 1], [2, 2], [3, 3]]).value
    1.0
    """
    paired = [tuple(unit) for unit in units if len(unit) > 1]
    ratings = sum(len(unit) for unit in paired)
    if not paired:
        return Alpha(None, 0, 0, "no finding was rated by two")
    totals: dict[int, int] = {}
    for unit in paired:
        for value in unit:
            totals[value] = totals.get(value, 0) + 1
    if len(totals) == 1:
        return Alpha(None, len(paired), ratings, "all ratings are equal, so that nothing tells agreement from habit")
    distance = _ordinal_distances(totals)
    observed = sum(2 * sum(distance[a, b] for a, b in combinations(unit, 2)) / (len(unit) - 1) for unit in paired)
    expected = sum(totals[a] * totals[b] * distance[a, b] for a in totals for b in totals) / (ratings - 1)
    return Alpha(1 - observed / expected, len(paired), ratings)


def _ordinal_distances(totals: Mapping[int, int]) -> dict[tuple[int, int], float]:
    """Squared distances of ranks: the ratings between two values, their own halved."""
    found = {}
    for a in totals:
        for b in totals:
            low, high = min(a, b), max(a, b)
            between = sum(count for value, count in totals.items() if low <= value <= high)
            found[a, b] = 0.0 if a == b else (between - (totals[a] + totals[b]) / 2) ** 2
    return found


def cohens_kappa(pairs: Sequence[tuple[Hashable, Hashable]]) -> float | None:
    """How far two judges agree in naming, beyond chance.

    Args:
        pairs: The two judgements of each thing that both judged.

    Returns:
        From below 0 to 1; None for no pairs, or where chance alone would agree always.

    Source:
        Cohen, J. (1960), A coefficient of agreement for nominal scales.

    >>> cohens_kappa([("a", "a"), ("b", "b")])
    1.0
    """
    if not pairs:
        return None
    n = len(pairs)
    agreed = sum(a == b for a, b in pairs) / n
    names = {name for pair in pairs for name in pair}
    chance = sum((sum(a == x for a, _ in pairs) / n) * (sum(b == x for _, b in pairs) / n) for x in names)
    return None if chance >= 1 - 1e-12 else (agreed - chance) / (1 - chance)


def any_two_agreement(found: Sequence[frozenset[Hashable]]) -> float | None:
    """The share of all marks of two observers that both made, averaged over all pairs of observers.

    Args:
        found: For each observer the set of what was seen.

    Returns:
        0 to 1; None for fewer than two observers, or where no pair saw anything.

    Source:
        Hertzum, M. & Jacobsen, N. E. (2001), The evaluator effect, equation for any-two agreement.

    >>> any_two_agreement([frozenset("ab"), frozenset("bc")])
    0.3333333333333333
    """
    shares = [len(one & other) / len(one | other) for one, other in combinations(found, 2) if one | other]
    return sum(shares) / len(shares) if shares else None
