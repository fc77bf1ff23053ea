"""Marks on their way to a server: on this machine's disk before they are shown, sent beside the keys, never doubled."""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping
from threading import Event, Lock, Thread
from typing import TYPE_CHECKING

from fresh_chair.core.errors import FreshChairError, NotSaved, OutsideError, Overtaken
from fresh_chair.core.text import count_of
from fresh_chair.services.study.mark_spool import WaitingMarks
from fresh_chair.store.spool import Spool

if TYPE_CHECKING:
    from pathlib import Path

    from fresh_chair.core.sitting.journal import Entry
    from fresh_chair.store.ports import StudyHome
    from fresh_chair.store.stations import StationLink

# Marks that are on their way for no longer than this are not spoken of.
_QUIET_SECONDS = 3.0
_REST_SECONDS = 2.0
# How often it is asked whether a second server holds all that was sent.
_CONFIRM_SECONDS = 10.0


class MarkOutbox(WaitingMarks):
    """Keeps the marks of one open study on a server, and sends them there in their order from a thread of its own.

    A mark that the server has acknowledged stays on this disk until a second server holds it too, or for a day: a
    server that is lost with its disk, or replaced by one that was behind, is offered it again.

    Args:
        home: Where the study is kept.
        link: The way there, over a connection that nothing else waits for.
        study: The study's id.

    Attributes:
        clashes: Sittings that another station had begun meanwhile, and the number under which this one's is kept.
    """

    def __init__(self, home: StudyHome, link: StationLink, study: str) -> None:
        super().__init__(())
        self._link = link
        self._apart = Spool(study, home.address)
        # Sitting and entry of everything in the file on this disk, in its order.
        self._on_disk: list[tuple[int, Entry]] = []
        self._lie_in: Path | None = None
        self._sent: dict[str, int] = {}
        self._anew: set[int] = set()
        self._line = ""
        self._why: FreshChairError | None = None
        self._oldest = time.monotonic()
        # A mark that is put on the disk and the disk's being cleared exclude each other.
        self._disk = Lock()
        self._after: list[Callable[[], None]] = []
        self._wake = Event()
        self._leave = False
        self._thread: Thread | None = None
        self.clashes: Mapping[int, int] = {}

    @property
    def quiet(self) -> bool:
        """True while nothing is wrong: marks are on their way as they always are."""
        return self._why is None

    @property
    def words(self) -> str:
        """The notice while marks are not on the server; empty where they only just left."""
        if not self._waiting or (self._why is None and time.monotonic() - self._oldest < _QUIET_SECONDS):
            return ""
        count = f"{count_of(self.waiting, 'mark')} {'is' if self.waiting == 1 else 'are'}"
        if self._why is None:
            return f"{count} on the way to the server."
        return f"{self._why.title} {count} safe here and will follow."

    def keep(self, sitting: int, entries: list[Entry], *, after: str) -> None:
        """Put entries on this machine's disk, all or none; returns when they are durable. They are sent later.

        Args:
            sitting: Whose journal they belong to.
            entries: What follows.
            after: The id of the entry before the first of them; empty where there is none.

        Raises:
            NotSaved: Where no disk of this machine takes them.
        """
        fresh = [(sitting, entry) for entry in entries]
        try:
            with self._disk:
                self._apart.keep(sitting, after, entries)
                self._lie_in = self._apart.file
                self._on_disk = [*self._on_disk, *fresh]
        except OSError as problem:
            raise NotSaved(
                f"No disk of this machine takes the mark: {problem.strerror or 'the system refused'}.",
                "This was not saved; all that was shown before is.",
            ) from problem
        if not self._waiting:
            self._oldest = time.monotonic()
        self._waiting = [*self._waiting, *fresh]
        self._send_soon()

    def bring_back(self) -> bool:
        """Take marks out that the server has acknowledged under the numbers they have here; always False.

        Those that got others there, because another station's came first, are read back with them.
        """
        for sitting, entries in self.by_sitting.items():
            there = []
            for entry in entries:
                if self._sent.get(entry.id) != entry.number:
                    break
                there.append(entry)
            if there:
                self.arrived(sitting, there)
        return False

    def behind(self, sitting: int) -> bool:
        """True where the server's order of a sitting is another than the one here, so that it is to be read."""
        if sitting in self.clashes:
            return False
        return sitting in self._anew or any(entry.id in self._sent for entry in self.waiting_of(sitting))

    def reads_anew(self, sitting: int) -> bool:
        """True where nothing that was read of a sitting may still be so on the server."""
        return sitting in self._anew

    def was_read(self, sitting: int) -> None:
        """A sitting was read from its beginning."""
        self._anew.discard(sitting)

    def close(self) -> None:
        """Let the last marks leave, for a moment; those that could not are found by the next program here."""
        thread, self._thread = self._thread, None
        if thread is not None:
            self._leave = True
            self._wake.set()
            thread.join(_QUIET_SECONDS)
        self.bring_back()
        if not self._unsent() and self._confirmed():
            self._forget()
        self._apart.close()

    def then(self, act: Callable[[], None]) -> None:
        """Do something on the server once all marks are there; where that fails it is left."""
        self._after.append(act)
        self._send_soon()

    def left_words(self) -> str:
        """The sentence said at leaving while marks are not on the server; empty where all are."""
        count = len(self._unsent())
        if not count:
            return ""
        where = f" They lie in {self._lie_in}." if self._lie_in is not None else ""
        return (
            f"{count_of(count, 'mark')} did not reach the server yet.{where} "
            "They follow when the study is opened here again, or with: fresh-chair sitting bring STUDY FILE"
        )

    # In the thread

    def _send_soon(self) -> None:
        if self._thread is None:
            self._leave = False
            self._thread = Thread(target=self._run, name="marks to the server", daemon=True)
            self._thread.start()
        self._wake.set()

    def _run(self) -> None:
        asked = time.monotonic()
        while True:
            self._wake.wait(_REST_SECONDS)
            self._wake.clear()
            try:
                self._send()
                self._why = None
                while self._after and not self._unsent():
                    self._after.pop(0)()
                if time.monotonic() - asked > _CONFIRM_SECONDS:
                    asked = time.monotonic()
                    if not self._unsent() and self._confirmed():
                        self._forget()
            except FreshChairError as problem:
                self._why = problem
            except Exception as problem:  # noqa: BLE001 - a thread that died would leave the marks here without a word
                self._why = OutsideError(f"Marks cannot be sent: {type(problem).__name__}.")
            if self._leave and (self._why is not None or not self._unsent()):
                return

    def _send(self) -> None:
        """Offer the marks that are not acknowledged; all that are on this disk where another server answers."""
        line = self._link.line()
        if self._line and line != self._line:
            self._anew |= {sitting for sitting, _ in self._on_disk}
            self._sent = {}
        self._line = line
        fresh: dict[int, list[Entry]] = {}
        for sitting, entry in self._on_disk:
            if entry.id not in self._sent:
                fresh.setdefault(sitting, []).append(entry)
        for sitting, entries in fresh.items():
            try:
                numbered = self._link.outgoing.add(self.clashes.get(sitting, sitting), entries)
            except Overtaken:
                # Another station has begun it meanwhile: both are kept, this one beside.
                beside = self._link.seat_beside(sitting, entries[0].id)
                self.clashes = {**self.clashes, sitting: beside}
                self._anew.add(sitting)
                numbered = self._link.outgoing.add(beside, entries)
            self._sent |= {entry.id: entry.number for entry in numbered}

    def _unsent(self) -> list[tuple[int, Entry]]:
        return [pair for pair in self._on_disk if pair[1].id not in self._sent]

    def _confirmed(self) -> bool:
        try:
            return bool(self._on_disk) and self._link.confirmed() is True
        except FreshChairError:
            return False

    def _forget(self) -> None:
        """Take the file on this disk away: a second server holds all of it."""
        with self._disk:
            if self._unsent():
                return
            self._apart.clear()
            self._on_disk = []
