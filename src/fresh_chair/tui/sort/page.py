"""A finding's page: observations, severity, cause, ways round, links; edited where they stand."""

from collections.abc import Sequence
from pathlib import Path
from textwrap import wrap
from typing import ClassVar

from textual import events, on
from textual.app import ComposeResult
from textual.binding import BindingType
from textual.containers import Horizontal, Vertical
from textual.content import Content
from textual.widget import Widget
from textual.widgets import Static

from fresh_chair.core.text import legible
from fresh_chair.services.findings.page import FindingPage, PageLine, PageSection, SectionName, Tone, finding_page
from fresh_chair.tui.base.parts import Parts
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.sort_in_hand import SortInHand
from fresh_chair.tui.sort.page_base import PageBase
from fresh_chair.tui.sort.page_edits import PageEdits
from fresh_chair.tui.sort.page_keys import PAGE_KEYS
from fresh_chair.tui.sort.page_looks import PageLooks
from fresh_chair.tui.widgets.line_list import LineList
from fresh_chair.tui.widgets.signs import chair_colour

_COLOURS: dict[Tone, str] = {
    "plain": "$chalk",
    "quiet": "$thread",
    "good": "$moss",
    "bad": "$clay",
    "now": "$lamp",
    "machine": "$tide",
    "quote": "$plum",
}
_LEFT: tuple[SectionName, ...] = (
    "seen",
    "who met it",
    "comes and goes",
    "way round",
    "life line",
    "tied",
    "may belong to",
)
_RIGHT: tuple[SectionName, ...] = ("severity", "excuses", "raters", "cause", "trials", "controls")
# What stands in an empty section: the key that fills it.
_EMPTY: dict[SectionName, str] = {
    "excuses": "nothing excuses it; x",
    "cause": "no hypothesis yet; c",
    "trials": "nothing was tried yet; t",
    "way round": "none known; w",
    "tied": "to nothing; &",
}


class FindingSheet(PageBase):
    """Two columns of lines; Enter changes the one in hand.

    Args:
        finding: The finding's id.
    """

    place = "sort"
    sheet_name = "finding"
    title_words = "a finding"
    CSS_PATH = Path(__file__).with_name("page.tcss")
    about = (
        "Everything about one finding. Enter changes the line in hand, or opens what was seen at its very moment. "
        "Nothing is overwritten: a revised cause or severity stays below the one that holds, with its day and reason."
    )
    BINDINGS: ClassVar[list[BindingType]] = [*PAGE_KEYS]

    def __init__(self, session: Session, finding: str) -> None:
        super().__init__(session)
        session.sort = session.sort or SortInHand()
        self.hand = session.sort
        self.finding = finding
        self._lines: dict[str, tuple[PageSection, PageLine]] = {}
        self._parts: Parts[PageBase] = Parts({"edits": PageEdits(self), "looks": PageLooks(self)})

    def middle(self) -> ComposeResult:
        """The name, then both columns."""
        with Vertical(classes="main"):
            yield Static(id="head", markup=False)
            with Horizontal(id="columns"):
                yield LineList("left")
                yield LineList("right")

    def main(self) -> Widget | None:
        """The column that had the keys last."""
        return self.query_one(f"#{self._column}", LineList)

    @property
    def in_hand(self) -> tuple[PageSection, PageLine] | None:
        """The line in hand, and its section."""
        here = self.query_one(f"#{self._column}", LineList).here
        return self._lines.get(here or "")

    def action_back(self) -> None:
        """Go back to the lists."""
        self.action_go("sort")

    def action_column(self, which: str) -> None:
        """Give the keys to a column; on a small screen the other one gives its room."""
        self._column = which
        self.set_class(which == "right", "-right")
        self.query_one(f"#{which}", LineList).focus()
        self.draw_soon()

    def show_part(self, part: str) -> None:
        """Take the line of a part in hand, in its column."""
        found = next((name for name, (_, line) in self._lines.items() if line.part == part), None)
        if found is not None:
            self.action_column("left" if found.partition("/")[0] in _LEFT else "right")
            self.query_one(f"#{self._column}", LineList).take(found)

    def open_moment(self) -> None:
        """Open the observation in hand at its very moment."""
        self._parts.do("looks.moment")

    def action_do(self, act: str, *arguments: object) -> None:
        """Let a part do an act, named as `part.act`."""
        self._parts.do(act, *arguments)

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """A key that means nothing now is not shown."""
        if self.is_mounted and action == "do" and not self._parts.may(str(parameters[0]), *parameters[1:]):
            return False
        return super().check_action(action, parameters)

    @on(events.DescendantFocus)
    def _focus_moved(self) -> None:
        if isinstance(self.focused, LineList) and not self.asking:
            self._column = self.focused.id or "left"
        self.refresh_bindings()

    @on(LineList.RoomChanged)
    def _redraw(self) -> None:
        self.draw()

    @on(LineList.Moved)
    def _moved(self) -> None:
        self.refresh_bindings()

    @on(LineList.Picked)
    def _chosen(self) -> None:
        if not self.asking:
            self._parts.do("edits.change")

    def draw(self) -> None:
        """Show the page as the study is now; a finding that was merged shows the one it is."""
        opened = self.session.opened
        found = opened.findings
        self.finding = found.merged_into.get(self.finding, self.finding)
        if self.finding not in found.by_id:
            self.action_back()
            return
        self.page = finding_page(opened, self.finding, rater=self.hand.rater)
        self.hand.lines["findings"] = self.finding
        self.query_one("#head", Static).update(self._head(self.page))
        self._lines.clear()
        self._fill("left", _LEFT)
        self._fill("right", _RIGHT)
        self.follow()
        self.refresh_bindings()

    def _head(self, page: FindingPage) -> Content:
        finding = page.view.finding
        tags = "".join(f"  #{legible(tag)}" for tag in finding.tags)
        under = self.session.opened.findings.by_id.get(finding.under)
        beneath = f"  under F{under.number}" if under is not None else ""
        sibling = list(self.session.opened.findings.siblings(finding))
        also = f"  beside {' '.join(f'F{each.number}' for each in sibling)}" if sibling else ""
        return Content.assemble(
            (f"{finding.name}  ", "bold $lamp"),
            (legible(finding.title), "bold $chalk"),
            (f"   {finding.sort}{tags}{beneath}{also}", "$tide"),
        )

    def _fill(self, column: str, names: Sequence[SectionName]) -> None:
        pile = self.query_one(f"#{column}", LineList)
        # One column is the scrollbar's, once there is more than fits.
        width = max(pile.scrollable_content_region.width - 1, 20)
        ids: list[str | None] = []
        drawn: list[list[Content]] = []
        for name in names:
            section = self.page.section(name)
            if not section.lines and name not in _EMPTY:
                continue
            ids.append(None)
            drawn.append([Content.styled(name, "bold $thread")])
            for index, line in enumerate(section.lines):
                ids.append(f"{name}/{index}")
                self._lines[f"{name}/{index}"] = section, line
                drawn.append(self._rows(line, width))
            if not section.lines:
                ids.append(None)
                drawn.append([Content.styled(f"  {_EMPTY[name]}", "$thread")])
        pile.show(ids, lambda index, width: drawn[index], [len(rows) for rows in drawn])

    def _rows(self, line: PageLine, width: int) -> list[Content]:
        """A line wrapped, its further rows under its first; a chair's letter in its colour."""
        chair = self.session.opened.study.chair_by_letter.get(line.chair)
        colour = _COLOURS[line.tone]
        mark = f"{line.chair} " if chair is not None and line.target else ""
        indent = len(line.words) - len(line.words.lstrip(" "))
        text = legible(line.words.lstrip(" "))
        rows = wrap(text, max(width - 4 - len(mark) - indent, 12)) or [""]
        hue = colour if chair is None else chair_colour(chair)
        found = [Content.assemble((" " * (1 + indent), ""), (mark, hue), (rows[0], colour))]
        return [*found, *(Content.styled(f"{' ' * (3 + indent + len(mark))}{row}"[:width], colour) for row in rows[1:])]
