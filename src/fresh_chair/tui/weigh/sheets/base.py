"""The base of Weigh's sheets: a head, and one long drawing that is scrolled."""

from collections.abc import Sequence
from typing import Any, ClassVar

from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import VerticalScroll
from textual.content import Content
from textual.widgets import Static

from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.sheet import DrawnSheet


class WeighSheet(DrawnSheet):
    """A sheet drawn from the figures as Weigh had them when it was opened."""

    place = "weigh"
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("down,j", "scroll(3)", "down", id="weighing.down", key_display="↓", tooltip="Scroll down"),
        Binding("up,k", "scroll(-3)", "up", id="weighing.up", key_display="↑", tooltip="Scroll up"),
    ]

    def __init__(self, session: Session, argument: Any = None) -> None:
        super().__init__(session)
        self.weighing: Weighing = argument

    def middle(self) -> ComposeResult:
        """Head and drawing."""
        with VerticalScroll(classes="main", id="figures", can_focus=False):
            yield Static(id="head", markup=False)
            yield Static(id="panel", markup=False)

    def action_back(self) -> None:
        """Go back to the answer."""
        self.action_go("weigh")

    def action_scroll(self, rows: int) -> None:
        """Scroll the drawing."""
        self.query_one("#figures").scroll_relative(y=rows, animate=False)

    def about_words(self) -> str:
        """A few words beside the title."""
        return ""

    def lines(self, width: int) -> Sequence[Content]:
        """The drawing, line by line."""
        raise NotImplementedError

    def draw(self) -> None:
        """Show everything as it is now."""
        head = Content.assemble((self.title_words, "bold $lamp"), (f"   {self.about_words()}", "$thread"))
        self.query_one("#head", Static).update(head)
        panel = self.query_one("#panel", Static)
        panel.update(Content("\n").join(self.lines(panel.size.width or 76)))
        self.follow()
        self.refresh_bindings()
