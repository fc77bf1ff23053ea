"""Records about a chair: put down, changed field by field, struck with a reason."""

from dataclasses import asdict, dataclass
from typing import Any, get_type_hints

from fresh_chair.core.codec import fitted
from fresh_chair.core.errors import InputError
from fresh_chair.core.field_text import choices_of, line_of, meant
from fresh_chair.core.text import clipped, legible
from fresh_chair.core.witness.book import Held, RecordPut, RecordStruck
from fresh_chair.core.witness.labels import RECORD_LABELS
from fresh_chair.core.witness.records import CONSENT_ITEMS, KINDS, ConsentItem, Reading, Record, kind_of, read_value
from fresh_chair.services.desk import Desk, new_id
from fresh_chair.services.editing import FieldLine
from fresh_chair.services.errands import chair_of
from fresh_chair.services.planning import made

_KEPT = "Nothing was changed."


@dataclass(frozen=True, slots=True)
class ConsentRow:
    """One default across the chairs; None where nobody has looked at it at a chair."""

    item: str
    at: dict[str, ConsentItem | None]


def records_of(desk: Desk, letter: str, kind: str) -> list[Held]:
    """The records of one kind about a chair."""
    return desk.books.of(letter).held(kind)


def put_record(desk: Desk, letter: str, kind: str, **values: Any) -> Record:
    """A new record, on disk.

    Raises:
        InputError: Where there is no such chair or kind, or it cannot be so.
        Refused, NotSaved: As `Desk.note`.
    """
    chair_of(desk, letter)
    if kind not in KINDS:
        raise InputError(f"{legible(clipped(kind, 30))} is no record.", f"These are: {', '.join(KINDS)}.")
    record: Record = made(KINDS[kind], {"id": new_id(), **values}, f"The {kind}")
    desk.note(letter, RecordPut(record))
    return record


def put_reading(desk: Desk, letter: str, what: str, value: str, **conditions: Any) -> Reading:
    """A reading taken by hand, from what somebody typed. Raises as `put_record`."""
    try:
        parts = read_value(value)
    except ValueError as problem:
        raise InputError(f"“{legible(clipped(value, 40))}” is no reading: {problem}.", _KEPT) from problem
    record = put_record(desk, letter, "reading", **{"what": what.strip(), "method": "by hand", **conditions, **parts})
    assert isinstance(record, Reading)
    return record


def change_record(desk: Desk, letter: str, kind: str, record_id: str, field: str, text: str) -> Record:
    """One field of a record changed to what a line of text means. Raises as `put_record`."""
    record = find_record(desk, letter, kind, record_id)
    if field not in {label.field for label in RECORD_LABELS[kind]}:
        raise InputError(f"A {kind} has no {legible(clipped(field, 40))} that can be set.", _KEPT)
    hint = get_type_hints(type(record), include_extras=True)[field]
    try:
        value = fitted(type(record), field, meant(hint, text, field.replace("_", " ")))
    except ValueError as problem:
        raise InputError(f"{field.replace('_', ' ')} cannot be so: {problem}.", _KEPT) from problem
    values = asdict(record)
    values[field] = value
    _follow(record, values, field)
    changed: Record = made(type(record), values, f"The {kind}")
    if changed != record:
        desk.note(letter, RecordPut(changed))
    return changed


def _follow(record: Record, values: dict[str, Any], field: str) -> None:
    """What has to change with a field, so that a reading can be changed line by line."""
    if not isinstance(record, Reading):
        return
    if field == "precision":
        low = values["low"] if values["low"] is not None else 0.0
        values["low"] = None if values["precision"] == "felt" else low
        values["high"] = (values["high"] or low) if values["precision"] == "range" else None
        values["felt"] = (values["felt"] or "to say") if values["precision"] == "felt" else ""
    if field == "trust" and values["trust"] == "doubted" and not values["why"].strip():
        values["why"] = "to say"


def strike_record(desk: Desk, letter: str, kind: str, record_id: str, reason: str) -> None:
    """A record holds no more, with why; it stays in the file. Raises InputError where there is none, or no reason."""
    find_record(desk, letter, kind, record_id)
    if not reason.strip():
        raise InputError("Striking a record needs a reason.", _KEPT)
    desk.note(letter, RecordStruck(kind, record_id, reason.strip()[:2000]))


def find_record(desk: Desk, letter: str, kind: str, record_id: str) -> Record:
    """A record by its id. Raises InputError where there is none."""
    for held in records_of(desk, letter, kind):
        if held.record.id == record_id:
            return held.record
    raise InputError(f"There is no such {legible(clipped(kind, 20))} about chair {legible(letter[:3])}.", _KEPT)


def record_lines(record: Record) -> list[FieldLine]:
    """The fields of a record, as its sheet shows them."""
    kind = kind_of(record)
    hints = get_type_hints(type(record), include_extras=True)
    lines = []
    for label in RECORD_LABELS[kind]:
        text = line_of(getattr(record, label.field))
        choices = choices_of(hints[label.field])
        lines.append(FieldLine(label.field, label.words, text, label.note, "", choices, False, text))
    return lines


def consent_rows(desk: Desk) -> list[ConsentRow]:
    """Defaults and consents across the chairs: the common ones first, then whatever was found besides."""
    letters = list(desk.study.chair_by_letter)
    found: dict[str, dict[str, ConsentItem]] = {item: {} for item in CONSENT_ITEMS}
    for letter in letters:
        for held in records_of(desk, letter, "consent"):
            if isinstance(held.record, ConsentItem):
                found.setdefault(held.record.item, {})[letter] = held.record
    return [ConsentRow(item, {letter: at.get(letter) for letter in letters}) for item, at in found.items()]
