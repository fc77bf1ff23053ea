"""The common form of all figures: a value with its interval, its n and its method, or the reason there is none."""

from collections.abc import Sequence
from dataclasses import replace
from math import sqrt
from statistics import NormalDist

from fresh_chair.core.frozen import frozen

LEVEL = 0.95
# An interval of ratios or times that spans more than so many fold says nothing, and is no result.
MOST_FOLD = 100.0
TOO_WIDE = "the interval spans more than a hundredfold and says nothing"
# Values nearer to each other than this part of their mean are equal: the rest is rounding.
_EQUAL = 1e-12


@frozen
class Estimate:
    """One figure.

    Attributes:
        value: The point estimate, or None where it is undefined.
        low: Lower end of the interval, or None where there is none.
        high: Upper end of the interval, or None where it is open or there is none.
        n: How many attempts or people it rests on.
        method: How it was computed, as a report says it.
        level: Confidence level of the interval.
        note: Why a part is missing; empty otherwise.
    """

    value: float | None
    low: float | None
    high: float | None
    n: int
    method: str
    level: float = LEVEL
    note: str = ""


@frozen
class Proportion(Estimate):
    """A rate that never loses its count: x of n."""

    x: int = 0


def interval_words(
    low: float | None, high: float | None, shape: str = ".0f", *, of: float = 1.0, most: float = float("inf")
) -> str:
    """An interval as it is said everywhere.

    Args:
        low, high: Its ends; an upper end that is not there is open.
        shape: How a number is written.
        of: What both ends are multiplied by, such as 100 for a percentage.
        most: From here on the upper end is said to be hours.

    >>> interval_words(0.0945, 0.9055, of=100), interval_words(30.0, None)
    ('9 to 91', '30 to open')
    """
    upper = "open" if high is None else "hours" if high >= most else f"{of * high:{shape}}"
    return f"{of * (low or 0.0):{shape}} to {upper}"


def rate_words(rate: Proportion) -> str:
    """A rate as it is said everywhere: its count and its interval, never a bare percentage."""
    if rate.low is None or rate.high is None:
        return "none yet"
    return f"{rate.x} of {rate.n} ({interval_words(rate.low, rate.high, of=100)} %)"


def too_wide(low: float | None, high: float | None) -> bool:
    """Whether an interval of ratios, or of times, says nothing.

    >>> too_wide(0.5, 4.0), too_wide(0.001, 605_577.0)
    (False, True)
    """
    return low is not None and high is not None and (low <= 0 or high / low > MOST_FOLD)


def without_wide(estimate: Estimate) -> Estimate:
    """The estimate of a ratio or a time, without an interval that says nothing."""
    if not too_wide(estimate.low, estimate.high):
        return estimate
    return replace(estimate, low=None, high=None, note=TOO_WIDE)


def normal_quantile(level: float) -> float:
    """The two-sided standard normal quantile of a confidence level, 1.96 for 0.95."""
    return NormalDist().inv_cdf(0.5 + level / 2)


def t_quantile(level: float, degrees: int) -> float:
    """The two-sided Student t quantile of a confidence level."""
    from scipy.special import stdtrit

    return float(stdtrit(degrees, 0.5 + level / 2))


def mean_with_t(values: Sequence[float], *, level: float = LEVEL, method: str = "mean, t interval") -> Estimate:
    """Where does the mean of these values lie?

    Assumes independent values whose mean is roughly normal; with few values the interval is wide and says so.

    Args:
        values: One value a person.
        level: Confidence level, between 0 and 1.
        method: What to call it.

    Returns:
        The mean with its t interval; no interval below two values or where all are equal, no value without
        any.

    Source: Student (1908). The probable error of a mean. Biometrika 6, 1-25.

    >>> mean_with_t([5.0]).note
    'one value: no interval'
    """
    count = len(values)
    if count == 0:
        return Estimate(None, None, None, 0, method, level, "no values")
    mean = sum(values) / count
    if count == 1:
        return Estimate(mean, None, None, 1, method, level, "one value: no interval")
    deviation = sqrt(sum((value - mean) ** 2 for value in values) / (count - 1))
    if deviation < _EQUAL * max(abs(mean), 1.0):
        return Estimate(mean, None, None, count, method, level, "all values equal: no interval")
    half = t_quantile(level, count - 1) * deviation / sqrt(count)
    return Estimate(mean, mean - half, mean + half, count, method, level)
