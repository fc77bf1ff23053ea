"""The study's own scales, compared between chairs like ease, or like the usability scale where asked of a sitting."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace

from fresh_chair.core.figures.estimate import Estimate, mean_with_t
from fresh_chair.core.figures.facts import AttemptFact, is_counted
from fresh_chair.core.figures.overall.estimates import MARGINS, MeasureOverall, OverallMeasure
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.sheet import StudyQuestion
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.sitting import Sitting

# Of the range of ease that its margin of half a point is: any other scale's margin is as much of its own.
_PART = 12


@frozen
class OwnAnswer:
    """One score on a scale of the study's own; the card is empty where it was asked of the whole sitting."""

    question: str
    person: str
    chair: str
    card: str
    score: int


@frozen
class OwnScale:
    """One scale: people's means at each chair, and the chairs compared over all tasks."""

    question: StudyQuestion
    means: Mapping[str, Estimate]
    found: MeasureOverall

    @property
    def margin(self) -> float:
        """The smallest difference that matters: a twelfth of its range, as half a point of ease is."""
        return _margin(self.question)


def own_answers(study: Study, sittings: Mapping[int, Sitting]) -> tuple[OwnAnswer, ...]:
    """Every score of counted people on the study's own scales."""
    scales = {question.id for question in study.sheet.questions if question.kind == "scale"}
    found = []
    for seat in study.seats:
        sitting = sittings.get(seat.number)
        if sitting is None or not is_counted(study, seat, sitting):
            continue
        cards = {attempt.number: attempt.card for attempt in sitting.tried}
        for (question, attempt), answer in sitting.asked.items():
            if question in scales and answer.score is not None and (not attempt or attempt in cards):
                card = cards.get(attempt, "")
                found.append(OwnAnswer(question, seat.participant, seat.chair, card, answer.score))
    return tuple(found)


def own_scales(study: Study, facts: Sequence[AttemptFact], answers: Iterable[OwnAnswer]) -> tuple[OwnScale, ...]:
    """Each scale that anybody answered, in the order of the study sheet.

    Args:
        study: The plan.
        facts: Its attempts, which give sittings their positions.
        answers: The scores.
    """
    from fresh_chair.core.figures.overall.measures import overall
    from fresh_chair.core.figures.overall.rows import study_rows

    letters = [chair.letter for chair in study.chairs]
    given = list(answers)
    found = []
    for question in study.sheet.questions:
        ours = [answer for answer in given if answer.question == question.id]
        if not ours:
            continue
        by_cell = {(a.person, a.chair, a.card): a.score for a in ours if a.card}
        whole = {(a.person, a.chair): float(a.score) for a in ours if not a.card}
        rated = [replace(fact, ease=by_cell.get((fact.participant, fact.chair, fact.card))) for fact in facts]
        measure: OverallMeasure = "ease" if by_cell else "satisfaction"
        margins = {**MARGINS, measure: _margin(question)}
        compared = study_rows(study, rated)
        seated = {s: score for s, score in whole.items() if s in compared.positions}
        pairs = study.sheet.comparing.pairs_of_letters
        told = overall(compared, seated, pairs=pairs, margins=margins, measures=[measure])[measure]
        means = {letter: _mean([a for a in ours if a.chair == letter]) for letter in letters}
        found.append(OwnScale(question, means, told))
    return tuple(found)


def _margin(question: StudyQuestion) -> float:
    return (question.points - 1) / _PART


def _mean(answers: Sequence[OwnAnswer]) -> Estimate:
    """The mean over people of their own means."""
    by_person: dict[str, list[int]] = {}
    for answer in answers:
        by_person.setdefault(answer.person, []).append(answer.score)
    return mean_with_t(
        [sum(told) / len(told) for told in by_person.values()], method="mean of people's means, t interval"
    )
