"""Records about a chair: put down, changed field by field, struck with a reason."""

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any, get_type_hints

from fresh_chair.core.chair.ledger import Held, RecordPut, RecordStruck
from fresh_chair.core.chair.reading_values import Ambiguous, read_value
from fresh_chair.core.chair.record_labels import RECORD_LABELS
from fresh_chair.core.chair.records import (
    CONSENT_ITEMS,
    KINDS,
    ConsentItem,
    Reading,
    Record,
    kind_of,
    number_text,
    reading_text,
)
from fresh_chair.core.codec import fitted
from fresh_chair.core.errors import InputError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.field_syntax import choices_of, line_of, meant
from fresh_chair.core.text import clipped, legible, with_article
from fresh_chair.services.chair.enquiries import chair_of
from fresh_chair.services.plan.editing import FieldLine
from fresh_chair.services.plan.plan_changes import made
from fresh_chair.services.study.open_study import OpenStudy, new_id

_KEPT = "Nothing was changed."


@frozen
class ConsentRow:
    """One default across the chairs; None at a chair where it is not looked at."""

    item: str
    at: dict[str, ConsentItem | None]


def records_of(opened: OpenStudy, letter: str, kind: str) -> list[Held]:
    """The records of one kind about a chair."""
    return opened.known_chairs.of(letter).held(kind)


def put_record(opened: OpenStudy, letter: str, kind: str, **values: Any) -> Record:
    """A new record, on disk.

    Raises:
        InputError: Where there is no such chair or kind, or it cannot be so.
        Refused, NotSaved: As `OpenStudy.note`.
    """
    chair_of(opened, letter)
    _require_kind(kind)
    record: Record = made(KINDS[kind], {"id": new_id(), **values}, f"The {kind}")
    if isinstance(record, ConsentItem):
        _require_once(opened, letter, record)
    opened.note(letter, RecordPut(record))
    return record


def put_reading(opened: OpenStudy, letter: str, what: str, value: str, **conditions: Any) -> Reading:
    """A reading taken by hand, from its typed text.

    Raises:
        Ambiguous: Where the value could mean two numbers.
        InputError, Refused, NotSaved: As `put_record`.
    """
    if not what.strip():
        raise InputError("Say what was measured: what='idle memory'.", _KEPT)
    values = {"what": what.strip(), "method": "by hand", **conditions, **_value_fields(value, what)}
    record = put_record(opened, letter, "reading", **values)
    assert isinstance(record, Reading)
    return record


def _value_fields(value: str, what: str) -> dict[str, Any]:
    """The fields of a reading that a typed value fills. Raises as `put_reading`."""
    try:
        found = read_value(value, what=what)
    except Ambiguous:
        raise
    except ValueError as problem:
        raise InputError(f"“{legible(clipped(value, 40))}” is no reading: {problem}.", _KEPT) from problem
    return {**asdict(found), "typed": clipped(value.strip(), 200)}


def _require_kind(kind: str) -> None:
    if kind not in KINDS:
        raise InputError(f"{legible(clipped(kind, 30))} is no record.", f"These are: {', '.join(KINDS)}.")


def _lacking(kind: str, fields: Mapping[str, str], values: Mapping[str, Any], *, new: bool) -> dict[str, str]:
    """The fields a record lacks and must have: the question for each, by field."""
    lacking = {}
    field, asked = _NEEDED.get(kind, ("", ""))
    if field and not str(fields.get(field, values.get(field, ""))).strip():
        lacking[field] = asked
    if kind == "reading" and new and not set(fields) & {"value", "low", "felt", "version"}:
        lacking["value"] = "say what it was: value='412 MiB'"
    if values.get("trust") == "doubted" and not str(values.get("why", "")).strip():
        lacking["why"] = "a doubt needs a reason: why='...'"
    return lacking


def put_fields(opened: OpenStudy, letter: str, kind: str, fields: Mapping[str, str], *, record_id: str = "") -> Record:
    """A record from texts for its fields, new or changed: all of them, or nothing.

    Args:
        opened: The study.
        letter: The chair.
        kind: What kind of record.
        fields: What is typed for each field; a reading's `value` stands for all that a value consists of.
        record_id: The record that is changed; empty for a new one.

    Raises:
        InputError: Where there is no such chair, kind, record or field, or a text is none for its field; all of it
            at once.
        Refused, NotSaved: As `OpenStudy.note`.
    """
    chair_of(opened, letter)
    _require_kind(kind)
    before = find_record(opened, letter, kind, record_id) if record_id else None
    values: dict[str, Any] = asdict(before) if before is not None else {"id": new_id(), **_FIRST.get(kind, {})}
    hints = get_type_hints(KINDS[kind], include_extras=True)
    known = [label.field for label in RECORD_LABELS[kind]]
    problems = []
    for field, text in fields.items():
        try:
            if (kind, field) == ("reading", "value"):
                values |= _value_fields(text, fields.get("what", values.get("what", "")))
            elif field not in known:
                raise InputError(
                    f"{with_article(kind)} has no {legible(clipped(field, 40))}; it has {', '.join(known)}"
                )
            else:
                values[field] = fitted(KINDS[kind], field, meant(hints[field], text, field.replace("_", " ")))
        except Ambiguous as either:
            shown = legible(clipped(text, 40))
            problems.append(f"“{shown}” can be {' or '.join(either.readings)}; write which @ value")
        except (InputError, ValueError) as problem:
            title = problem.title if isinstance(problem, InputError) else str(problem)
            problems.append(f"{title.rstrip('.').removesuffix(f' @ {field}')} @ {legible(clipped(field, 40))}")
    lacking = _lacking(kind, fields, values, new=before is None)
    # Where something is asked for, what else is wrong with that field goes without saying.
    problems = [each for each in problems if each.rpartition(" @ ")[2] not in lacking]
    problems += [f"{asked} @ {field}" for field, asked in lacking.items()]
    if problems:
        raise InputError(f"This {kind} cannot be kept: {'; '.join(problems)}.", _KEPT)
    record: Record = made(KINDS[kind], values, f"The {kind}")
    if isinstance(record, ConsentItem):
        _require_once(opened, letter, record)
    if record != before:
        opened.note(letter, RecordPut(record))
    return record


# What a new record of a kind is without a word about it.
_FIRST: dict[str, dict[str, Any]] = {"install": {"step": "step"}, "reading": {"method": "by hand"}}
# What a record cannot be without, and how one asks for it.
_NEEDED = {
    "claim": ("promised", "say what was promised"),
    "reading": ("what", "say what was measured"),
    "page": ("page", "say which page"),
    "consent": ("item", "say which default"),
    "warning": ("words", "say what it said"),
    "look": ("program", "say which program"),
}


def _require_once(opened: OpenStudy, letter: str, record: ConsentItem) -> None:
    """Do nothing where a default is not on record at that chair under another id.

    Raises:
        InputError: Where it is: two of them could contradict each other without anybody noticing.
    """
    name = " ".join(record.item.casefold().split())
    for held in records_of(opened, letter, "consent"):
        other = held.record
        if isinstance(other, ConsentItem) and other.id != record.id and " ".join(other.item.casefold().split()) == name:
            raise InputError(
                f"“{legible(clipped(record.item, 40))}” is on record at chair {letter} already.",
                f"Change that one ({other.id}), or strike it first. {_KEPT}",
            )


def change_record(opened: OpenStudy, letter: str, kind: str, record_id: str, field: str, text: str) -> Record:
    """One field of a record changed to the value of a line of text. Raises as `put_record`."""
    record = find_record(opened, letter, kind, record_id)
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
        opened.note(letter, RecordPut(changed))
    return changed


def _follow(record: Record, values: dict[str, Any], field: str) -> None:
    """Fields that change together with another, so that a reading can be changed line by line."""
    if not isinstance(record, Reading):
        return
    if field == "precision":
        low = values["low"] if values["low"] is not None else 0.0
        values["low"] = None if values["precision"] == "felt" else low
        values["high"] = (values["high"] or low) if values["precision"] == "range" else None
        values["of"] = (values["of"] or max(low, 1.0)) if values["precision"] == "share" else None
        if values["precision"] == "version":
            values["low"] = None
            values["version"] = values["version"] or number_text(low)
        values["felt"] = (
            (values["felt"] or values["typed"] or reading_text(record)) if values["precision"] == "felt" else ""
        )
    if field == "why" and not values["why"].strip() and values["trust"] == "doubted":
        raise InputError("A doubt needs a reason.", "Say first that it is trusted. Nothing was changed.")
    if field == "trust" and values["trust"] == "doubted" and not values["why"].strip():
        raise InputError("A doubt needs a reason.", f"Say why first, in the field “because”. {_KEPT}")


def strike_entry(opened: OpenStudy, letter: str, number: int, reason: str) -> None:
    """Strike an entry about a chair, of any kind; it stays where it is.

    Raises:
        InputError: Where the chair has no such entry, or the reason is missing.
        Refused: Where it was struck before, or the study may only be read.
        NotSaved: Where the disk refuses.
    """
    opened.require_adding()
    if not any(entry.number == number and entry.chair == letter for entry in opened.known_chairs.entries()):
        raise InputError(f"Chair {letter} has no entry {number}.", f"See: fresh-chair probe log STUDY {letter}")
    if not reason.strip():
        raise InputError("Striking an entry needs a reason.", "Nothing was changed.")
    opened.known_chairs.strike(number, clipped(reason.strip(), 2000), moment=opened.clock.now(), author=opened.author)


def strike_record(opened: OpenStudy, letter: str, kind: str, record_id: str, reason: str) -> None:
    """A record holds no more, with why; it stays in the file. Raises InputError where there is none, or no reason."""
    find_record(opened, letter, kind, record_id)
    if not reason.strip():
        raise InputError("Striking a record needs a reason.", _KEPT)
    opened.note(letter, RecordStruck(kind, record_id, reason.strip()[:2000]))


def find_record(opened: OpenStudy, letter: str, kind: str, record_id: str) -> Record:
    """A record by its id. Raises InputError where there is none."""
    for held in records_of(opened, letter, kind):
        if held.record.id == record_id:
            return held.record
    raise InputError(f"There is no such {legible(clipped(kind, 20))} about chair {legible(letter[:3])}.", _KEPT)


def record_words(record: Record) -> str:
    """The first field of a record, by which it is spoken of; without the choices of the others, for long lists."""
    return line_of(getattr(record, RECORD_LABELS[kind_of(record)][0].field))


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


def consent_rows(opened: OpenStudy) -> list[ConsentRow]:
    """Defaults and consents across the chairs: the common ones first, then all others on record."""
    letters = list(opened.study.chair_by_letter)
    found: dict[str, dict[str, ConsentItem]] = {item: {} for item in CONSENT_ITEMS}
    for letter in letters:
        for held in records_of(opened, letter, "consent"):
            if isinstance(held.record, ConsentItem):
                found.setdefault(held.record.item, {})[letter] = held.record
    return [ConsentRow(item, {letter: at.get(letter) for letter in letters}) for item, at in found.items()]
