"""The sitting that must not be lost: begun, taken up, followed while others write it, and alive."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from textual import on, work
from textual.message import Message

from fresh_chair.core.errors import FreshChairError, Refused
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.text import count_of, legible
from fresh_chair.services.system.clock import running_ns
from fresh_chair.tui.base.frame import Go
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.plan.screen import RecordingRequested, SeatRequested
from fresh_chair.tui.sit.following_others import LOOK_SECONDS, FollowingOthers
from fresh_chair.tui.widgets.dialogue import Conversation, Dialogue, asks

if TYPE_CHECKING:
    from fresh_chair.core.sitting.journal import Gap
    from fresh_chair.services.sitting.live import LiveSitting

BEAT_SECONDS = 2.0
# So long without a beat, and the machine or the program was asleep.
ASLEEP_NS = 20_000_000_000


class SeatHeld(Message):
    """A seat is held for this station, or why it is not; again where its sitting was cut short and goes on."""

    def __init__(self, number: int, problem: FreshChairError | None = None, *, again: bool = False) -> None:
        super().__init__()
        self.number, self.problem, self.again = number, problem, again


class SittingKeeping(FollowingOthers):
    """Seats people, and takes up a sitting that was cut short."""

    _beaten_ns = 0
    # What was asked about sittings that go on at two stations, in words.
    _asked_of_both = ""

    def keep_sittings(self) -> None:
        """Ask about a sitting that was cut short, and begin to look after the one in hand."""
        opened = self.session.opened
        self._beaten_ns = running_ns()
        self.set_interval(BEAT_SECONDS, self._beat)
        self.set_interval(LOOK_SECONDS, self.look)
        if opened.observes:
            found = opened.cut_short()
            if len(found) == 1:
                self.call_after_refresh(self.join_sitting, found[0].number)
            elif found:
                self.call_after_refresh(self.tell_which, len(found))
            else:
                self.call_after_refresh(self._tell_watching)
            return
        if opened.writable and any(person.erased for person in opened.study.people):
            self.call_after_refresh(self._finish_erasing)
        if opened.replayed.merged or opened.replayed.left_apart:
            self.call_after_refresh(self._tell_merged)
        cut = opened.cut_short()
        # Somebody may have been seated while the journals were still read.
        if cut and opened.writable and self.session.in_hand is None:
            # Of a contest several are open: the one that was in hand goes on, and leads to the others.
            self.call_after_refresh(self._take_up, opened.last_in_hand([seat.number for seat in cut]))

    def _tell_watching(self) -> None:
        if self.session.in_hand is None:
            self.say(f"You watch as {legible(self.session.opened.author)}; a sitting that is open is joined at once.")

    @work(thread=True, group="erase", description="finish erasing")
    def _finish_erasing(self) -> None:
        """Overwrite the freed bytes of an erasure that was cut short."""
        from fresh_chair.services.file.erasing import finish_erasing

        try:
            finish_erasing(self.session.opened)
        except FreshChairError as problem:
            self.call_from_thread(self.say_problem, problem)

    def _tell_merged(self) -> None:
        opened, said = self.session.opened, []
        if opened.replayed.merged:
            marks = f"{count_of(opened.replayed.merged, 'mark')} that lay in a second place"
            said.append(f"{marks} {'was' if opened.replayed.merged == 1 else 'were'} brought into the study.")
        if opened.replayed.left_apart:
            where = legible(str(opened.replayed.left_apart[0].file))
            said.append(f"Marks in {where} do not follow on what is here; they were left where they lie.")
        self.say(" ".join(said), colour="$clay" if opened.replayed.left_apart else "$moss")

    # Seating

    @on(SeatRequested)
    def _seat(self, message: SeatRequested) -> None:
        session, opened = self.session, self.session.opened
        phase = opened.phase(message.number)
        in_hand = session.in_hand
        if session.sort is not None and session.sort.rater:
            said = "A rater judges findings, and runs no sitting."
            self.say_problem(Refused(said, "Open the study without --rater."))
        elif in_hand is not None and in_hand.seat.number == message.number:
            self.post_message(Go("sit"))
        elif phase.open and opened.observes:
            self.join_sitting(message.number)
        elif message.number in opened.held_elsewhere:
            where = legible(opened.held_elsewhere[message.number])
            self.say_problem(Refused(f"Sitting {message.number} goes on at {where}.", "Watch it: open --observer NAME"))
        elif phase.open and opened.writable and not self._go_on_in_contest(message.number):
            self._take_up(message.number)
        elif phase is not Phase.EMPTY and not phase.open:
            session.looking_at = message.number
            self.post_message(Go("sit"))
        else:
            self._begin(message.number)

    def _go_on_in_contest(self, number: int) -> bool:
        """Go on at another chair of the contest in hand; False where the sitting is no side of it."""
        live = self.session.in_hand
        walk = live.state.walk if live is not None else None
        if live is None or walk is None or walk.contest is None:
            return False
        from fresh_chair.services.walk.contests import contest_of, next_chair

        opened, side = self.session.opened, live
        view = contest_of(opened, number)
        if view is None or side.seat.number not in view.sittings:
            return False
        letter = opened.study.seat(number).chair
        self._hold_what(lambda: next_chair(opened, side, side.now(), letter))
        return True

    def _hold(self, live: "LiveSitting") -> None:
        self.session.live, self.session.looking_at = live, live.seat.number
        self._beaten_ns = running_ns()
        self.post_message(Go("sit", anew=True))

    def _hold_what(self, make: "Callable[[], LiveSitting]") -> None:
        """Take a sitting in hand, or say why it cannot be."""
        try:
            live = make()
        except FreshChairError as problem:
            self.say_problem(problem)
            return
        self._hold(live)

    @asks
    async def _begin(self, number: int) -> None:
        if not await self._agreed_to_seat(number):
            return
        link = self.session.opened.store.link
        if link is None:
            self._seat_now(number)
        elif not link.connected:
            # That was asked about just now.
            self._seat_unanswered(number, again=False)
        else:
            self.say("asking the server whether the seat is free ...", colour="$lamp")
            self._hold_seat(number)

    @work(thread=True, group="seat", description="hold seat")
    def _hold_seat(self, number: int, *, again: bool = False) -> None:
        """Hold a seat on the server, beside the keys."""
        from fresh_chair.services.sitting.seating import hold_seat

        try:
            hold_seat(self.session.opened, number)
        except FreshChairError as problem:
            self.post_message(SeatHeld(number, problem, again=again))
        else:
            self.post_message(SeatHeld(number, again=again))

    @on(SeatHeld)
    @asks
    async def _seat_held(self, message: SeatHeld) -> None:
        from fresh_chair.services.sitting.seating import SeatUnanswered

        problem, screen = message.problem, self.screen
        if problem is None:
            (self._take_up_held if message.again else self._seat_now)(message.number)
        elif isinstance(problem, SeatUnanswered) and isinstance(screen, Place):
            act = "Go on with it" if message.again else "Seat them"
            # Above the question, whose keys a long one would push out of a narrow window.
            screen.tell(problem.title, colour="$clay")
            screen.said_while_asking()
            if await screen.ask_sure(f"{act} all the same?", act.lower()):
                self._seat_unanswered(message.number, again=message.again)
        else:
            self.say_problem(problem)

    def _seat_unanswered(self, number: int, *, again: bool) -> None:
        """Go on without the server's answer, as was agreed to; the seat is held once it answers."""
        from fresh_chair.services.sitting.seating import hold_later

        hold_later(self.session.opened, number)
        (self._take_up_held if again else self._seat_now)(number)

    def converse(self, dialogue: Dialogue) -> None:
        """Run a dialogue on the screen in front; one that is no place asks nothing."""
        screen = self.screen
        if isinstance(screen, Place):
            screen.converse(dialogue)
        else:
            Conversation(lambda: None).begin(dialogue)

    async def _agreed_to_seat(self, number: int) -> bool:
        """Whether a person may be seated; where something is out of order or not agreed to, only a key says so."""
        from fresh_chair.services.sitting.preconditions import seating_objections
        from fresh_chair.services.sitting.seating import unheld_objection

        opened, screen = self.session.opened, self.screen
        seat = opened.study.seat(number)
        unheld = unheld_objection(opened, number)
        objections = [*seating_objections(opened, seat), *([unheld] if unheld else [])]
        if not objections or not isinstance(screen, Place):
            return True
        prompt = f"{seat.participant} at {seat.chair}: {'; '.join(objections)}. Seat them all the same?"
        return await screen.ask_sure(prompt, "seat them")

    def _seat_now(self, number: int) -> None:
        from fresh_chair.services.sitting.live import LiveSitting

        opened = self.session.opened

        def begun() -> LiveSitting:
            live = LiveSitting(opened, opened.study.seat(number))
            live.begin(opened.clock.now(), held=opened.store.link is not None)
            return live

        self._hold_what(begun)

    def action_walk(self) -> None:
        """Walk through the chair in hand; where none is, through the study's first."""
        from fresh_chair.services.walk.walks import begin_walk

        opened = self.session.opened
        letters = list(opened.study.chair_by_letter)
        wanted = self.session.cell[1]
        if self.session.in_hand is not None:
            self.post_message(Go("sit"))
        elif letters:
            letter = wanted if wanted in letters else letters[0]
            self._hold_what(lambda: begin_walk(opened, letter))
        else:
            self.say("A walk needs a chair: a adds one.", colour="$clay")

    @asks
    async def action_contest(self) -> None:
        """Begin a contest: walks at two chairs or more, on the same steps."""
        from fresh_chair.services.walk.contests import begin_contest

        session, screen = self.session, self.screen
        letters = list(session.opened.study.chair_by_letter)
        if session.in_hand is not None:
            self.post_message(Go("sit"))
        elif len(letters) < 2:
            self.say("A contest needs two chairs: a adds one.", colour="$clay")
        elif isinstance(screen, Place):
            typed = await screen.ask_words("a contest between which chairs?", value=" ".join(letters[:2]))
            if typed is not None and typed.strip():
                chairs = typed.upper().replace(",", " ").split()
                self._hold_what(lambda: begin_contest(session.opened, chairs))

    @on(RecordingRequested)
    @asks
    async def _record(self, message: RecordingRequested) -> None:
        from fresh_chair.services.sitting.recording import open_recording

        opened = self.session.opened
        if await self._agreed_to_seat(message.number):
            self._hold_what(lambda: open_recording(opened, message.number, message.file, message.began))

    def join_sitting(self, number: int) -> None:
        """Watch a sitting beside its moderator."""
        from fresh_chair.services.sitting.live import LiveSitting

        opened = self.session.opened

        def joined() -> LiveSitting:
            live = LiveSitting(opened, opened.study.seat(number))
            live.read_on()
            live.join(opened.clock.now())
            return live

        self._hold_what(joined)

    def _take_up(self, number: int) -> None:
        """Go on with a sitting, once its seat is held for this station where others could go on with it as well."""
        if self.session.opened.store.link is None:
            self._take_up_held(number)
        else:
            self._hold_seat(number, again=True)

    def _take_up_held(self, number: int) -> None:
        """Go on with a sitting; the gap in the log is asked about first, but for a recording."""
        from fresh_chair.services.sitting.recording import taken_up

        opened = self.session.opened
        try:
            live = taken_up(opened, number)
        except FreshChairError as problem:
            self.say_problem(problem)
            return
        if opened.recorded(number):
            self._hold(live)
        else:
            self._ask_about_gap(live)

    def _ask_about_gap(self, live: "LiveSitting") -> None:
        from fresh_chair.tui.sit.resume import Resume

        try:
            interruption = live.interruption(live.opened.clock.now())
        except FreshChairError as problem:
            self.say_problem(problem)
            return

        def decided(gap: "Gap | None") -> None:
            self._beaten_ns = running_ns()
            if gap is None:
                self.session.live = None
                self.post_message(Go("plan"))
                return
            try:
                live.resume(interruption, gap, live.opened.clock.now())
            except FreshChairError as problem:
                self.say_problem(problem)
                return
            self._hold(live)

        self.push_screen(Resume(live, interruption), decided)

    # While one is in hand

    def _beat(self) -> None:
        now_ns = running_ns()
        asleep, self._beaten_ns = now_ns - self._beaten_ns > ASLEEP_NS, now_ns
        live = self.session.in_hand
        if live is None or live.opened.observes or live.opened.recorded(live.seat.number):
            return
        if not asleep:
            self._write_beat(live)
            if live.opened.store.link is not None:
                self._look_for_both(live)
        elif self.front is not None:
            # The machine was suspended or the program was stopped; a beat now would hide that it was.
            self._ask_about_gap(live)

    def _look_for_both(self, live: "LiveSitting") -> None:
        """Ask, between two attempts and once, about a sitting that another station logs as well."""
        from fresh_chair.services.sitting.seating import at_two_stations

        said, place = at_two_stations(live.opened, live.seat.number), self.front
        if said in ("", self._asked_of_both) or place is None or place.asking or live.state.phase is Phase.RUNNING:
            return
        self._asked_of_both = said
        self._ask_of_both(live, place, said)

    @asks
    async def _ask_of_both(self, live: "LiveSitting", place: Place, said: str) -> None:
        """Ask whether a sitting goes on here that another station logs as well."""
        place.tell(said, colour="$clay")
        place.said_while_asking()
        if await place.ask_sure("Break yours off?", "break it off"):
            place.attempt(lambda: live.break_off("it went on at another station", live.now()))
            self.post_message(Go("plan"))

    @work(thread=True, exclusive=True, group="beat", description="write beat")
    def _write_beat(self, live: "LiveSitting") -> None:
        try:
            live.beat(live.opened.clock.now())
        except FreshChairError as problem:
            self.call_from_thread(self.say_problem, problem)
