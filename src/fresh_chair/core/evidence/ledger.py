"""The ledger of a study's evidence records: put down, changed, dropped; sealed forecasts stay as they were."""

import json
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass, field, fields, replace
from typing import Annotated, Any, Literal, get_args

from fresh_chair.core import ledger
from fresh_chair.core.bounds import MaxLen
from fresh_chair.core.clock import Moment
from fresh_chair.core.codec import Unfit, Unreadable, built, plain_json
from fresh_chair.core.errors import JournalError, Refused
from fresh_chair.core.evidence.records import KINDS, EvidenceRecord, Forecast, Link, kind_of
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import Codec, EntryStruck, LedgerEntry, Reason

NAME = "Evidence"
# What of a forecast can still be said once it is sealed.
_AFTER_SEALING = ("outcome", "note", "sealed")


@frozen
class EvidencePut:
    """A record, new or changed.

    Args:
        source: Title of the study it was carried over from; empty for one of this study's own.
    """

    record: EvidenceRecord
    source: Annotated[str, MaxLen(200)] = ""
    kind: Literal["evidence_put"] = "evidence_put"


@frozen
class EvidenceDropped:
    """A record does not hold, with why; it stays where it is, and so do the links to it."""

    record: Annotated[str, MaxLen(20)]
    id: Annotated[str, MaxLen(40)]
    reason: Reason
    kind: Literal["evidence_dropped"] = "evidence_dropped"


EvidenceContent = EvidencePut | EvidenceDropped | EntryStruck | Unreadable


@frozen
class EvidenceEntry(LedgerEntry):
    """One entry of the ledger of evidence."""

    content: EvidenceContent


def evidence_id(number: int) -> str:
    """The id of an entry, by which it can be struck.

    >>> evidence_id(7)
    'evidence-7'
    """
    return f"evidence-{number}"


@frozen
class HeldEvidence:
    """A record as it stands: when it first came in, when it was changed last, and the study it came from."""

    record: EvidenceRecord
    first: Moment
    last: Moment
    source: str = ""


@dataclass(slots=True)
class EvidenceState:
    """The records that hold, by kind and id, in the order they came in; and those that were dropped, with why."""

    records: dict[str, dict[str, HeldEvidence]] = field(default_factory=dict)
    dropped: dict[str, dict[str, str]] = field(default_factory=dict)
    left_out: dict[str, str] = field(default_factory=dict)

    def held(self, kind: str) -> list[HeldEvidence]:
        """The records of one kind."""
        return list(self.records.get(kind, {}).values())

    def links(self) -> Iterator[Link]:
        """Every link that holds."""
        for held in self.held("link"):
            if isinstance(held.record, Link):
                yield held.record

    def find(self, kind: str, record_id: str) -> HeldEvidence | None:
        """A record by its id."""
        return self.records.get(kind, {}).get(record_id)


def _body(content: EvidenceContent) -> str:
    if isinstance(content, EvidencePut):
        put: dict[str, Any] = {
            "kind": content.kind,
            "record": kind_of(content.record),
            "values": asdict(content.record),
        }
        if content.source:
            put["source"] = content.source
        return json.dumps(put, ensure_ascii=False, allow_nan=False)
    plain = {part.name: getattr(content, part.name) for part in fields(content)}
    return json.dumps(plain, ensure_ascii=False, allow_nan=False)


def _read(body: str, where: str) -> EvidencePut | None:
    """A record; its values are of the record's own kind, and are checked as that."""
    if not isinstance(body, str) or '"evidence_put"' not in body:
        return None
    try:
        raw = plain_json(body)
    except ValueError as problem:
        raise JournalError(f"{where} cannot be read: it is not JSON.") from problem
    if not isinstance(raw, dict) or raw.get("kind") != "evidence_put":
        return None
    source = raw.get("source", "")
    if not isinstance(source, str) or len(source) > 200:
        raise JournalError(f"{where} cannot be read: it does not say rightly where it was carried over from.")
    return EvidencePut(_record(raw, where), source)


def _record(raw: Mapping[str, Any], where: str) -> EvidenceRecord:
    kind = KINDS.get(str(raw.get("record")))
    if kind is None or set(raw) - {"kind", "record", "values", "source"}:
        raise JournalError(f"{where} cannot be read: this program knows no such record.")
    try:
        record: EvidenceRecord = built(kind, raw.get("values"), "")
    except Unfit as problem:
        raise JournalError(f"{where} cannot be read: {problem}.") from problem
    return record


CODEC = Codec(get_args(EvidenceContent), version=1, read=_read, write=_body)


def replay_evidence(entries: Sequence[EvidenceEntry], *, aside: frozenset[str] | None = None) -> EvidenceState:
    """The state of the ledger.

    Args:
        entries: All of its entries.
        aside: Ids of the entries that were left out before; any other that cannot follow raises. None lets all be.

    Raises:
        JournalError: Where `aside` is given, for the first entry that cannot follow.
    """
    state = EvidenceState()
    ledger.replay(
        entries,
        lambda entry: _take(state, entry),
        name=NAME,
        left_out=state.left_out,
        lenient=aside is None,
        aside=aside or (),
    )
    return state


def _take(state: EvidenceState, entry: EvidenceEntry) -> None:
    match entry.content:
        case EvidencePut(record=record, source=source):
            kind = kind_of(record)
            of_kind = state.records.setdefault(kind, {})
            before = of_kind.get(record.id)
            if before is not None:
                _require_unsealed(before.record, record)
            first = entry.moment if before is None else before.first
            kept = source or ("" if before is None else before.source)
            of_kind[record.id] = HeldEvidence(record, first, entry.moment, kept)
            state.dropped.get(kind, {}).pop(record.id, None)
            _seal_what_it_bears_on(state, record)
        case EvidenceDropped(record=kind, id=name, reason=reason):
            if state.records.get(kind, {}).pop(name, None) is None:
                raise Refused("There is no such record that could be dropped.")
            state.dropped.setdefault(kind, {})[name] = reason


def _require_unsealed(before: EvidenceRecord, record: EvidenceRecord) -> None:
    """Refuse a change of a prediction that is sealed."""
    if not isinstance(before, Forecast) or not isinstance(record, Forecast) or not before.sealed:
        return
    for part in fields(before):
        if part.name not in _AFTER_SEALING and getattr(before, part.name) != getattr(record, part.name):
            raise Refused("A sealed forecast cannot be changed.", "How it came out can be said; a new one can be made.")
    if not record.sealed:
        raise Refused("A seal is not taken off a forecast.", "Drop it with a reason, and make a new one.")


def _seal_what_it_bears_on(state: EvidenceState, record: EvidenceRecord) -> None:
    """Seal a forecast at the first evidence that speaks for it or against it, and with its own outcome."""
    names = set()
    if isinstance(record, Link):
        names = _forecasts_in(record)
    if isinstance(record, Forecast) and record.outcome != "open":
        names = {record.id}
    if isinstance(record, Forecast) and any(record.id in _forecasts_in(link) for link in state.links()):
        names = {record.id}
    for name in names:
        held = state.find("forecast", name)
        if held is not None and isinstance(held.record, Forecast) and not held.record.sealed:
            sealed = replace(held.record, sealed=True)
            state.records["forecast"][name] = HeldEvidence(sealed, held.first, held.last, held.source)


def _forecasts_in(link: Link) -> set[str]:
    """The forecasts that a link bears on, by their ids."""
    if link.relation not in ("speaks for", "speaks against"):
        return set()
    return {target.removeprefix("forecast:") for target in (link.first, link.second) if target.startswith("forecast:")}


def circles(state: EvidenceState) -> list[tuple[str, ...]]:
    """The circles of `because of` among the links: each as the targets it goes through."""
    causes: dict[str, list[str]] = {}
    for link in state.links():
        if link.relation == "because of":
            causes.setdefault(link.first, []).append(link.second)
    found: list[tuple[str, ...]] = []
    done: set[str] = set()
    for start in causes:
        path, stack = [start], [iter(causes.get(start, ()))]
        while stack:
            target = next(stack[-1], None)
            if target is None:
                stack.pop()
                done.add(path.pop())
            elif target in path:
                circle = tuple(path[path.index(target) :])
                if set(circle) not in [set(each) for each in found]:
                    found.append(circle)
            elif target not in done:
                path.append(target)
                stack.append(iter(causes.get(target, ())))
    return found
