"""A study's rows carried whole from one database to another, and compared there one by one."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import TYPE_CHECKING, Any

from fresh_chair.core.errors import NotSaved
from fresh_chair.core.text import count_of

if TYPE_CHECKING:
    from fresh_chair.store.tables.database import Database

# Every table of a study, each after those it refers to, with the columns that tell its rows apart.
TABLES: Mapping[str, tuple[str, ...]] = {
    "study": (),
    "machine": ("id",),
    "chair": ("id",),
    "card": ("id",),
    "person": ("code",),
    "carried": ("id",),
    "chair_state": ("chair", "number"),
    "seat": ("id",),
    "entry": ("sitting", "number"),
    "sort_entry": ("number",),
    "chair_entry": ("number",),
    "evidence_entry": ("number",),
    "baseline_state": ("number",),
    "pulse": ("sitting",),
    "script": ("number",),
    "change": ("number",),
    "hunch": ("id",),
    "fixture_check": ("number",),
    "erasure": ("participant",),
}
Row = dict[str, Any]
# Columns of one kind of database alone: a row's place in a server's table, a study's name, crew and channel there.
_OWN = frozenset({"rowid", "name", "crew", "away", "channel"})
# Of an entry that a server keeps: by whom, when and from where it was kept, and its digest in the chain of its ledger.
SIGNED = frozenset({"login", "kept_at", "station", "salt", "digest"})
_FLAGS = frozenset({"sample", "gone", "late", "figures_kept"})


def rows_of(database: Database, table: str) -> list[Row]:
    """The rows of one of a study's tables without the study's id, as values that are alike in every database.

    They stand in the order of their keys; chairs as they were added. Raises FileProblem.
    """
    own = "id" if table == "study" else "study"
    order = " ORDER BY rowid" if table == "chair" else ""
    left_out = {own, *SIGNED, *(_OWN if table in ("study", "chair") else ())}
    found = [
        {name: bool(value) if name in _FLAGS else value for name, value in _pairs(row) if name not in left_out}
        for row in database.read(f"SELECT * FROM {table} WHERE {own} = ?{order}", (database.study_id,))
    ]
    return found if table == "chair" else sorted(found, key=lambda row: key_of(table, row))


def key_of(table: str, row: Row) -> tuple[Any, ...]:
    """The values that tell a row of a table apart."""
    return tuple(row[name] for name in TABLES[table])


def _pairs(row: Any) -> Iterator[tuple[str, Any]]:
    return zip(row.keys(), row, strict=True)


def copy_study(source: Database, target: Database) -> int:
    """Copy a study into empty tables in one transaction, and compare every row; returns the count of rows.

    Raises:
        FileProblem: Where one of both cannot be read.
        NotSaved: Where the target refuses, or holds anything else than the source in the end.
    """
    tables = {table: rows_of(source, table) for table in TABLES}
    with target.changing(source.study_id, brings=True) as rows:
        for table, listed in tables.items():
            rows.put(table, [{"id": source.study_id, **row} for row in listed] if table == "study" else listed)
    for table, listed in tables.items():
        there = rows_of(target, table)
        if there != listed:
            raise NotSaved(
                f"The copy of {source.name} differs: {count_of(len(there), 'row')} of {len(listed)} in {table}.",
                "Nothing was changed where it is; the copy is not to be used.",
            )
    return sum(map(len, tables.values()))
