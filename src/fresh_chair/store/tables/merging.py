"""A working copy's rows brought back into the study it was copied from, which may have gone on meanwhile.

Entries of sittings are known by their ids, and those of numbered ledgers by all that they are: what both have stays,
the copy's rest follows after the study's own. Nothing of either is lost or changed, and nothing doubled if it is
brought once more.
"""

from __future__ import annotations

import json
import re
import secrets
from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from fresh_chair.core.errors import Overtaken, Refused
from fresh_chair.store.tables.copying import TABLES, Row, key_of, rows_of

if TYPE_CHECKING:
    from fresh_chair.store.tables.database import Database
    from fresh_chair.store.tables.rows import Rows

_PLANNED = ("machine", "chair", "card", "person", "carried", "chair_state", "seat")
_LEDGERS = ("sort_entry", "chair_entry", "evidence_entry")
_OWN_ID = re.compile(r"(sort|chair|evidence)-([0-9]+)")
Both = Mapping[str, tuple[list[Row], list[Row]]]


@dataclass(slots=True)
class MergedRows:
    """The result of bringing a copy back.

    Attributes:
        added: How many rows were added, by table.
        clashes: Sittings that had begun in both, with the number under which the copy's is kept beside.
        erased: People whose marks were left out: they were erased in the study meanwhile.
        to_erase: People who were erased in the copy and still stand in the study.
        plan: Whether the plan was changed in the copy.
    """

    added: dict[str, int] = field(default_factory=dict)
    clashes: list[tuple[int, int]] = field(default_factory=list)
    erased: list[str] = field(default_factory=list)
    to_erase: list[str] = field(default_factory=list)
    plan: bool = False


def merge_rows(source: Database, target: Database) -> MergedRows:
    """Bring the rows that a copy has beyond its study into that study, in one transaction.

    Args:
        source: The copy.
        target: The study.

    Raises:
        FileProblem: Where one of both cannot be read.
        Refused: Where the plan was changed in both, with the places of both changes; nothing is brought then.
        Overtaken: Where the plan of the study was changed while they were compared.
        NotSaved: Where the study's place refuses; nothing is brought then.
    """
    both: Both = {table: (rows_of(source, table), rows_of(target, table)) for table in TABLES}
    merged = MergedRows()
    with target.changing(brings=True) as rows:
        _merge_plan(rows, both, merged)
        _merge_journals(rows, both, merged)
        states = _merge_states(rows, both, merged)
        for table in _LEDGERS:
            _put(rows, merged, table, _following(table, *both[table], states))
        for table in ("fixture_check", "script"):
            _put(rows, merged, table, _following(table, *both[table], {}))
        there = {row["id"] for row in both["hunch"][1]}
        _put(rows, merged, "hunch", [row for row in both["hunch"][0] if row["id"] not in there])
    return merged


def _put(rows: Rows, merged: MergedRows, table: str, listed: list[Row]) -> None:
    if listed:
        rows.put(table, listed)
        merged.added[table] = merged.added.get(table, 0) + len(listed)


def _common(one: list[Row], other: list[Row]) -> int:
    """How many rows both have in common from their beginning."""
    pairs = zip(one, other, strict=False)
    return next((at for at, (a, b) in enumerate(pairs) if a != b), min(len(one), len(other)))


def _merge_plan(rows: Rows, both: Both, merged: MergedRows) -> None:
    """Take the copy's plan over where it alone was changed. Raises Refused where both were."""
    theirs, ours = both["change"]
    common = _common(theirs, ours)
    changed, meanwhile = theirs[common:], ours[common:]
    if not changed:
        return
    if meanwhile:
        told = [", ".join(sorted({row["path"] for row in listed})[:5]) for listed in (changed, meanwhile)]
        raise Refused(
            f"The plan was changed in both: {told[0]} in the copy, {told[1]} in the study.",
            "Nothing was brought. Make the copy's changes in the study, or take them back in the copy; then again.",
        )
    head = both["study"][0][0]
    revision = both["study"][1][0]["revision"]
    changed_head = {name: value for name, value in head.items() if name not in ("revision", "made_wall_ns")}
    if not rows.change_head(changed_head, revision=revision):
        raise Overtaken("The plan was changed meanwhile.", "Nothing was brought. Say it again.")
    for table in _PLANNED:
        there = {key_of(table, row): row for row in both[table][1]}
        # A sitting that has begun in the study alone keeps the state it began in.
        wanted = [_with_state(row, there.get(key_of(table, row))) if table == "seat" else row for row in both[table][0]]
        rows.put(table, [row for row in wanted if there.get(key_of(table, row)) != row], key=TABLES[table])
    for table in reversed(_PLANNED):
        wanted_keys = {key_of(table, row) for row in both[table][0]}
        for key in {key_of(table, row) for row in both[table][1]} - wanted_keys:
            rows.remove(table, dict(zip(TABLES[table], key, strict=True)))
    first = len(ours) + 1
    _put(rows, merged, "change", [{**row, "number": first + step} for step, row in enumerate(changed)])
    merged.plan = True


def _with_state(row: Row, there: Row | None) -> Row:
    return {**row, "state": there["state"]} if there is not None and row["state"] is None else row


def _merge_journals(rows: Rows, both: Both, merged: MergedRows) -> None:
    """Add the copy's entries that the study does not have, each sitting's after the study's own."""
    theirs, ours = (_by_sitting(listed) for listed in both["entry"])
    lies_in = {row["id"]: row["sitting"] for row in both["entry"][1]}
    seats = {row["id"]: row for listed in reversed(both["seat"]) for row in listed}
    gone = {row["participant"] for row in both["erasure"][1]}
    merged.to_erase = sorted({row["participant"] for row in both["erasure"][0]} - gone)
    last = max((row["number"] for row in seats.values()), default=0)
    for sitting, listed in theirs.items():
        fresh = [row for row in listed if row["id"] not in lies_in]
        if not fresh:
            continue
        seat = seats[sitting]
        if seat["participant"] in gone:
            merged.erased.append(seat["participant"])
            continue
        # One that was brought beside another before goes on there.
        goes_to = lies_in.get(listed[0]["id"], sitting)
        if goes_to == sitting and ours.get(sitting) and listed[0]["id"] not in lies_in:
            last += 1
            merged.clashes.append((seat["number"], last))
            goes_to = secrets.token_hex(8)
            rows.put("seat", [{**seat, "id": goes_to, "number": last}])
        first = len(ours.get(goes_to, ())) + 1
        if first == 1 and seat["state"] is not None:
            rows.hold_state(goes_to, seat["state"])
        numbered = [{**row, "sitting": goes_to, "number": first + step} for step, row in enumerate(fresh)]
        _put(rows, merged, "entry", numbered)


def _by_sitting(listed: Iterable[Row]) -> dict[str, list[Row]]:
    found: dict[str, list[Row]] = defaultdict(list)
    for row in listed:
        found[row["sitting"]].append(row)
    return found


def _merge_states(rows: Rows, both: Both, merged: MergedRows) -> dict[int, int]:
    """Add the copy's own states of chairs; returns the numbers they have now, by the numbers they had."""
    numbers, fresh = _matched(*both["baseline_state"], lambda row: row["body"])
    _put(rows, merged, "baseline_state", [{**row, "number": numbers[row["number"]]} for row in fresh])
    return numbers


def _following(table: str, theirs: list[Row], ours: list[Row], states: Mapping[int, int]) -> list[Row]:
    """The copy's own rows of a numbered table, numbered after the study's, their references with them."""
    ledger = table.removesuffix("_entry")

    def alike(row: Row) -> object:
        rest = tuple(value for name, value in row.items() if name not in ("number", "body"))
        return rest, _masked(row.get("body", ""), ledger)

    numbers, fresh = _matched(theirs, ours, alike)
    found = []
    for row in fresh:
        moved = {**row, "number": numbers[row["number"]]}
        if "body" in row:
            moved["body"] = _retold(row["body"], ledger, numbers, states)
        found.append(moved)
    return found


def _matched(theirs: list[Row], ours: list[Row], alike: Callable[[Row], object]) -> tuple[dict[int, int], list[Row]]:
    """The numbers that rows of the copy have in the study, and those of them that are new to it.

    Args:
        theirs: The copy's rows, by number.
        ours: The study's.
        alike: A value that is the same for one row wherever it stands.
    """
    there: dict[object, list[int]] = defaultdict(list)
    for row in reversed(ours):
        there[alike(row)].append(row["number"])
    last = max((row["number"] for row in ours), default=0)
    numbers: dict[int, int] = {}
    fresh = []
    for row in theirs:
        known = there.get(alike(row))
        if known:
            numbers[row["number"]] = known.pop()
        else:
            last += 1
            numbers[row["number"]] = last
            fresh.append(row)
    return numbers, fresh


def _masked(body: str, ledger: str) -> str:
    """A stored content but for the numbers by which entries and states are called in it."""
    masked = re.sub(rf'"{ledger}-[0-9]+"', f'"{ledger}-"', body)
    return re.sub(r'"state": ?[0-9]+', '"state":', masked) if ledger == "chair" else masked


def _retold(body: str, ledger: str, numbers: Mapping[int, int], states: Mapping[int, int]) -> str:
    """A stored content in which entries and states that have other numbers now are called by those."""
    try:
        raw = json.loads(body)
    except ValueError:
        return body

    def told(value: Any) -> Any:
        if isinstance(value, dict):
            return {name: told(each) for name, each in value.items()}
        if isinstance(value, list):
            return [told(each) for each in value]
        found = _OWN_ID.fullmatch(value) if isinstance(value, str) else None
        if found is None or found[1] != ledger:
            return value
        return f"{ledger}-{numbers.get(int(found[2]), int(found[2]))}"

    changed = told(raw)
    if isinstance(changed, dict) and changed.get("kind") == "baseline_taken":
        changed["state"] = states.get(changed["state"], changed["state"])
    return body if changed == raw else json.dumps(changed, ensure_ascii=False)
