"""Marks on this machine's disk that a server may have to be offered again: one's own, and those of ended programs."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from pathlib import Path
from threading import Lock
from typing import TYPE_CHECKING

from fresh_chair.store.spool import Spool

if TYPE_CHECKING:
    from fresh_chair.core.sitting.journal import Entry
    from fresh_chair.services.study.mark_spool import TakenBack
    from fresh_chair.store.home import HomeAddress


class MarksOnDisk:
    """Keeps marks of one study on a server in a file of its own, and others' files beside it.

    Args:
        study: The study's id.
        home: Where it is kept.
        taken: The marks of ended programs, with the files that they lie in.

    Attributes:
        marks: Everything that lies there, in its order: sitting, id of the entry before it, entry. The list is
            replaced, never changed: another thread may read it.
        file: Where they lie.
    """

    def __init__(self, study: str, home: HomeAddress, taken: TakenBack) -> None:
        self._place = study, home
        self._own = Spool(*self._place)
        self._adopted = list(taken.adopted)
        self.marks: Sequence[tuple[int, str, Entry]] = tuple(taken.kept)
        self.file: Path | None = self._adopted[0].file if self._adopted else None
        # A mark that is put on the disk and the disk's being cleared exclude each other.
        self._lock = Lock()

    def keep(self, sitting: int, entries: Sequence[Entry], *, after: str) -> None:
        """Put entries on the disk, all or none; returns when they are durable. Raises OSError where none takes them."""
        before = [after, *(entry.id for entry in entries)]
        with self._lock:
            self._own.keep(sitting, after, entries)
            self.file = self._own.file
            self.marks = [*self.marks, *((sitting, *each) for each in zip(before, entries, strict=False))]

    def forget_sittings(self, sittings: Collection[int]) -> None:
        """Take the marks of some sittings away; the others lie there as before.

        Raises:
            OSError: Where the disk refuses; all of them lie there then as before.
        """
        with self._lock:
            rest = [mark for mark in self.marks if mark[0] not in sittings]
            if len(rest) == len(self.marks):
                return
            fresh = Spool(*self._place)
            try:
                for sitting, after, entry in rest:
                    fresh.keep(sitting, after, [entry])
            except OSError:
                fresh.clear()
                raise
            self._clear()
            self._own, self.marks, self.file = fresh, rest, fresh.file

    def clear(self, *, unless: Callable[[], bool]) -> None:
        """Take the files away, unless a last look says otherwise."""
        with self._lock:
            if not unless():
                self._clear()
                self.marks, self.file = (), None

    def close(self) -> None:
        """Let go of the files; they stay where they are, for others to find."""
        with self._lock:
            self._own.close()
            for leftover in self._adopted:
                leftover.let_go()
            self._adopted = []

    def _clear(self) -> None:
        self._own.clear()
        for leftover in self._adopted:
            leftover.clear()
        self._adopted = []
