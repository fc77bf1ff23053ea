"""Documents of several files: all of them are written, or none; beside the screen, and it can be stopped."""

import os
import platform
import re
import shutil
import signal
import time
import uuid
import zlib
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from pathlib import Path
from threading import Event, Thread

from fresh_chair.core.errors import FreshChairError, OutsideError
from fresh_chair.core.text import legible
from fresh_chair.services.system.files import Written, make_folder

Produce = Callable[[Path], Iterable[Written]]


# No document takes so long from one file of it to the next.
_ABANDONED_SECONDS = 3600
_DRAFT = re.compile(r"\..+?(?:\.([0-9a-f]{8}))?\.(\d{1,9})\.part")


def staged(folder: Path, produce: Produce) -> Iterator[Written]:
    """Write files into a folder: each is said as it is made, and all take their places last.

    Args:
        folder: Where they are to be.
        produce: Writes them into the folder it is given.

    Raises:
        OutsideError: Where the folder or the disk refuses; what was there before is as it was.
    """
    beside = folder.parent / f".{folder.name}.{_machine()}.{os.getpid()}.part"
    made = []
    try:
        # Whether it can be written is said before anything is made for it.
        with _said_of(folder):
            if folder.exists() and not folder.is_dir():
                raise NotADirectoryError(20, "there is a file of that name")
            _clear_abandoned(folder)
            make_folder(beside)
        try:
            for written in produce(beside):
                made.append(written.path)
                yield Written(folder / written.path.relative_to(beside), written.what)
        except OutsideError as problem:
            raise type(problem)(problem.title.replace(str(beside), str(folder)), problem.hint) from problem
        with _said_of(folder), _undisturbed():
            make_folder(folder)
            for path in made:
                place = folder / path.relative_to(beside)
                make_folder(place.parent)
                path.replace(place)
    finally:
        with suppress(OSError):
            shutil.rmtree(beside)


@contextmanager
def _undisturbed() -> Iterator[None]:
    """Block signals that end the program while finished files take their places: all of them do."""
    before = signal.pthread_sigmask(signal.SIG_BLOCK, {signal.SIGTERM, signal.SIGINT, signal.SIGHUP})
    try:
        yield
    finally:
        signal.pthread_sigmask(signal.SIG_SETMASK, before)


def _machine() -> str:
    """This machine in a file's name: on a folder that machines share, another one's processes cannot be seen here."""
    return f"{zlib.crc32(f'{platform.node()} {uuid.getnode()}'.encode()):08x}"


def _clear_abandoned(folder: Path) -> None:
    """Take away the drafts that killed programs of this machine left beside a folder, of any document."""
    for draft in folder.parent.glob(".*.part"):
        match = _DRAFT.fullmatch(draft.name)
        if match is None or not draft.is_dir() or draft.is_symlink():
            continue
        machine, number = match.groups()
        old = time.time() - draft.stat().st_mtime > _ABANDONED_SECONDS
        # Earlier versions did not say whose they were.
        if (machine == _machine() or (machine is None and old)) and not _runs(int(number)):
            shutil.rmtree(draft, ignore_errors=True)


def _runs(process: int) -> bool:
    try:
        os.kill(process, 0)
    except (ProcessLookupError, OverflowError):
        return False
    except PermissionError:
        pass  # Somebody else's.
    return True


@contextmanager
def _said_of(folder: Path) -> Iterator[None]:
    try:
        yield
    except OSError as problem:
        said = problem.strerror or "the system refused"
        raise OutsideError(f"{legible(str(folder))} cannot be written: {said}.", "Choose another folder.") from problem


@dataclass(slots=True)
class WritingJob:
    """Files being written beside the screen.

    Attributes:
        written: Those that are made so far.
        problem: Why it ended before its end; None where it did not.
        bug: What was not foreseen; whoever looks at the job raises it.
        done: True once all files are in their places.
    """

    folder: Path
    produce: Produce
    written: list[Written] = field(default_factory=list)
    problem: FreshChairError | None = None
    bug: Exception | None = None
    done: bool = False
    _stop: Event = field(default_factory=Event)
    _thread: Thread | None = None

    def start(self) -> None:
        """Begin."""
        self._thread = Thread(target=self._run, name="writing", daemon=True)
        self._thread.start()

    @property
    def running(self) -> bool:
        """True until all is written or given up."""
        return self._thread is not None and self._thread.is_alive()

    @property
    def stopped(self) -> bool:
        """True where the user stopped it."""
        return self._stop.is_set()

    def stop(self) -> None:
        """Give up after the file that is being made; nothing of the document is left."""
        self._stop.set()

    def wait(self, seconds: float) -> bool:
        """Wait for the end; False where it has not come by then."""
        if self._thread is not None:
            self._thread.join(seconds)
        return not self.running

    def _run(self) -> None:
        files = staged(self.folder, self.produce)
        try:
            for written in files:
                self.written.append(written)
                if self.stopped:
                    files.close()  # type: ignore[attr-defined]
                    return
            self.done = True
        except FreshChairError as problem:
            self.problem = problem
        except Exception as problem:  # noqa: BLE001 - handed to the screen, which raises it where bugs are reported
            self.bug = problem
