"""A finding and all findings of a study, as far as the sorting has come."""

from collections.abc import Iterator
from dataclasses import dataclass, field

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import Refused
from fresh_chair.core.findings.state.parts import Excuse, FindingPart, FindingSort, Occurrence, Workaround
from fresh_chair.core.frozen import frozen


@frozen
class Scope:
    """For whom a severity holds: empty fields mean everywhere."""

    chair: str = ""
    audience: str = ""
    workaround_known: bool = False

    @property
    def words(self) -> str:
        """It in words.

        >>> Scope("B", "", True).words
        'at B, once the workaround is known'
        """
        parts = [f"at {self.chair}" if self.chair else "", f"for {self.audience}" if self.audience else ""]
        parts.append("once the workaround is known" if self.workaround_known else "")
        return ", ".join(part for part in parts if part) or "everywhere"

    def holds_for(self, asked: "Scope") -> int:
        """How narrowly it answers for another scope: how many of its fields are given; -1 where it does not."""
        pairs = (
            (self.chair, asked.chair),
            (self.audience, asked.audience),
            (self.workaround_known, asked.workaround_known),
        )
        if any(mine and mine != theirs for mine, theirs in pairs):
            return -1
        return sum(bool(mine) for mine, _ in pairs)


EVERYWHERE = Scope()


@frozen
class JudgedSeverity:
    """A severity with its reason; `settled` where several raters' were settled into it."""

    severity: int
    reason: str
    author: str
    moment: Moment
    settled: bool = False


@frozen
class Rating:
    """One rater's severity of one finding; `blind` where no other rater's could be seen yet."""

    rater: str
    severity: int
    reason: str
    moment: Moment
    blind: bool = True


@frozen
class Version:
    """One state of a part of a finding, with its moment and author; None for a part that was dropped with `reason`."""

    part: FindingPart | None
    moment: Moment
    author: str
    reason: str = ""


@frozen
class CorrectedFactor:
    """A factor of the suggested severity that the reviewer knows better, with the reason."""

    value: str
    reason: str


@dataclass(slots=True)
class Finding:
    """The common ground of several observations.

    Attributes:
        number: Its number for good, F1, F2, ...
        merged: Numbers of the findings that were merged into it.
        evidence: Targets of the observations it stands on, in the order they were joined.
        severities: The judgements by scope; the last one of a scope holds.
        parts: Causes, trials, workarounds, excuses by kind and id: every version, the last one holds.
        under: The finding at the head of its siblings, by id; empty for none.
        earlier: The carried finding that it is, by id; empty where its title tells.
    """

    id: str
    title: str
    number: int = 0
    sort: FindingSort = "problem"
    merged: list[int] = field(default_factory=list)
    evidence: list[str] = field(default_factory=list)
    tags: list[str] = field(default_factory=list)
    severities: dict[Scope, JudgedSeverity] = field(default_factory=dict)
    earlier_severities: list[tuple[Scope, JudgedSeverity]] = field(default_factory=list)
    ratings: dict[str, Rating] = field(default_factory=dict)
    factors: dict[str, CorrectedFactor] = field(default_factory=dict)
    parts: dict[str, dict[str, list[Version]]] = field(default_factory=dict)
    occurrence: Occurrence = field(default_factory=Occurrence)
    under: str = ""
    earlier: str = ""

    @property
    def name(self) -> str:
        """Its number as it is spoken of, with those that lead to it.

        >>> Finding("x", "two menus", 3, merged=[5]).name
        'F3 (and F5)'
        """
        more = f" (and {', '.join(f'F{number}' for number in self.merged)})" if self.merged else ""
        return f"F{self.number}{more}"

    @property
    def severity(self) -> int | None:
        """The severity that holds everywhere; None where none was judged."""
        judged = self.severities.get(EVERYWHERE)
        return None if judged is None else judged.severity

    @property
    def reason(self) -> str:
        """The reason of that severity."""
        judged = self.severities.get(EVERYWHERE)
        return "" if judged is None else judged.reason

    def severity_in(self, asked: Scope) -> JudgedSeverity | None:
        """The narrowest severity that holds for a scope; of several as narrow, the one judged last."""
        found = [(scope.holds_for(asked), each.moment.wall_ns, each) for scope, each in self.severities.items()]
        fitting = [each for each in found if each[0] >= 0]
        return max(fitting, key=lambda each: each[:2])[2] if fitting else None

    @property
    def excused(self) -> int | None:
        """The lowest excused severity, never above the one as met; None where nothing excuses it."""
        parts = [part for part in self.held("excuse") if isinstance(part, Excuse)]
        values = [part.severity for part in parts if part.severity is not None]
        if not values or self.severity is None:
            return None
        return min(*values, self.severity)

    def held(self, kind: str) -> list[FindingPart]:
        """The parts of one kind that hold, in the order they came in."""
        last = (versions[-1].part for versions in self.parts.get(kind, {}).values())
        return [part for part in last if part is not None]

    def versions(self, kind: str, part: str) -> list[Version]:
        """All versions of one part, oldest first."""
        return self.parts.get(kind, {}).get(part, [])

    @property
    def newcomers_find_a_way(self) -> bool:
        """Whether a workaround helps that newcomers come upon alone."""
        return any(isinstance(each, Workaround) and each.known_to_newcomers for each in self.held("workaround"))


@dataclass(slots=True)
class Findings:
    """All findings, and which observation is in which.

    Attributes:
        findings_of: The findings an observation is in, by its target.
        numbers: Every number that was ever given, by the finding's id.
        merged_into: The finding that another one was merged into, by id.
        settling: Whether the moderator has opened the settling view.
        entries: How many entries the ledger has.
        left_out: Why an entry does not count, by its id: it cannot be read, or speaks of one that cannot.
    """

    by_id: dict[str, Finding] = field(default_factory=dict)
    findings_of: dict[str, list[str]] = field(default_factory=dict)
    numbers: dict[str, int] = field(default_factory=dict)
    merged_into: dict[str, str] = field(default_factory=dict)
    settling: bool = False
    entries: int = 0
    left_out: dict[str, str] = field(default_factory=dict)

    def finding(self, finding: str) -> Finding:
        """The finding of that id, or the one it was merged into. Raises Refused where there is none."""
        seen: set[str] = set()
        while finding in self.merged_into and finding not in seen:
            seen.add(finding)
            finding = self.merged_into[finding]
        if finding not in self.by_id:
            raise Refused("There is no such finding.")
        return self.by_id[finding]

    def by_number(self, number: int) -> Finding | None:
        """The finding with that number, or the one it was merged into."""
        for name, given in self.numbers.items():
            if given == number and (name in self.by_id or name in self.merged_into):
                return self.finding(name)
        return None

    def join(self, finding: Finding, target: str) -> None:
        """Let an observation be evidence of a finding."""
        finding.evidence.append(target)
        self.findings_of.setdefault(target, []).append(finding.id)

    def part(self, finding: Finding, target: str) -> None:
        """Take an observation out of a finding."""
        finding.evidence.remove(target)
        self.findings_of[target].remove(finding.id)
        if not self.findings_of[target]:
            del self.findings_of[target]

    def siblings(self, finding: Finding) -> Iterator[Finding]:
        """The head of a finding and the others under it; of a head, those under it."""
        head = finding.under or finding.id
        for each in self.by_id.values():
            if each.id != finding.id and (each.id == head or each.under == head):
                yield each
