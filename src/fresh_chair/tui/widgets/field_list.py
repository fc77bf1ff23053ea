"""The fields of one thing of a plan, one under the other, each with its value."""

from collections.abc import Sequence
from textwrap import wrap

from textual.content import Content
from textual.widgets import OptionList
from textual.widgets.option_list import Option

from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.plan.editing import FieldLine
from fresh_chair.tui.widgets.selection import Selection
from fresh_chair.tui.widgets.signs import Signs

_LABEL = 24
_MOST_LINES = 8


class FieldList(OptionList):
    """Draws field lines and keeps the one that is in hand.

    Args:
        signs: The glyphs to draw with.
    """

    def __init__(self, signs: Signs) -> None:
        super().__init__(markup=False)
        self._signs = signs
        self._shown: Sequence[FieldLine] = ()
        self._selection = Selection()

    def watch_highlighted(self, highlighted: int | None) -> None:
        """Take the line into the model, beside the work of the list itself."""
        self._selection.move(highlighted)
        super().watch_highlighted(highlighted)

    def show(self, lines: Sequence[FieldLine]) -> None:
        """Show these lines; the field in hand stays in hand where it is still there."""
        scroll = self.scroll_offset
        self._shown = lines
        options: list[Option] = []
        for line in lines:
            if line.head:
                words = line.head if not options else f"\n{line.head}"
                options.append(Option(Content.styled(words, "$thread"), disabled=True))
            options.append(Option(self._drawn(line), id=line.path))
        at = self._selection.fill([None if option.disabled else option.id for option in options])
        self.set_options(options)
        self.highlighted = at
        self.scroll_to(y=scroll.y, animate=False)

    @property
    def line(self) -> FieldLine | None:
        """The field in hand."""
        return next((line for line in self._shown if line.path == self._selection.id), None)

    def _drawn(self, line: FieldLine) -> Content:
        label_width = _LABEL if self.size.width >= 60 else 16
        width = max(self.scrollable_content_region.width - label_width - 1, 20)
        colour = "$chalk"
        rows = [row for part in line.shown.split("\n") for row in (wrap(legible(part), width) or [""])]
        if not line.text:
            rows, colour = (["to say"], "$lamp") if line.lacking else ([self._signs.dash], "$thread")
        if len(rows) > _MOST_LINES:
            rows[_MOST_LINES - 1 :] = [f"{self._signs.more} and {count_of(len(rows) - _MOST_LINES + 1, 'line')} more"]
        label = clipped(legible(line.words), label_width - 1).ljust(label_width)
        return Content.assemble((label, "$thread"), (f"\n{' ' * label_width}".join(rows), colour))
