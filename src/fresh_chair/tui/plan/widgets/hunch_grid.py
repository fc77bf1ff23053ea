"""Cards down, chairs across: in each cell the worst that is predicted there."""

from collections.abc import Collection, Mapping, Sequence

from textual import events
from textual.binding import Binding
from textual.content import Content
from textual.geometry import Region
from textual.message import Message
from textual.widget import Widget

from fresh_chair.core.evidence.hunches import Hunch
from fresh_chair.core.plan.study import Study
from fresh_chair.core.text import clipped, legible
from fresh_chair.tui.widgets.signs import SEVERITY_COLOUR, Signs, chair_colour

_HEAD = 2


class HunchGrid(Widget, can_focus=True):
    """Draws the grid and keeps the cell that is in hand."""

    BINDINGS = [
        Binding("up", "move(-1, 0)", "up", id="grid.up", show=False, tooltip="The card above"),
        Binding("down", "move(1, 0)", "down", id="grid.down", show=False, tooltip="The card below"),
        Binding("left", "move(0, -1)", "left", id="grid.left", show=False, tooltip="The chair to the left"),
        Binding("right", "move(0, 1)", "right", id="grid.right", show=False, tooltip="The chair to the right"),
    ]
    DEFAULT_CSS = "HunchGrid { height: auto; width: auto; }"

    class HunchChosen(Message):
        """Another cell is in hand."""

    class HunchOpened(Message):
        """The cell in hand was clicked once more."""

    def __init__(self, study: Study, signs: Signs) -> None:
        super().__init__()
        self._study, self._signs = study, signs
        self._row = self._column = 0
        self._hunches: Mapping[tuple[str, str], Sequence[Hunch]] = {}
        self._sat: Collection[str] = ()

    @property
    def cell(self) -> tuple[str, str]:
        """Card and chair in hand."""
        return self._study.cards[self._row].id, self._study.chairs[self._column].letter

    def show(self, hunches: Mapping[tuple[str, str], Sequence[Hunch]], sat: Collection[str]) -> None:
        """Draw these hunches; the chairs in `sat` have had sittings."""
        self._hunches, self._sat = hunches, sat
        self.refresh(layout=True)

    @property
    def _titles(self) -> int:
        return min(max((len(card.title) for card in self._study.cards), default=10) + 3, 34)

    @property
    def _width(self) -> int:
        room = self.parent.size.width if isinstance(self.parent, Widget) else 80
        return min(max((room - self._titles) // max(len(self._study.chairs), 1), 9), 22)

    def get_content_width(self, container: object, viewport: object) -> int:
        """As wide as the chairs need."""
        return self._titles + self._width * len(self._study.chairs)

    def get_content_height(self, container: object, viewport: object, width: int) -> int:
        """A row a card and the head."""
        return _HEAD + len(self._study.cards)

    def render(self) -> Content:
        """The whole grid."""
        head, below = [Content(" " * self._titles)], [Content(" " * self._titles)]
        for chair in self._study.chairs:
            name = clipped(f"{chair.letter} {legible(chair.title)}", self._width - 1).ljust(self._width)
            head.append(Content.styled(name, f"bold {chair_colour(chair)}"))
            word = "sat at" if chair.letter in self._sat else ""
            below.append(Content.styled(word.ljust(self._width), "$thread"))
        lines = [Content("").join(head), Content("").join(below)]
        for row, card in enumerate(self._study.cards):
            title = clipped(legible(card.title), self._titles - 2).ljust(self._titles)
            parts = [Content.styled(title, "$thread" if card.dropped else "$chalk")]
            parts += [self._cell(row, column) for column in range(len(self._study.chairs))]
            lines.append(Content("").join(parts))
        return Content("\n").join(lines)

    def _cell(self, row: int, column: int) -> Content:
        here = (row, column) == (self._row, self._column)
        ground = " on $seam" if here else ""
        letter = self._study.chairs[column].letter
        found = self._hunches.get((self._study.cards[row].id, letter), ())
        mark = self._signs.here if here else " "
        if not found:
            return Content.styled(f"{mark}{self._signs.dash}".ljust(self._width - 1), f"$thread{ground}") + Content(" ")
        worst = max(found, key=lambda hunch: hunch.severity).severity
        states = ["late" if hunch.late else "sealed" if hunch.sealed_wall_ns is not None else "open" for hunch in found]
        word = f"{f'{len(found)} ' if len(found) > 1 else ''}{'open' if 'open' in states else states[-1]}"
        return Content.assemble(
            (mark, f"$lamp{ground}"),
            (f"{self._signs.severities[worst]} ", SEVERITY_COLOUR[worst] + ground),
            (clipped(word, self._width - 4).ljust(self._width - 4), f"$thread{ground}"),
            (" ", ""),
        )

    def on_click(self, event: events.Click) -> None:
        """A click puts a cell in hand; a second one opens it."""
        row, column = event.y - _HEAD, (event.x - self._titles) // self._width
        if 0 <= row < len(self._study.cards) and event.x >= self._titles and column < len(self._study.chairs):
            again = (row, column) == (self._row, self._column)
            self._row, self._column = row, column
            self.refresh()
            self.post_message(self.HunchOpened() if again else self.HunchChosen())

    def action_move(self, down: int, right: int) -> None:
        """Move to a neighbouring cell."""
        self._row = min(max(self._row + down, 0), len(self._study.cards) - 1)
        self._column = min(max(self._column + right, 0), len(self._study.chairs) - 1)
        self.refresh()
        region = Region(
            self._titles + self._column * self._width if self._column else 0,
            _HEAD + self._row if self._row else 0,
            self._width,
            1,
        )
        if isinstance(self.parent, Widget):
            self.parent.scroll_to_region(region, animate=False)
        self.post_message(self.HunchChosen())
