"""The commonest command without the library behind the others, which costs a tenth of a second at the start."""

from collections.abc import Sequence
from pathlib import Path

_FLAGS = {"--plain", "--light"}


def quick_open(arguments: Sequence[str]) -> tuple[Path, bool, bool] | None:
    """The file, plain and light of a plain `open FILE`; None for everything else, which Typer then reads."""
    if len(arguments) < 2 or arguments[0] != "open" or not set(arguments[2:]) <= _FLAGS or arguments[1].startswith("-"):
        return None
    return Path(arguments[1]), "--plain" in arguments, "--light" in arguments
