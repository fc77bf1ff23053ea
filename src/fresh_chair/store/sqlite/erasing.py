"""Erasing a person's words from the file's bytes; an unfinished erasure is finished at the next opening."""

from __future__ import annotations

import json
import time
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any

from fresh_chair.core.errors import NotSaved
from fresh_chair.store.sqlite.troubles import writing

if TYPE_CHECKING:
    from sqlalchemy import Connection

    from fresh_chair.store.sqlite.study_file import StudyFile

Repack = Callable[[bytes], tuple[bytes, int]]
ERASED = "erased"
# The file's own number says whether nothing of what was erased is left in its bytes.
PACKED = 2
# The fields of a sitting's entry in which words of the person, or names of what is theirs, can stand.
_WORDY = ("words", "reason", "file", "evidence")
_WORD_LISTS = ("told", "skipped")
_WAIT_SECONDS = 4.0
# Sections of a chair's state whose names people choose themselves.
OWN_NAMES = ("home",)


@contextmanager
def without_triggers(connection: Connection, *tables: str) -> Iterator[None]:
    """Let rows of these tables be changed; the very same triggers are there again afterwards."""
    marks = ", ".join("?" * len(tables))
    query = f"SELECT name, sql FROM sqlite_master WHERE type = 'trigger' AND tbl_name IN ({marks})"
    found = connection.exec_driver_sql(query, tables).fetchall()
    for name, _ in found:
        connection.exec_driver_sql(f'DROP TRIGGER "{name}"')
    yield
    for _, sql in found:
        connection.exec_driver_sql(sql)


def scrub_entries(connection: Connection, sittings: Mapping[int, frozenset[str]]) -> None:
    """Take words, names of files and places that were typed out of sittings' entries.

    Args:
        connection: Within a transaction; the erasure must be on record already.
        sittings: For each sitting the places that are the chair's own, and so may stay.
    """
    for number, own in sittings.items():
        rows = connection.exec_driver_sql("SELECT number, body FROM entry WHERE sitting = ?", (number,)).fetchall()
        for entry, body in rows:
            changed = scrubbed(body, own)
            if changed != body:
                values = (changed, number, entry)
                connection.exec_driver_sql("UPDATE entry SET body = ? WHERE sitting = ? AND number = ?", values)


def scrubbed(body: object, own_places: frozenset[str] = frozenset()) -> object:
    """An entry's stored content without anything of the person in it."""
    try:
        raw = json.loads(body) if isinstance(body, str) else None
    except (ValueError, RecursionError):
        raw = None
    if not isinstance(raw, dict):
        # What cannot be read cannot be told apart either.
        return "{}"
    was = json.dumps(raw, ensure_ascii=False)
    for key in _WORDY:
        if raw.get(key):
            raw[key] = ERASED
    for key in _WORD_LISTS:
        if raw.get(key):
            raw[key] = [ERASED]
    if raw.get("place") and raw["place"] not in own_places:
        raw["place"] = ERASED
    now = json.dumps(raw, ensure_ascii=False)
    return body if now == was else now


def scrub_chair(connection: Connection, letter: str, since: int, until: int, repack: Repack) -> None:
    """Take a person's traces out of a chair's answers.

    Args:
        connection: Within a transaction, without the triggers of both tables.
        letter: The chair.
        since, until: Moments by the wall clock between which their traces may have been on it.
        repack: Makes a kept state one without the names that people choose, and says how many names are left.
    """
    query = (
        "SELECT number, body FROM chair_entry WHERE chair = ? AND wall_ns >= ? AND wall_ns <= ? AND kind IN "
        "('freshness_read', 'checks_asked', 'noise_learnt', 'baseline_taken')"
    )
    for number, body in connection.exec_driver_sql(query, (letter, since, until)).fetchall():
        try:
            raw = json.loads(body)
        except (ValueError, TypeError, RecursionError):
            raw = {}
        if isinstance(raw, dict) and raw.get("kind") == "baseline_taken":
            state = raw.get("state")
            found = connection.exec_driver_sql("SELECT body FROM chair_state WHERE number = ?", (state,)).fetchone()
            if found is not None:
                packed, keys = repack(bytes(found[0]))
                connection.exec_driver_sql("UPDATE chair_state SET body = ? WHERE number = ?", (packed, state))
                values = (json.dumps({**raw, "keys": keys}, ensure_ascii=False), number)
                connection.exec_driver_sql("UPDATE chair_entry SET body = ? WHERE number = ?", values)
            continue
        changed = json.dumps(_without_traces(raw), ensure_ascii=False)
        connection.exec_driver_sql("UPDATE chair_entry SET body = ? WHERE number = ?", (changed, number))


def _without_traces(raw: Any) -> dict[str, Any]:
    if not isinstance(raw, dict):
        return {}
    if raw.get("told"):
        raw["told"] = [ERASED]
    if raw.get("differing"):
        raw["differing"] = []
    if isinstance(raw.get("answers"), list):
        raw["answers"] = [
            {**each, "value": ERASED, "why": ""} if isinstance(each, dict) and each.get("value") else each
            for each in raw["answers"]
        ]
    if isinstance(raw.get("names"), list):
        raw["names"] = [name for name in raw["names"] if str(name).partition(":")[0] not in OWN_NAMES]
    return raw


def mark_unpacked(connection: Connection) -> None:
    """Note, within the transaction that erases, that the file's bytes are still to be packed."""
    connection.exec_driver_sql("PRAGMA user_version = 0")


def is_packed(file: StudyFile) -> bool:
    """Whether the file's bytes can hold nothing of an erased person."""
    return int(file.read("PRAGMA user_version")[0][0]) == PACKED


def pack(file: StudyFile) -> None:
    """Overwrite the freed bytes, in the file and in its write-ahead log; waits for other readers.

    Raises:
        NotSaved: Where another program still reads the file, or the disk refuses; the next opening tries again.
    """
    with writing(file.name):
        with file.engine.connect() as connection:
            connection.exec_driver_sql("PRAGMA secure_delete = ON")
            connection.commit()
        with file.engine.connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
            connection.exec_driver_sql("VACUUM")
            end = time.monotonic() + _WAIT_SECONDS
            while not _emptied(connection):
                if time.monotonic() > end:
                    raise NotSaved(
                        f"What was erased is still in the bytes of {file.name}: another program reads it.",
                        "Nothing shows it any more. Close the other program and open the study once; then it is gone.",
                    )
                time.sleep(0.05)
            connection.exec_driver_sql(f"PRAGMA user_version = {PACKED}")
            _emptied(connection)


def _emptied(connection: Connection) -> bool:
    """Whether the write-ahead log could be brought into the file and cut to nothing."""
    busy, _, _ = connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)").one()
    return not busy
