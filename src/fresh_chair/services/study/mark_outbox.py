"""Marks on their way to a server: on this machine's disk before they are shown, sent beside the keys, never doubled."""

from __future__ import annotations

import time
from collections.abc import Callable, Collection, Mapping, Sequence
from contextlib import suppress
from threading import Event, Thread
from typing import TYPE_CHECKING

from fresh_chair.core.errors import (
    FileProblem,
    FreshChairError,
    NotBegun,
    NotSaved,
    OutsideError,
    Overtaken,
    Superseded,
)
from fresh_chair.core.text import count_of
from fresh_chair.services.study.kept_beside import NO_NAMES, all_renamed, copy_beside
from fresh_chair.services.study.mark_spool import TakenBack, WaitingMarks
from fresh_chair.services.study.marks_on_disk import MarksOnDisk
from fresh_chair.store.stations import NOWHERE

if TYPE_CHECKING:
    from fresh_chair.core.sitting.journal import Entry
    from fresh_chair.store.ports import StudyHome
    from fresh_chair.store.stations import StationLink

# Marks that are on their way for no longer than this are not spoken of.
_QUIET_SECONDS = 3.0
_REST_SECONDS = 2.0
# How often it is asked whether a second server holds all that was sent.
_CONFIRM_SECONDS = 10.0
# After a server was replaced: how often marks are offered that wait for others, and how long they wait for them.
_TURN_SECONDS = 0.1
_PATIENCE_SECONDS = 10.0


def again_words(link: StationLink) -> str:
    """When the server is tried again, in steps that need not be counted with; empty while it can be reached."""
    seconds = link.again_seconds
    return f" It is tried again within {-(-seconds // 10) * 10:.0f} s." if seconds > _QUIET_SECONDS else ""


def _do(acts: list[Callable[[], None]]) -> None:
    """Do things on the server, in order; one that is not answered is done again. Raises FileProblem, NotSaved."""
    while acts:
        try:
            acts[0]()
        except (FileProblem, NotSaved):
            raise
        except FreshChairError:
            # The server answered, and will not answer otherwise.
            acts.pop(0)
        else:
            acts.pop(0)


class MarkOutbox(WaitingMarks):
    """Keeps the marks of one open study on a server, and sends them there in their order from a thread of its own.

    A mark that the server has acknowledged stays on this disk until a second server holds it too, or for a day: a
    server that is lost with its disk, or replaced by one that was behind, is offered it again, in the order it had.

    Args:
        home: Where the study is kept.
        link: The way there, over a connection that nothing else waits for.
        study: The study's id.
        taken: Marks of ended programs that are to be kept as these are, and which of them are on the server.

    Attributes:
        clashes: Sittings that another station has begun or taken meanwhile, and the number under which this one's is
            kept.
    """

    def __init__(self, home: StudyHome, link: StationLink, study: str, taken: TakenBack) -> None:
        super().__init__(())
        self._link = link
        self._disk = MarksOnDisk(study, home.address, taken)
        self._sent: dict[str, int] = dict(taken.numbers)
        # The numbers that marks had on a server that was replaced.
        self._stood: dict[str, int] = {}
        self._moved = time.monotonic()
        # Since when marks wait for the beginning of their sitting, which another station has to send.
        self._early_since: float | None = None
        self._line = taken.line
        self._why: FreshChairError | None = None
        self._oldest = time.monotonic()
        self._before: list[Callable[[], None]] = []
        self._after: list[Callable[[], None]] = []
        self._observes = home.observes
        self._wake = Event()
        # When the thread is to end, whatever is still to be sent.
        self._leave_by: float | None = None
        self._thread: Thread | None = None
        self.clashes: Mapping[int, int] = {}

    @property
    def waiting(self) -> int:
        """How many marks are not known to be on the server in the order that is shown."""
        return len({entry.id for _, entry in [*self._waiting, *self._unsent()]})

    @property
    def quiet(self) -> bool:
        """True while nothing is wrong: marks are on their way as they always are."""
        return self._why is None

    @property
    def words(self) -> str:
        """The notice while marks are not on the server; empty where they only just left."""
        if not self.waiting or (self._why is None and time.monotonic() - self._oldest < _QUIET_SECONDS):
            return ""
        count = f"{count_of(self.waiting, 'mark')} {'is' if self.waiting == 1 else 'are'}"
        if self._why is None:
            return f"{count} on the way to the server."
        return f"{self._why.title} {count} safe here and will follow.{again_words(self._link)}"

    def keep(self, sitting: int, entries: list[Entry], *, after: str, shown: Sequence[Entry] = ()) -> None:
        """Put entries on this machine's disk, all or none; returns when they are durable. They are sent later.

        Args:
            sitting: Whose journal they belong to.
            entries: What follows.
            after: The id of the entry before the first of them; empty where there is none.
            shown: What was shown of the sitting before; the server has it.

        Raises:
            NotSaved: Where no disk of this machine takes them.
        """
        try:
            self._disk.keep(sitting, entries, after=after)
        except OSError as problem:
            raise NotSaved(
                f"No disk of this machine takes the mark: {problem.strerror or 'the system refused'}.",
                "This was not saved; all that was shown before is.",
            ) from problem
        if not self._waiting:
            self._oldest = time.monotonic()
        self._waiting = [*self._waiting, *((sitting, entry) for entry in entries)]
        self._send_soon()

    def bring_back(self) -> bool:
        """Take marks out that the server has acknowledged under the numbers they have here; always False.

        Those that got others there, because another station's came first, are read back with them.
        """
        if self._disk.marks and self._thread is None and self._leave_by is None:
            self._send_soon()
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
        return self.reads_anew(sitting) or any(entry.id in self._sent for entry in self.waiting_of(sitting))

    def let_go_of(self, sitting: int) -> bool:
        """True once a sitting that is kept beside another one has no marks here any more: the other one is shown."""
        self.arrived(sitting, [entry for entry in self.waiting_of(sitting) if entry.id in self._sent])
        return not self.waiting_of(sitting)

    def close(self) -> None:
        """Let the last marks leave, for a moment; those that could not are found by the next program here."""
        thread, self._thread = self._thread, None
        self._leave_by, self._stood = time.monotonic() + _QUIET_SECONDS, {}
        if thread is not None:
            self._wake.set()
            thread.join(_QUIET_SECONDS)
        self.bring_back()
        self._forget_confirmed()
        self._disk.close()

    def forget_sittings(self, sittings: Collection[int]) -> None:
        """As `MarksOnDisk.forget_sittings`: a person is erased."""
        self._disk.forget_sittings(sittings)

    def then(self, act: Callable[[], None], *, at_first: bool = False) -> None:
        """Do something on the server as soon as it answers: once all marks are there, or before any goes."""
        (self._before if at_first else self._after).append(act)
        self._send_soon()

    def left_words(self) -> str:
        """The sentence said at leaving while marks are not on the server; empty where all are."""
        count = len(self._unsent())
        if not count:
            return ""
        where = f" They lie in {self._disk.file}." if self._disk.file is not None else ""
        return (
            f"{count_of(count, 'mark')} did not reach the server yet.{where} "
            "They follow when the study is opened here again, or with: fresh-chair sitting bring STUDY FILE"
        )

    # In the thread

    def _send_soon(self) -> None:
        if self._thread is None:
            self._leave_by = None
            self._thread = Thread(target=self._run, name="marks to the server", daemon=True)
            self._thread.start()
        self._wake.set()

    def _run(self) -> None:
        asked = time.monotonic()
        while True:
            self._wake.wait(_TURN_SECONDS if self._stood and self._why is None else _REST_SECONDS)
            self._wake.clear()
            try:
                _do(self._before)
                self._send()
                self._why = None
                if not self._unsent():
                    _do(self._after)
                if time.monotonic() - asked > _CONFIRM_SECONDS:
                    asked = time.monotonic()
                    self._forget_confirmed()
            except FreshChairError as problem:
                self._why = problem
            except Exception as problem:  # noqa: BLE001 - a thread that died would leave the marks here without a word
                self._why = OutsideError(f"Marks cannot be sent: {type(problem).__name__}.")
            if self._leave_by is not None and (
                self._why is not None or not self._unsent() or time.monotonic() > self._leave_by
            ):
                return

    def _send(self) -> None:
        """Offer the marks that are not acknowledged; all that are on this disk where another server answers."""
        line = self._link.line()
        if self._line and line != self._line:
            self._begin_again()
        self._line = line
        unsent = self._unsent()
        fresh: dict[int, list[Entry]] = {}
        for sitting, entry in unsent:
            fresh.setdefault(sitting, []).append(entry)
        patient = time.monotonic() - self._moved < _PATIENCE_SECONDS
        moved, early, failed = False, dict[int, NotBegun](), None
        for sitting, entries in fresh.items():
            try:
                moved = self._offer(sitting, entries, in_turn=patient) or moved
            except NotBegun as problem:
                # Another station has to send the beginning; from then on it is these ones' turn by and by.
                early[sitting] = problem
            except NotSaved as problem:
                # Such as a sitting that is planned no more; the others have nothing to do with it.
                failed = problem
        left = {sitting for sitting, entry in unsent if entry.id not in self._sent}
        if moved or early.keys() >= left:
            self._moved = time.monotonic()
        self._settle(left)
        self._early_since = (self._early_since or time.monotonic()) if early else None
        if failed is not None:
            raise failed
        if self._early_since is not None and time.monotonic() - self._early_since > _QUIET_SECONDS:
            raise NotSaved(early[min(early)].title)

    def _settle(self, left: Collection[int]) -> None:
        """Let sittings be read anew whose marks are all on a server that took another's place, but for some sittings.

        Marks of a station that is gone may be missing there, and those that are there may be in another order.
        """
        if self._stood:
            stood = {entry.id: sitting for sitting, _, entry in self._disk.marks if entry.id in self._stood}
            for sitting in set(stood.values()).difference(left):
                self.read_anew(sitting)
            self._stood = {each: self._stood[each] for each, sitting in stood.items() if sitting in left}

    def _begin_again(self) -> None:
        """Let all marks on this disk be offered once more: another server answers, which may have been behind."""
        self._stood, self._sent, self._moved = {**self._stood, **self._sent}, {}, time.monotonic()
        first = {sitting: entry for sitting, _, entry in reversed(self._disk.marks)}
        # Which of two beginnings stands beside the other is told anew.
        self.clashes = {s: beside for s, beside in self.clashes.items() if s not in first or first[s].number > 1}

    def _offer(self, sitting: int, entries: list[Entry], *, in_turn: bool) -> bool:
        """Offer marks of a sitting, each after those that stood before it; True where any are there now."""

        def add() -> list[Entry]:
            goes_to = self.clashes.get(sitting, sitting)
            told = all_renamed(entries, self._copied.get(sitting, NO_NAMES))
            turn = None if self._observes else self._link.turn_at(goes_to)
            return self._link.outgoing.add(goes_to, told, stood=self._stood if in_turn else NOWHERE, turn=turn)

        try:
            numbered = add()
        except (Overtaken, Superseded):
            # Another station has begun or taken it meanwhile: both are kept, this one beside.
            after = next(before for _, before, entry in self._disk.marks if entry.id == entries[0].id)
            goes_from = self.clashes.get(sitting, sitting)
            beside = self._link.seat_beside(goes_from, entries[0].id, held=True)
            names = copy_beside(self._link, goes_from, beside, first=entries[0], after=after)
            self._copied[sitting] = {**self._copied.get(sitting, NO_NAMES), **names}
            self.clashes = {**self.clashes, sitting: beside}
            self.read_anew(sitting)
            numbered = add()
        self._sent |= {entry.id: entry.number for entry in numbered}
        return bool(numbered)

    def _unsent(self) -> list[tuple[int, Entry]]:
        return [(sitting, entry) for sitting, _, entry in self._disk.marks if entry.id not in self._sent]

    def _forget_confirmed(self) -> None:
        """Take the files on this disk away where a second server holds all of it."""
        with suppress(FreshChairError):
            if self._disk.marks and not self._unsent() and self._link.confirmed() is True:
                self._disk.clear(unless=lambda: bool(self._unsent()))
