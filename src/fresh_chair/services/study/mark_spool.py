"""Every mark on a disk: in the study file, or in a second place while that takes none, and from there back into it."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from types import MappingProxyType
from typing import TYPE_CHECKING

from fresh_chair.core.errors import NotSaved
from fresh_chair.core.text import legible
from fresh_chair.services.study.kept_beside import all_renamed
from fresh_chair.store.spool import Leftover, Spool

if TYPE_CHECKING:
    from fresh_chair.core.sitting.journal import Entry
    from fresh_chair.store.ports import JournalStore, StudyHome


class WaitingMarks:
    """Marks that lie in a second place and are not in the study yet, in their order.

    The list is replaced, never changed: another thread may read it.
    """

    def __init__(self, waiting: Sequence[tuple[int, Entry]]) -> None:
        self._waiting: list[tuple[int, Entry]] = list(waiting)
        # Where the study was copied that was taken away under its marks.
        self.rescued: Path | None = None
        # Sittings of which nothing that was read may still be so in the study.
        self._anew: set[int] = set()
        # The ids of copies in a sitting beside one that another station moderates now, by those they were made of.
        self._copied: dict[int, Mapping[str, str]] = {}

    @property
    def waiting(self) -> int:
        """How many marks lie in the second place and not in the study."""
        return len(self._waiting)

    def renumber(self, sitting: int, entries: Sequence[Entry]) -> None:
        """Give a sitting's waiting entries other numbers, after another writer's came first."""
        others = [pair for pair in self._waiting if pair[0] != sitting]
        self._waiting = [*others, *((sitting, entry) for entry in entries)]

    @property
    def by_sitting(self) -> dict[int, list[Entry]]:
        """The waiting entries, by sitting, in their order."""
        found: dict[int, list[Entry]] = {}
        for sitting, entry in self._waiting:
            found.setdefault(sitting, []).append(entry)
        return found

    def waiting_of(self, sitting: int) -> list[Entry]:
        """The waiting entries of one sitting, in their order."""
        waiting = [entry for number, entry in self._waiting if number == sitting]
        return all_renamed(waiting, self._copied[sitting]) if sitting in self._copied else waiting

    def reads_anew(self, sitting: int) -> bool:
        """True where nothing that was read of a sitting may still be so: a server was replaced by one that was behind,
        or the sitting stands beside another one now.
        """
        return sitting in self._anew

    def read_anew(self, sitting: int) -> None:
        """Let a sitting be read from its beginning."""
        self._anew.add(sitting)

    def was_read(self, sitting: int) -> None:
        """A sitting was read from its beginning."""
        self._anew.discard(sitting)

    def arrived(self, sitting: int, entries: Sequence[Entry]) -> None:
        """Take entries out that are in the study, as they were read there."""
        there = {entry.id for entry in entries}
        self._waiting = [pair for pair in self._waiting if pair[0] != sitting or pair[1].id not in there]


class MarkSpool(WaitingMarks):
    """Keeps the marks of one open study.

    Args:
        home: Where the study is kept.
        journals: Its journals.
        study: The study's id.
        taken: What programs that died have left and the file still refuses; it waits as one's own marks do.
    """

    def __init__(self, home: StudyHome, journals: JournalStore, study: str, taken: TakenBack) -> None:
        super().__init__(taken.waiting)
        self._home = home
        self._journals = journals
        self._apart = Spool(study, home.address)
        self._why: NotSaved | None = taken.why
        self._adopted: list[Leftover] = list(taken.adopted)
        # Sittings that lie in the second place from their beginning, since the study was changed under them.
        self._whole: set[int] = set()

    # It is a failure, and said as one.
    quiet = False
    clashes: Mapping[int, int] = MappingProxyType({})

    def behind(self, sitting: int) -> bool:
        """False: marks that come back into a file have the numbers they were given here."""
        return False

    def forget_sittings(self, sittings: Collection[int]) -> None:
        """Nothing: no person is erased from a file while marks lie in a second place."""

    def let_go_of(self, sitting: int) -> bool:
        """True: no sitting of a file stands beside another one unknown to it."""
        return True

    def left_words(self) -> str:
        """Nothing: the next opening says so."""
        return ""

    @property
    def words(self) -> str:
        """The notice while marks go to the spool; empty while they do not."""
        if self._why is None or not self._waiting:
            return ""
        count = f"{self.waiting} mark{'s lie' if self.waiting > 1 else ' lies'} in a second place"
        if self._home.there:
            return f"{self._why.title} {count}, and will be brought back."
        if self._whole:
            place = legible(str(self._apart.file).replace(str(Path.home()), "~", 1))
            copy = f" A copy of all of it is {legible(str(self.rescued))}." if self.rescued is not None else ""
            return f"{self._why.title} All that was shown of this sitting lies in {place}.{copy} {self._why.hint}"
        if self.rescued is not None:
            copy = legible(str(self.rescued).replace(str(Path.home()), "~", 1))
            return f"{self._why.title} {count}. Opening it where it is now brings them in, or opening the copy {copy}."
        return f"{self._why.title} {count}; opening the file where it is now brings them in."

    def keep(self, sitting: int, entries: list[Entry], *, after: str, shown: Sequence[Entry] = ()) -> None:
        """Put entries on a disk, all or none; returns when they are durable.

        Args:
            sitting: Whose journal they belong to.
            entries: What follows.
            after: The id of the entry before the first of them; empty where there is none.
            shown: What was shown of the sitting before: it goes with them, where the study was changed by another hand.

        Raises:
            Overtaken: Where somebody else's entries came first.
            NotSaved: Where no place takes them.
        """
        if not self._waiting:
            try:
                self._journals.append(sitting, entries)
            except NotSaved as problem:
                self._why = problem
            else:
                return
        assert self._why is not None
        whole = self._home.changed and sitting not in self._whole
        try:
            if whole:
                self._apart.keep(sitting, "", [*shown, *entries])
            else:
                self._apart.keep(sitting, after, entries)
        except OSError:
            raise self._why from None
        if whole:
            self._whole.add(sitting)
        self._waiting += [(sitting, entry) for entry in entries]
        if not self._home.there and self.rescued is None:
            self.rescued = self._home.rescue()

    def bring_back(self) -> bool:
        """Put the spooled marks into the study file, where that takes them again. True where it did.

        Raises:
            Overtaken: Where somebody else's entries came first; they are to be read, and these numbered anew.
        """
        if not self._waiting or not self._home.there:
            return False
        for sitting, entries in self.by_sitting.items():
            try:
                append_where_room_can_be_made(self._home, self._journals, sitting, entries)
            except NotSaved as problem:
                self._why = problem
                return False
            self._waiting = [pair for pair in self._waiting if pair[0] != sitting]
        self._apart.clear()
        for leftover in self._adopted:
            leftover.clear()
        self._adopted = []
        self._why = None
        return True

    def close(self) -> None:
        """Close the spool; the next program that opens the study finds its entries."""
        self._apart.close()
        for leftover in self._adopted:
            leftover.let_go()


@dataclass(slots=True)
class TakenBack:
    """The marks that dead programs had left in their spools, and where they went.

    Attributes:
        merged: How many are in the study file now.
        apart: What does not follow on what is there; it stays where it lies.
        waiting: Sitting and entry of those that the file refuses still; they are part of the sittings all the same.
        adopted: Where those lie; for a server, where marks lie that it may be offered again.
        why: Why the file refuses.
        kept: For a server: all that lie there, as sitting, id of the entry before it, entry.
        numbers: The numbers that those have there which the server holds, by id.
        line: The line of the server's history that holds them.
    """

    merged: int = 0
    apart: list[Leftover] = field(default_factory=list)
    waiting: list[tuple[int, Entry]] = field(default_factory=list)
    adopted: list[Leftover] = field(default_factory=list)
    why: NotSaved | None = None
    kept: list[tuple[int, str, Entry]] = field(default_factory=list)
    numbers: dict[str, int] = field(default_factory=dict)
    line: str = ""


def append_where_room_can_be_made(home: StudyHome, journals: JournalStore, sitting: int, entries: list[Entry]) -> None:
    """Append entries; where that is refused, once more after the write-ahead log was emptied into the file.

    On a disk that was full the log may be most of what fills it. Raises as `Journals.append`.
    """
    try:
        journals.append(sitting, entries)
    except NotSaved:
        home.make_room()
        journals.append(sitting, entries)
