"""Permanent ids, the study's id in every key, roles as a column, states of chairs that sittings refer to.

Letters, numbers and codes are what a study shows; they may be given to something else later. What the tables hang on
from here are ids of their own. One table may hold many studies, as one on a server does.
"""

import json
from collections.abc import Iterable, Mapping, Sequence
from secrets import token_hex
from typing import Any

import sqlalchemy as sa
from alembic import op

from fresh_chair.store.migrations.chair_history import history

revision = "s0004"
down_revision = "s0003"
branch_labels = None
depends_on = None

Row = Mapping[str, Any]

# Children before what they refer to.
_OLD = (
    "pulse", "entry", "sort_entry", "chair_entry", "chair_state", "seat", "hunch", "fixture_check", "change", "script",
    "erasure", "carried", "person", "card", "chair", "machine", "study",
)  # fmt: skip
_ENTRY = (
    "kind VARCHAR NOT NULL, version INTEGER NOT NULL, ticks_ns BIGINT NOT NULL, boot VARCHAR NOT NULL, "
    "wall_ns BIGINT NOT NULL, author VARCHAR NOT NULL, body TEXT NOT NULL"
)
_STUDY = "study VARCHAR NOT NULL REFERENCES study (id)"
_DOCUMENT = "position INTEGER NOT NULL, version INTEGER NOT NULL, body TEXT NOT NULL"
_DATED = "number INTEGER NOT NULL, wall_ns BIGINT NOT NULL"
_TABLES = (
    "study (id VARCHAR NOT NULL PRIMARY KEY, title TEXT NOT NULL, question TEXT NOT NULL, sample BOOLEAN NOT NULL, "
    "seed INTEGER NOT NULL, made_wall_ns BIGINT NOT NULL, revision INTEGER NOT NULL, version INTEGER NOT NULL, "
    "sheet TEXT NOT NULL)",
    f"machine ({_STUDY}, id VARCHAR NOT NULL, {_DOCUMENT}, PRIMARY KEY (study, id))",
    # A chair that was taken out of the plan stays, gone, where something is on record about it.
    f"chair ({_STUDY}, id VARCHAR NOT NULL, letter VARCHAR NOT NULL, gone BOOLEAN NOT NULL, {_DOCUMENT}, "
    "PRIMARY KEY (study, id))",
    f"card ({_STUDY}, id VARCHAR NOT NULL, {_DOCUMENT}, PRIMARY KEY (study, id))",
    f"person ({_STUDY}, code VARCHAR NOT NULL, role VARCHAR NOT NULL, {_DOCUMENT}, PRIMARY KEY (study, code))",
    f"carried ({_STUDY}, id VARCHAR NOT NULL, {_DOCUMENT}, PRIMARY KEY (study, id))",
    # A chair as it was from one change to the next, whole; the first one has no date.
    f"chair_state ({_STUDY}, chair VARCHAR NOT NULL, number INTEGER NOT NULL, since_wall_ns BIGINT, "
    "version INTEGER NOT NULL, body TEXT NOT NULL, PRIMARY KEY (study, chair, number), "
    "FOREIGN KEY (study, chair) REFERENCES chair (study, id))",
    # One person may sit at one chair several times: once more after a sitting that is void, or in parts of a series.
    f"seat ({_STUDY}, id VARCHAR NOT NULL, number INTEGER NOT NULL, participant VARCHAR NOT NULL, "
    "chair VARCHAR NOT NULL, position INTEGER NOT NULL, cards TEXT NOT NULL, state INTEGER, PRIMARY KEY (study, id), "
    "UNIQUE (study, number), FOREIGN KEY (study, participant) REFERENCES person (study, code), "
    "FOREIGN KEY (study, chair) REFERENCES chair (study, id), "
    "FOREIGN KEY (study, chair, state) REFERENCES chair_state (study, chair, number))",
    f"entry ({_STUDY}, sitting VARCHAR NOT NULL, number INTEGER NOT NULL, id VARCHAR NOT NULL, {_ENTRY}, "
    "PRIMARY KEY (study, sitting, number), UNIQUE (study, id), "
    "FOREIGN KEY (study, sitting) REFERENCES seat (study, id))",
    f"sort_entry ({_STUDY}, number INTEGER NOT NULL, {_ENTRY}, PRIMARY KEY (study, number))",
    f"chair_entry ({_STUDY}, number INTEGER NOT NULL, chair VARCHAR NOT NULL, {_ENTRY}, PRIMARY KEY (study, number))",
    f"baseline_state ({_STUDY}, number INTEGER NOT NULL, body BLOB NOT NULL, PRIMARY KEY (study, number))",
    f"pulse ({_STUDY}, sitting VARCHAR NOT NULL, ticks_ns BIGINT NOT NULL, boot VARCHAR NOT NULL, "
    "wall_ns BIGINT NOT NULL, PRIMARY KEY (study, sitting), FOREIGN KEY (study, sitting) REFERENCES seat (study, id))",
    f"script ({_STUDY}, {_DATED}, author VARCHAR NOT NULL, text TEXT NOT NULL, PRIMARY KEY (study, number))",
    f'change ({_STUDY}, {_DATED}, author VARCHAR NOT NULL, path TEXT NOT NULL, "before" TEXT NOT NULL, '
    '"after" TEXT NOT NULL, sittings INTEGER NOT NULL, PRIMARY KEY (study, number))',
    f"hunch ({_STUDY}, id VARCHAR NOT NULL, card VARCHAR NOT NULL, chair VARCHAR NOT NULL, words TEXT NOT NULL, "
    "severity INTEGER NOT NULL, written_wall_ns BIGINT NOT NULL, sealed_wall_ns BIGINT, late BOOLEAN NOT NULL, "
    "PRIMARY KEY (study, id))",
    f"fixture_check ({_STUDY}, {_DATED}, name TEXT NOT NULL, presence VARCHAR NOT NULL, note TEXT NOT NULL, "
    "PRIMARY KEY (study, number))",
    f"erasure ({_STUDY}, participant VARCHAR NOT NULL, wall_ns BIGINT NOT NULL, author VARCHAR NOT NULL, "
    "figures_kept BOOLEAN NOT NULL, PRIMARY KEY (study, participant))",
)
_APPENDED = ("sort_entry", "chair_entry", "baseline_state", "script", "change", "fixture_check", "erasure")


def upgrade() -> None:
    connection = op.get_bind()
    # The tables refer to each other in another way from here; what refers to nothing is named by the check, as before.
    kept = {table: _rows(connection, table) for table in _OLD}
    for table in _OLD:
        op.execute(f"DROP TABLE {table}")
    for table in _TABLES:
        op.execute(f"CREATE TABLE {table}")
    op.execute("CREATE UNIQUE INDEX chair_letter ON chair (study, letter) WHERE NOT gone")
    if kept["study"]:
        _fill(connection, kept)
    _make_triggers()


def _rows(connection: sa.Connection, table: str) -> list[dict[str, Any]]:
    """All rows of a table as they are stored, not as the types of its columns."""
    found = connection.exec_driver_sql(f"SELECT * FROM {table}")
    return [dict(row) for row in found.mappings()]


def _fill(connection: sa.Connection, old: Mapping[str, Sequence[Row]]) -> None:
    study = old["study"][0]["id"]
    chairs = {row["letter"]: token_hex(8) for row in old["chair"]}
    seats = {row["number"]: token_hex(8) for row in old["seat"]}

    def put(table: str, rows: Iterable[Row]) -> None:
        for row in rows:
            values = {"study": study, **row} if table != "study" else dict(row)
            columns = ", ".join(f'"{name}"' for name in values)
            marks = ", ".join("?" * len(values))
            connection.exec_driver_sql(f"INSERT INTO {table} ({columns}) VALUES ({marks})", tuple(values.values()))

    put("study", [{**old["study"][0], "revision": 1, "version": 1}])
    for table in ("machine", "card", "carried"):
        put(table, [_document(row, "id") for row in old[table]])
    put(
        "chair",
        [{"id": chairs[row["letter"]], "gone": False, **_document(row, "letter")} for row in old["chair"]],
    )
    put("person", [_person(row) for row in old["person"]])
    states = {letter: _history(old, letter) for letter in chairs}
    put(
        "chair_state",
        [
            {
                "chair": chairs[letter],
                "number": at,
                "since_wall_ns": since,
                "version": 1,
                "body": json.dumps(body, ensure_ascii=False),
            }
            for letter, listed in states.items()
            for at, (since, body) in enumerate(listed, start=1)
        ],
    )
    began = {row["sitting"]: row["wall_ns"] for row in old["entry"] if row["number"] == 1}
    put(
        "seat",
        [
            {
                **row,
                "id": seats[row["number"]],
                "chair": chairs.get(row["chair"], row["chair"]),
                "state": _state_at(states.get(row["chair"], []), began.get(row["number"])),
            }
            for row in old["seat"]
        ],
    )
    for table in ("entry", "pulse"):
        put(table, [{**row, "sitting": seats.get(row["sitting"], str(row["sitting"]))} for row in old[table]])
    for table in ("chair_entry", "hunch"):
        put(table, [{**row, "chair": chairs.get(row["chair"], row["chair"])} for row in old[table]])
    put("baseline_state", old["chair_state"])
    put("change", [{"path" if name == "place" else name: row[name] for name in row} for row in old["change"]])
    for table in ("sort_entry", "script", "fixture_check", "erasure"):
        put(table, old[table])


def _document(row: Row, key: str) -> dict[str, Any]:
    return {key: row[key], "position": row["place"], "version": 1, "body": row["body"]}


def _person(row: Row) -> dict[str, Any]:
    """A person with their role out of the document; one that cannot be read stays as it is."""
    document, role = row["body"], "participant"
    try:
        body = json.loads(document)
        role = str(body.pop("role", role))
        document = json.dumps(body, ensure_ascii=False)
    except (ValueError, TypeError, AttributeError):
        pass
    return {**_document(row, "code"), "role": role, "body": document}


def _history(old: Mapping[str, Sequence[Row]], letter: str) -> list[tuple[int | None, dict[str, Any]]]:
    try:
        chairs = {row["letter"]: json.loads(row["body"]) for row in old["chair"]}
        machines = {row["id"]: json.loads(row["body"]) for row in old["machine"]}
        return history(chairs[letter], machines, old["change"])
    except (ValueError, TypeError, KeyError, AttributeError):
        # A plan that cannot be read has no history; opening the study names it.
        return []


def _state_at(states: Sequence[tuple[int | None, Any]], began: object) -> int | None:
    """The number of the state a sitting began in; None where it has not begun."""
    if not isinstance(began, int):
        return None
    held = [at for at, (since, _) in enumerate(states, start=1) if since is None or since <= began]
    return held[-1] if held else None


def _make_triggers() -> None:
    """Make the triggers by which the file itself refuses to overwrite its record."""
    for table in _APPENDED:
        _refuse(table, "UPDATE", "entries are only ever appended")
        _refuse(table, "DELETE", "entries are only ever appended")
    # A state that a sitting was held in stays as it was.
    held = "EXISTS (SELECT 1 FROM seat WHERE study = OLD.study AND chair = OLD.chair AND state = OLD.number)"
    for verb in ("UPDATE", "DELETE"):
        _refuse("chair_state", verb, "entries are only ever appended", when=held)
    sat = (
        "EXISTS (SELECT 1 FROM entry JOIN seat ON seat.study = entry.study AND seat.id = entry.sitting JOIN person "
        "ON person.study = seat.study AND person.code = seat.participant WHERE seat.study = OLD.study AND "
        "seat.chair = OLD.chair AND person.role NOT IN ('expert', 'reviewer'))"
    )
    # Sealing itself, and nothing else, may touch what is still open.
    sealing = (
        "NEW.sealed_wall_ns IS NOT NULL AND NEW.words IS OLD.words AND NEW.severity IS OLD.severity AND "
        "NEW.card IS OLD.card AND NEW.chair IS OLD.chair AND NEW.written_wall_ns IS OLD.written_wall_ns"
    )
    sealed = "hunches are sealed"
    _refuse("hunch", "UPDATE", sealed, when=f"OLD.sealed_wall_ns IS NOT NULL OR ({sat} AND NOT ({sealing}))")
    _refuse("hunch", "DELETE", sealed, when=f"OLD.sealed_wall_ns IS NOT NULL OR {sat}")
    # Entries stay as they are, unless the one who sat there asked to be erased: then the words go, or all of it.
    erased = (
        "EXISTS (SELECT 1 FROM erasure JOIN seat ON seat.study = erasure.study AND seat.participant = "
        "erasure.participant WHERE seat.study = OLD.study AND seat.id = OLD.sitting AND {})"
    )
    same = ("study", "sitting", "number", "id", "kind", "ticks_ns", "boot", "wall_ns")
    kept = " AND ".join(f"NEW.{name} IS OLD.{name}" for name in same)
    appended = "entries are only ever appended"
    _refuse("entry", "UPDATE", appended, when=f"NOT ({erased.format('1')} AND {kept})")
    _refuse("entry", "DELETE", appended, when=f"NOT {erased.format('erasure.figures_kept = 0')}")


def _refuse(table: str, verb: str, why: str, *, when: str = "") -> None:
    op.execute(
        f"CREATE TRIGGER {table}_no_{verb.lower()} BEFORE {verb} ON {table} {f'WHEN {when} ' if when else ''}"
        f"BEGIN SELECT RAISE(ABORT, '{why}'); END"
    )
