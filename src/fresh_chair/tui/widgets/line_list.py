"""A list of lines that draws those on the screen alone, however many there are."""

from bisect import bisect_right
from collections.abc import Callable, Collection, Hashable, Sequence
from itertools import accumulate
from typing import ClassVar

from textual import events
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.geometry import Region, Size
from textual.message import Message
from textual.scroll_view import ScrollView
from textual.strip import Strip
from textual.style import Style
from textual.visual import Visual

from fresh_chair.tui.widgets.selection import Selection

Draw = Callable[[int, int], Sequence[Content]]
# Strips of this many lines are kept, drawn once each.
_KEPT = 4_000


class LineList(ScrollView, can_focus=True):
    """Lines of one row or more, one of which is in hand; lines without an id are headings.

    The line in hand stays in hand, by its id, when the list is shown anew.
    """

    COMPONENT_CLASSES: ClassVar[set[str]] = {"line-list--line", "line-list--here", "line-list--here-elsewhere"}
    DEFAULT_CSS = """
    LineList {
        background: $ink;
        scrollbar-size-vertical: 1;
        overflow-x: hidden;
        height: 1fr;
        & > .line-list--line { background: $ink; }
        & > .line-list--here { background: $seam; }
        & > .line-list--here-elsewhere { background: $board; }
    }
    """
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("up", "step(-1)", "up", id="lines.up", show=False, tooltip="The line above"),
        Binding("down", "step(1)", "down", id="lines.down", show=False, tooltip="The line below"),
        Binding("pageup", "page(-1)", "page up", id="lines.page_up", show=False, tooltip="A page up"),
        Binding("pagedown", "page(1)", "page down", id="lines.page_down", show=False, tooltip="A page down"),
        Binding("home", "edge(0)", "first", id="lines.first", show=False, tooltip="The first line"),
        Binding("end", "edge(-1)", "last", id="lines.last", show=False, tooltip="The last line"),
        Binding("enter", "choose", "choose", id="lines.choose", show=False, tooltip="Act on the line in hand"),
    ]

    class Moved(Message):
        """Another line is in hand; its id, None where none is."""

        def __init__(self, lines: "LineList", line: str | None) -> None:
            super().__init__()
            self.lines, self.line = lines, line

    class Picked(Message):
        """Enter or a click: the line in hand is acted on."""

        def __init__(self, lines: "LineList", line: str) -> None:
            super().__init__()
            self.lines, self.line = lines, line

    class RoomChanged(Message):
        """The list got another width: by a resized terminal, or a list beside it that comes or goes."""

    def __init__(self, name: str) -> None:
        super().__init__(id=name)
        self._laid_out_for = 0
        self.selection = Selection()
        self._ids: tuple[str | None, ...] = ()
        self._draw: Draw = lambda index, width: ()
        self._starts: list[int] = [0]
        self._key: Callable[[int], Hashable] | None = None
        self._drawn: dict[Hashable, list[Strip]] = {}
        self._styles: dict[str, Style] = {}
        # What each row of the screen shows, by the key of its line.
        self._painted: dict[int, Hashable] = {}

    @property
    def here(self) -> str | None:
        """The id of the line in hand."""
        return self.selection.id

    def show(
        self,
        ids: Sequence[str | None],
        draw: Draw,
        heights: Sequence[int] | None = None,
        *,
        key: Callable[[int], Hashable] | None = None,
    ) -> None:
        """Show these lines.

        Args:
            ids: The lines' ids; None for a heading.
            draw: Draws the line at an index for a width, as one piece of text a row.
            heights: How many rows each has; one each by default.
            key: Everything that the line at an index is drawn from; lines of one key are drawn once. None draws all
                anew.
        """
        self._ids, self._draw = tuple(ids), draw
        self._starts = [0, *accumulate(heights or [1] * len(self._ids))]
        self._key = key
        if key is None or len(self._drawn) > _KEPT:
            self._drawn.clear()
        self.selection.fill(self._ids)
        self._resize_to(self._starts[-1])
        self._keep_in_sight()
        self._repaint()

    def _repaint(self) -> None:
        """Paint the rows anew that show something else now; all of them where that cannot be told."""
        if self._key is None:
            self.refresh()
            return
        width = self.scrollable_content_region.width
        for y in range(self.scrollable_content_region.height):
            if self._painted.get(y) != self._line_key(self.scroll_offset.y + y, width):
                self.refresh(Region(0, y, width, 1))

    def _line_key(self, row: int, width: int) -> Hashable:
        """Everything that a row is drawn from; None below the last line."""
        if row >= self._starts[-1]:
            return None
        index = bisect_right(self._starts, row) - 1
        here = index == self.selection.at and self._ids[index] is not None
        named = self._key(index) if self._key is not None else index
        return named, row - self._starts[index], width, here, here and self.has_focus

    def _resize_to(self, rows: int) -> None:
        """Let so many rows be scrolled through; the screen is laid out anew only where the scrollbar comes or goes."""
        size, room = Size(max(self.scrollable_content_region.width, 1), rows), self.scrollable_content_region.height
        if (rows > room) is not (self.virtual_size.height > room):
            self.virtual_size = size
            return
        self.set_reactive(LineList.virtual_size, size)
        if self.show_vertical_scrollbar:
            self.vertical_scrollbar.window_virtual_size = rows

    def draw_again(self, lines: Collection[str]) -> None:
        """Draw some of the lines anew, such as when they are marked; the others stay as they are painted."""
        width, top = self.scrollable_content_region.width, self.scroll_offset.y
        for index, line in enumerate(self._ids):
            if line is not None and line in lines:
                if self._key is None:
                    self._drawn.clear()
                start = self._starts[index]
                self.refresh(Region(0, start - top, width, self._starts[index + 1] - start))

    def notify_style_update(self) -> None:
        """Take other colours."""
        super().notify_style_update()
        self._styles.clear()
        self._drawn.clear()

    def _style(self, component: str = "") -> Style:
        """The style of a line; worked out once for as long as the colours stay."""
        found = self._styles.get(component)
        if found is None:
            found = self.get_visual_style("line-list--line", *([component] if component else []))
            self._styles[component] = found
        return found

    def take(self, line: str) -> None:
        """Take a line in hand."""
        if line in self._ids:
            self._go(self._ids.index(line))

    def render_line(self, y: int) -> Strip:
        """One row of the screen."""
        row, width = self.scroll_offset.y + y, self.scrollable_content_region.width
        base = self._style()
        if self._key is not None:
            self._painted[y] = self._line_key(row, width)
        if row >= self._starts[-1]:
            return Strip.blank(width, base.rich_style)
        index = bisect_right(self._starts, row) - 1
        here = index == self.selection.at and self._ids[index] is not None
        key = self._key(index) if self._key is not None else index, width, here, here and self.has_focus
        strips = self._drawn.get(key)
        if strips is None:
            component = "line-list--here" if self.has_focus else "line-list--here-elsewhere"
            style = self._style(component) if here else base
            strips = []
            for content in self._draw(index, width):
                found = Visual.to_strips(self, content, width, 1, style)
                strips.append((found[0] if found else Strip.blank(width)).extend_cell_length(width, style.rich_style))
            self._drawn[key] = strips
        within = row - self._starts[index]
        return strips[within].crop(0, width) if within < len(strips) else Strip.blank(width, base.rich_style)

    def _go(self, at: int | None) -> None:
        if at is None or not 0 <= at < len(self._ids) or self._ids[at] is None:
            return
        before = self.selection.at
        self.selection.move(at)
        if self.selection.at != before:
            self._keep_in_sight()
            self._repaint()
            self.post_message(self.Moved(self, self.here))

    def _next(self, at: int, step: int) -> int | None:
        while 0 <= at < len(self._ids):
            if self._ids[at] is not None:
                return at
            at += step
        return None

    def action_step(self, step: int) -> None:
        """Go up or down by a line that can be in hand."""
        start = -1 if self.selection.at is None else self.selection.at
        found = self._next(start + step, step)
        self._go(found)
        if found is None and step < 0:
            # The headings above the first line come into sight, too.
            self.scroll_to(y=0, animate=False)

    def action_page(self, step: int) -> None:
        """Go up or down by as many rows as are on the screen."""
        if self.selection.at is None:
            return
        row = self._starts[self.selection.at] + step * max(self.scrollable_content_region.height - 1, 1)
        at = min(max(bisect_right(self._starts, row) - 1, 0), len(self._ids) - 1)
        found = self._next(at, step)
        self._go(self._next(at, -step) if found is None else found)

    def action_edge(self, which: int) -> None:
        """Go to the first or the last line."""
        self._go(self._next(0, 1) if which == 0 else self._next(len(self._ids) - 1, -1))

    def action_choose(self) -> None:
        """Act on the line in hand."""
        if self.here is not None:
            self.post_message(self.Picked(self, self.here))

    def on_click(self, event: events.Click) -> None:
        """Take the line under the mouse in hand; a second click acts on it."""
        row = self.scroll_offset.y + event.y
        if row >= self._starts[-1]:
            return
        at = bisect_right(self._starts, row) - 1
        if at == self.selection.at:
            self.action_choose()
        else:
            self._go(at)

    def on_resize(self) -> None:
        """Draw for the new width."""
        self._drawn.clear()
        self.virtual_size = Size(max(self.scrollable_content_region.width, 1), self._starts[-1])
        self._keep_in_sight()
        if self.size.width != self._laid_out_for:
            self._laid_out_for = self.size.width
            self.post_message(self.RoomChanged())

    def _keep_in_sight(self) -> None:
        at = self.selection.at
        if at is None or at >= len(self._ids):
            return
        top, height = self._starts[at], self._starts[at + 1] - self._starts[at]
        # A heading just above the first lines belongs to them.
        above = 1 if at and self._ids[at - 1] is None and self._starts[at] - self._starts[at - 1] == 1 else 0
        self.scroll_to_region(Region(0, top - above, 1, height + above), animate=False, force=True, immediate=True)
