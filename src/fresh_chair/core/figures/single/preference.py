"""The order of preference: which chairs people would rather have."""

from collections.abc import Mapping, Sequence
from itertools import combinations
from math import comb

from fresh_chair.core.figures.correction import holm
from fresh_chair.core.frozen import frozen


@frozen
class PreferencePair:
    """How many people put which of two chairs first; p of the sign test, raw and after Holm over all pairs."""

    first: str
    second: str
    for_first: int
    for_second: int
    p: float | None
    p_adjusted: float | None


@frozen
class Preference:
    """The order of preference of a study.

    Attributes:
        people: How many gave a whole order of all chairs.
        mean_ranks: By chair, 1 is the best; of those.
        p: Of the Friedman test; None below three chairs or two people, or where all ranks are the same.
        pairs: Every pair, by all who ranked both.
    """

    people: int
    mean_ranks: Mapping[str, float]
    p: float | None
    pairs: tuple[PreferencePair, ...]


def preference(letters: Sequence[str], orders: Sequence[Sequence[str]]) -> Preference:
    """Do people prefer some chairs to others?

    Args:
        letters: The study's chairs.
        orders: Each person's chairs, the best first; those who left one out count in the pairs they ranked.

    Source: Friedman, M. (1937). The use of ranks to avoid the assumption of normality implicit in the analysis of
        variance. JASA 32, 675-701; pairs by the sign test with exact binomial tails.
    """
    whole = [list(order) for order in orders if set(order) == set(letters)]
    ranks = {letter: [order.index(letter) + 1 for order in whole] for letter in letters}
    means = {letter: sum(told) / len(told) for letter, told in ranks.items() if told}
    pairs = []
    for first, second in combinations(letters, 2):
        both = [order for order in orders if first in order and second in order]
        ahead = sum(order.index(first) < order.index(second) for order in both)
        pairs.append((first, second, ahead, len(both) - ahead))
    raw = [sign_test_p(ahead, behind) for _, _, ahead, behind in pairs]
    adjusted = iter(holm([p for p in raw if p is not None]))
    told = [PreferencePair(*pair, p, None if p is None else next(adjusted)) for pair, p in zip(pairs, raw, strict=True)]
    return Preference(len(whole), means, _friedman(ranks, len(whole)), tuple(told))


def sign_test_p(ahead: int, behind: int) -> float | None:
    """Two-sided p of the sign test; None for no people.

    >>> sign_test_p(6, 0)
    0.03125
    """
    n = ahead + behind
    if not n:
        return None
    return min(2 * sum(comb(n, k) for k in range(min(ahead, behind) + 1)) / float(2**n), 1.0)


def _friedman(ranks: Mapping[str, Sequence[int]], people: int) -> float | None:
    chairs = len(ranks)
    if chairs < 3 or people < 2:
        return None
    from scipy.special import chdtrc

    sums = [sum(told) for told in ranks.values()]
    statistic = 12 / (people * chairs * (chairs + 1)) * sum(each**2 for each in sums) - 3 * people * (chairs + 1)
    return float(chdtrc(chairs - 1, statistic))
