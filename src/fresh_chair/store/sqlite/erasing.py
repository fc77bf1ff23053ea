"""Erasing a person's words from a file's bytes; an unfinished erasure is finished at the next opening."""

from __future__ import annotations

import sqlite3
import time
from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING

from fresh_chair.core.errors import NotSaved
from fresh_chair.store.sqlite.troubles import writing

if TYPE_CHECKING:
    from fresh_chair.store.sqlite.study_file import StudyFile

# The file's own number says whether nothing of what was erased is left in its bytes.
PACKED = 2
_WAIT_SECONDS = 4.0


@contextmanager
def without_triggers(connection: sqlite3.Connection, *tables: str) -> Iterator[None]:
    """Let rows of these tables be changed; the very same triggers are there again afterwards."""
    marks = ", ".join("?" * len(tables))
    query = f"SELECT name, sql FROM sqlite_master WHERE type = 'trigger' AND tbl_name IN ({marks})"
    found = connection.execute(query, tables).fetchall()
    for name, _ in found:
        connection.execute(f'DROP TRIGGER "{name}"')
    yield
    for _, sql in found:
        connection.execute(sql)
    # Until the bytes are packed.
    connection.execute("PRAGMA user_version = 0")


def is_packed(file: StudyFile) -> bool:
    """Whether the file's bytes can hold nothing of an erased person."""
    return int(file.read("PRAGMA user_version")[0][0]) == PACKED


def pack(file: StudyFile) -> None:
    """Overwrite the freed bytes, in the file and in its write-ahead log; waits for other readers.

    Raises:
        NotSaved: Where another program still reads the file, or the disk refuses; the next opening tries again.
    """
    with writing(file.name):
        writer = file.writer()
        writer.execute("PRAGMA secure_delete = ON")
        writer.execute("VACUUM")
        end = time.monotonic() + _WAIT_SECONDS
        while not _emptied(writer):
            if time.monotonic() > end:
                raise NotSaved(
                    f"What was erased is still in the bytes of {file.name}: another program reads it.",
                    "Nothing shows it any more. Close the other program and open the study once; then it is gone.",
                )
            time.sleep(0.05)
        writer.execute(f"PRAGMA user_version = {PACKED}")
        _emptied(writer)


def _emptied(connection: sqlite3.Connection) -> bool:
    """Whether the write-ahead log could be brought into the file and cut to nothing."""
    busy, _, _ = connection.execute("PRAGMA wal_checkpoint(TRUNCATE)").fetchone()
    return not busy
