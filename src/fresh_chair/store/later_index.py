"""The later lists of all studies known on this machine, beside the recent list: none is forgotten, and none is opened.

A file a study, named by its id: two programs write two of them at once without knowing of each other.
"""

import json
import os
import re
from collections.abc import Iterator, Mapping, Sequence
from contextlib import suppress
from pathlib import Path
from typing import Any

from platformdirs import user_state_path

from fresh_chair.core.errors import InputError
from fresh_chair.store.address import Address, read_address

_MOST_BYTES = 2_000_000
_NAME = re.compile("[0-9a-zA-Z-]{1,64}")


class LaterIndex:
    """The later list of each study as of when it was closed.

    Args:
        folder: Where the index lives; within the user's state folder by default.
    """

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = folder or user_state_path("fresh-chair") / "later"

    def put(self, study: str, path: Address, title: str, lines: Sequence[Mapping[str, str]]) -> None:
        """Remember a study's list. Where the index cannot be written, nothing is lost but the convenience.

        Args:
            study: The study's id.
            path: Where it is.
            title: Its title.
            lines: Its list; an empty one is forgotten.
        """
        if not _NAME.fullmatch(study):
            return
        file = self._folder / f"{study}.json"
        with suppress(OSError):
            if not lines:
                file.unlink(missing_ok=True)
                return
            self._folder.mkdir(parents=True, exist_ok=True, mode=0o700)
            draft = self._folder / f".{study}.{os.getpid()}.new"
            told = json.dumps(
                {
                    "path": str(path.absolute() if isinstance(path, Path) else path),
                    "title": title,
                    "lines": list(map(dict, lines)),
                }
            )
            with os.fdopen(os.open(draft, os.O_CREAT | os.O_TRUNC | os.O_WRONLY | os.O_NOFOLLOW, 0o600), "wb") as to:
                to.write(told.encode())
            draft.replace(file)

    def all(self) -> Iterator[tuple[Address, str, list[dict[str, str]]]]:
        """Path, title and lines of every study that has any; unreadable files are passed over."""
        try:
            files = sorted(self._folder.glob("*.json"))
        except OSError:
            return
        for file in files:
            read = _read(file)
            if read is not None:
                yield read


def _read(file: Path) -> tuple[Address, str, list[dict[str, str]]] | None:
    try:
        with file.open("rb") as opened:
            raw: Any = json.loads(opened.read(_MOST_BYTES))
        path, title, lines = raw["path"], raw["title"], raw["lines"]
        if not isinstance(path, str) or "\0" in path or not isinstance(title, str) or not isinstance(lines, list):
            return None
        told = [
            {str(key): str(value)[:2000] for key, value in line.items()} for line in lines if isinstance(line, dict)
        ]
        return read_address(path), title[:200], told
    except (OSError, ValueError, RecursionError, KeyError, TypeError, InputError):
        return None
