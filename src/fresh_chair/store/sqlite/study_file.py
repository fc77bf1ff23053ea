"""A study file: made, recognised, opened by several programs, of which one at a time holds its lock."""

from __future__ import annotations

import contextlib
import fcntl
import os
import sqlite3
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from pathlib import Path
from threading import RLock
from types import TracebackType
from typing import TYPE_CHECKING, TypeVar
from urllib.parse import quote

from fresh_chair.core.codec import Unfit, built
from fresh_chair.core.errors import FileProblem, NotSaved
from fresh_chair.store.sqlite.form.recognising import display_name, recognise
from fresh_chair.store.sqlite.form.schema import (
    APPLICATION_ID,
    HEAD,
    foreign_objects,
    migrate,
    require_known,
    revision_of,
)
from fresh_chair.store.sqlite.troubles import reading, writing

if TYPE_CHECKING:
    from fresh_chair.store.sqlite.rows import Rows

T = TypeVar("T")
# No text or packed state in a study is larger; a file that holds one is refused before it fills the memory.
LARGEST_VALUE = 48_000_000


class StudyFile:
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

    def __init__(self, path: Path, lock: int | None, *, observes: bool = False, shares: bool = False) -> None:
        self.path = path.absolute()
        self.observes = observes
        self.shares = shares
        self._place = _place(path)
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
        from fresh_chair.store.sqlite.rows import Rows

        with writing(self.name), self._writing:
            study = self.study_id if study is None else study
            writer = self.writer()
            writer.execute("BEGIN IMMEDIATE")
            try:
                yield Rows(writer, study)
                writer.execute("COMMIT")
            except BaseException:
                if writer.in_transaction:
                    writer.execute("ROLLBACK")
                raise
            # What went into a file that nobody can find any more is not kept.
            self.require_there()

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
            return self._writer

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
        if self._writer is not None:
            with contextlib.suppress(Exception), self._writing:
                self._writer.execute("PRAGMA wal_checkpoint(TRUNCATE)").fetchall()

    def rescue(self, path: Path, *, connect: bool = False) -> None:
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
        """A connection to read with; the last one to close leaves nothing beside the file."""
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

    def listed(self, kind: type[T], query: str, what: str, *, flags: Sequence[str] = ()) -> list[T]:
        """Rows as values of one kind.

        Args:
            kind: Their class; a field a column.
            query: Reads them; its one parameter is the study.
            what: What to call one in an error.
            flags: Columns that are yes or no.

        Raises:
            FileProblem: Where one cannot be such a value.
        """
        found = []
        for number, row in enumerate(self.read(query, (self.study_id,)), start=1):
            raw = {**dict(row), **{name: row[name] if row[name] not in (0, 1) else bool(row[name]) for name in flags}}
            try:
                found.append(built(kind, raw, ""))
            except Unfit as problem:
                raise FileProblem(f"{self.name} holds a {what} that cannot be used ({number}): {problem}.") from problem
        return found

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
            self._lock = _take_lock(self.path)
        return self.writable

    def close(self, *, clean: bool = True) -> None:
        """Let go of the file; the database first, because closing any descriptor drops its locks.

        Args:
            clean: False after a failure: a copy from before an upgrade then stays for another time.
        """
        with self._writing:
            if self._writer is not None:
                self._writer.close()
                self._writer = None
        if self._lock is not None:
            if clean and self.there:
                copy_before(self.path).unlink(missing_ok=True)
            os.close(self._lock)
            self._lock = None

    def __enter__(self) -> StudyFile:
        return self

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
    recognise(path, name)
    lock = _take_lock(path) if write and not observe else None
    # Ledgers and the plan take changes of several programs, the one that comes second reads on; one moderates.
    shares = write and not observe and lock is None and os.access(path, os.W_OK)
    file = StudyFile(path, lock, observes=observe, shares=shares)
    try:
        _ready(file)
        if lock is not None:
            _make_private(path)
    except BaseException:
        file.close(clean=False)
        raise
    return file


def copy_before(path: Path) -> Path:
    """Where a study lies as it was before it was brought up to date, until it was closed cleanly once."""
    return path.with_name(f".{path.name}.before-{HEAD}")


def _make_private(path: Path) -> None:
    """Take away other users' rights to read our study; another user's file stays as they have it."""
    with contextlib.suppress(OSError):
        found = path.stat()
        if found.st_uid == os.getuid() and found.st_mode & 0o077:
            path.chmod(0o600)


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
    _clear_beside(path)
    draft = path.with_name(f".{path.name}.{os.getpid()}.part")
    try:
        with writing(name):
            descriptor = os.open(draft, os.O_CREAT | os.O_EXCL | os.O_RDWR, 0o600)
        with StudyFile(draft, descriptor) as file:
            with writing(name):
                migrate(file.writer())
            fill(file)
        with writing(name):
            try:
                os.link(draft, path)
            except FileExistsError:
                raise taken from None
    finally:
        for leftover in (draft, draft.with_name(draft.name + "-wal"), draft.with_name(draft.name + "-shm")):
            leftover.unlink(missing_ok=True)


def _clear_beside(path: Path) -> None:
    """Take away the empty leftovers of a study that is gone.

    Raises:
        FileProblem: Where marks may lie there, which SQLite would take for the new file's own.
    """
    wal, shm = (path.with_name(path.name + ending) for ending in ("-wal", "-shm"))
    if wal.exists() and wal.stat().st_size:
        raise FileProblem(
            f"{display_name(wal)} is left over from another study of that name.",
            "Nothing was made. It may hold that study's last marks: put it back beside it, or move it away.",
        )
    with writing(display_name(path)):
        wal.unlink(missing_ok=True)
        shm.unlink(missing_ok=True)


def _not_utf8(data: bytes) -> str:
    return data.decode("utf-8", "surrogateescape")


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


def address_of(path: Path, *, write: bool) -> str:
    """The address under which SQLite opens a study file, for writing or to read only."""
    address = f"file:{quote(str(path.absolute()))}?mode={'rw' if write else 'ro'}"
    if not write and not os.access(path.parent, os.W_OK) and not path.with_name(path.name + "-wal").exists():
        # Without a writable folder SQLite cannot make the shared memory that even a reader of a WAL file wants.
        address += "&immutable=1"
    return address


def _ready(file: StudyFile) -> None:
    with reading(file.name), file.rows() as rows:
        revision = revision_of(rows)
        old = require_known(revision, file.name)
        foreign = foreign_objects(rows, revision)
    if foreign:
        raise FileProblem(
            f"{file.name} is not made as Fresh Chair makes a study: {'; '.join(foreign[:3])}.",
            "It was left as it is. What is sound in it can be copied out: fresh-chair check FILE --sound-copy TO",
        )
    if not old:
        return
    if not file.writable:
        raise FileProblem(
            f"{file.name} was written by an older Fresh Chair.", "Open it once for writing to bring it up to date."
        )
    _keep_copy(file)
    with writing(file.name):
        migrate(file.writer())


def _keep_copy(file: StudyFile) -> None:
    """Copy a study before it is brought up to date; one from an attempt that failed is the better one, and stays.

    Raises:
        NotSaved: Where the disk refuses; the study is then not touched.
    """
    copy = copy_before(file.path)
    if copy.exists():
        return
    draft = copy.with_name(f"{copy.name}.{os.getpid()}.part")
    try:
        with writing(file.name):
            os.close(os.open(draft, os.O_CREAT | os.O_EXCL | os.O_RDWR, 0o600))
            file.rescue(draft, connect=True)
            draft.replace(copy)
    finally:
        draft.unlink(missing_ok=True)


def integrity(rows: sqlite3.Connection) -> list[str]:
    """SQLite's own findings of damage; empty where there is none."""
    broken = [str(row[0]) for row in rows.execute("PRAGMA integrity_check(20)") if row[0] != "ok"]
    strays = rows.execute("PRAGMA foreign_key_check").fetchall()
    return broken + [f"{row[0]} row {row[1]} points at a {row[2]} that is not there" for row in strays]
