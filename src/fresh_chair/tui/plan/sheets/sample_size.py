"""How many people: the chances of the comparison's own rule, and the curves of seeing a trouble and of a share."""

from contextlib import suppress
from typing import ClassVar

from textual import events, on, work
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Vertical, VerticalScroll
from textual.content import Content
from textual.message import Message
from textual.widgets import Static
from textual.worker import Worker, get_current_worker

from fresh_chair.core.plan.aims import AIMS
from fresh_chair.core.text import count_of
from fresh_chair.core.words.planning.sample_sizes import advice_sentence, apart_words, assumption_sentences
from fresh_chair.services.figures.rule_chances import Assumed, RuleChances, assumed, rule_chances_apart
from fresh_chair.services.plan.sample_sizes import Numbers, numbers
from fresh_chair.services.system.child import ChildFailed, Stopped
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.sheet import SheetScreen
from fresh_chair.tui.plan.widgets.chances import chances_panel
from fresh_chair.tui.plan.widgets.curve import curve

_MOST = 60


class Drawn(Message):
    """More studies were drawn; None where there are no more to come."""

    def __init__(self, found: Assumed, row: RuleChances | None) -> None:
        super().__init__()
        self.found, self.row = found, row


class HowMany(SheetScreen):
    """One question at a time; the first is whether a winner would be named."""

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
        Binding("d", "difference", "difference", id="many.difference", tooltip="A small, middling or large difference"),
        Binding("x", "stop", "stop drawing", id="many.stop", tooltip="Draw no more studies; what is known stays"),
    ]

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._question = 0
        self._numbers = Numbers(0)
        self._people = 6
        self._how_far = 1
        self._assumed: Assumed | None = None
        self._rows: dict[int, RuleChances] = {}
        self._drawing: Worker[None] | None = None

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
        """Begin to draw studies beside the screen."""
        self._numbers = numbers(self.session.opened)
        self._begin()
        planned = self._planned
        self._people = max(min(planned, _MOST), 2) if planned else 6
        self._draw()

    @property
    def _planned(self) -> int:
        """People at both chairs of a pair for the comparison, at each chair for all else."""
        return self._assumed.planned if self._question == 0 and self._assumed else self._numbers.planned

    def _begin(self) -> None:
        self._rows = {}
        self._assumed = assumed(self.session.opened, size=self._how_far)
        if self._assumed is not None:
            self._drawing = self._draw_studies(self._assumed)

    @work(thread=True, exclusive=True, description="draw studies")
    def _draw_studies(self, found: Assumed) -> None:
        worker = get_current_worker()
        with suppress(Stopped):
            try:
                for row in rule_chances_apart(found, stopped=lambda: worker.is_cancelled):
                    self.post_message(Drawn(found, row))
            except ChildFailed:
                self.app.call_from_thread(self.tell, "Drawing studies failed; what is known stays.", colour="$clay")
            self.post_message(Drawn(found, None))

    @on(Drawn)
    def _more_known(self, message: Drawn) -> None:
        if message.found is not self._assumed:
            return
        if message.row is None:
            self._drawing = None
            self.refresh_bindings()
        else:
            self._rows[message.row.people] = message.row
        self._draw()

    @on(events.Resize)
    def _redraw(self) -> None:
        self.call_after_refresh(self._draw)

    def _draw(self) -> None:
        # One column is the scroll bar's, whether it shows or not.
        room = (self.query_one("#curve", Static).container_size.width or 70) - 2
        if self._question:
            self._draw_curve(room)
        else:
            self._draw_chances(room)

    def _head(self, words: str) -> None:
        head = Content.assemble(
            (words, "bold $lamp"), (f"   question {self._question + 1} of {1 + len(AIMS)}", "$thread")
        )
        self.query_one("#head", Static).update(head)

    def _say(self, sentences: list[Content]) -> None:
        text = Content("\n").join(sentences)
        self.query_one("#beside", Static).update(text)
        self.query_one("#below", Static).update(text if self.has_class("-narrow") else "")

    def _draw_chances(self, room: int) -> None:
        found = self._assumed
        self._head("To name the better chair")
        if found is None:
            self.query_one("#curve", Static).update(Content.styled("It takes two chairs and a card.", "$thread"))
            self._say([])
            return
        apart = apart_words(found.measure, found.difference)
        self.query_one("#curve", Static).update(
            chances_panel(found, self._rows, apart, self.signs, people=self._people, width=room)
        )
        done = sum(row.settled for row in self._rows.values())
        drawing = "studies are being drawn" if self._drawing else "all studies are drawn" if done else "stopped"
        planned = count_of(found.planned, "person is", "people are")
        self._say(
            [
                Content.styled(f"{planned} to sit at both chairs of a pair, by the plan.", "bold $chalk"),
                Content(""),
                Content(f"Measure: {found.measure}. This plan's cards, limits, orders, pairs and margins."),
                *map(Content, assumption_sentences(found.completing, found.attempts, found.spread, found.times)),
                Content(""),
                Content(advice_sentence()),
                Content(""),
                Content.styled(f"{drawing}: {done} numbers of people done", "$thread"),
            ]
        )

    def _draw_curve(self, room: int) -> None:
        found, aim = self._numbers, AIMS[self._question - 1]
        self._head(f"To {aim.words}")
        drawn = curve(
            found.points(aim, _MOST),
            people=self._people,
            needed=found.needed(aim),
            planned=found.planned,
            aim=aim,
            signs=self.signs,
            width=room,
            height=8 if self.has_class("-low") else 14,
        )
        self.query_one("#curve", Static).update(drawn)
        count = count_of(self._people, "person", "people")
        planned = ", as planned" if self._people == found.planned else ""
        self._say(
            [
                Content.styled(f"{count} at each chair{planned}", "bold $chalk"),
                Content(""),
                *(Content(sentence) for sentence in found.said(self._people)),
            ]
        )

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Another number is tried on a curve, another difference for the rule."""
        if action in ("people", "planned") and not self._question:
            return False
        if action == "difference" and (self._question or self._assumed is None):
            return False
        if action == "stop" and self._drawing is None:
            return False
        return super().check_action(action, parameters)

    def action_people(self, step: int) -> None:
        """Try another number."""
        self._people = min(max(self._people + step, 2), _MOST)
        self._draw()

    def action_planned(self) -> None:
        """Go back to the planned number."""
        planned = self._planned
        if planned:
            self._people = max(min(planned, _MOST), 2)
            self._draw()

    def action_aim(self, step: int) -> None:
        """Show another question."""
        self._question = (self._question + step) % (1 + len(AIMS))
        self._draw()
        self.refresh_bindings()

    def action_difference(self) -> None:
        """Take the one chair to differ by more, or by less again."""
        self._how_far = (self._how_far + 1) % 3
        self._begin()
        self._draw()
        self.refresh_bindings()

    def action_stop(self) -> None:
        """Draw no more."""
        if self._drawing is not None:
            self._drawing.cancel()
            self._drawing = None
        self._draw()
        self.refresh_bindings()
