"""The ledgers of a study in memory: journals, sorting, evidence, chairs."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from fresh_chair.core.chair import ledger as chairs
from fresh_chair.core.chair.ledger import ChairEntry, chair_id
from fresh_chair.core.chair.state import State
from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import JournalError, NotSaved
from fresh_chair.core.evidence import ledger as evidence
from fresh_chair.core.evidence.ledger import EvidenceEntry, evidence_id
from fresh_chair.core.findings import ledger as findings
from fresh_chair.core.findings.ledger import SortEntry, sort_id
from fresh_chair.core.sitting import journal
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.store.gate import chair_row, entry_row, evidence_row, moment_row, sort_row
from fresh_chair.store.memory.kept import Kept, append_rows, read_row
from fresh_chair.store.stations import NOWHERE, following


class MemoryJournals:
    """The sittings' journals in memory."""

    def __init__(self, kept: Kept) -> None:
        self._kept = kept

    def ready(self) -> None:
        """Nothing has to be prepared."""

    def append(self, sitting: int, entries: Sequence[Entry]) -> None:
        """Keep entries, all or none. Raises Overtaken, InputError."""
        fresh = [entry_row(entry) for entry in entries]
        append_rows(self._kept.entries.setdefault(sitting, []), fresh, f"Sitting {sitting}")
        if any(entry.number == 1 for entry in entries) and self._kept.study is not None:
            letter = self._kept.study.seat(sitting).chair
            began = entries[0].moment.wall_ns
            held = [s for s in self._kept.chair_states.get(letter, ()) if (s.since_wall_ns or 0) <= began]
            self._kept.held[sitting] = held[-1].number

    def since(self, sitting: int, number: int) -> list[Entry]:
        """A sitting's entries after the one of a number."""
        rows = self._kept.entries.get(sitting, [])
        name = f"Sitting {sitting}"
        return [Entry(row["id"], *read_row(row, name, journal.CODEC)) for row in rows if row["number"] > number]

    def add(
        self, sitting: int, entries: Sequence[Entry], *, stood: Mapping[str, int] = NOWHERE, turn: int | None = None
    ) -> list[Entry]:
        """Append the entries that are not there yet, by their ids."""
        kept = self._kept.entries.get(sitting, [])
        found = {row["id"]: row["number"] for row in kept}
        numbered = following(sitting, entries, found, max(found.values(), default=0), stood)
        self.append(sitting, numbered)
        found |= {entry.id: entry.number for entry in numbered}
        return [replace(entry, number=found[entry.id]) for entry in entries if entry.id in found]

    def bodies(self) -> dict[int, list[tuple[int, str]]]:
        """Number and stored content of every entry, by sitting."""
        return {sitting: [(row["number"], row["body"]) for row in rows] for sitting, rows in self._kept.entries.items()}

    def lengths(self) -> dict[int, int]:
        """How many entries each sitting has."""
        return {sitting: len(rows) for sitting, rows in self._kept.entries.items() if rows}

    def all(self, came: Callable[[int], object] | None = None) -> dict[int, list[Entry]]:
        """Every sitting's entries in their order, by sitting; all of them at once."""
        return {sitting: self.since(sitting, 0) for sitting in self.lengths()}

    def beat(self, sitting: int, moment: Moment) -> None:
        """Note that a sitting's program is alive. Raises InputError."""
        moment_row(moment)
        self._kept.beats[sitting] = moment

    def last_beat(self, sitting: int) -> Moment | None:
        """When a sitting's program was last known to be alive."""
        return self._kept.beats.get(sitting)


class MemorySorting:
    """The sorting ledger in memory."""

    def __init__(self, kept: Kept) -> None:
        self._kept = kept

    def append(self, entries: Sequence[SortEntry]) -> None:
        """Keep entries, all or none. Raises Overtaken, InputError."""
        append_rows(self._kept.sorting, [sort_row(entry) for entry in entries], findings.NAME)

    def since(self, number: int) -> list[SortEntry]:
        """The entries after the one of a number."""
        rows = [row for row in self._kept.sorting if row["number"] > number]
        return [SortEntry(sort_id(row["number"]), *read_row(row, findings.NAME, findings.CODEC)) for row in rows]

    def all(self) -> list[SortEntry]:
        """Every entry in its order."""
        return self.since(0)


class MemoryEvidence:
    """The ledger of evidence records in memory."""

    def __init__(self, kept: Kept) -> None:
        self._kept = kept

    def append(self, entries: Sequence[EvidenceEntry]) -> None:
        """Keep entries, all or none. Raises Overtaken, InputError."""
        append_rows(self._kept.evidence, [evidence_row(entry) for entry in entries], evidence.NAME)

    def since(self, number: int) -> list[EvidenceEntry]:
        """The entries after the one of a number."""
        rows = [row for row in self._kept.evidence if row["number"] > number]
        read = [(row["number"], read_row(row, evidence.NAME, evidence.CODEC)) for row in rows]
        return [EvidenceEntry(evidence_id(number), *parts) for number, parts in read]

    def all(self) -> list[EvidenceEntry]:
        """Every entry in its order."""
        return self.since(0)


class MemoryChairs:
    """The chairs' ledgers in memory."""

    def __init__(self, kept: Kept) -> None:
        self._kept = kept

    def append(self, entries: Sequence[ChairEntry], states: Mapping[int, State] | None = None) -> None:
        """Keep entries with their states, all or none. Raises Overtaken, InputError."""
        fresh = [chair_row(entry) for entry in entries]
        if self._kept.states.keys() & (states or {}).keys():
            raise NotSaved("A state has a number that another one has.", "Nothing was put on record.")
        append_rows(self._kept.chairs, fresh, chairs.NAME)
        self._kept.states.update(states or {})

    def since(self, number: int) -> list[ChairEntry]:
        """The entries after the one of a number."""
        rows = [row for row in self._kept.chairs if row["number"] > number]
        return [
            ChairEntry(chair_id(row["number"]), *read_row(row, chairs.NAME, chairs.CODEC), row["chair"]) for row in rows
        ]

    def all(self) -> list[ChairEntry]:
        """Every entry in its order."""
        return self.since(0)

    def next_state(self) -> int:
        """The number that the next state gets."""
        return max(self._kept.states, default=0) + 1

    def state(self, number: int) -> State:
        """A whole state. Raises JournalError where it is not there."""
        if number not in self._kept.states:
            raise JournalError(f"State {number} of a chair is not there.")
        return self._kept.states[number]
