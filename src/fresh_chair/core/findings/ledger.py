"""Snags into findings: a ledger of its own, appended like a journal and replayed like one."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Annotated, Literal, get_args

from annotated_types import Ge, Le, MaxLen, MinLen

from fresh_chair.core.clock import Moment
from fresh_chair.core.codec import Unreadable, decoded, encoded, gated
from fresh_chair.core.errors import Refused

SEVERITY_WORDS = ("no trouble", "cosmetic", "minor", "major", "catastrophe")
LEDGER_VERSION = 1
Title = Annotated[str, MinLen(1), MaxLen(200)]
Reason = Annotated[str, MinLen(1), MaxLen(2000)]


@dataclass(frozen=True, slots=True)
class FindingOpened:
    """Snags have something in common, and it has a name now."""

    finding: str
    title: Title
    kind: Literal["finding_opened"] = "finding_opened"


@dataclass(frozen=True, slots=True)
class FindingRetitled:
    """The finding is called something better."""

    finding: str
    title: Title
    kind: Literal["finding_retitled"] = "finding_retitled"


@dataclass(frozen=True, slots=True)
class SnagJoined:
    """A snag belongs to a finding; it leaves the one it was in before."""

    finding: str
    snag: str
    kind: Literal["snag_joined"] = "snag_joined"


@dataclass(frozen=True, slots=True)
class SnagParted:
    """A snag is loose again."""

    snag: str
    kind: Literal["snag_parted"] = "snag_parted"


@dataclass(frozen=True, slots=True)
class SeverityJudged:
    """How bad the finding is, 0 to 4 (Nielsen 1994), and why."""

    finding: str
    severity: Annotated[int, Ge(0), Le(4)]
    reason: Reason
    kind: Literal["severity_judged"] = "severity_judged"


SortContent = FindingOpened | FindingRetitled | SnagJoined | SnagParted | SeverityJudged | Unreadable
_KINDS: dict[str, type] = {
    part.__dataclass_fields__["kind"].default: part for part in get_args(SortContent) if part is not Unreadable
}


@dataclass(frozen=True, slots=True)
class SortEntry:
    """One line of the ledger."""

    number: int
    moment: Moment
    author: str
    content: SortContent


@dataclass(slots=True)
class Finding:
    """The common trouble of several snags."""

    id: str
    title: str
    severity: int | None = None
    reason: str = ""
    snags: list[str] = field(default_factory=list)


@dataclass(slots=True)
class Ledger:
    """The findings, and which snag is in which.

    Attributes:
        entries: How many entries the ledger has.
        left_out: Why an entry does not count, by its number: it cannot be read, or speaks of one that cannot.
    """

    findings: dict[str, Finding] = field(default_factory=dict)
    finding_of: dict[str, str] = field(default_factory=dict)
    entries: int = 0
    left_out: dict[int, str] = field(default_factory=dict)

    def apply(self, content: SortContent) -> None:
        """Advance by one entry.

        Raises:
            Refused: Where it names a finding that is not there, or would change nothing.
        """
        match content:
            case FindingOpened(finding=finding, title=title):
                if finding in self.findings:
                    raise Refused("There is a finding with this id already.")
                self.findings[finding] = Finding(finding, title)
            case FindingRetitled(finding=finding, title=title):
                self._finding(finding).title = title
            case SnagJoined(finding=finding, snag=snag):
                target = self._finding(finding)
                if self.finding_of.get(snag) == finding:
                    raise Refused("The snag is in that finding already.")
                self._part(snag)
                target.snags.append(snag)
                self.finding_of[snag] = finding
            case SnagParted(snag=snag):
                if snag not in self.finding_of:
                    raise Refused("The snag is loose already.")
                self._part(snag)
            case SeverityJudged(finding=finding, severity=severity, reason=reason):
                target = self._finding(finding)
                target.severity, target.reason = severity, reason
        self.entries += 1

    def _finding(self, finding: str) -> Finding:
        if finding not in self.findings:
            raise Refused("There is no such finding.")
        return self.findings[finding]

    def _part(self, snag: str) -> None:
        before = self.finding_of.pop(snag, None)
        if before is not None:
            self.findings[before].snags.remove(snag)


def replay_ledger(entries: Iterable[SortEntry]) -> Ledger:
    """The findings of a ledger; entries that cannot be read or cannot follow are left out, and listed."""
    ledger = Ledger()
    for entry in entries:
        if isinstance(entry.content, Unreadable):
            ledger.left_out[entry.number] = entry.content.why
        else:
            try:
                ledger.apply(entry.content)
            except Refused as problem:
                ledger.left_out[entry.number] = f"Sorting, entry {entry.number}: {problem.title}"
        ledger.entries = entry.number
    return ledger


def sort_body(content: SortContent) -> str:
    """The content as the JSON object that is stored."""
    return encoded(content)


def sort_body_to_keep(content: SortContent) -> str:
    """As `sort_body`, once it has been read back. Raises InputError where no file may hold it."""
    return gated(content, sort_body, lambda body: sort_content_from(body, version=LEDGER_VERSION, where="It"))


def sort_content_from(body: str, *, version: int, where: str) -> SortContent:
    """The content that a stored JSON object holds.

    Raises:
        JournalError: Where the kind or version is unknown, or a field is missing or out of range.
    """
    content: SortContent = decoded(_KINDS, body, version=version, known=LEDGER_VERSION, where=where)
    return content
