"""Which version a study file has, and how it becomes the present one."""

from __future__ import annotations

import sqlite3
from pathlib import Path
from typing import TYPE_CHECKING

from fresh_chair.core.errors import FileProblem

if TYPE_CHECKING:
    from sqlalchemy import Connection

APPLICATION_ID = 0x46724368  # "FrCh"
# The newest revision and all that led there. A test holds this against the migrations, so that opening an
# up-to-date file need not import Alembic.
REVISIONS = ("s0001", "s0002", "s0003")
HEAD = REVISIONS[-1]


def revision_of(rows: sqlite3.Connection) -> str | None:
    """The revision a file says it has, or None where it says nothing."""
    if rows.execute("SELECT name FROM sqlite_master WHERE name = 'alembic_version'").fetchone() is None:
        return None
    row = rows.execute("SELECT version_num FROM alembic_version").fetchone()
    return None if row is None else str(row[0])


def migrate(connection: Connection) -> None:
    """Bring an empty or older file to the newest revision, in one transaction."""
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.attributes["connection"] = connection
    command.upgrade(config, HEAD)


def require_known(revision: str | None, name: str) -> bool:
    """True where the file must be migrated before it can be used.

    Raises:
        FileProblem: Where it has no revision, or one from a newer program.
    """
    if revision is None:
        raise FileProblem(f"{name} is marked as a study file but has no tables.", "It was never finished.")
    if revision not in REVISIONS:
        raise FileProblem(
            f"{name} was written by a newer Fresh Chair (schema {revision}; this one knows up to {HEAD}).",
            "It was left as it is. Update Fresh Chair to open it.",
        )
    return revision != HEAD
