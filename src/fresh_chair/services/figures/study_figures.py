"""Weighing the open study."""

from fresh_chair.core.figures.study_figures import Weighing, satisfaction_of, weigh_facts
from fresh_chair.services.study.open_study import OpenStudy


def weigh(opened: OpenStudy) -> Weighing:
    """All figures of the open study, from its journals as they are now."""
    return weigh_facts(opened.study, opened.facts(), satisfaction_of(opened.study, opened.sittings))
