"""The library: task cards to take, found by typing, by area, by the fixtures on the bench."""

from pathlib import Path
from typing import ClassVar

from textual import events, on
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Vertical, VerticalScroll
from textual.content import Content
from textual.widget import Widget
from textual.widgets import Input, OptionList, Static
from textual.widgets.option_list import Option

from fresh_chair.core.plan.cards import AREAS, TaskCard
from fresh_chair.core.plan.fixtures import bench_of
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.plan.library import Shelf, found_cards, open_shelf, own_folder
from fresh_chair.services.plan.scripts import take_card
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.sheet import SheetScreen
from fresh_chair.tui.plan.widgets.card_view import as_read
from fresh_chair.tui.widgets.selection import Selection


class Library(SheetScreen):
    """Cards at the left, the one in hand at the right; typing narrows them down."""

    sheet_name = "library"
    title_words = "the library"
    about = (
        "Type to find cards; Tab goes from area to area; Ctrl+B shows only cards for which the bench has everything."
    )
    CSS_PATH = Path(__file__).with_name("library.tcss")
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("enter", "take", "take it", id="library.take", tooltip="Take this card into the script"),
        Binding("tab", "area(1)", "next area", id="library.area", key_display="Tab", tooltip="The next area"),
        Binding(
            "shift+tab", "area(-1)", "area before", id="library.area_before", show=False, tooltip="The area before"
        ),
        Binding(
            "ctrl+b", "bench", "bench only", id="library.bench", key_display="Ctrl+B", tooltip="Only what the bench has"
        ),
        Binding("up", "move(-1)", "up", id="library.up", show=False, tooltip="The card above"),
        Binding("down", "move(1)", "down", id="library.down", show=False, tooltip="The card below"),
        Binding("pageup", "move(-10)", "up", id="library.far_up", show=False, tooltip="Ten cards up"),
        Binding("pagedown", "move(10)", "down", id="library.far_down", show=False, tooltip="Ten cards down"),
    ]

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._shelf = Shelf((), frozenset(), ())
        self._area = ""
        self._bench_only = False
        self._found: list[TaskCard] = []
        self._selection = Selection()

    def middle(self) -> ComposeResult:
        """The search line, the cards found, the card in hand."""
        with Vertical(id="finding"):
            yield Input(placeholder="type to find", id="typed", select_on_focus=False)
            yield Static(id="where", markup=False)
            yield OptionList(id="cards", markup=False)
        with VerticalScroll(id="card-scroll", can_focus=False):
            yield Static(id="card", markup=False)

    def main(self) -> Widget | None:
        """Typing has the keys."""
        return self.query_one("#typed", Input)

    def arrived(self) -> None:
        """Read the cards and show them all."""
        pile = self.query_one("#cards", OptionList)
        pile.can_focus = False
        self.watch(pile, "highlighted", self._selection.move, init=False)
        self._shelf = open_shelf()
        self.call_after_refresh(self._draw)
        if self._shelf.problems:
            self.tell(self._shelf.problems[0], colour="$clay")

    @on(events.Resize)
    def _rewrap(self) -> None:
        self.call_after_refresh(self._draw_card)

    @on(Input.Changed, "#typed")
    def _typed(self) -> None:
        self._draw()

    def _draw(self) -> None:
        bench = None
        if self._bench_only:
            bench = [
                each.name
                for each in bench_of(self.session.opened.study, self.session.opened.fixture_checks)
                if each.ready
            ]
        words = self.query_one("#typed", Input).value
        self._found = found_cards(self._shelf.cards, words, area=self._area, bench=bench)
        taken = set(self.session.opened.study.card_by_id)
        pile = self.query_one("#cards", OptionList)
        width = max(pile.size.width - 4, 20)
        at = self._selection.fill([card.id for card in self._found])
        pile.set_options([Option(self._line(card, taken, width), id=card.id) for card in self._found])
        pile.highlighted = at
        where = self._area or "all areas"
        where += ", only what the bench has" if self._bench_only else ""
        head = Content.assemble(
            (f"{len(self._found)} of {len(self._shelf.cards)} cards  ", "$chalk"),
            (where, "$lamp" if self._area else "$thread"),
        )
        self.query_one("#where", Static).update(head)
        self._draw_card()
        self.refresh_bindings()

    def _line(self, card: TaskCard, taken: set[str], width: int) -> Content:
        there = card.id in taken
        own = " own" if card.id in self._shelf.own else ""
        return Content.assemble(
            (f"{self.signs.states['ready'] if there else ' '} ", "$moss"),
            (clipped(legible(card.title), width - len(own)), "$thread" if there else "$chalk"),
            (own, "$plum"),
        )

    @property
    def _card(self) -> TaskCard | None:
        return next((card for card in self._found if card.id == self._selection.id), None)

    @on(OptionList.OptionHighlighted, "#cards")
    def _draw_card(self) -> None:
        card = self._card
        shown = self.query_one("#card", Static)
        if card is None:
            shown.update(
                Content.styled(
                    f"No card has these words. Your own cards lie in\n{legible(str(own_folder()))}", "$thread"
                )
            )
            return
        room = self.query_one("#card-scroll").container_size
        drawn = as_read(card, self.signs, room.width - 4, airy=room.height >= 24)
        there = card.id in self.session.opened.study.card_by_id
        tail = "In the script already." if there else "Enter takes it into the script."
        shown.update(drawn + Content("\n\n") + Content.styled(tail, "$moss" if there else "$lamp"))

    @on(OptionList.OptionSelected, "#cards")
    def _clicked(self) -> None:
        self.action_take()

    @on(Input.Submitted, "#typed")
    def _entered(self) -> None:
        self.action_take()

    def action_take(self) -> None:
        """Take the card in hand into the script."""
        card = self._card
        if card is not None and self.attempt(lambda: take_card(self.session.opened, card)):
            self.session.task = card.id
            self.follow()
            self._draw()
            self.tell(f"“{legible(card.title)}” is in the script, card {len(self.session.opened.study.cards)}.")

    def action_area(self, step: int) -> None:
        """Show another area."""
        areas = ["", *AREAS]
        self._area = areas[(areas.index(self._area) + step) % len(areas)]
        self.query_one("#cards", OptionList).highlighted = 0
        self._draw()

    def action_bench(self) -> None:
        """Show only cards for which the bench has everything, or all again."""
        self._bench_only = not self._bench_only
        self._draw()

    def action_move(self, step: int) -> None:
        """Go up or down in the list while typing."""
        pile = self.query_one("#cards", OptionList)
        if self._found:
            pile.highlighted = min(max((pile.highlighted or 0) + step, 0), len(self._found) - 1)

    def action_back(self) -> None:
        """Go back to the tasks."""
        self.open_sheet("tasks")
