"""A sitting as its journal says: state is replay(entries), and nothing else: law 3."""

from collections.abc import Collection, Sequence
from contextlib import suppress

from fresh_chair.core.clock import Moment
from fresh_chair.core.codec import Unreadable
from fresh_chair.core.errors import JournalError, Refused
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.effects import EFFECTS
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.sitting.outcome import Outcome
from fresh_chair.core.sitting.rules import permit
from fresh_chair.core.sitting.state import Sitting
from fresh_chair.core.sitting.timeline import Timeline
from fresh_chair.core.sitting.unreadable import stand_in, touched

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
    if sitting.began is None and not isinstance(content, j.SittingUnbegun):
        sitting.began = entry.moment
    sitting.entries += 1
    if isinstance(content, j.SittingResumed):
        sitting.undoable.clear()
    elif not observed and not isinstance(content, (*_STAYS, j.SittingUnbegun)):
        sitting.undoable.append(entry.id)


def replay(
    number: int,
    cards: tuple[str, ...],
    entries: Sequence[Entry],
    *,
    lenient: bool = False,
    aside: Collection[str] = (),
) -> Sitting:
    """The sitting that the entries tell of.

    Struck entries are left out, as though the key had not been pressed; the time goes on all the same. So are those
    that cannot be read, with whatever refers to them.

    Args:
        number, cards: The planned sitting.
        entries: Its journal.
        lenient: For a journal as it lies on disk: what cannot follow is left out and listed, and raises nothing.
        aside: Ids of entries that were left out so before, and stay so.

    Raises:
        JournalError: Names the first entry that is out of order, strikes nothing, or cannot follow the ones before it.
    """
    unreadable = {entry.id for entry in entries if isinstance(entry.content, Unreadable)}
    struck, left_out = _struck(number, entries, lenient=lenient, aside=aside)
    sitting = Sitting(number, cards, left_out=left_out)
    for entry in entries:
        if isinstance(entry.content, Unreadable):
            left_out[entry.id] = entry.content.why
            if entry.id not in struck:
                _pass_by(sitting, entry, entry.content)
        if not _holds(entry, struck) or entry.id in left_out:
            continue
        if getattr(entry.content, "entry", None) in unreadable:
            left_out[entry.id] = f"Sitting {number}, entry {entry.number}: it speaks of an entry that cannot be read."
            continue
        try:
            advance(sitting, entry)
        except Refused as problem:
            said = f"Sitting {number}, entry {entry.number}: {problem.title}"
            if not lenient and entry.id not in aside:
                raise JournalError(said) from problem
            left_out[entry.id] = said
    for attempt in sitting.attempts:
        if attempt.unreadable and attempt.outcome is not None:
            attempt.outcome, attempt.reason = Outcome.VOID, "an entry in it cannot be read"
    sitting.entries = len(entries)
    return sitting


def _pass_by(sitting: Sitting, entry: Entry, content: Unreadable) -> None:
    """Go on past an entry that cannot be read, as its kind lets one."""
    instead = stand_in(sitting, content)
    if instead is not None:
        with suppress(Refused):
            advance(sitting, Entry(entry.id, entry.number, entry.moment, entry.author, instead))
    touched(sitting)


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
        if isinstance(entry.content, j.SittingUnbegun):
            at_ns = self._line.take(entry.moment, observed=observed)
            # Whoever sits down next begins a line of their own.
            self._line, self._observers = Timeline(), set()
            return at_ns
        return self._line.take(entry.moment, observed=observed, alive=_alive(entry.content))


def _alive(content: j.Content) -> Moment | None:
    return content.alive if isinstance(content, j.SittingResumed) else None


def _holds(entry: Entry, struck: set[str]) -> bool:
    """Whether an entry counts: words, and other entries that tell more of a struck one, fall with it."""
    content = entry.content
    orphaned = isinstance(content, j.Worded | j.HelpTold | j.SnagRated | j.MarkMoved) and content.entry in struck
    return not (entry.id in struck or orphaned or isinstance(content, j.Struck | Unreadable))


def _struck(
    number: int, entries: Sequence[Entry], *, lenient: bool, aside: Collection[str]
) -> tuple[set[str], dict[str, str]]:
    """Ids of struck entries, and why a strike does not count, by its own id."""
    seen: set[str] = set()
    struck: set[str] = set()
    left_out: dict[str, str] = {}
    for place, entry in enumerate(entries, start=1):
        if entry.number != place:
            raise JournalError(f"Sitting {number}: entry {place} is missing; the journal goes on with {entry.number}.")
        if entry.id in seen:
            raise JournalError(f"Sitting {number}, entry {entry.number}: its id was used before.")
        seen.add(entry.id)
        if isinstance(entry.content, j.Struck):
            target = entry.content.entry
            if target not in seen or target == entry.id or target in struck:
                said = f"Sitting {number}, entry {entry.number}: it strikes what is not there."
                if not lenient and entry.id not in aside:
                    raise JournalError(said)
                left_out[entry.id] = said
                continue
            struck.add(target)
    return struck, left_out
