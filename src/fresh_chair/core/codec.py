"""Dataclasses to JSON and back, checked field by field.

Pydantic describes the same classes where an outline is checked and in the open-data export. Loading it, and building
its validators for three dozen classes, would cost a third of every start; what a study file holds is read here instead.
"""

import json
import math
import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import MISSING, fields, is_dataclass
from enum import StrEnum
from functools import cache
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Protocol, Union, get_args, get_origin, get_type_hints

from fresh_chair.core.errors import InputError, JournalError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped, count_of, legible


class Content(Protocol):
    """Anything with a kind."""

    @property
    def kind(self) -> str:
        """The content's kind on disk."""
        ...


class Unfit(ValueError):
    """A value of the wrong type or range, as reason @ field."""


@frozen
class Unreadable:
    """An entry on disk that cannot be read: it is shown, left out of all figures, and never appended.

    Attributes:
        was: Its kind as the file says it beside the content; empty where that is no kind either.
        why: Why it cannot be read, as a sentence.
        card, attempt: What it was about, as far as that can be told.
    """

    was: str
    why: str
    card: str = ""
    attempt: int = 0
    kind: Literal["unreadable"] = "unreadable"


# What SQLite keeps as a whole number.
_LEAST, _MOST = -(2**63), 2**63 - 1
# A half of a letter that no file can hold, as JSON may name it.
_HALVES = re.compile(r"\\u[dD][89a-fA-F]")


def plain_json(text: object) -> Any:
    """The value of a JSON text: finite numbers only, nested no deeper than by hand.

    Raises:
        ValueError: Where it is no such text.
    """
    if not isinstance(text, str):
        raise ValueError("it is no text")
    try:
        found = _DECODER.decode(text)
    except RecursionError:
        raise ValueError("it is nested too deeply") from None
    if not text.isascii() or _HALVES.search(text):
        try:
            json.dumps(found, ensure_ascii=False).encode()
        except (UnicodeEncodeError, RecursionError):
            raise ValueError("it is not UTF-8") from None
    return found


def _no_number(name: str) -> float:
    raise ValueError(f"{name} is no number")


# Made once: a large study holds a hundred thousand texts.
_DECODER = json.JSONDecoder(parse_constant=_no_number)


def encoded(content: Content) -> str:
    """The content as a JSON object. Raises ValueError for numbers that are not finite."""
    values = {part.name: getattr(content, part.name) for part in fields(content)}  # type: ignore[arg-type]
    return json.dumps(values, ensure_ascii=False, allow_nan=False)


def gated(content: Any, write: Callable[[Any], str], read: Callable[[str], object]) -> str:
    """The text under which a content is kept, once it has been read back: nothing else is ever appended.

    Args:
        content: What is to be appended.
        write: Makes its text.
        read: What every opening of the file reads it with.

    Raises:
        InputError: Where the reader would refuse it; says why.
    """
    try:
        body = write(content)
        body.encode()
        back = read(body)
    except (ValueError, TypeError, RecursionError) as problem:
        raise InputError(f"This cannot be kept: {legible(clipped(str(problem), 200))}.", "Nothing was added.") from None
    except JournalError as problem:
        reason = problem.title.removeprefix("It cannot be read: ")
        raise InputError(f"This cannot be kept: {reason}", "Nothing was added.") from None
    if back != content:
        raise InputError("This cannot be kept: it would be read as something else.", "Nothing was added.")
    return body


def decoded(kinds: Mapping[str, type], body: str, *, version: int, known: int, where: str) -> Any:
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
        raw = plain_json(body)
    except ValueError as problem:
        raise JournalError(f"{where} cannot be read: it is not JSON.") from problem
    named = raw.get("kind") if isinstance(raw, dict) else raw
    if not isinstance(raw, dict) or not isinstance(named, str) or named not in kinds:
        raise JournalError(f"{where} cannot be read: this program knows no “{legible(clipped(str(named), 40))}”.")
    try:
        return built(kinds[raw["kind"]], raw, "")
    except Unfit as problem:
        raise JournalError(f"{where} cannot be read: {problem}.") from problem


def built(chosen: Any, raw: object, path: str) -> Any:
    """A dataclass from the JSON object that holds its fields, parts of it likewise.

    Raises:
        Unfit: Names the first field that is missing, too many, or not what it must be.
    """
    if not isinstance(raw, dict):
        raise Unfit(f"{_shown(raw)} is not an object @ {path or 'the whole'}")
    rules = _rules(chosen)
    if not raw.keys() <= rules.keys():
        strange = sorted(str(name) for name in set(raw) - set(rules))
        raise Unfit(f"a field too many @ {_below(path, legible(clipped(strange[0], 40)))}")
    values = {}
    for name, rule in rules.items():
        if name in raw:
            value = raw[name]
            # Most fields are words, and most of those fit; everything else takes the long way, which says why.
            plain = rule.plain(value)
            values[name] = _fit(value, rule.hint, _below(path, name)) if plain is None else plain
        elif rule.required:
            raise Unfit(f"a field is missing @ {_below(path, name)}")
    try:
        return chosen(**values)
    except Unfit:
        raise
    except ValueError as problem:
        raise Unfit(f"{problem} @ {path or 'the whole'}") from problem


def fitted(kind: type, name: str, value: object) -> Any:
    """A plain value as one field of a dataclass must have it.

    Raises:
        Unfit: Says why it cannot be so.
    """
    rules = _rules(kind)
    if name not in rules:
        raise Unfit(f"there is no field {legible(clipped(name, 40))}")
    return _fit(value, rules[name].hint, name)


@frozen
class _Rule:
    """The values a field may hold.

    Attributes:
        least, most: How long its text may be, where it is nothing but text; both 0 for all other fields.
        words: The words it allows, where it allows some only; each is held once, however often a file says it.
    """

    hint: Any
    required: bool
    least: int
    most: float
    words: Mapping[Any, str]

    def plain(self, value: object) -> str | None:
        """The text that fits as it is; None for every other value, and where that is not plain to see."""
        if type(value) is not str:
            return None
        return value if self.most > 0 and self.least <= len(value) <= self.most else self.words.get(value)


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
        return _Rule(hint, required, 0, 0, {word: word for word in words if type(word) is str})
    least = max((least for least, _ in lengths), default=0)
    most = min((most for _, most in lengths if most is not None), default=float("inf"))
    return _Rule(hint, required, least, most, {})


def _fit(value: Any, hint: Any, path: str) -> Any:
    """The value as its type says it must be."""
    origin = get_origin(hint)
    if origin is Annotated:
        inner, *notes = get_args(hint)
        fitted = _fit(value, inner, path)
        if not all(_holds(fitted, note) for note in notes):
            raise Unfit(f"{_outside(fitted, notes)} @ {path}")
        return fitted
    if origin in (UnionType, Union):
        return _fit_one_of(value, get_args(hint), path)
    if origin is tuple and isinstance(value, list):
        return tuple(_fit(item, get_args(hint)[0], f"{path}[{number}]") for number, item in enumerate(value, start=1))
    if origin is dict and isinstance(value, dict):
        return {str(key): _fit(item, get_args(hint)[1], f"{path}.{key}") for key, item in value.items()}
    if origin is Literal and isinstance(value, str | int) and value in get_args(hint):
        return value
    if isinstance(hint, type):
        if is_dataclass(hint):
            return built(hint, value, path)
        if issubclass(hint, StrEnum) and isinstance(value, str) and value in set(hint):
            return hint(value)
        if hint in (int, float) and type(value) in (int, hint):
            return _number(value, hint, path)
        if type(value) is hint or (hint is NoneType and value is None):
            return value
    raise Unfit(f"{_shown(value)} is not allowed @ {path}")


def _number(value: Any, kind: type, path: str) -> Any:
    """A number that is finite and that the file can keep, as the kind its field has."""
    if not (_LEAST <= value <= _MOST if type(value) is int else math.isfinite(value)):
        raise Unfit(f"{_shown(value)} is out of range @ {path}")
    return kind(value)


def _fit_one_of(value: Any, hints: tuple[Any, ...], path: str) -> Any:
    if value is not None and len(some := [hint for hint in hints if hint is not NoneType]) == 1:
        return _fit(value, some[0], path)
    for hint in hints:
        try:
            return _fit(value, hint, path)
        except Unfit:
            continue
    raise Unfit(f"{_shown(value)} is not allowed @ {path}")


def _holds(value: Any, note: Any) -> bool:
    """Whether a value keeps within one note of its field."""
    if isinstance(value, str):
        return getattr(note, "min_length", 0) <= len(value) <= (getattr(note, "max_length", None) or len(value))
    low, high, above = getattr(note, "ge", None), getattr(note, "le", None), getattr(note, "gt", None)
    return (low is None or value >= low) and (high is None or value <= high) and (above is None or value > above)


def _outside(value: Any, notes: Sequence[Any]) -> str:
    """The reason why a field's notes do not allow a value."""
    if not isinstance(value, str):
        return f"{_shown(value)} is out of range"
    if not value:
        return "it is empty"
    most = min((note.max_length for note in notes if getattr(note, "max_length", None)), default=0)
    return (
        f"it is too long: {count_of(len(value), 'letter')}, and {most} are the most"
        if len(value) > most
        else "it is too short"
    )


def _below(path: str, name: str) -> str:
    return f"{path}.{name}" if path else name


def _shown(value: object) -> str:
    return legible(clipped(repr(value), 40))
