"""The port of study stores, in the words of the study: no path, no lock, no dialect of SQL.

Whoever implements these passes `tests/store/test_contract.py`. A conflict is `Overtaken` in every ledger, never
`NotSaved`; what a reader would refuse is an `InputError` before anything is kept; all entries of an append are kept, or
none; an append returns when its entries are durable.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import TYPE_CHECKING, Literal, Protocol, TypeVar

from fresh_chair.core.ledger import LedgerEntry, Signatures
from fresh_chair.store.stations import OutgoingJournals

if TYPE_CHECKING:
    from pathlib import Path

    from fresh_chair.core.chair.ledger import ChairEntry
    from fresh_chair.core.chair.state import State
    from fresh_chair.core.clock import Moment
    from fresh_chair.core.evidence.hunches import Hunch
    from fresh_chair.core.evidence.ledger import EvidenceEntry
    from fresh_chair.core.findings.ledger import SortEntry
    from fresh_chair.core.plan.chair_states import ChairState
    from fresh_chair.core.plan.changes import Change, Difference
    from fresh_chair.core.plan.fixtures import FixtureCheck
    from fresh_chair.core.plan.people import Erasure
    from fresh_chair.core.plan.study import Study
    from fresh_chair.core.sitting.journal import Entry
    from fresh_chair.store.home import HomeAddress
    from fresh_chair.store.stations import StationLink

E = TypeVar("E", bound=LedgerEntry)

# The ledgers in whose entries people write words.
WordLedger = Literal["entry", "sort_entry", "evidence_entry"]


class LedgerStore(Protocol[E]):
    """One append-only ledger."""

    def append(self, entries: Sequence[E]) -> None:
        """Keep entries, all or none. Raises Overtaken, InputError, NotSaved."""

    def since(self, number: int) -> list[E]:
        """The entries after the one of a number; unreadable and missing ones stand there as such."""

    def all(self) -> list[E]:
        """Every entry in its order."""


class ChairStore(LedgerStore["ChairEntry"], Protocol):
    """The ledgers of the chairs, and the whole states that their entries speak of."""

    def append(self, entries: Sequence[ChairEntry], states: Mapping[int, State] | None = None) -> None:
        """Keep entries with their states, all or none. Raises Overtaken, InputError, NotSaved."""

    def next_state(self) -> int:
        """The number that the next state gets."""

    def state(self, number: int) -> State:
        """A whole state. Raises JournalError where it is not there, or no state."""


class JournalStore(OutgoingJournals, Protocol):
    """The journals of all sittings, each a ledger of its own."""

    def ready(self) -> None:
        """Prepare writing, so that the first entry waits for nothing. Raises NotSaved."""

    def append(self, sitting: int, entries: Sequence[Entry]) -> None:
        """Keep entries, all or none. Raises Overtaken, InputError, NotSaved."""

    def lengths(self) -> dict[int, int]:
        """How many entries each sitting has."""

    def bodies(self) -> dict[int, list[tuple[int, str]]]:
        """Number and stored content of every entry, by sitting."""

    def all(self, came: Callable[[int], object] | None = None) -> dict[int, list[Entry]]:
        """Every sitting's entries in their order, by sitting; `came` is told after each how many it has."""

    def beat(self, sitting: int, moment: Moment) -> None:
        """Note that a sitting's program is alive. Raises NotSaved."""

    def last_beat(self, sitting: int) -> Moment | None:
        """When a sitting's program was last known to be alive."""


class PlanStore(Protocol):
    """The plan, its script's texts, and the record of its changes."""

    def write(self, study: Study, made: Moment, *, script: str | None = None, author: str = "") -> None:
        """Keep the plan of a new study. Raises InputError, NotSaved."""

    def read(self) -> Study:
        """The plan as it is. Raises FileProblem where there is none."""

    def amend(
        self,
        old: Study,
        new: Study,
        changes: Sequence[Difference],
        *,
        moment: Moment,
        author: str,
        sittings: int,
        script: str | None = None,
        states: Sequence[ChairState] = (),
    ) -> None:
        """Replace the plan with the states its chairs are in, and put the differences on record, all or nothing.

        Raises InputError, NotSaved; Overtaken where the plan was changed since it was read here, or a sitting that
        the change touches has begun.
        """

    def overtaken(self) -> bool:
        """True where the plan was changed by another program since it was read here."""

    def script(self) -> str | None:
        """The script as it was last written; None where its cards came from elsewhere."""

    def signatures(self) -> Signatures:
        """The signatures under the study's entries; none where its place puts none there. Raises FileProblem."""

    def changes(self) -> list[Change]:
        """The dated changes, in their order."""

    def chair_states(self) -> dict[str, list[ChairState]]:
        """The states of every chair of the plan, oldest first, by its letter."""

    def states_of_sittings(self) -> dict[int, int]:
        """The number of the state its chair was in when it began, for every sitting that has, by its number."""


class PreparationStore(Protocol):
    """Hunches, looks at the bench, and the traces of erased people."""

    def hunches(self) -> list[Hunch]:
        """Every hunch, in the order they were written."""

    def put_hunch(self, hunch: Hunch) -> None:
        """Keep a hunch, new or changed. Raises NotSaved where it is sealed."""

    def drop_hunch(self, hunch_id: str) -> None:
        """Take a hunch back. Raises NotSaved where it is sealed."""

    def seal(self, letters: list[str], moment: Moment) -> None:
        """Seal every open hunch at these chairs. Raises NotSaved."""

    def fixture_checks(self) -> list[FixtureCheck]:
        """Every look at the bench, in their order."""

    def add_fixture_checks(self, checks: list[FixtureCheck]) -> None:
        """Keep looks at the bench. Raises InputError, NotSaved."""

    def erasures(self) -> list[Erasure]:
        """The traces of erased people, by date."""

    def erase(
        self,
        old: Study,
        new: Study,
        erasure: Erasure,
        *,
        own_places: Mapping[int, frozenset[str]],
        windows: Sequence[tuple[str, int, int]],
    ) -> None:
        """Remove a person's words, their marks too where the trace says so, and the names on their chairs; all or none.

        Args:
            old: The plan as it is.
            new: The plan with what is left of them.
            erasure: The trace.
            own_places: For each of their sittings the places that are the chair's own, and so no words of theirs.
            windows: Chair, and from when to when, by the wall clock, their traces may have been on it.

        Raises NotSaved.
        """

    def reword(self, ledger: WordLedger, number: int, *, sitting: int, text: str, words: str, trace: Erasure) -> None:
        """Put other words in the place of a text in one entry, in its bytes; nothing where it does not hold it.

        Args:
            ledger: Which ledger the entry is in.
            number: The entry's number.
            sitting: Of a sitting's journal, which one's.
            text, words: The text, and what is to stand there.
            trace: That it was done, by whom and when.

        Raises NotSaved.
        """

    def erase_again(self, own_places: Mapping[int, frozenset[str]], windows: Sequence[tuple[str, int, int]]) -> None:
        """Take out traces an earlier version left of an erased person. Raises NotSaved; all is then as it was."""


class StudyHome(Protocol):
    """Where a store keeps a study: whether it is still there, and who may write into it."""

    @property
    def address(self) -> HomeAddress:
        """The address as it was when the study was opened."""
        ...

    @property
    def away(self) -> str:
        """Where the study was moved to; empty while it is here."""
        ...

    @property
    def line(self) -> str:
        """A warning about the line by which the study is reached; empty where it is closed to others."""
        ...

    @property
    def sees_people(self) -> bool:
        """True where more of the study's people can be read than their codes."""
        ...

    @property
    def beside(self) -> Path:
        """The path that attached files lie beside: the study's own file, or of a server's study a name on this disk."""
        ...

    @property
    def there(self) -> bool:
        """False once the study is no longer where it was opened."""
        ...

    def touched(self) -> tuple[int, ...]:
        """Numbers that differ once anybody may have written; empty where that cannot be told without reading."""
        ...

    @property
    def changed(self) -> bool:
        """True once another hand changed the bytes of the study; nothing is written into them any more."""
        ...

    @property
    def writable(self) -> bool:
        """True where this program alone moderates sittings of the study."""
        ...

    @property
    def observes(self) -> bool:
        """True where this program adds a second observer's marks, and nothing else."""
        ...

    @property
    def shares(self) -> bool:
        """True where this program may write beside the one that moderates."""
        ...

    def take_over(self) -> bool:
        """Moderate, where the program that did is gone; True where this one does now."""

    def is_home_of(self, address: HomeAddress) -> bool:
        """True where marks of that address belong here: it is this one, or is not there any more."""

    def make_room(self) -> None:
        """Free the room that can be freed, and make the study whole where it lies."""

    def rescue(self) -> Path | None:
        """Copy a study that was taken away where it would be lost; returns the copy, None where there is none."""

    def close(self, *, clean: bool = True) -> None:
        """Let go of the study; not cleanly after a failure."""


class StudyStore(Protocol):
    """One study, kept somewhere."""

    @property
    def home(self) -> StudyHome:
        """Where it is kept."""
        ...

    @property
    def name(self) -> str:
        """Its name as it may stand in a sentence."""
        ...

    def require_readable(self) -> None:
        """Do nothing where the ledgers that are read later can be. Raises FileProblem."""

    def aside(self) -> list[str]:
        """A sentence for each row or gap that cannot be used, so that rows stand aside. Raises FileProblem."""

    def integrity(self) -> tuple[str, tuple[str, ...]]:
        """The form and size of the study's place, and the damage that its database finds in itself."""

    @property
    def packed(self) -> bool:
        """True where no byte that can be freed here holds anything of an erased person."""
        ...

    def pack(self) -> None:
        """Overwrite the bytes that an erasure freed. Raises NotSaved where it cannot be done yet."""

    def send_away(self, to: str) -> str:
        """Close the study, which was moved; returns a sentence that says how. Raises NotSaved."""

    def call_back(self) -> None:
        """Open the study again where it was moved away. Raises NotSaved."""

    @property
    def journals(self) -> JournalStore:
        """The sittings' journals."""
        ...

    @property
    def link(self) -> StationLink | None:
        """The other stations at the study; None where it is on this machine's disk alone."""
        ...

    @property
    def sorting(self) -> LedgerStore[SortEntry]:
        """The sorting ledger."""
        ...

    @property
    def evidence(self) -> LedgerStore[EvidenceEntry]:
        """The ledger of evidence records."""
        ...

    @property
    def chairs(self) -> ChairStore:
        """The chairs' ledgers."""
        ...

    @property
    def plans(self) -> PlanStore:
        """The plan."""
        ...

    @property
    def preparations(self) -> PreparationStore:
        """Preparations beside the plan."""
        ...
