"""Would it turn? The comparison again with one person less, or with a decision of the reviewer's made otherwise."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace
from itertools import combinations

from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.figures.overall.estimates import (
    BETTER,
    NOTHING,
    MeasureOverall,
    OverallMeasure,
    OverallVerdict,
    Turning,
    TurnWay,
    VerdictKind,
    WayTried,
)
from fresh_chair.core.figures.overall.links import in_common, over_tasks, tasks_of, too_few_in_common
from fresh_chair.core.figures.overall.measures import pair_estimates, sitting_source
from fresh_chair.core.figures.overall.rows import Compared, Seated, compared_rows
from fresh_chair.core.figures.overall.second_stage import paired_difference_by_order
from fresh_chair.core.sitting.state.outcome import Outcome

# Below so many people at both only the range of the estimates is told.
FEWEST_TO_TURN = 8


def would_it_turn(
    facts: Sequence[AttemptFact],
    chairs: Sequence[str],
    limits: Mapping[str, float],
    scores: Mapping[Seated, float],
    found: MeasureOverall,
    pairs: Sequence[tuple[str, str]],
    by_other_time: Sequence[AttemptFact],
    going: Callable[[], object] = lambda: None,
) -> Turning:
    """Does the verdict on a measure hold where one person, or one decision, had been another?

    *Better* turns where the estimate changes side, or comes inside the margin having been outside; *alike* where it
    goes outside the margin; *cannot tell* does not turn. Losing p < .05 is noise and no turn.

    Args:
        facts: The attempts that were weighed.
        chairs: Letters, in the study's order.
        limits: Seconds after which a card may be ended.
        scores: The System Usability Scale's score of each sitting.
        found: The measure as it was weighed.
        pairs: The declared pairs; all of them where none is named.
        by_other_time: The same attempts by the other time: elapsed instead of hands time, or the other way round.
        going: Is called before each way, and raises where no answer is waited for any more.
    """
    chosen = list(pairs) or list(combinations(chairs, 2))
    verdicts = {(each.estimate.first, each.estimate.second): each for each in found.verdicts}

    def values(others: Sequence[AttemptFact], skip: str = "") -> dict[tuple[str, str], float | None]:
        going()
        kept = [fact for fact in others if fact.participant != skip]
        compared = compared_rows(kept, chairs, limits)
        left = {seated: score for seated, score in scores.items() if seated in compared.positions}
        told = pair_estimates(found.measure, compared, left, chosen)
        return {(each.first, each.second): each.value for each in told}

    people = sorted({fact.participant for fact in facts})
    ways = [_tried("one person out", person, verdicts, values(facts, person)) for person in people]
    for way, others, count in _otherwise(facts, by_other_time, found.measure):
        ways.append(
            _tried(way, "", verdicts, values(others), count)
            if count
            else WayTried(way, "", 0, (), why=_WHY_NOT.get(way, ""))
        )
    if len(chairs) > 2 and found.measure not in ("completed", "completed unaided"):
        going()
        own = _with_own_scatter(compared_rows(facts, chairs, limits), scores, found.measure, chosen)
        ways.append(_tried("the pair's own scatter", "", verdicts, own))
    return Turning(found.measure, tuple(ways), tuple(_ranges(verdicts, ways)))


_WHY_NOT: Mapping[TurnWay, str] = {
    "only chairs proved fresh": "every sitting, or none, began at a chair that was proved fresh",
    "help not completed": "nobody was helped",
    "the other time": "no machine's share was logged",
    "without tries after a void": "no try came after a void one",
}


def _otherwise(
    facts: Sequence[AttemptFact],
    by_other_time: Sequence[AttemptFact],
    measure: OverallMeasure,
) -> Iterator[tuple[TurnWay, Sequence[AttemptFact], int]]:
    """The attempts with each decision made otherwise, and how many attempts that changes."""
    fresh = [fact for fact in facts if fact.chair_found == "fresh"]
    yield "only chairs proved fresh", fresh, len(facts) - len(fresh) if fresh else 0
    if measure not in ("completed unaided", "ease", "satisfaction"):
        helped = sum(fact.outcome is Outcome.HELPED for fact in facts)
        unhelped = [replace(f, outcome=Outcome.PARTLY) if f.outcome is Outcome.HELPED else f for f in facts]
        yield "help not completed", unhelped, helped
    if measure in ("time", "who fared better"):
        changed = sum(a.hands_seconds != b.hands_seconds for a, b in zip(facts, by_other_time, strict=True))
        yield "the other time", by_other_time, changed
    void = {(fact.participant, fact.chair, fact.card) for fact in facts if not fact.outcome.counts}
    kept = [f for f in facts if not f.outcome.counts or (f.participant, f.chair, f.card) not in void]
    yield (
        "without tries after a void",
        kept,
        sum(fact.outcome.counts for fact in facts) - sum(fact.outcome.counts for fact in kept),
    )


def _with_own_scatter(
    compared: Compared, scores: Mapping[Seated, float], measure: OverallMeasure, pairs: Sequence[tuple[str, str]]
) -> dict[tuple[str, str], float | None]:
    """Each pair by its own people alone over its own tasks, both orders counted alike."""
    told = {}
    for pair in pairs:
        cards = in_common(measure, compared, pair)
        here = compared if measure == "satisfaction" else over_tasks(compared, cards)
        few = measure != "satisfaction" and too_few_in_common(cards, tasks_of(compared))
        effects = sitting_source(measure, here, scores).effects
        told[pair] = None if few else paired_difference_by_order(here, effects, pair).value
    return told


def _tried(
    way: TurnWay,
    person: str,
    verdicts: Mapping[tuple[str, str], OverallVerdict],
    values: Mapping[tuple[str, str], float | None],
    changed: int = 0,
) -> WayTried:
    turned = []
    for pair, verdict in verdicts.items():
        # One person more or less says nothing of a verdict that stands on too few of them.
        if person and verdict.estimate.people < FEWEST_TO_TURN:
            continue
        how = _turn(verdict, values.get(pair))
        if how:
            turned.append((*pair, how))
    told = tuple((*pair, value) for pair, value in values.items() if value is not None)
    return WayTried(way, person, changed, told, tuple(turned))


def _turn(verdict: OverallVerdict, value: float | None) -> str:
    """How a verdict turns at another estimate; empty where it does not."""
    before = verdict.estimate.value
    if value is None or before is None:
        return ""
    if verdict.said in BETTER:
        if before * value < 0 or abs(value) < NOTHING:
            return "the difference changes side"
        if abs(value) < verdict.margin <= abs(before):
            return "the difference comes inside the margin"
    if verdict.said is VerdictKind.ALIKE and abs(value) > verdict.margin:
        return "the difference goes beyond the margin"
    return ""


def _ranges(
    verdicts: Mapping[tuple[str, str], OverallVerdict], ways: Sequence[WayTried]
) -> Iterator[tuple[str, str, float, float]]:
    """From where to where the estimate of each pair goes with one person less."""
    for first, second in verdicts:
        values = [v for way in ways if way.person for a, b, v in way.values if (a, b) == (first, second)]
        if values:
            yield first, second, min(values), max(values)
