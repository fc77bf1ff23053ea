"""Completion rates, and the difference between two of them."""

from collections.abc import Sequence
from math import comb, sqrt

from fresh_chair.core.figures.estimate import LEVEL, Estimate, Proportion, normal_quantile
from fresh_chair.core.plan.sheet import RateInterval


def adjusted_wald(x: int, n: int, *, level: float = LEVEL) -> Proportion:
    """Which share of newcomers would complete this?

    Assumes independent attempts with the same chance. Cover stays near its level down to very small n.

    Args:
        x: Completed attempts, 0 to n.
        n: All attempts that count.
        level: Confidence level, between 0 and 1.

    Returns:
        x/n with the interval cut to 0..1; with n = 0 no value and no interval.

    Raises:
        ValueError: Where x is not between 0 and n.

    Source: Agresti, A. & Coull, B. A. (1998). Approximate is better than "exact" for interval estimation of
        binomial proportions. The American Statistician 52, 119-126: add z²/2 successes and z²/2 failures.

    >>> adjusted_wald(5, 5).value
    1.0
    """
    method = "x of n, adjusted Wald interval"
    _check(x, n)
    if n == 0:
        return Proportion(None, None, None, 0, method, level, "no attempts", x=0)
    z = normal_quantile(level)
    wider = n + z * z
    centre = (x + z * z / 2) / wider
    half = z * sqrt(centre * (1 - centre) / wider)
    return Proportion(x / n, max(centre - half, 0.0), min(centre + half, 1.0), n, method, level, x=x)


def clopper_pearson(x: int, n: int, *, level: float = LEVEL) -> Proportion:
    """As `adjusted_wald`, with an interval that never covers less than its level, and usually more.

    Source: Clopper, C. & Pearson, E. S. (1934). The use of confidence or fiducial limits illustrated in the case
        of the binomial. Biometrika 26, 404-413; ends as beta quantiles.
    """
    method = "x of n, Clopper-Pearson interval"
    _check(x, n)
    if n == 0:
        return Proportion(None, None, None, 0, method, level, "no attempts", x=0)
    from scipy.special import betaincinv

    tail = (1 - level) / 2
    low = 0.0 if x == 0 else float(betaincinv(x, n - x + 1, tail))
    high = 1.0 if x == n else float(betaincinv(x + 1, n - x, 1 - tail))
    return Proportion(x / n, low, high, n, method, level, x=x)


def rate(x: int, n: int, interval: RateInterval, *, level: float = LEVEL) -> Proportion:
    """A completion rate with the chosen interval."""
    return (adjusted_wald if interval == "adjusted Wald" else clopper_pearson)(x, n, level=level)


def wilson(x: int, n: int, *, level: float = LEVEL) -> tuple[float, float]:
    """The score interval of a proportion, n at least 1; a part of `paired_difference`.

    Source: Wilson, E. B. (1927). Probable inference, the law of succession, and statistical
        inference. JASA 22, 209-212.
    """
    z = normal_quantile(level)
    p = x / n
    spread = z * sqrt(p * (1 - p) / n + z * z / (4 * n * n))
    middle = p + z * z / (2 * n)
    scale = 1 + z * z / n
    return max((middle - spread) / scale, 0.0), min((middle + spread) / scale, 1.0)


def paired_difference(pairs: Sequence[tuple[bool, bool]], *, level: float = LEVEL) -> Estimate:
    """By how much does the completion rate differ between two chairs that the same people sat at?

    Assumes independent people. The interval respects that each person's two results hang together.

    Args:
        pairs: For each person, whether they completed at the first and at the second chair.
        level: Confidence level, between 0 and 1.

    Returns:
        First rate minus second rate, -1 to 1; undefined without pairs.

    Source: Newcombe, R. G. (1998). Improved confidence intervals for the difference between binomial proportions
        based on paired data. Statistics in Medicine 17, 2635-2650, method 10.
    """
    method = "difference of two paired rates, Newcombe's method 10"
    n = len(pairs)
    if n == 0:
        return Estimate(None, None, None, 0, method, level, "nobody was at both")
    both = sum(a and b for a, b in pairs)
    first = sum(a and not b for a, b in pairs)
    second = sum(b and not a for a, b in pairs)
    neither = n - both - first - second
    p1, p2 = (both + first) / n, (both + second) / n
    low1, high1 = wilson(both + first, n, level=level)
    low2, high2 = wilson(both + second, n, level=level)
    product = (both + first) * (second + neither) * (both + second) * (first + neither)
    cross = both * neither - first * second
    if product == 0:
        phi = 0.0
    else:
        corrected = max(cross - n / 2, 0.0) if cross > 0 else float(cross)
        phi = corrected / sqrt(product)
    delta = p1 - p2
    a, b = p1 - low1, high2 - p2
    c, d = high1 - p1, p2 - low2
    down = sqrt(max(a * a - 2 * phi * a * b + b * b, 0.0))
    up = sqrt(max(c * c - 2 * phi * c * d + d * d, 0.0))
    return Estimate(delta, max(delta - down, -1.0), min(delta + up, 1.0), n, method, level)


def mcnemar_exact(first_only: int, second_only: int) -> float:
    """The chance of a split at least this uneven among the people whose two results differ, were both chairs alike.

    Args:
        first_only: People who completed at the first chair alone.
        second_only: People who completed at the second chair alone.

    Returns:
        Two-sided p; 1 where nobody's results differ.

    Source: McNemar, Q. (1947). Note on the sampling error of the difference between correlated proportions or
        percentages. Psychometrika 12, 153-157, with exact binomial tails.

    >>> mcnemar_exact(6, 0)
    0.03125
    """
    n = first_only + second_only
    tail = sum(comb(n, k) for k in range(min(first_only, second_only) + 1)) / float(2**n)
    return min(2 * tail, 1.0)


def _check(x: int, n: int) -> None:
    if not 0 <= x <= n:
        raise ValueError(f"{x} of {n} is no proportion")
