"""How many people: the curve of what each number can show, and what the planned one cannot."""

from typing import ClassVar

from textual import events, on
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Vertical, VerticalScroll
from textual.content import Content
from textual.widgets import Static

from fresh_chair.services.numbers import Numbers, numbers
from fresh_chair.tui.leaf import Leaf
from fresh_chair.tui.session import Session
from fresh_chair.tui.widgets.curve import curve

_MOST = 60


class HowMany(Leaf):
    """One aim at a time, drawn over the number of people."""

    leaf = "many"
    title_words = "how many people"
    about = (
        "What a number of people can show and what it cannot, for three kinds of question. Arrows try other numbers."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("right", "people(1)", "one more", id="many.more", key_display="→", tooltip="One person more"),
        Binding("left", "people(-1)", "one fewer", id="many.fewer", key_display="←", tooltip="One person fewer"),
        Binding("down", "aim(1)", "next question", id="many.aim", key_display="↓", tooltip="The next kind of question"),
        Binding("up", "aim(-1)", "question before", id="many.aim_before", show=False, tooltip="The question before"),
        Binding("0", "planned", "as planned", id="many.planned", tooltip="Back to the planned number"),
    ]

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._aim = 0
        self._numbers: Numbers = numbers(session.desk)
        self._people = max(min(self._numbers.planned, _MOST), 2) if self._numbers.planned else 6

    def middle(self) -> ComposeResult:
        """The curve, and the sentences."""
        with Vertical(classes="main"):
            yield Static(id="head", markup=False)
            with VerticalScroll(can_focus=False):
                yield Static(id="curve", markup=False)
                yield Static(id="below", markup=False)
        with VerticalScroll(classes="aside", can_focus=False):
            yield Static(id="beside", markup=False)

    def arrived(self) -> None:
        """Draw it once its size is known."""
        self.call_after_refresh(self._draw)

    @on(events.Resize)
    def _redraw(self) -> None:
        self.call_after_refresh(self._draw)

    def _draw(self) -> None:
        found = self._numbers
        aim = found.aims[self._aim]
        head = Content.assemble(
            (f"To {aim.words}", "bold $lamp"), (f"   question {self._aim + 1} of {len(found.aims)}", "$thread")
        )
        self.query_one("#head", Static).update(head)
        room = self.query_one("#curve", Static).size.width or 70
        drawn = curve(
            found.points(aim, _MOST), people=self._people, needed=found.needed(aim), planned=found.planned, aim=aim,
            signs=self.signs, width=room, height=8 if self.has_class("-low") else 14,
        )  # fmt: skip
        self.query_one("#curve", Static).update(drawn)
        sentences = [
            Content.styled(
                f"{self._people} people at each chair" + (", as planned" if self._people == found.planned else ""),
                "bold $chalk",
            ),
            Content(""),
            *(Content(sentence) for sentence in found.said(self._people)),
            Content(""),
            Content.styled(found.basis, "$thread"),
        ]
        text = Content("\n").join(sentences)
        self.query_one("#beside", Static).update(text)
        self.query_one("#below", Static).update(text if self.has_class("-narrow") else "")

    def action_people(self, step: int) -> None:
        """Try another number."""
        self._people = min(max(self._people + step, 2), _MOST)
        self._draw()

    def action_planned(self) -> None:
        """Go back to what is planned."""
        if self._numbers.planned:
            self._people = max(min(self._numbers.planned, _MOST), 2)
            self._draw()

    def action_aim(self, step: int) -> None:
        """Show another question."""
        self._aim = (self._aim + step) % len(self._numbers.aims)
        self._draw()
