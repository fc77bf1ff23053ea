"""Every mark on a disk: in the study file, or in a second place while that takes none, and from there back into it."""

from collections.abc import Sequence
from pathlib import Path
from time import strftime

from platformdirs import user_state_path

from fresh_chair.core.errors import FreshChairError, JournalError, NotSaved
from fresh_chair.core.journal import Entry
from fresh_chair.core.replay import replay
from fresh_chair.core.study import Study
from fresh_chair.core.text import legible
from fresh_chair.store.journals import Journals
from fresh_chair.store.second_place import Leftover, SecondPlace, leftovers
from fresh_chair.store.study_file import StudyFile


class MarkKeeper:
    """Keeps the marks of one open study.

    Args:
        file: The study file.
        journals: Its journals.
        study: The study's id.
    """

    def __init__(self, file: StudyFile, journals: Journals, study: str) -> None:
        self._file = file
        self._journals = journals
        self._apart = SecondPlace(study, file.path, file.inode)
        self._waiting: list[tuple[int, Entry]] = []
        self._why: NotSaved | None = None
        self.rescued: Path | None = None

    @property
    def waiting(self) -> int:
        """How many marks lie in the second place and not in the study file."""
        return len(self._waiting)

    @property
    def words(self) -> str:
        """What the screen says while marks go to the second place; empty while they do not."""
        if self._why is None or not self._waiting:
            return ""
        count = f"{self.waiting} mark{'s lie' if self.waiting > 1 else ' lies'} in a second place"
        if self._file.there:
            return f"{self._why.title} {count}, and will be brought back."
        if self.rescued is not None:
            copy = legible(str(self.rescued).replace(str(Path.home()), "~", 1))
            return f"{self._why.title} {count}. Opening it where it is now brings them in, or opening the copy {copy}."
        return f"{self._why.title} {count}; opening the file where it is now brings them in."

    def keep(self, sitting: int, entries: list[Entry], *, after: str) -> None:
        """Put entries on a disk, all or none; returns when they are durable.

        Args:
            sitting: Whose journal they belong to.
            entries: What follows.
            after: The id of the entry before the first of them; empty where there is none.

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
        try:
            self._apart.keep(sitting, after, entries)
        except OSError:
            raise self._why from None
        self._waiting += [(sitting, entry) for entry in entries]
        if not self._file.there and self.rescued is None:
            self._rescue()

    def bring_back(self) -> bool:
        """Put what lies in the second place into the study file, where that takes it again. True where it did.

        Raises:
            Overtaken: Where somebody else's entries came first; they are to be read, and these numbered anew.
        """
        if not self._waiting or not self._file.there:
            return False
        by_sitting: dict[int, list[Entry]] = {}
        for sitting, entry in self._waiting:
            by_sitting.setdefault(sitting, []).append(entry)
        for sitting, entries in by_sitting.items():
            try:
                self._journals.append(sitting, entries)
            except NotSaved as problem:
                self._why = problem
                return False
            self._waiting = [pair for pair in self._waiting if pair[0] != sitting]
        self._apart.clear()
        self._why = None
        return True

    def renumber(self, sitting: int, entries: Sequence[Entry]) -> None:
        """Take other numbers for a sitting's waiting entries, after somebody else's came first."""
        others = [pair for pair in self._waiting if pair[0] != sitting]
        self._waiting = [*others, *((sitting, entry) for entry in entries)]

    def waiting_of(self, sitting: int) -> list[Entry]:
        """What waits of one sitting, in its order."""
        return [entry for number, entry in self._waiting if number == sitting]

    def close(self) -> None:
        """Let go; what still waits is found by whoever opens the study next."""
        self._apart.close()

    def _rescue(self) -> None:
        """The file was moved or deleted: make it whole where it is, and copy it where nobody can find it any more."""
        self._file.settle()
        folder = user_state_path("fresh-chair") / "rescued"
        copy = folder / f"{self._file.path.stem[:60]}-{strftime('%Y-%m-%d-%H%M%S')}.fresh"
        try:
            folder.mkdir(parents=True, exist_ok=True)
            self._file.rescue(copy)
        except (OSError, FreshChairError):
            return
        self.rescued = copy


def take_back(
    study: Study, file: StudyFile, journals: Journals, found: dict[int, list[Entry]]
) -> tuple[int, list[Leftover]]:
    """Merge what programs that died left in second places into the study file.

    Args:
        study: The plan.
        file: The study file, open for writing.
        journals: Its journals.
        found: Its entries by sitting; what is merged is added.

    Returns:
        How many marks were merged, and what could not be: it stays where it lies.
    """
    merged, left = 0, []
    for leftover in leftovers(study.id):
        if not _belongs(leftover, file):
            continue
        if any(not _fits(study, sitting, after, entry, found) for sitting, after, entry in leftover.marks[:1]):
            left.append(leftover)
            continue
        whole = True
        for sitting, _, entry in leftover.marks:
            if any(entry.id == other.id for other in found.get(sitting, ())):
                continue
            entries = found.get(sitting, [])
            numbered = Entry(entry.id, len(entries) + 1, entry.moment, entry.author, entry.content)
            try:
                replay(sitting, study.seat(sitting).cards, [*entries, numbered])
                journals.append(sitting, [numbered])
            except NotSaved:
                # The disk refuses still: the rest stays where it lies.
                return merged, [*left, leftover]
            except (JournalError, FreshChairError):
                whole = False
                continue
            found.setdefault(sitting, []).append(numbered)
            merged += 1
        if whole:
            leftover.file.unlink(missing_ok=True)
        else:
            left.append(leftover)
    return merged, left


def _belongs(leftover: Leftover, file: StudyFile) -> bool:
    """Whether marks belong into this file: it is the one they came from, or that one is not there any more."""
    if leftover.inode == file.inode or leftover.path == str(file.path):
        return True
    try:
        return Path(leftover.path).stat().st_ino != leftover.inode
    except OSError:
        return True


def _fits(study: Study, sitting: int, after: str, first: Entry, found: dict[int, list[Entry]]) -> bool:
    entries = found.get(sitting, [])
    if not any(seat.number == sitting for seat in study.seats):
        return False
    known = any(entry.id in (after, first.id) for entry in entries)
    return known or (not after and not entries)
