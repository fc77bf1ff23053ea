"""The course of a sitting: cards begun, passed over, left running, tried again; how it ends."""

from collections.abc import Callable, Sequence

from textual.binding import Binding, BindingType

from fresh_chair.core.clock import clock_text
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.sitting.preconditions import unasked_consents
from fresh_chair.services.sitting.questions import next_ask
from fresh_chair.services.sitting.view import LeftLine
from fresh_chair.tui.plan.adding import ask_consents
from fresh_chair.tui.sit.marks import Marks
from fresh_chair.tui.widgets.asking import Choice

LEFT_KEYS: list[BindingType] = [
    Binding("i", "take_up", "back to it", id="sit.take_up", tooltip="Back to the card that was left running"),
    Binding(
        "minus", "left_ready", "it is ready", id="sit.ready", key_display="-",
        tooltip="What was left running has come to its end",
    ),
]  # fmt: skip
COURSE_KEYS: list[BindingType] = [
    Binding("i", "leave_running", "left running", id="sit.leave", tooltip="It works on; the next card meanwhile"),
    Binding(
        "comma", "restart('restart')", "restart", id="sit.restart", key_display=",",
        tooltip="The machine is restarted, for this card",
    ),
    Binding(
        "full_stop", "restart('new login')", "new login", id="sit.login", key_display=".",
        tooltip="Out and in again, for this card",
    ),
    Binding("t", "once_more", "try one again", id="sit.again", show=False, tooltip="A card once more, with why"),
    Binding(
        "backspace", "break_off", "break off", id="sit.break_off", key_display="Bksp",
        tooltip="End the sitting before its end, with why",
    ),
]  # fmt: skip


class Course(Marks):
    """Keys before, between and after cards."""

    def action_meet(self) -> None:
        """Note that the greeting was said; open consents are asked one by one."""
        live = self.live
        if live is None:
            return
        left = list(unasked_consents(self.session.opened.study, live.seat))

        def agreed() -> None:
            self.session.greeted.add(live.seat.number)
            self.draw()

        ask_consents(self, live.seat.participant, left, self.draw, agreed)

    def action_start(self) -> None:
        """Start the clock; open questions come first."""
        now = self.now()
        live = self.live
        ask = next_ask(live) if live is not None else None
        if ask is not None:
            self.ask_person(ask)
        elif live is not None and live.state.card is not None:
            card = live.state.card
            self.record(lambda sitting: sitting.log(j.AttemptStarted(card), now))

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
            done = self.record(lambda sitting: sitting.log(j.CardPassed(card, reason.strip()), self.now()))
            if done:
                self.ask_on()
            return done

        self.ask_words("why is this card left out?", passed)

    def action_break_off(self) -> None:
        """End the sitting before its end; where nothing was started, it may also be taken back."""
        live = self.live
        state = live.state if live is not None else None
        if state is None or state.attempts or state.passed or state.usability:
            self._ask_why_broken_off()
            return
        choices = [
            Choice("t", "nobody should have sat down: take it back", "$lamp"),
            Choice("b", "it is broken off", "$clay"),
        ]

        def chosen(key: str) -> None:
            if key == "b":
                self._ask_why_broken_off()
            else:
                self.ask_words("it was not meant, because:", self._unbegin, cancelled=self.ask_on)

        self.ask_choice("nothing was started yet (Esc: go on):", choices, chosen, cancelled=self.ask_on)

    def _unbegin(self, reason: str) -> bool:
        live = self.live
        if live is None:
            return True
        number = live.seat.number
        if not self.record(lambda sitting: sitting.unbegin(reason, self.now())):
            return False
        self.session.greeted.discard(number)
        self.session.live = self.session.looking_at = None
        self.action_go("plan")
        return True

    def _ask_why_broken_off(self) -> None:
        def broken(reason: str) -> bool:
            live = self.live
            if live is None or not reason.strip():
                self.tell("Breaking off needs a reason; Esc goes on with the sitting.", colour="$clay")
                return False
            number = live.seat.number
            done = self.record(lambda sitting: sitting.break_off(reason.strip(), self.now()))
            if done:
                self.session.looking_at = number
                self.draw()
            return done

        self.ask_words("why is the sitting broken off?", broken, cancelled=self.ask_on)

    def action_close_sitting(self) -> None:
        """End the sitting as the participant gets up; open questions come first."""
        live = self.live
        if live is None:
            return
        ask = next_ask(live)
        if ask is not None:
            self.ask_person(ask)
            return
        self.session.looking_at = live.seat.number
        if self.record(lambda sitting: sitting.log(j.SittingEnded(), self.now())):
            self._take_benchmarks(live.seat.chair, live.seat.participant)

    def _take_benchmarks(self, chair: str, code: str) -> None:
        """An expert's accepted runs become the benchmarks of the chair they were at."""
        opened = self.session.opened
        if opened.study.person_by_code[code].role != "expert":
            return
        from fresh_chair.services.sitting.benchmarks import take_benchmarks

        counts: list[int] = []
        if self.attempt(lambda: counts.append(take_benchmarks(opened, chair=chair))):
            changed = counts[0]
            self.tell(f"The expert's times are the benchmarks at {chair} now; {changed or 'none'} of them changed.")
            self.draw()

    # Left running

    def action_leave_running(self) -> None:
        """The machine works on for this card; the next one is read meanwhile."""
        now = self.now()
        self.record(lambda sitting: sitting.log(j.LeftRunning(), now))

    def action_take_up(self) -> None:
        """Take up an attempt that was left running."""
        now, view = self.now(), self.view()
        self._one_of_left(
            "back to which card?",
            view.left if view is not None else (),
            lambda number: self.record(lambda sitting: sitting.log(j.TakenUp(number), now)),
        )

    def action_left_ready(self) -> None:
        """Note that the machine has ended its work on an attempt left running."""
        now, view = self.now(), self.view()
        self._one_of_left(
            "which one is ready?",
            [line for line in view.left if not line.ready] if view is not None else [],
            lambda number: self.record(lambda sitting: sitting.log(j.LeftReady(number), now)),
        )

    def _one_of_left(self, prompt: str, lines: Sequence[LeftLine], then: Callable[[int], object]) -> None:
        if len(lines) == 1:
            then(lines[0].number)
        elif lines:
            titles = [clipped(legible(line.title), 24) for line in lines]
            self.ask_one_of(prompt, titles, lambda place: then(lines[place].number))

    def action_restart(self, mark: j.MarkName) -> None:
        """A restart or a new login that the card needs: counted, and the machine's time from here."""
        now = self.now()
        self.record(lambda sitting: sitting.restart(mark, now))

    def action_once_more(self) -> None:
        """A card that was done or passed over is tried again; the tries stay apart."""
        live = self.live
        if live is None:
            return
        cards = self._done()
        titles = [clipped(legible(self.session.opened.study.card_by_id[card].title), 24) for card in cards]

        def chosen(place: int) -> None:
            def said(reason: str) -> bool:
                if not reason.strip():
                    self.tell("Trying a card again needs a reason; Esc leaves it.", colour="$clay")
                    return False
                reopened = j.CardReopened(cards[place], reason.strip())
                return self.record(lambda sitting: sitting.log(reopened, self.now()))

            self.ask_words(f"{titles[place]} once more, because:", said)

        self.ask_one_of("which card once more?", titles, chosen)

    def _done(self) -> list[str]:
        live = self.live
        if live is None:
            return []
        state = live.state
        return [card for card in state.cards if card in state.done or card in state.passed]

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Only an attempt left running can be taken up, and only a card that was done can be tried again."""
        if action in ("take_up", "left_ready", "once_more") and self.is_mounted:
            live = self.live
            if live is None:
                return False
            left = [live.state.attempts[number - 1] for number in live.state.left]
            possible = {
                "take_up": bool(left),
                "left_ready": any(attempt.waiting for attempt in left),
                "once_more": bool(self._done()),
            }
            if not possible[action]:
                return False
        return super().check_action(action, parameters)

    def left_in_words(self) -> str:
        """The attempts left running and for how long, for the strip."""
        live, view = self.live, self.view()
        if live is None or view is None or not view.left:
            return ""
        now_ns = live.state.time_at(self.now())
        said = []
        for line in view.left:
            attempt = live.state.attempts[line.number - 1]
            since = clock_text(now_ns - attempt.left_since_ns)
            said.append(f"{legible(line.title)} {'ready, left' if line.ready else 'runs on'} {since}")
        return "; ".join(said)
