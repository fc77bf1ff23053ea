"""Whole values made harmless where they enter a study: law 7."""

from collections.abc import Mapping
from dataclasses import fields, is_dataclass, replace
from enum import Enum
from typing import Any, TypeVar

from fresh_chair.core.text import harmless

T = TypeVar("T")


def safe(value: T) -> T:
    """The value with every text in it harmless; the very same one where nothing in it was otherwise.

    Args:
        value: A text, or what dataclasses, tuples, lists and mappings make of texts.
    """
    made: T = _safe(value)
    return made


def _safe(value: Any) -> Any:
    if isinstance(value, str):
        return value if isinstance(value, Enum) else harmless(value)
    if isinstance(value, tuple | list):
        parts = [_safe(part) for part in value]
        unchanged = all(new is old for new, old in zip(parts, value, strict=True))
        return value if unchanged else type(value)(parts)
    if isinstance(value, Mapping):
        pairs = {_safe(key): _safe(part) for key, part in value.items()}
        unchanged = len(pairs) == len(value) and all(key in value and part is value[key] for key, part in pairs.items())
        return value if unchanged else pairs
    if is_dataclass(value) and not isinstance(value, type):
        changed = {}
        for part in fields(value):
            old = getattr(value, part.name)
            new = _safe(old)
            if new is not old:
                changed[part.name] = new
        return replace(value, **changed) if changed else value
    return value
