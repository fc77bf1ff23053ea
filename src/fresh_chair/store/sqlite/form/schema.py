"""Which version a study file has, and how it becomes the present one."""

from __future__ import annotations

import sqlite3
from pathlib import Path

from fresh_chair.core.errors import FileProblem
from fresh_chair.core.text import clipped, legible

APPLICATION_ID = 0x46724368  # "FrCh"
# The newest revision and all that led there. A test holds this against the migrations, so that opening an
# up-to-date file need not import Alembic.
REVISIONS = ("s0001", "s0002", "s0003", "s0004", "s0005")
HEAD = REVISIONS[-1]


def revision_of(rows: sqlite3.Connection) -> str | None:
    """The revision a file says it has, or None where it says nothing."""
    if rows.execute("SELECT name FROM sqlite_master WHERE name = 'alembic_version'").fetchone() is None:
        return None
    row = rows.execute("SELECT CAST(version_num AS BLOB) FROM alembic_version").fetchone()
    return None if row is None or row[0] is None else bytes(row[0]).decode("utf-8", "replace")


def foreign_objects(rows: sqlite3.Connection, revision: str | None) -> list[str]:
    """Objects of a file that differ from the migrations', in a few words each; empty where none does.

    Nothing else is queried before: a view in a table's place, or a trigger of somebody else's, never gets to run.
    """
    from fresh_chair.store.sqlite.form.shapes import SHAPES, shape_of

    if revision not in SHAPES:
        return []
    wanted = dict(SHAPES[revision])
    found = []
    # As bytes: a name that is no text is none of ours, and would end the reading.
    query = "SELECT type, CAST(name AS BLOB), CAST(tbl_name AS BLOB), CAST(sql AS BLOB) FROM sqlite_master LIMIT 200"
    for kind, *parts in rows.execute(query):
        name, table, sql = (None if part is None else bytes(part).decode("utf-8", "replace") for part in parts)
        if kind == "index" and sql is None and str(name).startswith("sqlite_autoindex_"):
            continue
        said = legible(clipped(f"{kind} {name}", 60))
        if wanted.pop(f"{kind} {name}", None) != shape_of(table, sql):
            found.append(
                f"{said} is another than ours" if f"{kind} {name}" in SHAPES[revision] else f"{said} is not ours"
            )
    return found + [f"{name} is missing" for name in wanted]


def migrate(writer: sqlite3.Connection, to: str = HEAD) -> None:
    """Bring an empty or older file to a revision, in one transaction.

    Args:
        writer: The connection that writes the file; no other one is made of it, which would drop the file's locks.
        to: The revision, the newest by default.
    """
    from alembic import command
    from alembic.config import Config
    from sqlalchemy import create_engine
    from sqlalchemy.exc import SQLAlchemyError
    from sqlalchemy.pool import StaticPool

    engine = create_engine("sqlite://", creator=lambda: writer, poolclass=StaticPool)
    # Its first connection is tried out and rolled back, before the transaction begins.
    engine.connect().close()
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parents[2] / "migrations"))
    # Tables are made anew under their own names; what refers to nothing is found by the check, as before.
    writer.execute("PRAGMA foreign_keys = OFF")
    writer.execute("BEGIN IMMEDIATE")
    try:
        with engine.begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, to)
    except SQLAlchemyError as problem:
        raise sqlite3.OperationalError(str(getattr(problem, "orig", problem))) from problem
    finally:
        if writer.in_transaction:
            writer.execute("ROLLBACK")
        writer.execute("PRAGMA foreign_keys = ON")


def require_known(revision: str | None, name: str) -> bool:
    """True where the file must be migrated before it can be used.

    Raises:
        FileProblem: Where it has no revision, or one from a newer program.
    """
    if revision is None:
        raise FileProblem(f"{name} is marked as a study file but has no tables.", "It was never finished.")
    if revision not in REVISIONS:
        raise FileProblem(
            f"{name} was written by a newer Fresh Chair (schema {legible(clipped(revision, 20))}; "
            f"this one knows up to {HEAD}).",
            "It was left as it is. Update Fresh Chair to open it.",
        )
    return revision != HEAD
