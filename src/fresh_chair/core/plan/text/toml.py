"""Plans that people write down as TOML: read, checked, and all that is wrong said at once."""

import tomllib
from typing import Any

from pydantic import TypeAdapter, ValidationError

from fresh_chair.core.errors import InputError
from fresh_chair.core.text import clipped, legible

MOST_LETTERS = 2_000_000
_MOST_REASONS = 40


def toml_of(text: str, *, name: str, kept: str) -> dict[str, Any]:
    """The tables of a TOML 1.0 text.

    Args:
        name: What to call the text in an error, usually its file name.
        kept: What an error says was kept or not done.

    Raises:
        InputError: Where it is too long, or no TOML.
    """
    if len(text) > MOST_LETTERS:
        raise InputError(f"{name} is too long: {len(text)} letters, and {MOST_LETTERS} are the most.", kept)
    try:
        return tomllib.loads(text)
    except (tomllib.TOMLDecodeError, RecursionError) as problem:
        words = "it is nested too deeply" if isinstance(problem, RecursionError) else legible(str(problem))
        raise InputError(f"{name} is not valid TOML: {words}.", kept) from problem


def require_version(raw: dict[str, Any], key: str, versions: tuple[int, ...], *, name: str) -> int:
    """The version a text says it is written in.

    Raises:
        InputError: Where it is none this program reads.
    """
    version = raw.get(key)
    if type(version) is not int or version not in versions:
        shown = legible(clipped(repr(version), 20))
        raise InputError(
            f"{name} says {key} = {shown}, and this version reads {key} = {' or '.join(map(str, versions))}.",
            "Put that line at its top, or use the version that wrote it.",
        )
    return version


def checked(kind: type, raw: object, *, name: str, kept: str) -> Any:
    """A dataclass from the tables of a text.

    Raises:
        InputError: All problems at once, each as reason @ field.
    """
    try:
        return TypeAdapter(kind).validate_python(raw)
    except ValidationError as problem:
        raise InputError(f"{name} cannot be used as it is:\n{reasons(problem, raw)}", kept) from problem


def reasons(problem: ValidationError, raw: object = None) -> str:
    """Every reason of a failed validation, one a line, as reason @ field."""
    lines = []
    for error in problem.errors(include_url=False, include_context=False, include_input=False):
        for reason in error["msg"].removeprefix("Value error, ").split("\n"):
            # What was found wrong across several fields says its own place.
            place = "" if " @ " in reason else f" @ {_place(error['loc'], raw)}"
            lines.append(f"  {legible(reason.strip() + place)}")
    if len(lines) > _MOST_REASONS:
        lines[_MOST_REASONS:] = [f"  and {len(lines) - _MOST_REASONS} more"]
    return "\n".join(lines)


def _place(location: tuple[Any, ...], raw: object) -> str:
    """`('cards', 2, 'goal')` as `cards[3].goal`, counted from one as people count, with the name of the item."""
    text, named = "", ""
    for part in location:
        text += f"[{part + 1}]" if isinstance(part, int) else f".{part}" if text else str(part)
        try:
            raw = raw[part]  # type: ignore[index]
        except (KeyError, IndexError, TypeError):
            raw = None
        if isinstance(part, int) and isinstance(raw, dict):
            found = raw.get("id") or raw.get("code") or raw.get("letter")
            named = clipped(found, 40) if isinstance(found, str) else named
    return f"{text or 'the whole'}{f' ({named})' if named else ''}"
