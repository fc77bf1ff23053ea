"""Files that are written for somebody: whole, or not at all."""

import os
from dataclasses import dataclass
from pathlib import Path

from fresh_chair.core.errors import InputError, OutsideError
from fresh_chair.core.text import legible


@dataclass(frozen=True, slots=True)
class Written:
    """One file that was written."""

    path: Path
    what: str


def write_file(path: Path, data: bytes, what: str) -> Written:
    """Write one file whole, or leave the one that was there."""
    draft = path.with_name(f".{path.name}.{os.getpid()}.part")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        draft.write_bytes(data)
        draft.replace(path)
    except OSError as problem:
        draft.unlink(missing_ok=True) if draft.parent.is_dir() else None
        raise OutsideError(
            f"{legible(str(path))} cannot be written: {problem.strerror or 'the system refused'}.",
            "The study is untouched; choose another folder or free some space.",
        ) from problem
    return Written(path, what)


def typed_path(text: str) -> Path:
    """The path that somebody typed, with ~ for a home folder.

    Raises:
        InputError: Where it is none.
    """
    text = text.strip()
    try:
        if text and "\0" not in text:
            return Path(text).expanduser()
    except RuntimeError:
        pass
    raise InputError(f"{legible(text[:60]) or 'Nothing'} is no path to a file.", "Type another one.")
