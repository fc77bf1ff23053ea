"""Weighing the open study."""

from fresh_chair.core.figures.study_figures import Weighing, satisfaction_of, weigh_facts
from fresh_chair.services.study.snapshot import StudyReading


def weigh(opened: StudyReading) -> Weighing:
    """All figures of the open study, from its journals as they are now; computed once for each of its states."""
    study = opened.study
    return opened.computed.value(
        "weighing",
        study,
        opened.entries,
        lambda: weigh_facts(study, opened.facts(), satisfaction_of(study, opened.sittings)),
    )
