"""Sit: the card, the clock, the marks. One key each, the moment is that of the key."""

from collections.abc import Callable
from typing import ClassVar

from textual import events, on
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Vertical, VerticalScroll
from textual.widgets import Static

from fresh_chair.core import journal as j
from fresh_chair.core.clock import Moment, clock_text
from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.outcome import Outcome
from fresh_chair.core.sitting import Phase
from fresh_chair.services.live import LiveSitting
from fresh_chair.services.sitting_view import SittingView, look_back, sitting_view
from fresh_chair.tui.place import Place
from fresh_chair.tui.signs import OUTCOME_COLOUR
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.clock_panel import ClockPanel
from fresh_chair.tui.widgets.journal_view import JournalView
from fresh_chair.tui.widgets.sitting_panels import (
    card_panel,
    cards_strip,
    ease_panel,
    summary_panel,
    usability_panel,
)

_NOBODY = """Nobody is sitting.

Plan (1) shows who is next; Enter there seats them.
"""
OUTCOME_KEYS = dict(zip("uhpgtbv", Outcome, strict=True))
_RUNNING = {Phase.RUNNING}
# In which phases each key works; one that is not listed works whenever a sitting is open.
_WHEN: dict[str, set[Phase]] = {
    "start": {Phase.READING},
    "pass_card": {Phase.READING},
    "break_off": {Phase.READING, Phase.EASE, Phase.USABILITY, Phase.CLOSING, Phase.RUNNING, Phase.JUDGING},
    "wait": _RUNNING,
    "aside": _RUNNING,
    "helped": _RUNNING,
    "wrong_place": _RUNNING,
    "said_done": _RUNNING,
    "stop": _RUNNING,
    "judge": {Phase.JUDGING},
    "rate": {Phase.EASE},
    "answer": {Phase.USABILITY},
    "close_sitting": {Phase.CLOSING},
}


class Sit(Place):
    """A sitting, live or looked back at."""

    place = "sit"
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("enter", "start", "start the clock", id="sit.start", tooltip="The card was read; the clock starts"),
        Binding("enter", "judge", "how it ended", id="sit.judge", tooltip="Say how the attempt ended"),
        Binding("enter", "rate", "ease", id="sit.rate", tooltip="Ask how easy it was"),
        Binding("enter", "answer", "next statement", id="sit.answer", tooltip="Ask the usability scale"),
        Binding("enter", "close_sitting", "ends the sitting", id="sit.close", tooltip="The participant gets up"),
        Binding("enter", "stop", "ends", id="sit.stop", tooltip="The clock stops; how it ended is asked next"),
        Binding("w", "wait", "waiting", id="sit.wait", tooltip="The machine is busy, from here or no longer"),
        Binding("s", "snag", "snag", id="sit.snag", tooltip="A trouble, now; words follow"),
        Binding("a", "aside", "aside", id="sit.aside", tooltip="Talk or telephone, from here or no longer"),
        Binding("h", "helped", "helped", id="sit.helped", tooltip="You helped"),
        Binding("p", "wrong_place", "wrong place", id="sit.wrong_place", tooltip="Looked where the thing is not"),
        Binding("d", "delight", "delight", id="sit.delight", tooltip="Something that pleased, now; words follow"),
        Binding("f", "said_done", "says done", id="sit.said_done", tooltip="The participant says it is finished"),
        Binding("x", "pass_card", "pass over", id="sit.pass", tooltip="Leave this card out, with why"),
        Binding("n", "note", "note", id="sit.note", tooltip="Anything else worth keeping, now; words follow"),
        Binding("u", "undo", "take back", id="sit.undo", tooltip="Strike the last entry, as a correction"),
        Binding("e", "words", "words", id="sit.words", tooltip="Write the words that are still to come"),
        Binding("B", "break_off", "break off", id="sit.break_off", tooltip="End the sitting before its end, with why"),
    ]

    def middle(self) -> ComposeResult:
        """Card and clock, the journal at the right."""
        with Vertical(classes="main", id="sitting"):
            with VerticalScroll(id="card-scroll", can_focus=False):
                yield Static(id="card", markup=False)
            yield ClockPanel(self.signs)
            yield Static(id="strip", markup=False)
            yield JournalView(id="journal-below")
        yield JournalView(id="journal", title="journal   (u takes back the last)")

    def arrived(self) -> None:
        """Show the state and go on asking what was being asked."""
        self.set_interval(0.2, self._tick)
        self.draw()
        self._ask_on()

    @property
    def live(self) -> LiveSitting | None:
        """The sitting that is being logged."""
        return self.session.in_hand

    def _view(self) -> SittingView | None:
        if self.live is not None:
            return self.live.view()
        if self.session.looking_at is not None:
            return sitting_view(self.session.desk, self.session.looking_at)
        return None

    def draw(self) -> None:
        """Draw everything but the clock's digits."""
        view = self._view()
        card = self.query_one("#card", Static)
        clock = self.query_one(ClockPanel)
        if view is None:
            card.update(_NOBODY)
        elif view.phase is Phase.EASE:
            card.update(ease_panel(view, self.signs))
        elif view.phase is Phase.USABILITY:
            card.update(usability_panel(view, self._item(view)))
        elif view.card is not None and self.live is not None:
            room = card.size.width if self.size.height >= 34 and view.phase is not Phase.JUDGING else 0
            card.update(card_panel(view, self.signs, width=room))
        else:
            card.update(summary_panel(view, self.signs))
        timed = view is not None and self.live is not None and view.phase in (Phase.RUNNING, Phase.JUDGING)
        clock.display = timed
        self.set_class(timed, "timed")
        self.query_one("#strip", Static).update(
            cards_strip(view, self.signs) if view is not None and self.live is not None else ""
        )
        self._tick()
        self._draw_journal()
        self.follow()
        self.refresh_bindings()

    @on(events.Resize)
    def _redraw(self) -> None:
        self.call_after_refresh(self.draw)

    def _draw_journal(self) -> None:
        for which in ("#journal", "#journal-below"):
            journal = self.query_one(which, JournalView)
            if self.live is not None:
                journal.show(self.live.lines(max(journal.rows, 40)))
            elif self.session.looking_at is not None:
                journal.show(look_back(self.session.desk, self.session.looking_at))

    def _tick(self) -> None:
        live = self.live
        if live is not None and live.state.phase in (Phase.RUNNING, Phase.JUDGING):
            self.query_one(ClockPanel).show(live.face(self._now()))

    def _now(self) -> Moment:
        return self.session.desk.clock.now()

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """A key that means nothing now does nothing, and is not shown."""
        own = action in _WHEN or action in ("snag", "delight", "note", "undo", "words")
        if own and self.is_mounted:
            live = self.live
            if live is None:
                return action == "words" and self.session.looking_at is not None and self._can_word()
            if live.state.phase not in _WHEN.get(action, {live.state.phase}):
                return False
            if action == "words" and not live.words_waiting():
                return False
        return super().check_action(action, parameters)

    def _can_word(self) -> bool:
        view = self._view()
        return view is not None and view.words_waiting > 0 and self.session.desk.writable

    def _log(self, act: Callable[[LiveSitting], object]) -> bool:
        live = self.live
        if live is None:
            return False
        done = self.attempt(lambda: act(live))
        self.draw()
        return done

    def _ask_on(self) -> None:
        """Ask what the sitting waits for, where it waits for an answer."""
        live = self.live
        if live is None:
            return
        phase = live.state.phase
        if phase is Phase.JUDGING:
            self.action_judge()
        elif phase is Phase.EASE:
            self.action_rate()
        elif phase is Phase.USABILITY:
            self.action_answer()

    # Between cards

    def action_start(self) -> None:
        """Start the clock."""
        now = self._now()
        live = self.live
        if live is not None and live.state.card is not None:
            card = live.state.card
            self._log(lambda sitting: sitting.log(j.AttemptStarted(card), now))

    def action_pass_card(self) -> None:
        """Leave a card out, with why."""
        live = self.live
        if live is None or live.state.card is None:
            return
        card = live.state.card

        def passed(reason: str) -> bool:
            if not reason.strip():
                self.tell("Passing over a card needs a reason; Esc keeps the card.", colour="$clay")
                return False
            done = self._log(lambda sitting: sitting.log(j.CardPassed(card, reason.strip()), self._now()))
            if done:
                self._ask_on()
            return done

        self.ask_words("why is this card left out?", passed)

    def action_break_off(self) -> None:
        """End the sitting before its end."""

        def broken(reason: str) -> bool:
            live = self.live
            if live is None or not reason.strip():
                self.tell("Breaking off needs a reason; Esc goes on with the sitting.", colour="$clay")
                return False
            number = live.seat.number
            done = self._log(lambda sitting: sitting.break_off(reason.strip(), self._now()))
            if done:
                self.session.looking_at = number
                self.draw()
            return done

        self.ask_words("why is the sitting broken off?", broken, cancelled=self._ask_on)

    def action_close_sitting(self) -> None:
        """The participant gets up."""
        live = self.live
        if live is not None:
            self.session.looking_at = live.seat.number
            self._log(lambda sitting: sitting.log(j.SittingEnded(), self._now()))

    # While the clock runs

    def action_wait(self) -> None:
        """The machine is busy, or no longer."""
        now = self._now()
        self._log(lambda sitting: sitting.toggle_wait(now))

    def action_aside(self) -> None:
        """An interruption, or its end."""
        now = self._now()
        self._log(lambda sitting: sitting.toggle_aside(now))

    def action_helped(self) -> None:
        """You helped."""
        now = self._now()
        self._log(lambda sitting: sitting.log(j.Helped(), now))

    def action_wrong_place(self) -> None:
        """Looked where the thing is not."""
        now = self._now()
        self._log(lambda sitting: sitting.log(j.WrongPlace(), now))

    def action_said_done(self) -> None:
        """Says it is done."""
        now = self._now()
        self._log(lambda sitting: sitting.log(j.SaidDone(), now))

    def action_snag(self) -> None:
        """A trouble, now."""
        self._remark(j.SnagSeen())

    def action_delight(self) -> None:
        """Something that pleased, now."""
        self._remark(j.DelightSeen())

    def action_note(self) -> None:
        """Anything else, now."""
        self._remark(j.NoteTaken())

    def _remark(self, content: j.Wordable) -> None:
        now = self._now()
        live = self.live
        if live is None:
            return
        resume = live.state.phase in (Phase.JUDGING, Phase.EASE, Phase.USABILITY)
        try:
            entry = live.log(content, now)
        except FreshChairError as problem:
            self.tell_problem(problem)
            return
        self.clear_notice()
        self.draw()
        self._ask_for_words(entry.id, content.kind, then=self._ask_on if resume else None)

    def _ask_for_words(self, entry: str, kind: str, then: Callable[[], None] | None = None) -> None:
        live = self.live
        if live is None:
            return
        remark = live.state.remarks[entry]

        def worded(words: str) -> bool:
            if words.strip() and not self._log(
                lambda sitting: sitting.log(j.Worded(entry, words.strip()), self._now())
            ):
                return False
            if then is not None:
                self.call_after_refresh(then)
            return True

        self.ask_words(f"{kind} at {clock_text(remark.at_ns)}", worded, cancelled=then)

    def action_words(self) -> None:
        """Write the oldest words that are still to come."""
        live = self.live
        if live is None:
            number = self.session.looking_at
            if number is None:
                return
            live = LiveSitting(self.session.desk, self.session.desk.study.seat(number))
        waiting = live.words_waiting()
        if not waiting:
            return
        entry = waiting[0]
        remark = live.state.remarks[entry]
        writer = live

        def worded(words: str) -> bool:
            if not words.strip():
                return True
            done = self.attempt(lambda: writer.log(j.Worded(entry, words.strip()), self._now()))
            self.draw()
            if done and writer.words_waiting():
                self.call_after_refresh(self.action_words)
            return done

        left = f", {len(waiting) - 1} more" if len(waiting) > 1 else ""
        self.ask_words(f"{remark.kind} at {clock_text(remark.at_ns)}{left}", worded, cancelled=self._ask_on)

    def action_undo(self) -> None:
        """Take the last entry back."""
        live = self.live
        if live is None:
            return
        struck: list[j.Entry] = []
        if self._log(lambda sitting: struck.append(sitting.undo(self._now()))):
            self.tell(f"Taken back: {struck[0].content.kind.replace('_', ' ')}. It stays in the journal, struck.")
            self._ask_on()

    # The end of an attempt

    def action_stop(self) -> None:
        """Stop the clock, then ask how it ended."""
        now = self._now()
        if self._log(lambda sitting: sitting.log(j.AttemptStopped(), now)):
            self.action_judge()

    def action_judge(self) -> None:
        """Ask how the attempt ended."""
        choices = [Choice(key, outcome.words, OUTCOME_COLOUR[outcome]) for key, outcome in OUTCOME_KEYS.items()]
        self.ask_choice("how did it end? (Esc: the clock goes on)", choices, self._judged, cancelled=self._go_on)

    def _go_on(self) -> None:
        live = self.live
        if live is not None and live.state.phase is Phase.JUDGING:
            self._log(lambda sitting: sitting.undo(self._now(), "the attempt went on"))

    def _judged(self, key: str) -> None:
        outcome = OUTCOME_KEYS[key]
        if outcome.needs_reason:
            asked = "what failed in the test?" if outcome is Outcome.VOID else "what made it impossible?"

            def reasoned(reason: str) -> bool:
                if not reason.strip():
                    self.tell(f"“{outcome.words}” needs a reason; Esc chooses again.", colour="$clay")
                    return False
                return self._judge(outcome, reason.strip())

            self.ask_words(asked, reasoned, cancelled=self._judge_again)
        elif not self._judge(outcome, ""):
            self._judge_again()

    def _judge_again(self) -> None:
        self.call_after_refresh(self.action_judge)

    def _judge(self, outcome: Outcome, reason: str) -> bool:
        done = self._log(lambda sitting: sitting.log(j.OutcomeJudged(outcome, reason), self._now()))
        if done:
            self._warn_of_wrong_done()
            self.call_after_refresh(self._ask_on)
        return done

    def _warn_of_wrong_done(self) -> None:
        live = self.live
        if live is None:
            return
        attempt = live.state.attempts[-1]
        if (
            attempt.said_done
            and attempt.outcome is not None
            and attempt.outcome.counts
            and not attempt.outcome.completed
        ):
            self.tell("Said done, was not: it is counted on its own.", colour="$plum")

    def action_rate(self) -> None:
        """Ask how easy it was."""
        choices = [Choice(str(score), "", "$plum") for score in range(1, 8)]
        choices[0] = Choice("1", "very difficult", "$plum")
        choices[6] = Choice("7", "very easy", "$plum")
        choices.append(Choice("-", "no answer", "$thread"))

        def rated(key: str) -> None:
            score = None if key == "-" else int(key)
            if self._log(lambda sitting: sitting.log(j.EaseRated(score), self._now())):
                self.call_after_refresh(self._ask_on)

        self.ask_choice("ease (Esc: later)", choices, rated, cancelled=lambda: None)

    def _item(self, view: SittingView) -> int:
        return next((item for item in range(1, 11) if item not in view.usability), 10)

    def action_answer(self) -> None:
        """Ask the next statement of the usability scale."""
        view = self._view()
        if view is None:
            return
        item = self._item(view)
        choices = [Choice(str(score), "", "$plum") for score in range(1, 6)]
        choices += [Choice("-", "left out", "$thread"), Choice("u", "take back", "$thread")]
        if not view.usability:
            choices[-1] = Choice("x", "do not ask it", "$thread")

        def answered(key: str) -> None:
            if key == "u":
                self.action_undo()
                return
            content: j.Content = j.UsabilityDeclined()
            if key != "x":
                content = j.UsabilityAnswered(item, None if key == "-" else int(key))
            if self._log(lambda sitting: sitting.log(content, self._now())):
                self.call_after_refresh(self._ask_on)

        self.ask_choice(f"statement {item} of 10", choices, answered, cancelled=lambda: None)
