"""The base of Sit: drawing a sitting, and the way of an entry from a key to the disk to the screen."""

from collections.abc import Callable
from pathlib import Path

from textual import events, on
from textual.app import ComposeResult
from textual.binding import Binding
from textual.containers import Vertical, VerticalScroll
from textual.content import Content
from textual.widgets import Static

from fresh_chair.core.clock import Moment
from fresh_chair.core.figures.duration import CardTime
from fresh_chair.core.plan.study import Seat
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.rules import may_follow
from fresh_chair.core.sitting.state.sitting import Phase
from fresh_chair.core.text import count_of, legible
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.preconditions import BenchLine, bench_lines, unasked_consents
from fresh_chair.services.sitting.questions import NextQuestion, next_ask
from fresh_chair.services.sitting.timebox import Timebox, in_minutes, likely_times, timebox
from fresh_chair.services.sitting.view import SittingView, look_back, sitting_view
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.sit.widgets.clock_panel import ClockPanel
from fresh_chair.tui.sit.widgets.journal_view import JournalView
from fresh_chair.tui.sit.widgets.sitting_panels import (
    bench_panel,
    card_panel,
    cards_strip,
    ease_panel,
    greeting_panel,
    left_panel,
    question_panel,
    summary_panel,
    usability_panel,
)
from fresh_chair.tui.widgets.signs import chair_colour

# The entry that each key logs; where one may follow, its key is offered.
LOGS: dict[str, str] = {
    **{kind: kind for kind in (*j.WORDABLE, "helped", "wrong_place", "said_done")},
    "start": "attempt_started",
    "meet": "attempt_started",
    "pass_card": "card_passed",
    "leave_running": "left_running",
    "take_up": "taken_up",
    "left_ready": "left_ready",
    "restart": "marked",
    "once_more": "card_reopened",
    "wait": "wait_began",
    "aside": "aside_began",
    "mark": "marked",
    "visit": "place_visited",
    "step": "step_reached",
    "stop": "attempt_stopped",
    "judge": "outcome_judged",
    "rate": "ease_rated",
    "answer": "usability_answered",
    "close_sitting": "sitting_ended",
}
# Narrower than the rules: the scale is asked once, and declined by a key of its own before the sitting ends.
_ONLY = {"answer": Phase.USABILITY, "close_sitting": Phase.CLOSING}


def offered(action: str, phase: Phase, *, observed: bool = False) -> bool:
    """Whether a key of Sit may log its entry in a phase; breaking off logs as many as the phase needs."""
    if action == "break_off":
        return phase.open and not observed
    return may_follow(LOGS[action], phase, observed=observed) and phase is _ONLY.get(action, phase)


class SitBase(Place):
    """Draws a sitting, live or looked back at."""

    CSS_PATH = Path(__file__).with_name("screen.tcss")

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._stage: object = None
        self._told_of = ""
        # What is asked next of one answer in several steps, before there is one.
        self.following: NextQuestion | None = None
        self._strip: object = ""
        self._likely: tuple[int, dict[tuple[str, str], CardTime]] | None = None

    def middle(self) -> ComposeResult:
        """Card and clock, the journal at the right."""
        with Vertical(classes="main", id="sitting"):
            with VerticalScroll(id="card-scroll", can_focus=False):
                yield Static(id="card", markup=False)
            yield ClockPanel(self.signs)
            yield Static(id="strip", markup=False)
            yield JournalView(id="journal-below")
        yield JournalView(id="journal")

    def arrived(self) -> None:
        """Show the state and go on asking the open question."""
        self.set_interval(0.2, self._tick)
        self.draw()
        self.ask_on()

    @property
    def live(self) -> LiveSitting | None:
        """The sitting that is being logged."""
        return self.session.in_hand

    def view(self) -> SittingView | None:
        """The sitting in hand, or the one that is looked back at."""
        if self.live is not None:
            return self.live.view()
        if self.session.looking_at is not None:
            return sitting_view(self.session.opened, self.session.looking_at)
        return None

    def draw(self) -> None:
        """Draw everything but the clock's digits; unchanged parts are left as they are."""
        view = self.view()
        live = self.live is not None
        timed = view is not None and live and view.phase in (Phase.RUNNING, Phase.JUDGING)
        told = None
        if view is not None:
            told = (view.phase, view.card, view.usability, view.words_waiting, view.witnesses, view.left, view.asked)
        stage, tellable = (self.size, live, told, self.before, self.following), self.tellable()
        if tellable != self._told_of:
            self._told_of = tellable
            self.refresh_bindings()
        if stage != self._stage or not live:
            self._stage = stage
            self.query_one("#card", Static).update(self._nobody() if view is None else self._card(view))
            self._strip = ""
            self.query_one(ClockPanel).display = timed
            self.set_class(timed, "timed")
            self.set_class(view is not None and not live, "back")
            self.follow()
            self.refresh_bindings()
        self._tick()
        self._draw_journal()

    @property
    def next_seat(self) -> Seat | None:
        """The next seat, where the chair is free and a person can be seated."""
        opened = self.session.opened
        if self.live is not None or self.session.looking_at is not None or not opened.writable:
            return None
        return min(opened.to_run(), key=lambda seat: seat.number, default=None)

    def _nobody(self) -> Content:
        """The next person, at which chair, with which cards."""
        seat, study = self.next_seat, self.session.opened.study
        if seat is None:
            return Content.styled(
                "Nobody is sitting, and nobody is next: Plan (1) is where people are invited.", "$chalk"
            )
        chair = study.chair_by_letter[seat.chair]
        titles = [legible(study.card_by_id[card].title) for card in seat.cards]
        return Content("\n").join(
            [
                Content.styled("Nobody is sitting.", "$thread"),
                Content(""),
                Content.assemble(
                    ("next ", "$thread"),
                    (seat.participant, "bold $lamp"),
                    (" at ", "$thread"),
                    (f"{chair.letter} {legible(chair.title)}", f"bold {chair_colour(chair)}"),
                    (f", sitting {seat.number}, with {count_of(len(titles), 'card')}", "$thread"),
                ),
                Content(""),
                *(Content.styled(f"  {index}  {title}", "$chalk") for index, title in enumerate(titles, start=1)),
                Content(""),
                Content.assemble(("Enter", "bold $lamp"), (" seats them.", "$thread")),
            ]
        )

    def _card(self, view: SittingView) -> Content:
        if view.phase is Phase.EASE:
            return ease_panel(view, self.signs)
        if view.phase is Phase.USABILITY:
            return usability_panel(view, self.item(view), width=self.query_one("#card").size.width)
        if self.before:
            return self._before(view)
        ask = next_ask(self.live) if self.live is not None and not self.session.opened.observes else None
        if ask is not None and ask.part != "before":
            below = [Content(""), summary_panel(view, self.signs)] if view.phase is Phase.CLOSING else []
            return Content("\n").join([question_panel(self.following or ask), *below])
        if view.card is not None and self.live is not None:
            airy = self.size.height >= 34 and view.phase is not Phase.JUDGING
            card = card_panel(view, self.signs, width=self.query_one("#card").size.width if airy else 0)
            first = not self.live.state.attempts and not view.lines[0].passed
            if view.phase is Phase.READING and first and view.seat.number not in self.session.greeted:
                return Content("\n").join([card, Content(""), *self._bench(view)])
            return card
        if view.phase is Phase.LEFT_RUNNING and self.live is not None:
            return left_panel(view, self.signs)
        return summary_panel(view, self.signs)

    @property
    def before(self) -> bool:
        """True while the words before the first card are to be read."""
        live, opened = self.live, self.session.opened
        if live is None or opened.observes or live.seat.number in self.session.greeted:
            return False
        state = live.state
        if state.phase is not Phase.READING or state.attempts or state.passed or state.recording is not None:
            return False
        return bool(opened.study.sheet.greeting or unasked_consents(opened.study, live.seat))

    def _before(self, view: SittingView) -> Content:
        study = self.session.opened.study
        greeting = greeting_panel(study.sheet.greeting, unasked_consents(study, view.seat))
        return Content("\n").join([*greeting, Content(""), *self._bench(view)])

    def _bench(self, view: SittingView) -> list[Content]:
        live = self.live
        found = next((e.content for e in (live.entries if live else ()) if isinstance(e.content, j.ChairFound)), None)
        lines = bench_lines(self.session.opened, view.seat, found or j.ChairFound("not checked"))
        promised = self._promised(live) if live is not None else None
        if promised is not None:
            sheet = self.session.opened.study.sheet
            words = f"likely {promised.needed:.0f} minutes from here; {sheet.minutes_per_sitting} were promised"
            lines.append(BenchLine(words, promised.fits))
        return bench_panel(lines, self.signs)

    @on(events.Resize)
    def _redraw(self) -> None:
        self.call_after_refresh(self.draw)

    def _draw_journal(self) -> None:
        for journal in self.query(JournalView):
            if not journal.display:
                continue
            if self.live is not None:
                journal.show(self.live.lines(journal.wanted), "journal   (u takes back the last)")
            elif self.session.looking_at is not None:
                lines = look_back(self.session.opened, self.session.looking_at)
                journal.show(lines, f"journal, {count_of(len(lines), 'line')}")

    def _tick(self) -> None:
        live = self.live
        self.follow_witness()
        self.witness("before")
        if live is not None and live.state.phase in (Phase.RUNNING, Phase.JUDGING):
            face = live.face(self.now())
            if face is not None:
                self.query_one(ClockPanel).show(face)
        self._draw_strip()

    def _draw_strip(self) -> None:
        """Draw the cards, the attempts left running, and the promised time, where a word of them has changed."""
        live = self.live
        said = None if live is None else (self.left_in_words(), self._promised(live), self.beside())
        if said == self._strip:
            return
        self._strip = said
        strip = self.query_one("#strip", Static)
        if live is None or said is None:
            strip.update("")
            return
        left, promised, beside = said
        strip.update(cards_strip(live.view(), self.signs, left=left, promised=promised, beside=beside))

    def _promised(self, live: LiveSitting) -> Timebox | None:
        if self._likely is None or self._likely[0] != live.seat.number:
            self._likely = (live.seat.number, likely_times(live))
        return in_minutes(timebox(live, self._likely[1], self.now()))

    def left_in_words(self) -> str:
        """The attempts left running and for how long; the course knows."""
        return ""

    def beside(self) -> str:
        """Where a recording stands, who else watches; the others know."""
        return ""

    def now(self) -> Moment:
        """The present moment, to be taken first thing at a key press; a recording has its own."""
        live = self.live
        return self.session.opened.clock.now() if live is None else live.now()

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """A key that means nothing now does nothing, and is not shown."""
        logs = action in LOGS or action == "break_off"
        if action == "seat_next" and self.is_mounted:
            return self.next_seat is not None and super().check_action(action, parameters)
        if (logs or action in ("undo", "words")) and self.is_mounted:
            live = self.live
            if live is None:
                return action == "words" and self.session.looking_at is not None and self._can_word()
            if logs and not offered(action, live.state.phase, observed=live.opened.observes):
                return False
            if action == "words" and not live.words_waiting():
                return False
            if action in ("start", "meet") and (action == "meet") is not self.before:
                return False
        return super().check_action(action, parameters)

    def _can_word(self) -> bool:
        view = self.view()
        return view is not None and view.words_waiting > 0 and self.session.opened.writable

    def shows(self, binding: Binding) -> bool:
        """The other places are offered where no sitting needs the room."""
        return self.live is None or binding.id not in ("sit.board", "sit.sort")

    def action_look(self, rows: int) -> None:
        """Look back in the journal, or forward."""
        for journal in self.query(JournalView):
            journal.look(rows)
        self._draw_journal()

    def record(self, act: Callable[[LiveSitting], object]) -> bool:
        """Do something to the sitting in hand, then draw the new state of its journal. True where it was done."""
        live = self.live
        if live is None:
            return False
        done = self.attempt(lambda: act(live))
        for journal in self.query(JournalView):
            journal.newest()
        self.draw()
        return done

    def item(self, view: SittingView) -> int:
        """The first statement of the usability scale that has no answer."""
        return next((item for item in range(1, 11) if item not in view.usability), 10)

    def read_on(self) -> None:
        """Show the entries of other writers."""
        self.draw()
        if not self.asking:
            self.ask_on()

    def witness(self, when: str) -> None:
        """Ask the chair for its own answer; the marks know how."""

    def follow_witness(self) -> None:
        """Put down the chair's answer; the marks know how."""

    def tellable(self) -> str:
        """The entry that more may be told of now; the marks know."""
        return ""

    def point_at_contradiction(self) -> None:
        """Say where the chair's answer contradicts the judgement; the marks know how."""

    def ask_on(self) -> None:
        """Ask the question the sitting waits for; the endings know how."""
