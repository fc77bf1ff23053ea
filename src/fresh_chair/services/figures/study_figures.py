"""Weighing the open study."""

from fresh_chair.core.figures.study_figures import Weighing, satisfaction_of, weigh_facts
from fresh_chair.services.study.open_study import OpenStudy


def weigh(opened: OpenStudy) -> Weighing:
    """All figures of the open study, from its journals as they are now; computed once for each of its states."""
    study, sittings = opened.study, opened.sittings
    return opened.computed.value(
        "weighing", study, sittings, lambda: weigh_facts(study, opened.facts(), satisfaction_of(study, sittings))
    )
