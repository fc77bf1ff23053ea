"""Entries that other programs have logged in an open study's journals, read and followed."""

from __future__ import annotations

import time
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from fresh_chair.core.sitting.journal import Entry
    from fresh_chair.services.study.mark_outbox import MarkOutbox
    from fresh_chair.services.study.mark_spool import MarkSpool
    from fresh_chair.services.study.replayed_journals import ReplayedJournals
    from fresh_chair.store.ports import JournalStore

# After a server was replaced by one that was behind, its stations offer again for a while what they had sent.
_SHORT_SECONDS = 20.0


class OthersEntries:
    """Keeps the journals of one open study level with other programs' entries.

    Args:
        replayed: The journals as they are known here.
        stored: The journals in the study.
    """

    def __init__(self, replayed: ReplayedJournals, stored: JournalStore) -> None:
        self._replayed = replayed
        self._stored = stored
        # Numbers under which a sitting in hand is shown that another station had begun too: it is kept beside.
        self._beside: set[int] = set()
        # Since when a sitting has fewer entries in the study than were read there.
        self._short_since: dict[int, float] = {}

    @property
    def _spool(self) -> MarkSpool | MarkOutbox:
        return self._replayed.spool

    def gone_on(self) -> list[int]:
        """Sittings in which another program has logged since they were read here. Raises FileProblem."""
        return list(self._lengths_elsewhere())

    def _lengths_elsewhere(self) -> dict[int, int]:
        """How many entries those sittings have in the study that have another number of them here."""
        # A thread asks too: the list is made at once, while keys may add another sitting.
        held = list(self._replayed.entries.items())
        known = {number: self.known(number) for number, _ in held}
        return {number: length for number, length in self._stored.lengths().items() if length != known.get(number, 0)}

    def known(self, number: int) -> int:
        """How many of a sitting's entries are known to be in the study under its number, from its beginning on."""
        return 0 if number in self._beside else self.known_in_hand(number)

    def known_in_hand(self, number: int) -> int:
        """The same of a sitting in hand, wherever its entries go."""
        if self._spool.reads_anew(number):
            return 0
        return len(self._replayed.entries.get(number, ())) - len(self._spool.waiting_of(number))

    def unread_in_hand(self, number: int) -> list[Entry]:
        """A sitting's entries after the known ones, wherever it is kept. Raises FileProblem."""
        return self._stored.since(self._spool.clashes.get(number, number), self.known_in_hand(number))

    def merge_in_hand(self, number: int, fresh: Sequence[Entry], *, known: int) -> bool:
        """As `merge`, of the sitting in hand."""
        changed = self.merge(number, fresh, known=known)
        if number in self._spool.clashes:
            self._beside.add(number)
        return changed

    def merge(self, number: int, fresh: Sequence[Entry], *, known: int) -> bool:
        """Let entries follow on those that are known to be in the study, and one's waiting ones on them.

        Args:
            number: The sitting.
            fresh: What is in the study after the known ones, one's own that have arrived there among them.
            known: How many those are.

        Returns:
            True where the sitting is another one now.
        """
        before = self._replayed.entries.get(number, ())
        read = [*before[:known], *fresh]
        if len({entry.id for entry in read}) < len(read):
            # A server that was behind took its place, and others' marks came there in another order.
            self._spool.read_anew(number)
            return False
        self._spool.arrived(number, fresh)
        if not known:
            # Of what is to be read anew since, nothing was read from the beginning yet.
            self._spool.was_read(number)
        waiting = self._spool.waiting_of(number)
        anew = [replace(entry, number=len(read) + step) for step, entry in enumerate(waiting, start=1)]
        self._spool.renumber(number, anew)
        after = [*read, *anew]
        if [entry.id for entry in after] == [entry.id for entry in before]:
            self._replayed.renumber(number, after)
            return False
        self._replayed.take(number, after)
        return True

    def unread(self) -> dict[int, tuple[int, list[Entry]]]:
        """Other programs' entries, but for a sitting in hand: how many were known, and those. Raises FileProblem."""
        found = {}
        for number, length in self._lengths_elsewhere().items():
            if self._replayed.is_written(number):
                continue
            if length >= self.known(number):
                self._short_since.pop(number, None)
            elif time.monotonic() - self._short_since.setdefault(number, time.monotonic()) > _SHORT_SECONDS:
                self._spool.read_anew(number)
            known = self.known(number)
            found[number] = known, self._stored.since(number, known)
        return found

    def take_in(self, unread: Mapping[int, tuple[int, Sequence[Entry]]]) -> bool:
        """Let other programs' entries count; True where there were any."""
        changed = False
        for number, (known, fresh) in unread.items():
            # What went on since it was read is read once more.
            if known != self.known(number) or self._replayed.is_written(number):
                continue
            if number in self._spool.clashes and not self._spool.let_go_of(number):
                continue
            self._beside.discard(number)
            changed = self.merge(number, fresh, known=known) or changed
        return changed
