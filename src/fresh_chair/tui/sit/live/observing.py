"""A second observer's own outcome of an attempt: held against the moderator's, and counted nowhere."""

from fresh_chair.core.sitting import journal as j
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.tui.sit.live.endings import OUTCOME_KEYS
from fresh_chair.tui.sit.live.part import SitPart
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import OUTCOME_COLOUR


class Observing(SitPart):
    """The act that is an observer's alone."""

    def may(self, act: str, *arguments: object) -> bool:
        """An observer judges an attempt that has ended."""
        live = self.live
        return live is not None and live.opened.observes and bool(_ended(live))

    @asks
    async def see(self) -> None:
        """Ask a second observer how the last attempt ended."""
        live = self.live
        if live is None:
            return
        attempt = _ended(live)[-1]
        choices = [Choice(key, outcome.words, OUTCOME_COLOUR[outcome]) for key, outcome in OUTCOME_KEYS.items()]
        key = await self.sit.ask_choice("how did it end, as you saw it?", choices)
        if key is None:
            return
        outcome = OUTCOME_KEYS[key]
        if not outcome.needs_reason:
            self._logged(j.OutcomeSeen(attempt, outcome))
            return
        await self.sit.ask_until("because", lambda why: self._logged(j.OutcomeSeen(attempt, outcome, why.strip())))

    def _logged(self, content: j.Content) -> bool:
        return self.sit.record(lambda sitting: sitting.log(content, self.sit.now()))


def _ended(live: LiveSitting) -> list[int]:
    """Numbers of the attempts that have ended."""
    return [attempt.number for attempt in live.state.attempts if attempt.stopped_ns is not None]
