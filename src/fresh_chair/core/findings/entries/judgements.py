"""Judgements of findings: severities, ratings, factors, causes, trials, workarounds, excuses."""

from typing import Annotated, Literal

from fresh_chair.core.bounds import MaxLen, MinLen
from fresh_chair.core.errors import Refused
from fresh_chair.core.findings.state.finding import (
    CorrectedFactor,
    Finding,
    Findings,
    JudgedSeverity,
    Rating,
    Scope,
    Version,
)
from fresh_chair.core.findings.state.parts import (
    Cause,
    Excuse,
    FindingPart,
    Id,
    Occurrence,
    PartKind,
    Trial,
    Workaround,
    part_kind,
)
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import LedgerEntry, Reason
from fresh_chair.core.plan.chairs import Severity

Name = Annotated[str, MinLen(1), MaxLen(40)]
Factor = Literal["impact", "met by most", "met by one alone", "comes back", "got round"]
FACTOR_VALUES: dict[str, tuple[str, ...]] = {
    "impact": ("1", "2", "3", "4"),
    "met by most": ("yes", "no"),
    "met by one alone": ("yes", "no"),
    "comes back": ("every time", "sometimes", "no"),
    "got round": ("yes", "no"),
}


@frozen
class SeverityJudged:
    """How bad the finding is, 0 to 4 (Nielsen 1994), for whom, and why.

    Args:
        chair, audience, workaround_known: For whom; everywhere where all are left out.
        settled: Whether several raters' severities were settled into it.
    """

    finding: str
    severity: Severity
    reason: Reason
    chair: Annotated[str, MaxLen(1)] = ""
    audience: Annotated[str, MaxLen(80)] = ""
    workaround_known: bool = False
    settled: bool = False
    kind: Literal["severity_judged"] = "severity_judged"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Keep the severity with its reason; the last one of its scope holds, and the earlier ones stay."""
        finding = findings.finding(self.finding)
        scope = Scope(self.chair, self.audience, self.workaround_known)
        before = finding.severities.pop(scope, None)
        if before is not None:
            finding.earlier_severities.append((scope, before))
        finding.severities[scope] = JudgedSeverity(self.severity, self.reason, entry.author, entry.moment, self.settled)


@frozen
class SeverityWithdrawn:
    """A narrower severity does not hold any more, with why; the wider one does again."""

    finding: str
    reason: Reason
    chair: Annotated[str, MaxLen(1)] = ""
    audience: Annotated[str, MaxLen(80)] = ""
    workaround_known: bool = False
    kind: Literal["severity_withdrawn"] = "severity_withdrawn"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Let the wider one hold."""
        finding = findings.finding(self.finding)
        scope = Scope(self.chair, self.audience, self.workaround_known)
        before = finding.severities.pop(scope, None)
        if before is None:
            raise Refused(f"No severity was judged {scope.words}.")
        finding.earlier_severities.append((scope, before))


@frozen
class SeverityRated:
    """One rater's severity, given without seeing the others' until the settling view is opened."""

    finding: str
    rater: Name
    severity: Severity
    reason: Reason
    kind: Literal["severity_rated"] = "severity_rated"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Keep the rating; once the ratings can be seen, a first one is not blind, and a blind one stays."""
        finding = findings.finding(self.finding)
        before = finding.ratings.get(self.rater)
        if findings.settling and before is not None and before.blind:
            raise Refused("The ratings can be seen by now; this one stays as it was given.", "Settle it instead.")
        blind = not findings.settling
        finding.ratings[self.rater] = Rating(self.rater, self.severity, self.reason, entry.moment, blind)


@frozen
class SettlingOpened:
    """From here on all raters' severities can be seen."""

    kind: Literal["settling_opened"] = "settling_opened"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Open the settling view."""
        if findings.settling:
            raise Refused("The ratings can be seen already.")
        findings.settling = True


@frozen
class FactorCorrected:
    """A factor of the suggested severity is otherwise than the marks say, with why."""

    finding: str
    factor: Factor
    value: Annotated[str, MaxLen(20)]
    reason: Reason
    kind: Literal["factor_corrected"] = "factor_corrected"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Keep the correction; the last one holds."""
        if self.value not in FACTOR_VALUES[self.factor]:
            raise Refused(f"“{self.factor}” is one of {', '.join(FACTOR_VALUES[self.factor])}.")
        findings.finding(self.finding).factors[self.factor] = CorrectedFactor(self.value, self.reason)


@frozen
class OccurrenceSaid:
    """Whether the finding comes and goes."""

    finding: str
    occurrence: Occurrence
    kind: Literal["occurrence_said"] = "occurrence_said"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Keep it; the last one holds."""
        findings.finding(self.finding).occurrence = self.occurrence


@frozen
class CausePut:
    """A hypothesis of the cause, new or revised; the earlier ones stay with their dates and reasons."""

    finding: str
    cause: Cause
    kind: Literal["cause_put"] = "cause_put"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Keep this version."""
        _put(findings.finding(self.finding), self.cause, entry)


@frozen
class TrialPut:
    """Something that was tried, new or corrected."""

    finding: str
    trial: Trial
    kind: Literal["trial_put"] = "trial_put"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Keep this version."""
        finding = findings.finding(self.finding)
        if self.trial.cause and self.trial.cause not in finding.parts.get("cause", {}):
            raise Refused("The finding has no such cause.")
        _put(finding, self.trial, entry)


@frozen
class WorkaroundPut:
    """A way around, new or changed."""

    finding: str
    workaround: Workaround
    kind: Literal["workaround_put"] = "workaround_put"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Keep this version."""
        _put(findings.finding(self.finding), self.workaround, entry)


@frozen
class ExcusePut:
    """A reason to forgive the finding, new or changed."""

    finding: str
    excuse: Excuse
    kind: Literal["excuse_put"] = "excuse_put"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Keep this version; an excuse lowers the severity as met or leaves it, and raises none."""
        finding = findings.finding(self.finding)
        if self.excuse.severity is None:
            _put(finding, self.excuse, entry)
            return
        if finding.severity is None:
            raise Refused("There is no severity yet that could be excused.", "Say first how bad it is as met.")
        if self.excuse.severity > finding.severity:
            raise Refused("An excuse may lower the severity only.", f"As met it is {finding.severity}.")
        _put(finding, self.excuse, entry)


@frozen
class PartDropped:
    """A cause, trial, workaround or excuse does not hold, with why; it stays on record."""

    finding: str
    part: PartKind
    id: Id
    reason: Reason
    kind: Literal["part_dropped"] = "part_dropped"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Let it hold no more."""
        versions = findings.finding(self.finding).versions(self.part, self.id)
        if not versions or versions[-1].part is None:
            raise Refused(f"The finding has no such {self.part}.")
        versions.append(Version(None, entry.moment, entry.author, self.reason))


def _put(finding: Finding, part: FindingPart, entry: LedgerEntry) -> None:
    by_id = finding.parts.setdefault(part_kind(part), {})
    by_id.setdefault(part.id, []).append(Version(part, entry.moment, entry.author))
