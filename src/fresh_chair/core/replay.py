"""A sitting as its journal says: state is replay(entries), and nothing else: law 3."""

from collections.abc import Sequence

from fresh_chair.core import journal as j
from fresh_chair.core.clock import Moment
from fresh_chair.core.effects import EFFECTS
from fresh_chair.core.errors import JournalError, Refused
from fresh_chair.core.journal import Entry
from fresh_chair.core.rules import permit
from fresh_chair.core.sitting import Sitting
from fresh_chair.core.timeline import Timeline

# What is not taken back by the key that takes back the last mark.
_STAYS = (j.SittingBegan, j.ChairFound, j.ChairWitnessed, j.ObserverJoined, j.RecordingOpened)


def advance(sitting: Sitting, entry: Entry) -> None:
    """Advance the state by one entry that is not a correction.

    Raises:
        Refused: Where the entry cannot follow here; the state is then as before.
    """
    content = entry.content
    observed = entry.author in sitting.observers
    permit(sitting, content, observed=observed)
    at_ns = sitting.line.take(entry.moment, observed=observed, alive=_alive(content))
    EFFECTS[content.kind](sitting, entry, content, at_ns)
    if sitting.began is None:
        sitting.began = entry.moment
    sitting.entries += 1
    if isinstance(content, j.SittingResumed):
        sitting.undoable.clear()
    elif not observed and not isinstance(content, _STAYS):
        sitting.undoable.append(entry.id)


def replay(number: int, cards: tuple[str, ...], entries: Sequence[Entry]) -> Sitting:
    """The sitting that the entries tell of.

    Struck entries are left out, as though the key had not been pressed; the time goes on all the same.

    Raises:
        JournalError: Names the first entry that is out of order, strikes nothing, or cannot follow the ones before it.
    """
    struck = _struck(number, entries)
    sitting = Sitting(number, cards)
    for entry in entries:
        if not _holds(entry, struck):
            continue
        try:
            advance(sitting, entry)
        except Refused as problem:
            raise JournalError(f"Sitting {number}, entry {entry.number}: {problem.title}") from problem
    sitting.entries = len(entries)
    return sitting


def entry_times(entries: Sequence[Entry]) -> list[int]:
    """Nanoseconds since the sitting began, for every entry, struck ones too."""
    times = EntryTimes()
    return [times.take(entry) for entry in entries]


class EntryTimes:
    """Times a journal's entries one after another, as they come."""

    def __init__(self) -> None:
        self._line = Timeline()
        self._observers: set[str] = set()

    def take(self, entry: Entry) -> int:
        """When the next entry was, in nanoseconds since the sitting began."""
        if isinstance(entry.content, j.ObserverJoined):
            self._observers.add(entry.author)
        observed = entry.author in self._observers
        return self._line.take(entry.moment, observed=observed, alive=_alive(entry.content))


def _alive(content: j.Content) -> Moment | None:
    return content.alive if isinstance(content, j.SittingResumed) else None


def _holds(entry: Entry, struck: set[str]) -> bool:
    """Words fall with the snag they belong to, and so does whatever else tells more of an entry."""
    content = entry.content
    orphaned = isinstance(content, j.Worded | j.HelpTold | j.SnagRated | j.MarkMoved) and content.entry in struck
    return not (entry.id in struck or orphaned or isinstance(content, j.Struck))


def _struck(number: int, entries: Sequence[Entry]) -> set[str]:
    seen: set[str] = set()
    struck: set[str] = set()
    for place, entry in enumerate(entries, start=1):
        if entry.number != place:
            raise JournalError(f"Sitting {number}: entry {place} is missing; the journal goes on with {entry.number}.")
        if entry.id in seen:
            raise JournalError(f"Sitting {number}, entry {entry.number}: its id was used before.")
        seen.add(entry.id)
        if isinstance(entry.content, j.Struck):
            target = entry.content.entry
            if target not in seen or target == entry.id or target in struck:
                raise JournalError(f"Sitting {number}, entry {entry.number}: it strikes what is not there.")
            struck.add(target)
    return struck
