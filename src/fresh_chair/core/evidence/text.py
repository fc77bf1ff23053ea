"""Evidence records as text: a head line with kind and id, then a field a line, by the labels of the sheets.

A value of several lines goes on after a bar. A line that begins with # is left out.
"""

from collections.abc import Iterable, Iterator
from dataclasses import fields

from fresh_chair.core.errors import InputError
from fresh_chair.core.evidence.labels import EVIDENCE_LABELS
from fresh_chair.core.evidence.records import KINDS, EvidenceRecord, kind_of
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.field_syntax import line_of
from fresh_chair.core.text import clipped, legible, with_article

_GOES_ON = "    | "
_KEPT = "Nothing was read in."


@frozen
class RecordText:
    """One record as it stands in a text: where it begins, and its fields as they were typed."""

    line: int
    kind: str
    id: str
    texts: dict[str, str]


def records_text(records: Iterable[EvidenceRecord]) -> str:
    """Records as a text that `read_records_text` reads back."""
    return "\n".join("".join(f"{line}\n" for line in _lines(record)) for record in records)


def _lines(record: EvidenceRecord) -> Iterator[str]:
    yield f"{kind_of(record)} {record.id}"
    plain = {part.name: part.default for part in fields(record)}
    for label in EVIDENCE_LABELS[kind_of(record)]:
        value = getattr(record, label.field)
        if value == plain[label.field]:
            continue
        first, *more = line_of(value).split("\n")
        yield f"  {label.words}: {first}".rstrip()
        yield from (f"{_GOES_ON}{line}".rstrip(" ") for line in more)


def read_records_text(text: str, *, name: str) -> list[RecordText]:
    """The records of a text, in its order; their values are not looked at yet.

    Args:
        text: The text.
        name: What to call it in an error, usually its file name.

    Raises:
        InputError: All problems at once, each as reason @ line.
    """
    found: list[RecordText] = []
    problems: list[str] = []
    field = ""
    for number, line in enumerate(text.replace("\r\n", "\n").split("\n"), start=1):
        if not line.strip() or line.startswith("#"):
            continue
        if line.startswith(_GOES_ON.rstrip(" ")):
            if found and field:
                found[-1].texts[field] += "\n" + line.removeprefix(_GOES_ON.rstrip(" ")).removeprefix(" ")
            else:
                problems.append(f"this line goes on with a field, and there is none @ line {number}")
        elif line[0].isspace():
            field = _field(line, number, found, problems)
        else:
            field = ""
            _head(line, number, found, problems)
    if problems:
        raise InputError(f"{name} cannot be read: {'; '.join(problems)}.", _KEPT)
    return found


def _head(line: str, number: int, found: list[RecordText], problems: list[str]) -> None:
    kind, _, name = line.strip().partition(" ")
    name = name.strip()
    if kind not in KINDS:
        shown = legible(clipped(kind, 30))
        problems.append(f"{shown} is no kind of record; these are: {', '.join(KINDS)} @ line {number}")
    elif not name or len(name) > 40 or any(letter.isspace() or letter == ":" for letter in name):
        problems.append(f"{with_article(kind)} is followed by its id, a word of at most 40 letters @ line {number}")
    elif any((each.kind, each.id) == (kind, name) for each in found):
        problems.append(f"there is {with_article(kind)} {legible(name)} above @ line {number}")
    found.append(RecordText(number, kind, name, {}))


def _field(line: str, number: int, found: list[RecordText], problems: list[str]) -> str:
    words, sign, value = line.strip().partition(":")
    if not found or not sign:
        problems.append(f"a record is its kind and id, then fields: a name, a colon and a text @ line {number}")
        return ""
    record = found[-1]
    labels = {label.words: label.field for label in EVIDENCE_LABELS.get(record.kind, ())}
    wanted = words.strip()
    field = labels.get(wanted, wanted if wanted in labels.values() else "")
    if record.kind in KINDS and not field:
        shown = legible(clipped(wanted, 30))
        problems.append(f"{with_article(record.kind)} has no {shown}; it has {', '.join(labels)} @ line {number}")
    elif field in record.texts:
        problems.append(f"{wanted} is there twice @ line {number}")
    if field:
        record.texts.setdefault(field, value.strip())
    return field
