"""The rows of a plan: documents, seats, states of chairs, dated changes."""

import json
import secrets
from collections.abc import Collection, Mapping, Sequence
from dataclasses import asdict
from typing import Any

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import Overtaken
from fresh_chair.core.plan.chair_states import ChairState
from fresh_chair.core.plan.changes import Difference
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.store.gate import require_field, require_plain, require_text
from fresh_chair.store.tables.rows import DOCUMENT, Rows

# The tables of a plan's documents, and what each is known by.
PARTS: Mapping[str, tuple[str, str]] = {
    "machines": ("machine", "id"),
    "chairs": ("chair", "letter"),
    "cards": ("card", "id"),
    "people": ("person", "code"),
    "carried": ("carried", "id"),
}


def insert_study(rows: Rows, study: Study, made: Moment, states: Sequence[ChairState]) -> None:
    """Write a whole new study."""
    rows.put("study", [{**_head(study), "id": study.id, "made_wall_ns": made.wall_ns, "revision": 1}])
    for part in PARTS:
        rows.put(PARTS[part][0], [_document(part, at, value) for at, value in enumerate(getattr(study, part))])
    put_states(rows, states)
    rows.put("seat", [_seat(rows, seat) for seat in study.seats])


def replace_plan(rows: Rows, old: Study, new: Study) -> None:
    """Write the rows in which two plans of one study differ."""
    head = _head(new)
    if _head(old) != head:
        rows.change_head(head)
    kept, was = set(old.seats) & set(new.seats), {seat.number: seat for seat in old.seats}
    again = {s.number for s in new.seats if s.number in was and _who(s) == _who(was[s.number])}
    gone = [number for number in was if number not in again]
    _require_not_begun(rows, [*gone, *(s.number for s in new.seats if s.number in again and s not in kept)])
    rows.drop("seat", "number", gone)
    for part, (table, key) in PARTS.items():
        before = {getattr(value, key): (at, value) for at, value in enumerate(getattr(old, part))}
        after = {getattr(value, key): (at, value) for at, value in enumerate(getattr(new, part))}
        taken_out = before.keys() - after.keys()
        if part == "chairs":
            _take_out(rows, taken_out)
        changed = [(name, pair) for name, pair in after.items() if before.get(name) != pair]
        for name, (at, value) in changed:
            _put_document(rows, part, name, _document(part, at, value), there=name in before)
        if part != "chairs":
            rows.drop(table, key, taken_out)
    for seat in new.seats:
        if seat.number not in again:
            rows.put("seat", [_seat(rows, seat)])
        elif seat not in kept:
            values = {"position": seat.position, "cards": json.dumps(seat.cards)}
            rows.change("seat", values, {"number": seat.number})


def raise_revision(rows: Rows, revision: int) -> None:
    """Count a change of the plan. Raises Overtaken where it is no longer at that revision."""
    if not rows.change_head({}, revision=revision):
        raise Overtaken("The plan was changed meanwhile.", "It is read on.")


def _require_not_begun(rows: Rows, numbers: Sequence[int]) -> None:
    """Do nothing where none of these sittings has begun. Raises Overtaken: another program began it."""
    query = "SELECT 1 FROM entry JOIN seat ON seat.study = entry.study AND seat.id = entry.sitting WHERE "
    for number in numbers:
        if rows.one(f"{query} entry.study = ? AND seat.number = ? LIMIT 1", number):
            raise Overtaken(f"Sitting {number} has begun meanwhile.", "It is read on.")


def _put_document(rows: Rows, part: str, name: str, row: Mapping[str, Any], *, there: bool) -> None:
    table, key = PARTS[part]
    if not there:
        rows.put(table, [row])
        return
    kept = {column: value for column, value in row.items() if column not in ("id", key)}
    rows.change(table, kept, {key: name, "gone": False} if part == "chairs" else {key: name})


def _take_out(rows: Rows, letters: Collection[str]) -> None:
    """Take chairs out of the plan; those with a record or a hunch stay, as gone."""
    for letter in letters:
        chair = rows.chair_id(letter)
        noted = any(
            rows.one(f"SELECT 1 FROM {table} WHERE study = ? AND chair = ? LIMIT 1", chair)
            for table in ("chair_entry", "hunch")
        )
        if noted:
            rows.change("chair", {"gone": True}, {"id": chair})
        else:
            rows.drop("chair_state", "chair", [chair])
            rows.drop("chair", "id", [chair])


def _document(part: str, at: int, value: Any) -> dict[str, Any]:
    key = PARTS[part][1]
    require_plain(value, f"{type(value).__name__} {getattr(value, key)}")
    body = asdict(value)
    row = {key: getattr(value, key), "position": at, "version": DOCUMENT}
    if part == "people":
        row["role"] = body.pop("role")
    if part == "chairs":
        row |= {"id": secrets.token_hex(8), "gone": False}
    return {**row, "body": json.dumps(body, ensure_ascii=False)}


def _seat(rows: Rows, seat: Seat) -> dict[str, Any]:
    require_plain(seat, f"Sitting {seat.number}")
    row = {**asdict(seat), "cards": json.dumps(seat.cards), "chair": rows.chair_id(seat.chair)}
    return {**row, "id": secrets.token_hex(8)}


def put_states(rows: Rows, states: Sequence[ChairState]) -> None:
    """Write states of chairs, new ones or ones in which no sitting was held."""
    listed = [
        {
            "chair": rows.chair_id(state.chair.letter),
            "number": state.number,
            "since_wall_ns": state.since_wall_ns,
            "version": DOCUMENT,
            "body": json.dumps(
                {name: value for name, value in asdict(state).items() if name not in ("number", "since_wall_ns")},
                ensure_ascii=False,
            ),
        }
        for state in states
    ]
    rows.put("chair_state", listed, key=("chair", "number"))


def add_changes(rows: Rows, changes: Sequence[Difference], moment: Moment, author: str, sittings: int) -> None:
    """Write changes of the plan, with their date."""
    first = rows.next_number("change")
    own = {"wall_ns": moment.wall_ns, "author": author, "sittings": sittings}
    rows.put(
        "change",
        [
            {**own, "number": first + at, "path": each.path, "before": each.before, "after": each.after}
            for at, each in enumerate(changes)
        ],
    )


def add_script(rows: Rows, text: str, moment: Moment, author: str) -> None:
    """Write the script as it is now."""
    require_text("The script", text)
    own = {"number": rows.next_number("script"), "wall_ns": moment.wall_ns}
    rows.put("script", [{**own, "author": author, "text": text}])


def _who(seat: Seat) -> tuple[str, str]:
    return seat.participant, seat.chair


def _head(study: Study) -> dict[str, Any]:
    require_plain(study.sheet, "The study sheet")
    head = {name: require_field(study, name) for name in ("title", "question", "sample", "seed")}
    return {**head, "version": DOCUMENT, "sheet": json.dumps(asdict(study.sheet), ensure_ascii=False)}
