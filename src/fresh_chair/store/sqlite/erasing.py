"""Erasing a person's words from the file's bytes; an unfinished erasure is finished at the next opening."""

from __future__ import annotations

import json
import sqlite3
import time
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from typing import TYPE_CHECKING

from fresh_chair.core.errors import NotSaved
from fresh_chair.store.scrubbing import scrubbed, without_traces, without_words
from fresh_chair.store.sqlite.troubles import writing

if TYPE_CHECKING:
    from fresh_chair.store.sqlite.rows import Rows
    from fresh_chair.store.sqlite.study_file import StudyFile

Repack = Callable[[bytes], tuple[bytes, int]]
# The file's own number says whether nothing of what was erased is left in its bytes.
PACKED = 2
_WAIT_SECONDS = 4.0


@contextmanager
def _without_triggers(connection: sqlite3.Connection, *tables: str) -> Iterator[None]:
    """Let rows of these tables be changed; the very same triggers are there again afterwards."""
    marks = ", ".join("?" * len(tables))
    query = f"SELECT name, sql FROM sqlite_master WHERE type = 'trigger' AND tbl_name IN ({marks})"
    found = connection.execute(query, tables).fetchall()
    for name, _ in found:
        connection.execute(f'DROP TRIGGER "{name}"')
    yield
    for _, sql in found:
        connection.execute(sql)


def scrub(
    rows: Rows,
    own_places: Mapping[int, frozenset[str]],
    windows: Sequence[tuple[str, int, int]],
    targets: frozenset[str],
) -> None:
    """Take words out of sittings' entries and traces out of chairs' answers; the bytes are still to be packed.

    Args:
        rows: Within a transaction; the erasure must be on record already.
        own_places: For each of the person's sittings the places that are the chair's own, and so may stay.
        windows: Chair, and from when to when, by the wall clock, their traces may have been on it.
        targets: The marks, steps, attempts and sittings of theirs that evidence records may speak of.
    """
    from fresh_chair.store.sqlite.packed_states import packed_without_own_names

    for number, own in own_places.items():
        _scrub_entries(rows, rows.sitting_id(number), own)
    with _without_triggers(rows.connection, "evidence_entry"):
        scrub_evidence(rows, targets)
    with _without_triggers(rows.connection, "chair_entry", "baseline_state"):
        for letter, since, until in windows:
            _scrub_chair(rows, rows.chair_id(letter), since, until, packed_without_own_names)
    rows.connection.execute("PRAGMA user_version = 0")


def _scrub_entries(rows: Rows, sitting: str, own_places: frozenset[str]) -> None:
    """Take words, names of files and places that were typed out of a sitting's entries."""
    query = "SELECT number, body FROM entry WHERE study = ? AND sitting = ?"
    for number, body in rows.connection.execute(query, (rows.study, sitting)).fetchall():
        changed = scrubbed(body, own_places)
        if changed != body:
            values = (changed, rows.study, sitting, number)
            rows.execute("UPDATE entry SET body = ? WHERE study = ? AND sitting = ? AND number = ?", values)


def scrub_evidence(rows: Rows, targets: frozenset[str]) -> None:
    """Take the words out of evidence records that speak of these targets; within a transaction, without triggers."""
    query = "SELECT number, body FROM evidence_entry WHERE study = ?"
    for number, body in rows.connection.execute(query, (rows.study,)).fetchall():
        changed = without_words(body, targets)
        if changed != body:
            values = (changed, rows.study, number)
            rows.execute("UPDATE evidence_entry SET body = ? WHERE study = ? AND number = ?", values)


def targets_of(rows: Rows, numbers: Iterable[int]) -> frozenset[str]:
    """The targets of evidence records in some sittings: the sittings, their entries, their attempts."""
    found = set()
    for number in numbers:
        found.add(f"sitting:{number}")
        found |= {f"attempt:{number}/{attempt}" for attempt in range(1, 100)}
        query = "SELECT id FROM entry WHERE study = ? AND sitting = ?"
        for (name,) in rows.connection.execute(query, (rows.study, rows.sitting_id(number))).fetchall():
            found |= {f"mark:{name}", f"step:{name}"}
    return frozenset(found)


def _scrub_chair(rows: Rows, chair: str, since: int, until: int, repack: Repack) -> None:
    """Take a person's traces out of a chair's answers.

    Args:
        rows: Within a transaction, without the triggers of both tables.
        chair: The chair's permanent id.
        since, until: Moments by the wall clock between which their traces may have been on it.
        repack: Makes a kept state one without the names that people choose, and says how many names are left.
    """
    query = (
        "SELECT number, body FROM chair_entry WHERE study = ? AND chair = ? AND wall_ns >= ? AND wall_ns <= ? AND "
        "kind IN ('freshness_read', 'checks_asked', 'noise_learnt', 'baseline_taken')"
    )
    change = "UPDATE chair_entry SET body = ? WHERE study = ? AND number = ?"
    for number, body in rows.connection.execute(query, (rows.study, chair, since, until)).fetchall():
        try:
            raw = json.loads(body)
        except (ValueError, TypeError, RecursionError):
            raw = {}
        if isinstance(raw, dict) and raw.get("kind") == "baseline_taken":
            state = raw.get("state")
            found = rows.one("SELECT body FROM baseline_state WHERE study = ? AND number = ?", state)
            if found is not None:
                packed, keys = repack(bytes(found))
                values = (packed, rows.study, state)
                rows.execute("UPDATE baseline_state SET body = ? WHERE study = ? AND number = ?", values)
                rows.execute(change, (json.dumps({**raw, "keys": keys}, ensure_ascii=False), rows.study, number))
            continue
        rows.execute(change, (json.dumps(without_traces(raw), ensure_ascii=False), rows.study, number))


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
