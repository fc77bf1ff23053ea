"""A contest: on to the same step at the next chair, and which of them was better."""

from collections.abc import Callable

from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.entries.walks.contest import UNDECIDED
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.walk.contests import next_chair
from fresh_chair.services.walk.walks import WalkView
from fresh_chair.tui.sit.live.base import SitBase
from fresh_chair.tui.sit.live.part import SitPart
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks

# Chairs are answered by their letters.
_UNDECIDED_KEYS = dict(zip("12", UNDECIDED, strict=True))


class ContestKeys(SitPart):
    """Keys of a walk that is one side of a contest.

    Args:
        sit: The walking screen.
        view: Says how the walk stands.
        taken_up: Takes the walk at another chair in hand.
    """

    def __init__(
        self, sit: SitBase, view: Callable[[], WalkView | None], taken_up: Callable[[LiveSitting], None]
    ) -> None:
        super().__init__(sit)
        self._view = view
        self._taken_up = taken_up

    def may(self, act: str, *arguments: object) -> bool:
        """A step that was gone through can be compared; a contest has a next chair."""
        live = self.live
        walk = live.state.walk if live is not None else None
        return walk is not None and walk.contest is not None and (act != "better" or bool(walk.steps))

    def next_chair(self) -> None:
        """Go on to the same step at the next chair."""
        now, opened = self.sit.now(), self.sit.session.opened
        going: list[LiveSitting] = []
        if self.sit.record(lambda live: going.append(next_chair(opened, live, now))):
            self._taken_up(going[0])

    @asks
    async def better(self) -> None:
        """Say which chair was better at the step in hand, or at the one that was last."""
        now, live, view = self.sit.now(), self.live, self._view()
        contest = live.state.walk.contest if live is not None and live.state.walk is not None else None
        if live is None or contest is None or view is None or not view.steps:
            return
        step = view.step or view.steps[-1]
        chairs = live.opened.study.chair_by_letter
        choices = [
            Choice(letter.lower(), f"{letter} {legible(chairs[letter].name)}" if letter in chairs else letter)
            for letter in contest.chairs
        ]
        choices += [Choice(key, answer, "$thread") for key, answer in _UNDECIDED_KEYS.items()]
        key = await self.sit.ask_choice(f"{legible(clipped(step.title, 40))}: which was better?", choices)
        if key is None:
            return
        better, entry = _UNDECIDED_KEYS.get(key, key.upper()), step.entry

        def because(reason: str) -> bool:
            said = j.StepCompared(entry, better, reason.strip())
            return self.sit.record(lambda live: live.log(said, now))

        # A reason may come later, or never: left here, the answer stands without one.
        if not await self.sit.ask_until("because (may stay empty)", because):
            because("")
