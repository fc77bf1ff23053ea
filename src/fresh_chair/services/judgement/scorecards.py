"""Scorecards of a study: each criterion's figure or own score at each chair, sums, ranks and how firm they are."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from math import log

from fresh_chair.core.evidence.judged import Criterion, Score
from fresh_chair.core.figures.estimate import Estimate, interval_words
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.figures.overall.estimates import OverallMeasure
from fresh_chair.core.figures.thresholds import completion_over_tasks, ease_over_tasks, time_over_tasks
from fresh_chair.core.figures.whole.study_figures import Weighing, sus_scores
from fresh_chair.core.findings.sorted_findings import SortedFindings
from fresh_chair.core.findings.state.finding import Scope
from fresh_chair.core.frozen import frozen
from fresh_chair.core.judgement.scorecard import (
    Scorecard,
    ScoreCell,
    ScoreRow,
    complete,
    fed_twice,
    mapped,
    totals,
)
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.text import count_of
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.study.snapshot import StudyReading

# The figures that come from people, and so can be drawn again; with the measure of the comparison they belong to.
_MEASURE: Mapping[str, OverallMeasure] = {
    "completion": "completed",
    "completion unaided": "completed unaided",
    "time": "time",
    "ease": "ease",
    "satisfaction": "satisfaction",
    "who fared better": "who fared better",
}
# A person's part of a figure at a chair: a sum, and how much it weighs in the chair's figure.
Part = tuple[float, float]


@frozen
class FigureAt:
    """A figure of a chair, its words, and everything it was made from."""

    value: float | None
    said: str
    rests_on: tuple[str, ...] = ()


def scorecards(opened: StudyReading, weighing: Weighing) -> list[Scorecard]:
    """Every scorecard of the study, for everyone and for each audience that has a weight of its own."""
    criteria = criteria_of(opened)
    keys = dict.fromkeys((each.scorecard, each.audience) for each in criteria)
    return [_scorecard(opened, weighing, name, audience, criteria) for name, audience in keys]


def criteria_of(opened: StudyReading) -> list[Criterion]:
    """All criteria that hold."""
    return [held.record for held in evidence_of_kind(opened, "criterion") if isinstance(held.record, Criterion)]


def _scorecard(
    opened: StudyReading, weighing: Weighing, name: str, audience: str, criteria: Sequence[Criterion]
) -> Scorecard:
    letters = [chair.letter for chair in opened.study.chairs]
    found = sorted_findings_of(opened)
    ours = [each for each in criteria if each.scorecard == name and each.audience in ("", audience)]
    # A weight given for an audience takes the place of the one for everyone.
    own = {each.name.casefold() for each in ours if each.audience == audience and audience}
    ours = [each for each in ours if each.audience == audience or each.name.casefold() not in own]
    rows = tuple(_row(opened, weighing, found, criterion, letters) for criterion in ours)
    summed = tuple(row.criterion.name for row in complete(rows))
    return Scorecard(name, audience, rows, totals(rows, letters), summed, fed_twice(rows))


def _row(
    opened: StudyReading, weighing: Weighing, found: SortedFindings, criterion: Criterion, letters: Sequence[str]
) -> ScoreRow:
    if not criterion.figure:
        return ScoreRow(criterion, tuple(_own(opened, criterion, letter) for letter in letters))
    cells = []
    for letter in letters:
        figure = figure_at(opened, weighing, found, criterion.figure, letter)
        value = None if figure.value is None else mapped(criterion, figure.value)
        cells.append(ScoreCell(letter, value, figure.value, figure.said, figure.rests_on))
    return ScoreRow(criterion, tuple(cells))


def _own(opened: StudyReading, criterion: Criterion, letter: str) -> ScoreCell:
    """The reviewer's own score: the last one that was given."""
    given = [
        held.record
        for held in evidence_of_kind(opened, "score")
        if isinstance(held.record, Score)
        and held.record.criterion == f"criterion:{criterion.id}"
        and held.record.chair == letter
    ]
    if not given:
        return ScoreCell(letter, None)
    score = given[-1]
    rests = [
        link.second if link.first == f"score:{score.id}" else link.first
        for link in opened.evidence.state.links()
        if f"score:{score.id}" in (link.first, link.second)
    ]
    return ScoreCell(letter, score.value, None, score.why, tuple(rests))


def figure_at(opened: StudyReading, weighing: Weighing, found: SortedFindings, figure: str, letter: str) -> FigureAt:
    """A figure of a whole chair, with its words and the attempts or findings it stands on."""
    facts = [f for f in weighing.facts if f.chair == letter and f.outcome.counts and f.first_try]
    attempts = tuple(f"attempt:{fact.sitting}/{fact.attempt}" for fact in facts)
    if figure in ("problems", "strengths", "worst severity"):
        return _of_findings(found, figure, letter)
    if figure == "claims kept":
        return _claims(opened, letter)
    if figure == "waits":
        share = next((each for each in weighing.machine if each.chair == letter and not each.card), None)
        if share is None or share.share is None:
            return FigureAt(None, "not timed")
        return FigureAt(share.share, f"{100 * share.share:.0f} % of the time", attempts)
    if figure == "who fared better":
        values = [weight and total / weight for total, weight in _parts(weighing, figure, letter).values()]
        if not values:
            return FigureAt(None, "nobody was at two chairs")
        mean = sum(values) / len(values)
        return FigureAt(mean, f"{100 * mean:+.0f} net, {count_of(len(values), 'person', 'people')}", attempts)
    estimate = _estimate(weighing, figure, letter, facts)
    return FigureAt(estimate.value, _said(estimate), attempts if estimate.value is not None else ())


def _estimate(weighing: Weighing, figure: str, letter: str, facts: Sequence[AttemptFact]) -> Estimate:
    if figure == "completion":
        return completion_over_tasks(facts)
    if figure == "completion unaided":
        return completion_over_tasks(facts, unaided=True)
    if figure == "time":
        # How many times the expert's time is asked of hands time only: that is what the expert's is.
        facts = [replace(f, hands_seconds=f.lanes_seconds) for f in facts] if weighing.by_elapsed else facts
        cards = weighing.study.cards
        return time_over_tasks(facts, {card.id: card.benchmark_seconds.get(letter, 0.0) for card in cards})
    if figure == "ease":
        return ease_over_tasks(facts)
    return next(each.mean for each in weighing.satisfaction if each.chair == letter)


def _said(estimate: Estimate) -> str:
    if estimate.value is None:
        return estimate.note or "none yet"
    if estimate.low is None or estimate.high is None:
        return f"{estimate.value:.2f}, n {estimate.n}, no interval"
    return f"{estimate.value:.2f} ({interval_words(estimate.low, estimate.high, '.2f')}), n {estimate.n}"


def _of_findings(found: SortedFindings, figure: str, letter: str) -> FigureAt:
    met = [v for v in found.findings if any(s.chair == letter and s.people for s in v.spread)]
    if not found.findings:
        return FigureAt(None, "nothing was sorted yet")
    if figure == "strengths":
        here = [v for v in met if v.finding.sort == "strength"]
        return FigureAt(len(here), f"{len(here)} met", tuple(f"finding:{v.id}" for v in here))
    problems = [v for v in met if v.finding.sort == "problem"]
    rests = tuple(f"finding:{v.id}" for v in problems)
    if figure == "problems":
        return FigureAt(len(problems), f"{len(problems)} met", rests)
    judged = [(j.severity, v) for v in problems if (j := v.finding.severity_in(Scope(chair=letter))) is not None]
    if not judged:
        return FigureAt(None, "no problem judged")
    worst = max(severity for severity, _ in judged)
    return FigureAt(worst, f"worst {worst} of 4", tuple(f"finding:{v.id}" for s, v in judged if s == worst))


def _claims(opened: StudyReading, letter: str) -> FigureAt:
    from fresh_chair.core.chair.records import Claim

    claims = [h.record for h in opened.known_chairs.of(letter).held("claim") if isinstance(h.record, Claim)]
    told = [claim for claim in claims if claim.answer in ("as promised", "partly", "not so")]
    if not told:
        return FigureAt(None, "no claim was looked at")
    kept = sum(claim.answer == "as promised" for claim in told)
    return FigureAt(kept / len(told), f"{kept} of {len(told)}", tuple(f"record:{letter}/claim/{c.id}" for c in told))


def people_parts(weighing: Weighing, figure: str, letters: Sequence[str]) -> dict[str, dict[str, Part]]:
    """Each person's part of a figure at each chair, by person and chair."""
    found: dict[str, dict[str, Part]] = {}
    for letter in letters:
        for person, part in _parts(weighing, figure, letter).items():
            found.setdefault(person, {})[letter] = part
    return found


def _parts(weighing: Weighing, figure: str, letter: str) -> dict[str, Part]:
    if figure == "who fared better":
        return {person: (score, 1.0) for (person, chair), score in _fared(weighing).items() if chair == letter}
    if figure == "satisfaction":
        scores = sus_scores(weighing.satisfaction)
        return {person: (score, 1.0) for (person, chair), score in scores.items() if chair == letter}
    if figure == "waits":
        return _waits(weighing, letter)
    value = _VALUES[figure]
    benchmarks = {card.id: card.benchmark_seconds.get(letter, 0.0) for card in weighing.study.cards}
    by_person: dict[str, list[float]] = {}
    for fact in weighing.facts:
        if fact.chair == letter and fact.outcome.counts and fact.first_try:
            by_hands = replace(fact, hands_seconds=fact.lanes_seconds) if weighing.by_elapsed else fact
            told = value(by_hands, benchmarks.get(fact.card, 0.0))
            if told is not None:
                by_person.setdefault(fact.participant, []).append(told)
    return {person: (sum(told) / len(told), 1.0) for person, told in by_person.items()}


def _waits(weighing: Weighing, letter: str) -> dict[str, Part]:
    """Each person's waits, weighed by their elapsed time: the chair's figure is the share of all of it."""
    found: dict[str, Part] = {}
    for fact in weighing.facts:
        if fact.chair == letter and fact.outcome.counts and fact.first_try:
            before = found.get(fact.participant, (0.0, 0.0))
            found[fact.participant] = before[0] + fact.wait_seconds, before[1] + fact.elapsed_seconds
    return found


_VALUES: Mapping[str, Callable[[AttemptFact, float], float | None]] = {
    "completion": lambda fact, _: float(fact.outcome.completed),
    "completion unaided": lambda fact, _: float(fact.outcome is Outcome.UNAIDED),
    "ease": lambda fact, _: None if fact.ease is None else float(fact.ease),
    "time": lambda fact, expert: (
        log(fact.hands_seconds / expert) if fact.outcome.completed and expert and fact.hands_seconds > 0 else None
    ),
}


def _fared(weighing: Weighing) -> dict[tuple[str, str], float]:
    from fresh_chair.core.figures.overall.fared import fared_scores, fared_shares
    from fresh_chair.core.figures.overall.rows import study_rows

    return fared_scores(fared_shares(study_rows(weighing.study, weighing.facts)))


def drawn_from_people(figure: str) -> bool:
    """Whether a figure comes from people, and so can be drawn again."""
    return figure in _MEASURE or figure == "waits"


def measure_of(figure: str) -> OverallMeasure | None:
    """The measure of the comparison that a figure belongs to; None for waits, which are of none."""
    return _MEASURE.get(figure)
