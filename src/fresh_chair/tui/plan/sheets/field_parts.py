"""A field that holds several things, as a small form: a part a line."""

from typing import ClassVar

from textual.binding import Binding, BindingType
from textual.content import Content

from fresh_chair.core.errors import FreshChairError
from fresh_chair.services.plan import field_parts as parts
from fresh_chair.services.plan.editing import FieldLine
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.sheet import FieldSheet
from fresh_chair.tui.widgets.dialogue import asks


class PartSheet(FieldSheet):
    """Every part of every thing in a list of the plan.

    Args:
        where: The field's place, such as sheet.consents, and what it is called.
    """

    sheet_name = "parts"
    title_words = "part by part"
    about = "What one field of a sheet holds, a part a line. a adds another one, x takes one out; Esc goes back."
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("a", "add", "another one", id="parts.add", tooltip="Add another one"),
        Binding("x", "remove", "take out", id="parts.remove", tooltip="Take the one in hand out"),
    ]

    def __init__(self, session: Session, where: tuple[str, str]) -> None:
        super().__init__(session)
        self._at, self._words = where

    def lines(self) -> list[FieldLine]:
        """The parts."""
        try:
            return parts.part_lines(self.session.opened.study, self._at)
        except FreshChairError:
            return []

    def head(self) -> Content:
        """Which field it is."""
        empty = "" if self.lines() else "   nothing yet; a adds one"
        return Content.assemble((self._words, "bold $lamp"), (empty, "$thread"))

    def put(self, line: FieldLine, text: str) -> bool:
        """Change a part; say why where it cannot be."""
        done = self.attempt(lambda: parts.set_part(self.session.opened, self._at, line.path, text))
        if done:
            self.draw()
        return done

    @asks
    async def action_add(self) -> None:
        """Ask for the words of another one."""

        def add(words: str) -> bool:
            done = self.attempt(lambda: parts.add_part(self.session.opened, self._at, words))
            if done:
                self.draw()
            return done

        await self.ask_until(f"another one of {self._words}, in words", add)

    @asks
    async def action_remove(self) -> None:
        """Take the one in hand out."""
        line = self.in_hand
        if line is None:
            return
        path = line.path
        sure = await self.ask_sure(f"take number {int(path.partition('.')[0]) + 1} out?", "take it out")
        if sure and self.attempt(lambda: parts.remove_part(self.session.opened, self._at, path)):
            self.draw()

    def action_back(self) -> None:
        """Go back to the sheet that the field stands on."""
        self.open_sheet("chair" if self._at.startswith("machine.") else "study")
