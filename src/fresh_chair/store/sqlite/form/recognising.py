"""Whether a file is a study at all, before anything of it is opened."""

import os
import stat
import struct
from pathlib import Path

from fresh_chair.core.errors import FileProblem
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.store.sqlite.form.schema import APPLICATION_ID

_MAGIC = b"SQLite format 3\x00"
_ID_OFFSET = 68


def display_name(path: Path) -> str:
    """The file's name as it may stand in a sentence."""
    return clipped(legible(path.name), 80)


def recognise(path: Path, name: str) -> None:
    """Do nothing where a file says that it is a study, and is as long as it says.

    Raises:
        FileProblem: Where it is not there, something else, or damaged.
    """
    try:
        # A pipe is not waited for, and a device is not read.
        descriptor = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        try:
            regular = stat.S_ISREG(os.fstat(descriptor).st_mode)
            head = os.read(descriptor, 100) if regular else b""
        finally:
            os.close(descriptor)
    except FileNotFoundError:
        raise FileProblem(
            f"There is no file {name}.", "Check the name, or start one with: fresh-chair new FILE"
        ) from None
    except OSError as problem:
        raise FileProblem(f"{name} cannot be read: {problem.strerror}.", "It was left as it is.") from problem
    if not regular:
        raise FileProblem(f"{name} is no file but something else.", "It was left as it is.")
    if not head.startswith(_MAGIC):
        raise FileProblem(f"{name} is not a study file.", "It was left as it is.")
    if len(head) < 100:
        raise FileProblem(
            f"{name} is damaged: it breaks off after {count_of(len(head), 'byte')}.", "Restore a copy of it."
        )
    if struct.unpack_from(">I", head, _ID_OFFSET)[0] != APPLICATION_ID:
        raise FileProblem(f"{name} is a database, but not a study.", "It was left as it is.")
    page, pages = struct.unpack_from(">H", head, 16)[0], struct.unpack_from(">I", head, 28)[0]
    size = path.stat().st_size
    if _in_wal(path):
        # What the file lacks may lie there, as after a full disk: SQLite brings it in.
        return
    if head[24:28] == head[92:96] and size < (65536 if page == 1 else page) * pages:
        raise FileProblem(
            f"{name} is damaged: {size} bytes are there of {page * pages}.",
            "Restore a copy of it; it was left as it is.",
        )


def _in_wal(path: Path) -> bool:
    """Whether anything lies beside the file that is not in it yet."""
    try:
        return path.with_name(path.name + "-wal").stat().st_size > 0
    except OSError:
        return False
