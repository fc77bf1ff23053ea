"""Journals on disk: appended, read, never changed."""

from collections import defaultdict
from typing import Any

from sqlalchemy import Row, insert, select
from sqlalchemy.dialects.sqlite import insert as upsert

from fresh_chair.core.clock import Moment
from fresh_chair.core.journal import ENTRY_VERSION, Entry, body_of, content_from
from fresh_chair.core.sorting import LEDGER_VERSION, SortEntry, sort_body, sort_content_from
from fresh_chair.store import tables
from fresh_chair.store.study_file import StudyFile
from fresh_chair.store.troubles import reading, writing


class Journals:
    """The sittings' journals."""

    def __init__(self, file: StudyFile) -> None:
        self._file = file
        self._append = insert(tables.entry)

    def append(self, sitting: int, entries: list[Entry]) -> None:
        """Put entries on the disk, all or none. Returns when they are durable: law 1.

        Raises:
            NotSaved: Where the disk refuses; none is kept then.
        """
        rows = [
            {
                "sitting": sitting,
                "number": entry.number,
                "id": entry.id,
                "kind": entry.content.kind,
                "version": ENTRY_VERSION,
                **_moment_row(entry.moment),
                "author": entry.author,
                "body": body_of(entry.content),
            }
            for entry in entries
        ]
        with writing(self._file.name), self._file.engine.begin() as connection:
            connection.execute(self._append, rows)

    def all(self) -> dict[int, list[Entry]]:
        """Every sitting's entries in their order, by sitting.

        Raises:
            FileProblem: Where the file cannot be read.
            JournalError: Where an entry is not one.
        """
        found: dict[int, list[Entry]] = defaultdict(list)
        with reading(self._file.name), self._file.engine.connect() as connection:
            order = (tables.entry.c.sitting, tables.entry.c.number)
            for row in connection.execute(select(tables.entry).order_by(*order)):
                found[row.sitting].append(_entry(row))
        return dict(found)

    def of(self, sitting: int) -> list[Entry]:
        """One sitting's entries in their order; raises as `all`."""
        with reading(self._file.name), self._file.engine.connect() as connection:
            chosen = select(tables.entry).where(tables.entry.c.sitting == sitting).order_by(tables.entry.c.number)
            return [_entry(row) for row in connection.execute(chosen)]

    def beat(self, sitting: int, moment: Moment) -> None:
        """Note that the program is alive. Raises NotSaved as `append`."""
        row = _moment_row(moment)
        statement = upsert(tables.pulse).values(sitting=sitting, **row)
        with writing(self._file.name), self._file.engine.begin() as connection:
            connection.execute(statement.on_conflict_do_update(index_elements=["sitting"], set_=row))

    def last_beat(self, sitting: int) -> Moment | None:
        """When the program was last known to be alive in this sitting."""
        with reading(self._file.name), self._file.engine.connect() as connection:
            row = connection.execute(select(tables.pulse).where(tables.pulse.c.sitting == sitting)).first()
        return None if row is None else Moment(row.ticks_ns, row.boot, row.wall_ns)


class Ledgers:
    """The sorting ledger."""

    def __init__(self, file: StudyFile) -> None:
        self._file = file

    def append(self, entries: list[SortEntry]) -> None:
        """Put entries on the disk, all or none.

        Raises:
            NotSaved: Where the disk refuses; none is kept then.
        """
        rows = [
            {
                "number": entry.number,
                "kind": entry.content.kind,
                "version": LEDGER_VERSION,
                **_moment_row(entry.moment),
                "author": entry.author,
                "body": sort_body(entry.content),
            }
            for entry in entries
        ]
        with writing(self._file.name), self._file.engine.begin() as connection:
            connection.execute(insert(tables.sort_entry), rows)

    def all(self) -> list[SortEntry]:
        """Every entry in its order.

        Raises:
            FileProblem: Where the file cannot be read.
            JournalError: Where an entry is not one.
        """
        with reading(self._file.name), self._file.engine.connect() as connection:
            rows = connection.execute(select(tables.sort_entry).order_by(tables.sort_entry.c.number)).all()
        return [
            SortEntry(
                row.number,
                Moment(row.ticks_ns, row.boot, row.wall_ns),
                row.author,
                sort_content_from(row.body, version=row.version, where=f"Sorting, entry {row.number}"),
            )
            for row in rows
        ]


def _moment_row(moment: Moment) -> dict[str, Any]:
    return {"ticks_ns": moment.ticks_ns, "boot": moment.boot, "wall_ns": moment.wall_ns}


def _entry(row: Row[Any]) -> Entry:
    where = f"Sitting {row.sitting}, entry {row.number}"
    return Entry(
        row.id,
        row.number,
        Moment(row.ticks_ns, row.boot, row.wall_ns),
        row.author,
        content_from(row.body, version=row.version, where=where),
    )
