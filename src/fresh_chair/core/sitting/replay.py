"""A sitting as its journal says: state is replay(entries), and nothing else: law 3."""

from collections.abc import Collection, Sequence

from fresh_chair.core import ledger
from fresh_chair.core.clock import Moment
from fresh_chair.core.codec import Unreadable
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.entries.base import Happening
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.sitting.rules import permit
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.sitting.state.timeline import Timeline
from fresh_chair.core.sitting.unreadable import stand_in, touched


def advance(sitting: Sitting, entry: Entry) -> None:
    """Advance the state by one entry that is not a correction.

    Raises:
        Refused: Where the entry cannot follow here; the state is then as before.
    """
    content = entry.content
    observed = entry.author in sitting.observers
    joins = isinstance(content, j.ObserverJoined)
    permit(sitting, content, observed=observed or joins, on_record=True)
    assert isinstance(content, Happening)
    at_ns = sitting.line.take(
        entry.moment,
        observed=observed or joins,
        afterwards=content.afterwards,
        alive=_alive(content),
        ahead_ns=_ahead_ns(content),
    )
    content.apply(sitting, entry, at_ns)
    if sitting.ahead:
        _reach(sitting)
    if sitting.began is None and not isinstance(content, j.SittingUnbegun):
        sitting.began = entry.moment
    sitting.entries += 1
    if isinstance(content, j.SittingResumed):
        sitting.undoable.clear()
    elif not observed and content.undoable:
        sitting.undoable.append(entry.id)


def _reach(sitting: Sitting) -> None:
    """Put the notes in their places that waited for the moment which the sitting has come to."""
    for late_ns, entry in sitting.ahead:
        if late_ns <= sitting.at_ns and isinstance(entry, Entry) and isinstance(entry.content, j.AddedLate):
            entry.content.put(sitting, entry)
    sitting.ahead = [(late_ns, entry) for late_ns, entry in sitting.ahead if late_ns > sitting.at_ns]


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
        lenient, aside: As in `ledger.replay`.

    Raises:
        JournalError: Names the first entry that is out of order, strikes nothing, or cannot follow the ones before it.
    """
    sitting = Sitting(number, cards)

    def pass_by(entry: Entry) -> None:
        assert isinstance(entry.content, Unreadable)
        instead = stand_in(sitting, entry.content)
        try:
            if instead is not None:
                advance(sitting, Entry(entry.id, entry.number, entry.moment, entry.author, instead))
        finally:
            touched(sitting)

    ledger.replay(
        entries,
        lambda entry: advance(sitting, entry),
        name=f"Sitting {number}",
        left_out=sitting.left_out,
        lenient=lenient,
        aside=aside,
        pass_by=pass_by,
        # Words fall with the snag they belong to, and so does any other entry that tells more of a struck one.
        falls=lambda content, struck: content.falls and content.entry in struck,
    )
    for attempt in sitting.attempts:
        if attempt.unreadable and attempt.outcome is not None:
            attempt.outcome, attempt.reason = Outcome.VOID, "an entry in it cannot be read"
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
        if isinstance(entry.content, j.SittingUnbegun):
            at_ns = self._line.take(entry.moment, observed=observed)
            # Whoever sits down next begins a line of their own.
            self._line, self._observers = Timeline(), set()
            return at_ns
        return self._line.take(
            entry.moment,
            observed=observed,
            afterwards=isinstance(entry.content, Happening) and entry.content.afterwards,
            alive=_alive(entry.content),
            ahead_ns=_ahead_ns(entry.content),
        )


def _ahead_ns(content: object) -> int:
    return content.ahead_ns if isinstance(content, j.ObserverJoined) else 0


def _alive(content: object) -> Moment | None:
    return content.alive if isinstance(content, j.SittingResumed) else None
