"""The chair as the third witness of an attempt: asked beside the screen, and its answer put down."""

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.sitting.witness import ask_witness, contradiction
from fresh_chair.tui.sit.live.base import SitBase
from fresh_chair.tui.sit.live.part import SitPart


class ChairWitness(SitPart):
    """Asks the chair before a card and after an attempt, where it can be asked."""

    def __init__(self, sit: SitBase) -> None:
        super().__init__(sit)
        # The card that the chair was asked about last, before it was started.
        self._asked: tuple[int, str] = (0, "")

    def ask(self, when: str) -> None:
        """Ask the chair beside the screen, where it can be asked and is not being asked already."""
        session, live = self.sit.session, self.live
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

    def follow(self) -> None:
        """Put down the chair's answer, as soon as it has come."""
        asked = self.sit.session.witness
        if asked is None or not asked.ready:
            return
        self.sit.session.witness = None
        try:
            said = asked.put_down(self.sit.now())
        except FreshChairError as problem:
            self.sit.tell_problem(problem)
            return
        live = self.live
        if live is None or live.seat.number != asked.sitting:
            return
        self.sit.draw()
        if said.when == "before" and said.says == "confirmed":
            self.sit.tell("The chair shows that this is so already, before anyone tries.", colour="$clay")
        elif said.attempt:
            self.point_at_contradiction()

    def point_at_contradiction(self) -> None:
        """Say calmly where the chair's answer contradicts the judgement."""
        attempt = self.live.attempt if self.live is not None else None
        if attempt is None:
            return
        words = contradiction(attempt.outcome, attempt.chair_says)
        if words:
            self.sit.tell(words, colour="$clay")
