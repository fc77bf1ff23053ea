"""People as a table: read from another program's CSV file, its columns mapped to a person's fields."""

import csv
import re
from collections.abc import Mapping, Sequence
from io import StringIO
from typing import Any, get_type_hints

from fresh_chair.core.codec import Unfit, built
from fresh_chair.core.errors import InputError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.field_syntax import meant
from fresh_chair.core.plan.people import Participant
from fresh_chair.core.plan.sheet import Sheet
from fresh_chair.core.text import clipped, legible, looks_like_formula

MOST_BYTES = 2_000_000
MOST_ROWS = 2_000
_KEPT = "Nobody was added."
_FIELDS = ("code", "role", "group", "profile", "uses", "uses_for", "comfort", "linux", "language", "aids", "left")
# What columns are called elsewhere, for the first guess.
_ALSO = {
    "code": ("id", "participant", "participant id", "person", "pseudonym", "key"),
    "role": ("type", "kind"),
    "group": ("cohort", "arm", "condition"),
    "profile": ("about", "description", "background", "notes", "persona"),
    "uses": ("uses daily", "system", "os", "operating system", "current system", "device"),
    "uses_for": ("for how long", "since", "years", "experience"),
    "comfort": ("comfort, 1 to 5", "confidence", "ease", "skill"),
    "linux": ("linux before", "linux experience"),
    "language": ("languages", "mother tongue", "first language"),
    "aids": ("aids needed", "accessibility", "assistive", "needs"),
    "left": ("left, because", "dropped out", "withdrawn"),
}
_IDENTIFYING = re.compile(
    r"\b(e-?mail|mail|phone|telephone|mobile|address|street|surname|birth\w*|dob|"
    r"(?:first|last|family|given|full)?[ _-]?name)\b",
    re.IGNORECASE,
)


@frozen
class PeopleTable:
    """A table as it stands in a file.

    Attributes:
        header: The names of its columns.
        rows: Its cells, as many in each row as there are columns.
        encoding: What its letters were read as.
        remarks: What was noticed while reading, a sentence each.
    """

    header: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    encoding: str
    remarks: tuple[str, ...] = ()


@frozen
class PeopleFound:
    """The people in a table's rows, and the problems of the rest.

    Attributes:
        people: Those who can be added, in their order.
        problems: Why a row cannot be, as reason @ row and column.
        remarks: What was noticed and changed nothing.
    """

    people: tuple[Participant, ...]
    problems: tuple[str, ...]
    remarks: tuple[str, ...]


def read_table(data: bytes, *, name: str) -> PeopleTable:
    """The table in a CSV file, in any encoding and with any separator.

    UTF-8 and UTF-16 with its mark are recognised; anything else is read as Windows-1252, and the table says so.

    Args:
        data: The file's bytes.
        name: What to call it in an error.

    Raises:
        InputError: Where it is too large, empty, or no text.
    """
    if len(data) > MOST_BYTES:
        raise InputError(f"{name} is too large: {MOST_BYTES // 1_000_000} MB is the most.", _KEPT)
    text, encoding = _decoded(data)
    if "\0" in text:
        raise InputError(f"{name} is no text but something binary.", f"Save it as CSV. {_KEPT}")
    remarks = []
    if encoding == "windows-1252":
        remarks.append("It is not UTF-8; its letters were read as Windows-1252. Look whether they are right.")
    try:
        rows = [row for row in csv.reader(StringIO(text, newline=""), delimiter=_separator(text)) if any(row)]
    except csv.Error as problem:
        raise InputError(f"{name} cannot be read as CSV: {legible(str(problem))}.", _KEPT) from problem
    if len(rows) < 2:
        raise InputError(f"{name} has no rows below its header.", _KEPT)
    if len(rows) - 1 > MOST_ROWS:
        raise InputError(f"{name} has {len(rows) - 1} rows, and {MOST_ROWS} are the most.", _KEPT)
    header = tuple(legible(cell).strip() for cell in rows[0])
    width = len(header)
    uneven = sum(len(row) != width for row in rows[1:])
    if uneven:
        remarks.append(f"{uneven} row{'s have' if uneven > 1 else ' has'} more or fewer cells than the header.")
    cells = tuple(tuple([*map(legible, row), *[""] * width][:width]) for row in rows[1:])
    return PeopleTable(header, cells, encoding, tuple(remarks))


def targets(sheet: Sheet) -> tuple[str, ...]:
    """The fields a column can be mapped to: of a person, answers to the screener, consents."""
    answers = tuple(f"answers.{question.id}" for question in sheet.screener)
    return (*_FIELDS, *answers, *(f"consents.{consent.id}" for consent in sheet.consents))


def guessed(table: PeopleTable, sheet: Sheet) -> dict[int, str]:
    """A first mapping of columns, by number from 0; a column whose meaning is not plain is left out."""
    known = {_plain(target): target for target in targets(sheet)}
    known |= {_plain(f"answers.{q.id}"): f"answers.{q.id}" for q in sheet.screener}
    known |= {_plain(q.id): f"answers.{q.id}" for q in sheet.screener}
    known |= {_plain(q.ask): f"answers.{q.id}" for q in sheet.screener}
    known |= {_plain(c.id): f"consents.{c.id}" for c in sheet.consents}
    for field, names in _ALSO.items():
        known |= {_plain(name): field for name in names if _plain(name) not in known}
    mapping: dict[int, str] = {}
    for column, title in enumerate(table.header):
        target = known.get(_plain(title))
        if target and target not in mapping.values() and not identifies(title):
            mapping[column] = target
    return mapping


def mapped(mapping: Mapping[int, str], said: Sequence[str], table: PeopleTable, sheet: Sheet) -> dict[int, str]:
    """The mapping with the user's own, each as COLUMN=FIELD; COLUMN= leaves a column out.

    Raises:
        InputError: Where there is no such column or field.
    """
    found = dict(mapping)
    for each in said:
        title, sign, target = each.rpartition("=")
        if not sign or title not in table.header:
            raise InputError(f"The table has no column {legible(clipped(title or each, 40))!r}.", _KEPT)
        if target and target not in targets(sheet):
            raise InputError(
                f"{legible(clipped(target, 40))!r} is nothing a person has.", f"There are {', '.join(targets(sheet))}."
            )
        column = table.header.index(title)
        found = {col: what for col, what in found.items() if col != column and what != target}
        if target:
            found[column] = target
    return found


def identifies(title: str) -> bool:
    """Whether a column seems to say who people are: law 6 keeps that out unless it is asked for."""
    return _IDENTIFYING.search(title.replace("_", " ")) is not None


def people_in(table: PeopleTable, mapping: Mapping[int, str], sheet: Sheet, taken: Sequence[str]) -> PeopleFound:
    """The people that a table's rows describe.

    Args:
        table: The table.
        mapping: For each column that is taken, what it is.
        sheet: The study's sheet, for groups, screener and consents.
        taken: Codes that are in the study already.
    """
    remarks = list(table.remarks)
    remarks += [
        f"Column “{clipped(title, 30)}” is left out: it looks as if it said who people are."
        for column, title in enumerate(table.header)
        if identifies(title) and column not in mapping
    ]
    if "code" not in mapping.values():
        return PeopleFound((), ("no column is mapped to the code @ the header",), tuple(remarks))
    people: list[Participant] = []
    problems: list[str] = []
    seen = {code.casefold() for code in taken}
    formulas = 0
    for number, row in enumerate(table.rows, start=2):
        formulas += sum(
            len(row[column]) > 1 and row[column][0] != "'" and looks_like_formula(row[column]) for column in mapping
        )
        try:
            person = _person(row, mapping)
        except (Unfit, InputError) as problem:
            problems.append(f"{legible(str(problem))} @ row {number}")
            continue
        if person.group and person.group not in {group.name for group in sheet.groups}:
            problems.append(f"there is no group {person.group!r} @ row {number}")
        elif person.code.casefold() in seen:
            problems.append(f"{person.code} is there already @ row {number}")
        else:
            seen.add(person.code.casefold())
            people.append(person)
    if formulas:
        remarks.append(f"{formulas} cell{'s look' if formulas > 1 else ' looks'} like a formula; kept as plain text.")
    return PeopleFound(tuple(people), tuple(problems), tuple(remarks))


def _person(row: Sequence[str], mapping: Mapping[int, str]) -> Participant:
    hints = get_type_hints(Participant, include_extras=True)
    values: dict[str, Any] = {}
    for column, target in mapping.items():
        text = row[column].strip()
        # The sign that our own export puts before what looks like a formula.
        if text.startswith("'") and looks_like_formula(text[1:]):
            text = text[1:]
        field, _, key = target.partition(".")
        if not text:
            continue
        if key:
            values.setdefault(field, {})[key] = text
        else:
            values[field] = meant(hints[field], text, field)
    if "code" not in values:
        raise InputError("the code is missing")
    person: Participant = built(Participant, values, "")
    return person


def people_rows(people: Sequence[Participant], sheet: Sheet) -> tuple[tuple[str, ...], list[tuple[str, ...]]]:
    """Header and rows of a table that `people_in` reads back; those who were erased are not in it."""
    columns = (*targets(sheet), "replaces")
    rows = []
    for person in people:
        if person.erased:
            continue
        row = []
        for column in columns:
            field, _, key = column.partition(".")
            value = getattr(person, field)
            value = value.get(key, "") if key else value
            row.append("" if value is None else str(value))
        rows.append(tuple(row))
    return columns, rows


def _decoded(data: bytes) -> tuple[str, str]:
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        try:
            return data.decode("utf-16"), "utf-16"
        except UnicodeDecodeError:
            return "\0", "utf-16"
    try:
        return data.decode("utf-8-sig"), "utf-8"
    except UnicodeDecodeError:
        return data.decode("cp1252", errors="replace"), "windows-1252"


def _separator(text: str) -> str:
    """The separator that stands most evenly in the first lines."""
    lines = [line for line in text.splitlines()[:20] if line.strip()]
    best, most = ",", 0
    for sign in (",", ";", "\t", "|"):
        least = min((line.count(sign) for line in lines), default=0)
        if least > most:
            best, most = sign, least
    if not most and lines:
        best = max((",", ";", "\t", "|"), key=lines[0].count)
    return best


def _plain(title: str) -> str:
    return re.sub(r"[\W_]+", " ", title.casefold()).strip()
