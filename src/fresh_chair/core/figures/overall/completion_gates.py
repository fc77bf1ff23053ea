"""Completion beside a verdict on another measure: the verdicts it takes back, and those it makes mixed."""

from collections.abc import Sequence
from dataclasses import replace

from fresh_chair.core.figures.overall.estimates import (
    NOTHING,
    CompletionBeside,
    MeasureOverall,
    OverallVerdict,
    VerdictKind,
)
from fresh_chair.core.figures.overall.people_counts import values_at_both
from fresh_chair.core.figures.overall.rows import Compared, ComparedRow
from fresh_chair.core.figures.overall.verdicts import ALPHA, interval_of
from fresh_chair.core.sitting.state.outcome import Outcome

EVEN_BUT_COMPLETION = "even on balance, but completion may differ by more than matters"
BETTER_BUT_COMPLETION = "more tasks went better at one, but completion may differ by more than matters"
ALIKE_BUT_FEWER = "alike among those who finished, but fewer may have finished at one"
FEWER_FINISHED = "faster among those who finished, but fewer finished"


def completions_beside(
    compared: Compared, strict: MeasureOverall, lenient: MeasureOverall
) -> list[tuple[CompletionBeside, CompletionBeside]]:
    """Strict and lenient completion of each pair, as they stand beside the other measures."""
    return [
        (_beside(compared, strict, index), _beside(compared, lenient, index)) for index in range(len(strict.verdicts))
    ]


def _beside(compared: Compared, found: MeasureOverall, index: int) -> CompletionBeside:
    verdict = found.verdicts[index]
    pair = verdict.estimate
    both = values_at_both(
        compared.rows, (pair.first, pair.second), _unaided if found.measure == "completed unaided" else _completed
    )
    done, tried = _counts(list(both.values()))
    if pair.value is not None and pair.error:
        low, high = interval_of(pair, 0.95)
        p = 1.0 if verdict.p_adjusted is None else verdict.p_adjusted
        return CompletionBeside(found.measure, pair.value, pair.error, low, high, p, done, tried)
    own = [sum(a - b for a, b in values) / len(values) for values in both.values()]
    plain = sum(own) / len(own) if own else None
    return CompletionBeside(found.measure, plain, 0.0, None, None, 1.0, done, tried)


def _unaided(row: ComparedRow) -> float:
    return float(row.outcome is Outcome.UNAIDED)


def _completed(row: ComparedRow) -> float:
    return float(row.outcome.completed)


def _counts(both: Sequence[Sequence[tuple[float, float]]]) -> tuple[tuple[int, int], tuple[int, int]]:
    """How many were done, and how many attempted, at either chair."""
    values = [pair for listed in both for pair in listed]
    return (int(sum(a for a, _ in values)), int(sum(b for _, b in values))), (len(values), len(values))


def fared_beside_completion(verdict: OverallVerdict, margin: float) -> OverallVerdict:
    """Who fared better, held against completion: it takes verdicts away, and gives none.

    *Alike* stands only where completion, strict and lenient, lies within the margin by more than its error; a winner
    only where neither is lower there by the margin. Otherwise it is mixed where the difference of completion that
    stands against it could be told, else it cannot be told.

    Args:
        verdict: With its completions.
        margin: The smallest difference of completion that matters, a share of 1.
    """
    if verdict.said is VerdictKind.ALIKE:
        against = [each for each in verdict.completions if _may_differ(each, margin, with_error=True)]
        why = EVEN_BUT_COMPLETION
    elif verdict.winner:
        against = [each for each in verdict.completions if _lower_there(each, verdict, margin)]
        why = BETTER_BUT_COMPLETION
    else:
        return verdict
    if not against:
        return verdict
    firm = [each for each in against if each.p_adjusted < ALPHA]
    standing = (firm or against)[0]
    taken = replace(verdict, against=standing.measure, before=verdict.said)
    if firm:
        return replace(taken, said=VerdictKind.MIXED, winner="")
    return replace(taken, said=VerdictKind.CANNOT_TELL, winner="", why=why)


def _may_differ(beside: CompletionBeside, margin: float, *, with_error: bool) -> bool:
    if beside.value is None:
        return True
    return abs(beside.value) + (beside.error if with_error else 0.0) >= margin - NOTHING


def _lower_there(beside: CompletionBeside, verdict: OverallVerdict, margin: float) -> bool:
    if beside.value is None:
        return True
    there = beside.value if verdict.winner == verdict.estimate.first else -beside.value
    return there <= -margin + NOTHING


def time_alike_beside_completion(verdict: OverallVerdict, margin: float) -> OverallVerdict:
    """*Alike* in time, which stands only where completion, strict and lenient, differs by less than its margin."""
    if verdict.said is not VerdictKind.ALIKE:
        return verdict
    against = [each for each in verdict.completions if _may_differ(each, margin, with_error=False)]
    if not against:
        return verdict
    return replace(
        verdict,
        said=VerdictKind.CANNOT_TELL,
        why=ALIKE_BUT_FEWER,
        against=against[0].measure,
        before=verdict.said,
    )
