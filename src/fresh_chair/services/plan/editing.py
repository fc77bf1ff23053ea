"""Every field of a plan by its path, such as chair.B.kernel: as lines to show, and changed by one line of text."""

from collections.abc import Iterator
from dataclasses import fields, is_dataclass, replace
from typing import Any, get_args, get_type_hints

from fresh_chair.core.codec import fitted
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.chairs import Chair, Machine
from fresh_chair.core.plan.field_syntax import choices_of, line_of, meant
from fresh_chair.core.plan.people import Participant
from fresh_chair.core.plan.sheet import Comparing, Sheet, Timetable
from fresh_chair.core.plan.study import Study
from fresh_chair.core.plan.text.labels import LABELS, MACHINE, Label
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.plan.plan_changes import change_plan, made, replaced
from fresh_chair.services.plan.renaming import renamed_chair, renamed_person
from fresh_chair.services.study.open_study import OpenStudy

_KINDS: dict[str, type] = {
    "study": Study,
    "sheet": Sheet,
    "timetable": Timetable,
    "comparing": Comparing,
    "machine": Machine,
    "chair": Chair,
    "card": TaskCard,
    "person": Participant,
}
# Parts of the study sheet with fields of their own.
_OF_SHEET = ("timetable", "comparing")
_KEPT = "Nothing was changed."


@frozen
class FieldLine:
    """One field as a sheet shows it.

    Attributes:
        path: Its path, such as chair.B.kernel.
        text: Its value as the line that is typed for it.
        shown: Its value as it is read, several things on a line each.
        choices: What it may be, where only some words are allowed.
        lacking: True where the plan is not ready without it.
    """

    path: str
    words: str
    text: str
    note: str = ""
    head: str = ""
    choices: tuple[str, ...] = ()
    lacking: bool = False
    shown: str = ""


def field_lines(study: Study, kind: str, name: str = "") -> list[FieldLine]:
    """The fields of one thing of the plan, in the order of its sheet.

    Args:
        study: The plan.
        kind: study, chair (with the machine it stands on), card or person.
        name: Which chair, card or person.
    """
    lines = [line for label in LABELS[kind] for line in _lines(study, label, name)]
    if kind == "chair":
        machine = study.machine_of(study.chair_by_letter[name])
        lines += [line for label in MACHINE for line in _lines(study, label, machine.id)]
    return lines


def require_kind(study: Study, kind: str, name: str) -> None:
    """Do nothing where the plan has such a thing.

    Raises:
        InputError: Where it has none.
    """
    if kind not in LABELS:
        raise InputError(f"{legible(clipped(kind, 40))} is none of {', '.join(LABELS)}.", _KEPT)
    _owner(study, kind, name)


def _lines(study: Study, label: Label, name: str) -> Iterator[FieldLine]:
    owner = _owner(study, label.part, name)
    value = getattr(owner, label.field)
    hint = get_type_hints(type(owner), include_extras=True)[label.field]
    path = ".".join(part for part in (label.part, name, label.field) if part)
    choices = _choices(study, label, hint)
    if not isinstance(value, dict):
        lacking = label.wanted and value in ("", (), None)
        yield FieldLine(path, label.words, line_of(value), label.note, label.head, choices, lacking, _shown(value))
        return
    head = label.head
    for key, words, needed in _keys(study, label):
        text = line_of(value[key]) if key in value else ""
        yield FieldLine(f"{path}.{key}", words, text, label.note, head, (), needed and not text, text)
        head = ""


def _choices(study: Study, label: Label, hint: Any) -> tuple[str, ...]:
    if (label.part, label.field) == ("person", "group"):
        return ("", *(group.name for group in study.sheet.groups)) if study.sheet.groups else ()
    return choices_of(hint)


def _keys(study: Study, label: Label) -> list[tuple[str, str, bool]]:
    """The rows of a field that is a table: key, words, whether it must be filled."""
    if label.field == "answers":
        return [(question.id, question.ask, True) for question in study.sheet.screener]
    if label.field == "consents":
        return [(consent.id, consent.words, consent.needed) for consent in study.sheet.consents]
    return [(chair.letter, f"{label.words} at {chair.letter}", False) for chair in study.chairs]


def _owner(study: Study, kind: str, name: str) -> Any:
    if kind == "study":
        return study
    if kind == "sheet":
        return study.sheet
    if kind in _OF_SHEET:
        return getattr(study.sheet, kind)
    if kind == "machine":
        found: Any = next((machine for machine in study.machines if machine.id == name), None)
    else:
        known: Any = {"chair": study.chair_by_letter, "card": study.card_by_id, "person": study.person_by_code}[kind]
        found = known.get(name)
    if found is None:
        raise InputError(f"There is no {kind} {legible(clipped(name, 40))} in this study.", _KEPT)
    return found


def get_field(study: Study, path: str) -> str:
    """The value of a field, as the line that is typed for it.

    Raises:
        InputError: Where there is no such field.
    """
    owner, _, field, key = _found(study, path)
    value = getattr(owner, field)
    return line_of(value.get(key, "")) if key else line_of(value)


def get_value(study: Study, path: str) -> tuple[Any, str]:
    """The owner of a field and the field's name. Raises InputError where there is no such field."""
    owner, _, field, _ = _found(study, path)
    return owner, field


def set_field(opened: OpenStudy, path: str, text: str) -> None:
    """Change one field of the plan to the value of a line of text.

    Raises:
        InputError: Where there is no such field, or the text cannot be meant for it.
        Refused, NotSaved: As `change_plan`.
    """
    study = opened.study
    owner, name, field, key = _found(study, path)
    kind = path.split(".")[0]
    if kind == "person" and owner.erased:
        raise Refused(f"{name} was erased on {owner.erased}.", "What was erased is not written again.")
    hint = get_type_hints(type(owner), include_extras=True)[field]
    if key:
        raw: Any = {k: _plain(v) for k, v in getattr(owner, field).items() if k != key}
        value = meant(get_args(hint)[1], text, path)
        if value not in ("", [], None) and text.strip():
            raw[key] = value
    else:
        raw = meant(hint, text, path)
    if (kind, field) == ("chair", "letter"):
        if name in opened.known_chairs.known and name != text.strip():
            raise Refused(f"Set has read chair {name} already; its letter stays.", _KEPT)
        change_plan(opened, renamed_chair(opened, name, text.strip()))
        return
    if (kind, field) == ("person", "code"):
        change_plan(opened, renamed_person(opened, name, text.strip()))
        return
    try:
        changed = replace(owner, **{field: fitted(type(owner), field, raw)})
    except ValueError as problem:
        reason = str(problem).removesuffix(f" @ {field}")
        raise InputError(f"{_spoken(study, path)} cannot be so: {reason}.", _KEPT) from problem
    change_plan(opened, _with(opened, kind, name, changed))


def _spoken(study: Study, path: str) -> str:
    """A field of the plan as it is spoken of: the goal of “Make the screen dark”."""
    owner, name, field, key = _found(study, path)
    kind = path.split(".")[0]
    at = f" for {key}" if key else ""
    of = f"“{legible(owner.title)}”" if kind == "card" else f"{kind} {name}" if name else f"the {kind}"
    return f"The {field.replace('_', ' ')}{at} of {of}"


def _found(study: Study, path: str) -> tuple[Any, str, str, str]:
    """Owner, name, field and key of a path."""
    parts = path.split(".")
    kind = parts[0]
    named = kind in ("machine", "chair", "card", "person")
    wanted = 3 if named else 2
    if kind not in _KINDS or not wanted <= len(parts) <= wanted + 1:
        raise InputError(
            f"{legible(clipped(path, 60))} is no field of a plan.",
            "Places are such as study.title, sheet.paid_by, chair.B.kernel, card.ID.goal, person.P01.uses.",
        )
    name = parts[1] if named else ""
    owner = _owner(study, kind, name)
    field, key = parts[wanted - 1], parts[wanted] if len(parts) > wanted else ""
    labels = MACHINE if kind == "machine" else tuple(each for some in LABELS.values() for each in some)
    if not any(label.part == kind and label.field == field for label in labels) and (kind, field) != (
        "card",
        "overruled",
    ):
        raise InputError(f"A {kind} has no {legible(clipped(field, 40))} that can be set.", _KEPT)
    if bool(key) != isinstance(getattr(owner, field), dict):
        raise InputError(f"{legible(path)} names {'no part of it' if not key else 'a part it does not have'}.", _KEPT)
    return owner, name, field, key


def _with(opened: OpenStudy, kind: str, name: str, changed: Any) -> Study:
    """The study with one thing of it changed."""
    study = opened.study
    if kind == "study":
        return replace(study, **{field: getattr(changed, field) for field in ("title", "question", "seed")})
    if kind == "sheet":
        return replaced(opened, sheet=changed)
    if kind in _OF_SHEET:
        return replaced(opened, sheet=replace(study.sheet, **{kind: changed}))
    if kind == "card":
        return replaced(opened, cards=tuple(changed if card.id == name else card for card in study.cards))
    if kind == "person":
        return replaced(opened, people=tuple(changed if p.code == name else p for p in study.people))
    if kind == "machine":
        return replaced(opened, machines=tuple(changed if m.id == name else m for m in study.machines))
    machines = study.machines
    if changed.machine not in {machine.id for machine in machines}:
        new: Machine = made(Machine, {"id": changed.machine, "name": changed.machine}, "The machine")
        machines = (*machines, new)
    chairs = tuple(changed if chair.letter == name else chair for chair in study.chairs)
    # A machine that somebody sat at stays on record.
    sat = {seat.chair for seat in study.seats if seat.number in opened.begun}
    used = {chair.machine for chair in chairs} | {c.machine for c in study.chairs if c.letter in sat}
    used |= {machine.id for machine in study.machines if machine.id in opened.machines_sat_at}
    return replaced(opened, chairs=chairs, machines=tuple(machine for machine in machines if machine.id in used))


def _shown(value: object) -> str:
    """A value as it is read: one thing a line, its parts beside each other."""
    if isinstance(value, tuple) and all(isinstance(thing, str) and len(thing) < 30 for thing in value):
        return "; ".join(value)
    things = value if isinstance(value, tuple) else (value,)
    lines = []
    for thing in things:
        if is_dataclass(thing):
            parts = [line_of(getattr(thing, part.name), sign=",") for part in fields(thing)]
            lines.append(": ".join([parts[0], ", ".join(part for part in parts[1:] if part)]).removesuffix(": "))
        else:
            lines.append(line_of(thing))
    return "\n".join(lines)


def _plain(value: object) -> object:
    return list(value) if isinstance(value, tuple) else value
