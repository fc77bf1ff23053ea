"""The sittings' journals with their replayed states, read when they are first asked for, and the spool beside them."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from threading import RLock
from types import MappingProxyType
from typing import TYPE_CHECKING

from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.services.study.mark_spool import MarkSpool, TakenBack

if TYPE_CHECKING:
    from fresh_chair.core.sitting.journal import Entry
    from fresh_chair.core.sitting.state.sitting import Sitting
    from fresh_chair.services.study.mark_outbox import MarkOutbox
    from fresh_chair.store.ports import JournalStore, StudyHome
    from fresh_chair.store.spool import Leftover
    from fresh_chair.store.stations import StationLink


@dataclass(slots=True)
class _Held:
    """The journals as they were read, and their replayed sittings.

    Attributes:
        moving: Numbers of the sittings whose states are advanced in place, key by key.
    """

    entries: dict[int, list[Entry]]
    sittings: dict[int, Sitting]
    moving: set[int] = field(default_factory=set)


class ReplayedJournals:
    """The journals of one open study. Its mappings are changed by its commands alone.

    Args:
        home: Where the study is kept, with the lock that says whose spools may be taken back.
        stored: The journals in it.
        plan: The plan as it is now.
        author: Who presses the keys.
        link: The way to the server, where the study is on one.

    Attributes:
        merged: How many spooled marks were brought into the file when the journals were first read.
        left_apart: Spools that do not follow on what is there.
    """

    def __init__(
        self,
        home: StudyHome,
        stored: JournalStore,
        plan: Callable[[], Study],
        author: str,
        *,
        link: StationLink | None = None,
    ) -> None:
        self._home = home
        self._link = link
        self._stored = stored
        self._plan = plan
        self._author = author
        self.merged = 0
        self.left_apart: list[Leftover] = []
        self._spool: MarkSpool | MarkOutbox | None = None
        self._read: _Held | None = None
        self._loading = RLock()
        self._came, self._to_come = 0, 0
        # Numbers of the sittings that were given a writer.
        self._in_hand: set[int] = set()

    @property
    def loaded(self) -> bool:
        """False while the journals are still to be read."""
        return self._read is not None

    @property
    def still_reading(self) -> tuple[int, int]:
        """How many entries are being read, 0 where that is not known yet, and how far that is in per cent."""
        return self._to_come // 2, min(100 * self._came // max(self._to_come, 1), 99)

    def _count(self, entries: int) -> None:
        self._came += entries

    def forget(self, *, spool: bool = False) -> None:
        """Read everything again when it is next asked for.

        Args:
            spool: True to take up the spools of ended programs again, too.
        """
        if spool:
            self.close()
            self._spool = None
        self._read = None

    def close(self) -> None:
        """Close the spool."""
        if self._spool is not None:
            self._spool.close()

    @property
    def _held(self) -> _Held:
        with self._loading:
            if self._read is None:
                from fresh_chair.core.sitting.replay import replay

                # Each entry is read, and then replayed.
                self._came, self._to_come = 0, 2 * sum(self._stored.lengths().values())
                entries, plan = self._stored.all(self._count), self._plan()
                self._take_back(entries)
                states = {}
                for number, each in entries.items():
                    states[number] = replay(number, plan.seat(number).cards, each, lenient=True)
                    self._count(len(each))
                self._read = _Held(entries, states)
            return self._read

    @property
    def entries(self) -> Mapping[int, Sequence[Entry]]:
        """Every sitting's entries, by its number."""
        return MappingProxyType(self._held.entries)

    @property
    def sittings(self) -> Mapping[int, Sitting]:
        """The state of every sitting that has begun, by its number."""
        return MappingProxyType(self._held.sittings)

    @property
    def settled(self) -> Mapping[int, Sitting]:
        """The states that no key advances in place."""
        held = self._held
        return {number: sitting for number, sitting in held.sittings.items() if number not in held.moving}

    @property
    def spool(self) -> MarkSpool | MarkOutbox:
        """The second place of marks."""
        _ = self._held
        assert self._spool is not None
        return self._spool

    def _take_back(self, entries: dict[int, list[Entry]]) -> None:
        """Take in marks that lie elsewhere: one's own, and those of a program that died."""
        spool = self._spool
        if spool is not None:
            for number in spool.by_sitting:
                listed = entries.setdefault(number, [])
                spool.arrived(number, listed)
                waiting = spool.waiting_of(number)
                listed += [replace(entry, number=len(listed) + step) for step, entry in enumerate(waiting, start=1)]
                spool.renumber(number, listed[len(listed) - len(waiting) :])
            return
        plan, taken = self._plan(), TakenBack()
        of = self._author if self._home.observes else ""
        if self._home.writable or self._home.observes:
            from fresh_chair.services.study import taking_back

            if self._link is None:
                taken = taking_back.take_back(plan, self._home, self._stored, entries, of=of)
            else:
                taken = taking_back.offer_back(plan, self._home, self._link, entries, of=of)
        self.merged, self.left_apart = taken.merged, taken.apart
        if self._link is None:
            self._spool = MarkSpool(self._home, self._stored, plan.id, taken)
        else:
            from fresh_chair.services.study.mark_outbox import MarkOutbox

            self._spool = MarkOutbox(self._home, self._link, plan.id, taken)

    def begin(self, seat: Seat) -> None:
        """Let a planned sitting have a writer, and an empty journal where it has none yet."""
        from fresh_chair.core.sitting.state.sitting import Sitting

        self._in_hand.add(seat.number)
        self._held.entries.setdefault(seat.number, [])
        self._held.sittings.setdefault(seat.number, Sitting(seat.number, seat.cards))

    def advance(self, number: int, entry: Entry) -> None:
        """Let an entry that is on a disk count in its sitting. Raises JournalError where it cannot follow."""
        from fresh_chair.core.sitting.replay import advance

        held = self._held
        held.moving.add(number)
        advance(held.sittings[number], entry)
        held.entries[number].append(entry)

    def take(self, number: int, entries: Sequence[Entry], state: Sitting | None = None) -> None:
        """Let these entries be a sitting's journal.

        Args:
            number: The sitting.
            entries: All of its entries; they are on a disk.
            state: The state they make, where that is known.
        """
        from fresh_chair.core.sitting.replay import replay

        held = self._held
        held.entries[number] = list(entries)
        held.sittings[number] = state or replay(number, self._plan().seat(number).cards, entries, lenient=True)
        held.moving.discard(number)

    def renumber(self, number: int, entries: Sequence[Entry]) -> None:
        """Let the same entries stand under other numbers."""
        self._held.entries[number] = list(entries)

    def is_written(self, number: int) -> bool:
        """True for a sitting in hand that is open: its writer reads it on, and keeps count of its entries."""
        sitting = self._held.sittings.get(number)
        return number in self._in_hand and sitting is not None and sitting.phase.open
