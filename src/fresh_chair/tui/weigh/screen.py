"""Weigh: all tasks together, then one at a time across chairs, with the sentences their figures allow."""

from typing import ClassVar

from textual import on, work
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import VerticalScroll
from textual.content import Content
from textual.message import Message
from textual.widget import Widget
from textual.widgets import Static
from textual.worker import get_current_worker

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.figures.overall.estimates import Turning
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.plan.sheet import RateInterval, TimeMeasure
from fresh_chair.core.text import count_of, legible
from fresh_chair.core.words.figures import FigureWords, figure_words
from fresh_chair.core.words.overall import OverallWords, overall_words
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.figures.turning import turning
from fresh_chair.services.judgement.first_page import ChairAnswer, first_page
from fresh_chair.services.study.snapshot import StudySnapshot
from fresh_chair.services.system.child import Stopped
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.weigh.widgets.figures_panel import FiguresPanel
from fresh_chair.tui.weigh.widgets.first_panel import first_words
from fresh_chair.tui.weigh.widgets.overall_panel import overall_panel
from fresh_chair.tui.weigh.widgets.tasks_panel import tasks_panel
from fresh_chair.tui.weigh.widgets.weigh_panel import weigh_panel


class Weighed(Message):
    """The figures are there, and the first page's answers for each chair."""

    def __init__(self, weighing: Weighing, answers: tuple[ChairAnswer, ...]) -> None:
        super().__init__()
        self.weighing, self.answers = weighing, answers


class Turned(Message):
    """Whether the answer would turn is known."""

    def __init__(self, weighing: Weighing, turning: Turning) -> None:
        super().__init__()
        self.weighing, self.turning = weighing, turning


class Failed(Message):
    """They could not be computed."""

    def __init__(self, problem: FreshChairError) -> None:
        super().__init__()
        self.problem = problem


class Weigh(Place):
    """Figures of all tasks together, and of one."""

    place = "weigh"
    older_words = "Others have gone on since these figures were worked out. 5 works them out again."
    CSS_PATH = "screen.tcss"
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left,k", "card(-1)", "task before", id="weigh.before", key_display="←", tooltip="The task before"),
        Binding("right,j", "card(1)", "next task", id="weigh.after", key_display="→", tooltip="The task after"),
        Binding("up", "scroll(-3)", "up", id="weigh.up", show=False, tooltip="Scroll up"),
        Binding("down", "scroll(3)", "down", id="weigh.down", show=False, tooltip="Scroll down"),
        Binding("a", "all_tasks", "all tasks", id="weigh.all", tooltip="All tasks together, or the task in hand"),
        Binding("f", "figures", "figures", id="weigh.figures", tooltip="Every number below its sentence, or none"),
        Binding("t", "times", "times", id="weigh.times", show=False, tooltip="Hands time, or elapsed time"),
        Binding("i", "interval", "interval", id="weigh.interval", show=False, tooltip="Adjusted Wald, or exact"),
        Binding("o", "own", "own evidence", id="weigh.own", tooltip="Only what was done, seen, measured; or all"),
        Binding("m", "sheet('machine')", "the machine", id="weigh.machine", tooltip="Waits, restarts, elapsed time"),
        Binding("r", "sheet('routes')", "routes", id="weigh.routes", show=False, tooltip="The ways people went"),
        Binding("c", "sheet('comparisons')", "all pairs", id="weigh.pairs", tooltip="The table of all comparisons"),
        Binding("e", "sheet('across')", "the rest", id="weigh.rest", tooltip="All the rest across chairs"),
        Binding("v", "sheet('verdicts')", "verdicts", id="weigh.verdicts", tooltip="For whom, and on what condition"),
        Binding("s", "sheet('scorecard')", "scorecards", id="weigh.scores", tooltip="Criteria, weights, ranks"),
        Binding("x", "sheet('contradictions')", "contradictions", id="weigh.doubts", tooltip="What contradicts itself"),
        Binding("4", "go('sort')", "findings", id="weigh.sort", tooltip="Go to Sort"),
        Binding("6", "go('tell')", "tell", id="weigh.tell", tooltip="Go to Tell"),
        Binding("question_mark", "help", "help", id="weigh.help", tooltip="What works in this place"),
    ]

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._weighing: Weighing | None = None
        self._words: FigureWords | None = None
        self._overall: OverallWords | None = None
        self._answers: tuple[ChairAnswer, ...] = ()
        self._turning: Turning | None = None
        self._own = False
        self._times: TimeMeasure | None = None
        self._interval: RateInterval | None = None
        self._all_tasks = True
        self._figures = False

    def middle(self) -> ComposeResult:
        """Figures, and the list of tasks at the right."""
        with VerticalScroll(classes="main", id="figures", can_focus=False):
            yield Static(id="head", markup=False)
            yield FiguresPanel("computing the figures ...", id="panel", markup=False)
        yield Static(classes="aside", id="tasks", markup=False)

    def main(self) -> Widget | None:
        """The place itself has the keys."""
        return None

    def arrived(self) -> None:
        """Compute in the background; the place is usable meanwhile."""
        if self.session.opened.study.cards:
            self._compute(self.session.opened.snapshot(), apart=self.session.in_hand is not None)
        else:
            self.query_one("#panel", Static).update("No task has been planned yet. Plan (1) says how.")

    def action_own(self) -> None:
        """Count only the reviewer's own evidence, or everything again."""
        self._own = not self._own
        self.arrived()

    def action_times(self) -> None:
        """Take all figures of times from the other time."""
        if self._weighing is not None:
            self._times = "elapsed" if self._weighing.choice.times == "hands" else "hands"
            self.arrived()

    def action_interval(self) -> None:
        """Take the other interval of completion rates."""
        if self._weighing is not None:
            exact = self._weighing.choice.interval == "Clopper-Pearson"
            self._interval = "adjusted Wald" if exact else "Clopper-Pearson"
            self.arrived()

    @work(thread=True, exclusive=True, exit_on_error=True, description="compute")
    def _compute(self, study: StudySnapshot, *, apart: bool) -> None:
        worker = get_current_worker()
        try:
            found = weigh(
                study,
                own=self._own,
                times=self._times,
                interval=self._interval,
                apart=apart,
                stopped=lambda: worker.is_cancelled,
            )
            self.post_message(Weighed(found, first_page(study, found)))
            turned = turning(study, found, apart=apart, stopped=lambda: worker.is_cancelled)
            self.post_message(Turned(found, turned))
        except Stopped:
            pass
        except FreshChairError as problem:
            self.post_message(Failed(problem))

    @on(Weighed)
    def _weighed(self, message: Weighed) -> None:
        self._weighing, self._words = message.weighing, figure_words(message.weighing)
        self._overall, self._answers = overall_words(message.weighing), message.answers
        self._turning = None
        self._draw()
        self.refresh_bindings()

    @on(Turned)
    def _turned(self, message: Turned) -> None:
        if message.weighing is self._weighing:
            self._turning = message.turning
            self._draw()

    @on(Failed)
    def _failed(self, message: Failed) -> None:
        self.tell_problem(message.problem)

    @on(FiguresPanel.WidthChanged)
    def _redraw(self) -> None:
        self._draw()

    def _draw(self) -> None:
        weighing, words = self._weighing, self._words
        # The last answer of a worker may come while the screen is being left.
        if weighing is None or words is None or self._overall is None or not self.query("#panel"):
            return
        cards = weighing.study.cards
        self.session.card %= len(cards)
        # The chairs stand across on the first page, and take all the room there is; the panel says when it has it.
        self.set_class(self._all_tasks, "-across")
        width = self.query_one("#panel", Static).size.width or 80
        if self._all_tasks:
            about = f"   {count_of(len(cards), 'task')}, {count_of(len(weighing.study.chairs), 'chair')}"
            self.query_one("#head", Static).update(
                Content.assemble(("Over all tasks", "bold $lamp"), (about, "$thread"))
            )
            panel = overall_panel(
                weighing,
                self._overall,
                self.signs,
                width,
                first=first_words(weighing, self._answers, self._turning, self.signs, width),
                brief=words.brief,
                figures=self._figures,
            )
            self.query_one("#panel", Static).update(panel)
            return
        card = cards[self.session.card]
        self.query_one("#head", Static).update(
            Content.assemble(
                (f"{legible(card.title)}", "bold $lamp"),
                (f"   task {self.session.card + 1} of {len(cards)}, {legible(card.area)}", "$thread"),
            )
        )
        self.query_one("#panel", Static).update(weigh_panel(weighing, words, card, self.signs, width))
        self.query_one("#tasks", Static).update(tasks_panel(weighing, self.session.card, self.signs))

    def action_card(self, step: int) -> None:
        """Show the next task, or the one before; from all tasks together, the one in hand."""
        cards = self.session.opened.study.cards
        if cards:
            if self._all_tasks:
                self.query_one("#figures").scroll_home(animate=False)
            else:
                self.session.card = (self.session.card + step) % len(cards)
            self._all_tasks = False
            self._draw()

    def action_all_tasks(self) -> None:
        """Show all tasks together, or the task in hand."""
        self._all_tasks = not self._all_tasks
        self.query_one("#figures").scroll_home(animate=False)
        self._draw()

    def action_sheet(self, name: str) -> None:
        """Open a sheet with these figures."""
        if self._weighing is not None:
            self.open_sheet(name, self._weighing)

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """A sheet needs the figures."""
        if action in ("sheet", "times", "interval") and self._weighing is None:
            return False
        return super().check_action(action, parameters)

    def action_figures(self) -> None:
        """Show every number below its sentence, or none."""
        self._figures = not self._figures
        self._all_tasks = True
        self._draw()

    def action_scroll(self, rows: int) -> None:
        """Scroll the figures."""
        self.query_one("#figures").scroll_relative(y=rows, animate=False)
