"""Journals on disk: appended, read, never changed."""

import sqlite3
from collections import defaultdict

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import Overtaken
from fresh_chair.core.journal import Entry, content_from
from fresh_chair.core.sorting import SortEntry, sort_content_from
from fresh_chair.store.study_file import StudyFile
from fresh_chair.store.troubles import reading, writing

_COLUMNS = "number, version, ticks_ns, boot, wall_ns, author, body"


class Journals:
    """The sittings' journals."""

    def __init__(self, file: StudyFile) -> None:
        self._file = file

    def ready(self) -> None:
        """Load and connect what writing needs. Raises NotSaved where that fails."""
        with writing(self._file.name):
            import fresh_chair.store.rows  # noqa: F401

            self._file.engine.connect().close()

    def append(self, sitting: int, entries: list[Entry]) -> None:
        """Put entries on the disk, all or none. Returns when they are durable: law 1.

        Raises:
            Overtaken: Where another program's entries have those numbers; none of these is kept then.
            NotSaved: Where the disk refuses, or the file is no longer where it was; none is kept then.
        """
        from sqlalchemy.exc import IntegrityError

        from fresh_chair.store.rows import insert_entries

        with writing(self._file.name):
            try:
                with self._file.engine.begin() as connection:
                    insert_entries(connection, sitting, entries)
            except IntegrityError as problem:
                if "entry.number" not in str(problem.orig):
                    raise
                raise Overtaken(f"Sitting {sitting} has gone on meanwhile.", "The journal is read on.") from problem
            # What went into a file that nobody can find any more is not kept.
            self._file.require_there()

    def since(self, sitting: int, number: int) -> list[Entry]:
        """A sitting's entries after the one of a number. Raises as `all`."""
        with reading(self._file.name), self._file.rows() as rows:
            found = rows.execute(
                f"SELECT id, {_COLUMNS} FROM entry WHERE sitting = ? AND number > ? ORDER BY number", (sitting, number)
            ).fetchall()
        return [_entry(row, sitting) for row in found]

    def lengths(self) -> dict[int, int]:
        """How many entries each sitting has. Raises as `all`."""
        with reading(self._file.name), self._file.rows() as rows:
            found = rows.execute("SELECT sitting, MAX(number) AS most FROM entry GROUP BY sitting").fetchall()
        return {row["sitting"]: row["most"] for row in found}

    def all(self) -> dict[int, list[Entry]]:
        """Every sitting's entries in their order, by sitting.

        Raises:
            FileProblem: Where the file cannot be read.
            JournalError: Where an entry is not one.
        """
        found: dict[int, list[Entry]] = defaultdict(list)
        with reading(self._file.name), self._file.rows() as rows:
            for row in rows.execute(f"SELECT sitting, id, {_COLUMNS} FROM entry ORDER BY sitting, number"):
                found[row["sitting"]].append(_entry(row, row["sitting"]))
        return dict(found)

    def beat(self, sitting: int, moment: Moment) -> None:
        """Note that the program is alive. Raises NotSaved as `append`."""
        from fresh_chair.store.rows import set_pulse

        with writing(self._file.name), self._file.engine.begin() as connection:
            set_pulse(connection, sitting, moment)

    def last_beat(self, sitting: int) -> Moment | None:
        """When the program was last known to be alive in this sitting."""
        with reading(self._file.name), self._file.rows() as rows:
            row = rows.execute("SELECT ticks_ns, boot, wall_ns FROM pulse WHERE sitting = ?", (sitting,)).fetchone()
        return None if row is None else moment_of(row)


class Ledgers:
    """The sorting ledger."""

    def __init__(self, file: StudyFile) -> None:
        self._file = file

    def append(self, entries: list[SortEntry]) -> None:
        """Put entries on the disk, all or none.

        Raises:
            NotSaved: Where the disk refuses; none is kept then.
        """
        from fresh_chair.store.rows import insert_sorting

        with writing(self._file.name), self._file.engine.begin() as connection:
            insert_sorting(connection, entries)

    def all(self) -> list[SortEntry]:
        """Every entry in its order.

        Raises:
            FileProblem: Where the file cannot be read.
            JournalError: Where an entry is not one.
        """
        with reading(self._file.name), self._file.rows() as rows:
            return [
                SortEntry(
                    row["number"],
                    moment_of(row),
                    row["author"],
                    sort_content_from(row["body"], version=row["version"], where=f"Sorting, entry {row['number']}"),
                )
                for row in rows.execute(f"SELECT {_COLUMNS} FROM sort_entry ORDER BY number")
            ]


def _entry(row: sqlite3.Row, sitting: int) -> Entry:
    where = f"Sitting {sitting}, entry {row['number']}"
    content = content_from(row["body"], version=row["version"], where=where)
    return Entry(row["id"], row["number"], moment_of(row), row["author"], content)


def moment_of(row: sqlite3.Row) -> Moment:
    """The moment that a row says."""
    return Moment(row["ticks_ns"], row["boot"], row["wall_ns"])
