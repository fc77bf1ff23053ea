"""How many people: the curve of each number's power, and the limits of the planned one."""

from contextlib import suppress
from typing import ClassVar

from textual import events, on, work
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Vertical, VerticalScroll
from textual.content import Content
from textual.message import Message
from textual.widgets import Static
from textual.worker import get_current_worker

from fresh_chair.core.plan.aims import AIMS
from fresh_chair.services.plan.sample_sizes import Numbers, WorkedOut, numbers, worked_out
from fresh_chair.services.study.snapshot import StudySnapshot
from fresh_chair.services.system.child import Stopped
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.sheet import SheetScreen
from fresh_chair.tui.plan.widgets.curve import curve

_MOST = 60


class Known(Message):
    """The numbers are worked out."""

    def __init__(self, found: Numbers, worked: WorkedOut) -> None:
        super().__init__()
        self.found, self.worked = found, worked


class HowMany(SheetScreen):
    """One aim at a time, drawn over the number of people."""

    sheet_name = "many"
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
        self._found: Numbers | None = None
        self._worked: WorkedOut | None = None
        self._people = 6

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
        """Work the numbers out; SciPy alone takes a second to load."""
        self.query_one("#head", Static).update("Working it out ...")
        self._work_out(self.session.opened.snapshot(), apart=self.session.in_hand is not None)

    @work(thread=True, exclusive=True)
    def _work_out(self, study: StudySnapshot, *, apart: bool) -> None:
        found = numbers(study)
        worker = get_current_worker()
        with suppress(Stopped):
            worked = worked_out(found, _MOST, apart=apart, stopped=lambda: worker.is_cancelled)
            self.post_message(Known(found, worked))

    @on(Known)
    def _show(self, message: Known) -> None:
        self._found, self._worked = message.found, message.worked
        planned = message.found.planned
        self._people = max(min(planned, _MOST), 2) if planned else 6
        self._draw()

    @on(events.Resize)
    def _redraw(self) -> None:
        self.call_after_refresh(self._draw)

    def _draw(self) -> None:
        if self._found is None or self._worked is None:
            return
        found = self._found
        aim = found.aims[self._aim]
        head = Content.assemble(
            (f"To {aim.words}", "bold $lamp"), (f"   question {self._aim + 1} of {len(found.aims)}", "$thread")
        )
        self.query_one("#head", Static).update(head)
        # One column is the scroll bar's, whether it shows or not.
        room = (self.query_one("#curve", Static).container_size.width or 70) - 2
        drawn = curve(
            self._worked.curves[self._aim],
            people=self._people,
            needed=self._worked.needed[self._aim],
            planned=found.planned,
            aim=aim,
            signs=self.signs,
            width=room,
            height=8 if self.has_class("-low") else 14,
        )
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
        """Go back to the planned number."""
        planned = 0 if self._found is None else self._found.planned
        if planned:
            self._people = max(min(planned, _MOST), 2)
            self._draw()

    def action_aim(self, step: int) -> None:
        """Show another question."""
        self._aim = (self._aim + step) % len(AIMS)
        self._draw()
