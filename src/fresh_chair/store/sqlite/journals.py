"""Journals on disk: appended, read, never changed."""

import sqlite3
from collections import defaultdict
from collections.abc import Callable
from typing import Any

from fresh_chair.core.clock import Moment
from fresh_chair.core.codec import Unreadable
from fresh_chair.core.errors import FileProblem, JournalError, Overtaken
from fresh_chair.core.findings.ledger import SortEntry, sort_content_from
from fresh_chair.core.sitting.journal import Entry, content_from
from fresh_chair.core.text import clipped, legible
from fresh_chair.store.gate import MOST_ENTRIES, moment_problem, unreadable_row
from fresh_chair.store.sqlite.study_file import StudyFile
from fresh_chair.store.sqlite.troubles import reading, writing

_COLUMNS = "number, kind, version, ticks_ns, boot, wall_ns, author, body"
_NOBODY = Moment(0, "", 0)


class Journals:
    """The sittings' journals."""

    def __init__(self, file: StudyFile) -> None:
        self._file = file

    def ready(self) -> None:
        """Load and connect everything that writing needs. Raises NotSaved where that fails."""
        with writing(self._file.name):
            import fresh_chair.store.sqlite.rows  # noqa: F401

            self._file.engine.connect().close()

    def append(self, sitting: int, entries: list[Entry]) -> None:
        """Put entries on the disk, all or none. Returns when they are durable: law 1.

        Raises:
            Overtaken: Where another program's entries have those numbers; none of these is kept then.
            NotSaved: Where the disk refuses, or the file is no longer where it was; none is kept then.
        """
        from sqlalchemy.exc import IntegrityError

        from fresh_chair.store.sqlite.rows import insert_entries

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
        query = f"SELECT sitting, id, {_COLUMNS} FROM entry WHERE sitting = ? AND number > ? ORDER BY number"
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
        found = self._file.read(f"SELECT sitting, id, {_COLUMNS} FROM entry ORDER BY sitting, number")
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


class Ledgers:
    """The sorting ledger."""

    def __init__(self, file: StudyFile) -> None:
        self._file = file

    def append(self, entries: list[SortEntry]) -> None:
        """Put entries on the disk, all or none.

        Raises:
            NotSaved: Where the disk refuses; none is kept then.
        """
        from fresh_chair.store.sqlite.rows import insert_sorting

        with writing(self._file.name), self._file.engine.begin() as connection:
            insert_sorting(connection, entries)

    def all(self) -> list[SortEntry]:
        """Every entry in its order; those that cannot be read as such. Raises FileProblem where the file cannot be."""
        found = self._file.read(f"SELECT {_COLUMNS} FROM sort_entry ORDER BY number")
        entries: list[SortEntry] = []
        for row in found:
            moment, author, content = parts_of(
                row, f"Sorting, entry {row['number']}", sort_content_from, entries[-1].moment if entries else _NOBODY
            )
            entries.append(SortEntry(row["number"], moment, author, content))
        return entries


def _entries(found: list[sqlite3.Row], name: str, before: dict[int, int]) -> dict[int, list[Entry]]:
    """Rows as entries, by sitting; where numbers are missing something stands that cannot be read.

    Args:
        found: The rows.
        name: The file's.
        before: The number of the entry before the first row, by sitting; 0 where none is said.
    """
    entries: dict[int, list[Entry]] = defaultdict(list)
    for row in found:
        sitting, number = row["sitting"], row["number"]
        listed = entries[sitting]
        if type(number) is not int or not 1 <= number <= MOST_ENTRIES or type(sitting) is not int:
            raise FileProblem(
                f"{name} holds an entry with the number {legible(clipped(str(number), 20))}.", "It was left as it is."
            )
        for missing in range(before.get(sitting, 0) + len(listed) + 1, number):
            why = f"Sitting {sitting}, entry {missing} is missing."
            last = listed[-1].moment if listed else _NOBODY
            listed.append(Entry(f"missing-{sitting}-{missing}", missing, last, "", Unreadable("", why)))
        where = f"Sitting {sitting}, entry {number}"
        moment, author, content = parts_of(row, where, content_from, listed[-1].moment if listed else _NOBODY)
        listed.append(Entry(str(row["id"]), number, moment, author, content))
    return dict(entries)


def parts_of(row: sqlite3.Row, where: str, read: Callable[..., Any], before: Moment) -> tuple[Moment, str, Any]:
    """Moment, author and content of a ledger's row; an unreadable content stands there as such.

    Args:
        row: With the columns that all ledgers have.
        where: What to call it.
        read: Reads a content of this ledger.
        before: The moment of the entry before it, for one whose own cannot be read.
    """
    moment, author = before, row["author"]
    why = moment_problem(row["ticks_ns"], row["boot"], row["wall_ns"])
    if not why:
        moment = Moment(row["ticks_ns"], row["boot"], row["wall_ns"])
    if not isinstance(author, str):
        why, author = "nobody is named as its author", ""
    if not why:
        try:
            return moment, author, read(row["body"], version=row["version"], where=where)
        except JournalError as problem:
            why = problem.title
    return moment, author, unreadable_row(row, where, why)
