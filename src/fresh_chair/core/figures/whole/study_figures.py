"""Every figure of a study together, and the sentences each task's figures allow."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import field
from typing import TypedDict

from fresh_chair.core.figures.cell import CellFigures, all_cells
from fresh_chair.core.figures.course.machine import MachineShare, machine_shares
from fresh_chair.core.figures.course.routes import RouteFigures, all_routes
from fresh_chair.core.figures.estimate import Estimate
from fresh_chair.core.figures.facts import AttemptFact, by_time, is_counted
from fresh_chair.core.figures.overall.estimates import MeasureOverall, OverallMeasure, main_measure_of, margins_of
from fresh_chair.core.figures.position import PositionEffect, position_effects
from fresh_chair.core.figures.satisfaction import SusScore, sus_mean, sus_score
from fresh_chair.core.figures.single.comparison import Comparison, compare_all
from fresh_chair.core.figures.single.preference import Preference, preference
from fresh_chair.core.figures.thresholds import HeldThreshold, completion_over_tasks, held_thresholds
from fresh_chair.core.figures.whole.own_scales import OwnAnswer, OwnScale, own_scales
from fresh_chair.core.figures.whole.reach import Reach
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.chair_states import ChairState
from fresh_chair.core.plan.sheet import RateInterval, TimeMeasure
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.sitting import Sitting


@frozen
class Satisfaction:
    """The System Usability Scale at one chair: each person's score, and their mean."""

    chair: str
    scores: tuple[tuple[str, SusScore], ...]
    mean: Estimate


@frozen
class MixedStates:
    """A chair that changed between the sittings that are counted.

    Attributes:
        sittings: Numbers of the sittings held in each of its states, in the order of the states.
        changed: The changes that made each state but the first, a few words each.
    """

    chair: str
    sittings: tuple[tuple[int, ...], ...]
    changed: tuple[tuple[str, ...], ...]


@frozen
class GroupFigures:
    """The main measure among the people of one group alone.

    Attributes:
        completed: Share of the tasks its people complete, by chair.
        unaided: Completed unaided, which stands beside a winner in time.
    """

    name: str
    people: int
    completed: Mapping[str, Estimate]
    found: MeasureOverall
    unaided: MeasureOverall


@frozen
class FigureChoice:
    """How figures are taken: one time and one interval in all of them."""

    own: bool = False
    times: TimeMeasure = "hands"
    interval: RateInterval = "adjusted Wald"


AS_USUAL, NOT_SAID = FigureChoice(), Reach()


@frozen
class Weighing:
    """All figures of a study.

    Attributes:
        cells: By card and chair.
        comparisons: By card.
        positions: How later chairs went faster or slower than the first.
        satisfaction: By chair, in the study's order.
        borrowed: Attempts whose outcome is not the reviewer's own evidence; they count unless `own`.
        choice: Which evidence, times and intervals they are taken by.
        machine: Each chair's share of the time, then each task's on each chair.
        elapsed: Elapsed time over all tasks, compared like hands time; None where that is the chosen time.
        routes: The ways people went, where places were logged.
        reach: The cards never reached and the sittings broken off.
        mixed: Chairs whose counted sittings were held in several states of them.
        overall: By measure: chairs compared over all tasks.
        thresholds: Those of the study sheet at each chair; those of severity are added where findings are known.
        thresholds_late: When the thresholds were changed after the first sitting, likewise.
        own_scales: The study's own scales, compared; those that were answered.
        preference: Which chairs people would rather have; None where nobody was asked.
        groups: The main measure by group of people, where the study has several.
        decided_late: When the ways of comparing were changed after the first sitting, nanoseconds since 1970 UTC.
    """

    study: Study
    facts: tuple[AttemptFact, ...]
    cells: dict[tuple[str, str], CellFigures]
    comparisons: dict[str, list[Comparison]]
    positions: tuple[PositionEffect, ...]
    satisfaction: tuple[Satisfaction, ...]
    borrowed: tuple[AttemptFact, ...] = ()
    choice: FigureChoice = AS_USUAL
    reach: Reach = NOT_SAID
    mixed: tuple[MixedStates, ...] = ()
    overall: Mapping[OverallMeasure, MeasureOverall] = field(default_factory=dict)
    thresholds: tuple[HeldThreshold, ...] = ()
    machine: tuple[MachineShare, ...] = ()
    elapsed: MeasureOverall | None = None
    routes: tuple[RouteFigures, ...] = ()
    groups: tuple[GroupFigures, ...] = ()
    preference: Preference | None = None
    own_scales: tuple[OwnScale, ...] = ()
    decided_late: tuple[int, ...] = ()
    thresholds_late: tuple[int, ...] = ()

    @property
    def by_elapsed(self) -> bool:
        """Whether elapsed time stands where hands time does otherwise."""
        return self.choice.times == "elapsed"


def weigh_facts(
    study: Study,
    facts: Sequence[AttemptFact],
    satisfaction: tuple[Satisfaction, ...] = (),
    choice: FigureChoice = AS_USUAL,
    reach: Reach = NOT_SAID,
    answers: Sequence[OwnAnswer] = (),
    going: Callable[[], object] = lambda: None,
) -> Weighing:
    """All figures of a study from its attempts.

    Args:
        study: The plan.
        facts: Its attempts.
        satisfaction: The System Usability Scale at every chair.
        choice: Which evidence, times and intervals.
        reach: How far the sittings came.
        answers: Scores on the study's own scales.
        going: Is called before each part, and raises where nobody waits for the figures any more.
    """
    borrowed = tuple(fact for fact in facts if not fact.own)
    by_hands = [fact for fact in facts if fact.own or not choice.own]
    facts = by_time(by_hands, choice.times)
    comparisons = compare_all(study, facts, going=going)
    positions = position_effects(facts)
    return Weighing(
        study,
        tuple(facts),
        all_cells(
            study,
            facts,
            times=choice.times,
            interval=choice.interval,
            not_reached=reach.not_reached,
            going=going,
        ),
        comparisons,
        positions,
        satisfaction,
        borrowed,
        choice,
        reach,
        overall=_overall(study, facts, satisfaction, going),
        **_course(study, by_hands, choice, going),
        own_scales=own_scales(study, facts, answers) if answers else (),
        groups=_by_group(study, facts, satisfaction, going),
        # How many times the expert's time is asked of hands time only: that is what the expert's is.
        thresholds=held_thresholds(study, by_hands, {part.chair: part.mean for part in satisfaction}),
    )


class _Course(TypedDict):
    machine: tuple[MachineShare, ...]
    elapsed: MeasureOverall | None
    routes: tuple[RouteFigures, ...]


def _course(
    study: Study, by_hands: Sequence[AttemptFact], choice: FigureChoice, going: Callable[[], object]
) -> _Course:
    """The course of attempts, always from hands time and waits as they were."""
    return {
        "machine": machine_shares(study, by_hands),
        "elapsed": _elapsed(study, by_hands, going) if choice.times == "hands" else None,
        "routes": all_routes(study, by_hands),
    }


def _by_group(
    study: Study, facts: Sequence[AttemptFact], satisfaction: Sequence[Satisfaction], going: Callable[[], object]
) -> tuple[GroupFigures, ...]:
    """Each group's own people, compared by the same rule; none where all people are of one group."""
    from fresh_chair.core.figures.overall.measures import overall
    from fresh_chair.core.figures.overall.rows import study_rows

    group_of = {person.code: person.group for person in study.people}
    names = list(dict.fromkeys(group_of.get(fact.participant, "") for fact in facts))
    named = [name for name in names if name]
    if len(names) < 2 or not named:
        return ()
    comparing, letters = study.sheet.comparing, [chair.letter for chair in study.chairs]
    measure = main_measure_of(comparing)
    found = []
    for name in sorted(named):
        going()
        ours = [fact for fact in facts if group_of.get(fact.participant) == name]
        scores = {s: score for s, score in sus_scores(satisfaction).items() if group_of.get(s[0]) == name}
        told = overall(
            study_rows(study, ours),
            scores,
            pairs=comparing.pairs_of_letters,
            margins=margins_of(comparing),
            measures=[measure, "completed unaided"],
        )
        counted = [fact for fact in ours if fact.outcome.counts and fact.first_try]
        completed = {c: completion_over_tasks(f for f in counted if f.chair == c) for c in letters}
        people = len({fact.participant for fact in counted})
        found.append(GroupFigures(name, people, completed, told[measure], told["completed unaided"]))
    return tuple(found)


def _elapsed(study: Study, facts: Sequence[AttemptFact], going: Callable[[], object]) -> MeasureOverall:
    """Chairs compared by elapsed time: one that lets people wait does not come out even."""
    from fresh_chair.core.figures.overall.measures import overall
    from fresh_chair.core.figures.overall.rows import study_rows

    going()
    comparing = study.sheet.comparing
    compared = study_rows(study, by_time(facts, "elapsed"))
    pairs, margins = comparing.pairs_of_letters, margins_of(comparing)
    return overall(compared, {}, pairs=pairs, margins=margins, measures=["time"])["time"]


def sus_scores(satisfaction: Sequence[Satisfaction]) -> dict[tuple[str, str], float]:
    """The System Usability Scale's score of each sitting that has one, by person and chair."""
    return {
        (person, part.chair): score.score
        for part in satisfaction
        for person, score in part.scores
        if score.score is not None
    }


def _overall(
    study: Study, facts: Sequence[AttemptFact], satisfaction: Sequence[Satisfaction], going: Callable[[], object]
) -> Mapping[OverallMeasure, MeasureOverall]:
    # The arithmetic libraries are slow to load, and screens know the figures' types from their start.
    from fresh_chair.core.figures.overall.measures import overall
    from fresh_chair.core.figures.overall.rows import study_rows

    going()
    comparing = study.sheet.comparing
    scores = sus_scores(satisfaction)
    compared = study_rows(study, facts)
    return overall(compared, scores, pairs=comparing.pairs_of_letters, margins=margins_of(comparing))


def preference_of(study: Study, sittings: Mapping[int, Sitting]) -> Preference | None:
    """The order of preference of counted people; None where none was given."""
    orders = [
        sitting.preference
        for seat in study.seats
        if (sitting := sittings.get(seat.number)) is not None
        and is_counted(study, seat, sitting)
        and sitting.preference
    ]
    return preference([chair.letter for chair in study.chairs], orders) if orders else None


def mixed_states(
    study: Study, sittings: Mapping[int, Sitting], states: Mapping[int, ChairState]
) -> tuple[MixedStates, ...]:
    """The chairs whose counted sittings were held in several states of them.

    Args:
        study: The plan.
        sittings: The sittings by number.
        states: The state its chair was in, by the sitting's number.
    """
    found = []
    for chair in study.chairs:
        held: dict[int, list[int]] = {}
        by_number: dict[int, ChairState] = {}
        for seat in study.seats:
            state = states.get(seat.number)
            if seat.chair == chair.letter and state is not None and is_counted(study, seat, sittings.get(seat.number)):
                held.setdefault(state.number, []).append(seat.number)
                by_number[state.number] = state
        if len(held) > 1:
            order = sorted(held)
            sat = tuple(tuple(sorted(held[number])) for number in order)
            found.append(MixedStates(chair.letter, sat, tuple(by_number[number].changed for number in order[1:])))
    return tuple(found)


def satisfaction_of(study: Study, sittings: Mapping[int, Sitting]) -> tuple[Satisfaction, ...]:
    """The System Usability Scale at every chair, in the study's order."""
    found = []
    for chair in study.chairs:
        scores = []
        for seat in study.seats:
            sitting = sittings.get(seat.number)
            here = seat.chair == chair.letter and is_counted(study, seat, sitting)
            if here and sitting is not None and sitting.answers:
                scores.append((seat.participant, sus_score(sitting.answers)))
        values = [score.score for _, score in scores if score.score is not None]
        found.append(Satisfaction(chair.letter, tuple(scores), sus_mean(values)))
    return tuple(found)
