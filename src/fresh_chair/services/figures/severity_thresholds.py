"""Thresholds of severity, judged by the findings themselves."""

from fresh_chair.core.figures.estimate import Estimate
from fresh_chair.core.figures.thresholds import Held, HeldThreshold
from fresh_chair.core.findings.sorted_findings import SortedFindings
from fresh_chair.core.findings.state.finding import Scope
from fresh_chair.core.plan.sheet import Threshold
from fresh_chair.core.text import count_of
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.study.snapshot import StudyReading


def severity_thresholds(opened: StudyReading) -> tuple[HeldThreshold, ...]:
    """Each threshold of severity at each chair: open while a problem met there is not judged, or none was sorted."""
    thresholds = [each for each in opened.study.sheet.thresholds if each.measure == "severity"]
    if not thresholds:
        return ()
    found = sorted_findings_of(opened)
    return tuple(_held(found, threshold, chair.letter) for threshold in thresholds for chair in opened.study.chairs)


def _held(found: SortedFindings, threshold: Threshold, chair: str) -> HeldThreshold:
    here = [
        view
        for view in found.findings
        if view.finding.sort == "problem" and any(each.chair == chair and each.people for each in view.spread)
    ]
    judged = [view.finding.severity_in(Scope(chair=chair)) for view in here]
    severities = [each.severity for each in judged if each is not None]
    unjudged = len(here) - len(severities)
    loose = sum(each.chair == chair for each in found.loose)
    worst = max(severities, default=None)
    notes = [f"{unjudged} not judged" if unjudged else "", f"{count_of(loose, 'remark')} not sorted" if loose else ""]
    state: Held = "open"
    if worst is not None and worst > threshold.value:
        state = "not met"
    elif not unjudged and not loose and here:
        state = "met"
    estimate = Estimate(worst, None, None, len(here), "worst severity as met", note=", ".join(filter(None, notes)))
    return HeldThreshold(threshold, chair, state, estimate)
