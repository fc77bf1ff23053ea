"""Observations into findings: a ledger of its own, appended like a journal and replayed like one."""

import json
from collections.abc import Sequence
from dataclasses import asdict, fields, is_dataclass
from typing import get_args

from fresh_chair.core import ledger
from fresh_chair.core.codec import Unreadable
from fresh_chair.core.findings.entries.judgements import (
    CausePut,
    ExcusePut,
    FactorCorrected,
    OccurrenceSaid,
    PartDropped,
    SettlingOpened,
    SeverityJudged,
    SeverityRated,
    SeverityWithdrawn,
    TrialPut,
    WorkaroundPut,
)
from fresh_chair.core.findings.entries.membership import (
    EarlierNamed,
    EvidenceJoined,
    EvidenceParted,
    FindingMerged,
    FindingOpened,
    FindingPlaced,
    FindingRetitled,
    FindingSorted,
    FindingTagged,
    SnagJoined,
    SnagParted,
)
from fresh_chair.core.findings.state.finding import Findings
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import Codec, EntryStruck, LedgerEntry

SEVERITY_WORDS = ("no trouble", "cosmetic", "minor", "major", "catastrophe")
NAME = "Sorting"

SortContent = (
    FindingOpened
    | FindingRetitled
    | SnagJoined
    | SnagParted
    | EvidenceJoined
    | EvidenceParted
    | FindingMerged
    | FindingSorted
    | FindingTagged
    | FindingPlaced
    | EarlierNamed
    | SeverityJudged
    | SeverityWithdrawn
    | SeverityRated
    | SettlingOpened
    | FactorCorrected
    | OccurrenceSaid
    | CausePut
    | TrialPut
    | WorkaroundPut
    | ExcusePut
    | PartDropped
    | EntryStruck
    | Unreadable
)


def _body(content: SortContent) -> str | None:
    """The stored JSON of a content that holds a part of a finding; None leaves it to its plain fields."""
    if not any(is_dataclass(getattr(content, each.name)) for each in fields(content)):
        return None
    return json.dumps(asdict(content), ensure_ascii=False, allow_nan=False)


CODEC = Codec(get_args(SortContent), version=1, write=_body)


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
    findings = Findings(numbers=_numbers(entries))

    def take(entry: SortEntry) -> None:
        assert not isinstance(entry.content, EntryStruck | Unreadable)
        entry.content.apply(findings, entry)

    lenient = aside is None
    ledger.replay(entries, take, name=NAME, left_out=findings.left_out, lenient=lenient, aside=aside or ())
    findings.entries = len(entries)
    return findings


def _numbers(entries: Sequence[SortEntry]) -> dict[str, int]:
    """The number of each finding that was ever opened; one that was struck keeps its number for good."""
    numbers: dict[str, int] = {}
    for entry in entries:
        if isinstance(entry.content, FindingOpened):
            numbers.setdefault(entry.content.finding, len(numbers) + 1)
    return numbers
