"""An open study file: several programs may have one open, of which one at a time holds its lock."""

from __future__ import annotations

import contextlib
import ctypes
import fcntl
import os
import sqlite3
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import AbstractContextManager, contextmanager
from pathlib import Path
from threading import RLock
from time import strftime
from types import TracebackType
from typing import TYPE_CHECKING
from urllib.parse import quote

from fresh_chair.core.errors import FileProblem, FreshChairError, NotSaved
from fresh_chair.store.address import is_server_address
from fresh_chair.store.home import HomeAddress
from fresh_chair.store.spool import rescued_folder
from fresh_chair.store.sqlite.form.recognising import display_name
from fresh_chair.store.sqlite.form.schema import (
    APPLICATION_ID,
    HEAD,
)
from fresh_chair.store.sqlite.form.unchanged import SeenFile
from fresh_chair.store.sqlite.troubles import reading, writing

if TYPE_CHECKING:
    from fresh_chair.store.tables.rows import Rows

# No text or packed state in a study is larger; a file that holds one is refused before it fills the memory.
LARGEST_VALUE = 48_000_000


class StudyFile(AbstractContextManager["StudyFile"]):
    """An open study file.

    The first program that opens it for writing holds a lock that dies with the process, so that a killed program never
    locks anybody out; it moderates. The others share what may be written at once. One process must not open the same
    file twice: closing the second handle would drop the first one's locks.

    Reading and writing go through sqlite3, in one SQL: loading SQLAlchemy takes as long as loading Textual, and would
    hold up the keys of whoever has just opened a study. Migrations alone are made with it.

    Args:
        path: The file.
        lock: Descriptor that holds the writer's lock, None for a reader.
        observes: True for a second observer, who adds to journals beside the writer and writes nothing else.
        shares: True where another program holds the lock, and this one changes the plan and adds to ledgers beside it.
    """

    sees_people = True
    line = ""
    away = ""

    def __init__(self, path: Path, lock: int | None, *, observes: bool = False, shares: bool = False) -> None:
        self.path = path.absolute()
        self.observes = observes
        self.shares = shares
        self._seen = SeenFile(self.path)
        # Size and age of the file and of its log: whoever writes changes one of them.
        self.touched: Callable[[], tuple[int, ...]] = self._seen.size_and_age
        self._lock = lock
        self._writer: sqlite3.Connection | None = None
        self._writing = RLock()
        self._study_id: str | None = None

    @property
    def study_id(self) -> str:
        """The permanent id of the study in the file; empty while there is none. Raises FileProblem."""
        if self._study_id is None:
            found = self.read("SELECT id FROM study LIMIT 1")
            if not found:
                return ""
            self._study_id = str(found[0][0])
        return self._study_id

    @contextmanager
    def changing(self, study: str | None = None) -> Iterator[Rows]:
        """A transaction that writes; it is durable when it ends, or nothing of it is kept.

        Args:
            study: The id of a study that is not in the file yet.

        Raises:
            NotSaved: Where the disk refuses, or the file is no longer where it was opened.
        """
        from fresh_chair.store.tables.rows import Rows

        with writing(self.name), self._writing:
            study = self.study_id if study is None else study
            writer = self.writer()
            writer.execute("BEGIN IMMEDIATE")
            try:
                yield Rows(writer.execute, study, writer.executemany)
                writer.execute("COMMIT")
            except BaseException:
                if writer.in_transaction:
                    writer.execute("ROLLBACK")
                raise
            # What went into a file that nobody can find any more is not kept.
            self.require_there()
            self._seen.remember()

    def writer(self) -> sqlite3.Connection:
        """The connection that writes, with every commit durable before it returns; made when first needed.

        Raises:
            NotSaved: Where the file is no longer where it was opened.
            sqlite3.Error: Where it cannot be opened for writing.
        """
        self.require_there()
        with self._writing:
            if self._writer is None:
                adds = self.writable or self.observes or self.shares
                self._writer = connect_writer(address_of(self.path, write=adds), write=adds)
                self._seen.remember()
            return self._writer

    @property
    def beside(self) -> Path:
        """The file's path: attached files lie beside it."""
        return self.path

    @property
    def address(self) -> HomeAddress:
        """The file's path and its number on its disk."""
        return HomeAddress(str(self.path.absolute()), self._seen.place[1])

    def is_home_of(self, address: HomeAddress) -> bool:
        """True where marks of that file belong into this one: it is the same, or is not there any more."""
        if is_server_address(address.path):
            return False
        if address.number == self.address.number or address.path == self.address.path:
            return True
        try:
            return Path(address.path).stat().st_ino != address.number
        except OSError:
            return True

    @property
    def there(self) -> bool:
        """False once the file was moved, deleted, replaced or changed under the program's hands."""
        return self._seen.look(self._study_id or "")

    @property
    def changed(self) -> bool:
        """True once the file, or its log, was changed by another hand; nothing is written into it any more."""
        return not self.there and bool(self._seen.changed)

    def require_there(self) -> None:
        """Do nothing where the file is where it was opened.

        Raises:
            NotSaved: Where it is not: what is written now, nobody would find.
        """
        if self.there:
            return
        if self._seen.changed:
            raise NotSaved(*self._seen.words(self.name))
        raise NotSaved(
            f"{self.name} is no longer where it was opened: it was moved, deleted or replaced.",
            "This was not saved into it. Put it back, or open it where it is now.",
        )

    def make_room(self) -> None:
        """Bring everything that was written into the file itself, so that it is whole wherever it was moved to."""
        if self._writer is not None and not self._seen.changed:
            with contextlib.suppress(Exception), self._writing:
                self._writer.execute("PRAGMA wal_checkpoint(TRUNCATE)").fetchall()

    def rescue(self) -> Path | None:
        """Copy a file that was taken away into the folder of rescued studies; None where nothing could be copied."""
        if self._seen.changed and not self._seen.log_alone:
            # What is open of it, and what lies there, are no longer parts of one study.
            return None
        self.make_room()
        copy = rescued_folder() / f"{self.path.stem[:60]}-{strftime('%Y-%m-%d-%H%M%S')}.fresh"
        try:
            for folder in (copy.parent.parent, copy.parent):
                folder.mkdir(parents=True, exist_ok=True, mode=0o700)
            self.copy_to(copy)
        except (OSError, FreshChairError):
            return None
        return copy

    def copy_to(self, path: Path, *, connect: bool = False) -> None:
        """Copy the study as it stands, be its own file deleted; only its owner can read the copy.

        Args:
            path: Where to; nothing, or an empty file.
            connect: Open it for that where it is not.

        Raises:
            NotSaved: Where nothing is open of it any more, or that place refuses.
        """
        with writing(display_name(path)), self._writing:
            writer = self.writer() if connect else self._writer
            if writer is None:
                raise OSError("nothing is left of it to copy")
            if not path.exists():
                os.close(os.open(path, os.O_CREAT | os.O_EXCL | os.O_RDWR, 0o600))
            writer.execute("VACUUM INTO ?", (str(path),))

    @contextmanager
    def rows(self) -> Iterator[sqlite3.Connection]:
        """A connection to read with; the last one to close leaves nothing beside the file.

        Raises:
            FileProblem: Where another hand changed the file while it was open.
        """
        if self.changed:
            raise FileProblem(*self._seen.words(self.name))
        adds = self.writable or os.access(self.path, os.W_OK)
        connection = sqlite3.connect(address_of(self.path, write=adds), uri=True, timeout=3.0)
        connection.setlimit(sqlite3.SQLITE_LIMIT_LENGTH, LARGEST_VALUE)
        connection.row_factory = sqlite3.Row
        try:
            if not self.writable:
                connection.execute("PRAGMA query_only = ON")
            connection.execute("PRAGMA trusted_schema = OFF")
            yield connection
        finally:
            connection.close()

    def read(self, query: str, values: Sequence[object] | Mapping[str, object] = ()) -> list[sqlite3.Row]:
        """The rows of a query; bytes in them that are not UTF-8 become lone surrogates, which every reader refuses.

        Raises:
            FileProblem: Where the file cannot be read.
        """
        with reading(self.name), self.rows() as rows:
            try:
                return rows.execute(query, values).fetchall()
            except sqlite3.OperationalError as problem:
                if "decode" not in str(problem).lower():
                    raise
            rows.text_factory = _not_utf8
            return rows.execute(query, values).fetchall()

    @property
    def name(self) -> str:
        """The file's name as it may stand in a sentence."""
        return display_name(self.path)

    @property
    def writable(self) -> bool:
        """True where this program holds the file for writing."""
        return self._lock is not None

    def take_over(self) -> bool:
        """Take the writer's lock where no other program holds it any more; True where this one holds it then."""
        if self._lock is None and self.shares:
            self._lock = take_lock(self.path)
        return self.writable

    def close(self, *, clean: bool = True) -> None:
        """Let go of the file; the database first, because closing any descriptor drops its locks.

        Args:
            clean: False after a failure: a copy from before an upgrade then stays for another time.
        """
        with self._writing:
            if self._writer is not None:
                if self._seen.changed:
                    # Closing it would bring the log into a file that is another one by now: it is never closed.
                    ctypes.pythonapi.Py_IncRef(ctypes.py_object(self._writer))
                else:
                    self._writer.close()
                self._writer = None
            if not self._seen.changed:
                self._seen.close()
        if self._lock is not None:
            if clean and self.there:
                copy_before(self.path).unlink(missing_ok=True)
            os.close(self._lock)
            self._lock = None

    def __exit__(
        self, kind: type[BaseException] | None, problem: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close(clean=kind is None)


def connect_writer(address: str, *, write: bool) -> sqlite3.Connection:
    """A connection on a study file's address; every commit reaches the disk before it returns."""
    # Longer than any commit takes, shorter than a person's patience.
    connection = sqlite3.connect(address, uri=True, timeout=3.0, check_same_thread=False, isolation_level=None)
    try:
        if write:
            connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")
            connection.execute("PRAGMA journal_mode = WAL")
            connection.execute("PRAGMA synchronous = FULL")
        connection.execute("PRAGMA foreign_keys = ON")
        connection.execute("PRAGMA trusted_schema = OFF")
    except BaseException:
        # On a full disk this fails. Left open, it would keep an index of the log that is gone, and every connection
        # made later in this process would read by that one.
        connection.close()
        raise
    return connection


def copy_before(path: Path) -> Path:
    """Where a study lies as it was before it was brought up to date, until it was closed cleanly once."""
    return path.with_name(f".{path.name}.before-{HEAD}")


def _not_utf8(data: bytes) -> str:
    return data.decode("utf-8", "surrogateescape")


def take_lock(path: Path) -> int | None:
    """The descriptor that holds a file's lock; None where another program holds it, or it cannot be written."""
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


def address_of(path: Path, *, write: bool) -> str:
    """The address under which SQLite opens a study file, for writing or to read only."""
    address = f"file:{quote(str(path.absolute()))}?mode={'rw' if write else 'ro'}"
    if not write and not os.access(path.parent, os.W_OK) and not path.with_name(path.name + "-wal").exists():
        # Without a writable folder SQLite cannot make the shared memory that even a reader of a WAL file wants.
        address += "&immutable=1"
    return address
