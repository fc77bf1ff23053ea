"""Whether the answer of a study would turn, worked out beside the screen."""

from collections.abc import Callable, Sequence

from fresh_chair.core.figures.facts import AttemptFact, by_time
from fresh_chair.core.figures.overall.estimates import OverallMeasure, Turning, main_measure_of
from fresh_chair.core.figures.whole.study_figures import Weighing, sus_scores
from fresh_chair.core.plan.sheet import TimeMeasure
from fresh_chair.services.study.snapshot import StudyReading


def main_measure(weighing: Weighing) -> OverallMeasure:
    """The primary measure; who fared better where none was chosen."""
    return main_measure_of(weighing.study.sheet.comparing)


def turning(
    study: StudyReading, weighing: Weighing, *, apart: bool = False, stopped: Callable[[], bool] = lambda: False
) -> Turning:
    """Would the verdicts on the main measure turn? Computed once for each state of the study.

    Args:
        study: The open study, or a snapshot of it for another thread.
        weighing: Its figures.
        apart: Compute it in a process of its own, so that nobody's keys wait.
        stopped: Is asked meanwhile whether to give up.

    Raises:
        Stopped: Where it was given up.
    """
    from fresh_chair.services.system.child import Stopped, in_child

    def going() -> None:
        if stopped():
            raise Stopped

    def compute() -> Turning:
        # Chosen times stand in the facts; the other one is taken from the attempts as they were.
        arguments = weighing, study.facts(), main_measure(weighing)
        if apart:
            found: Turning = next(in_child(f"{__name__}:turning_of", *arguments, stopped=stopped))
            return found
        return turning_of(*arguments, going)

    name = f"turning by {weighing.choice}"
    return study.computed.value(name, study.study, study.entries, compute)


def turning_of(
    weighing: Weighing,
    facts: Sequence[AttemptFact],
    measure: OverallMeasure,
    going: Callable[[], object] = lambda: None,
) -> Turning:
    """The same from the figures and the attempts as they were.

    Args:
        weighing: The figures.
        facts: The attempts with hands and elapsed time.
        measure: The one in question.
        going: Is called before each way that is tried.
    """
    from fresh_chair.core.figures.overall.turning import would_it_turn

    study, choice = weighing.study, weighing.choice
    other: TimeMeasure = "elapsed" if choice.times == "hands" else "hands"
    original = [fact for fact in facts if fact.own or not choice.own]

    return would_it_turn(
        weighing.facts,
        [chair.letter for chair in study.chairs],
        {card.id: float(card.limit_seconds) for card in study.cards},
        sus_scores(weighing.satisfaction),
        weighing.overall[measure],
        study.sheet.comparing.pairs_of_letters,
        by_time(original, other),
        going,
    )
