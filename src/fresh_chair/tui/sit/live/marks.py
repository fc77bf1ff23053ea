"""Marks while the clock runs: lanes, help, steps and spots; each is on disk before it is on the screen."""

from typing import cast

from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.attempt import Attempt
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.tui.sit.live.part import SitPart
from fresh_chair.tui.widgets.dialogue import asks


class Marks(SitPart):
    """Keys for marks while the clock runs; each is on disk before it is on the screen."""

    def may(self, act: str, *arguments: object) -> bool:
        """A key that tells more of a wait or a help works right after it."""
        return self.tellable() == act.removeprefix("tell_") if act in ("tell_wait", "tell_help") else True

    @property
    def clocked(self) -> Attempt | None:
        """The attempt whose clock runs in hand."""
        live = self.live
        return live.attempt if live is not None and live.state.phase is Phase.RUNNING else None

    def tellable(self) -> str:
        """Whether a wait or a help may be told more of now; empty for neither."""
        attempt = self.clocked
        if attempt is None or self.sit.session.opened.observes:
            return ""
        # Whichever was the last of them is meant.
        if attempt.ticks and attempt.helps.get(attempt.ticks[-1].entry) == "":
            return "help"
        return "wait" if attempt.waiting else ""

    def tell_wait(self, how: str) -> None:
        """Say how the wait looks to the person."""
        self._log(j.WaitTold(cast("j.WaitKind", how)))

    def tell_help(self, level: str) -> None:
        """How much help it was."""
        now = self.sit.now()
        self.sit.record(lambda sitting: sitting.help_told(cast("j.HelpLevel", level), now))

    def mark(self, mark: str) -> None:
        """Something seen that needs no words."""
        self._log(j.Marked(cast("j.MarkName", mark)))

    def step(self) -> None:
        """The person is one step further on the expected route."""
        now, attempt = self.sit.now(), self.clocked
        if attempt is None:
            return
        reached = max(attempt.steps, default=0)
        self.sit.record(lambda sitting: sitting.log(j.StepReached(reached + 1), now))

    @asks
    async def visit(self) -> None:
        """Note the spot the person is at; its name is completed from the chair's own list."""
        now, live, attempt = self.sit.now(), self.live, self.clocked
        if live is None or attempt is None:
            return
        opened, seat = self.sit.session.opened, live.seat
        card = opened.study.card_by_id[attempt.card]
        known = [*card.routes.get(seat.chair, ()), *opened.study.chair_by_letter[seat.chair].labels]

        def named(spot: str) -> bool:
            if not spot.strip():
                return True
            return self.sit.record(lambda sitting: sitting.log(j.SpotVisited(spot.strip()), now))

        await self.sit.ask_until("at which place?", named, suggestions=tuple(dict.fromkeys(known)))

    def wait(self) -> None:
        """The machine is busy, or no longer."""
        now = self.sit.now()
        self.sit.record(lambda sitting: sitting.toggle_wait(now))

    def aside(self) -> None:
        """An interruption, or its end."""
        now = self.sit.now()
        self.sit.record(lambda sitting: sitting.toggle_aside(now))

    def restart(self, mark: str) -> None:
        """A restart or a new login that the card needs: counted, and the machine's time from here."""
        now = self.sit.now()
        self.sit.record(lambda sitting: sitting.restart(cast("j.MarkName", mark), now))

    def helped(self) -> None:
        """You helped."""
        self._log(j.Helped())

    def wrong_place(self) -> None:
        """Looked where the thing is not."""
        self._log(j.WrongPlace())

    def said_done(self) -> None:
        """Says it is done."""
        self._log(j.SaidDone())

    def _log(self, content: j.Content) -> None:
        now = self.sit.now()
        self.sit.record(lambda sitting: sitting.log(content, now))
