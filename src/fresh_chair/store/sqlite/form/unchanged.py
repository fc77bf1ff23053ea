"""Whether an open study file is still the one that was opened, and its log still belongs to it."""

import os
import time
from contextlib import suppress
from pathlib import Path

from fresh_chair.store.sqlite.form.schema import APPLICATION_ID

_MAGIC = b"SQLite format 3\x00"
_CHUNK = 1_048_576
# Another program of ours may be bringing its log into the file just now.
_LOOKS, _REST_SECONDS = 20, 0.05


class SeenFile:
    """A study file as this program saw it last: its place on the disk, its size and age, and the log beside it.

    Nothing but SQLite may write into an open study. What another hand did to it (a synchronising tool, a copy laid
    over it, a disk that lost its end) is looked for before each entry: a file that was changed takes none any more.

    Args:
        path: The file.

    Attributes:
        changed: What was done to it, in words; empty while it is whole. Once it was changed, it stays so.
        log_alone: Whether the log alone was taken away, and the file itself is whole.
    """

    def __init__(self, path: Path) -> None:
        self._path = path
        self._log = path.with_name(f"{path.name}-wal")
        self.place = place_of(path)
        self._seen = _size_and_age(path)
        self._log_place: tuple[int, int] | None = None
        self.changed = ""
        self.log_alone = False
        # Held all the time: to open the file once more, and close it, would drop the locks of SQLite on it.
        self._descriptor = _descriptor(path)

    def remember(self) -> None:
        """Take the file and its log as they are now: this program has just written."""
        self._seen = _size_and_age(self._path)
        if self._log_place is None:
            found = place_of(self._log)
            self._log_place = found if found != (0, 0) else None

    def words(self, name: str) -> tuple[str, str]:
        """The sentence on the change, and the one on the remedy."""
        return (
            f"{name} was changed by something else while it was open: {self.changed}.",
            "Nothing more is written into it. Put a good copy in its place, and open it again.",
        )

    def size_and_age(self) -> tuple[int, ...]:
        """Size and age of the file, and of its log."""
        return (*_size_and_age(self._path), *_size_and_age(self._log))

    def look(self, study: str) -> bool:
        """Whether the file is where and as it was left.

        Args:
            study: The id of the study in it; empty where that is not known yet.
        """
        if self.changed:
            return False
        if place_of(self._path) != self.place:
            # It may be put back where it was.
            return False
        if self._log_place is not None and place_of(self._log) != self._log_place:
            self.changed, self.log_alone = "its log (-wal) was taken away", self._trouble(study) == ""
            self._set_log_aside()
            return False
        if _size_and_age(self._path) == self._seen:
            return True
        trouble = ""
        for _ in range(_LOOKS):
            now = _size_and_age(self._path)
            trouble = self._trouble(study)
            if not trouble:
                self._seen = now
                return True
            time.sleep(_REST_SECONDS)
        self.changed = trouble
        self._set_log_aside()
        return False

    def _trouble(self, study: str) -> str:
        """The fault in the bytes of the file itself, in words; empty for none."""
        if self._descriptor is None:
            return ""
        try:
            head, size = os.pread(self._descriptor, 100, 0), os.fstat(self._descriptor).st_size
            if not head:
                return "it was emptied"
            if not head.startswith(_MAGIC) or int.from_bytes(head[68:72], "big") != APPLICATION_ID:
                return "other bytes were written over it"
            page = int.from_bytes(head[16:18], "big")
            if size < self._seen[0] and size < (65536 if page == 1 else page) * int.from_bytes(head[28:32], "big"):
                return "its end was cut off"
            return "" if self._holds(study.encode(), size) else "another study was copied over it"
        except OSError:
            return "it cannot be read"

    def _holds(self, text: bytes, size: int) -> bool:
        """Whether some bytes stand anywhere in the file: a study's id does, from its beginning on."""
        assert self._descriptor is not None
        steps = range(0, max(size, 1), _CHUNK)
        return not text or any(text in os.pread(self._descriptor, _CHUNK + len(text), at) for at in steps)

    def close(self) -> None:
        """Let go of the file; only after the database, because closing any descriptor drops its locks."""
        if self._descriptor is not None:
            os.close(self._descriptor)
            self._descriptor = None

    def _set_log_aside(self) -> None:
        """Move the log away from a file that it does not belong to: SQLite would bring it into that one."""
        if self._log_place is None:
            return
        with suppress(OSError):
            if place_of(self._log) == self._log_place:
                self._log.rename(self._log.with_name(f"{self._log.name}.aside-{os.getpid()}"))
        with suppress(OSError):
            # The index of that log; whoever opens the file next makes one of its own.
            self._log.with_name(f"{self._path.name}-shm").unlink(missing_ok=True)


def place_of(path: Path) -> tuple[int, int]:
    """Disk and number of a file; zeros where there is none."""
    try:
        found = path.stat()
    except OSError:
        return 0, 0
    return found.st_dev, found.st_ino


def _descriptor(path: Path) -> int | None:
    try:
        return os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    except OSError:
        return None


def _size_and_age(path: Path) -> tuple[int, int]:
    try:
        found = path.stat()
    except OSError:
        return 0, 0
    return found.st_size, found.st_mtime_ns
