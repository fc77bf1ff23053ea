"""Files as something outside the program left them."""

import sqlite3
from pathlib import Path


def damaged(path: Path, *statements: str, values: tuple[object, ...] = ()) -> None:
    """Change a study file behind its triggers' backs; they are there again afterwards."""
    with sqlite3.connect(path) as rows:
        rows.execute("PRAGMA foreign_keys = OFF")
        triggers = rows.execute("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'").fetchall()
        for name, _ in triggers:
            rows.execute(f"DROP TRIGGER {name}")
        for statement in statements:
            rows.execute(statement, values)
        for _, sql in triggers:
            rows.execute(sql)
    rows.close()
