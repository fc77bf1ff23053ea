"""The ledger of each chair: its kinds of entries, their replay, and the state they add up to."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field, fields
from typing import Annotated, Any, Literal, get_args

from fresh_chair.core import ledger
from fresh_chair.core.bounds import MaxLen
from fresh_chair.core.chair.freshness import Freshness
from fresh_chair.core.chair.identity import Fact, Unread
from fresh_chair.core.chair.readings import Taken
from fresh_chair.core.chair.record_time import NOT_KNOWN, When, when_of
from fresh_chair.core.chair.records import KINDS, Claim, Reading, Record, kind_of
from fresh_chair.core.checks.meaning import Found
from fresh_chair.core.clock import Moment, elapsed_ns
from fresh_chair.core.codec import Unfit, Unreadable, built, plain_json
from fresh_chair.core.errors import JournalError
from fresh_chair.core.evidence.attachments import Attachment
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import Codec, EntryStruck, LedgerEntry, Typed

NAME = "Chairs"
Way = Annotated[str, MaxLen(200)]


@frozen
class ReachChosen:
    """How the chair is reached: `here`, `ssh user@host:port`, `courier`; empty for not at all."""

    way: Way
    kind: Literal["reach_chosen"] = "reach_chosen"


@frozen
class IdentityRead:
    """Who the chair said it was."""

    way: Way
    facts: tuple[Fact, ...]
    unread: tuple[Unread, ...] = ()
    kind: Literal["identity_read"] = "identity_read"


@frozen
class BaselineTaken:
    """A baseline: the chair's state when it was fresh, kept under the number `state`."""

    way: Way
    state: int
    keys: int
    kind: Literal["baseline_taken"] = "baseline_taken"


@frozen
class NoiseLearnt:
    """Names that move by themselves are left out of drift from here on."""

    names: tuple[str, ...]
    reason: Typed
    kind: Literal["noise_learnt"] = "noise_learnt"


@frozen
class NoiseTakenBack:
    """A name that was left out counts again."""

    names: tuple[str, ...]
    reason: Typed
    kind: Literal["noise_taken_back"] = "noise_taken_back"


@frozen
class Differing:
    """One name that differs from the baseline: its value before and now; None for not there."""

    name: str
    before: str | None
    now: str | None


@frozen
class FreshnessRead:
    """The result of a comparison with the baseline.

    Args:
        told: The differences in words.
        differing: The differences; the first of them where there are very many.
        count: How many there are.
        hidden: How many more were left out.
        unread: Sections that could not be compared, with why.
    """

    way: Way
    freshness: Freshness
    told: tuple[str, ...]
    differing: tuple[Differing, ...]
    count: int
    hidden: int
    compared: int
    unread: tuple[Unread, ...] = ()
    kind: Literal["freshness_read"] = "freshness_read"


@frozen
class Answered:
    """A chair's answer to one question of a check."""

    ask: str
    value: str | None
    why: str = ""


@frozen
class ChecksAsked:
    """A chair's answers to checks, before an attempt or after."""

    way: Way
    when: Literal["before", "after"]
    answers: tuple[Answered, ...]
    kind: Literal["checks_asked"] = "checks_asked"


@frozen
class RecordPut:
    """A record, new or changed.

    Args:
        source: Title of the study it was carried over from; empty for one of this study's own.
        source_wall_ns: When it was put down there.
    """

    record: Record
    source: Annotated[str, MaxLen(200)] = ""
    source_wall_ns: int = 0
    kind: Literal["record_put"] = "record_put"


@frozen
class RecordStruck:
    """A record does not hold, with why; it stays where it is."""

    record: str
    id: str
    reason: Typed
    kind: Literal["record_struck"] = "record_struck"


@frozen
class RecordAttached:
    """A file shows a record."""

    record: str
    id: str
    attachment: Attachment
    kind: Literal["record_attached"] = "record_attached"


@frozen
class ChairClosed:
    """The chair is no part of the study any more; its letter may be another one's later."""

    kind: Literal["book_closed"] = "book_closed"


ChairContent = (
    ReachChosen
    | IdentityRead
    | BaselineTaken
    | NoiseLearnt
    | NoiseTakenBack
    | FreshnessRead
    | ChecksAsked
    | RecordPut
    | RecordStruck
    | RecordAttached
    | ChairClosed
    | EntryStruck
    | Unreadable
)


@frozen
class ChairEntry(LedgerEntry):
    """One entry about one chair.

    Args:
        chair: The chair's letter.
    """

    content: ChairContent
    chair: str


def chair_id(number: int) -> str:
    """The id of an entry about a chair, by which it can be struck.

    >>> chair_id(7)
    'chair-7'
    """
    return f"chair-{number}"


@frozen
class Held:
    """A record as it stands, and when it first came in."""

    record: Record
    moment: Moment
    source: str = ""
    source_wall_ns: int = 0

    @property
    def when(self) -> When:
        """When it was so: as it says itself, or when it was put down, be it in the study it was carried over from."""
        return when_of(self.record.at, self.source_wall_ns or self.moment.wall_ns)


@dataclass(slots=True)
class ChairLedger:
    """The state of one chair's ledger.

    Attributes:
        before: What the chair answered before an attempt since it was last compared, by what was asked.
    """

    reach: str = ""
    identity: tuple[Moment, IdentityRead] | None = None
    baselines: list[tuple[Moment, BaselineTaken]] = field(default_factory=list)
    noise: dict[str, str] = field(default_factory=dict)
    proofs: list[tuple[Moment, FreshnessRead]] = field(default_factory=list)
    asked: list[tuple[Moment, ChecksAsked]] = field(default_factory=list)
    before: dict[str, Found] = field(default_factory=dict)
    records: dict[str, dict[str, Held]] = field(default_factory=dict)
    attachments: list[RecordAttached] = field(default_factory=list)

    def held(self, kind: str) -> list[Held]:
        """The records of one kind that hold, in the order they came in."""
        return list(self.records.get(kind, {}).values())

    @property
    def baseline(self) -> tuple[Moment, BaselineTaken] | None:
        """The newest baseline, which every state is compared with."""
        return self.baselines[-1] if self.baselines else None

    @property
    def proof(self) -> tuple[Moment, FreshnessRead] | None:
        """The newest comparison, where it was with the present baseline."""
        if not self.proofs or not self.baselines:
            return None
        newest = self.proofs[-1]
        return newest if newest[0].wall_ns >= self.baselines[-1][0].wall_ns else None

    @property
    def open_claims(self) -> int:
        """How many claims are not looked at."""
        return sum(isinstance(h.record, Claim) and h.record.answer == "not looked at" for h in self.held("claim"))


LedgersByChair = Mapping[str, ChairLedger]


def _body(content: ChairContent) -> str:
    if isinstance(content, RecordPut):
        put: dict[str, Any] = {
            "kind": content.kind,
            "record": kind_of(content.record),
            "values": asdict(content.record),
        }
        if content.source:
            put |= {"source": content.source, "source_wall_ns": content.source_wall_ns}
        return json.dumps(put, ensure_ascii=False, allow_nan=False)
    plain = {part.name: _plain(getattr(content, part.name)) for part in fields(content)}
    return json.dumps(plain, ensure_ascii=False, allow_nan=False)


def _plain(value: Any) -> Any:
    if isinstance(value, tuple):
        return [_plain(item) for item in value]
    return asdict(value) if hasattr(value, "__dataclass_fields__") else value


def _read(body: str, where: str) -> RecordPut | None:
    """A record; its values are of the record's own kind, and are checked as that."""
    if not isinstance(body, str) or '"record_put"' not in body:
        return None
    try:
        raw = plain_json(body)
    except ValueError as problem:
        raise JournalError(f"{where} cannot be read: it is not JSON.") from problem
    return _record_put(raw, where) if isinstance(raw, dict) and raw.get("kind") == "record_put" else None


CODEC = Codec(get_args(ChairContent), version=1, read=_read, write=_body)


def _record_put(raw: dict[str, Any], where: str) -> RecordPut:
    record = _record(raw, where)
    source, since = raw.get("source", ""), raw.get("source_wall_ns", 0)
    fits = isinstance(source, str) and len(source) <= 200 and type(since) is int and 0 <= since < 2**63
    if not fits or set(raw) - {"kind", "record", "values", "source", "source_wall_ns"}:
        raise JournalError(f"{where} cannot be read: it does not say rightly where it was carried over from.")
    return RecordPut(record, source, since)


def _record(raw: dict[str, Any], where: str) -> Record:
    kind = KINDS.get(str(raw.get("record")))
    if kind is None:
        raise JournalError(f"{where} cannot be read: this program knows no such record.")
    try:
        record: Record = built(kind, raw.get("values"), "")
    except Unfit as problem:
        raise JournalError(f"{where} cannot be read: {problem}.") from problem
    return record


def replay_chairs(
    entries: Sequence[ChairEntry], left_out: dict[str, str] | None = None, *, aside: frozenset[str] | None = None
) -> dict[str, ChairLedger]:
    """The state of every chair's ledger, by letter.

    Args:
        entries: All entries about all chairs.
        left_out: Takes why an entry does not count, by its id.
        aside: Ids of the entries that were left out before; any other that cannot follow raises. None lets all be.

    Raises:
        JournalError: Where `aside` is given, for the first entry that cannot follow.
    """
    ledgers: dict[str, ChairLedger] = {}

    def take(entry: ChairEntry) -> None:
        if isinstance(entry.content, ChairClosed):
            ledgers.pop(entry.chair, None)
        else:
            _take_in(ledgers.setdefault(entry.chair, ChairLedger()), entry)

    why = {} if left_out is None else left_out
    ledger.replay(entries, take, name=NAME, left_out=why, lenient=aside is None, aside=aside or ())
    return ledgers


def _take_in(known: ChairLedger, entry: ChairEntry) -> None:
    moment = entry.moment
    match entry.content:
        case ReachChosen(way=way):
            known.reach = way
        case IdentityRead() as read:
            known.identity = (moment, read)
        case BaselineTaken() as taken:
            known.baselines.append((moment, taken))
        case NoiseLearnt(names=names, reason=reason):
            known.noise.update(dict.fromkeys(names, reason))
        case NoiseTakenBack(names=names):
            for name in names:
                known.noise.pop(name, None)
        case FreshnessRead() as read:
            known.proofs.append((moment, read))
            # Whatever was so before an earlier attempt says nothing about the next one.
            known.before.clear()
        case ChecksAsked() as asked:
            known.asked.append((moment, asked))
            if asked.when == "before":
                known.before.update({each.ask: Found(each.value, each.why) for each in asked.answers})
        case RecordPut(record=record, source=source, source_wall_ns=since):
            held = known.records.setdefault(kind_of(record), {})
            first = held.get(record.id)
            if first is not None:
                held[record.id] = Held(record, first.moment, first.source, first.source_wall_ns)
            else:
                held[record.id] = Held(record, moment, source, since)
        case RecordStruck(record=kind, id=name):
            known.records.get(kind, {}).pop(name, None)
            known.attachments = [each for each in known.attachments if (each.record, each.id) != (kind, name)]
        case RecordAttached() as attached:
            known.attachments.append(attached)


def install_times(held: Sequence[Held]) -> dict[str, int | None]:
    """When each entry of an installation log was, in nanoseconds since the first; None where that is not known.

    Those whose time is the moment of their key are placed by its ticks; those that say when, by that.
    """
    if not held:
        return {}
    first = held[0]
    found: dict[str, int | None] = {}
    for each in held:
        if not each.record.at and not first.record.at:
            found[each.record.id] = elapsed_ns(first.moment, each.moment)
        elif each.when.clock == first.when.clock != NOT_KNOWN:
            found[each.record.id] = max(each.when.ns - first.when.ns, 0)
        else:
            found[each.record.id] = None
    return found


def readings_of(by_letter: LedgersByChair, machines: Mapping[str, str]) -> list[Taken]:
    """Every reading that holds, of every chair.

    Args:
        by_letter: What is known of the chairs.
        machines: What each stands on, by its letter; virtual ones say so.
    """
    return [
        Taken(held.record, held.when, letter, machines.get(letter, ""), held.source)
        for letter, of_chair in by_letter.items()
        for held in of_chair.held("reading")
        if isinstance(held.record, Reading)
    ]
