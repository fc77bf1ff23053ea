"""The whole study as JSON, in a documented form; and every cell's figures."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import field
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from fresh_chair.core.chair.identity import Fact, Unread
from fresh_chair.core.chair.ledger import ChairLedger
from fresh_chair.core.chair.records import Claim, ConsentItem, FirstPage, InstallStep, Look, Reading, WarningMet
from fresh_chair.core.codec import Unreadable
from fresh_chair.core.evidence.hunches import Hunch
from fresh_chair.core.evidence.judged import ChairVerdict, ContradictionAnswer, Criterion, Score
from fresh_chair.core.evidence.ledger import EvidenceDropped, EvidenceEntry, EvidencePut
from fresh_chair.core.evidence.records import (
    Advice,
    Against,
    Disclosure,
    Forecast,
    InventoryItem,
    LaterItem,
    Link,
    Reference,
    ReleaseChange,
    kind_of,
)
from fresh_chair.core.evidence.telling import FinalDocument, MakersReply, OwnParagraph, QuoteChoice
from fresh_chair.core.findings.ledger import CODEC, SortContent, SortEntry
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import EntryStruck, Signature
from fresh_chair.core.plan.chair_states import ChairState
from fresh_chair.core.plan.chairs import Chair, Machine
from fresh_chair.core.plan.changes import Change
from fresh_chair.core.plan.fixtures import FixtureCheck
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.journal import ENTRY_VERSION, Content, Entry

# Letters that act on a terminal or reorder a line; in JSON they can only stand in texts, where a code stands for them.
_ACTING = re.compile("[\x7f-\x9f\xad\u061c\u200b-\u200f\u2028-\u202e\u2060-\u206f\ufeff]")


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid")


class MomentData(_Part):
    """When: ticks since boot in nanoseconds, which boot, and the wall time in nanoseconds since 1970 UTC."""

    ticks_ns: int
    boot: str
    wall_ns: int


class EntryData(_Part):
    """One entry of a sitting's journal."""

    number: int
    id: str
    version: int
    moment: MomentData
    author: str
    content: Annotated[Content, Field(discriminator="kind")]


class ChairStateData(_Part):
    """A chair at the beginning of a sitting; where it was changed, since when, nanoseconds since 1970 UTC."""

    since_wall_ns: int | None
    chair: Chair
    machine: Machine


class SittingData(_Part):
    """One sitting's journal."""

    number: int
    chair_state: ChairStateData | None
    entries: list[EntryData]


class SortEntryData(_Part):
    """One entry of the sorting ledger."""

    number: int
    version: int
    moment: MomentData
    author: str
    content: Annotated[SortContent, Field(discriminator="kind")]


class RecordData(_Part):
    """One record about a chair that holds, and when it was first put down, in nanoseconds since 1970 UTC."""

    kind: str
    wall_ns: int
    carried_from: str
    record: Claim | Reading | InstallStep | FirstPage | ConsentItem | WarningMet | Look


class RecordFileData(_Part):
    """A file that shows a record; its name and location stay in the study file."""

    kind: str
    record: str
    file: str
    size: int
    sha256: str
    begin_seconds: float | None
    end_seconds: float | None


class FreshnessData(_Part):
    """One comparison of a chair with its baseline, and when, in nanoseconds since 1970 UTC."""

    wall_ns: int
    freshness: Literal["fresh", "not fresh", "not checked"]
    told: list[str]
    compared: int
    differing: int
    left_out: int


class ChairData(_Part):
    """A chair's ledger as data; the way to it, and the names in its home folder, stay in the study file."""

    letter: str
    facts: list[Fact]
    unread: list[Unread]
    baseline_wall_ns: int | None
    baseline_names: int | None
    moves_by_itself: list[str]
    freshness: list[FreshnessData]
    records: list[RecordData]
    files: list[RecordFileData]


class EvidencePutData(_Part):
    """An evidence record, new or changed."""

    kind: Literal["evidence_put"]
    record_kind: str
    record: (
        Reference | Against | ReleaseChange | InventoryItem | Link | Forecast | LaterItem | Advice | Disclosure
        | ChairVerdict | Criterion | Score | ContradictionAnswer
        | OwnParagraph | QuoteChoice | MakersReply | FinalDocument
    )  # fmt: skip


class EvidenceDroppedData(_Part):
    """A record that does not hold, with why."""

    kind: Literal["evidence_dropped"]
    record_kind: str
    id: str
    reason: str


class EvidenceEntryData(_Part):
    """One entry of the ledger of evidence."""

    number: int
    moment: MomentData
    author: str
    content: EvidencePutData | EvidenceDroppedData | EntryStruck | Unreadable


class ChangeData(_Part):
    """One dated change of the plan; `place` is the path of the field."""

    number: int
    wall_ns: int
    author: str
    place: str
    before: str
    after: str
    sittings: int


class StudyExport(_Part):
    """Everything a study file holds."""

    format: Literal["fresh-chair-study"]
    format_version: Literal[13]
    study: Study
    sittings: list[SittingData]
    sorting: list[SortEntryData]
    hunches: list[Hunch]
    fixture_checks: list[FixtureCheck]
    changes: list[ChangeData]
    chairs: list[ChairData]
    evidence: list[EvidenceEntryData]
    signatures: list[Signature]


@frozen(kw_only=True)
class Preparation:
    """The preparations beside the plan, and the plan's changes."""

    hunches: Sequence[Hunch] = ()
    fixture_checks: Sequence[FixtureCheck] = ()
    changes: Sequence[Change] = ()
    chairs: Sequence[ChairData] = ()
    chair_states: Mapping[int, ChairState] = field(default_factory=dict)
    evidence: Sequence[EvidenceEntry] = ()
    signatures: Sequence[Signature] = ()


def _change(change: Change) -> ChangeData:
    return ChangeData(
        number=change.number,
        wall_ns=change.wall_ns,
        author=change.author,
        place=change.path,
        before=change.before,
        after=change.after,
        sittings=change.sittings,
    )


def _state(state: ChairState | None) -> ChairStateData | None:
    if state is None:
        return None
    return ChairStateData(since_wall_ns=state.since_wall_ns, chair=state.chair, machine=state.machine)


def chair_data(letter: str, ledger: ChairLedger) -> ChairData:
    """A chair's ledger, as it is exported."""
    read = ledger.identity[1] if ledger.identity is not None else None
    baseline = ledger.baseline
    return ChairData(
        letter=letter,
        facts=list(read.facts) if read else [],
        unread=list(read.unread) if read else [],
        baseline_wall_ns=baseline[0].wall_ns if baseline else None,
        baseline_names=baseline[1].keys if baseline else None,
        moves_by_itself=list(ledger.noise),
        freshness=[
            FreshnessData(
                wall_ns=moment.wall_ns,
                freshness=proof.freshness,
                told=list(proof.told),
                compared=proof.compared,
                differing=proof.count,
                left_out=proof.hidden,
            )
            for moment, proof in ledger.proofs
        ],
        records=[
            RecordData(kind=kind, wall_ns=held.moment.wall_ns, carried_from=held.source, record=held.record)
            for kind, of_kind in ledger.records.items()
            for held in of_kind.values()
        ],
        files=[
            RecordFileData(
                kind=each.record,
                record=each.id,
                file=each.attachment.copy_name,
                size=each.attachment.size,
                sha256=each.attachment.sha256,
                begin_seconds=each.attachment.begin_seconds,
                end_seconds=each.attachment.end_seconds,
            )
            for each in ledger.attachments
        ],
    )


def study_json(
    study: Study,
    journals: Mapping[int, Sequence[Entry]],
    ledger: Sequence[SortEntry],
    preparation: Preparation,
) -> str:
    """The whole study as JSON text; `schema()` describes it."""
    export = StudyExport(
        format="fresh-chair-study",
        format_version=13,
        study=study,
        sittings=[
            SittingData(
                number=number,
                chair_state=_state(preparation.chair_states.get(number)),
                entries=[
                    EntryData(
                        number=entry.number,
                        id=entry.id,
                        version=ENTRY_VERSION,
                        moment=_moment(entry),
                        author=entry.author,
                        content=entry.content,
                    )
                    for entry in journals[number]
                ],
            )
            for number in sorted(journals)
        ],
        sorting=[
            SortEntryData(
                number=entry.number,
                version=CODEC.version,
                moment=_moment(entry),
                author=entry.author,
                content=entry.content,
            )
            for entry in ledger
        ],
        hunches=list(preparation.hunches),
        fixture_checks=list(preparation.fixture_checks),
        changes=[_change(change) for change in preparation.changes],
        chairs=list(preparation.chairs),
        evidence=[_evidence_entry(entry) for entry in preparation.evidence],
        signatures=list(preparation.signatures),
    )
    return _ACTING.sub(lambda match: f"\\u{ord(match[0]):04x}", export.model_dump_json(indent=1))


def _evidence_entry(entry: EvidenceEntry) -> EvidenceEntryData:
    content: EvidencePutData | EvidenceDroppedData | EntryStruck | Unreadable
    match entry.content:
        case EvidencePut(record=record):
            content = EvidencePutData(kind="evidence_put", record_kind=kind_of(record), record=record)
        case EvidenceDropped(record=kind, id=name, reason=reason):
            content = EvidenceDroppedData(kind="evidence_dropped", record_kind=kind, id=name, reason=reason)
        case other:
            content = other
    moment = MomentData(ticks_ns=entry.moment.ticks_ns, boot=entry.moment.boot, wall_ns=entry.moment.wall_ns)
    return EvidenceEntryData(number=entry.number, moment=moment, author=entry.author, content=content)


def schema() -> dict[str, Any]:
    """The JSON Schema of `study_json`."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **StudyExport.model_json_schema()}


def _moment(entry: Entry | SortEntry) -> MomentData:
    return MomentData(ticks_ns=entry.moment.ticks_ns, boot=entry.moment.boot, wall_ns=entry.moment.wall_ns)
