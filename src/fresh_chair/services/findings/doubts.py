"""Judgements that lack their ground, or that the study's own record contradicts: shown to the reviewer first."""

from collections.abc import Iterator

from fresh_chair.core.findings.sorted_findings import FindingView, SortedFindings
from fresh_chair.core.findings.state.finding import Finding
from fresh_chair.core.findings.state.parts import Cause, Excuse, Trial
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.findings.workarounds import ways_untied
from fresh_chair.services.study.snapshot import StudyReading


def finding_doubts(opened: StudyReading) -> list[str]:
    """A sentence for each finding without evidence or reason, and for each cause that a trial contradicts."""
    found = sorted_findings_of(opened)
    told = [f"F{view.finding.number} {said}" for view in found.findings for said in _of_one(view)]
    told += [
        f"attempt {attempt} was completed only with a workaround, and is tied to none"
        for attempt in ways_untied(opened)
    ]
    return [*told, *_unjudged(found)]


def _of_one(view: FindingView) -> Iterator[str]:
    finding = view.finding
    if not view.observations and not finding.earlier:
        yield "stands on no observation"
    for judged in finding.severities.values():
        if not judged.reason.strip():
            yield "has a severity without a reason"
    suggestion = view.suggestion.severity
    if finding.severity is not None and suggestion is not None and abs(finding.severity - suggestion) > 1:
        yield f"is judged {finding.severity}, and the marks suggest {suggestion}"
    yield from _excuses(finding)
    yield from _causes(finding)


def _excuses(finding: Finding) -> Iterator[str]:
    for part in finding.held("excuse"):
        if isinstance(part, Excuse):
            if not part.reason.strip():
                yield "has an excuse without a reason"
            if part.sort == "early release" and not part.again:
                yield "is excused as an early release, and nothing says when to look again"


def _causes(finding: Finding) -> Iterator[str]:
    trials = [part for part in finding.held("trial") if isinstance(part, Trial)]
    causes = [part for part in finding.held("cause") if isinstance(part, Cause)]
    for cause in causes:
        mine = [trial for trial in trials if trial.cause == cause.id]
        if cause.sure == "shown" and any(trial.result != "helped" for trial in mine):
            against = next(trial for trial in mine if trial.result != "helped")
            yield f"has a cause called shown ({cause.words}), and a trial {against.result}: {against.tried}"
        if cause.sure == "shown" and not mine:
            yield f"has a cause called shown ({cause.words}) that nothing was tried for"
    if sum(cause.sure == "shown" for cause in causes) > 1:
        yield "has more than one cause called shown"


def _unjudged(found: SortedFindings) -> Iterator[str]:
    count = sum(view.severity is None and view.finding.sort == "problem" for view in found.findings)
    if count:
        yield f"{count} problems have no severity yet" if count > 1 else "one problem has no severity yet"
