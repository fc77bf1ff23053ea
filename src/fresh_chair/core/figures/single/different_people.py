"""One task at two chairs by different people: rates, times, and times of which some were cut short."""

from collections.abc import Sequence
from dataclasses import replace
from math import exp, log, sqrt

from fresh_chair.core.figures.completion import wilson
from fresh_chair.core.figures.estimate import LEVEL, Estimate
from fresh_chair.core.figures.times import grain_of


def independent_difference(x1: int, n1: int, x2: int, n2: int, *, level: float = LEVEL) -> Estimate:
    """By how much do the completion rates of different people at two chairs differ?

    Args:
        x1, n1: Completed, of all that count, at the first chair.
        x2, n2: Likewise at the second.
        level: Confidence level, between 0 and 1.

    Returns:
        First rate less second, -1 to 1; its n is both together; undefined where nobody sat at one of them.

    Source: Newcombe, R. G. (1998). Interval estimation for the difference between independent proportions. Statistics
        in Medicine 17, 873-890, method 10 (hybrid score).
    """
    method = "difference of two rates of different people, Newcombe's hybrid score"
    if not n1 or not n2:
        return Estimate(None, None, None, n1 + n2, method, level, "nobody sat at one of them")
    p1, p2 = x1 / n1, x2 / n2
    (low1, high1), (low2, high2) = wilson(x1, n1, level=level), wilson(x2, n2, level=level)
    down, up = sqrt((p1 - low1) ** 2 + (high2 - p2) ** 2), sqrt((high1 - p1) ** 2 + (p2 - low2) ** 2)
    value = p1 - p2
    return Estimate(value, max(value - down, -1.0), min(value + up, 1.0), n1 + n2, method, level)


def fisher_p(x1: int, n1: int, x2: int, n2: int) -> float:
    """Two-sided p of Fisher's exact test of two rates. Source: Fisher (1935), Journal of the RSS 98, 39-82."""
    from scipy.stats import fisher_exact

    return float(fisher_exact([[x1, n1 - x1], [x2, n2 - x2]]).pvalue)


def independent_ratio(
    first: Sequence[float], second: Sequence[float], *, level: float = LEVEL
) -> tuple[Estimate, float | None]:
    """How many times as long did people take at the first chair as other people at the second?

    Args:
        first, second: Seconds of completed attempts, each above 0.
        level: Confidence level, between 0 and 1.

    Returns:
        The ratio of geometric means with Welch's t interval on log time, and its two-sided p; None where there are
        fewer than two at a chair, or none of them varies.

    Source: Welch, B. L. (1947). The generalization of Student's problem when several different population variances
        are involved. Biometrika 34, 28-35.
    """
    method = "ratio of geometric means of different people, Welch on log time"
    a, b = [log(each) for each in first], [log(each) for each in second]
    n = len(a) + len(b)
    if not a or not b:
        return Estimate(None, None, None, n, method, level, "nobody completed it at one of them"), None
    difference = _mean(a) - _mean(b)
    bare = Estimate(exp(difference), None, None, n, method, level, "too few for an interval")
    if len(a) < 2 or len(b) < 2:
        return bare, None
    if max(_variance(a), _variance(b)) <= grain_of(*first, *second) ** 2:
        return replace(bare, note="no time varies"), None
    va, vb = _variance(a) / len(a), _variance(b) / len(b)
    from scipy.special import stdtr, stdtrit

    degrees = (va + vb) ** 2 / (va**2 / (len(a) - 1) + vb**2 / (len(b) - 1))
    error = sqrt(va + vb)
    reach = float(stdtrit(degrees, 0.5 + level / 2)) * error
    p = 2 * float(stdtr(degrees, -abs(difference) / error))
    return Estimate(exp(difference), exp(difference - reach), exp(difference + reach), n, method, level), p


def mann_whitney_p(first: Sequence[float], second: Sequence[float]) -> float | None:
    """Two-sided p that one chair's times tend to be longer; None where one has none.

    Source: Mann & Whitney (1947), Annals of Mathematical Statistics 18, 50-60.
    """
    if not first or not second:
        return None
    from scipy.stats import mannwhitneyu

    return float(mannwhitneyu(first, second, alternative="two-sided").pvalue)


def log_rank_p(first: Sequence[tuple[float, bool]], second: Sequence[tuple[float, bool]]) -> float | None:
    """Two-sided p that two chairs' times differ, those cut short taken for longer than that.

    Args:
        first, second: Seconds, and whether the attempt was completed then.

    Returns:
        None where nothing was completed, or only one chair has anybody.

    Source: Mantel, N. (1966). Evaluation of survival data and two new rank order statistics. Cancer Chemotherapy
        Reports 50, 163-170; one degree of freedom.
    """
    times = sorted({time for time, done in (*first, *second) if done})
    if not times or not first or not second:
        return None
    observed = expected = variance = 0.0
    for time in times:
        at_risk = [sum(t >= time for t, _ in group) for group in (first, second)]
        ended = [sum(t == time and done for t, done in group) for group in (first, second)]
        n, d = sum(at_risk), sum(ended)
        observed += ended[0]
        expected += d * at_risk[0] / n
        if n > 1:
            variance += d * (at_risk[0] / n) * (at_risk[1] / n) * (n - d) / (n - 1)
    if variance <= 0:
        return None
    from scipy.special import chdtrc

    return float(chdtrc(1, (observed - expected) ** 2 / variance))


def _mean(values: Sequence[float]) -> float:
    return sum(values) / len(values)


def _variance(values: Sequence[float]) -> float:
    mean = _mean(values)
    return sum((value - mean) ** 2 for value in values) / (len(values) - 1)
