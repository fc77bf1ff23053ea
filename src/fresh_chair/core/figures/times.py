"""Time on task: of those who completed, and of everybody."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import groupby
from math import exp, isfinite, log, sqrt

from fresh_chair.core.figures.estimate import LEVEL, Estimate, mean_with_t, normal_quantile

# A time is known to about a tenth of a second; a scatter below that is none.
_GRAIN_SECONDS = 0.1
BELOW_GRAIN = "the times differ alike, to the grain of the clock: no interval"


def geometric_mean(seconds: Sequence[float], *, level: float = LEVEL) -> Estimate:
    """How long does a typical completed attempt take?

    Assumes independent times whose logarithms are roughly normal. Says nothing about those who did not complete:
    beside a chair that people gave up on, use `censored_median`.

    Args:
        seconds: Hands times of completed attempts, each above 0.
        level: Confidence level, between 0 and 1.

    Returns:
        Seconds, with a t interval taken on log time.

    Raises:
        ValueError: Where a time is not above 0.

    Source: Sauro, J. & Lewis, J. R. (2010). Average task times in usability tests: what to report? CHI 2010, 2347-2350.

    >>> round(geometric_mean([10.0, 1000.0]).value, 6)
    100.0
    """
    if any(not (isfinite(value) and value > 0) for value in seconds):
        raise ValueError("a time on task must be above 0")
    logs = mean_with_t([log(value) for value in seconds], level=level, method="geometric mean, t interval on log time")
    return replace(
        logs, value=_exp(logs.value), low=_exp(logs.low), high=_exp(logs.high), note=logs.note.replace("value", "time")
    )


def survival_steps(seconds: Sequence[float], completed: Sequence[bool]) -> list[tuple[float, float, float]]:
    """The share not yet done after each completion time, with Greenwood's sum.

    Args:
        seconds: Hands times, completed or not.
        completed: Whether each was completed; the others only say "longer than this".

    Returns:
        (seconds, share not yet done, Greenwood's sum) for each distinct completed time, ascending.

    Source: Kaplan, E. L. & Meier, P. (1958). Nonparametric estimation from incomplete observations. JASA 53, 457-481;
        Greenwood, M. (1926). The natural duration of cancer. HMSO.
    """
    at_risk, share, greenwood = len(seconds), 1.0, 0.0
    steps: list[tuple[float, float, float]] = []
    for time, same in groupby(sorted(zip(seconds, completed, strict=True)), key=lambda pair: pair[0]):
        endings = [done for _, done in same]
        events = sum(endings)
        if events:
            share *= 1 - events / at_risk
            greenwood += events / (at_risk * (at_risk - events)) if events < at_risk else float("inf")
            steps.append((time, share, greenwood))
        at_risk -= len(endings)
    return steps


def censored_median(seconds: Sequence[float], completed: Sequence[bool], *, level: float = LEVEL) -> Estimate:
    """After how long is half of all newcomers done, those who never got there counted as "longer than this"?

    Assumes that an attempt which ended early says nothing but "not done by then". Someone who gave up may never
    have got there at all; the median is then, if anything, too small.

    Args:
        seconds: Hands times of all attempts that count.
        completed: Whether each was completed; gave up, out of time and partly are not.
        level: Confidence level, between 0 and 1.

    Returns:
        Seconds. No interval below two completed attempts; no value where fewer than half got done; an upper end of
        None is open ("at least this long"). Where the curve runs along one half exactly, the middle of that stretch,
        as for an ordinary median.

    Source: Kaplan & Meier (1958) as in `survival_steps`; interval by inverting the log-log Greenwood band: Brookmeyer,
        R. & Crowley, J. (1982). A confidence interval for the median survival time. Biometrics 38, 29-41.
    """
    method = "Kaplan-Meier median of all attempts, log-log interval"
    n = len(seconds)
    if n == 0:
        return Estimate(None, None, None, 0, method, level, "no attempts")
    steps = survival_steps(seconds, completed)
    value = _crossing([(time, share) for time, share, _ in steps])
    z = normal_quantile(level)
    # Where everyone is done the band is undefined; one completed attempt makes no band at all.
    known = steps if sum(completed) > 1 else []
    bands = [(time, *_log_log(share, greenwood, z)) for time, share, greenwood in known if share > 0]
    low = next((time for time, lower, _ in bands if lower <= 0.5), None)
    high = next((time for time, _, upper in bands if upper <= 0.5), None)
    note = ""
    if value is None:
        note = "fewer than half were done: no median"
    elif sum(completed) < 2:
        note = "one completed: no interval"
    elif high is None:
        note = "upper end open"
    return Estimate(value, low, high, n, method, level, note)


def paired_ratio(pairs: Sequence[tuple[float, float]], *, level: float = LEVEL) -> tuple[Estimate, float | None]:
    """How many times as long did the same people take at the first chair as at the second?

    Assumes log differences that are roughly normal, over people who completed at both.

    Args:
        pairs: For each person, seconds at the first and at the second chair, each above 0.
        level: Confidence level, between 0 and 1.

    Returns:
        The ratio of geometric means with its interval, and the two-sided p of a paired t test on log time (None below
        two pairs).

    Source: paired t on log time, as Sauro & Lewis (2010) for a single mean.
    """
    differences = [log(first) - log(second) for first, second in pairs]
    logs = mean_with_t(differences, level=level, method="ratio of geometric means, paired t on log time")
    ratio = replace(logs, value=_exp(logs.value), low=_exp(logs.low), high=_exp(logs.high))
    n = len(differences)
    if n < 2 or logs.value is None:
        return ratio, None
    spread = _deviation(differences)
    if spread <= grain_of(*(second for pair in pairs for second in pair)):
        return replace(ratio, low=None, high=None, note=BELOW_GRAIN), None
    from scipy.special import stdtr

    return ratio, float(2 * stdtr(n - 1, -abs(logs.value) / (spread / sqrt(n))))


def grain_of(*seconds: float) -> float:
    """The scatter of log times that the grain of the measurement alone would give.

    A key is pressed to about a tenth of a second; what is rounded so evenly has a standard deviation of its twelfth's
    root.

    Args:
        seconds: The times, each above 0.

    Returns:
        A standard deviation on log time, at the middle of the times.
    """
    middle = sorted(seconds)[len(seconds) // 2]
    return _GRAIN_SECONDS / sqrt(12) / middle


def _deviation(values: Sequence[float]) -> float:
    mean = sum(values) / len(values)
    return sqrt(sum((value - mean) ** 2 for value in values) / (len(values) - 1))


def _exp(value: float | None) -> float | None:
    return None if value is None else exp(value)


def _crossing(curve: Sequence[tuple[float, float]]) -> float | None:
    for index, (time, share) in enumerate(curve):
        if abs(share - 0.5) < 1e-12 and index + 1 < len(curve):
            return (time + curve[index + 1][0]) / 2
        if share <= 0.5 + 1e-12:
            return time
    return None


def _log_log(share: float, greenwood: float, z: float) -> tuple[float, float]:
    if share == 1.0:
        return share, share
    width = z * sqrt(greenwood) / abs(log(share))
    return share ** exp(width), share ** exp(-width)
