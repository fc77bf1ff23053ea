"""Weigh: all tasks together, then one at a time across chairs, with the sentences their figures allow."""

from typing import ClassVar

from textual import on
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import VerticalScroll
from textual.content import Content
from textual.widget import Widget
from textual.widgets import Static

from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.text import count_of, legible
from fresh_chair.core.words.figures import FigureWords, figure_words
from fresh_chair.core.words.overall import OverallWords, overall_words
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.weigh.computing import ComputingPlace
from fresh_chair.tui.weigh.widgets.figures_panel import FiguresPanel
from fresh_chair.tui.weigh.widgets.first_panel import first_words
from fresh_chair.tui.weigh.widgets.overall_panel import overall_panel
from fresh_chair.tui.weigh.widgets.tasks_panel import tasks_panel
from fresh_chair.tui.weigh.widgets.weigh_panel import weigh_panel


class Weigh(ComputingPlace):
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
        self._words: FigureWords | None = None
        self._overall: OverallWords | None = None
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
            self.compute()
        else:
            self.query_one("#panel", Static).update("No task has been planned yet. Plan (1) says how.")

    def computed(self, weighing: Weighing) -> None:
        """Put the figures in words."""
        self._words, self._overall = figure_words(weighing), overall_words(weighing)

    @on(FiguresPanel.WidthChanged)
    def _redraw(self) -> None:
        self.draw()

    def draw(self) -> None:
        """Show all tasks together, or the one in hand."""
        weighing, words = self.weighing, self._words
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
                first=first_words(weighing, self.answers, self.turning, self.signs, width),
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
            self.draw()

    def action_all_tasks(self) -> None:
        """Show all tasks together, or the task in hand."""
        self._all_tasks = not self._all_tasks
        self.query_one("#figures").scroll_home(animate=False)
        self.draw()

    def action_figures(self) -> None:
        """Show every number below its sentence, or none."""
        self._figures = not self._figures
        self._all_tasks = True
        self.draw()

    def action_scroll(self, rows: int) -> None:
        """Scroll the figures."""
        self.query_one("#figures").scroll_relative(y=rows, animate=False)
