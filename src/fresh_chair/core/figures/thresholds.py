"""Levels that were decided beforehand to be good enough, held against each chair over all its tasks."""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from math import exp, log, sqrt
from typing import Literal

from fresh_chair.core.figures.estimate import LEVEL, Estimate, mean_with_t, t_quantile
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.sheet import Threshold
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.outcome import Outcome

Held = Literal["met", "not met", "open"]


@frozen
class HeldThreshold:
    """One threshold at one chair.

    Attributes:
        held: Met or not met where the whole interval lies on one side of the level, otherwise open.
        estimate: On the threshold's own scale, over people; the worst severity for a threshold of severity.
    """

    threshold: Threshold
    chair: str
    held: Held
    estimate: Estimate


def completion_over_tasks(facts: Iterable[AttemptFact], *, unaided: bool = False, level: float = LEVEL) -> Estimate:
    """Which share of the tasks do people complete at a chair, unaided or with help?

    The mean of the people's own shares, with a t interval that is never narrower than as many independent attempts
    would make it.

    Args:
        facts: Counted first tries at one chair.
        unaided: Count only those completed without help.
        level: Confidence level, between 0 and 1.

    Source: t over people; its least width by the adjusted proportion of Agresti & Coull (1998), The American
        Statistician 52, 119-126.
    """
    method = "mean of people's shares, t interval"
    by_person: dict[str, list[bool]] = defaultdict(list)
    for fact in facts:
        by_person[fact.participant].append(fact.outcome is Outcome.UNAIDED if unaided else fact.outcome.completed)
    shares = [sum(done) / len(done) for done in by_person.values()]
    n, attempts = len(shares), sum(map(len, by_person.values()))
    if n < 2:
        return mean_with_t(shares, level=level, method=method)
    mean = sum(shares) / n
    deviation = sqrt(sum((share - mean) ** 2 for share in shares) / (n - 1))
    adjusted = (sum(map(sum, by_person.values())) + 2) / (attempts + 4)
    error = max(deviation / sqrt(n), sqrt(adjusted * (1 - adjusted) / attempts))
    half = t_quantile(level, n - 1) * error
    return Estimate(mean, max(mean - half, 0.0), min(mean + half, 1.0), n, method, level)


def time_over_tasks(facts: Iterable[AttemptFact], benchmarks: Mapping[str, float], *, level: float = LEVEL) -> Estimate:
    """How many times the expert's time do completed tasks take at a chair?

    The geometric mean of the people's own geometric means; attempts that were not completed are in none, and
    completion says how many they are.

    Args:
        facts: Counted first tries at one chair.
        benchmarks: The expert's seconds there, by card; cards without one are left out.
        level: Confidence level, between 0 and 1.
    """
    by_person: dict[str, list[float]] = defaultdict(list)
    for fact in facts:
        expert = benchmarks.get(fact.card)
        if fact.outcome.completed and expert and fact.hands_seconds > 0:
            by_person[fact.participant].append(log(fact.hands_seconds / expert))
    logs = mean_with_t(_means(by_person), level=level, method="geometric mean over people of completed, t on log time")
    ends = [None if end is None else exp(end) for end in (logs.value, logs.low, logs.high)]
    return replace(logs, value=ends[0], low=ends[1], high=ends[2])


def ease_over_tasks(facts: Iterable[AttemptFact], *, level: float = LEVEL) -> Estimate:
    """How easy do people find the tasks of a chair, from 1 to 7? The mean of their own means, a t interval."""
    by_person: dict[str, list[float]] = defaultdict(list)
    for fact in facts:
        if fact.ease is not None:
            by_person[fact.participant].append(float(fact.ease))
    found = mean_with_t(_means(by_person), level=level, method="mean of people's means, t interval")
    if found.low is None or found.high is None:
        return found
    return replace(found, low=max(found.low, 1.0), high=min(found.high, 7.0))


def held_thresholds(
    study: Study, facts: Sequence[AttemptFact], satisfaction: Mapping[str, Estimate]
) -> tuple[HeldThreshold, ...]:
    """Each threshold at each chair, in the order of the study sheet; those of severity are judged by findings.

    Args:
        study: The plan.
        facts: Its attempts; those that do not count, and later tries, are passed over.
        satisfaction: The mean of the System Usability Scale, by chair.
    """
    counted = [fact for fact in facts if fact.outcome.counts and fact.first_try]
    found = []
    for threshold in study.sheet.thresholds:
        for chair in study.chairs:
            here = [fact for fact in counted if fact.chair == chair.letter]
            if threshold.measure == "completion":
                estimate = completion_over_tasks(here)
            elif threshold.measure == "time":
                benchmarks = {card.id: card.benchmark_seconds.get(chair.letter, 0.0) for card in study.cards}
                estimate = time_over_tasks(here, benchmarks)
            elif threshold.measure == "ease":
                estimate = ease_over_tasks(here)
            elif threshold.measure == "satisfaction":
                estimate = satisfaction.get(chair.letter) or mean_with_t([])
            else:
                continue
            found.append(HeldThreshold(threshold, chair.letter, held(threshold, estimate), estimate))
    return tuple(found)


def held(threshold: Threshold, estimate: Estimate) -> Held:
    """Does the whole interval lie on one side of the level?"""
    if estimate.low is None or estimate.high is None:
        return "open"
    if threshold.measure == "time":
        return "met" if estimate.high <= threshold.value else "not met" if estimate.low > threshold.value else "open"
    return "met" if estimate.low >= threshold.value else "not met" if estimate.high < threshold.value else "open"


def _means(by_person: Mapping[str, Sequence[float]]) -> list[float]:
    return [sum(listed) / len(listed) for listed in by_person.values()]
