"""The first study file: the plan, the journals, the sorting ledger."""

import sqlalchemy as sa
from alembic import op

revision = "s0001"
down_revision = None
branch_labels = None
depends_on = None

_APPENDED = ("entry", "sort_entry")


def upgrade() -> None:
    op.create_table(
        "study",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("title", sa.Text, nullable=False),
        sa.Column("question", sa.Text, nullable=False),
        sa.Column("audience", sa.Text, nullable=False),
        sa.Column("sample", sa.Boolean(create_constraint=False), nullable=False),
        sa.Column("seed", sa.Integer, nullable=False),
        sa.Column("made_wall_ns", sa.BigInteger, nullable=False),
    )
    for name, key in (("chair", "letter"), ("card", "id"), ("person", "code")):
        op.create_table(
            name,
            sa.Column(key, sa.String, primary_key=True),
            sa.Column("place", sa.Integer, nullable=False),
            sa.Column("body", sa.JSON, nullable=False),
        )
    op.create_table(
        "seat",
        sa.Column("number", sa.Integer, primary_key=True, autoincrement=False),
        sa.Column("participant", sa.String, sa.ForeignKey("person.code"), nullable=False),
        sa.Column("chair", sa.String, sa.ForeignKey("chair.letter"), nullable=False),
        sa.Column("position", sa.Integer, nullable=False),
        sa.Column("cards", sa.JSON, nullable=False),
        sa.UniqueConstraint("participant", "chair"),
    )
    op.create_table(
        "entry",
        sa.Column("sitting", sa.Integer, sa.ForeignKey("seat.number"), primary_key=True),
        sa.Column("number", sa.Integer, primary_key=True),
        sa.Column("id", sa.String, nullable=False, unique=True),
        *_entry_columns(),
    )
    op.create_table(
        "sort_entry", sa.Column("number", sa.Integer, primary_key=True, autoincrement=False), *_entry_columns()
    )
    op.create_table(
        "pulse",
        sa.Column("sitting", sa.Integer, sa.ForeignKey("seat.number"), primary_key=True),
        sa.Column("ticks_ns", sa.BigInteger, nullable=False),
        sa.Column("boot", sa.String, nullable=False),
        sa.Column("wall_ns", sa.BigInteger, nullable=False),
    )
    # Nothing is overwritten, whoever writes: the file itself refuses.
    for table in _APPENDED:
        for verb in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{verb.lower()} BEFORE {verb} ON {table} "
                "BEGIN SELECT RAISE(ABORT, 'entries are only ever appended'); END"
            )


def _entry_columns() -> list[sa.Column[object]]:
    return [
        sa.Column("kind", sa.String, nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("ticks_ns", sa.BigInteger, nullable=False),
        sa.Column("boot", sa.String, nullable=False),
        sa.Column("wall_ns", sa.BigInteger, nullable=False),
        sa.Column("author", sa.String, nullable=False),
        sa.Column("body", sa.Text, nullable=False),
    ]
