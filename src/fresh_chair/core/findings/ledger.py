"""Snags into findings: a ledger of its own, appended like a journal and replayed like one."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Annotated, Literal, get_args

from fresh_chair.core import ledger
from fresh_chair.core.bounds import Ge, Le, MaxLen, MinLen
from fresh_chair.core.codec import Unreadable
from fresh_chair.core.errors import Refused
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import Codec, EntryStruck, LedgerEntry, Reason

SEVERITY_WORDS = ("no trouble", "cosmetic", "minor", "major", "catastrophe")
NAME = "Sorting"
Title = Annotated[str, MinLen(1), MaxLen(200)]


@dataclass(slots=True)
class Finding:
    """The common trouble of several snags."""

    id: str
    title: str
    severity: int | None = None
    reason: str = ""
    snags: list[str] = field(default_factory=list)


@dataclass(slots=True)
class Findings:
    """The findings, and which snag is in which.

    Attributes:
        entries: How many entries the ledger has.
        left_out: Why an entry does not count, by its id: it cannot be read, or speaks of one that cannot.
    """

    by_id: dict[str, Finding] = field(default_factory=dict)
    finding_of: dict[str, str] = field(default_factory=dict)
    entries: int = 0
    left_out: dict[str, str] = field(default_factory=dict)

    def finding(self, finding: str) -> Finding:
        """The finding of that id. Raises Refused where there is none."""
        if finding not in self.by_id:
            raise Refused("There is no such finding.")
        return self.by_id[finding]

    def part(self, snag: str) -> None:
        """Make a snag loose, wherever it was."""
        before = self.finding_of.pop(snag, None)
        if before is not None:
            self.by_id[before].snags.remove(snag)


@frozen
class FindingOpened:
    """Snags have something in common, and it has a name now."""

    finding: str
    title: Title
    kind: Literal["finding_opened"] = "finding_opened"

    def apply(self, findings: Findings) -> None:
        """Add the finding."""
        if self.finding in findings.by_id:
            raise Refused("There is a finding with this id already.")
        findings.by_id[self.finding] = Finding(self.finding, self.title)


@frozen
class FindingRetitled:
    """The finding is called something better."""

    finding: str
    title: Title
    kind: Literal["finding_retitled"] = "finding_retitled"

    def apply(self, findings: Findings) -> None:
        """Change its title."""
        findings.finding(self.finding).title = self.title


@frozen
class SnagJoined:
    """A snag belongs to a finding; it leaves the one it was in before."""

    finding: str
    snag: str
    kind: Literal["snag_joined"] = "snag_joined"

    def apply(self, findings: Findings) -> None:
        """Move the snag there."""
        target = findings.finding(self.finding)
        if findings.finding_of.get(self.snag) == self.finding:
            raise Refused("The snag is in that finding already.")
        findings.part(self.snag)
        target.snags.append(self.snag)
        findings.finding_of[self.snag] = self.finding


@frozen
class SnagParted:
    """A snag is loose again."""

    snag: str
    kind: Literal["snag_parted"] = "snag_parted"

    def apply(self, findings: Findings) -> None:
        """Make it loose."""
        if self.snag not in findings.finding_of:
            raise Refused("The snag is loose already.")
        findings.part(self.snag)


@frozen
class SeverityJudged:
    """How bad the finding is, 0 to 4 (Nielsen 1994), and why."""

    finding: str
    severity: Annotated[int, Ge(0), Le(4)]
    reason: Reason
    kind: Literal["severity_judged"] = "severity_judged"

    def apply(self, findings: Findings) -> None:
        """Keep the severity with its reason; the last one holds."""
        target = findings.finding(self.finding)
        target.severity, target.reason = self.severity, self.reason


SortContent = FindingOpened | FindingRetitled | SnagJoined | SnagParted | SeverityJudged | EntryStruck | Unreadable
CODEC = Codec(get_args(SortContent), version=1)


@frozen
class SortEntry(LedgerEntry):
    """One entry of the sorting ledger."""

    content: SortContent


def sort_id(number: int) -> str:
    """The id of an entry of the sorting ledger, by which it can be struck.

    >>> sort_id(7)
    'sort-7'
    """
    return f"sort-{number}"


def replay_sorting(entries: Sequence[SortEntry], *, aside: frozenset[str] | None = None) -> Findings:
    """The findings of a ledger; entries that cannot be read or cannot follow are left out, and listed.

    Args:
        entries: The ledger.
        aside: Ids of the entries that were left out before; any other that cannot follow raises. None lets all be.

    Raises:
        JournalError: Where `aside` is given, for the first entry that cannot follow.
    """
    findings = Findings()

    def take(entry: SortEntry) -> None:
        assert not isinstance(entry.content, EntryStruck | Unreadable)
        entry.content.apply(findings)

    lenient = aside is None
    ledger.replay(entries, take, name=NAME, left_out=findings.left_out, lenient=lenient, aside=aside or ())
    findings.entries = len(entries)
    return findings
