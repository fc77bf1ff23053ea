"""A study file opened, brought up to date, or made: whole or not at all."""

import contextlib
import os
import sqlite3
from collections.abc import Callable
from pathlib import Path

from fresh_chair.core.errors import FileProblem
from fresh_chair.core.text import with_article
from fresh_chair.store.sqlite.form.recognising import display_name, recognise
from fresh_chair.store.sqlite.form.schema import foreign_objects, migrate, require_known, revision_of
from fresh_chair.store.sqlite.study_file import StudyFile, copy_before, take_lock
from fresh_chair.store.sqlite.troubles import reading, writing


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
    lock = take_lock(path) if write and not observe else None
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


def _make_private(path: Path) -> None:
    """Take away other users' rights to read our study; another user's file stays as they have it."""
    with contextlib.suppress(OSError):
        found = path.stat()
        if found.st_uid == os.getuid() and found.st_mode & 0o077:
            path.chmod(0o600)


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
            file.copy_to(draft, connect=True)
            draft.replace(copy)
    finally:
        draft.unlink(missing_ok=True)


def integrity(rows: sqlite3.Connection) -> list[str]:
    """SQLite's own findings of damage; empty where there is none."""
    broken = [str(row[0]) for row in rows.execute("PRAGMA integrity_check(20)") if row[0] != "ok"]
    strays = rows.execute("PRAGMA foreign_key_check").fetchall()
    return broken + [f"{row[0]} row {row[1]} points at {with_article(row[2])} that is not there" for row in strays]
