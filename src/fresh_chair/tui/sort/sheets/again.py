"""Again: the findings that are to be tested again, each with its reason."""

from typing import ClassVar

from textual import on
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.findings.life import AgainLine, again_list
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.tui.base.sheet import ListSheet


class AgainSheet(ListSheet):
    """One line a reason to test a finding again."""

    place = "sort"
    sheet_name = "again"
    title_words = "to be tested again"
    about = (
        "What was forgiven, what its makers say is mended, what waits for a release. fresh-chair new FILE --again "
        "STUDY begins a study with these cards, findings and open questions."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("enter", "page", "page", id="again.page", tooltip="Everything about this finding"),
    ]

    def action_back(self) -> None:
        """Go back to the lists."""
        self.action_go("sort")

    @property
    def _all(self) -> list[AgainLine]:
        opened = self.session.opened
        return again_list(opened, sorted_findings_of(opened))

    @property
    def _here(self) -> AgainLine | None:
        at, lines = self.at, self._all
        return lines[at] if at is not None and at < len(lines) else None

    def draw(self) -> None:
        """Show the list."""
        lines = self._all
        width = max(self.pile.size.width - 2, 30)
        self.refill([self._row(line, width) for line in lines])
        self.head("to be tested again", count_of(len(lines), "reason") if lines else "")
        empty = (
            "Nothing yet. An excuse, “mended by” (&), a change still to come, or a later item brings a finding here."
        )
        self.query_one("#note", Static).update(Content.styled("" if lines else empty, "$thread"))
        self._draw_beside()
        self.follow()
        self.refresh_bindings()

    def _row(self, line: AgainLine, width: int) -> Content:
        title = clipped(legible(line.title), max(width // 2 - 6, 12))
        why = clipped(legible(line.why), max(width - len(title) - 8, 10))
        return Content.assemble((f"{line.name:<5}", "$thread"), (f"{title}  ", "$chalk"), (why, "$lamp"))

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_beside(self) -> None:
        line = self._here
        parts: list[Content] = []
        if line is not None:
            titles = {card.id: card.title for card in self.session.opened.study.cards}
            parts = [
                Content.styled(f"{line.name} {legible(line.title)}", "bold $chalk"),
                Content.styled(legible(line.why), "$lamp"),
                Content.styled(
                    f"waits for {legible(line.waits_for)}" if line.waits_for else "waits for nothing", "$thread"
                ),
                Content.styled(f"at {', '.join(line.chairs)}" if line.chairs else "at no chair", "$thread"),
                *(Content.styled(legible(titles.get(card, card)), "$chalk") for card in line.cards),
            ]
        self.query_one("#beside", Static).update(Content("\n").join(parts))

    def action_page(self) -> None:
        """Open the page of the finding in hand."""
        line = self._here
        if line is not None:
            self.open_sheet("finding", line.finding)

    @on(OptionList.OptionSelected)
    def _entered(self) -> None:
        if not self.asking:
            self.action_page()
