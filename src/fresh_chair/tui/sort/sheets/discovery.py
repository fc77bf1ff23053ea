"""Discovery: how many problems one more person brought, and how many are likely still unseen."""

from typing import ClassVar

from textual.app import ComposeResult
from textual.binding import BindingType
from textual.containers import Vertical
from textual.content import Content
from textual.widgets import Static

from fresh_chair.core.figures.discovery import Discovery
from fresh_chair.core.text import count_of
from fresh_chair.core.words.findings import discovery_words
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.findings.page import discovery_of
from fresh_chair.tui.base.sheet import DrawnSheet

_BAR = 56


class DiscoverySheet(DrawnSheet):
    """The curve of problems found by people, and its meaning."""

    place = "sort"
    sheet_name = "discovery"
    title_words = "discovery"
    about = (
        "How many of the problems one, two, three ... newcomers meet, averaged over all orders of them; the rate is "
        "adjusted for a small sample. Walks, pilots and experts are in none of it."
    )
    BINDINGS: ClassVar[list[BindingType]] = []

    def middle(self) -> ComposeResult:
        """Head and curve."""
        with Vertical(classes="main"):
            yield Static(id="head", markup=False)
            yield Static(id="curve", markup=False)

    def action_back(self) -> None:
        """Go back to the lists."""
        self.action_go("sort")

    def draw(self) -> None:
        """Show the curve."""
        opened = self.session.opened
        found = discovery_of(opened, sorted_findings_of(opened))
        self.query_one("#head", Static).update(
            Content.assemble(("discovery", "bold $lamp"), (f"   {_said(found)}", "$thread"))
        )
        self.query_one("#curve", Static).update(Content("\n").join(self._curve(found)))
        self.follow()
        self.refresh_bindings()

    def _curve(self, found: Discovery) -> list[Content]:
        if not found.problems:
            return [Content.styled("No problem that newcomers met was sorted yet.", "$thread")]
        top = max(found.total or 0.0, float(found.problems))
        parts = []
        for people, problems in enumerate(found.curve, start=1):
            filled = round(problems / top * _BAR)
            bar = self.signs.pixel * filled
            rest = self.signs.dot * (_BAR - filled)
            words = f" {problems:.1f} of {top:.1f}"
            label = f"{people:>3} {'person' if people == 1 else 'people':<7}"
            parts.append(Content.assemble((label, "$thread"), (bar, "$tide"), (rest, "$seam"), (words, "$chalk")))
        parts.append(Content(""))
        parts += [Content.styled(line, "$chalk") for line in discovery_words(found)]
        return parts


def _said(found: Discovery) -> str:
    return f"{count_of(found.problems, 'problem')} met by {count_of(found.participants, 'newcomer')}"
