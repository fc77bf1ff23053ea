"""A sitting in progress: a key press becomes an entry, is committed, and only then changes anything."""

from collections.abc import Collection, Mapping
from contextlib import nullcontext, suppress
from dataclasses import replace
from functools import cached_property

from fresh_chair.core.clock import SECOND, Moment, elapsed_ns
from fresh_chair.core.errors import NotSaved, Refused
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Seat
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.entries.base import Happening
from fresh_chair.core.sitting.entries.typed_marks import read_typed
from fresh_chair.core.sitting.journal import Content, Entry, Gap
from fresh_chair.core.sitting.replay import EntryTimes
from fresh_chair.core.sitting.state.attempt import Attempt
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.chair.freshness import found_at
from fresh_chair.services.sitting.journal_writer import JournalWriter
from fresh_chair.services.sitting.preconditions import skipped
from fresh_chair.services.sitting.seating import hold_seat
from fresh_chair.services.sitting.view import ClockFace, SittingView, clock_face, sitting_view
from fresh_chair.services.study.open_study import OpenStudy

# A crash costs at most this much certainty about when it was.
BEAT_NS = 2 * SECOND


@frozen
class Interruption:
    """The question before a sitting that was cut short goes on.

    Attributes:
        alive: The last moment at which the program is known to have been alive.
        dead_ns: How long it was dead, by the best clock there is.
        running: Whether an attempt or a step was in hand, so that the time matters.
        same_boot: False where the machine was restarted and only its wall clock could measure the gap.
    """

    alive: Moment
    dead_ns: int
    running: bool
    same_boot: bool


class LiveSitting(JournalWriter):
    """Logs one sitting: the meaning of each key."""

    @cached_property
    def _benchmark_runs(self) -> Mapping[str, int]:
        from fresh_chair.services.sitting.benchmarks import benchmark_runs

        return benchmark_runs(self.opened, self.seat.chair)

    def begin(self, moment: Moment, *, beside: Collection[int] = (), held: bool = False) -> None:
        """Seat the participant.

        Args:
            moment: When the key was pressed.
            beside: Sittings that stay open, as those of a contest.
            held: True where the seat is held already, as `hold_seat` does it.

        Raises:
            As `log` and `hold_seat`.
        """
        self._require_free(beside)
        if not held:
            hold_seat(self.opened, self.seat.number, unheld=_is_alone(self.opened, self.seat))
        found = found_at(self.opened, self.seat.chair, moment)
        found = replace(found, skipped=skipped(self.opened, self.seat, moment))
        self._commit([j.SittingBegan(), found, *self._walk()], moment)

    def _walk(self) -> list[Content]:
        """The entry that makes a reviewer's sitting a walk from its beginning; none for all others."""
        role = self.opened.study.person_by_code[self.seat.participant].role
        return [j.WalkBegan()] if role == "reviewer" else []

    def _require_free(self, beside: Collection[int]) -> None:
        self.opened.require_moderating()
        others = [s for s in self.opened.cut_short() if s.number != self.seat.number and s.number not in beside]
        link = self.opened.store.link
        if link is not None:
            # Only what goes on at this station has to end before somebody else sits down at it.
            own = {each.number for each in link.known if each.seated and each.station == link.station}
            others = [seat for seat in others if seat.number in own]
        if others:
            raise Refused(
                f"Sitting {others[0].number} is still open.", "End it or break it off before somebody else sits down."
            )
        self._require_nobody_twice(beside)

    def _require_nobody_twice(self, beside: Collection[int] = ()) -> None:
        for seat in self.opened.study.seats:
            same = seat.participant == self.seat.participant and seat.number not in (self.seat.number, *beside)
            if same and self.opened.phase(seat.number).open:
                raise Refused(
                    f"{seat.participant} sits in sitting {seat.number} already.", "End it or break it off first."
                )

    def toggle_wait(self, moment: Moment) -> None:
        """The machine is busy from here, or no longer. Raises as `log`."""
        attempt = self._running()
        self.log(j.WaitEnded() if attempt.waiting else j.WaitBegan(), moment)

    def toggle_aside(self, moment: Moment) -> None:
        """An interruption begins, or is over. Raises as `log`."""
        attempt = self._running()
        self.log(j.AsideEnded() if attempt.set_aside else j.AsideBegan(), moment)

    def restart(self, mark: j.MarkName, moment: Moment) -> None:
        """A restart or a new login that the card needs: counted, and the machine's time. Raises as `log`."""
        attempt = self._running()
        self.log(j.Marked(mark), moment)
        if not attempt.waiting and not self._observed:
            self.log(j.WaitBegan(), moment)

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
        """Strike the author's last entry that can be struck, as a correction; returns the struck one.

        Raises:
            Refused: Where there is nothing to undo.
            NotSaved: Where the disk refuses; everything is as before.
        """
        target = self._last_of_own()
        if target is None:
            raise Refused("There is nothing to undo here.")
        self._commit([j.Struck(target, reason)], moment)
        return next(entry for entry in reversed(self.entries) if entry.id == target)

    def break_off(self, reason: str, moment: Moment) -> None:
        """End the sitting before its end; an attempt in hand becomes void. Raises as `log`."""
        if not self.state.phase.open:
            raise Refused("Nobody is sitting here.")
        contents: list[Content] = []
        void = j.OutcomeJudged(Outcome.VOID, f"the sitting was broken off: {reason}")
        if self.state.phase is Phase.RUNNING:
            contents.append(j.AttemptStopped())
        if self.state.phase in (Phase.RUNNING, Phase.JUDGING):
            contents.append(void)
        if self.state.phase is Phase.EASE and self.state.left:
            contents.append(j.EaseRated(None))
        for number in self.state.left:
            contents += [j.TakenUp(number), j.AttemptStopped(), void]
        self._commit([*contents, j.SittingBrokenOff(reason)], moment)

    def unbegin(self, reason: str, moment: Moment) -> None:
        """Take the beginning back where nothing was started; the sitting is to come again. Raises as `log`."""
        if not reason.strip():
            raise Refused("Taking a beginning back needs a reason.", "The sitting goes on.")
        self.log(j.SittingUnbegun(reason.strip()), moment)
        self._clock, self._times = EntryTimes(), []

    def interruption(self, now: Moment) -> Interruption:
        """The gap between the last sign of life and now."""
        last = next(entry for entry in reversed(self.entries) if self._is_sign_of_life(entry)).moment
        beat = self.opened.journals.last_beat(self.seat.number)
        alive = last if beat is None or _before(beat, last) else beat
        walk = self.state.walk
        running = self.state.phase is Phase.RUNNING or (walk is not None and walk.step is not None)
        return Interruption(alive, elapsed_ns(alive, now), running, alive.boot == now.boot)

    def _is_sign_of_life(self, entry: Entry) -> bool:
        """Whether the moderator's program was alive then: a correction may come from anywhere, days later."""
        content = entry.content
        return entry.author not in self.state.observers and not (isinstance(content, Happening) and content.afterwards)

    def resume(self, interruption: Interruption, gap: Gap, moment: Moment) -> None:
        """Go on, with the dead time counted as decided. Raises as `log`."""
        self.opened.require_moderating()
        alive = interruption.alive
        self.log(j.SittingResumed(alive.ticks_ns, alive.boot, alive.wall_ns, gap), moment)

    def beat(self, moment: Moment) -> None:
        """Note that the program is alive, unless a mark has just said so. Raises NotSaved where the disk refuses."""
        if self.opened.observes or self.opened.spool.waiting or elapsed_ns(self.entries[-1].moment, moment) < BEAT_NS:
            return
        # A server that cannot be reached has the last mark, and no more is known there.
        with suppress(NotSaved) if self.opened.store.link is not None else nullcontext():
            self.opened.journals.beat(self.seat.number, moment)

    def view(self) -> SittingView:
        """The sitting as the screen draws it."""
        return sitting_view(self.opened, self.seat.number)

    def face(self, now: Moment) -> ClockFace | None:
        """The running attempt's clock."""
        return clock_face(self.opened.study, self.seat, self.state, now, runs=self._benchmark_runs)

    def _running(self) -> Attempt:
        if self.state.phase is not Phase.RUNNING:
            raise Refused("No clock is running.", "Start the card first.")
        attempt = self.state.latest
        assert attempt is not None
        return attempt


def _is_alone(opened: OpenStudy, seat: Seat) -> bool:
    return opened.study.person_by_code[seat.participant].role in ("expert", "reviewer")


def _before(one: Moment, other: Moment) -> bool:
    if one.boot == other.boot:
        return one.ticks_ns < other.ticks_ns
    return one.wall_ns < other.wall_ns
