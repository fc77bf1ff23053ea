"""One record about a chair: every field of it."""

from textual.content import Content

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.text import legible
from fresh_chair.services.chair import records
from fresh_chair.services.plan.editing import FieldLine
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.sheet import FieldSheet
from fresh_chair.tui.widgets.signs import chair_colour


class RecordSheet(FieldSheet):
    """Every field of one record; Esc goes back to the list it stands in.

    Args:
        which: The sheet it was opened from, its kind, its id.
    """

    place = "set"
    sheet_name = "record"
    title_words = "a record"
    about = "Every field of what was put down. A change keeps what stood there before, in the file."

    def __init__(self, session: Session, which: tuple[str, str, str]) -> None:
        super().__init__(session)
        self._from, self._kind, self._record_id = which

    @property
    def letter(self) -> str:
        """The chair in hand."""
        return self.session.cell[1]

    def lines(self) -> list[FieldLine]:
        """The record's fields."""
        try:
            record = records.find_record(self.session.opened, self.letter, self._kind, self._record_id)
        except FreshChairError:
            return []
        return records.record_lines(record)

    def head(self) -> Content:
        """Which chair it is about."""
        chair = self.session.opened.study.chair_by_letter[self.letter]
        return Content.assemble(
            (f"{chair.letter}  {legible(chair.title)}", f"bold {chair_colour(chair)}"), (f"   {self._kind}", "$thread")
        )

    def put(self, line: FieldLine, text: str) -> bool:
        """Change a field; say why where it cannot be."""
        opened = self.session.opened
        done = self.attempt(
            lambda: records.change_record(opened, self.letter, self._kind, self._record_id, line.path, text)
        )
        if done:
            self.draw()
        return done

    def action_back(self) -> None:
        """Go back to the list, or to the finding it was opened from."""
        hand = self.session.sort
        if hand is not None and hand.came_from:
            finding, hand.came_from = hand.came_from, ""
            self.open_sheet("finding", finding)
        else:
            self.open_sheet(self._from)
