"""Erasing a person's words from the rows of a study."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import TYPE_CHECKING

from fresh_chair.store.scrubbing import reworded, scrubbed, without_traces, without_words

if TYPE_CHECKING:
    from fresh_chair.store.tables.rows import Rows

Repack = Callable[[bytes], tuple[bytes, int]]


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
    from fresh_chair.store.tables.packed_states import packed_without_own_names

    for number, own in own_places.items():
        _scrub_entries(rows, rows.sitting_id(number), own)
    scrub_evidence(rows, targets)
    for letter, since, until in windows:
        _scrub_chair(rows, rows.chair_id(letter), since, until, packed_without_own_names)


def _scrub_entries(rows: Rows, sitting: str, own_places: frozenset[str]) -> None:
    """Take words, names of files and places that were typed out of a sitting's entries."""
    query = "SELECT number, body FROM entry WHERE study = ? AND sitting = ?"
    for number, body in rows.found(query, sitting):
        changed = scrubbed(body, own_places)
        if changed != body:
            rows.rewrite("entry", number, changed, sitting=sitting)


def scrub_evidence(rows: Rows, targets: frozenset[str]) -> None:
    """Take the words out of evidence records that speak of these targets; within a transaction, without triggers."""
    query = "SELECT number, body FROM evidence_entry WHERE study = ?"
    for number, body in rows.found(query):
        changed = without_words(body, targets)
        if changed != body:
            rows.rewrite("evidence_entry", number, changed)


def reword_row(rows: Rows, ledger: str, number: int, sitting: str, *, text: str, words: str) -> None:
    """Put other words in the place of a text in one entry; within a transaction, without triggers."""
    within, values = (" AND sitting = ?", (sitting,)) if sitting else ("", ())
    where = f"WHERE study = ?{within} AND number = ?"
    for (body,) in rows.found(f"SELECT body FROM {ledger} {where}", *values, number):
        changed = reworded(body, text, words)
        if changed != body:
            rows.rewrite(ledger, number, changed, sitting=sitting)


def targets_of(rows: Rows, numbers: Iterable[int]) -> frozenset[str]:
    """The targets of evidence records in some sittings: the sittings, their entries, their attempts."""
    found = set()
    for number in numbers:
        found.add(f"sitting:{number}")
        found |= {f"attempt:{number}/{attempt}" for attempt in range(1, 100)}
        query = "SELECT id FROM entry WHERE study = ? AND sitting = ?"
        for (name,) in rows.found(query, rows.sitting_id(number)):
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
    for number, body in rows.found(query, chair, since, until):
        try:
            raw = json.loads(body)
        except (ValueError, TypeError, RecursionError):
            raw = {}
        if isinstance(raw, dict) and raw.get("kind") == "baseline_taken":
            state = raw.get("state")
            found = rows.one("SELECT body FROM baseline_state WHERE study = ? AND number = ?", state)
            if found is not None:
                packed, keys = repack(bytes(found))
                rows.rewrite("baseline_state", int(state or 0), packed)
                rows.rewrite("chair_entry", number, json.dumps({**raw, "keys": keys}, ensure_ascii=False))
            continue
        rows.rewrite("chair_entry", number, json.dumps(without_traces(raw), ensure_ascii=False))
