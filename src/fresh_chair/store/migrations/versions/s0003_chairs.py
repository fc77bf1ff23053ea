"""What is known of each chair: entries that are only ever appended, and whole states beside them."""

import sqlalchemy as sa
from alembic import op

revision = "s0003"
down_revision = "s0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "chair_entry",
        sa.Column("number", sa.Integer, primary_key=True, autoincrement=False),
        sa.Column("chair", sa.String, nullable=False),
        sa.Column("kind", sa.String, nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("ticks_ns", sa.BigInteger, nullable=False),
        sa.Column("boot", sa.String, nullable=False),
        sa.Column("wall_ns", sa.BigInteger, nullable=False),
        sa.Column("author", sa.String, nullable=False),
        sa.Column("body", sa.Text, nullable=False),
    )
    op.create_table(
        "chair_state",
        sa.Column("number", sa.Integer, primary_key=True, autoincrement=False),
        sa.Column("body", sa.LargeBinary, nullable=False),
    )
    for table in ("chair_entry", "chair_state"):
        for verb in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{verb.lower()} BEFORE {verb} ON {table} "
                "BEGIN SELECT RAISE(ABORT, 'entries are only ever appended'); END"
            )
