"""The sound part of a study file, copied into a new one: without entries that cannot be read or cannot follow."""

import sqlite3
from collections.abc import Iterator, Mapping
from contextlib import closing, contextmanager
from pathlib import Path

from fresh_chair.core.errors import FileProblem
from fresh_chair.store.sqlite.form.recognising import display_name, recognise
from fresh_chair.store.sqlite.form.schema import HEAD, foreign_objects, revision_of
from fresh_chair.store.sqlite.opening import create_file
from fresh_chair.store.sqlite.study_file import LARGEST_VALUE, StudyFile, address_of
from fresh_chair.store.sqlite.tables import FileTables
from fresh_chair.store.sqlite.troubles import reading, writing
from fresh_chair.store.tables.store import TableStore

_WHOLE = (
    "study", "machine", "chair", "card", "person", "carried", "seat", "script", "change", "hunch", "fixture_check",
    "erasure", "pulse", "chair_state", "baseline_state",
)  # fmt: skip


def changed_objects(path: Path) -> list[str]:
    """The objects of a file of the present form that differ from the migrations', in a few words each.

    Raises:
        FileProblem: Where it is no study, of another revision, or a table itself is another.
    """
    name = display_name(path)
    recognise(path, name)
    with reading(name), closing(_opened(path)) as rows:
        revision = revision_of(rows)
        foreign = foreign_objects(rows, revision)
    if revision != HEAD:
        raise FileProblem(f"{name} is of another version; open it once for writing first.", "Nothing was copied.")
    tables = [each for each in foreign if each.startswith(("table", "view"))]
    if tables:
        raise FileProblem(f"Nothing of {name} can be trusted: {'; '.join(tables[:3])}.", "Nothing was copied.")
    return foreign


def copy_sound(path: Path, to: Path, left_out: Mapping[str, set[tuple[object, ...]]]) -> None:
    """Make a new study file of the sound part of another one.

    Args:
        path: The study, which is only read.
        to: The new file; nothing may be there.
        left_out: Keys of the rows that are left out, by table: number and sitting for `entry`, number for the others.

    Raises:
        FileProblem, NotSaved: Where it cannot be made; nothing is left of it then.
    """
    name = display_name(path)

    def fill(file: StudyFile) -> None:
        with writing(name), closing(_opened(path)) as source, closing(sqlite3.connect(file.path)) as target:
            target.execute("PRAGMA foreign_keys = OFF")
            for table in _WHOLE:
                _copy(source, target, table, set())
            ids = dict(source.execute("SELECT number, id FROM seat"))
            entries: set[tuple[object, ...]] = {
                (number, ids.get(sitting)) for number, sitting in left_out.get("entry", set())
            }
            _copy(source, target, "entry", entries, within="sitting")
            _copy(source, target, "sort_entry", left_out.get("sort_entry", set()))
            for table in ("chair_entry", "evidence_entry"):
                _copy(source, target, table, left_out.get(table, set()))
            target.commit()

    create_file(to, fill)


@contextmanager
def unchecked_store(path: Path) -> Iterator[TableStore]:
    """The store of a file whose objects were changed, as far as it can be read; closed afterwards."""
    with StudyFile(path, None) as file:
        yield TableStore(FileTables(file))


def _copy(
    source: sqlite3.Connection,
    target: sqlite3.Connection,
    table: str,
    without: set[tuple[object, ...]],
    within: str = "",
) -> None:
    """Copy a table's rows but for some; the rows left of a ledger are numbered anew, without gaps."""
    columns = [str(row[1]) for row in source.execute(f"PRAGMA table_info({table})")]
    marks = ", ".join("?" * len(columns))
    order = f" ORDER BY {f'{within}, ' if within else ''}number" if table.endswith("entry") else ""
    last: dict[object, int] = {}
    for row in source.execute(f"SELECT {', '.join(columns)} FROM {table}{order}"):
        values = dict(zip(columns, row, strict=True))
        if order:
            ledger = values.get(within)
            key = (values["number"], ledger) if within else (values["number"],)
            if key in without:
                continue
            last[ledger] = values["number"] = last.get(ledger, 0) + 1
        target.execute(f"INSERT INTO {table} ({', '.join(columns)}) VALUES ({marks})", list(values.values()))


def _opened(path: Path) -> sqlite3.Connection:
    connection = sqlite3.connect(address_of(path, write=False), uri=True, timeout=3.0)
    connection.setlimit(sqlite3.SQLITE_LIMIT_LENGTH, LARGEST_VALUE)
    connection.execute("PRAGMA trusted_schema = OFF")
    connection.text_factory = lambda data: data.decode("utf-8", "surrogateescape")
    return connection
