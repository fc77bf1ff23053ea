"""Sort: two lists, observations and findings."""

from typing import ClassVar

from textual import events, on
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Horizontal, Vertical
from textual.widget import Widget
from textual.widgets import Input, Static

from fresh_chair.tui.base.parts import Parts
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.sort.base import SortBase
from fresh_chair.tui.sort.judging import Judging
from fresh_chair.tui.sort.membership import Membership
from fresh_chair.tui.sort.narrowing import Narrowing
from fresh_chair.tui.sort.sort_keys import KEYS
from fresh_chair.tui.widgets.line_list import LineList


class Sort(SortBase):
    """Observations at the left, findings at the right; holds the parts whose acts its keys name."""

    place = "sort"
    CSS_PATH = "screen.tcss"
    BINDINGS: ClassVar[list[BindingType]] = [*KEYS]

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._narrowing = Narrowing(self)
        self._parts: Parts[SortBase] = Parts(
            {"members": Membership(self), "judging": Judging(self), "narrowing": self._narrowing}
        )

    def middle(self) -> ComposeResult:
        """Two lists and the details of the line in hand."""
        with Horizontal(classes="main"):
            with Vertical(id="left"):
                yield Static(id="left-head", markup=False)
                yield LineList("observations")
            with Vertical(id="right"):
                yield Static(id="right-head", markup=False)
                yield LineList("findings")
                yield Static(id="detail", markup=False)

    def main(self) -> Widget | None:
        """The list that had the keys last; the observations at first."""
        return self.list_of(self.hand.pile)

    def arrived(self) -> None:
        """Show both lists."""
        self.hand.kept.clear()
        super().arrived()

    def read_on(self) -> None:
        """Show other programs' snags and findings in both lists."""
        self.draw()

    @on(events.DescendantFocus)
    def _focus_moved(self) -> None:
        if isinstance(self.focused, LineList) and not self.asking:
            self.hand.pile = "findings" if self.focused.id == "findings" else "observations"
            self.draw_detail()
        self.refresh_bindings()

    @on(Input.Changed)
    def _typed(self, event: Input.Changed) -> None:
        self._narrowing.typed(event.value)

    @on(LineList.Moved)
    def _line_moved(self, message: LineList.Moved) -> None:
        if message.lines.id == "findings":
            self.hand.lines["findings"] = message.line or ""
        else:
            self.hand.lines["observations"] = message.line or ""
        self.draw_detail()
        self.refresh_bindings()

    @on(LineList.Picked)
    def _line_chosen(self, message: LineList.Picked) -> None:
        """Enter or a click: an observation is taken up, a finding gets those taken up, or opens."""
        if self.asking:
            return
        if message.lines.id == "observations":
            self._parts.do("members.take")
        elif message.line.startswith("carried:"):
            self._parts.do("members.take_up_carried")
        elif self.hand.taken:
            self._parts.do("members.join")
        else:
            self.action_page()

    def action_do(self, act: str, *arguments: object) -> None:
        """Let a part do an act, named as `part.act`."""
        self._parts.do(act, *arguments)

    def action_other(self) -> None:
        """Give the keys to the other list."""
        self.list_of("observations" if self.hand.pile == "findings" else "findings").focus()

    def action_page(self) -> None:
        """Open the page of the finding in hand."""
        view = self.finding_in_hand
        if view is not None:
            self.open_sheet("finding", view.id)

    def action_sheet(self, name: str) -> None:
        """Open a sheet of all findings."""
        self.open_sheet(name)

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """A key that means nothing now is not shown."""
        if self.is_mounted:
            if action == "page" and (self.hand.pile != "findings" or self.finding_in_hand is None):
                return False
            if action == "do" and not self._parts.may(str(parameters[0]), *parameters[1:]):
                return False
        return super().check_action(action, parameters)

    def shows(self, binding: Binding) -> bool:
        """The commonest keys of each list have the room."""
        return binding.id not in ("sort.find", "sort.filter", "sort.other") or self.hand.pile == "observations"
