"""The base of Sit: drawing a sitting, and the way of an entry from a key to the disk to the screen."""

from collections.abc import Callable
from pathlib import Path

from textual import events, on
from textual.app import ComposeResult
from textual.containers import Vertical, VerticalScroll
from textual.content import Content
from textual.widgets import Static

from fresh_chair.core.clock import Moment
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.text import count_of
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.questions import NextQuestion
from fresh_chair.services.sitting.timebox import Timebox
from fresh_chair.services.sitting.view import SittingView, look_back, sitting_view
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.sit.widgets.clock_panel import ClockPanel
from fresh_chair.tui.sit.widgets.journal_view import JournalView
from fresh_chair.tui.sit.widgets.sitting_panels import (
    cards_strip,
)


class SitBase(Place):
    """Draws a sitting, live or looked back at."""

    CSS_PATH = Path(__file__).parents[1] / "screen.tcss"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._drawn: object = None
        self._told_of = ""
        # What is asked next of one answer in several steps, before there is one.
        self.following: NextQuestion | None = None
        self._strip: object = ""

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
        self.every(0.2, self.tick)
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
        stage, tellable = (self.size, live, told, self.stage_key()), self.tellable()
        if tellable != self._told_of:
            self._told_of = tellable
            self.refresh_bindings()
        if stage != self._drawn or not live:
            self._drawn = stage
            self.query_one("#card", Static).update(self.stage(view))
            self._strip = ""
            self.query_one(ClockPanel).display = timed
            self.set_class(timed, "timed")
            self.set_class(view is not None and not live, "back")
            self.follow()
            self.refresh_bindings()
        self.tick()
        self._draw_journal()

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

    def tick(self) -> None:
        """Bring the clock and the strip up to now."""
        live = self.live
        self.follow_chair()
        if live is not None and live.state.phase in (Phase.RUNNING, Phase.JUDGING):
            face = live.face(self.now())
            if face is not None:
                self.query_one(ClockPanel).show(face)
        self._draw_strip()

    def _draw_strip(self) -> None:
        """Draw the cards, the attempts left running, and the promised time, where a word of them has changed."""
        live = self.live
        said = None if live is None else self.strip_words(live)
        if said == self._strip:
            return
        self._strip = said
        strip = self.query_one("#strip", Static)
        if live is None or said is None:
            strip.update("")
            return
        left, promised, beside = said
        strip.update(cards_strip(live.view(), self.signs, left=left, promised=promised, beside=beside))

    def now(self) -> Moment:
        """The present moment, to be taken first thing at a key press; a recording has its own."""
        live = self.live
        return self.session.opened.clock.now() if live is None else live.now()

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

    def read_on(self) -> None:
        """Show the entries of other writers."""
        self.draw()
        if not self.asking:
            self.ask_on()

    def stage(self, view: SittingView | None) -> Content:
        """The card, or the question in its stead."""
        raise NotImplementedError

    def stage_key(self) -> object:
        """Things the stage shows besides the view; it is drawn anew where they differ."""
        raise NotImplementedError

    def tellable(self) -> str:
        """Whether a wait or a help may be told more of now; empty for neither."""
        raise NotImplementedError

    def strip_words(self, live: LiveSitting) -> tuple[str, Timebox | None, str]:
        """Attempts left running, the promised time, and other watchers or the time code of a recording."""
        raise NotImplementedError

    def follow_chair(self) -> None:
        """Put down the answer of the chair, and ask it before a card."""
        raise NotImplementedError

    def ask_on(self) -> None:
        """Ask the question the sitting waits for."""
        raise NotImplementedError
