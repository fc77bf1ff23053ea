"""Writing into the tables, through SQLAlchemy."""

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import asdict
from typing import Any

from sqlalchemy import Connection, Table, delete, func, insert, select, update
from sqlalchemy.dialects.sqlite import insert as upsert

from fresh_chair.core.chair.ledger import ChairEntry
from fresh_chair.core.clock import Moment
from fresh_chair.core.evidence.hunches import Hunch
from fresh_chair.core.findings.ledger import SortEntry
from fresh_chair.core.plan.changes import Difference
from fresh_chair.core.plan.fixtures import FixtureCheck
from fresh_chair.core.plan.people import Erasure
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.store.gate import (
    chair_row,
    entry_row,
    moment_row,
    require_field,
    require_plain,
    require_text,
    sort_row,
)
from fresh_chair.store.sqlite import tables
from fresh_chair.store.sqlite.erasing import mark_unpacked, scrub_chair, scrub_entries, without_triggers

_APPEND = insert(tables.entry)


_PARTS: tuple[tuple[str, Table, str], ...] = (
    ("machines", tables.machine, "id"),
    ("chairs", tables.chair, "letter"),
    ("cards", tables.card, "id"),
    ("people", tables.person, "code"),
    ("carried", tables.carried, "id"),
)


def insert_study(connection: Connection, study: Study, made: Moment) -> None:
    """A whole new study."""
    connection.execute(insert(tables.study).values(**_head(study), id=study.id, made_wall_ns=made.wall_ns))
    for part, table, key in _PARTS:
        rows = [_body_row(key, at, value) for at, value in enumerate(getattr(study, part))]
        if rows:
            connection.execute(insert(table), rows)
    if study.seats:
        connection.execute(insert(tables.seat), [_seat_row(seat) for seat in study.seats])


def replace_plan(connection: Connection, old: Study, new: Study) -> None:
    """The rows in which two plans of one study differ."""
    if _head(old) != _head(new):
        connection.execute(update(tables.study).values(**_head(new)))
    stayed = set(old.seats) & set(new.seats)
    gone = [seat.number for seat in old.seats if seat not in stayed]
    for some in _batched(gone, 500):
        connection.execute(delete(tables.seat).where(tables.seat.c.number.in_(some)))
    for part, table, key in _PARTS:
        before = {getattr(value, key): (at, value) for at, value in enumerate(getattr(old, part))}
        after = {getattr(value, key): (at, value) for at, value in enumerate(getattr(new, part))}
        changed = [_body_row(key, *pair) for name, pair in after.items() if before.get(name) != pair]
        if changed:
            statement = upsert(table)
            kept = {"place": statement.excluded.place, "body": statement.excluded.body}
            connection.execute(statement.on_conflict_do_update(index_elements=[key], set_=kept), changed)
        for some in _batched(before.keys() - after.keys(), 500):
            connection.execute(delete(table).where(table.c[key].in_(some)))
    added = [_seat_row(seat) for seat in new.seats if seat not in stayed]
    if added:
        connection.execute(insert(tables.seat), added)


def add_changes(
    connection: Connection, changes: Sequence[Difference], moment: Moment, author: str, sittings: int
) -> None:
    """Changes of the plan, with their date."""
    first = _next_number(connection, tables.change)
    rows = [
        {
            "number": first + at,
            "wall_ns": moment.wall_ns,
            "author": author,
            "place": each.place,
            "before": each.before,
            "after": each.after,
            "sittings": sittings,
        }
        for at, each in enumerate(changes)
    ]
    if rows:
        connection.execute(insert(tables.change), rows)


def add_script(connection: Connection, text: str, moment: Moment, author: str) -> None:
    """The script as it is now written."""
    require_text("The script", text)
    number = _next_number(connection, tables.script)
    row = {"number": number, "wall_ns": moment.wall_ns, "author": author, "text": text}
    connection.execute(insert(tables.script).values(row))


def add_fixture_check(connection: Connection, check: FixtureCheck) -> None:
    """A look at the bench."""
    require_plain(check, "The look at the bench")
    number = _next_number(connection, tables.fixture_check)
    connection.execute(insert(tables.fixture_check).values(number=number, **asdict(check)))


def put_hunch(connection: Connection, hunch: Hunch) -> None:
    """A hunch, new or changed; the file refuses where it is sealed."""
    require_plain(hunch, "The hunch")
    row = asdict(hunch)
    statement = upsert(tables.hunch).values(row)
    connection.execute(statement.on_conflict_do_update(index_elements=["id"], set_=row))


def drop_hunch(connection: Connection, hunch_id: str) -> None:
    """Take a hunch back; the file refuses where it is sealed."""
    connection.execute(delete(tables.hunch).where(tables.hunch.c.id == hunch_id))


def seal_hunches(connection: Connection, letters: Sequence[str], wall_ns: int) -> None:
    """Seal every open hunch at these chairs."""
    still_open = tables.hunch.c.sealed_wall_ns.is_(None) & tables.hunch.c.chair.in_(list(letters))
    connection.execute(update(tables.hunch).where(still_open).values(sealed_wall_ns=wall_ns))


def erase_person(
    connection: Connection,
    old: Study,
    new: Study,
    erasure: Erasure,
    *,
    own_places: Mapping[int, frozenset[str]],
    windows: Sequence[tuple[str, int, int]],
    repack: Callable[[bytes], tuple[bytes, int]],
) -> None:
    """Take a person out: their words or all of their entries, their identifying data, their seats to come.

    Args:
        connection: Within a transaction.
        old, new: The plan with and without them.
        erasure: The trace that stays.
        own_places: For each of their sittings the places that are the chair's own.
        windows: Chair, and from when to when their traces may have been on it.
        repack: Makes a kept state one without the names that people choose, and says how many names are left.
    """
    connection.execute(insert(tables.erasure).values(asdict(erasure)))
    if erasure.figures_kept:
        scrub_entries(connection, own_places)
    else:
        theirs = list(own_places)
        connection.execute(delete(tables.entry).where(tables.entry.c.sitting.in_(theirs)))
        connection.execute(delete(tables.pulse).where(tables.pulse.c.sitting.in_(theirs)))
    with without_triggers(connection, "chair_entry", "chair_state"):
        for letter, since, until in windows:
            scrub_chair(connection, letter, since, until, repack)
    mark_unpacked(connection)
    replace_plan(connection, old, new)


def _next_number(connection: Connection, table: Table) -> int:
    last: int | None = connection.execute(select(func.max(table.c.number))).scalar()
    return (last or 0) + 1


def _batched(values: Iterable[Any], size: int) -> Iterator[list[Any]]:
    """The values in lists of at most `size`: a statement holds only so many."""
    listed = list(values)
    for start in range(0, len(listed), size):
        yield listed[start : start + size]


def _head(study: Study) -> dict[str, Any]:
    require_plain(study.sheet, "The study sheet")
    head = {name: require_field(study, name) for name in ("title", "question", "sample", "seed")}
    return {**head, "sheet": asdict(study.sheet)}


def _body_row(key: str, place: int, value: Any) -> dict[str, Any]:
    require_plain(value, f"{type(value).__name__} {getattr(value, key)}")
    return {key: getattr(value, key), "place": place, "body": asdict(value)}


def insert_entries(connection: Connection, sitting: int, entries: Sequence[Entry]) -> None:
    """Entries of a sitting's journal."""
    rows = [entry_row(sitting, entry) for entry in entries]
    connection.execute(_APPEND, rows)


def insert_sorting(connection: Connection, entries: Sequence[SortEntry]) -> None:
    """Entries of the sorting ledger."""
    rows = [sort_row(entry) for entry in entries]
    connection.execute(insert(tables.sort_entry), rows)


def insert_chair_entries(connection: Connection, entries: Sequence[ChairEntry], states: Mapping[int, bytes]) -> None:
    """Entries about chairs, and the states that they speak of."""
    rows = [chair_row(entry) for entry in entries]
    # The entries first: whoever was overtaken is told so, whatever numbers its states have.
    connection.execute(insert(tables.chair_entry), rows)
    if states:
        connection.execute(
            insert(tables.chair_state), [{"number": number, "body": body} for number, body in states.items()]
        )


def set_pulse(connection: Connection, sitting: int, moment: Moment) -> None:
    """The last sign of life in a sitting."""
    row = moment_row(moment)
    statement = upsert(tables.pulse).values(sitting=sitting, **row)
    connection.execute(statement.on_conflict_do_update(index_elements=["sitting"], set_=row))


def _seat_row(seat: Seat) -> dict[str, Any]:
    require_plain(seat, f"Sitting {seat.number}")
    return {**asdict(seat), "cards": list(seat.cards)}
