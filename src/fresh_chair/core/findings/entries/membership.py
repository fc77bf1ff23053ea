"""Findings opened and named, observations joined and parted, findings merged and put under a head."""

from typing import Annotated, Literal

from fresh_chair.core.bounds import MaxLen, MinLen
from fresh_chair.core.errors import Refused
from fresh_chair.core.evidence.targets import Target
from fresh_chair.core.findings.state.finding import Finding, Findings
from fresh_chair.core.findings.state.parts import FindingSort
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import LedgerEntry

Title = Annotated[str, MinLen(1), MaxLen(200)]
Tag = Annotated[str, MinLen(1), MaxLen(60)]


@frozen
class FindingOpened:
    """Observations have something in common, and it has a name now."""

    finding: str
    title: Title
    kind: Literal["finding_opened"] = "finding_opened"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Add the finding."""
        if self.finding in findings.by_id:
            raise Refused("There is a finding with this id already.")
        findings.by_id[self.finding] = Finding(self.finding, self.title, findings.numbers[self.finding])


@frozen
class FindingRetitled:
    """The finding is called something better."""

    finding: str
    title: Title
    kind: Literal["finding_retitled"] = "finding_retitled"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Change its title."""
        findings.finding(self.finding).title = self.title


@frozen
class SnagJoined:
    """A snag belongs to a finding; it leaves the others it was in. Written by earlier versions."""

    finding: str
    snag: str
    kind: Literal["snag_joined"] = "snag_joined"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Move the snag there."""
        finding, target = findings.finding(self.finding), f"mark:{self.snag}"
        if finding.id in findings.findings_of.get(target, ()):
            raise Refused("The snag is in that finding already.")
        for other in list(findings.findings_of.get(target, ())):
            findings.part(findings.by_id[other], target)
        findings.join(finding, target)


@frozen
class SnagParted:
    """A snag is loose again. Written by earlier versions."""

    snag: str
    kind: Literal["snag_parted"] = "snag_parted"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Make it loose."""
        target = f"mark:{self.snag}"
        if target not in findings.findings_of:
            raise Refused("The snag is loose already.")
        for other in list(findings.findings_of[target]):
            findings.part(findings.by_id[other], target)


@frozen
class EvidenceJoined:
    """An observation is evidence of a finding; others that it feeds keep it."""

    finding: str
    target: Target
    kind: Literal["evidence_joined"] = "evidence_joined"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Add it to the finding's evidence."""
        finding = findings.finding(self.finding)
        if self.target in finding.evidence:
            raise Refused("It is in that finding already.")
        findings.join(finding, self.target)


@frozen
class EvidenceParted:
    """An observation is no evidence of a finding any more."""

    finding: str
    target: Target
    kind: Literal["evidence_parted"] = "evidence_parted"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Take it out of the finding's evidence."""
        finding = findings.finding(self.finding)
        if self.target not in finding.evidence:
            raise Refused("It is not in that finding.")
        findings.part(finding, self.target)


@frozen
class FindingMerged:
    """A finding turns out to be another one; its number leads there from now on."""

    finding: str
    into: str
    kind: Literal["finding_merged"] = "finding_merged"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Give all of it to the other one; judgements of the other one hold."""
        gone, into = findings.finding(self.finding), findings.finding(self.into)
        if gone is into:
            raise Refused("They are one finding already.")
        for target in list(gone.evidence):
            findings.part(gone, target)
            if target not in into.evidence:
                findings.join(into, target)
        into.merged += [gone.number, *gone.merged]
        into.tags += [tag for tag in gone.tags if tag not in into.tags]
        into.severities = gone.severities | into.severities
        into.ratings = gone.ratings | into.ratings
        for kind, by_id in gone.parts.items():
            into.parts[kind] = by_id | into.parts.get(kind, {})
        for each in findings.by_id.values():
            if each.under == gone.id:
                each.under = into.id if each is not into else ""
        into.under = "" if into.under == gone.id else into.under
        del findings.by_id[gone.id]
        findings.merged_into[gone.id] = into.id


@frozen
class FindingSorted:
    """The sort a finding is of: a problem, a strength, an oddity, a matter of taste, a request."""

    finding: str
    sort: FindingSort
    kind: Literal["finding_sorted"] = "finding_sorted"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Keep its sort."""
        findings.finding(self.finding).sort = self.sort


@frozen
class FindingTagged:
    """A tag of the reviewer's own is put on a finding, or taken off."""

    finding: str
    tag: Tag
    on: bool = True
    kind: Literal["finding_tagged"] = "finding_tagged"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Keep the tag, or drop it."""
        finding = findings.finding(self.finding)
        if (self.tag in finding.tags) == self.on:
            raise Refused("It has that tag already." if self.on else "It has no such tag.")
        if self.on:
            finding.tags.append(self.tag)
        else:
            finding.tags.remove(self.tag)


@frozen
class FindingPlaced:
    """A finding stands under another one as its head, or under none."""

    finding: str
    head: str = ""
    kind: Literal["finding_placed"] = "finding_placed"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Keep its head; a head stands under none itself."""
        finding = findings.finding(self.finding)
        head = findings.finding(self.head) if self.head else None
        if head is finding:
            raise Refused("A finding is not its own head.")
        if head is not None and (head.under or any(each.under == finding.id for each in findings.by_id.values())):
            raise Refused("A head stands under no other finding.", "Put them all under one head.")
        finding.under = "" if head is None else head.id


@frozen
class EarlierNamed:
    """A finding is one that was carried over from an earlier study; empty says that it is none of them."""

    finding: str
    carried: Annotated[str, MaxLen(80)]
    kind: Literal["earlier_named"] = "earlier_named"

    def apply(self, findings: Findings, entry: LedgerEntry) -> None:
        """Keep the earlier one's id."""
        findings.finding(self.finding).earlier = self.carried
