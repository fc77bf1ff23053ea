"""Files as something outside the program left them."""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path


def of_sitting(number: int) -> str:
    """The condition that a row belongs to the sitting of this number."""
    return f"sitting = (SELECT id FROM seat WHERE number = {number})"


def damaged(path: Path, *statements: str, values: tuple[object, ...] = ()) -> None:
    """Change a study file behind its triggers' backs; they are there again afterwards."""
    with behind_triggers(path) as rows:
        for statement in statements:
            rows.execute(statement, values)


@contextmanager
def behind_triggers(path: Path) -> Iterator[sqlite3.Connection]:
    """A connection to a study file without its triggers, in one transaction."""
    with sqlite3.connect(path) as rows:
        rows.execute("PRAGMA foreign_keys = OFF")
        triggers = rows.execute("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'").fetchall()
        for name, _ in triggers:
            rows.execute(f"DROP TRIGGER {name}")
        yield rows
        for _, sql in triggers:
            rows.execute(sql)
    rows.close()
