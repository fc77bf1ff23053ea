"""A study file: made, recognised, opened for writing by one program at a time."""

from __future__ import annotations

import contextlib
import fcntl
import os
import sqlite3
import struct
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from threading import Lock
from types import TracebackType
from typing import TYPE_CHECKING
from urllib.parse import quote

from fresh_chair.core.errors import FileProblem, NotSaved
from fresh_chair.core.text import clipped, legible
from fresh_chair.store.schema import APPLICATION_ID, migrate, require_known, revision_of
from fresh_chair.store.troubles import reading, writing

if TYPE_CHECKING:
    from sqlalchemy import Engine

_MAGIC = b"SQLite format 3\x00"
_ID_OFFSET = 68


def display_name(path: Path) -> str:
    """The file's name as it may stand in a sentence."""
    return clipped(legible(path.name), 80)


class StudyFile:
    """An open study file.

    Whoever opens it for writing holds a lock that dies with the process, so that a killed program never locks
    anybody out. Everybody else reads. One process must not open the same file twice: closing the second handle
    would drop the first one's locks.

    Reading goes straight through sqlite3, so that opening a study to look at it need not load SQLAlchemy, which costs
    as much as all the rest of the start; everything that writes goes through its engine, made when first needed.

    Args:
        path: The file.
        lock: Descriptor that holds the writer's lock, None for a reader.
        observes: True for a second observer, who adds to journals beside the writer and writes nothing else.
    """

    def __init__(self, path: Path, lock: int | None, *, observes: bool = False) -> None:
        self.path = path.absolute()
        self.observes = observes
        self._place = _place(path)
        self._lock = lock
        self._engine: Engine | None = None
        self._making = Lock()

    @property
    def engine(self) -> Engine:
        """Connected for writing, every commit durable before it returns.

        Raises:
            NotSaved: Where the file is no longer where it was opened.
        """
        self.require_there()
        with self._making:
            if self._engine is None:
                from fresh_chair.store.engine import make_engine

                adds = self.writable or self.observes
                self._engine = make_engine(_address(self.path, write=adds), write=adds)
            return self._engine

    @property
    def inode(self) -> int:
        """The file's number on its disk, by which it is known again under another name; 0 where it was not there."""
        return self._place[1]

    @property
    def there(self) -> bool:
        """False once the file was moved, deleted or replaced under the program's hands."""
        return _place(self.path) == self._place

    def require_there(self) -> None:
        """Do nothing where the file is where it was opened.

        Raises:
            NotSaved: Where it is not: what is written now, nobody would find.
        """
        if not self.there:
            raise NotSaved(
                f"{self.name} is no longer where it was opened: it was moved, deleted or replaced.",
                "This was not saved into it. Put it back, or open it where it is now.",
            )

    def settle(self) -> None:
        """Bring everything that was written into the file itself, so that it is whole wherever it was moved to."""
        if self._engine is not None:
            with contextlib.suppress(Exception), self._engine.connect() as connection:
                connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")

    def rescue(self, path: Path) -> None:
        """Copy the study as it stands to another place, be its own file deleted.

        Raises:
            NotSaved: Where nothing is open of it any more, or that place refuses.
        """
        with writing(display_name(path)):
            if self._engine is None:
                raise OSError("nothing is left of it to copy")
            with self._engine.connect() as connection:
                connection.exec_driver_sql("VACUUM INTO ?", (str(path),))

    @contextmanager
    def rows(self) -> Iterator[sqlite3.Connection]:
        """A connection to read with."""
        connection = sqlite3.connect(_address(self.path, write=self.writable), uri=True, timeout=3.0)
        connection.row_factory = sqlite3.Row
        try:
            yield connection
        finally:
            connection.close()

    @property
    def name(self) -> str:
        """The file's name as it may stand in a sentence."""
        return display_name(self.path)

    @property
    def writable(self) -> bool:
        """True where this program holds the file for writing."""
        return self._lock is not None

    def close(self) -> None:
        """Let go of the file; the database first, because closing any descriptor drops its locks."""
        if self._engine is not None:
            self._engine.dispose()
        if self._lock is not None:
            os.close(self._lock)
            self._lock = None

    def __enter__(self) -> StudyFile:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, problem: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close()


def open_file(path: Path, *, write: bool = True, observe: bool = False) -> StudyFile:
    """The study file at a path; for reading where another program writes, or where it may only be read.

    Args:
        path: The file.
        write: False to read only.
        observe: Read, and add to journals beside whoever writes.

    Raises:
        FileProblem: Where it is not there, not a study, damaged, or from a newer version.
    """
    name = display_name(path)
    _recognise(path, name)
    lock = _take_lock(path) if write and not observe else None
    file = StudyFile(path, lock, observes=observe)
    try:
        _ready(file)
    except BaseException:
        file.close()
        raise
    return file


def create_file(path: Path, fill: Callable[[StudyFile], None]) -> None:
    """Make a new study file, whole or not at all.

    It is filled under another name beside its place and takes its own name last, so that a crash leaves no half study
    and nothing that is there is ever overwritten.

    Args:
        path: Where it is to be.
        fill: Writes the contents.

    Raises:
        FileProblem: Where something is there already.
        NotSaved: Where the folder or the disk refuses.
    """
    name = display_name(path)
    taken = FileProblem(f"There is something at {name} already.", "It was left as it is. Choose another name.")
    if path.exists():
        raise taken
    for leftover in (path.with_name(path.name + "-wal"), path.with_name(path.name + "-shm")):
        # SQLite would take what lies in them for the new file's own.
        if leftover.exists():
            raise FileProblem(
                f"{leftover.name} is left over from another study of that name.",
                "Nothing was made. It may hold that study's last marks: put it back beside it, or move it away.",
            )
    draft = path.with_name(f".{path.name}.{os.getpid()}.part")
    try:
        with writing(name):
            descriptor = os.open(draft, os.O_CREAT | os.O_EXCL | os.O_RDWR, 0o644)
        with StudyFile(draft, descriptor) as file:
            with writing(name), file.engine.begin() as connection:
                migrate(connection)
            fill(file)
        with writing(name):
            try:
                os.link(draft, path)
            except FileExistsError:
                raise taken from None
    finally:
        for leftover in (draft, draft.with_name(draft.name + "-wal"), draft.with_name(draft.name + "-shm")):
            leftover.unlink(missing_ok=True)


def _recognise(path: Path, name: str) -> None:
    try:
        with path.open("rb") as file:
            head = file.read(100)
    except FileNotFoundError:
        raise FileProblem(
            f"There is no file {name}.", "Check the name, or start one with: fresh-chair new FILE"
        ) from None
    except OSError as problem:
        raise FileProblem(f"{name} cannot be read: {problem.strerror}.", "It was left as it is.") from problem
    if not head.startswith(_MAGIC):
        raise FileProblem(f"{name} is not a study file.", "It was left as it is.")
    if len(head) < 100:
        raise FileProblem(f"{name} is damaged: it breaks off after {len(head)} bytes.", "Restore a copy of it.")
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


def _place(path: Path) -> tuple[int, int]:
    """Disk and number of a file; zeros where there is none."""
    try:
        found = path.stat()
    except OSError:
        return 0, 0
    return found.st_dev, found.st_ino


def _take_lock(path: Path) -> int | None:
    try:
        descriptor = os.open(path, os.O_RDWR)
    except OSError:
        return None
    try:
        fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        os.close(descriptor)
        return None
    return descriptor


def _address(path: Path, *, write: bool) -> str:
    address = f"file:{quote(str(path.absolute()))}?mode={'rw' if write else 'ro'}"
    if not write and not os.access(path.parent, os.W_OK) and not path.with_name(path.name + "-wal").exists():
        # Without a writable folder SQLite cannot make the shared memory that even a reader of a WAL file wants.
        address += "&immutable=1"
    return address


def _ready(file: StudyFile) -> None:
    with reading(file.name), file.rows() as rows:
        revision = revision_of(rows)
    if not require_known(revision, file.name):
        return
    if not file.writable:
        raise FileProblem(
            f"{file.name} was written by an older Fresh Chair.", "Open it once for writing to bring it up to date."
        )
    with writing(file.name), file.engine.begin() as connection:
        migrate(connection)


def integrity(rows: sqlite3.Connection) -> list[str]:
    """What SQLite itself finds wrong with the file; empty where nothing is."""
    broken = [str(row[0]) for row in rows.execute("PRAGMA integrity_check(20)") if row[0] != "ok"]
    strays = rows.execute("PRAGMA foreign_key_check").fetchall()
    return broken + [f"{row[0]} row {row[1]} points at a {row[2]} that is not there" for row in strays]
