"""Claims: promises, held against the chair itself."""

from typing import ClassVar

from textual.binding import Binding, BindingType
from textual.content import Content

from fresh_chair.core.chair.ledger import Held
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.tui.set.sheets.records import Records
from fresh_chair.tui.set.widgets.chair_bands import ANSWER_SIGNS
from fresh_chair.tui.widgets.dialogue import asks


class Claims(Records):
    """The claims about the chair in hand."""

    sheet_name = "claims"
    title_words = "promised, and found"
    kind = "claim"
    first = "promised"
    first_words = "what is promised, in their words?"
    empty_words = "What the release notes and the site promise, held against what you find. a adds a claim."
    about = (
        "A version read after an update contradicts the release notes falsely: newer through an update is an answer of "
        "its own. A claim with a check is answered by the machine (r in Set)."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("v", "answer", "found", id="claims.answer", tooltip="As promised, not so, partly, newer, on trust"),
        Binding("n", "note", "in words", id="claims.note", tooltip="What was found, in words"),
    ]

    def line(self, held: Held) -> Content:
        """A claim, and its answer."""
        answer = self.value(held, "answer")
        state, colour = ANSWER_SIGNS[answer]
        room = max(self.pile.size.width - 30, 20)
        return Content.assemble(
            (f"{self.signs.states[state]} ", colour),
            (clipped(legible(self.value(held, "promised")), room).ljust(room), "$chalk"),
            (f"  {answer}", colour),
        )

    def more(self, held: list[Held]) -> str:
        """How many are not looked at."""
        left = sum(self.value(each, "answer") == "not looked at" for each in held)
        return f"{count_of(len(held), 'claim')}, {left} not looked at" if held else "no claim put down"

    @asks
    async def action_answer(self) -> None:
        """Answer a claim."""
        await self.choose("answer", "what was found?")

    @asks
    async def action_note(self) -> None:
        """Say it in words."""
        held = self.here
        if held is not None:
            value = self.value(held, "note")
            await self.ask_until("what was found?", lambda text: self.change("note", text), value=value)
