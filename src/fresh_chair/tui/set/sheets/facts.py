"""Every fact of a chair's identity, with its source, and the unread ones with the reason."""

from typing import ClassVar

from textual.binding import Binding, BindingType
from textual.content import Content

from fresh_chair.core.clock import SECOND
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.chair.sheet import chair_sheet
from fresh_chair.services.system.clock import day_and_time
from fresh_chair.tui.set.sheets.records import SetSheet

_NAME = 18


class Facts(SetSheet):
    """One line a fact."""

    sheet_name = "facts"
    title_words = "every fact"
    about = "What the chair said of itself, where each fact was read, and where two places say different things."
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left", "chair(-1)", "before", id="facts.before", key_display="←", tooltip="The chair before"),
        Binding("right", "chair(1)", "after", id="facts.after", key_display="→", tooltip="The chair after"),
    ]

    def draw(self) -> None:
        """Show the list."""
        sheet = chair_sheet(self.session.opened, self.letter, self.session.opened.clock.now())
        disputed = {each.name for each in sheet.disagreements}
        width = max(self.pile.size.width, 40)
        source = min(30, width // 3)
        lines = [
            Content.assemble(
                (f"{fact.name:<{_NAME}}", "$thread"),
                (
                    clipped(legible(fact.value), width - _NAME - source - 2).ljust(width - _NAME - source - 1),
                    "$clay" if fact.name in disputed else "$chalk",
                ),
                (clipped(legible(fact.source), source), "$thread"),
            )
            for fact in sheet.facts
        ]
        lines += [
            Content.assemble((f"{each.name:<{_NAME}}", "$thread"), (f"could not be read: {legible(each.why)}", "$lamp"))
            for each in sheet.unread
        ]
        self.refill(lines)
        read = sheet.ledger.identity
        when = f"{len(sheet.facts)} facts, read {day_and_time(read[0].wall_ns / SECOND)}" if read else "not read yet"
        self.chair_head(self.title_words, when)
        parts = [Content.styled("where two places disagree", "$thread")] if sheet.disagreements else []
        for each in sheet.disagreements:
            parts.append(Content.styled(legible(each.name), "$clay"))
            parts.append(Content.assemble((f"  {legible(each.one_source)}  ", "$thread"), legible(each.one)))
            parts.append(Content.assemble((f"  {legible(each.other_source)}  ", "$thread"), legible(each.other)))
        if read and not sheet.disagreements:
            parts = [Content("Nothing disagrees, neither with itself nor with the plan.")]
        self.detail(Content("\n").join(parts))
        self.refresh_bindings()
