"""Journals of sittings: appended, read, never changed."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from itertools import groupby
from typing import TYPE_CHECKING

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import FileProblem
from fresh_chair.store.gate import entry_row, moment_problem, moment_row
from fresh_chair.store.stations import NOWHERE, following
from fresh_chair.store.tables.database import Database
from fresh_chair.store.tables.ledgers import COLUMNS, WIDEST_GAP, appending, parts
from fresh_chair.store.tables.statements import Row

if TYPE_CHECKING:
    from fresh_chair.core.sitting.journal import Entry
    from fresh_chair.store.tables.rows import Rows

_FROM = "FROM entry LEFT JOIN seat ON seat.study = entry.study AND seat.id = entry.sitting WHERE entry.study = ?"
_ENTRIES = f"SELECT seat.number AS sitting, entry.id, {', '.join(f'entry.{c}' for c in COLUMNS.split(', '))} {_FROM}"
# More parameters than this are not put into one statement.
_AT_ONCE = 500


class Journals:
    """The sittings' journals."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def ready(self) -> None:
        """Load and connect everything that writing needs. Raises NotSaved where that fails."""
        self._database.ready()

    def require_sittings(self) -> None:
        """Do nothing where every entry belongs to a sitting. Raises FileProblem."""
        if self._database.read(f"SELECT 1 {_FROM} AND seat.number IS NULL LIMIT 1", (self._database.study_id,)):
            raise FileProblem(f"{self._database.name} holds an entry of no sitting.", "It was left as it is.")

    def append(self, sitting: int, entries: Sequence[Entry]) -> None:
        """Append entries, all or none. Returns when they are durable: law 1.

        Raises:
            Overtaken: Where another program's entries have those numbers; none of these is kept then.
            NotSaved: Where the database refuses; none is kept then.
        """
        with appending(self._database, "entry", f"Sitting {sitting}") as rows:
            key = rows.sitting_id(sitting)
            rows.put("entry", [{**entry_row(entry), "sitting": key} for entry in entries])
            for entry in entries:
                if entry.number == 1:
                    rows.refer_to_state(key, entry.moment.wall_ns)

    def add(
        self,
        sitting: int,
        entries: Sequence[Entry],
        *,
        stood: Mapping[str, int] = NOWHERE,
        turn: int | None = None,
    ) -> list[Entry]:
        """Append the entries that are not there yet, by their ids. As `OutgoingJournals.add`."""
        found: dict[str, int] = {}
        last = 0
        with self._database.changing(turn=turn) as rows:
            key = rows.sitting_id(sitting)
            self._database.hold(rows, key)
            for first in range(0, len(entries), _AT_ONCE):
                some = entries[first : first + _AT_ONCE]
                marks = ", ".join("?" * len(some))
                # Those that are there and the last one in one question: each takes a way there and back.
                query = (
                    f"SELECT id, number FROM entry WHERE study = ? AND sitting = ? AND (id IN ({marks}) OR number = "
                    "(SELECT MAX(number) FROM entry WHERE study = ? AND sitting = ?))"
                )
                values = (key, *(entry.id for entry in some), rows.study, key)
                there = {str(row[0]): int(row[1]) for row in rows.found(query, *values)}
                last = max(last, *there.values(), 0)
                found |= there
            if entries and last > entries[0].number + WIDEST_GAP:
                last = _before_gap(rows, key, entries[0].number)
            numbered = following(sitting, entries, found, last, stood)
            rows.put("entry", [{**entry_row(entry), "sitting": key} for entry in numbered])
            if numbered and numbered[0].number == 1:
                rows.refer_to_state(key, numbered[0].moment.wall_ns)
            found |= {entry.id: entry.number for entry in numbered}
        return [replace(entry, number=found[entry.id]) for entry in entries if entry.id in found]

    def since(self, sitting: int, number: int) -> list[Entry]:
        """A sitting's entries after the one of a number. Raises as `all`."""
        query = f"{_ENTRIES} AND seat.number = ? AND entry.number > ? ORDER BY entry.number"
        found = self._database.read(query, (self._database.study_id, sitting, number))
        return _entries(list(found), self._database.name, {sitting: number}).get(sitting, [])

    def lengths(self) -> dict[int, int]:
        """How many entries each sitting has. Raises as `all`."""
        # The last entry of each sitting alone, through its key: a large study is looked at every other second.
        query = (
            "SELECT number, (SELECT MAX(entry.number) FROM entry WHERE entry.study = seat.study AND entry.sitting = "
            "seat.id) AS most FROM seat WHERE study = ?"
        )
        found = self._database.read(query, (self._database.study_id,))
        return {row["number"]: row["most"] for row in found if row["most"] is not None}

    def all(self, came: Callable[[int], object] | None = None) -> dict[int, list[Entry]]:
        """Every sitting's entries in their order, by sitting; those that cannot be read, or are gone, as such.

        Args:
            came: Is told after each sitting how many entries it has.

        Raises:
            FileProblem: Where it cannot be read.
        """
        query = f"{_ENTRIES} ORDER BY seat.number, entry.number"
        return _entries(list(self._database.read(query, (self._database.study_id,))), self._database.name, {}, came)

    def bodies(self) -> dict[int, list[tuple[int, str]]]:
        """Number and stored content of every entry, by sitting. Raises as `all`."""
        found: dict[int, list[tuple[int, str]]] = defaultdict(list)
        query = f"SELECT seat.number AS sitting, entry.number, entry.body {_FROM} ORDER BY seat.number, entry.number"
        for row in self._database.read(query, (self._database.study_id,)):
            found[row["sitting"]].append((row["number"], row["body"]))
        return dict(found)

    def beat(self, sitting: int, moment: Moment) -> None:
        """Note that the program is alive. Raises NotSaved as `append`."""
        with self._database.changing() as rows:
            rows.put("pulse", [{"sitting": rows.sitting_id(sitting), **moment_row(moment)}], key=("sitting",))

    def last_beat(self, sitting: int) -> Moment | None:
        """When the program was last known to be alive in this sitting."""
        query = (
            "SELECT ticks_ns, boot, wall_ns FROM pulse JOIN seat ON seat.study = pulse.study AND seat.id = "
            "pulse.sitting WHERE pulse.study = ? AND seat.number = ?"
        )
        found = self._database.read(query, (self._database.study_id, sitting))
        return None if not found or moment_problem(*found[0]) else Moment(*found[0])


def _before_gap(rows: Rows, sitting: str, near: int) -> int:
    """The number of the last entry of a sitting before a gap that no program leaves, from a number before it on."""
    query = "SELECT COALESCE(MAX(number), 0) FROM entry WHERE study = ? AND sitting = ? AND number <= ?"
    last = -1
    while near > last:
        last, near = near, int(rows.one(query, sitting, near + WIDEST_GAP))
    return near


def _entries(
    found: list[Row], name: str, before: dict[int, int], came: Callable[[int], object] | None = None
) -> dict[int, list[Entry]]:
    """Rows as entries, by sitting; where numbers are missing something stands that cannot be read.

    Args:
        found: The rows, by sitting and number; the list is empty afterwards, so that a large study is not held twice.
        name: The study's place.
        before: The number of the entry before the first row, by sitting; 0 where none is said.
        came: Is told after each sitting how many entries it has.
    """
    from fresh_chair.core.sitting.journal import CODEC, Entry

    entries: dict[int, list[Entry]] = {}
    found.reverse()
    each_once = (found.pop() for _ in range(len(found)))
    for sitting, rows in groupby(each_once, key=lambda row: row["sitting"]):
        if type(sitting) is not int:
            raise FileProblem(f"{name} holds an entry of no sitting.", "It was left as it is.")
        entries[sitting] = [
            Entry(f"missing-{sitting}-{number}" if row is None else str(row["id"]), number, moment, author, content)
            for number, moment, author, content, row in parts(
                list(rows), f"Sitting {sitting}", CODEC, after=before.get(sitting, 0)
            )
        ]
        if came is not None:
            came(len(entries[sitting]))
    return entries
