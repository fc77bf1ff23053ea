"""Journals on disk: appended, read, never changed."""

import sqlite3
from collections import defaultdict
from collections.abc import Sequence
from itertools import groupby

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import FileProblem
from fresh_chair.core.sitting.journal import CODEC, Entry
from fresh_chair.store.gate import moment_problem
from fresh_chair.store.sqlite.ledgers import COLUMNS, appending, parts
from fresh_chair.store.sqlite.study_file import StudyFile
from fresh_chair.store.sqlite.troubles import reading, writing


class Journals:
    """The sittings' journals."""

    def __init__(self, file: StudyFile) -> None:
        self._file = file

    def ready(self) -> None:
        """Load and connect everything that writing needs. Raises NotSaved where that fails."""
        with writing(self._file.name):
            import fresh_chair.store.sqlite.rows  # noqa: F401

            self._file.engine.connect().close()

    def append(self, sitting: int, entries: Sequence[Entry]) -> None:
        """Put entries on the disk, all or none. Returns when they are durable: law 1.

        Raises:
            Overtaken: Where another program's entries have those numbers; none of these is kept then.
            NotSaved: Where the disk refuses, or the file is no longer where it was; none is kept then.
        """
        from fresh_chair.store.sqlite.rows import insert_entries

        with appending(self._file, "entry", f"Sitting {sitting}"), self._file.engine.begin() as connection:
            insert_entries(connection, sitting, entries)

    def since(self, sitting: int, number: int) -> list[Entry]:
        """A sitting's entries after the one of a number. Raises as `all`."""
        query = f"SELECT sitting, id, {COLUMNS} FROM entry WHERE sitting = ? AND number > ? ORDER BY number"
        found = self._file.read(query, (sitting, number))
        return _entries(found, self._file.name, {sitting: number}).get(sitting, [])

    def lengths(self) -> dict[int, int]:
        """How many entries each sitting has. Raises as `all`."""
        with reading(self._file.name), self._file.rows() as rows:
            found = rows.execute("SELECT sitting, MAX(number) AS most FROM entry GROUP BY sitting").fetchall()
        return {row["sitting"]: row["most"] for row in found}

    def all(self) -> dict[int, list[Entry]]:
        """Every sitting's entries in their order, by sitting; those that cannot be read, or are gone, as such.

        Raises:
            FileProblem: Where the file cannot be read.
        """
        found = self._file.read(f"SELECT sitting, id, {COLUMNS} FROM entry ORDER BY sitting, number")
        return _entries(found, self._file.name, {})

    def bodies(self) -> dict[int, list[tuple[int, str]]]:
        """Number and stored content of every entry, by sitting. Raises as `all`."""
        found: dict[int, list[tuple[int, str]]] = defaultdict(list)
        for row in self._file.read("SELECT sitting, number, body FROM entry ORDER BY sitting, number"):
            found[row["sitting"]].append((row["number"], row["body"]))
        return dict(found)

    def beat(self, sitting: int, moment: Moment) -> None:
        """Note that the program is alive. Raises NotSaved as `append`."""
        from fresh_chair.store.sqlite.rows import set_pulse

        with writing(self._file.name), self._file.engine.begin() as connection:
            set_pulse(connection, sitting, moment)

    def last_beat(self, sitting: int) -> Moment | None:
        """When the program was last known to be alive in this sitting."""
        with reading(self._file.name), self._file.rows() as rows:
            row = rows.execute("SELECT ticks_ns, boot, wall_ns FROM pulse WHERE sitting = ?", (sitting,)).fetchone()
        return None if row is None or moment_problem(*row) else Moment(*row)


def _entries(found: list[sqlite3.Row], name: str, before: dict[int, int]) -> dict[int, list[Entry]]:
    """Rows as entries, by sitting; where numbers are missing something stands that cannot be read.

    Args:
        found: The rows, by sitting and number.
        name: The file's.
        before: The number of the entry before the first row, by sitting; 0 where none is said.
    """
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
