"""The questions as the participant sees them: large, nothing of the study, and no way out but the moderator's key."""

from typing import ClassVar

from textual import events
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.screen import Screen
from textual.widgets import Static

from fresh_chair.core import journal as j
from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.sitting import Phase
from fresh_chair.services.live import LiveSitting
from fresh_chair.tui.widgets.sitting_panels import USABILITY_ITEMS

_THANKS = "Thank you. Please give the keyboard back."


class HandOver(Screen[None]):
    """Asks for ease, and then for the usability scale where its turn has come; each answer is on disk at once.

    Args:
        live: The sitting.
        way_back: The moderator's key; no other one leads back.
    """

    # The application does not end either while this is true of its screen.
    handed_over = True
    CSS_PATH = "hand_over.tcss"
    AUTO_FOCUS = ""
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("ctrl+c,ctrl+q,ctrl+z", "nothing", id="handed.nothing", show=False, tooltip="Nothing", priority=True),
    ]

    def __init__(self, live: LiveSitting, way_back: str) -> None:
        super().__init__()
        self._live = live
        self._way_back = way_back
        self._problem = ""
        # What was handed over is answered; nothing that comes later is asked here.
        self._phase = live.state.phase

    def compose(self) -> ComposeResult:
        """A question, its scale, and what to press."""
        yield Static(id="question", markup=False)
        yield Static(id="scale", markup=False)
        yield Static(id="below", markup=False)

    def on_mount(self) -> None:
        """Ask the first question."""
        self.draw()

    def action_nothing(self) -> None:
        """The participant cannot leave."""

    @property
    def asking(self) -> bool:
        """False once everything was answered."""
        return self._live.state.phase is self._phase and self._phase in (Phase.EASE, Phase.USABILITY)

    @property
    def _item(self) -> int:
        return next((item for item in range(1, 11) if item not in self._live.state.usability), 10)

    def draw(self) -> None:
        """Show what is asked now."""
        question, scale, below = (self.query_one(f"#{name}", Static) for name in ("question", "scale", "below"))
        below.update(Content.styled(self._problem, "$clay"))
        if not self.asking:
            question.update(Content.styled(_THANKS, "bold $plum"))
            scale.update("")
            return
        if self._phase is Phase.EASE:
            words, most, ends = "Overall, how difficult or easy was this task?", 7, ("very difficult", "very easy")
        else:
            words, most, ends = USABILITY_ITEMS[self._item - 1], 5, ("strongly disagree", "strongly agree")
        question.update(Content.styled(words, "bold $chalk"))
        keys = "     ".join(str(number) for number in range(1, most + 1))
        gap = " " * max(len(keys) + 8 - sum(map(len, ends)), 3)
        left = "press a number; the minus key leaves it out"
        scale.update(
            Content("\n\n").join(
                [
                    Content.styled(keys, "bold $lamp"),
                    Content.styled(f"{ends[0]}{gap}{ends[1]}", "$thread"),
                    Content.styled(left, "$thread"),
                ]
            )
        )

    def on_key(self, event: events.Key) -> None:
        """A number answers, the moderator's key leads back, everything else does nothing."""
        now = self._live.desk.clock.now()
        event.stop()
        event.prevent_default()
        pressed = event.character or event.key
        if pressed == self._way_back:
            self.dismiss()
            return
        if not self.asking:
            return
        most = 7 if self._phase is Phase.EASE else 5
        if pressed == "-" or (pressed.isdecimal() and len(pressed) == 1 and 1 <= int(pressed) <= most):
            score = None if pressed == "-" else int(pressed)
            content = j.EaseRated(score) if self._phase is Phase.EASE else j.UsabilityAnswered(self._item, score)
            try:
                self._live.log(content, now)
                self._problem = ""
            except FreshChairError:
                # What it says is for the moderator, not for the participant.
                self._problem = "Please give the keyboard back for a moment."
            self.draw()
