"""On paper: handouts and lists for the bench, chosen and written as one PDF."""

from pathlib import Path
from typing import ClassVar

from textual import on, work
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.message import Message
from textual.widgets import OptionList, Static

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.text import legible
from fresh_chair.services.report.printing import PAPERS, PARTS, print_plan
from fresh_chair.services.system.files import typed_path
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.sheet import ListSheet
from fresh_chair.tui.widgets.dialogue import asks

_FOR = {
    "cards": "Handed to the participant: only the goal; a title may give the answer away. A number finds the card.",
    "cards-4": "The same, to cut apart.",
    "running": "For you: every sitting to come, its cards in its order, with room to write.",
    "consent": "For the participant to read and sign; their name stays on the paper.",
    "ratings": "For the participant to tick: ease after each card, the usability scale, the study's own questions.",
    "fixtures": "For whoever sets the bench, to tick off.",
}


class Printed(Message):
    """The PDF was written, or could not be."""

    def __init__(self, path: Path, problem: FreshChairError | None) -> None:
        super().__init__()
        self.path, self.problem = path, problem


class OnPaper(ListSheet):
    """The parts with a mark each, and the paper."""

    sheet_name = "paper"
    title_words = "on paper"
    about = (
        "One PDF whose text can be selected, on A4 or Letter. What is handed to participants says nothing but the goal."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("space", "mark", "in or out", id="paper.mark", tooltip="Put this part in, or leave it out"),
        Binding("z", "size", "A4 or Letter", id="paper.size", tooltip="The other paper"),
        Binding("w", "write", "write the PDF", id="paper.write", tooltip="Write the PDF"),
    ]

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._chosen = {"cards", "running", "consent", "fixtures"}
        self._paper = PAPERS[0]

    def draw(self) -> None:
        """Show the parts."""
        self.head("On paper", f"one PDF, {({'a4': 'A4', 'letter': 'Letter'})[self._paper]}")
        self.refill([self._line(part, words) for part, words in PARTS.items()])
        self._draw_part()

    def _line(self, part: str, words: str) -> Content:
        there = part in self._chosen
        sign = self.signs.states["ready"] if there else self.signs.dash
        return Content.assemble((f"{sign}  ", "$moss"), (words, "$chalk" if there else "$thread"))

    @property
    def _part(self) -> str:
        return list(PARTS)[self.at or 0]

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_part(self) -> None:
        self.query_one("#beside", Static).update(_FOR[self._part])

    @on(OptionList.OptionSelected, "#list")
    def action_mark(self) -> None:
        """Put the part in hand in, or leave it out."""
        if not self.asking:
            self._chosen ^= {self._part}
            self.draw()

    def action_size(self) -> None:
        """Take the other paper."""
        self._paper = PAPERS[(PAPERS.index(self._paper) + 1) % len(PAPERS)]
        self.draw()

    @asks
    async def action_write(self) -> None:
        """Ask where the PDF goes."""
        if not self._chosen:
            self.tell("Nothing is chosen; Space puts a part in.", colour="$clay")
            return

        def put(text: str) -> bool:
            found: list[Path] = []
            if not self.attempt(lambda: found.append(typed_path(text))):
                return False
            self.tell("Writing it ...", colour="$lamp")
            self._print(found[0])
            return True

        await self.ask_until("the PDF goes to", put, value="plan.pdf")

    @work(thread=True, exclusive=True, description="print")
    def _print(self, path: Path) -> None:
        parts = [part for part in PARTS if part in self._chosen]
        try:
            print_plan(self.session.opened, path, parts, paper=self._paper)
        except FreshChairError as problem:
            self.post_message(Printed(path, problem))
        else:
            self.post_message(Printed(path, None))

    @on(Printed)
    def _printed(self, message: Printed) -> None:
        if message.problem is None:
            self.tell(f"Written: {legible(str(message.path))}")
        else:
            self.tell_problem(message.problem)
