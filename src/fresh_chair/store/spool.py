"""Where marks go while the study file takes none: a full disk, a file that was moved or deleted. Merged back later.

One JSON object a line, flushed to the disk before anybody is told that the mark is kept. Each program writes a file of
its own, and holds a lock on it that dies with the program.
"""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import stat
from collections.abc import Collection, Iterator, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from platformdirs import user_state_path

from fresh_chair.core.clock import Moment
from fresh_chair.core.codec import plain_json
from fresh_chair.core.errors import InputError, JournalError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import legible
from fresh_chair.store.gate import entry_row, moment_problem
from fresh_chair.store.home import HomeAddress

if TYPE_CHECKING:
    from fresh_chair.core.sitting.journal import Entry

_SUFFIX = ".marks"
_MOST_BYTES = 50_000_000


def places() -> list[Path]:
    """Folders that are tried one after another, on as many disks as there may be."""
    import tempfile

    temporary = Path(tempfile.gettempdir()) / f"fresh-chair-{os.getuid()}"
    return [user_state_path("fresh-chair") / "marks", temporary, Path(f"/dev/shm/fresh-chair-{os.getuid()}")]


def rescued_folder() -> Path:
    """The folder of copies of studies whose file was taken away under a sitting."""
    return user_state_path("fresh-chair") / "rescued"


@frozen
class Leftover:
    """Marks that were kept in a second place and are in no study file yet.

    Whoever holds one holds its file's lock, so that no other program takes the same marks up.

    Attributes:
        file: Where they lie.
        study: The id of the study they belong to.
        home: Where that study was kept.
        marks: Sitting, id of the entry before it, and the entry, in their order.
        lock: The descriptor that holds the lock.
    """

    file: Path
    study: str
    home: HomeAddress
    marks: tuple[tuple[int, str, Entry], ...]
    lock: int

    def clear(self) -> None:
        """Take the file away: all of it is in the study."""
        self.file.unlink(missing_ok=True)
        self.let_go()

    def without(self, sittings: Collection[int]) -> None:
        """Take marks of some sittings out of the file, and let go of it; nothing of them is left in its bytes.

        Raises:
            OSError: Where the disk refuses; the file is then as it was.
        """
        kept = [mark for mark in self.marks if mark[0] not in sittings]
        if not kept:
            self.clear()
            return
        head = _head(self.study, self.home)
        lines = [head, *({"sitting": sitting, **entry_row(entry), "after": after} for sitting, after, entry in kept)]
        data = "".join(json.dumps(line, ensure_ascii=False) + "\n" for line in lines).encode()
        draft = self.file.with_suffix(".part")
        with os.fdopen(os.open(draft, os.O_CREAT | os.O_EXCL | os.O_WRONLY | os.O_NOFOLLOW, 0o600), "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        draft.replace(self.file)
        self.let_go()

    def let_go(self) -> None:
        """Leave the file where it lies, for others to find."""
        with contextlib.suppress(OSError):
            os.close(self.lock)


class Spool:
    """Keeps marks of one study beside its home.

    Args:
        study: The study's id.
        home: Where it is kept.
        folders: Where to try; all places by default.
    """

    def __init__(self, study: str, home: HomeAddress, folders: Sequence[Path] | None = None) -> None:
        self._head = _head(study, home)
        self._folders = folders
        self._descriptor: int | None = None
        self.file: Path | None = None

    def keep(self, sitting: int, after: str, entries: Sequence[Entry]) -> None:
        """Put entries on a disk; returns when they are durable.

        Args:
            sitting: Whose journal they belong to.
            after: The id of the entry before the first of them; empty where there is none.
            entries: What to keep.

        Raises:
            OSError: Where no place takes them.
        """
        lines = ""
        for entry in entries:
            lines += json.dumps({"sitting": sitting, **entry_row(entry), "after": after}, ensure_ascii=False) + "\n"
            after = entry.id
        if self._descriptor is None:
            self._open()
        assert self._descriptor is not None
        _write(self._descriptor, lines.encode())

    def _open(self) -> None:
        import tempfile

        problem: OSError | None = None
        for folder in self._folders if self._folders is not None else places():
            try:
                folder.mkdir(parents=True, exist_ok=True, mode=0o700)
                if folder.stat().st_uid != os.getuid():
                    continue
                descriptor, name = tempfile.mkstemp(_SUFFIX, "", folder)
            except OSError as failed:
                problem = failed
                continue
            try:
                fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
                _write(descriptor, (json.dumps(self._head) + "\n").encode())
            except OSError as failed:
                problem = failed
                os.close(descriptor)
                Path(name).unlink(missing_ok=True)
                continue
            self._descriptor, self.file = descriptor, Path(name)
            return
        raise problem or OSError("no place takes marks")

    def clear(self) -> None:
        """Take away the entries that were merged back."""
        if self.file is not None:
            self.file.unlink(missing_ok=True)
        self.close()

    def close(self) -> None:
        """Let go of the file; it stays where it is."""
        if self._descriptor is not None:
            os.close(self._descriptor)
        self._descriptor = self.file = None


def leftovers(study: str, folders: Sequence[Path] | None = None) -> Iterator[Leftover]:
    """The entries that ended programs kept of a study; unreadable ones are left where they are."""
    for folder in folders if folders is not None else places():
        if not folder.is_dir() or folder.stat().st_uid != os.getuid():
            continue
        for file in sorted(folder.glob(f"*{_SUFFIX}")):
            with contextlib.suppress(OSError, ValueError, KeyError, TypeError, JournalError):
                found = _read(file)
                if found is not None and found.study == study:
                    yield found
                elif found is not None:
                    found.let_go()


def brought(file: Path) -> Leftover:
    """The marks in a file that was brought from another machine.

    Raises:
        InputError: Where it is none, or its program is still there.
    """
    try:
        found = _read(file)
    except (OSError, ValueError, KeyError, TypeError, JournalError):
        raise InputError(f"{legible(file.name)} holds no marks of a station.", "Nothing was brought.") from None
    if found is None:
        raise InputError(f"{legible(file.name)} is in use: its program is still there.", "It brings them itself.")
    return found


def _read(file: Path) -> Leftover | None:
    descriptor = os.open(file, os.O_RDWR | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC)
    try:
        if not stat.S_ISREG(os.fstat(descriptor).st_mode):
            raise ValueError("no file")
        fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
        with os.fdopen(os.dup(descriptor), "rb") as opened:
            lines = opened.read(_MOST_BYTES).split(b"\n")
        head = plain_json(lines[0].decode())
        # What comes after the last end of a line was never said to be kept.
        marks = [_mark(plain_json(line.decode())) for line in lines[1:-1]]
        home = HomeAddress(str(head["path"]), int(head["inode"]))
        return Leftover(file, str(head["study"]), home, tuple(marks), descriptor)
    except BlockingIOError:
        # Its program is still there and will bring them back itself.
        os.close(descriptor)
        return None
    except BaseException:
        os.close(descriptor)
        raise


def _head(study: str, home: HomeAddress) -> dict[str, object]:
    """The first line of a spool."""
    return {"study": study, "path": home.path, "inode": home.number}


def _mark(raw: dict[str, Any]) -> tuple[int, str, Entry]:
    from fresh_chair.core.sitting.journal import CODEC, Entry

    if moment_problem(raw["ticks_ns"], raw["boot"], raw["wall_ns"]):
        raise ValueError("no moment")
    moment = Moment(raw["ticks_ns"], raw["boot"], raw["wall_ns"])
    content = CODEC.content_from(
        raw["body"], version=raw["version"], where=f"Sitting {raw['sitting']}, a mark kept apart"
    )
    return int(raw["sitting"]), str(raw["after"]), Entry(raw["id"], raw["number"], moment, raw["author"], content)


def _write(descriptor: int, data: bytes) -> None:
    before = os.lseek(descriptor, 0, os.SEEK_END)
    try:
        while data:
            data = data[os.write(descriptor, data) :]
        os.fsync(descriptor)
    except OSError:
        # Half a line would spoil the next one.
        os.ftruncate(descriptor, before)
        raise
