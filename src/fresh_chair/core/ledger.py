"""Append-only ledgers: their entries, their codec, strikes, and the replay that all of them share.

A sitting's journal, the sorting of findings and the ledger of each chair are such. An entry is appended and never
changed; a strike is an entry of its own. On disk a content is a kind, a version and a JSON object: no class path, no
framework type. A kind or version that is not known is an error that names the entry, never a guess.
"""

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from contextlib import suppress
from typing import Annotated, Any, Literal, TypeVar

from fresh_chair.core.bounds import MaxLen, MinLen
from fresh_chair.core.clock import Moment
from fresh_chair.core.codec import Unreadable, decoded, encoded, gated
from fresh_chair.core.errors import JournalError, Refused
from fresh_chair.core.frozen import frozen

MAX_WORDS = 2000
Typed = Annotated[str, MaxLen(MAX_WORDS)]
Reason = Annotated[str, MinLen(1), MaxLen(MAX_WORDS)]


@frozen
class LedgerEntry:
    """One entry: its content, the moment of the key, and the author.

    Args:
        id: Unique in the study.
        number: Place in its ledger, from 1 without gaps.
    """

    id: str
    number: int
    moment: Moment
    author: str
    content: Any


@frozen
class EntryStruck:
    """A correction: an earlier entry does not hold, with why. The earlier entry stays where it is."""

    entry: str
    reason: Typed
    kind: Literal["struck"] = "struck"


E = TypeVar("E", bound=LedgerEntry)


Ledger = Literal["sitting", "sorting", "evidence", "chairs"]


@frozen
class Signature:
    """The signature that a server has put under an entry.

    Attributes:
        ledger: Of a *sitting*, of *sorting*, of *evidence*, or of *chairs*.
        sitting: The sitting's number; 0 for the other ledgers.
        number: The entry's.
        login: The login that wrote it; empty where none was noted.
        station: The machine that sent it; empty where none was noted.
        kept_wall_ns: When the server took it, by its own clock, in nanoseconds since 1970 UTC; None where that was not
            noted.
        digest: The digest of the entry and of the one before it, in hexadecimal.
    """

    ledger: Ledger
    sitting: int
    number: int
    login: str
    station: str
    kept_wall_ns: int | None
    digest: str

    @property
    def key(self) -> tuple[str, int, int]:
        """Ledger, sitting and number, which tell it apart."""
        return self.ledger, self.sitting, self.number

    @property
    def place(self) -> str:
        """The entry's place in words."""
        return f"{f'Sitting {self.sitting}' if self.sitting else self.ledger.capitalize()}, entry {self.number}"


@frozen
class Signatures:
    """The signatures under a study's entries.

    Attributes:
        signed: False where the study's place puts no signatures under entries.
        kept: Of every entry that is there.
        erased: Ledger, sitting and number of those that an erasure on record has changed or taken away.
    """

    signed: bool = True
    kept: tuple[Signature, ...] = ()
    erased: frozenset[tuple[str, int, int]] = frozenset()


def kind_name(kind: type) -> str:
    """The name on disk of a class of contents: the default of its field `kind`."""
    return str(kind.__dataclass_fields__["kind"].default)  # type: ignore[attr-defined]


class Codec:
    """Contents of one kind of ledger to stored JSON and back.

    Args:
        kinds: The classes of its contents, each with a `kind` of its own.
        version: The version this program writes.
        read: Reads contents that need more than their fields; None from it leaves them to the fields.
        write: Writes them.
    """

    def __init__(
        self,
        kinds: Iterable[type],
        *,
        version: int,
        read: Callable[[str, str], Any] | None = None,
        write: Callable[[Any], str | None] | None = None,
    ) -> None:
        self.kinds: Mapping[str, type] = {kind_name(kind): kind for kind in kinds if kind is not Unreadable}
        self.version = version
        self._read, self._write = read, write

    def body_of(self, content: Any) -> str:
        """The content as the JSON object that is stored."""
        body = self._write(content) if self._write is not None else None
        return encoded(content) if body is None else body

    def body_to_keep(self, content: Any) -> str:
        """As `body_of`, once it has been read back. Raises InputError where no file may hold it."""
        return gated(content, self.body_of, lambda body: self.content_from(body, version=self.version, where="It"))

    def content_from(self, body: str, *, version: int, where: str) -> Any:
        """The content that a stored JSON object holds.

        Args:
            body: The JSON object.
            version: The version it was written with.
            where: What to call the entry in an error.

        Raises:
            JournalError: Where the kind or version is unknown, or a field is missing or out of range.
        """
        if self._read is not None and version == self.version:
            content = self._read(body, where)
            if content is not None:
                return content
        return decoded(self.kinds, body, version=version, known=self.version, where=where)


def replay(
    entries: Sequence[E],
    take: Callable[[E], None],
    *,
    name: str,
    left_out: dict[str, str],
    lenient: bool = False,
    aside: Collection[str] = (),
    pass_by: Callable[[E], None] | None = None,
    falls: Callable[[Any, set[str]], bool] = lambda content, struck: False,
) -> None:
    """Let every entry count that holds, one after another.

    Passed over are struck entries, those that cannot be read or follow, and those that speak of an unreadable one.

    Args:
        entries: The ledger, in its order.
        take: Lets one entry count, or raises Refused.
        name: What to call the ledger in an error.
        left_out: Takes why an entry does not count, by its id.
        lenient: For a ledger as it lies on disk: what cannot follow is left out and listed, and raises nothing.
        aside: Ids of entries that were left out so before, and stay so.
        pass_by: Goes on past an entry that cannot be read and was not struck.
        falls: Whether a content falls with the struck entry it speaks of.

    Raises:
        JournalError: Names the first entry that is out of order, strikes nothing, or cannot follow those before it.
    """
    unreadable = {entry.id for entry in entries if isinstance(entry.content, Unreadable)}
    struck = _struck(entries, name, left_out, lenient=lenient, aside=aside)
    for entry in entries:
        content = entry.content
        if isinstance(content, Unreadable):
            left_out[entry.id] = content.why
            with suppress(Refused):
                if entry.id not in struck and pass_by is not None:
                    pass_by(entry)
            continue
        if entry.id in struck or entry.id in left_out or isinstance(content, EntryStruck) or falls(content, struck):
            continue
        if getattr(content, "entry", None) in unreadable:
            left_out[entry.id] = f"{name}, entry {entry.number}: it speaks of an entry that cannot be read."
            continue
        try:
            take(entry)
        except Refused as problem:
            said = f"{name}, entry {entry.number}: {problem.title}"
            if not lenient and entry.id not in aside:
                raise JournalError(said) from problem
            left_out[entry.id] = said


def _struck(
    entries: Sequence[LedgerEntry], name: str, left_out: dict[str, str], *, lenient: bool, aside: Collection[str]
) -> set[str]:
    """Ids of struck entries; a strike that does not count is left out, with why."""
    seen: set[str] = set()
    struck: set[str] = set()
    for index, entry in enumerate(entries, start=1):
        if entry.number != index:
            raise JournalError(f"{name}: entry {index} is missing; the journal goes on with {entry.number}.")
        if entry.id in seen:
            raise JournalError(f"{name}, entry {entry.number}: its id was used before.")
        seen.add(entry.id)
        if isinstance(entry.content, EntryStruck):
            target = entry.content.entry
            if target in seen and target != entry.id and target not in struck:
                struck.add(target)
                continue
            said = f"{name}, entry {entry.number}: it strikes what is not there."
            if not lenient and entry.id not in aside:
                raise JournalError(said)
            left_out[entry.id] = said
    return struck
