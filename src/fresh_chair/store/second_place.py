"""Where marks go while the study file takes none: a full disk, a file that was moved or deleted. Merged back later.

One JSON object a line, flushed to the disk before anybody is told that the mark is kept. Each program writes a file of
its own, and holds a lock on it that dies with the program.
"""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
from collections.abc import Iterator, Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

from platformdirs import user_state_path

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import JournalError
from fresh_chair.core.journal import ENTRY_VERSION, Entry, body_of, content_from

_SUFFIX = ".marks"
_MOST_BYTES = 50_000_000


def places() -> list[Path]:
    """Folders that are tried one after another, on as many disks as there may be."""
    import tempfile

    temporary = Path(tempfile.gettempdir()) / f"fresh-chair-{os.getuid()}"
    return [user_state_path("fresh-chair") / "marks", temporary, Path(f"/dev/shm/fresh-chair-{os.getuid()}")]


@dataclass(frozen=True, slots=True)
class Leftover:
    """Marks that were kept in a second place and are in no study file yet.

    Attributes:
        file: Where they lie.
        study: The id of the study they belong to.
        path, inode: Which file that study was in.
        marks: Sitting, id of the entry before it, and the entry, in their order.
    """

    file: Path
    study: str
    path: str
    inode: int
    marks: tuple[tuple[int, str, Entry], ...]


class SecondPlace:
    """Keeps marks of one study beside its file.

    Args:
        study: The study's id.
        path: Its file.
        inode: That file's number on its disk.
        folders: Where to try; all places by default.
    """

    def __init__(self, study: str, path: Path, inode: int, folders: Sequence[Path] | None = None) -> None:
        self._head = {"study": study, "path": str(path.absolute()), "inode": inode}
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
            lines += json.dumps({"sitting": sitting, "after": after, **_raw(entry)}, ensure_ascii=False) + "\n"
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
        """Take away what was merged back."""
        if self.file is not None:
            self.file.unlink(missing_ok=True)
        self.close()

    def close(self) -> None:
        """Let go of the file; it stays where it is."""
        if self._descriptor is not None:
            os.close(self._descriptor)
        self._descriptor = self.file = None


def leftovers(study: str, folders: Sequence[Path] | None = None) -> Iterator[Leftover]:
    """What was kept of a study by programs that have ended; what cannot be read is left where it is."""
    for folder in folders if folders is not None else places():
        if not folder.is_dir() or folder.stat().st_uid != os.getuid():
            continue
        for file in sorted(folder.glob(f"*{_SUFFIX}")):
            with contextlib.suppress(OSError, ValueError, KeyError, TypeError, JournalError):
                found = _read(file)
                if found is not None and found.study == study:
                    yield found


def _read(file: Path) -> Leftover | None:
    descriptor = os.open(file, os.O_RDWR | os.O_NOFOLLOW)
    try:
        fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
        with os.fdopen(os.dup(descriptor), "rb") as opened:
            lines = opened.read(_MOST_BYTES).split(b"\n")
    except BlockingIOError:
        # Its program is still there and will bring them back itself.
        return None
    finally:
        os.close(descriptor)
    head = json.loads(lines[0])
    # What comes after the last end of a line was never said to be kept.
    marks = [_mark(json.loads(line)) for line in lines[1:-1]]
    return Leftover(file, str(head["study"]), str(head["path"]), int(head["inode"]), tuple(marks))


def _mark(raw: dict[str, Any]) -> tuple[int, str, Entry]:
    moment = Moment(**{name: raw[name] for name in ("ticks_ns", "boot", "wall_ns")})
    content = content_from(raw["body"], version=raw["version"], where=f"Sitting {raw['sitting']}, a mark kept apart")
    return int(raw["sitting"]), str(raw["after"]), Entry(raw["id"], raw["number"], moment, raw["author"], content)


def _raw(entry: Entry) -> dict[str, Any]:
    return {
        "number": entry.number,
        "id": entry.id,
        "version": ENTRY_VERSION,
        **asdict(entry.moment),
        "author": entry.author,
        "body": body_of(entry.content),
    }


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
