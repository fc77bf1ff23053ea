"""A sitting in progress: a key press becomes an entry, is committed, and only then changes anything."""

from dataclasses import dataclass, replace

from fresh_chair.core import journal as j
from fresh_chair.core.attempt import Attempt
from fresh_chair.core.clock import SECOND, Moment, elapsed_ns
from fresh_chair.core.errors import JournalError, Refused
from fresh_chair.core.journal import Content, Entry, Gap
from fresh_chair.core.outcome import Outcome
from fresh_chair.core.replay import advance, entry_times, replay
from fresh_chair.core.rules import permit
from fresh_chair.core.sitting import Phase, Sitting
from fresh_chair.core.study import Seat
from fresh_chair.core.typed_marks import read_typed
from fresh_chair.services.before import skipped
from fresh_chair.services.desk import Desk, new_id
from fresh_chair.services.freshness import found_at
from fresh_chair.services.preparing import seal_hunches
from fresh_chair.services.sitting_view import (
    ClockFace,
    JournalLine,
    SittingView,
    clock_face,
    journal_lines,
    sitting_view,
)

# A crash costs at most this much certainty about when it was.
BEAT_NS = 2 * SECOND


@dataclass(frozen=True, slots=True)
class Interruption:
    """What has to be asked before a sitting that was cut short goes on.

    Attributes:
        alive: The last moment at which the program is known to have been alive.
        dead_ns: How long it was dead, by the best clock there is.
        running: Whether an attempt was running, so that the time matters.
        same_boot: False where the machine was restarted and only its wall clock could measure the gap.
    """

    alive: Moment
    dead_ns: int
    running: bool
    same_boot: bool


class LiveSitting:
    """Logs one sitting.

    Args:
        desk: The open study, which must be writable.
        seat: Which planned sitting.
    """

    def __init__(self, desk: Desk, seat: Seat) -> None:
        desk.require_writable()
        self.desk = desk
        self.seat = seat
        self.entries: list[Entry] = desk.entries.setdefault(seat.number, [])
        self._times: list[int] = []
        self._struck: set[str] = set()
        desk.sittings.setdefault(seat.number, Sitting(seat.number, seat.cards))

    @property
    def state(self) -> Sitting:
        """The sitting as its journal says."""
        return self.desk.sittings[self.seat.number]

    def log(self, content: Content, moment: Moment) -> Entry:
        """Commit one entry, then advance the state by it.

        Raises:
            Refused: Where it cannot follow now; nothing is logged.
            NotSaved: Where the disk refuses; nothing is logged and the state is as before.
        """
        permit(self.state, content)
        entry = self._entry(content, moment, 1)
        self.desk.journals.append(self.seat.number, [entry])
        advance(self.state, entry)
        self.entries.append(entry)
        return entry

    def begin(self, moment: Moment) -> None:
        """Seat the participant. Raises as `log`."""
        others = [seat for seat in self.desk.cut_short() if seat.number != self.seat.number]
        if others:
            raise Refused(
                f"Sitting {others[0].number} is still open.", "End it or break it off before somebody else sits down."
            )
        if self.desk.study.person_by_code[self.seat.participant].role != "expert":
            # Whatever is predicted from here on is no prediction.
            seal_hunches(self.desk, [self.seat.chair])
        found = found_at(self.desk, self.seat.chair, moment)
        found = replace(found, skipped=skipped(self.desk, self.seat, moment))
        self._commit([j.SittingBegan(), found], moment)

    def toggle_wait(self, moment: Moment) -> None:
        """The machine is busy from here, or no longer. Raises as `log`."""
        attempt = self._running()
        self.log(j.WaitEnded() if attempt.waiting else j.WaitBegan(), moment)

    def toggle_aside(self, moment: Moment) -> None:
        """An interruption begins, or is over. Raises as `log`."""
        attempt = self._running()
        self.log(j.AsideEnded() if attempt.set_aside else j.AsideBegan(), moment)

    def word(self, entry: str, text: str, moment: Moment) -> None:
        """The words for an earlier mark as they were typed: `-10` moves it back, `!3` rates a snag. Raises as `log`."""
        typed = read_typed(text)
        if typed.seconds_earlier:
            self.log(j.MarkMoved(entry, typed.seconds_earlier), moment)
        if typed.severity is not None:
            self.log(j.SnagRated(entry, typed.severity), moment)
        if typed.words:
            self.log(j.Worded(entry, typed.words), moment)

    def help_told(self, level: j.HelpLevel, moment: Moment) -> None:
        """How much help the last help was. Raises as `log`."""
        attempt = self._running()
        if not attempt.helps:
            raise Refused("There was no help yet.")
        self.log(j.HelpTold(list(attempt.helps)[-1], level), moment)

    def undo(self, moment: Moment, reason: str = "undone at once") -> Entry:
        """Strike the last entry that can be, as a correction; returns what was struck.

        Raises:
            Refused: Where there is nothing to undo.
            NotSaved: Where the disk refuses; everything is as before.
        """
        if not self.state.undoable:
            raise Refused("There is nothing to undo here.")
        target = self.state.undoable[-1]
        self._commit([j.Struck(target, reason)], moment)
        return next(entry for entry in reversed(self.entries) if entry.id == target)

    def correct(self, content: Content, moment: Moment) -> None:
        """Put in a correction, and replay the whole with it.

        Raises:
            Refused: Where the journal would make no sense with it; nothing is logged then.
            NotSaved: Where the disk refuses.
        """
        try:
            self._commit([content], moment)
        except JournalError as problem:
            reason = problem.title.split(": ", 1)[-1]
            raise Refused("The journal would make no sense with that.", reason) from problem

    def break_off(self, reason: str, moment: Moment) -> None:
        """End the sitting before its end; an attempt in hand becomes void. Raises as `log`."""
        if not self.state.phase.open:
            raise Refused("Nobody is sitting here.")
        contents: list[Content] = []
        if self.state.phase is Phase.RUNNING:
            contents.append(j.AttemptStopped())
        if self.state.phase in (Phase.RUNNING, Phase.JUDGING):
            contents.append(j.OutcomeJudged(Outcome.VOID, f"the sitting was broken off: {reason}"))
        self._commit([*contents, j.SittingBrokenOff(reason)], moment)

    def interruption(self, now: Moment) -> Interruption:
        """What happened between the last sign of life and now."""
        last = self.entries[-1].moment
        beat = self.desk.journals.last_beat(self.seat.number)
        alive = last if beat is None or _before(beat, last) else beat
        return Interruption(alive, elapsed_ns(alive, now), self.state.phase is Phase.RUNNING, alive.boot == now.boot)

    def resume(self, interruption: Interruption, gap: Gap, moment: Moment) -> None:
        """Go on, with the dead time counted as decided. Raises as `log`."""
        alive = interruption.alive
        self.log(j.SittingResumed(alive.ticks_ns, alive.boot, alive.wall_ns, gap), moment)

    def beat(self, moment: Moment) -> None:
        """Note that the program is alive, unless a mark has just said so. Raises NotSaved where the disk refuses."""
        if elapsed_ns(self.entries[-1].moment, moment) < BEAT_NS:
            return
        self.desk.journals.beat(self.seat.number, moment)

    def words_waiting(self) -> list[str]:
        """Snags, delights and notes that have no words yet, oldest first."""
        waiting = self.state.wordless
        return [entry for entry in self.state.remarks if entry in waiting] if waiting else []

    def view(self) -> SittingView:
        """The sitting as the screen draws it."""
        return sitting_view(self.desk, self.seat.number)

    def face(self, now: Moment) -> ClockFace | None:
        """The running attempt's clock."""
        return clock_face(self.desk.study, self.seat, self.state, now)

    def lines(self, most: int) -> list[JournalLine]:
        """The newest entries of the journal."""
        self._catch_up()
        return journal_lines(self.desk.study, self.state, self.entries, self._times, self._struck, most=most)

    def _running(self) -> Attempt:
        if self.state.phase is not Phase.RUNNING:
            raise Refused("No clock is running.", "Start the card first.")
        return self.state.attempts[-1]

    def _commit(self, contents: list[Content], moment: Moment) -> None:
        """Commit several entries or a correction, all or none, and replay the whole."""
        fresh = [self._entry(content, moment, place) for place, content in enumerate(contents, start=1)]
        state = replay(self.seat.number, self.seat.cards, [*self.entries, *fresh])
        self.desk.journals.append(self.seat.number, fresh)
        self.desk.sittings[self.seat.number] = state
        self.entries.extend(fresh)

    def _entry(self, content: Content, moment: Moment, step: int) -> Entry:
        return Entry(new_id(), len(self.entries) + step, moment, self.desk.author, content)

    def _catch_up(self) -> None:
        """Time what is new in the journal, whoever wrote it: words may come in from Sort as well."""
        for place in range(len(self._times), len(self.entries)):
            entry = self.entries[place]
            first = self._times[-1] if self._times else 0
            self._times.append(entry_times(self.entries[max(place - 1, 0) : place + 1], first)[-1])
            if isinstance(entry.content, j.Struck):
                self._struck.add(entry.content.entry)


def _before(one: Moment, other: Moment) -> bool:
    if one.boot == other.boot:
        return one.ticks_ns < other.ticks_ns
    return one.wall_ns < other.wall_ns
