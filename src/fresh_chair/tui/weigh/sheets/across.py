"""All the rest across chairs: findings, readings, claims, defaults, looks, changes, hunches, agreement, walks."""

from collections.abc import Sequence

from textual.content import Content

from fresh_chair.core.text import clipped, legible
from fresh_chair.services.judgement.across import across
from fresh_chair.tui.weigh.sheets.base import WeighSheet
from fresh_chair.tui.widgets.signs import chair_colour

_LABEL = 34


class AcrossSheet(WeighSheet):
    """Everything on record that no test compares, side by side."""

    sheet_name = "across"
    title_words = "all the rest, across chairs"
    about = (
        "Counts of what was found, read, promised and foreseen at each chair. Readings stand side by side with the "
        "conditions in which they differ. The reviewer's own walks stand last, and in no figure."
    )

    def about_words(self) -> str:
        """How to read it."""
        return "counts; a reading is the newest trusted one"

    def lines(self, width: int) -> Sequence[Content]:
        """The table, then the lines that are of no single chair."""
        found, chairs = across(self.session.opened), self.weighing.study.chairs
        column = max((width - _LABEL) // max(len(chairs), 1), 10)
        names = [
            (clipped(f"{chair.letter} {legible(chair.title)}", column - 1).ljust(column), f"bold {chair_colour(chair)}")
            for chair in chairs
        ]
        parts: list[Content] = [Content.assemble((" " * _LABEL, ""), *names)]
        group = ""
        for row in found.rows:
            if row.group != group:
                group = row.group
                parts += [Content(""), Content.styled(group, "bold $chalk")]
            cells = "".join(clipped(legible(cell) or self.signs.none, column - 1).ljust(column) for cell in row.cells)
            label = clipped(f"  {legible(row.label)}", _LABEL - 1)
            parts.append(Content.assemble((f"{label:<{_LABEL}}", "$thread"), (cells, "$chalk")))
            if row.borrowed:
                said = ", ".join(f"{count} {kind}" for kind, count in row.borrowed)
                parts.append(Content.styled(clipped(f"    of these: {said}", width - 1), "$lamp"))
            if row.note:
                parts.append(Content.styled(f"    {clipped(legible(row.note), width - 5)}", "$lamp"))
        if found.beside:
            parts += [Content(""), Content.styled("foreseen, and agreed on", "bold $chalk")]
        for label, said in found.beside:
            parts.append(Content.assemble((f"  {legible(label):<{_LABEL - 2}}", "$thread"), (legible(said), "$chalk")))
        return parts
