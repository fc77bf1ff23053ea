"""The reviewer's own keys, from a small file that they may write."""

from collections.abc import Mapping
from pathlib import Path

from platformdirs import user_config_path

from fresh_chair.core.errors import FileProblem, InputError
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.system.files import read_text

_MOST_BYTES = 20_000


def keys_file() -> Path:
    """Where it lies: `keys.toml` among the user's own settings."""
    return user_config_path("fresh-chair") / "keys.toml"


def own_keys(known: dict[str, dict[str, str]]) -> dict[str, str]:
    """The key for each thing that has another one than it comes with, by its id such as `sit.snag`.

    Args:
        known: For each place, its things with the keys they come with.

    Raises:
        InputError: Where the file cannot be used; all keys are then as they come.
    """
    file = keys_file()
    if not file.exists():
        return {}
    import tomllib

    try:
        raw = tomllib.loads(read_text(file, _MOST_BYTES, kept="All keys are as they come.", what="a list of keys"))
    except FileProblem as problem:
        raise InputError(problem.title, problem.hint) from problem
    except (tomllib.TOMLDecodeError, RecursionError) as problem:
        raise InputError(
            f"keys.toml cannot be read: {legible(clipped(str(problem), 100))}.", "All keys are as they come."
        ) from problem
    found: dict[str, str] = {}
    for place, listed in raw.items():
        if place not in known or not isinstance(listed, dict):
            raise InputError(
                f"keys.toml names no place {legible(clipped(place, 20))}.", f"There are: {', '.join(known)}."
            )
        for name, key in listed.items():
            if name not in known[place]:
                raise InputError(
                    f"keys.toml: {place} has nothing called {legible(clipped(name, 30))}.",
                    f"It has: {', '.join(known[place])}.",
                )
            if not isinstance(key, str) or len(key) != 1 or not key.isprintable() or key.isdigit() or key == " ":
                raise InputError(
                    f"keys.toml: the key of {place}.{legible(name)} is one letter or sign, and no digit.",
                    "Digits lead to the places.",
                )
            found[f"{place}.{name}"] = key
        _require_one_meaning(place, known[place], listed)
    return found


def _require_one_meaning(place: str, given: Mapping[str, str], own: Mapping[str, str]) -> None:
    keys = {**given, **own}
    for name in own:
        twin = next((other for other, key in keys.items() if key == keys[name] and other != name), None)
        if twin is not None:
            raise InputError(
                f"keys.toml: {legible(keys[name])} would mean both {place}.{name} and {place}.{twin}.",
                "Give one of them another key.",
            )
