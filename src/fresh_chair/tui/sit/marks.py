"""Marks with details: how a wait looked, how much help it was, the spot on the chair, the chair's own answer."""

from typing import cast

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.attempt import Attempt
from fresh_chair.core.sitting.state.sitting import Phase
from fresh_chair.services.sitting.witness import ask_witness, contradiction
from fresh_chair.tui.sit.endings import Endings


class Marks(Endings):
    """Keys for marks while the clock runs; each is on disk before it is on the screen."""

    # The card that the chair was asked about last, before it was started.
    _asked: tuple[int, str] = (0, "")

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """A key that tells more of a wait or a help works right after it."""
        if action in ("tell_wait", "tell_help") and self.is_mounted and self.tellable() != action.removeprefix("tell_"):
            return False
        return super().check_action(action, parameters)

    @property
    def clocked(self) -> Attempt | None:
        """The attempt whose clock runs in hand."""
        live = self.live
        return live.attempt if live is not None and live.state.phase is Phase.RUNNING else None

    def tellable(self) -> str:
        """Whether a wait or a help may be told more of now; empty for neither."""
        attempt = self.clocked
        if attempt is None or self.session.opened.observes:
            return ""
        # Whichever was the last of them is meant.
        if attempt.ticks and attempt.helps.get(attempt.ticks[-1].entry) == "":
            return "help"
        return "wait" if attempt.waiting else ""

    def action_tell_wait(self, how: str) -> None:
        """Say how the wait looks to the person."""
        now = self.now()
        self.record(lambda sitting: sitting.log(j.WaitTold(cast("j.WaitKind", how)), now))

    def action_tell_help(self, level: str) -> None:
        """How much help it was."""
        now = self.now()
        self.record(lambda sitting: sitting.help_told(cast("j.HelpLevel", level), now))

    def action_mark(self, mark: str) -> None:
        """Something seen that needs no words."""
        now = self.now()
        self.record(lambda sitting: sitting.log(j.Marked(cast("j.MarkName", mark)), now))

    def action_step(self) -> None:
        """The person is one step further on the expected route."""
        now, attempt = self.now(), self.clocked
        if attempt is None:
            return
        reached = max(attempt.steps, default=0)
        self.record(lambda sitting: sitting.log(j.StepReached(reached + 1), now))

    def action_visit(self) -> None:
        """Note the spot the person is at; its name is completed from the chair's own list."""
        now, live, attempt = self.now(), self.live, self.clocked
        if live is None or attempt is None:
            return
        opened, seat = self.session.opened, live.seat
        card = opened.study.card_by_id[attempt.card]
        known = [*card.routes.get(seat.chair, ()), *opened.study.chair_by_letter[seat.chair].labels]

        def named(place: str) -> bool:
            if not place.strip():
                return True
            return self.record(lambda sitting: sitting.log(j.SpotVisited(place.strip()), now))

        self.ask_words("at which place? (→ completes)", named, suggestions=tuple(dict.fromkeys(known)))

    # The chair as a witness

    def witness(self, when: str) -> None:
        """Ask the chair beside the screen, where it can be asked and is not being asked already."""
        session, live = self.session, self.live
        busy = session.reader is not None and session.reader.running
        if live is None or busy or session.witness is not None or live.opened.observes or live.state.recording:
            return
        if when == "before":
            card = live.state.card
            if card is None or live.state.phase is not Phase.READING or card in live.state.so_before:
                return
            if self._asked == (live.seat.number, card):
                return
            self._asked = (live.seat.number, card)
            asked = ask_witness(session.opened, live.seat.number, card, 0, when)
        else:
            attempt = live.attempt
            if attempt is None:
                return
            asked = ask_witness(session.opened, live.seat.number, attempt.card, attempt.number, when)
        if asked is not None:
            session.witness, session.reader = asked, asked.reader

    def follow_witness(self) -> None:
        """Put down the chair's answer, as soon as it has come."""
        asked = self.session.witness
        if asked is None or not asked.ready:
            return
        self.session.witness = None
        try:
            said = asked.put_down(self.now())
        except FreshChairError as problem:
            self.tell_problem(problem)
            return
        live = self.live
        if live is None or live.seat.number != asked.sitting:
            return
        self.draw()
        if said.when == "before" and said.says == "confirmed":
            self.tell("The chair shows that this is so already, before anyone tries.", colour="$clay")
        elif said.attempt:
            self.point_at_contradiction()

    def point_at_contradiction(self) -> None:
        """Say calmly where the chair's answer contradicts the judgement."""
        attempt = self.live.attempt if self.live is not None else None
        if attempt is None:
            return
        words = contradiction(attempt.outcome, attempt.chair_says)
        if words:
            self.tell(words, colour="$clay")
