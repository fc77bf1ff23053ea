"""Changing a plan: the differences, in words that can be dated, and the parts that are fixed."""

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import fields
from typing import Any, ClassVar

from fresh_chair.core.errors import Refused
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.field_syntax import line_of
from fresh_chair.core.plan.fields import FORBID
from fresh_chair.core.plan.study import Study
from fresh_chair.core.text import count_of

_PARTS = (
    ("machines", "machine", "id"),
    ("chairs", "chair", "letter"),
    ("cards", "card", "id"),
    ("people", "person", "code"),
)
_HEAD = ("title", "question", "seed")


@frozen
class Difference:
    """One thing that a change of plan changes.

    Attributes:
        path: What it is, such as chair.B.desktop.
        before: What it was, empty where there was nothing; always empty for what belongs to a person, so that the
            trace of a change never keeps what somebody may want erased.
    """

    path: str
    before: str
    after: str


@frozen(kw_only=True)
class Change:
    """A difference with its date: one line of the record of changes.

    Attributes:
        sittings: How many sittings had begun by then.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    number: int
    wall_ns: int
    author: str
    path: str
    before: str
    after: str
    sittings: int


def differences(old: Study, new: Study) -> list[Difference]:
    """Everything in which two plans of one study differ, orders of sittings in one line."""
    found = [Difference(f"study.{n}", line_of(getattr(old, n)), line_of(getattr(new, n))) for n in _HEAD]
    found += list(_of_fields("sheet", old.sheet, new.sheet))
    for part, word, key in _PARTS:
        found += _of_part(word, _by(key, getattr(old, part)), _by(key, getattr(new, part)))
    found += _of_part("carried", _by("id", old.carried), _by("id", new.carried))
    if old.seats != new.seats:
        was, now = set(old.seats), set(new.seats)
        found.append(
            Difference(
                "orders",
                count_of(len(old.seats), "sitting"),
                f"{count_of(len(new.seats), 'sitting')}, {len(now - was)} anew",
            )
        )
    return [each for each in found if each.before != each.after or each.path.startswith("person.")]


def _by(key: str, listed: Sequence[Any]) -> Mapping[str, Any]:
    return {getattr(each, key): each for each in listed}


def _of_part(word: str, old: Mapping[str, Any], new: Mapping[str, Any]) -> Iterator[Difference]:
    for name in old.keys() - new.keys():
        yield Difference(f"{word}.{name}", "there", "taken out")
    for name, value in new.items():
        if name not in old:
            yield Difference(f"{word}.{name}", "", "added")
        elif old[name] != value:
            for each in _of_fields(f"{word}.{name}", old[name], value):
                yield Difference(each.path, "", "") if word == "person" else each


def _of_fields(path: str, old: Any, new: Any) -> Iterator[Difference]:
    for part in fields(old):
        before, after = getattr(old, part.name), getattr(new, part.name)
        if before != after:
            yield Difference(f"{path}.{part.name}", line_of(before), line_of(after))


def require_allowed(old: Study, new: Study, begun: Collection[int]) -> None:
    """Do nothing where a change leaves alone every part that was run already.

    Raises:
        Refused: Names the first thing that a sitting which has begun holds in place.
    """
    planned = {seat.number: seat for seat in new.seats}
    for seat in old.seats:
        if seat.number in begun and planned.get(seat.number) != seat:
            raise Refused(f"Sitting {seat.number} has begun; its plan cannot change.", "Nothing was changed.")
    require_kept(old, begun, letters=new.chair_by_letter, cards=new.card_by_id, codes=new.person_by_code)
    for code in {seat.participant for seat in old.seats if seat.number in begun}:
        before, after = old.person_by_code[code], new.person_by_code[code]
        if before.role != after.role:
            raise Refused(f"{code} has sat as {before.role}; that cannot change any more.", "Nothing was changed.")


def require_kept(
    old: Study, begun: Collection[int], *, letters: Collection[str], cards: Collection[str], codes: Collection[str]
) -> None:
    """Do nothing where all that sittings which have begun are made of is still there.

    Raises:
        Refused: Names the first chair, card or person that is not.
    """
    ran = [seat for seat in old.seats if seat.number in begun]
    held = (
        ("chair", {seat.chair for seat in ran}, letters, "It stays on record."),
        ("card", {card for seat in ran for card in seat.cards}, cards, "Drop it from sittings to come instead."),
        ("person", {seat.participant for seat in ran}, codes, "Say that they left, or erase them."),
    )
    for what, names, there, hint in held:
        gone = sorted(name for name in names if name not in there)
        if gone:
            raise Refused(f"The {what} {gone[0]} is part of sittings that have begun.", hint)
