"""A task card's sheet: every field of it."""

from typing import ClassVar

from textual.binding import Binding, BindingType
from textual.content import Content

from fresh_chair.core.plan.readability import aloud_seconds, reading_grade
from fresh_chair.core.text import legible
from fresh_chair.services.plan.editing import FieldLine, field_lines
from fresh_chair.services.plan.scripts import remarks_by_card
from fresh_chair.tui.base.sheet import FieldSheet
from fresh_chair.tui.plan.widgets.card_view import remark_lines


class CardSheet(FieldSheet):
    """One card at a time."""

    sheet_name = "card"
    title_words = "a task card"
    about = "Every field of a card, beside what is wrong with it. Esc goes back to the tasks."
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left", "step(-1)", "before", id="card.before", key_display="←", tooltip="The card before"),
        Binding("right", "step(1)", "after", id="card.after", key_display="→", tooltip="The card after"),
    ]

    def lines(self) -> list[FieldLine]:
        """The card's fields."""
        return field_lines(self.session.opened.study, "card", self.session.task)

    def head(self) -> Content:
        """Which card it is, how long it is aloud."""
        study = self.session.opened.study
        card = study.card_by_id[self.session.task]
        place = study.cards.index(card) + 1
        aloud = f"{aloud_seconds(card.goal):.0f} s aloud, reading grade {max(reading_grade(card.goal), 0):.0f}"
        return Content.assemble(
            (legible(card.title), "bold $lamp"), (f"   card {place} of {len(study.cards)}, {aloud}", "$thread")
        )

    def beside(self) -> Content:
        """The remarks on it."""
        found = remarks_by_card(self.session.opened.study)[self.session.task]
        return Content("\n").join(remark_lines(found, self.signs))

    def action_step(self, step: int) -> None:
        """Go to a neighbouring card."""
        ids = list(self.session.opened.study.card_by_id)
        self.session.task = ids[(ids.index(self.session.task) + step) % len(ids)]
        self.draw()

    def action_back(self) -> None:
        """Go back to the tasks."""
        self.open_sheet("tasks")
