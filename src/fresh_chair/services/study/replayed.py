"""A ledger with its replayed state: permitted, committed, then shown; an overtaken writer reads on and tries again."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from threading import Lock
from typing import TYPE_CHECKING, Generic, TypeVar

from fresh_chair.core.errors import JournalError, Overtaken, Refused
from fresh_chair.core.ledger import LedgerEntry

if TYPE_CHECKING:
    from fresh_chair.store.ports import LedgerStore

E = TypeVar("E", bound=LedgerEntry)
S = TypeVar("S")


class ReplayedLedger(Generic[E, S]):
    """One ledger of an open study. Entries and state are replaced, never changed, so that any thread may read them.

    Args:
        stored: Where its entries are kept.
        replay: Makes the state of all entries; with `aside`, those that were left out before may be, and no others.
        left_out: The ids of the entries that a state leaves out.
    """

    def __init__(
        self,
        stored: LedgerStore[E],
        replay: Callable[[Sequence[E], frozenset[str] | None], S],
        left_out: Callable[[S], frozenset[str]],
    ) -> None:
        self._stored, self._replay, self._left_out = stored, replay, left_out
        # One thread commits at a time; whoever only looks does not wait for the disk.
        self._writing = Lock()
        self._held: tuple[tuple[E, ...], S] | None = None

    @property
    def entries(self) -> tuple[E, ...]:
        """All entries, as far as they were read."""
        return self._read()[0]

    @property
    def state(self) -> S:
        """The state of all entries."""
        return self._read()[1]

    @property
    def is_read(self) -> bool:
        """False until it was read for the first time."""
        return self._held is not None

    def forget(self) -> None:
        """Read everything again when it is next needed."""
        self._held = None

    def read_on(self) -> bool:
        """Take in the entries of other writers; True where there were any. Raises FileProblem."""
        held = self._read()
        entries = held[0]
        fresh = self._stored.since(len(entries))
        if fresh:
            read_on = (*entries, *fresh)
            state = self._replay(read_on, None)
            # Whoever has committed or read on meanwhile holds these already, and more.
            if self._held is held:
                self._held = (read_on, state)
        return bool(fresh)

    def append(
        self, make: Callable[[int], Sequence[E]], commit: Callable[[Sequence[E]], None] | None = None
    ) -> Sequence[E]:
        """Commit entries, all or none, and let them count.

        Args:
            make: The entries, when the first of them gets this number.
            commit: Keeps them; by default nothing but them.

        Raises:
            Refused: Where they cannot follow; nothing is kept then.
            NotSaved: Where the disk refuses; nothing is kept then.
        """
        with self._writing:
            while True:
                entries, state = self._read()
                fresh = make(len(entries) + 1)
                advanced = self._advanced((*entries, *fresh), self._left_out(state))
                try:
                    (commit or self._stored.append)(fresh)
                except Overtaken:
                    self.read_on()
                    continue
                self._held = ((*entries, *fresh), advanced)
                return fresh

    def _advanced(self, entries: tuple[E, ...], aside: frozenset[str]) -> S:
        try:
            return self._replay(entries, aside)
        except JournalError as problem:
            reason = problem.__cause__
            raise (reason if isinstance(reason, Refused) else Refused(problem.title, "Nothing was changed.")) from None

    def _read(self) -> tuple[tuple[E, ...], S]:
        held = self._held
        if held is None:
            entries = tuple(self._stored.since(0))
            held = (entries, self._replay(entries, None))
            if self._held is None:
                self._held = held
        return held
