"""Journals on disk: appended, read, never changed."""

from __future__ import annotations

import sqlite3
from collections import defaultdict
from collections.abc import Sequence
from itertools import groupby
from typing import TYPE_CHECKING

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import FileProblem
from fresh_chair.store.gate import entry_row, moment_problem, moment_row
from fresh_chair.store.sqlite.ledgers import COLUMNS, appending, parts
from fresh_chair.store.sqlite.study_file import StudyFile
from fresh_chair.store.sqlite.troubles import writing

if TYPE_CHECKING:
    from fresh_chair.core.sitting.journal import Entry

_FROM = "FROM entry LEFT JOIN seat ON seat.study = entry.study AND seat.id = entry.sitting WHERE entry.study = ?"
_ENTRIES = f"SELECT seat.number AS sitting, entry.id, {', '.join(f'entry.{c}' for c in COLUMNS.split(', '))} {_FROM}"
# The newest state that the chair was in when the sitting began.
_REFER_TO_STATE = (
    "UPDATE seat SET state = (SELECT MAX(held.number) FROM chair_state AS held WHERE held.study = seat.study AND "
    "held.chair = seat.chair AND (held.since_wall_ns IS NULL OR held.since_wall_ns <= ?2)) "
    "WHERE study = ?1 AND id = ?3 AND state IS NULL"
)


class Journals:
    """The sittings' journals."""

    def __init__(self, file: StudyFile) -> None:
        self._file = file

    def ready(self) -> None:
        """Load and connect everything that writing needs. Raises NotSaved where that fails."""
        with writing(self._file.name):
            import fresh_chair.store.sqlite.rows  # noqa: F401

            _ = self._file.study_id, self._file.writer()

    def require_sittings(self) -> None:
        """Do nothing where every entry belongs to a sitting. Raises FileProblem."""
        if self._file.read(f"SELECT 1 {_FROM} AND seat.number IS NULL LIMIT 1", (self._file.study_id,)):
            raise FileProblem(f"{self._file.name} holds an entry of no sitting.", "It was left as it is.")

    def append(self, sitting: int, entries: Sequence[Entry]) -> None:
        """Put entries on the disk, all or none. Returns when they are durable: law 1.

        Raises:
            Overtaken: Where another program's entries have those numbers; none of these is kept then.
            NotSaved: Where the disk refuses, or the file is no longer where it was; none is kept then.
        """
        with appending(self._file, "entry", f"Sitting {sitting}") as rows:
            key = rows.sitting_id(sitting)
            rows.put("entry", [{**entry_row(entry), "sitting": key} for entry in entries])
            for entry in entries:
                if entry.number == 1:
                    rows.change(_REFER_TO_STATE, entry.moment.wall_ns, key)

    def since(self, sitting: int, number: int) -> list[Entry]:
        """A sitting's entries after the one of a number. Raises as `all`."""
        query = f"{_ENTRIES} AND seat.number = ? AND entry.number > ? ORDER BY entry.number"
        found = self._file.read(query, (self._file.study_id, sitting, number))
        return _entries(found, self._file.name, {sitting: number}).get(sitting, [])

    def lengths(self) -> dict[int, int]:
        """How many entries each sitting has. Raises as `all`."""
        # The last entry of each sitting alone, through its key: a large study is looked at every other second.
        query = (
            "SELECT number, (SELECT MAX(entry.number) FROM entry WHERE entry.study = seat.study AND entry.sitting = "
            "seat.id) AS most FROM seat WHERE study = ?"
        )
        found = self._file.read(query, (self._file.study_id,))
        return {row["number"]: row["most"] for row in found if row["most"] is not None}

    def all(self) -> dict[int, list[Entry]]:
        """Every sitting's entries in their order, by sitting; those that cannot be read, or are gone, as such.

        Raises:
            FileProblem: Where the file cannot be read.
        """
        found = self._file.read(f"{_ENTRIES} ORDER BY seat.number, entry.number", (self._file.study_id,))
        return _entries(found, self._file.name, {})

    def bodies(self) -> dict[int, list[tuple[int, str]]]:
        """Number and stored content of every entry, by sitting. Raises as `all`."""
        found: dict[int, list[tuple[int, str]]] = defaultdict(list)
        query = f"SELECT seat.number AS sitting, entry.number, entry.body {_FROM} ORDER BY seat.number, entry.number"
        for row in self._file.read(query, (self._file.study_id,)):
            found[row["sitting"]].append((row["number"], row["body"]))
        return dict(found)

    def beat(self, sitting: int, moment: Moment) -> None:
        """Note that the program is alive. Raises NotSaved as `append`."""
        with self._file.changing() as rows:
            rows.put("pulse", [{"sitting": rows.sitting_id(sitting), **moment_row(moment)}], key=("sitting",))

    def last_beat(self, sitting: int) -> Moment | None:
        """When the program was last known to be alive in this sitting."""
        query = (
            "SELECT ticks_ns, boot, wall_ns FROM pulse JOIN seat ON seat.study = pulse.study AND seat.id = "
            "pulse.sitting WHERE pulse.study = ? AND seat.number = ?"
        )
        found = self._file.read(query, (self._file.study_id, sitting))
        return None if not found or moment_problem(*found[0]) else Moment(*found[0])


def _entries(found: list[sqlite3.Row], name: str, before: dict[int, int]) -> dict[int, list[Entry]]:
    """Rows as entries, by sitting; where numbers are missing something stands that cannot be read.

    Args:
        found: The rows, by sitting and number.
        name: The file's.
        before: The number of the entry before the first row, by sitting; 0 where none is said.
    """
    from fresh_chair.core.sitting.journal import CODEC, Entry

    entries: dict[int, list[Entry]] = {}
    for sitting, rows in groupby(found, key=lambda row: row["sitting"]):
        if type(sitting) is not int:
            raise FileProblem(f"{name} holds an entry of no sitting.", "It was left as it is.")
        entries[sitting] = [
            Entry(f"missing-{sitting}-{number}" if row is None else str(row["id"]), number, moment, author, content)
            for number, moment, author, content, row in parts(
                list(rows), f"Sitting {sitting}", CODEC, after=before.get(sitting, 0)
            )
        ]
    return entries
