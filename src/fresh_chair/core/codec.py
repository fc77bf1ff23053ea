"""Dataclasses to JSON and back, checked field by field.

Pydantic describes the same classes where an outline is checked and in the open-data export. Loading it, and building
its validators for three dozen classes, would cost a third of every start; what a study file holds is read here instead.
"""

import json
from dataclasses import MISSING, dataclass, fields, is_dataclass
from enum import StrEnum
from functools import cache
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Protocol, Union, get_args, get_origin, get_type_hints

from fresh_chair.core.errors import JournalError
from fresh_chair.core.text import clipped, legible


class Content(Protocol):
    """Anything with a kind."""

    @property
    def kind(self) -> str:
        """What it is called on disk."""
        ...


class Unfit(ValueError):
    """A value that is not what its field says, as reason @ place."""


def encoded(content: Content) -> str:
    """The content as a JSON object."""
    return json.dumps({part.name: getattr(content, part.name) for part in fields(content)}, ensure_ascii=False)  # type: ignore[arg-type]


def decoded(kinds: dict[str, type], body: str, *, version: int, known: int, where: str) -> Any:
    """The content that a JSON object holds.

    Args:
        kinds: The classes, by kind.
        body: The JSON object.
        version: The version it was written with.
        known: The version this program writes.
        where: What to call the entry in an error.

    Raises:
        JournalError: Where version or kind is unknown, or a field is missing, too many, or out of range.
    """
    if version != known:
        raise JournalError(f"{where} was written in version {version}, which this program does not know.")
    try:
        raw = json.loads(body)
    except ValueError as problem:
        raise JournalError(f"{where} cannot be read: it is not JSON.") from problem
    if not isinstance(raw, dict) or raw.get("kind") not in kinds:
        kind = legible(clipped(str(raw.get("kind") if isinstance(raw, dict) else raw), 40))
        raise JournalError(f"{where} cannot be read: this program knows no “{kind}”.")
    try:
        return built(kinds[raw["kind"]], raw, "")
    except Unfit as problem:
        raise JournalError(f"{where} cannot be read: {problem}.") from problem


def built(chosen: Any, raw: object, place: str) -> Any:
    """A dataclass from the JSON object that holds its fields, parts of it likewise.

    Raises:
        Unfit: Names the first field that is missing, too many, or not what it must be.
    """
    if not isinstance(raw, dict):
        raise Unfit(f"{_shown(raw)} is not an object @ {place or 'the whole'}")
    rules = _rules(chosen)
    strange = sorted(str(name) for name in set(raw) - set(rules))
    if strange:
        raise Unfit(f"a field too many @ {_below(place, legible(clipped(strange[0], 40)))}")
    values = {}
    for name, rule in rules.items():
        if name in raw:
            value = raw[name]
            # Most fields are words, and most of those fit; everything else takes the long way, which says why.
            values[name] = value if rule.takes(value) else _fit(value, rule.hint, _below(place, name))
        elif rule.required:
            raise Unfit(f"a field is missing @ {_below(place, name)}")
    try:
        return chosen(**values)
    except Unfit:
        raise
    except ValueError as problem:
        raise Unfit(f"{problem} @ {place or 'the whole'}") from problem


def fitted(kind: type, name: str, value: object) -> Any:
    """A plain value as one field of a dataclass must have it.

    Raises:
        Unfit: Says why it cannot be so.
    """
    rules = _rules(kind)
    if name not in rules:
        raise Unfit(f"there is no field {legible(clipped(name, 40))}")
    return _fit(value, rules[name].hint, name)


@dataclass(frozen=True, slots=True)
class _Rule:
    """What a field may hold.

    Attributes:
        least, most: How long its text may be, where it is nothing but text; both 0 for all other fields.
        words: The words it allows, where it allows some only.
    """

    hint: Any
    required: bool
    least: int
    most: float
    words: frozenset[Any]

    def takes(self, value: object) -> bool:
        """True where the value fits as it is; False where that is not plain to see."""
        return type(value) is str and (value in self.words or (self.most > 0 and self.least <= len(value) <= self.most))


@cache
def _rules(chosen: type) -> dict[str, _Rule]:
    hints = get_type_hints(chosen, include_extras=True)
    return {
        part.name: _rule(hints[part.name], part.default is MISSING and part.default_factory is MISSING)
        for part in fields(chosen)
    }


def _rule(hint: Any, required: bool) -> _Rule:
    notes = get_args(hint)[1:] if get_origin(hint) is Annotated else ()
    plain = get_args(hint)[0] if notes else hint
    lengths = [(getattr(n, "min_length", 0) or 0, getattr(n, "max_length", None)) for n in notes]
    # A note that is no length might refuse what the lengths allow.
    if plain is not str or any(most is None and not least for least, most in lengths):
        words = get_args(hint) if get_origin(hint) is Literal else ()
        return _Rule(hint, required, 0, 0, frozenset(word for word in words if type(word) is str))
    least = max((least for least, _ in lengths), default=0)
    most = min((most for _, most in lengths if most is not None), default=float("inf"))
    return _Rule(hint, required, least, most, frozenset())


def _fit(value: Any, hint: Any, place: str) -> Any:
    """The value as its type says it must be."""
    origin = get_origin(hint)
    if origin is Annotated:
        inner, *notes = get_args(hint)
        fitted = _fit(value, inner, place)
        if not all(_holds(fitted, note) for note in notes):
            raise Unfit(f"{_shown(value)} is out of range @ {place}")
        return fitted
    if origin in (UnionType, Union):
        return _fit_one_of(value, get_args(hint), place)
    if origin is tuple and isinstance(value, list):
        return tuple(_fit(item, get_args(hint)[0], f"{place}[{number}]") for number, item in enumerate(value, start=1))
    if origin is dict and isinstance(value, dict):
        return {str(key): _fit(item, get_args(hint)[1], f"{place}.{key}") for key, item in value.items()}
    if origin is Literal and value in get_args(hint):
        return value
    if isinstance(hint, type):
        if is_dataclass(hint):
            return built(hint, value, place)
        if issubclass(hint, StrEnum) and value in set(hint):
            return hint(value)
        if type(value) is hint or (hint is float and type(value) is int) or (hint is NoneType and value is None):
            return value
    raise Unfit(f"{_shown(value)} is not allowed @ {place}")


def _fit_one_of(value: Any, hints: tuple[Any, ...], place: str) -> Any:
    if value is not None and len(some := [hint for hint in hints if hint is not NoneType]) == 1:
        return _fit(value, some[0], place)
    for hint in hints:
        try:
            return _fit(value, hint, place)
        except Unfit:
            continue
    raise Unfit(f"{_shown(value)} is not allowed @ {place}")


def _holds(value: Any, note: Any) -> bool:
    """Whether a value keeps within one note of its field."""
    if isinstance(value, str):
        return getattr(note, "min_length", 0) <= len(value) <= (getattr(note, "max_length", None) or len(value))
    low, high, above = getattr(note, "ge", None), getattr(note, "le", None), getattr(note, "gt", None)
    return (low is None or value >= low) and (high is None or value <= high) and (above is None or value > above)


def _below(place: str, name: str) -> str:
    return f"{place}.{name}" if place else name


def _shown(value: object) -> str:
    return legible(clipped(repr(value), 40))
