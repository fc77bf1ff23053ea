"""Chairs compared over all tasks, measure by measure, with the gate on a winner in time."""

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import replace
from functools import lru_cache
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from fresh_chair.core.figures.overall.estimates import (
    MARGINS,
    MEASURES,
    NOTHING,
    MeasureOverall,
    OverallMeasure,
    OverallVerdict,
    PairEstimate,
    PositionShift,
    SignFlip,
    VerdictKind,
)
from fresh_chair.core.figures.overall.fared import fared_scores, fared_shares
from fresh_chair.core.figures.overall.first_stage import SittingEffects, limit_effects, sitting_effects, time_effects
from fresh_chair.core.figures.overall.rows import Compared, ComparedRow, Seated
from fresh_chair.core.figures.overall.second_stage import paired_difference_by_order, stage_two
from fresh_chair.core.figures.overall.verdicts import verdicts
from fresh_chair.core.sitting.state.outcome import Outcome

# From so many people on a sign flip is drawn from the seed instead of gone through.
_EXACT = 12
_DRAWS = 10_000


def overall(
    compared: Compared,
    scores: Mapping[Seated, float],
    *,
    pairs: Sequence[tuple[str, str]] = (),
    margins: Mapping[OverallMeasure, float] = MARGINS,
    measures: Collection[OverallMeasure] = MEASURES,
    people: bool = True,
) -> dict[OverallMeasure, MeasureOverall]:
    """May a chair be called better than another, over all tasks, on each measure?

    Args:
        compared: The rows of the study.
        scores: The System Usability Scale's score of each sitting.
        pairs: The declared pairs; all of them where none is named. Each measure is a family of its own.
        margins: The smallest difference that matters, by measure.
        measures: Which of them; all where it is not said.
        people: Whether how the people themselves differ is described, too.
    """
    chosen = list(pairs) or list(combinations(compared.chairs, 2))
    needed = {*measures, "completed unaided"} if "time" in measures else set(measures)
    found: dict[OverallMeasure, MeasureOverall] = {}
    for measure in needed & _SOURCES.keys():
        source = _SOURCES[measure](compared, scores)
        estimates, shifts = stage_two(compared, source.effects, chosen)
        if source.why:
            estimates = [replace(each, value=None, error=None, why=source.why) for each in estimates]
        found[measure] = _told(measure, estimates, margins, source, tuple(shifts), people)
    for measure in needed & _COMPLETIONS.keys():
        source = sitting_effects(compared, _COMPLETIONS[measure])
        estimates = [paired_difference_by_order(compared, source.effects, pair) for pair in chosen]
        found[measure] = _told(measure, estimates, margins, source, (), people)
    if "time" in measures:
        found["time"] = _gated(compared, found["time"], found["completed unaided"], margins["completed unaided"])
    return {measure: found[measure] for measure in MEASURES if measure in measures}


def sitting_source(measure: OverallMeasure, compared: Compared, scores: Mapping[Seated, float]) -> SittingEffects:
    """An effect a sitting on any measure, as the second stage gets it."""
    if measure in _COMPLETIONS:
        return sitting_effects(compared, _COMPLETIONS[measure])
    return _SOURCES[measure](compared, scores)


def _told(
    measure: OverallMeasure,
    estimates: Sequence[PairEstimate],
    margins: Mapping[OverallMeasure, float],
    source: SittingEffects,
    shifts: tuple[PositionShift, ...],
    people: bool,
) -> MeasureOverall:
    lower = measure == "time"
    told = tuple(verdicts(estimates, margin=margins[measure], lower_wins=lower))
    flips = tuple(sign_flip(each.differences, lower_wins=lower) for each in estimates) if people else ()
    return MeasureOverall(measure, told, shifts, source.rows, source.dropped, flips=flips)


def _fared(compared: Compared, _: Mapping[Seated, float]) -> SittingEffects:
    return SittingEffects(fared_scores(fared_shares(compared)), {}, len(compared.rows))


def _ease(compared: Compared, _: Mapping[Seated, float]) -> SittingEffects:
    return sitting_effects(compared, lambda row: None if row.ease is None else float(row.ease))


_SOURCES: Mapping[OverallMeasure, Callable[[Compared, Mapping[Seated, float]], SittingEffects]] = {
    "who fared better": _fared,
    "time": lambda compared, _: time_effects(compared),
    "ease": _ease,
    "satisfaction": lambda _, scores: SittingEffects(dict(scores), {}, len(scores)),
}
_COMPLETIONS: Mapping[OverallMeasure, Callable[[ComparedRow], float]] = {
    "completed unaided": lambda row: float(row.outcome is Outcome.UNAIDED),
    "completed": lambda row: float(row.outcome.completed),
}


def _gated(compared: Compared, time: MeasureOverall, strict: MeasureOverall, margin: float) -> MeasureOverall:
    """Winners in time only where those who did not complete do not turn it, and no fewer complete there.

    With all who did not complete counted as the limit the difference keeps its sign, and the winner's completion is
    less than the margin lower.
    """
    pairs = [(each.estimate.first, each.estimate.second) for each in time.verdicts]
    at_limit, _ = stage_two(compared, limit_effects(compared).effects, pairs)
    told: list[OverallVerdict] = []
    taken: list[tuple[tuple[str, str], str]] = []
    for verdict, limited, completed in zip(time.verdicts, at_limit, strict.verdicts, strict=True):
        why = _gate(compared, verdict, limited, completed.estimate, margin) if verdict.winner else ""
        if why:
            taken.append(((verdict.estimate.first, verdict.estimate.second), why))
            verdict = replace(verdict, said=VerdictKind.CANNOT_TELL, winner="", why=why)
        told.append(verdict)
    return replace(time, verdicts=tuple(told), gated=tuple(taken))


def _gate(
    compared: Compared, verdict: OverallVerdict, limited: PairEstimate, completed: PairEstimate, margin: float
) -> str:
    """Why a winner in time is none; empty where it is one."""
    value = verdict.estimate.value or 0.0
    if limited.value is None or (limited.value < 0) is not (value < 0) or abs(limited.value) < NOTHING:
        return "faster among those who finished, but not once those who did not are counted as the limit"
    lower = completed.value if completed.value is not None else _plain_difference(compared, completed)
    behind = -lower if verdict.winner == verdict.estimate.first else lower
    return "faster among those who finished, but fewer finished" if behind >= margin else ""


def _plain_difference(compared: Compared, pair: PairEstimate) -> float:
    """Strict completion at the first chair less that at the second, of the people who were at both."""
    both = set(compared.at_both(pair.first, pair.second))
    shares = []
    for chair in (pair.first, pair.second):
        done = [r.outcome is Outcome.UNAIDED for r in compared.rows if r.chair == chair and r.person in both]
        shares.append(sum(done) / len(done) if done else 0.0)
    return shares[0] - shares[1]


def sign_flip(differences: Sequence[float], *, lower_wins: bool = False, seed: int = 1) -> SignFlip:
    """How many people fared better at the first chair, and how odd that would be if signs were drawn?

    Args:
        differences: One a person, the first chair less the second; below 1e-9 they are even.
        lower_wins: True for times.
        seed: Of the draws beyond twelve people.

    >>> sign_flip([1.0, 1.0, 1 / 3, 1 / 3, 2 / 3]).p
    0.0625
    """
    told = [0.0 if abs(each) < NOTHING else each for each in differences]
    ahead = sum((each < 0) if lower_wins else (each > 0) for each in told)
    even = sum(each == 0 for each in told)
    counts = ahead, len(told) - ahead - even, even
    if not told:
        return SignFlip(*counts, None)
    values = np.array(told)
    observed = abs(float(values.sum()))
    signs = _signs(len(told), seed)
    sums = np.abs(signs @ values)
    return SignFlip(*counts, float((sums >= observed - NOTHING).mean()))


@lru_cache(maxsize=8)
def _signs(people: int, seed: int) -> NDArray[np.float64]:
    """All signs of so few, or as many draws of them as are drawn: a row each."""
    if people <= _EXACT:
        bits = (np.arange(2**people)[:, np.newaxis] >> np.arange(people)) & 1
    else:
        bits = np.random.default_rng(seed).integers(0, 2, (_DRAWS, people))
    return (2 * bits - 1).astype(np.float64)
