"""The inventory across chairs: the program for each purpose, filled from facts that were read and by hand."""

from fresh_chair.core.errors import InputError
from fresh_chair.core.evidence.records import InventoryItem
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.evidence.records import evidence_of_kind, put_evidence
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.study.snapshot import StudyReading

_DEFAULT = "default "


@frozen
class InventoryRow:
    """One purpose across the chairs; None at a chair where it was not looked for."""

    purpose: str
    at: dict[str, InventoryItem | None]


def inventory_rows(opened: StudyReading) -> list[InventoryRow]:
    """Every purpose across the chairs, in the order they came in; capitals make no difference."""
    letters = list(opened.study.chair_by_letter)
    names: dict[str, str] = {}
    found: dict[str, dict[str, InventoryItem]] = {}
    for held in evidence_of_kind(opened, "inventory"):
        item = held.record
        if isinstance(item, InventoryItem):
            key = _key(item.purpose)
            names.setdefault(key, item.purpose)
            found.setdefault(key, {})[item.chair] = item
    return [InventoryRow(names[key], {letter: at.get(letter) for letter in letters}) for key, at in found.items()]


def put_inventory(opened: OpenStudy, letter: str, purpose: str, **texts: str) -> InventoryItem:
    """Put down the program for a purpose at a chair, new or changed.

    Raises:
        InputError: Where there is no such chair, or a text is none for its field.
        Refused, NotSaved: As `put_evidence`.
    """
    row = next((row for row in inventory_rows(opened) if _key(row.purpose) == _key(purpose)), None)
    before = row.at.get(letter) if row is not None else None
    if before is not None:
        record = put_evidence(opened, "inventory", texts, record_id=before.id)
    else:
        record = put_evidence(opened, "inventory", {"chair": letter, "purpose": purpose.strip(), **texts})
    assert isinstance(record, InventoryItem)
    return record


def fill_inventory(opened: OpenStudy, letter: str) -> int:
    """Fill a chair's inventory from the facts that were read off it: its default programs; returns how many came in.

    What was put down by hand stays as it is.

    Raises:
        InputError: Where there is no such chair, or nothing of it was read yet.
        Refused, NotSaved: As `put_evidence`.
    """
    if letter not in opened.study.chair_by_letter:
        raise InputError(f"There is no chair {legible(clipped(letter, 3))} in this study.", "Nothing was changed.")
    identity = opened.known_chairs.of(letter).identity
    if identity is None:
        raise InputError(f"Chair {letter} has not been read yet.", "r in Set reads it, or: fresh-chair probe ask")
    there = {_key(row.purpose) for row in inventory_rows(opened) if row.at.get(letter) is not None}
    count = 0
    for fact in identity[1].facts:
        purpose = fact.name.removeprefix(_DEFAULT)
        if not fact.name.startswith(_DEFAULT) or _key(purpose) in there:
            continue
        put_evidence(
            opened,
            "inventory",
            {
                "chair": letter,
                "purpose": clipped(purpose, 200),
                "presence": "there",
                "shown": clipped(fact.value.removesuffix(".desktop"), 200),
                "found": clipped(f"{fact.source}: what opens it", 200),
                "evidence": "measured",
            },
        )
        count += 1
    return count


def _key(purpose: str) -> str:
    return " ".join(purpose.casefold().split())
