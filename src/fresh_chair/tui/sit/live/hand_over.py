"""The questions as the participant sees them: large, nothing of the study, and no way out but the moderator's key."""

from typing import ClassVar

from textual import events, on
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.screen import Screen
from textual.widgets import Static

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.text import legible
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.questions import NO_ANSWER, NextQuestion, answered, next_ask
from fresh_chair.tui.sit.widgets.big_digits import big_digits, digits_width

_THANKS = "Thank you. Please give the keyboard back."
_MOST_LETTERS = 400


class HandOver(Screen[None]):
    """Asks the questions of a card, or of the sitting; each answer is on disk at once.

    Args:
        live: The sitting.
        way_back: The moderator's key; no other one leads back.
        pixel: What large digits are drawn with.
    """

    # The application does not end either while this is true of its screen.
    handed_over = True
    CSS_PATH = "hand_over.tcss"
    AUTO_FOCUS = ""
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("ctrl+c,ctrl+q,ctrl+z", "nothing", id="handed.nothing", show=False, tooltip="Nothing", priority=True),
    ]

    def __init__(self, live: LiveSitting, way_back: str, *, pixel: str = "█") -> None:
        super().__init__()
        self._pixel = pixel
        self._live = live
        self._way_back = way_back
        self._problem = ""
        self._typed = ""
        self._ask = next_ask(live)
        # What was handed over is answered; nothing that comes later is asked here.
        self._part = self._ask.part if self._ask is not None else ""

    def compose(self) -> ComposeResult:
        """A question, its scale, and its keys."""
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
        return self._ask is not None

    def draw(self) -> None:
        """Show the present question."""
        question, scale, below = (self.query_one(f"#{name}", Static) for name in ("question", "scale", "below"))
        below.update(Content.styled(self._problem, "$clay"))
        if self._ask is None:
            question.update(Content.styled(_THANKS, "bold $plum"))
            scale.update("")
            return
        question.update(Content.styled(legible(self._ask.words), "bold $chalk"))
        scale.update(self._answers(self._ask))

    def _answers(self, ask: NextQuestion) -> Content:
        if ask.free:
            typed = Content.assemble((legible(self._typed), "bold $chalk"), ("▏" if self._typed else "", "$lamp"))
            return Content("\n\n").join(
                [typed, Content.styled("type, then press Enter; Enter alone leaves it out", "$thread")]
            )
        left_out = Content.styled("press a number; the minus key leaves it out", "$thread")
        if not any(ask.ends) and any(words for _, words in ask.answers):
            listed = [
                Content.assemble((f"{key}  ", "bold $lamp"), (legible(words), "$chalk")) for key, words in ask.answers
            ]
            return Content("\n\n").join([*listed, left_out])
        keys, width = self._keys([key for key, _ in ask.answers])
        low, high = (legible(end) for end in ask.ends)
        gap = " " * max(width - len(low) - len(high), 3)
        return Content("\n\n").join([keys, Content.styled(f"{low}{gap}{high}", "$thread"), left_out])

    def _keys(self, keys: list[str]) -> tuple[Content, int]:
        """The numbers to press, to be read from a step away where there is room; and how wide they are."""
        if len(keys) > 9:
            # What is beyond nine has no digit of its own: the number stands beside its key.
            shown = [key if index < 10 else f"{key} for {index}" for index, key in enumerate(keys, start=1)]
            line = "    ".join(shown)
            return Content.styled(line, "bold $lamp"), len(line)
        for wide, apart in ((True, 6), (False, 4)):
            width = sum(digits_width(key, wide=wide) for key in keys) + apart * (len(keys) - 1)
            if width <= min(self.size.width * 9 // 10, 100) and self.size.height >= 20:
                drawn = [big_digits(key, "bold $lamp", pixel=self._pixel, wide=wide) for key in keys]
                rows = [Content(" " * apart).join(row) for row in zip(*drawn, strict=True)]
                return Content("\n").join(rows), width
        line = "     ".join(keys)
        return Content.styled(line, "bold $lamp"), len(line) + 8

    @on(events.Resize)
    def _redraw(self) -> None:
        self.call_after_refresh(self.draw)

    def on_key(self, event: events.Key) -> None:
        """A number answers, the moderator's key leads back, everything else does nothing."""
        event.stop()
        event.prevent_default()
        pressed = event.character or event.key
        ask = self._ask
        if ask is not None and ask.free:
            self._type(ask, event)
        elif pressed == self._way_back:
            self.dismiss()
        elif ask is not None and pressed in (NO_ANSWER, *(key for key, _ in ask.answers)):
            self._answer(ask, pressed)

    def _type(self, ask: NextQuestion, event: events.Key) -> None:
        if event.key == "enter":
            self._answer(ask, self._typed.strip() or NO_ANSWER)
            return
        if event.key == "backspace":
            self._typed = self._typed[:-1]
        elif event.is_printable and event.character and len(self._typed) < _MOST_LETTERS:
            self._typed += event.character
        self.draw()

    def _answer(self, ask: NextQuestion, key: str) -> None:
        now = self._live.now()
        try:
            following = answered(self._live, ask, key, now) or next_ask(self._live)
        except FreshChairError:
            # What it says is for the moderator, not for the participant.
            self._problem = "Please give the keyboard back for a moment."
            self.draw()
            return
        self._problem = self._typed = ""
        self._ask = following if following is not None and following.part == self._part else None
        self.draw()
