"""What is written into the tables, through SQLAlchemy."""

from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

from sqlalchemy import Connection, Table, insert
from sqlalchemy.dialects.sqlite import insert as upsert

from fresh_chair.core.clock import Moment
from fresh_chair.core.journal import ENTRY_VERSION, Entry, body_of
from fresh_chair.core.sorting import LEDGER_VERSION, SortEntry, sort_body
from fresh_chair.core.study import Chair, Participant, Seat, Study, TaskCard
from fresh_chair.store import tables

_APPEND = insert(tables.entry)


def insert_study(connection: Connection, study: Study, made: Moment) -> None:
    """A whole new study."""
    head = {name: getattr(study, name) for name in ("id", "title", "question", "audience", "sample", "seed")}
    connection.execute(insert(tables.study).values(**head, made_wall_ns=made.wall_ns))
    parts: tuple[tuple[Table, str, Sequence[Chair | TaskCard | Participant]], ...] = (
        (tables.chair, "letter", study.chairs),
        (tables.card, "id", study.cards),
        (tables.person, "code", study.people),
    )
    for table, key, values in parts:
        rows = [{key: getattr(value, key), "place": at, "body": asdict(value)} for at, value in enumerate(values)]
        if rows:
            connection.execute(insert(table), rows)
    if study.seats:
        connection.execute(insert(tables.seat), [_seat_row(seat) for seat in study.seats])


def insert_person(connection: Connection, person: Participant, seats: Sequence[Seat], place: int) -> None:
    """One more person with their seats."""
    row = {"code": person.code, "place": place, "body": asdict(person)}
    connection.execute(insert(tables.person), [row])
    if seats:
        connection.execute(insert(tables.seat), [_seat_row(seat) for seat in seats])


def insert_entries(connection: Connection, sitting: int, entries: Sequence[Entry]) -> None:
    """Entries of a sitting's journal."""
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
    connection.execute(_APPEND, rows)


def insert_sorting(connection: Connection, entries: Sequence[SortEntry]) -> None:
    """Entries of the sorting ledger."""
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
    connection.execute(insert(tables.sort_entry), rows)


def set_pulse(connection: Connection, sitting: int, moment: Moment) -> None:
    """The last sign of life in a sitting."""
    row = _moment_row(moment)
    statement = upsert(tables.pulse).values(sitting=sitting, **row)
    connection.execute(statement.on_conflict_do_update(index_elements=["sitting"], set_=row))


def _moment_row(moment: Moment) -> dict[str, Any]:
    return {"ticks_ns": moment.ticks_ns, "boot": moment.boot, "wall_ns": moment.wall_ns}


def _seat_row(seat: Seat) -> dict[str, Any]:
    return {**asdict(seat), "cards": list(seat.cards)}
