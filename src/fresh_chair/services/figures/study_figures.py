"""Weighing the open study."""

from collections.abc import Callable
from dataclasses import replace

from fresh_chair.core.figures.whole.own_scales import own_answers
from fresh_chair.core.figures.whole.reach import reach_of
from fresh_chair.core.figures.whole.study_figures import (
    FigureChoice,
    Weighing,
    mixed_states,
    preference_of,
    satisfaction_of,
    weigh_facts,
)
from fresh_chair.core.plan.sheet import RateInterval, TimeMeasure
from fresh_chair.services.figures.severity_thresholds import severity_thresholds
from fresh_chair.services.study.snapshot import StudyReading


def weigh(
    study: StudyReading,
    *,
    own: bool = False,
    times: TimeMeasure | None = None,
    interval: RateInterval | None = None,
    apart: bool = False,
    stopped: Callable[[], bool] = lambda: False,
) -> Weighing:
    """All figures of a study, from its journals as they are; computed once for each of its states.

    Args:
        study: The open study, or a snapshot of it for another thread.
        own: Count only outcomes that are the reviewer's own evidence: done, seen, measured.
        times, interval: Instead of those of the study sheet.
        apart: Compute them in a process of its own, so that nobody's keys wait.
        stopped: Is asked meanwhile whether to give up.

    Raises:
        Stopped: Where it was given up.
    """
    comparing = study.study.sheet.comparing
    choice = FigureChoice(own, times or comparing.times, interval or comparing.interval)
    name = f"weighing by {choice}"
    found = study.computed.value(name, study.study, study.entries, lambda: _weighing(study, choice, apart, stopped))
    mixed = mixed_states(study.study, study.sittings, study.chair_states())
    late = {
        path: tuple(each.wall_ns for each in study.plans.changes() if each.sittings and each.path == path)
        for path in ("sheet.comparing", "sheet.thresholds")
    }
    thresholds = (*found.thresholds, *severity_thresholds(study))
    return replace(
        found,
        mixed=mixed,
        preference=preference_of(study.study, study.sittings),
        decided_late=late["sheet.comparing"],
        thresholds=thresholds,
        thresholds_late=late["sheet.thresholds"],
    )


def _weighing(study: StudyReading, choice: FigureChoice, apart: bool, stopped: Callable[[], bool]) -> Weighing:
    from fresh_chair.services.system.child import Stopped, in_child

    reach = reach_of(study.study, study.sittings)
    answers = own_answers(study.study, study.sittings)
    parts = study.study, study.facts(), satisfaction_of(study.study, study.sittings), choice, reach, answers
    if apart:
        found: Weighing = next(in_child(f"{weigh_facts.__module__}:weigh_facts", *parts, stopped=stopped))
        return found

    def going() -> None:
        if stopped():
            raise Stopped

    return weigh_facts(*parts, going=going)
