"""One line of text for every field of a plan, and back: the syntax of a sheet's bottom line and of the commands.

Several things in one line are parted by semicolons, the parts of one thing by bars, several things within a part by
commas; a backslash keeps any of them as it is.
"""

import re
from collections.abc import Mapping
from dataclasses import MISSING, fields, is_dataclass
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin, get_type_hints

from fresh_chair.core.errors import InputError
from fresh_chair.core.text import clipped, legible

_YES, _NO = {"yes", "y", "true", "1"}, {"no", "n", "false", "0", ""}


def line_of(value: object, *, sign: str = ";") -> str:
    """A value as the line that `meant` reads back; `sign` separates the items of a list."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:g}"
    if isinstance(value, Mapping):
        return f"{sign} ".join(f"{key}: {_kept(line_of(item), sign)}" for key, item in value.items())
    if isinstance(value, (tuple, list)):
        return f"{sign} ".join(_kept(line_of(item), sign) for item in value)
    if is_dataclass(value):
        parts = [_kept(line_of(getattr(value, part.name), sign=","), "|") for part in fields(value)]
        while parts and not parts[-1]:
            parts.pop()
        return " | ".join(parts)
    return str(value)


def meant(hint: Any, text: str, what: str, *, sign: str = ";") -> Any:
    """The value of a line for a field of this type, as plain data that the codec checks further.

    Args:
        hint: The field's type.
        text: The line.
        what: What to call the field in an error.
        sign: What parts the things of a list.

    Raises:
        InputError: Where it is no number, no yes or no, none of the words allowed, or has too many parts.
    """
    hint, optional = plain_hint(hint)
    text = text.strip()
    if optional and not text:
        return None
    origin = get_origin(hint)
    if origin is Literal:
        return _one_of(get_args(hint), text, what)
    if origin is tuple:
        return [meant(get_args(hint)[0], part, what) for part in _parted(text, sign)]
    if is_dataclass(hint) and isinstance(hint, type):
        return _parts_of(hint, text, what)
    if hint is bool:
        if text.casefold() in _YES | _NO:
            return text.casefold() in _YES
        raise InputError(f"{what} is yes or no, not “{_shown(text)}”.")
    if hint in (int, float):
        try:
            share = text.endswith("%") and hint is float
            number = float(text.removesuffix("%").strip().replace(",", ".")) / (100 if share else 1)
            if hint is int and not number.is_integer():
                raise ValueError
            return hint(number)
        except (ValueError, OverflowError):
            kind = "a whole number" if hint is int else "a number"
            raise InputError(f"{what} is {kind}, not “{_shown(text)}”.") from None
    return text


def choices_of(hint: Any) -> tuple[str, ...]:
    """The words a field allows; empty where any will do."""
    hint, optional = plain_hint(hint)
    if hint is bool:
        return ("", "no", "yes") if optional else ("no", "yes")
    return tuple(map(str, get_args(hint))) if get_origin(hint) is Literal else ()


def plain_hint(hint: Any) -> tuple[Any, bool]:
    """A type without notes and without None, and whether None was allowed."""
    optional = False
    while True:
        origin = get_origin(hint)
        if origin is Annotated:
            hint = get_args(hint)[0]
        elif origin in (Union, UnionType):
            optional = True
            hint = next(each for each in get_args(hint) if each is not NoneType)
        else:
            return hint, optional


def _parts_of(kind: type, text: str, what: str) -> dict[str, Any]:
    hints = get_type_hints(kind, include_extras=True)
    named = fields(kind)
    parts = _parted(text, "|")
    if len(parts) > len(named):
        names = " | ".join(part.name.replace("_", " ") for part in named)
        raise InputError(f"{what} has {len(parts)} parts, and {len(named)} are known: {names}.")
    values = {}
    for at, part in enumerate(named):
        given = parts[at] if at < len(parts) else ""
        has_default = part.default is not MISSING or part.default_factory is not MISSING
        if given or not has_default:
            named_so = f"{what}, {part.name.replace('_', ' ')},"
            values[part.name] = meant(hints[part.name], given, named_so, sign=",")
    return values


def _one_of(allowed: tuple[Any, ...], text: str, what: str) -> str:
    for each in allowed:
        if text.casefold() == str(each).casefold():
            return str(each)
    starting = [str(each) for each in allowed if text and str(each).casefold().startswith(text.casefold())]
    if len(starting) == 1:
        return starting[0]
    words = ", ".join(str(each) or "nothing" for each in allowed)
    raise InputError(f"{what} is one of {words}; not “{_shown(text)}”.")


def _parted(text: str, sign: str) -> list[str]:
    """The parts of a line, without empty ones at its end."""
    parts = [part.strip().replace(f"\\{sign}", sign) for part in re.split(rf"(?<!\\){re.escape(sign)}", text)]
    while parts and not parts[-1]:
        parts.pop()
    return parts if sign == "|" else [part for part in parts if part]


def _kept(text: str, sign: str) -> str:
    return text.replace(sign, f"\\{sign}")


def _shown(text: str) -> str:
    return legible(clipped(text, 40))
