"""A study store without a disk, for tests above the store: it keeps the same rows behind the same gate."""

import json
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

from fresh_chair.core.chair import ledger as chairs
from fresh_chair.core.chair.ledger import ChairEntry, chair_id
from fresh_chair.core.chair.state import State
from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import FileProblem, JournalError, NotSaved, Overtaken
from fresh_chair.core.evidence import ledger as evidence
from fresh_chair.core.evidence.hunches import Hunch
from fresh_chair.core.evidence.ledger import EvidenceEntry, evidence_id
from fresh_chair.core.findings import ledger as findings
from fresh_chair.core.findings.ledger import SortEntry, sort_id
from fresh_chair.core.ledger import Codec
from fresh_chair.core.plan.chair_states import ChairState, first_states
from fresh_chair.core.plan.changes import Change, Difference
from fresh_chair.core.plan.fixtures import FixtureCheck
from fresh_chair.core.plan.people import Erasure
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting import journal
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.store.gate import chair_row, entry_row, evidence_row, moment_row, require_plain, require_text, sort_row
from fresh_chair.store.home import HomeAddress
from fresh_chair.store.scrubbing import ANSWERS, scrubbed, without_own_names, without_traces, without_words
from fresh_chair.store.stations import NOWHERE, following

Row = dict[str, Any]


@dataclass(slots=True)
class Kept:
    """Everything that is kept of one study; several stores may stand on it, as several programs on one file."""

    entries: dict[int, list[Row]] = field(default_factory=dict)
    sorting: list[Row] = field(default_factory=list)
    chairs: list[Row] = field(default_factory=list)
    evidence: list[Row] = field(default_factory=list)
    states: dict[int, State] = field(default_factory=dict)
    beats: dict[int, Moment] = field(default_factory=dict)
    study: Study | None = None
    revision: int = 0
    chair_states: dict[str, list[ChairState]] = field(default_factory=dict)
    held: dict[int, int] = field(default_factory=dict)
    scripts: list[str] = field(default_factory=list)
    changes: list[Change] = field(default_factory=list)
    hunches: dict[str, Hunch] = field(default_factory=dict)
    looks: list[FixtureCheck] = field(default_factory=list)
    erasures: list[Erasure] = field(default_factory=list)


class MemoryStore:
    """The parts of a study store, on kept rows.

    Args:
        kept: What other stores keep too; something of its own by default.
    """

    name = "a study in memory"

    def __init__(self, kept: Kept | None = None) -> None:
        self.kept = kept if kept is not None else Kept()
        self.journals = MemoryJournals(self.kept)
        self.sorting = MemorySorting(self.kept)
        self.chairs = MemoryChairs(self.kept)
        self.evidence = MemoryEvidence(self.kept)
        self.plans = MemoryPlans(self.kept)
        self.preparations = MemoryPreparations(self.kept)
        self.home = MemoryHome(self.kept)

    packed = True
    link = None

    def require_readable(self) -> None:
        """Rows in memory can always be read."""

    def integrity(self) -> tuple[str, tuple[str, ...]]:
        """Memory is whole."""
        return "in memory", ()

    def send_away(self, to: str) -> str:
        """Rows in memory go nowhere."""
        return ""

    def call_back(self) -> None:
        """Rows in memory were nowhere else."""

    def pack(self) -> None:
        """Rows that were changed leave nothing behind."""


class MemoryHome:
    """The home of kept rows: always there, and written by their holders."""

    there = writable = shares = sees_people = True
    observes = False
    away = ""

    def __init__(self, kept: Kept) -> None:
        self.address = HomeAddress("memory", id(kept))
        self.beside = Path("memory.fresh")

    def take_over(self) -> bool:
        """The rows are one's own."""
        return True

    def is_home_of(self, address: HomeAddress) -> bool:
        """True for the same rows; others may be anywhere in memory."""
        return address == self.address

    def make_room(self) -> None:
        """Rows in memory take all the room they need."""

    def rescue(self) -> Path | None:
        """Rows in memory are not taken away."""
        return None

    def close(self, *, clean: bool = True) -> None:
        """The rows stay with those who hold them."""


def _append(kept: list[Row], fresh: list[Row], name: str) -> None:
    taken = {row["number"] for row in kept}
    if any(row["number"] in taken for row in fresh):
        raise Overtaken(f"{name} has gone on meanwhile.", "It is read on.")
    kept.extend(fresh)


def _read(row: Row, name: str, codec: Codec) -> tuple[int, Moment, str, Any]:
    content = codec.content_from(row["body"], version=row["version"], where=f"{name}, entry {row['number']}")
    return row["number"], Moment(row["ticks_ns"], row["boot"], row["wall_ns"]), row["author"], content


class MemoryJournals:
    """The sittings' journals in memory."""

    def __init__(self, kept: Kept) -> None:
        self._kept = kept

    def ready(self) -> None:
        """Nothing has to be prepared."""

    def append(self, sitting: int, entries: Sequence[Entry]) -> None:
        """Keep entries, all or none. Raises Overtaken, InputError."""
        fresh = [entry_row(entry) for entry in entries]
        _append(self._kept.entries.setdefault(sitting, []), fresh, f"Sitting {sitting}")
        if any(entry.number == 1 for entry in entries) and self._kept.study is not None:
            letter = self._kept.study.seat(sitting).chair
            began = entries[0].moment.wall_ns
            held = [s for s in self._kept.chair_states.get(letter, ()) if (s.since_wall_ns or 0) <= began]
            self._kept.held[sitting] = held[-1].number

    def since(self, sitting: int, number: int) -> list[Entry]:
        """A sitting's entries after the one of a number."""
        rows = self._kept.entries.get(sitting, [])
        name = f"Sitting {sitting}"
        return [Entry(row["id"], *_read(row, name, journal.CODEC)) for row in rows if row["number"] > number]

    def add(self, sitting: int, entries: Sequence[Entry], *, stood: Mapping[str, int] = NOWHERE) -> list[Entry]:
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

    def all(self) -> dict[int, list[Entry]]:
        """Every sitting's entries in their order, by sitting."""
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
        _append(self._kept.sorting, [sort_row(entry) for entry in entries], findings.NAME)

    def since(self, number: int) -> list[SortEntry]:
        """The entries after the one of a number."""
        rows = [row for row in self._kept.sorting if row["number"] > number]
        return [SortEntry(sort_id(row["number"]), *_read(row, findings.NAME, findings.CODEC)) for row in rows]

    def all(self) -> list[SortEntry]:
        """Every entry in its order."""
        return self.since(0)


class MemoryEvidence:
    """The ledger of evidence records in memory."""

    def __init__(self, kept: Kept) -> None:
        self._kept = kept

    def append(self, entries: Sequence[EvidenceEntry]) -> None:
        """Keep entries, all or none. Raises Overtaken, InputError."""
        _append(self._kept.evidence, [evidence_row(entry) for entry in entries], evidence.NAME)

    def since(self, number: int) -> list[EvidenceEntry]:
        """The entries after the one of a number."""
        rows = [row for row in self._kept.evidence if row["number"] > number]
        read = [(row["number"], _read(row, evidence.NAME, evidence.CODEC)) for row in rows]
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
        _append(self._kept.chairs, fresh, chairs.NAME)
        self._kept.states.update(states or {})

    def since(self, number: int) -> list[ChairEntry]:
        """The entries after the one of a number."""
        rows = [row for row in self._kept.chairs if row["number"] > number]
        return [
            ChairEntry(chair_id(row["number"]), *_read(row, chairs.NAME, chairs.CODEC), row["chair"]) for row in rows
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


class MemoryPlans:
    """The plan in memory."""

    def __init__(self, kept: Kept) -> None:
        self._kept = kept
        self._revision = 0

    def write(self, study: Study, made: Moment, *, script: str | None = None, author: str = "") -> None:
        """Keep the plan of a new study. Raises InputError."""
        self._keep(study, script)
        self._keep_states(first_states(study))
        self._revision = self._kept.revision = 1

    def read(self) -> Study:
        """The plan as it is. Raises FileProblem where there is none."""
        if self._kept.study is None:
            raise FileProblem("There is no study here.", "It was never finished.")
        self._revision = self._kept.revision
        return self._kept.study

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
        """Replace the plan, and put the differences on record, all or nothing. Raises InputError, Overtaken."""
        stayed = {seat.number for seat in set(old.seats) & set(new.seats)}
        begun = {seat.number for seat in old.seats if seat.number not in stayed and self._kept.entries.get(seat.number)}
        if begun or self.overtaken():
            raise Overtaken("The plan was changed meanwhile.", "It is read on.")
        self._keep(new, script)
        self._revision = self._kept.revision = self._kept.revision + 1
        for letter in self._kept.chair_states.keys() - new.chair_by_letter.keys():
            del self._kept.chair_states[letter]
        self._keep_states(states)
        first = len(self._kept.changes) + 1
        self._kept.changes += [
            Change(
                number=first + step,
                wall_ns=moment.wall_ns,
                author=author,
                path=each.path,
                before=each.before,
                after=each.after,
                sittings=sittings,
            )
            for step, each in enumerate(changes)
        ]

    def overtaken(self) -> bool:
        """True where the plan was changed since it was read here."""
        return self._revision != self._kept.revision

    def script(self) -> str | None:
        """The script as it was last written; None where its cards came from elsewhere."""
        return self._kept.scripts[-1] if self._kept.scripts else None

    def changes(self) -> list[Change]:
        """The dated changes, in their order."""
        return list(self._kept.changes)

    def chair_states(self) -> dict[str, list[ChairState]]:
        """The states of every chair of the plan, oldest first, by its letter."""
        return {letter: list(listed) for letter, listed in self._kept.chair_states.items()}

    def states_of_sittings(self) -> dict[int, int]:
        """The number of the state each sitting that has begun was held in, by its number."""
        return dict(self._kept.held)

    def _keep_states(self, states: Sequence[ChairState]) -> None:
        for state in states:
            listed = self._kept.chair_states.setdefault(state.chair.letter, [])
            listed[state.number - 1 :] = [state]

    def _keep(self, study: Study, script: str | None) -> None:
        require_plain(study, "The plan")
        if script is not None:
            require_text("The script", script)
            self._kept.scripts.append(script)
        self._kept.study = study


class MemoryPreparations:
    """Preparations beside the plan in memory."""

    def __init__(self, kept: Kept) -> None:
        self._kept = kept

    def hunches(self) -> list[Hunch]:
        """Every hunch, in the order they were written."""
        return sorted(self._kept.hunches.values(), key=lambda hunch: (hunch.written_wall_ns, hunch.id))

    def put_hunch(self, hunch: Hunch) -> None:
        """Keep a hunch, new or changed. Raises InputError, NotSaved where it is sealed."""
        require_plain(hunch, "The hunch")
        self._require_open(hunch.id)
        self._kept.hunches[hunch.id] = hunch

    def drop_hunch(self, hunch_id: str) -> None:
        """Take a hunch back. Raises NotSaved where it is sealed."""
        self._require_open(hunch_id)
        self._kept.hunches.pop(hunch_id, None)

    def _require_open(self, hunch_id: str) -> None:
        found = self._kept.hunches.get(hunch_id)
        if found is not None and found.sealed_wall_ns is not None:
            raise NotSaved("Hunches are sealed.", "Nothing was changed.")

    def seal(self, letters: list[str], moment: Moment) -> None:
        """Seal every open hunch at these chairs."""
        for hunch in self.hunches():
            if hunch.chair in letters and hunch.sealed_wall_ns is None:
                self._kept.hunches[hunch.id] = replace(hunch, sealed_wall_ns=moment.wall_ns)

    def fixture_checks(self) -> list[FixtureCheck]:
        """Every look at the bench, in their order."""
        return list(self._kept.looks)

    def add_fixture_checks(self, checks: list[FixtureCheck]) -> None:
        """Keep looks at the bench, all or none. Raises InputError."""
        for check in checks:
            require_plain(check, "The look at the bench")
        self._kept.looks += checks

    def erasures(self) -> list[Erasure]:
        """The traces of erased people, by date."""
        return sorted(self._kept.erasures, key=lambda erasure: erasure.wall_ns)

    def erase(
        self,
        old: Study,
        new: Study,
        erasure: Erasure,
        *,
        own_places: Mapping[int, frozenset[str]],
        windows: Sequence[tuple[str, int, int]],
    ) -> None:
        """Remove a person's words, and their marks too where the trace says so. Arguments as in the port."""
        kept = self._kept
        self.erase_again(own_places, windows)
        if not erasure.figures_kept:
            for number in own_places:
                kept.entries.pop(number, None)
                kept.beats.pop(number, None)
        kept.erasures.append(erasure)
        kept.study, kept.revision = new, kept.revision + 1

    def erase_again(self, own_places: Mapping[int, frozenset[str]], windows: Sequence[tuple[str, int, int]]) -> None:
        """Take the words of a person out of the rows that are still there. Arguments as in the port."""
        kept = self._kept
        targets = frozenset(self._targets(own_places))
        for row in kept.evidence:
            row["body"] = without_words(row["body"], targets)
        for number, own in own_places.items():
            if number in kept.entries:
                kept.entries[number] = [{**row, "body": scrubbed(row["body"], own)} for row in kept.entries[number]]
        for letter, since, until in windows:
            for row in kept.chairs:
                if row["chair"] == letter and since <= row["wall_ns"] <= until:
                    self._scrub_chair(row)

    def _targets(self, numbers: Iterable[int]) -> Iterator[str]:
        """The targets of evidence records in some sittings."""
        for number in numbers:
            yield f"sitting:{number}"
            yield from (f"attempt:{number}/{attempt}" for attempt in range(1, 100))
            for row in self._kept.entries.get(number, []):
                yield from (f"mark:{row['id']}", f"step:{row['id']}")

    def _scrub_chair(self, row: Row) -> None:
        body = json.loads(row["body"])
        if body["kind"] == "baseline_taken":
            state = without_own_names(self._kept.states[body["state"]])
            self._kept.states[body["state"]] = state
            row["body"] = json.dumps({**body, "keys": state.count}, ensure_ascii=False)
        elif body["kind"] in ANSWERS:
            row["body"] = json.dumps(without_traces(body), ensure_ascii=False)
