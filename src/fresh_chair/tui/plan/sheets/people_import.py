"""People from a CSV file: the field of each column, and the people that result."""

from typing import ClassVar

from textual import on
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.plan.text.people_csv import PeopleTable, guessed, identifies, targets
from fresh_chair.core.text import clipped, count_of
from fresh_chair.services.plan.people_files import look_through, take_people
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.sheet import ListSheet
from fresh_chair.tui.widgets.dialogue import asks

_MOST_SHOWN = 30


class ImportPeople(ListSheet):
    """The columns with their meaning at the left, the people they make at the right."""

    sheet_name = "import"
    title_words = "people from a table"
    about = "Say what each column is. Columns that look as if they said who people are, are left out unless you insist."
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("enter", "map", "what it is", id="import.map", tooltip="Say what this column is"),
        Binding("space", "leave", "leave it out", id="import.leave", tooltip="Leave this column out"),
        Binding("i", "take", "add them", id="import.take", tooltip="Add the people that were found"),
    ]

    def __init__(self, session: Session, table: PeopleTable) -> None:
        super().__init__(session)
        self._table = table
        self._mapping = guessed(table, session.opened.study.sheet)
        self._targets = targets(session.opened.study.sheet)

    def draw(self) -> None:
        """Show the field of each column, and the people that result."""
        table = self._table
        found = look_through(self.session.opened, table, self._mapping)
        self.head(
            "People from a table",
            f"{count_of(len(table.rows), 'row')}, {count_of(len(table.header), 'column')}, {table.encoding}",
        )
        self.refill([self._line(column) for column in range(len(table.header))])
        words = f"{len(found.people)} can be added; {count_of(len(found.problems), 'row')} cannot."
        self.query_one("#note", Static).update(Content.styled(words, "$moss" if found.people else "$clay"))
        parts = [Content.styled("who would be added", "$thread")]
        parts.append(Content(" ".join(person.code for person in found.people[:200]) or "nobody"))
        if found.problems:
            parts += [Content(""), Content.styled("what cannot be", "$thread")]
            parts += [Content.styled(problem, "$clay") for problem in found.problems[:_MOST_SHOWN]]
        if len(found.problems) > _MOST_SHOWN:
            parts.append(Content(f"and {len(found.problems) - _MOST_SHOWN} more"))
        if found.remarks:
            parts += [Content(""), Content.styled("noticed", "$thread")]
            parts += [Content.styled(remark, "$lamp") for remark in found.remarks]
        self.query_one("#beside", Static).update(Content("\n").join(parts))

    def _line(self, column: int) -> Content:
        table = self._table
        target = self._mapping.get(column)
        sample = next((row[column] for row in table.rows if row[column]), "")
        if target:
            meaning, colour = target.replace(".", ": ").replace("_", " "), "$moss"
        else:
            meaning, colour = (
                "left out" + (", says who they are" if identifies(table.header[column]) else ""),
                "$thread",
            )
        return Content.assemble(
            (clipped(table.header[column] or f"column {column + 1}", 24).ljust(25), "$chalk"),
            (meaning.ljust(28), colour),
            (clipped(sample, 30), "$thread"),
        )

    @property
    def _column(self) -> int:
        return self.at or 0

    @on(OptionList.OptionSelected, "#list")
    @asks
    async def action_map(self) -> None:
        """Ask for the field of the column in hand."""
        if self.asking:
            return
        column = self._column
        at = await self.ask_one_of(self._table.header[column], [t.replace(".", ": ") for t in self._targets])
        if at is not None:
            target = self._targets[at]
            self._mapping = {col: what for col, what in self._mapping.items() if what != target and col != column}
            self._mapping[column] = target
            self.draw()

    def action_leave(self) -> None:
        """Leave the column in hand out."""
        self._mapping.pop(self._column, None)
        self.draw()

    def action_take(self) -> None:
        """Add the people that were found."""
        opened = self.session.opened
        found = look_through(opened, self._table, self._mapping)
        if self.attempt(lambda: take_people(opened, found)):
            self.session.cell = (found.people[0].code, self.session.cell[1])
            self.open_sheet("person")
