"""A whole plan: sheet, machines, script text, dated changes, hunches, fixtures, erasure.

What the first version held is brought to the present form, so that a study begun then goes on.
"""

import json
from typing import Any

import sqlalchemy as sa
from alembic import op

from fresh_chair.store.migrations.first_plan import raise_first

revision = "s0002"
down_revision = "s0001"
branch_labels = None
depends_on = None

_APPENDED = ("script", "change", "fixture_check", "erasure")


def upgrade() -> None:
    op.add_column("study", sa.Column("sheet", sa.JSON, nullable=False, server_default="{}"))
    for name in ("machine", "carried"):
        op.create_table(
            name,
            sa.Column("id", sa.String, primary_key=True),
            sa.Column("place", sa.Integer, nullable=False),
            sa.Column("body", sa.JSON, nullable=False),
        )
    op.create_table("script", *_numbered(), sa.Column("author", sa.String, nullable=False), _text("text"))
    op.create_table(
        "change",
        *_numbered(),
        sa.Column("author", sa.String, nullable=False),
        _text("place"),
        _text("before"),
        _text("after"),
        sa.Column("sittings", sa.Integer, nullable=False),
    )
    op.create_table(
        "hunch",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("card", sa.String, nullable=False),
        sa.Column("chair", sa.String, nullable=False),
        _text("words"),
        sa.Column("severity", sa.Integer, nullable=False),
        sa.Column("written_wall_ns", sa.BigInteger, nullable=False),
        sa.Column("sealed_wall_ns", sa.BigInteger),
        sa.Column("late", sa.Boolean(create_constraint=False), nullable=False),
    )
    op.create_table(
        "fixture_check", *_numbered(), _text("name"), sa.Column("presence", sa.String, nullable=False), _text("note")
    )
    op.create_table(
        "erasure",
        sa.Column("participant", sa.String, primary_key=True),
        sa.Column("wall_ns", sa.BigInteger, nullable=False),
        sa.Column("author", sa.String, nullable=False),
        sa.Column("figures_kept", sa.Boolean(create_constraint=False), nullable=False),
    )
    _triggers()
    _raise_plan(op.get_bind())
    op.execute("ALTER TABLE study DROP COLUMN audience")


def _triggers() -> None:
    for table in _APPENDED:
        for verb in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{verb.lower()} BEFORE {verb} ON {table} "
                "BEGIN SELECT RAISE(ABORT, 'entries are only ever appended'); END"
            )
    # A hunch that was sealed, or whose chair a newcomer has sat at, is no prediction any more if it can be changed.
    # The role is looked for as text: a file's triggers may not call JSON functions, and no other text in the body can
    # hold a quote that is not escaped.
    sat = (
        "EXISTS (SELECT 1 FROM entry JOIN seat ON seat.number = entry.sitting JOIN person ON person.code = "
        'seat.participant WHERE seat.chair = OLD.chair AND person.body NOT LIKE \'%"role": "expert"%\')'
    )
    # Sealing itself, and nothing else, may touch what is still open.
    sealing = (
        "NEW.sealed_wall_ns IS NOT NULL AND NEW.words IS OLD.words AND NEW.severity IS OLD.severity AND "
        "NEW.card IS OLD.card AND NEW.chair IS OLD.chair AND NEW.written_wall_ns IS OLD.written_wall_ns"
    )
    stop = "SELECT RAISE(ABORT, 'hunches are sealed')"
    op.execute(
        f"CREATE TRIGGER hunch_no_update BEFORE UPDATE ON hunch WHEN OLD.sealed_wall_ns IS NOT NULL OR ({sat} "
        f"AND NOT ({sealing})) BEGIN {stop}; END"
    )
    op.execute(
        f"CREATE TRIGGER hunch_no_delete BEFORE DELETE ON hunch WHEN OLD.sealed_wall_ns IS NOT NULL OR {sat} "
        f"BEGIN {stop}; END"
    )
    # Entries stay as they are, unless the one who sat there asked to be erased: then the words go, or all of it.
    erased = (
        "EXISTS (SELECT 1 FROM erasure JOIN seat ON seat.participant = erasure.participant "
        "WHERE seat.number = OLD.sitting AND {})"
    )
    kept = "NEW.sitting IS OLD.sitting AND NEW.number IS OLD.number AND NEW.id IS OLD.id AND NEW.kind IS OLD.kind AND "
    kept += "NEW.ticks_ns IS OLD.ticks_ns AND NEW.boot IS OLD.boot AND NEW.wall_ns IS OLD.wall_ns"
    stop = "SELECT RAISE(ABORT, 'entries are only ever appended')"
    op.execute("DROP TRIGGER entry_no_update")
    op.execute("DROP TRIGGER entry_no_delete")
    op.execute(
        f"CREATE TRIGGER entry_no_update BEFORE UPDATE ON entry WHEN NOT ({erased.format('1')} AND {kept}) "
        f"BEGIN {stop}; END"
    )
    op.execute(
        f"CREATE TRIGGER entry_no_delete BEFORE DELETE ON entry WHEN NOT {erased.format('erasure.figures_kept = 0')} "
        f"BEGIN {stop}; END"
    )


def _raise_plan(connection: sa.Connection) -> None:
    study = connection.execute(sa.text("SELECT id, audience FROM study")).mappings().first()
    if study is None:
        return
    raw: dict[str, Any] = {"audience": study["audience"]}
    keys = {"chairs": ("chair", "letter"), "cards": ("card", "id")}
    for part, (table, _) in keys.items():
        rows = connection.execute(sa.text(f"SELECT body FROM {table} ORDER BY place"))
        raw[part] = [json.loads(row[0]) for row in rows]
    raise_first(raw)
    connection.execute(sa.text("UPDATE study SET sheet = :sheet"), {"sheet": json.dumps(raw.get("sheet", {}))})
    for part, (table, key) in keys.items():
        for body in raw[part]:
            connection.execute(
                sa.text(f"UPDATE {table} SET body = :body WHERE {key} = :name"),
                {"body": json.dumps(body, ensure_ascii=False), "name": body[key]},
            )
    for index, machine in enumerate(raw["machines"]):
        connection.execute(
            sa.text("INSERT INTO machine (id, place, body) VALUES (:id, :place, :body)"),
            {"id": machine["id"], "place": index, "body": json.dumps(machine, ensure_ascii=False)},
        )


def _numbered() -> list[sa.Column[Any]]:
    return [
        sa.Column("number", sa.Integer, primary_key=True, autoincrement=False),
        sa.Column("wall_ns", sa.BigInteger, nullable=False),
    ]


def _text(name: str) -> sa.Column[Any]:
    return sa.Column(name, sa.Text, nullable=False)
