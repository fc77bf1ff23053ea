"""The engine that writes a study file."""

import sqlite3

from sqlalchemy import Engine, create_engine, event
from sqlalchemy.pool import QueuePool

from fresh_chair.store.sqlite.form.schema import APPLICATION_ID


def make_engine(address: str, *, write: bool) -> Engine:
    """An engine on a study file's address; every commit reaches the disk before it returns."""
    engine = create_engine(
        "sqlite://",
        # Longer than any commit takes, shorter than a person's patience.
        creator=lambda: sqlite3.connect(address, uri=True, timeout=3.0, check_same_thread=False),
        poolclass=QueuePool,
    )

    @event.listens_for(engine, "connect")
    def _prepare(connection: sqlite3.Connection, _: object) -> None:
        if write:
            connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")
            connection.execute("PRAGMA journal_mode = WAL")
            connection.execute("PRAGMA synchronous = FULL")
        connection.execute("PRAGMA foreign_keys = ON")
        connection.execute("PRAGMA trusted_schema = OFF")

    return engine
