"""Weighing the open study."""

from collections.abc import Callable
from dataclasses import replace

from fresh_chair.core.figures.whole.study_figures import Weighing, mixed_states, satisfaction_of, weigh_facts
from fresh_chair.services.figures.severity_thresholds import severity_thresholds
from fresh_chair.services.study.snapshot import StudyReading


def weigh(
    study: StudyReading, *, own: bool = False, apart: bool = False, stopped: Callable[[], bool] = lambda: False
) -> Weighing:
    """All figures of a study, from its journals as they are; computed once for each of its states.

    Args:
        study: The open study, or a snapshot of it for another thread.
        own: Count only outcomes that are the reviewer's own evidence: done, seen, measured.
        apart: Compute them in a process of its own, so that nobody's keys wait.
        stopped: Is asked meanwhile whether to give up.

    Raises:
        Stopped: Where it was given up.
    """
    name = "weighing of own evidence" if own else "weighing"
    found = study.computed.value(name, study.study, study.entries, lambda: _weighing(study, own, apart, stopped))
    mixed = mixed_states(study.study, study.sittings, study.chair_states())
    late = tuple(each.wall_ns for each in study.plans.changes() if each.sittings and each.path == "sheet.comparing")
    thresholds = (*found.thresholds, *severity_thresholds(study))
    return replace(found, mixed=mixed, decided_late=late, thresholds=thresholds)


def _weighing(study: StudyReading, own: bool, apart: bool, stopped: Callable[[], bool]) -> Weighing:
    from fresh_chair.services.system.child import Stopped, in_child

    parts = study.study, study.facts(), satisfaction_of(study.study, study.sittings)
    if apart:
        found: Weighing = next(in_child(f"{weigh_facts.__module__}:weigh_facts", *parts, own, stopped=stopped))
        return found

    def going() -> None:
        if stopped():
            raise Stopped

    return weigh_facts(*parts, own, going=going)
