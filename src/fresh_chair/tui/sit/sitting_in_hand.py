"""The sitting that must not be lost: begun, taken up, followed while others write it, and alive."""

import contextlib
from collections.abc import Callable
from typing import TYPE_CHECKING

from textual import on, work
from textual.app import App
from textual.message import Message

from fresh_chair.core.errors import FreshChairError, Refused
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.text import count_of, legible
from fresh_chair.services.system.clock import running_ns
from fresh_chair.tui.base.frame import Go
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.plan.screen import RecordingRequested, SeatRequested
from fresh_chair.tui.widgets.dialogue import Conversation, Dialogue, asks

if TYPE_CHECKING:
    from fresh_chair.core.sitting.journal import Entry, Gap
    from fresh_chair.services.sitting.live import LiveSitting

BEAT_SECONDS = 2.0
LOOK_SECONDS = 0.4
# Every so many looks a program without a sitting in hand looks for other programs' changes.
_LOOKS_APART = 4
# So long without a beat, and the machine or the program was asleep.
ASLEEP_NS = 20_000_000_000


class Logged(Message):
    """Entries of other writers in the sitting in hand, as far as they were looked for."""

    def __init__(self, live: "LiveSitting", fresh: "list[Entry]") -> None:
        super().__init__()
        self.live, self.fresh = live, fresh


class WentOn(Message):
    """Sittings in which another program has logged, as far as anybody has looked."""

    def __init__(self, numbers: list[int]) -> None:
        super().__init__()
        self.numbers = numbers


class Changed(Message):
    """Whether another program has changed the plan or a sitting since they were read here."""

    def __init__(self, behind: bool) -> None:
        super().__init__()
        self.behind = behind


class SittingKeeping(App[None]):
    """Seats people, takes up a sitting that was cut short, and merges the entries of other writers."""

    session: Session
    _looking = False
    _looks = 0
    _beaten_ns = 0
    _apart = 0

    def keep_sittings(self) -> None:
        """Ask about a sitting that was cut short, and begin to look after the one in hand."""
        opened = self.session.opened
        self._beaten_ns = running_ns()
        self.set_interval(BEAT_SECONDS, self._beat)
        self.set_interval(LOOK_SECONDS, self._look)
        if opened.observes:
            found = opened.cut_short()
            if found:
                self.call_after_refresh(self._join, found[0].number)
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

    def say(self, words: str, *, colour: str = "$moss") -> None:
        """Say something in the place one is in."""
        if isinstance(self.screen, Place):
            self.screen.tell(words, colour=colour)

    def say_problem(self, problem: FreshChairError) -> None:
        """Say the problem in the place one is in."""
        if isinstance(self.screen, Place):
            self.screen.tell_problem(problem)

    def _tell_watching(self) -> None:
        if self.session.in_hand is None:
            self.say(f"You watch as {legible(self.session.opened.author)}; a sitting that is open is joined at once.")

    @work(thread=True, group="erase")
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
            self._join(message.number)
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
        if await self._agreed_to_seat(number):
            self._seat_now(number)

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

        opened, screen = self.session.opened, self.screen
        seat = opened.study.seat(number)
        objections = seating_objections(opened, seat)
        if not objections or not isinstance(screen, Place):
            return True
        prompt = f"{seat.participant} at {seat.chair}: {'; '.join(objections)}. Seat them all the same?"
        return await screen.ask_sure(prompt, "seat them")

    def _seat_now(self, number: int) -> None:
        from fresh_chair.services.sitting.live import LiveSitting

        opened = self.session.opened

        def begun() -> LiveSitting:
            live = LiveSitting(opened, opened.study.seat(number))
            live.begin(opened.clock.now())
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

    def _join(self, number: int) -> None:
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
        elif isinstance(self.screen, Place):
            # The machine was suspended or the program was stopped; a beat now would hide that it was.
            self._ask_about_gap(live)

    @work(thread=True, exclusive=True, group="beat")
    def _write_beat(self, live: "LiveSitting") -> None:
        try:
            live.beat(live.opened.clock.now())
        except FreshChairError as problem:
            self.call_from_thread(self.say_problem, problem)

    def _look(self) -> None:
        """Look for the entries of other writers, and bring spooled ones back."""
        if self._looking:
            return
        live, opened = self.session.in_hand, self.session.opened
        if live is not None:
            self._bring_back(live.bring_back)
            self._looking = True
            self._read_on(live)
        elif opened.observes:
            self._looking = True
            self._look_for_sitting()
        else:
            self._bring_back(opened.bring_back)
            self._looks += 1
            if opened.adds and self._looks % _LOOKS_APART == 0:
                self._looking = True
                self._look_for_changes()

    def _bring_back(self, bring_back: Callable[[], bool]) -> None:
        spool = self.session.opened.spool
        waited, self._apart = self._apart, spool.waiting
        if not spool.waiting:
            return
        try:
            back = bring_back()
        except FreshChairError as problem:
            self.say_problem(problem)
            return
        if back:
            self._apart = 0
            self.say("The marks that lay in a second place are in the study file.")
        elif waited != spool.waiting:
            self.say(spool.words, colour="$clay")

    @work(thread=True, group="look")
    def _read_on(self, live: "LiveSitting") -> None:
        fresh: list[Entry] = []
        # Whoever writes the next mark says what is wrong with the file.
        with contextlib.suppress(FreshChairError):
            if live.opened.store.home.there:
                fresh = live.unread()
        self.post_message(Logged(live, fresh))

    @on(Logged)
    def _take_in(self, message: Logged) -> None:
        self._looking = False
        try:
            anything = message.live.take_in(message.fresh)
        except FreshChairError as problem:
            self.say_problem(problem)
            return
        if anything and isinstance(self.screen, Place):
            self.screen.read_on()

    @work(thread=True, group="look")
    def _look_for_sitting(self) -> None:
        found: list[int] = []
        with contextlib.suppress(FreshChairError):
            found = self.session.opened.replayed.gone_on()
        self.post_message(WentOn(found))

    @work(thread=True, group="look")
    def _look_for_changes(self) -> None:
        behind = False
        with contextlib.suppress(FreshChairError):
            behind = self.session.opened.behind()
        self.post_message(Changed(behind))

    @on(Changed)
    def _take_in_changes(self, message: Changed) -> None:
        """Show another program's changes, unless a question or a sitting is open."""
        self._looking = False
        # The program may be leaving already.
        screen = self.screen if self.screen_stack else None
        if not message.behind or self.session.in_hand is not None or not isinstance(screen, Place) or screen.asking:
            return
        try:
            # Once more, from here: a mark that was just written looked like another program's from the thread.
            if not self.session.opened.behind():
                return
            self.session.opened.read_on()
        except FreshChairError as problem:
            self.say_problem(problem)
            return
        screen.read_on()

    @on(WentOn)
    def _join_what_began(self, message: WentOn) -> None:
        self._looking = False
        opened = self.session.opened
        # The program may be leaving already.
        screen = self.screen if self.screen_stack else None
        if not message.numbers or self.session.in_hand is not None or not isinstance(screen, Place) or screen.asking:
            return
        try:
            opened.reload()
        except FreshChairError as problem:
            self.say_problem(problem)
            return
        open_ones = [seat.number for seat in opened.cut_short()]
        if open_ones:
            self._join(open_ones[0])
        else:
            screen.read_on()
