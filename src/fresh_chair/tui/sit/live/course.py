"""The course of a sitting: cards begun, passed over, left running, tried again; how it ends."""

from collections.abc import Sequence

from fresh_chair.core.clock import clock_text
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.sitting.preconditions import unasked_consents
from fresh_chair.services.sitting.questions import next_ask
from fresh_chair.services.sitting.view import LeftLine
from fresh_chair.tui.plan.adding import ask_consents
from fresh_chair.tui.sit.live.base import SitBase
from fresh_chair.tui.sit.live.endings import Endings
from fresh_chair.tui.sit.live.part import SitPart
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks


class Course(SitPart):
    """Keys before, between and after cards.

    Args:
        sit: The screen.
        endings: Asks the person what comes first.
    """

    def __init__(self, sit: SitBase, endings: Endings) -> None:
        super().__init__(sit)
        self._endings = endings

    @asks
    async def meet(self) -> None:
        """Note that the greeting was said; open consents are asked one by one."""
        live = self.live
        if live is None:
            return
        left = list(unasked_consents(self.sit.session.opened.study, live.seat))
        if await ask_consents(self.sit, live.seat.participant, left, self.sit.draw):
            self.sit.session.greeted.add(live.seat.number)
            self.sit.draw()

    def start(self) -> None:
        """Start the clock; open questions come first."""
        now = self.sit.now()
        live = self.live
        ask = next_ask(live) if live is not None else None
        if ask is not None:
            self._endings.ask_person(ask)
        elif live is not None and live.state.card is not None:
            card = live.state.card
            self.sit.record(lambda sitting: sitting.log(j.AttemptStarted(card), now))

    @asks
    async def pass_card(self) -> None:
        """Leave a card out, with why."""
        live = self.live
        if live is None or live.state.card is None:
            return
        card = live.state.card

        def passed(reason: str) -> bool:
            if not reason.strip():
                self.sit.tell("Passing over a card needs a reason; Esc keeps the card.", colour="$clay")
                return False
            return self.sit.record(lambda sitting: sitting.log(j.CardPassed(card, reason.strip()), self.sit.now()))

        if await self.sit.ask_until("why is this card left out?", passed):
            self.sit.ask_on()

    @asks
    async def break_off(self) -> None:
        """End the sitting before its end; where nothing was started, it may also be taken back."""
        state = self.live.state if self.live is not None else None
        key: str | None = "b"
        if state is not None and not (state.attempts or state.passed or state.usability):
            choices = [
                Choice("t", "nobody should have sat down: take it back", "$lamp"),
                Choice("b", "it is broken off", "$clay"),
            ]
            key = await self.sit.ask_choice("nothing was started yet (Esc: go on):", choices)
        if key == "b":
            done = await self.sit.ask_until("why is the sitting broken off?", self._broken_off)
        else:
            done = key == "t" and await self.sit.ask_until("it was not meant, because:", self._unbegin)
        if not done:
            self.sit.ask_on()

    def _broken_off(self, reason: str) -> bool:
        live = self.live
        if live is None or not reason.strip():
            self.sit.tell("Breaking off needs a reason; Esc goes on with the sitting.", colour="$clay")
            return False
        number = live.seat.number
        done = self.sit.record(lambda sitting: sitting.break_off(reason.strip(), self.sit.now()))
        if done:
            self.sit.session.looking_at = number
            self.sit.session.next_in_hand = True
            self.sit.draw()
        return done

    def _unbegin(self, reason: str) -> bool:
        live = self.live
        if live is None:
            return True
        number = live.seat.number
        if not self.sit.record(lambda sitting: sitting.unbegin(reason, self.sit.now())):
            return False
        self.sit.session.greeted.discard(number)
        self.sit.session.live = self.sit.session.looking_at = None
        self.sit.action_go("plan")
        return True

    def close_sitting(self) -> None:
        """End the sitting as the participant gets up; open questions come first."""
        live = self.live
        if live is None:
            return
        ask = next_ask(live)
        if ask is not None:
            self._endings.ask_person(ask)
            return
        self.sit.session.looking_at = live.seat.number
        if self.sit.record(lambda sitting: sitting.log(j.SittingEnded(), self.sit.now())):
            self.sit.session.next_in_hand = True
            self._take_benchmarks(live.seat.chair, live.seat.participant)

    def _take_benchmarks(self, chair: str, code: str) -> None:
        """An expert's accepted runs become the benchmarks of the chair they were at."""
        opened = self.sit.session.opened
        if opened.study.person_by_code[code].role != "expert":
            return
        from fresh_chair.services.sitting.benchmarks import take_benchmarks

        counts: list[int] = []
        if self.sit.attempt(lambda: counts.append(take_benchmarks(opened, chair=chair))):
            changed = counts[0]
            self.sit.tell(f"The expert's times are the benchmarks at {chair} now; {changed or 'none'} of them changed.")
            self.sit.draw()

    def leave_running(self) -> None:
        """The machine works on for this card; the next one is read meanwhile."""
        now = self.sit.now()
        self.sit.record(lambda sitting: sitting.log(j.LeftRunning(), now))

    @asks
    async def take_up(self) -> None:
        """Take up an attempt that was left running."""
        now, view = self.sit.now(), self.sit.view()
        number = await self._one_of_left("back to which card?", view.left if view is not None else ())
        if number is not None:
            self.sit.record(lambda sitting: sitting.log(j.TakenUp(number), now))

    @asks
    async def left_ready(self) -> None:
        """Note that the machine has ended its work on an attempt left running."""
        now, view = self.sit.now(), self.sit.view()
        busy = [line for line in view.left if not line.ready] if view is not None else []
        number = await self._one_of_left("which one is ready?", busy)
        if number is not None:
            self.sit.record(lambda sitting: sitting.log(j.LeftReady(number), now))

    async def _one_of_left(self, prompt: str, lines: Sequence[LeftLine]) -> int | None:
        """Ask for the number of an attempt left running; the only one is not asked about."""
        if len(lines) == 1:
            return lines[0].number
        titles = [clipped(legible(line.title), 24) for line in lines]
        at = await self.sit.ask_one_of(prompt, titles) if lines else None
        return None if at is None else lines[at].number

    @asks
    async def once_more(self) -> None:
        """A card that was done or passed over is tried again; the tries stay apart."""
        if self.live is None:
            return
        cards = self._done()
        titles = [clipped(legible(self.sit.session.opened.study.card_by_id[card].title), 24) for card in cards]
        at = await self.sit.ask_one_of("which card once more?", titles)
        if at is None:
            return
        card = cards[at]

        def said(reason: str) -> bool:
            if not reason.strip():
                self.sit.tell("Trying a card again needs a reason; Esc leaves it.", colour="$clay")
                return False
            return self.sit.record(lambda sitting: sitting.log(j.CardReopened(card, reason.strip()), self.sit.now()))

        await self.sit.ask_until(f"{titles[at]} once more, because:", said)

    def _done(self) -> list[str]:
        live = self.live
        if live is None:
            return []
        state = live.state
        return [card for card in state.cards if card in state.done or card in state.passed]

    def may(self, act: str, *arguments: object) -> bool:
        """Only an attempt left running can be taken up, and only a card that was done can be tried again."""
        if act not in ("take_up", "left_ready", "once_more"):
            return True
        live = self.live
        if live is None:
            return False
        left = [live.state.attempts[number - 1] for number in live.state.left]
        possible = {
            "take_up": bool(left),
            "left_ready": any(attempt.waiting for attempt in left),
            "once_more": bool(self._done()),
        }
        return possible[act]

    def left_in_words(self) -> str:
        """The attempts left running and for how long, for the strip."""
        live, view = self.live, self.sit.view()
        if live is None or view is None or not view.left:
            return ""
        now_ns = live.state.time_at(self.sit.now())
        said = []
        for line in view.left:
            attempt = live.state.attempts[line.number - 1]
            since = clock_text(now_ns - attempt.left_since_ns)
            said.append(f"{legible(line.title)} {'ready, left' if line.ready else 'runs on'} {since}")
        return "; ".join(said)
