"""Chairs compared over all tasks, measure by measure, each pair over the tasks it has in common."""

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import replace
from itertools import combinations
from math import exp
from typing import Literal

from fresh_chair.core.figures.overall.completion_gates import (
    FEWER_FINISHED,
    completions_beside,
    fared_beside_completion,
    time_alike_beside_completion,
)
from fresh_chair.core.figures.overall.estimates import (
    EVEN_BY_OPPOSITES,
    MARGINS,
    MEASURES,
    NOBODY_DIFFERS,
    NOTHING,
    CompletionBeside,
    MeasureOverall,
    OverallMeasure,
    OverallVerdict,
    PairEstimate,
    PositionShift,
    SharePart,
    SignFlip,
    VerdictKind,
)
from fresh_chair.core.figures.overall.fared import fared_scores, fared_shares
from fresh_chair.core.figures.overall.first_stage import SittingEffects, limit_effects, sitting_effects, time_effects
from fresh_chair.core.figures.overall.links import TaskLink, in_common, over_tasks, tasks_of, too_few_in_common
from fresh_chair.core.figures.overall.people_counts import own_differences, sign_flip
from fresh_chair.core.figures.overall.rows import Compared, ComparedRow, Seated
from fresh_chair.core.figures.overall.second_stage import paired_difference_by_order, stage_two, why_not
from fresh_chair.core.figures.overall.verdicts import ALPHA, interval_of, verdicts
from fresh_chair.core.sitting.state.outcome import Outcome

Pairs = Sequence[tuple[str, str]]
_PARTS: tuple[Literal["outcome", "time"], ...] = ("outcome", "time")
_STRICT: OverallMeasure = "completed unaided"
_LENIENT: OverallMeasure = "completed"
COMPLETIONS: Mapping[OverallMeasure, Callable[[ComparedRow], float]] = {
    _STRICT: lambda row: float(row.outcome is Outcome.UNAIDED),
    _LENIENT: lambda row: float(row.outcome.completed),
}


def overall(
    compared: Compared,
    scores: Mapping[Seated, float],
    *,
    pairs: Pairs = (),
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
        people: Whether what decides nothing is told, too: the people's own differences, the parts of a share.
    """
    chosen = list(pairs) or list(combinations(compared.chairs, 2))
    needed = {*measures, _STRICT, _LENIENT}
    if people and "who fared better" in measures:
        needed.add("time")
    found = {measure: _told(measure, compared, scores, chosen, margins, people) for measure in needed}
    beside = completions_beside(compared, found[_STRICT], found[_LENIENT])
    for measure in needed - COMPLETIONS.keys():
        found[measure] = _with_completions(found[measure], beside)
    slower = found["time"] if "time" in needed else None
    margin = margins[_STRICT]
    if "who fared better" in needed:
        fared = found["who fared better"]
        told = [fared_beside_completion(each, margin) for each in fared.verdicts]
        if people and slower is not None:
            told = _described(compared, told, slower.verdicts, margins["time"])
        found["who fared better"] = replace(fared, verdicts=tuple(told))
    if slower is not None:
        found["time"] = _gated(compared, slower, margin)
    return {measure: found[measure] for measure in MEASURES if measure in measures}


def pair_estimates(
    measure: OverallMeasure, compared: Compared, scores: Mapping[Seated, float], pairs: Pairs
) -> list[PairEstimate]:
    """Each pair on one measure, over the tasks that it has in common; verdicts are another matter.

    Args:
        measure: Which of them.
        compared: The rows of the study.
        scores: The System Usability Scale's score of each sitting.
        pairs: The pairs of chairs that are asked for.
    """
    return _estimates(measure, compared, scores, pairs, sitting_source(measure, compared, scores))[0]


def sitting_source(measure: OverallMeasure, compared: Compared, scores: Mapping[Seated, float]) -> SittingEffects:
    """An effect a sitting on any measure, as the second stage gets it."""
    if measure in COMPLETIONS:
        return sitting_effects(compared, COMPLETIONS[measure])
    return _SOURCES[measure](compared, scores)


def link_of(source: SittingEffects) -> TaskLink | None:
    """How the sittings of a first stage hang together by their tasks; None for a measure without tasks."""
    if source.crossed is None or not source.effects:
        return None
    return TaskLink(tuple(source.effects), source.crossed, (source.scatter or 0.0) ** 2, source.degrees)


def _told(
    measure: OverallMeasure,
    compared: Compared,
    scores: Mapping[Seated, float],
    pairs: Pairs,
    margins: Mapping[OverallMeasure, float],
    people: bool,
) -> MeasureOverall:
    """A measure's verdicts by its own figures alone, before completion is held against them."""
    source = sitting_source(measure, compared, scores)
    estimates, shifts = _estimates(measure, compared, scores, pairs, source)
    lower = measure == "time"
    told = tuple(verdicts(estimates, margin=margins[measure], lower_wins=lower))
    flips: tuple[SignFlip, ...] = ()
    if people:
        shares = fared_shares(compared) if measure == "who fared better" else {}
        own = [own_differences(measure, compared, pair, scores=scores, shares=shares) for pair in pairs]
        flips = tuple(
            sign_flip(estimate.differences, own=each, lower_wins=lower)
            for estimate, each in zip(estimates, own, strict=True)
        )
    return MeasureOverall(measure, told, shifts, source.rows, source.dropped, flips=flips)


def _estimates(
    measure: OverallMeasure,
    compared: Compared,
    scores: Mapping[Seated, float],
    pairs: Pairs,
    whole: SittingEffects,
) -> tuple[list[PairEstimate], tuple[PositionShift, ...]]:
    """Each pair over its own tasks, where pairs with the same ones share a fit; and the positions' effects over all."""
    if whole.why:
        return [_without(compared, pair, whole.why) for pair in pairs], ()
    if measure == "satisfaction":
        found, shifts = stage_two(compared, whole.effects, pairs)
        return found, tuple(shifts)
    tasks = tasks_of(compared)
    common = {pair: in_common(measure, compared, pair) for pair in pairs}
    by_tasks: dict[tuple[str, ...], list[tuple[str, str]]] = {}
    for pair in pairs:
        by_tasks.setdefault(common[pair], []).append(pair)
    told: dict[tuple[str, str], PairEstimate] = {}
    for cards, sharing in by_tasks.items():
        few = too_few_in_common(cards, tasks)
        here = over_tasks(compared, cards)
        source = whole if few or here is compared else sitting_source(measure, here, scores)
        for estimate in _second_stage(measure, here, source, sharing):
            pair = estimate.first, estimate.second
            if few:
                estimate = _without(compared, pair, _too_few(measure, len(cards), len(tasks)))
            left_out = tuple(card for card in tasks if card not in cards)
            told[pair] = replace(estimate, common=cards, left_out=left_out)
    _, shifts = stage_two(compared, whole.effects, (), link=link_of(whole))
    return [told[pair] for pair in pairs], tuple(shifts) if measure not in COMPLETIONS else ()


def _second_stage(
    measure: OverallMeasure, compared: Compared, source: SittingEffects, pairs: Pairs
) -> list[PairEstimate]:
    if source.why:
        return [_without(compared, pair, source.why) for pair in pairs]
    link = link_of(source)
    if measure in COMPLETIONS:
        return [paired_difference_by_order(compared, source.effects, pair, link=link) for pair in pairs]
    return stage_two(compared, source.effects, pairs, link=link)[0]


def _without(compared: Compared, pair: tuple[str, str], why: str) -> PairEstimate:
    """A pair that cannot be told, for too few people where it is that, else for another reason."""
    both = compared.at_both(*pair)
    return PairEstimate(*pair, len(both), why=(why_not(compared, both, pair) if both else "") or why)


def _too_few(measure: OverallMeasure, common: int, tasks: int) -> str:
    done = {"time": "completed", "ease": "rated"}.get(measure, "done")
    return f"only {common} of {tasks} tasks were {done} at both by two people or more"


def _fared(compared: Compared, _: Mapping[Seated, float]) -> SittingEffects:
    return SittingEffects(fared_scores(fared_shares(compared)), {}, len(compared.rows))


def _ease(compared: Compared, _: Mapping[Seated, float]) -> SittingEffects:
    found = sitting_effects(compared, lambda row: None if row.ease is None else float(row.ease))
    return replace(found, why="nobody was asked for a rating") if found.why else found


def _satisfaction(_: Compared, scores: Mapping[Seated, float]) -> SittingEffects:
    return SittingEffects(dict(scores), {}, len(scores), why="" if scores else "nobody was asked for it")


_SOURCES: Mapping[OverallMeasure, Callable[[Compared, Mapping[Seated, float]], SittingEffects]] = {
    "who fared better": _fared,
    "time": lambda compared, _: time_effects(compared),
    "ease": _ease,
    "satisfaction": _satisfaction,
}


def _with_completions(
    found: MeasureOverall, beside: Sequence[tuple[CompletionBeside, CompletionBeside]]
) -> MeasureOverall:
    told = [replace(each, completions=both) for each, both in zip(found.verdicts, beside, strict=True)]
    return replace(found, verdicts=tuple(told))


def _described(
    compared: Compared, fared: Sequence[OverallVerdict], time: Sequence[OverallVerdict], margin: float
) -> list[OverallVerdict]:
    """Who fared better with the parts of its share, and how long those took who completed at the winner."""
    told = []
    for verdict, times in zip(fared, time, strict=True):
        parts = _parts(compared, verdict.estimate)
        why = EVEN_BY_OPPOSITES if parts and verdict.why == NOBODY_DIFFERS else verdict.why
        longer = _took_longer(verdict, times, margin) if verdict.winner else None
        told.append(replace(verdict, parts=parts, why=why, took_longer=longer))
    return told


def _parts(compared: Compared, pair: PairEstimate) -> tuple[SharePart, ...]:
    """The share by outcome and by time, each estimated like the whole; none where there is no share."""
    if pair.why == NOBODY_DIFFERS:
        return _opposite_parts(compared, pair)
    if pair.value is None:
        return ()
    here = over_tasks(compared, pair.common)
    parts = []
    for name in _PARTS:
        effects = fared_scores(fared_shares(here, name))
        ((part,), _) = stage_two(here, effects, [(pair.first, pair.second)])
        if part.value is not None:
            low, high = interval_of(part, 0.95)
            parts.append(SharePart(name, part.value, low, high))
    if len(parts) == 1:
        # A part without scatter is all the same for everybody: what is left of the whole.
        rest: float = pair.value - parts[0].value
        parts.append(SharePart("time" if parts[0].part == "outcome" else "outcome", rest, None, None))
    return tuple(sorted(parts, key=lambda part: part.part))


def _opposite_parts(compared: Compared, pair: PairEstimate) -> tuple[SharePart, ...]:
    """The two parts of a share that is nothing for everybody, where they are something: their plain means."""
    chairs = pair.first, pair.second
    here, both = over_tasks(compared, in_common("who fared better", compared, chairs)), compared.at_both(*chairs)
    parts: list[SharePart] = []
    for name in _PARTS:
        shares = fared_shares(here, name)
        values = [shares.get((person, *chairs), 0.0) for person in both]
        if any(abs(each) > NOTHING for each in values):
            parts.append(SharePart(name, sum(values) / len(values), None, None))
    return tuple(parts) if len(parts) == len(_PARTS) else ()


def _took_longer(verdict: OverallVerdict, time: OverallVerdict, margin: float) -> float | None:
    """How many times as long those who completed took at the winner; None where that is not told."""
    value = time.estimate.value
    if value is None or time.p_adjusted is None or time.p_adjusted >= ALPHA:
        return None
    longer = value if verdict.winner == verdict.estimate.first else -value
    return exp(longer) if longer >= margin else None


def _gated(compared: Compared, time: MeasureOverall, margin: float) -> MeasureOverall:
    """Times held against those who did not finish.

    A winner stands where the difference keeps its sign with all who did not complete counted as the limit, and
    strict completion there is less than the margin lower; *alike* where completion differs by less than the margin.
    """
    told: list[OverallVerdict] = []
    taken: list[tuple[tuple[str, str], str]] = []
    for verdict in time.verdicts:
        pair = verdict.estimate.first, verdict.estimate.second
        why = _gate(compared, verdict, margin) if verdict.winner else ""
        if why:
            verdict = replace(
                verdict, said=VerdictKind.CANNOT_TELL, winner="", why=why, before=verdict.said, against=_STRICT
            )
        else:
            verdict = time_alike_beside_completion(verdict, margin)
        if verdict.before is not None:
            taken.append((pair, verdict.why))
        told.append(verdict)
    return replace(time, verdicts=tuple(told), gated=tuple(taken))


def _gate(compared: Compared, verdict: OverallVerdict, margin: float) -> str:
    """Why a winner in time is none; empty where it is one."""
    value = verdict.estimate.value or 0.0
    pair = verdict.estimate.first, verdict.estimate.second
    here = over_tasks(compared, in_common(_STRICT, compared, pair))
    ((limited,), _) = stage_two(here, limit_effects(here).effects, [pair])
    if limited.value is None or (limited.value < 0) is not (value < 0) or abs(limited.value) < NOTHING:
        return "faster among those who finished, but not once those who did not are counted as the limit"
    lower = next((each.value for each in verdict.completions if each.measure == _STRICT), None)
    if lower is None:
        return FEWER_FINISHED
    behind = -lower if verdict.winner == verdict.estimate.first else lower
    return FEWER_FINISHED if behind >= margin - NOTHING else ""
