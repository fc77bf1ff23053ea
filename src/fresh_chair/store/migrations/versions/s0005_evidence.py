"""The ledger of evidence: references, comparisons, changes, inventory, links, forecasts, later items, advice."""

from alembic import op

revision = "s0005"
down_revision = "s0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute(
        "CREATE TABLE evidence_entry (study VARCHAR NOT NULL REFERENCES study (id), number INTEGER NOT NULL, "
        "kind VARCHAR NOT NULL, version INTEGER NOT NULL, ticks_ns BIGINT NOT NULL, boot VARCHAR NOT NULL, "
        "wall_ns BIGINT NOT NULL, author VARCHAR NOT NULL, body TEXT NOT NULL, PRIMARY KEY (study, number))"
    )
    for verb in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER evidence_entry_no_{verb.lower()} BEFORE {verb} ON evidence_entry "
            "BEGIN SELECT RAISE(ABORT, 'entries are only ever appended'); END"
        )
