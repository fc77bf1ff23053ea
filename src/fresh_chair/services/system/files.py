"""Files written for the user: whole, or not at all."""

import contextlib
import os
import shutil
import stat
import sys
from pathlib import Path

from fresh_chair.core.errors import FileProblem, InputError, OutsideError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped, legible
from fresh_chair.store.address import Address, is_server_address, read_server_address


@frozen
class Written:
    """One file that was written."""

    path: Path
    what: str


STANDARD_INPUT = Path("-")


def read_bytes(path: Path, most: int, *, kept: str = "Nothing was changed.", what: str = "") -> bytes:
    """The bytes of a regular file, or of standard input for `-`; never more than `most` are read.

    Args:
        path: The file.
        most: How many bytes it may have.
        kept: What an error says was kept or not done.
        what: What it is too large to be, in an error.

    Raises:
        FileProblem: Where it cannot be read, is something else than a file, or is larger.
    """
    name = name_of(path)
    try:
        if path == STANDARD_INPUT:
            data = sys.stdin.buffer.read(most + 1)
        else:
            # A pipe that nobody writes into is not waited for, and a device has no end.
            descriptor = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC | os.O_NOCTTY)
            with os.fdopen(descriptor, "rb") as file:
                if not stat.S_ISREG(os.fstat(descriptor).st_mode):
                    raise FileProblem(f"{name} is no file but something else.", kept)
                data = file.read(most + 1)
    except OSError as problem:
        raise FileProblem(f"{name} cannot be read: {problem.strerror}.", kept) from problem
    if len(data) > most:
        size = f"{most // 1_000_000} MB" if most >= 1_000_000 else f"{most // 1000} kB"
        raise FileProblem(f"{name} is too large{f' to be {what}' if what else ''}: more than {size}.", kept)
    return data


def read_text(path: Path, most: int, *, kept: str = "Nothing was changed.", what: str = "") -> str:
    """The text of a file in UTF-8. Raises FileProblem as `read_bytes`, and where it is no UTF-8."""
    try:
        return read_bytes(path, most, kept=kept, what=what).decode("utf-8-sig")
    except UnicodeDecodeError as problem:
        raise FileProblem(f"{name_of(path)} is not UTF-8 text.", f"Save it as UTF-8. {kept}") from problem


def name_of(path: Path) -> str:
    """A file's name as it may stand in a sentence."""
    return "standard input" if path == STANDARD_INPUT else clipped(legible(path.name or str(path)), 80)


def make_folder(folder: Path) -> None:
    """Make a folder with those above it that are missing, each for its owner alone. Raises OSError."""
    missing = []
    at = folder
    while not at.exists():
        missing.append(at)
        at = at.parent
    for each in reversed(missing):
        with contextlib.suppress(FileExistsError):
            each.mkdir(mode=0o700)
    if not folder.is_dir():
        raise NotADirectoryError(20, "it is no folder", str(folder))


def write_file(path: Path, data: bytes, what: str) -> Written:
    """Write one file whole, for its owner alone, or leave the one that was there."""
    draft = path.with_name(f".{path.name}.{os.getpid()}.part")
    try:
        make_folder(path.parent)
        descriptor = os.open(draft, os.O_CREAT | os.O_EXCL | os.O_WRONLY | os.O_NOFOLLOW | os.O_CLOEXEC, 0o600)
        with os.fdopen(descriptor, "wb") as file:
            file.write(data)
        draft.replace(path)
    except OSError as problem:
        with contextlib.suppress(OSError):
            draft.unlink(missing_ok=True)
        raise OutsideError(
            f"{legible(str(path))} cannot be written: {problem.strerror or 'the system refused'}.",
            "The study is untouched; choose another folder or free some space.",
        ) from problem
    return Written(path, what)


def copy_file(path: Path, to: Path, what: str) -> Written:
    """Copy a file of any size, for its owner alone. Raises OutsideError where the system refuses; none is left then."""
    try:
        make_folder(to.parent)
        descriptor = os.open(to, os.O_CREAT | os.O_TRUNC | os.O_WRONLY | os.O_NOFOLLOW | os.O_CLOEXEC, 0o600)
        with os.fdopen(descriptor, "wb") as copy, path.open("rb") as file:
            shutil.copyfileobj(file, copy, 1_048_576)
    except OSError as problem:
        with contextlib.suppress(OSError):
            to.unlink(missing_ok=True)
        raise OutsideError(
            f"{legible(str(to))} cannot be written: {problem.strerror or 'the system refused'}.",
            "The study is untouched; choose another folder or free some space.",
        ) from problem
    return Written(to, what)


def typed_address(text: str) -> Address:
    """A typed address of a study: a path, with ~ for a home folder, or a server's. Raises InputError."""
    return read_server_address(text.strip()) if is_server_address(text.strip()) else typed_path(text)


def typed_path(text: str) -> Path:
    """A typed path, with ~ for a home folder.

    Raises:
        InputError: Where it is none.
    """
    text = text.strip()
    try:
        if text and "\0" not in text:
            path = Path(text).expanduser()
            # A name that is too long, or a folder that may not be looked into, is told here and nowhere later.
            path.exists()
            return path
    except RuntimeError:
        pass
    except OSError as problem:
        reason = problem.strerror or "the system refused"
        raise InputError(f"{legible(text[:60])} cannot be looked at: {reason}.", "Type another path.") from problem
    raise InputError(f"{legible(text[:60]) or 'Nothing'} is no path to a file.", "Type another one.")
