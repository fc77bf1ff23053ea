"""Journal contents to JSON and back, checked field by field.

Pydantic describes the same classes in the open-data export; building its validators for two dozen kinds would cost a
quarter of a second at every start, so reading and writing them is done here.
"""

import json
from dataclasses import MISSING, fields
from enum import StrEnum
from functools import cache
from types import NoneType
from typing import Annotated, Any, Literal, Protocol, get_args, get_origin, get_type_hints

from pydantic.fields import FieldInfo

from fresh_chair.core.errors import JournalError
from fresh_chair.core.text import clipped, legible


class Content(Protocol):
    """Anything with a kind."""

    @property
    def kind(self) -> str:
        """What it is called on disk."""
        ...


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
    chosen = kinds[raw["kind"]]
    rules = _rules(chosen)
    strange = sorted(set(raw) - set(rules))
    if strange:
        raise JournalError(f"{where} cannot be read: it has a field too many @ {legible(clipped(strange[0], 40))}.")
    values = {}
    for name, (options, required) in rules.items():
        if name in raw:
            values[name] = _checked(raw[name], options, where, name)
        elif required:
            raise JournalError(f"{where} cannot be read: a field is missing @ {name}.")
    return chosen(**values)


@cache
def _rules(chosen: type) -> dict[str, tuple[list[tuple[Any, float, float]], bool]]:
    hints = get_type_hints(chosen, include_extras=True)
    return {part.name: (_options(hints[part.name]), part.default is MISSING) for part in fields(chosen)}


def _checked(value: Any, options: list[tuple[Any, float, float]], where: str, name: str) -> Any:
    """The value as its type says it must be."""
    for kind, low, high in options:
        if kind is str and type(value) is str and low <= len(value) <= high:
            return value
        if kind is NoneType and value is None:
            return None
        if isinstance(kind, type) and issubclass(kind, StrEnum) and value in set(kind):
            return kind(value)
        if get_origin(kind) is Literal and value in get_args(kind):
            return value
        if kind is int and type(value) is int and low <= value <= high:
            return value
    raise JournalError(f"{where} cannot be read: {legible(clipped(repr(value), 40))} is not allowed @ {name}.")


def _options(hint: Any) -> list[tuple[Any, float, float]]:
    """What a type hint allows: (type, lowest value or length, highest)."""
    if get_origin(hint) is Annotated:
        inner, *notes = get_args(hint)
        low, high = float("-inf"), float("inf")
        for note in (item for extra in notes for item in (extra.metadata if isinstance(extra, FieldInfo) else [extra])):
            low = max(low, getattr(note, "ge", low), getattr(note, "min_length", low))
            high = min(high, getattr(note, "le", high), getattr(note, "max_length", high))
        return [(kind, low, high) for kind, _, _ in _options(inner)]
    if get_origin(hint) is Literal or isinstance(hint, type):
        return [(hint, float("-inf"), float("inf"))]
    return [option for part in get_args(hint) for option in _options(part)]
