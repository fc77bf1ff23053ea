"""Two chairs on one task: the comparison, and the sentence it allows: law 4."""

from collections import defaultdict
from collections.abc import Callable, Collection, Iterable, Iterator, Sequence
from dataclasses import replace
from enum import StrEnum
from itertools import combinations

from fresh_chair.core.figures.completion import mcnemar_exact, paired_difference
from fresh_chair.core.figures.correction import holm
from fresh_chair.core.figures.estimate import Estimate, without_wide
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.figures.single.different_people import (
    fisher_p,
    independent_difference,
    independent_ratio,
    log_rank_p,
    mann_whitney_p,
)
from fresh_chair.core.figures.times import paired_ratio
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.outcome import Outcome

ALPHA = 0.05
# Faster, but completed by so many fewer of the same people, is no winner.
FEWER_COMPLETED = 0.15
# Below this many people a t test stands on an assumption that nobody can check, so no winner is named.
FEWEST_FOR_A_WINNER = 5


class Verdict(StrEnum):
    """How a comparison can end."""

    FIRST_BETTER = "first better"
    SECOND_BETTER = "second better"
    CANNOT_TELL = "cannot tell"


class Measure(StrEnum):
    """The measure that is compared."""

    COMPLETION = "completion"
    UNAIDED = "completed unaided"
    TIME = "time"


@frozen
class Comparison:
    """One task, two chairs: the same people, or different ones where none sat at both.

    Attributes:
        estimate: Difference of completion rates (first minus second), or ratio of times (first over second, below 1
            is faster at the first); its n is the people who were at both, or all of them where they are different.
        p: Raw two-sided p, None where no test is possible.
        p_adjusted: After Holm over all tasks and pairs of the study, per measure.
        left_out: People at both chairs whom the time ratio leaves out because they did not complete at both.
        same_people: False where nobody sat at both, and different people are compared.
        rank_p, censored_p: Of different people's times: Mann-Whitney's, and the log-rank test's with out of time
            censored and partly, gave up and blocked left out.
        completed_more: Of all people at both, the share that completed at the first less that at the second.
    """

    measure: Measure
    card: str
    first: str
    second: str
    estimate: Estimate
    p: float | None
    p_adjusted: float | None
    left_out: int
    verdict: Verdict = Verdict.CANNOT_TELL
    completed_more: float = 0.0
    same_people: bool = True
    rank_p: float | None = None
    censored_p: float | None = None


def compare_all(
    study: Study, facts: Iterable[AttemptFact], *, going: Callable[[], object] = lambda: None
) -> dict[str, list[Comparison]]:
    """Every pair of chairs on every task, completion and time, by card.

    People who sat at both chairs of a pair are compared, on first tries that count; where nobody did, different people
    are. `going` is called before each card, and raises where nobody waits any more.
    """
    by_cell: dict[tuple[str, str], dict[str, AttemptFact]] = defaultdict(dict)
    for fact in facts:
        if fact.outcome.counts and fact.first_try:
            by_cell[fact.card, fact.chair][fact.participant] = fact
    raw: list[Comparison] = []
    for card in study.cards:
        going()
        for first, second in combinations(study.chairs, 2):
            at_first, at_second = by_cell[card.id, first.letter], by_cell[card.id, second.letter]
            pairs = [(at_first[code], at_second[code]) for code in sorted(at_first.keys() & at_second.keys())]
            if not pairs and at_first and at_second:
                raw += _of_different(card.id, first.letter, second.letter, at_first.values(), at_second.values())
                continue
            raw.append(_completion(card.id, first.letter, second.letter, pairs))
            raw.append(_completion(card.id, first.letter, second.letter, pairs, unaided=True))
            raw.append(_time(card.id, first.letter, second.letter, pairs))
    judged: dict[str, list[Comparison]] = {card.id: [] for card in study.cards}
    for comparison in _adjusted(raw):
        judged[comparison.card].append(replace(comparison, verdict=_verdict(comparison)))
    return judged


def _completion(
    card: str, first: str, second: str, pairs: Sequence[tuple[AttemptFact, AttemptFact]], *, unaided: bool = False
) -> Comparison:
    results = [(_done(a, unaided), _done(b, unaided)) for a, b in pairs]
    p = mcnemar_exact(sum(a and not b for a, b in results), sum(b and not a for a, b in results)) if results else None
    measure = Measure.UNAIDED if unaided else Measure.COMPLETION
    return Comparison(measure, card, first, second, paired_difference(results), p, p, 0)


def _done(fact: AttemptFact, unaided: bool) -> bool:
    return fact.outcome is Outcome.UNAIDED if unaided else fact.outcome.completed


def _of_different(
    card: str, first: str, second: str, at_first: Collection[AttemptFact], at_second: Collection[AttemptFact]
) -> Iterator[Comparison]:
    """Completion and time of different people at two chairs."""
    for measure, unaided in ((Measure.COMPLETION, False), (Measure.UNAIDED, True)):
        x1, x2 = (sum(_done(fact, unaided) for fact in group) for group in (at_first, at_second))
        counts = x1, len(at_first), x2, len(at_second)
        p = fisher_p(*counts)
        yield Comparison(measure, card, first, second, independent_difference(*counts), p, p, 0, same_people=False)
    times = [
        [fact.hands_seconds for fact in group if fact.outcome.completed and fact.hands_seconds > 0]
        for group in (at_first, at_second)
    ]
    cut = [
        [
            (fact.hands_seconds, fact.outcome.completed)
            for fact in group
            if fact.outcome.completed or fact.outcome is Outcome.OUT_OF_TIME
        ]
        for group in (at_first, at_second)
    ]
    ratio, p_ratio = independent_ratio(*times)
    more = sum(f.outcome.completed for f in at_first) / len(at_first) - sum(
        f.outcome.completed for f in at_second
    ) / len(at_second)
    yield Comparison(
        Measure.TIME,
        card,
        first,
        second,
        without_wide(ratio),
        p_ratio,
        p_ratio,
        len(at_first) + len(at_second) - sum(map(len, times)),
        completed_more=more,
        same_people=False,
        rank_p=mann_whitney_p(*times),
        censored_p=log_rank_p(*cut),
    )


def _time(card: str, first: str, second: str, pairs: Sequence[tuple[AttemptFact, AttemptFact]]) -> Comparison:
    timed = [
        (a.hands_seconds, b.hands_seconds)
        for a, b in pairs
        if a.outcome.completed and b.outcome.completed and a.hands_seconds > 0 and b.hands_seconds > 0
    ]
    ratio, p = paired_ratio(timed)
    more = sum(a.outcome.completed - b.outcome.completed for a, b in pairs) / len(pairs) if pairs else 0.0
    return Comparison(
        Measure.TIME, card, first, second, without_wide(ratio), p, p, len(pairs) - len(timed), completed_more=more
    )


def _adjusted(comparisons: Sequence[Comparison]) -> list[Comparison]:
    adjusted = list(comparisons)
    for measure in Measure:
        places = [i for i, c in enumerate(comparisons) if c.measure is measure and c.p is not None]
        corrected = holm([p for i in places if (p := comparisons[i].p) is not None])
        for place, p in zip(places, corrected, strict=True):
            adjusted[place] = replace(comparisons[place], p_adjusted=p)
    return adjusted


def _verdict(comparison: Comparison) -> Verdict:
    """A winner only where the corrected test names one; one task and a few people never show that two are alike."""
    value = comparison.estimate.value
    fewest = FEWEST_FOR_A_WINNER if comparison.same_people else 2 * FEWEST_FOR_A_WINNER
    if comparison.estimate.n < fewest or value is None:
        return Verdict.CANNOT_TELL
    if comparison.p_adjusted is None or comparison.p_adjusted >= ALPHA:
        return Verdict.CANNOT_TELL
    if comparison.measure is not Measure.TIME:
        return Verdict.FIRST_BETTER if value > 0 else Verdict.SECOND_BETTER
    behind = -comparison.completed_more if value < 1 else comparison.completed_more
    if behind >= FEWER_COMPLETED:
        return Verdict.CANNOT_TELL
    return Verdict.FIRST_BETTER if value < 1 else Verdict.SECOND_BETTER
