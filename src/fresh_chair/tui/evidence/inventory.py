"""The inventory: purposes down, chairs across, each cell the program that is there, or where it was looked for."""

from collections.abc import Callable
from typing import ClassVar, get_args

from textual import on
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.evidence.records import InventoryItem, Presence
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.evidence.inventory import InventoryRow, fill_inventory, inventory_rows, put_inventory
from fresh_chair.services.evidence.records import evidence_lines
from fresh_chair.tui.base.linking import link_lines, tie
from fresh_chair.tui.base.sheet import ListSheet
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import chair_colour

_PURPOSE = 20
_NARROWEST = 18
_PRESENCES: tuple[Presence, ...] = get_args(Presence)
_COLOURS = {
    "there": "$moss",
    "launcher with nothing behind it": "$clay",
    "in the store": "$lamp",
    "in a further source": "$lamp",
    "nowhere": "$clay",
}
_SHORT = {"launcher with nothing behind it": "launcher, nothing behind", "not looked for": "?"}


class Inventory(ListSheet):
    """One line a purpose, one column a chair."""

    place = "plan"
    sheet_name = "inventory"
    title_words = "inventory"
    about = (
        "For each purpose (a mail program, something for the tides): what is there under which name, or where it was "
        "looked for in vain. What was read off a chair fills in its default programs by r; the rest is yours."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left", "chair(-1)", "before", id="inventory.before", key_display="←", tooltip="The chair before"),
        Binding("right", "chair(1)", "after", id="inventory.after", key_display="→", tooltip="The chair after"),
        Binding("a", "add", "a purpose", id="inventory.add", tooltip="Something to look for at every chair"),
        Binding("p", "presence", "is it there", id="inventory.presence", tooltip="There, in the store, nowhere, ..."),
        Binding("n", "field('shown')", "name", id="inventory.shown", tooltip="The name it is shown under"),
        Binding("v", "field('version')", "version", id="inventory.version", show=False, tooltip="Its version"),
        Binding(
            "k", "field('package_format')", "format", id="inventory.format", show=False, tooltip="Its package format"
        ),
        Binding("w", "field('source')", "source", id="inventory.source", show=False, tooltip="Where it comes from"),
        Binding("f", "field('found')", "found in", id="inventory.found", show=False, tooltip="Where it was found"),
        Binding("l", "field('looked')", "looked in", id="inventory.looked", tooltip="Where it was looked for"),
        Binding("r", "fill", "fill in", id="inventory.fill", tooltip="The default programs that were read off it"),
        Binding(
            "ampersand",
            "tie",
            "tie",
            id="inventory.tie",
            key_display="&",
            show=False,
            tooltip="Because of, speaks for, contradicts, ... another thing",
        ),
    ]

    def action_back(self) -> None:
        """Go back to the board."""
        self.action_go("plan")

    @property
    def letter(self) -> str:
        """The chair in hand; empty where the study has none."""
        letters = list(self.session.opened.study.chair_by_letter)
        wanted = self.session.cell[1]
        return wanted if wanted in letters else letters[0] if letters else ""

    def _rows(self) -> list[InventoryRow]:
        return inventory_rows(self.session.opened)

    @property
    def _row(self) -> InventoryRow | None:
        at, rows = self.at, self._rows()
        return rows[at] if at is not None and at < len(rows) else None

    @property
    def _item(self) -> InventoryItem | None:
        row = self._row
        return None if row is None else row.at.get(self.letter)

    def draw(self) -> None:
        """Show the grid."""
        rows, chairs = self._rows(), self.session.opened.study.chairs
        shown = self._shown()
        width = max((self.pile.size.width - _PURPOSE - 2) // max(len(shown), 1), _NARROWEST)
        self.refill([self._line(row, shown, width) for row in rows], [row.purpose for row in rows])
        missing = sum(item is None for row in rows for item in row.at.values())
        heads: list[tuple[str, str]] = [("inventory".ljust(_PURPOSE), "bold $lamp")]
        for chair in (chair for chair in chairs if chair.letter in shown):
            mark = self.signs.here if chair.letter == self.letter else " "
            title = clipped(f"{chair.letter} {legible(chair.title)}", width - 2).ljust(width - 1)
            heads.append((f"{mark}{title}", f"bold {chair_colour(chair)}"))
        self.query_one("#head", Static).update(Content.assemble(*heads))
        beyond = f"; {count_of(len(chairs) - len(shown), 'more chair')} →" if len(shown) < len(chairs) else ""
        said = f"{count_of(len(rows), 'purpose')}, {count_of(missing, 'cell')} not looked at{beyond}"
        empty = "Nothing is listed yet. a names a purpose; r fills in what was read off the chair in hand."
        self.query_one("#note", Static).update(Content.styled(said if rows else empty, "$thread"))
        self._draw_beside()
        self.refresh_bindings()

    def _shown(self) -> list[str]:
        """Letters of the chairs that there is room for, the one in hand among them."""
        letters = list(self.session.opened.study.chair_by_letter)
        fits = max(min((self.pile.size.width - _PURPOSE - 2) // _NARROWEST, len(letters)), 1)
        here = letters.index(self.letter) if self.letter in letters else 0
        first = min(max(here - fits + 1, 0), max(len(letters) - fits, 0))
        return letters[first : first + fits]

    def _line(self, row: InventoryRow, shown: list[str], width: int) -> Content:
        parts: list[tuple[str, str]] = [(clipped(legible(row.purpose), _PURPOSE - 1).ljust(_PURPOSE), "$chalk")]
        for letter in shown:
            item = row.at[letter]
            words, colour = "?", "$thread"
            if item is not None and item.presence != "not looked for":
                words, colour = _SHORT.get(item.presence, item.presence), _COLOURS[item.presence]
                if item.presence == "there" and item.shown:
                    words = f"{item.shown} {item.version}".rstrip()
            parts.append((clipped(f" {legible(words)}", width - 1).ljust(width), colour))
        return Content.assemble(*parts)

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_beside(self) -> None:
        row, item = self._row, self._item
        if row is None:
            self.query_one("#beside", Static).update("")
            return
        parts = [Content.styled(f"{legible(row.purpose)}, at {self.letter}", "bold $chalk")]
        lines = evidence_lines(item) if item is not None else []
        for label, text in lines:
            if label not in ("chair", "purpose"):
                parts.append(Content.assemble((f"{label}\n", "$thread"), (f"  {legible(text)}", "$chalk")))
        if item is None:
            parts.append(Content("Not looked for here yet. p says whether it is there."))
        else:
            parts += link_lines(self, f"inventory:{item.id}")
        self.query_one("#beside", Static).update(Content("\n").join(parts))

    def action_chair(self, step: int) -> None:
        """Take a neighbouring chair in hand."""
        letters = list(self.session.opened.study.chair_by_letter)
        if letters:
            letter = letters[(letters.index(self.letter) + step) % len(letters)]
            self.session.cell = (self.session.cell[0], letter)
            self.draw()

    @asks
    async def action_add(self) -> None:
        """Name a purpose: it is looked for at the chair in hand first."""
        await self.ask_until(
            "for what? (a mail program, something for the tides)",
            lambda purpose: self._do(lambda: put_inventory(self.session.opened, self.letter, purpose)),
        )

    @asks
    async def action_presence(self) -> None:
        """Say whether something is there for it."""
        row, letter = self._row, self.letter
        if row is not None:
            at = await self.ask_one_of(f"{clipped(legible(row.purpose), 30)} at {letter}", _PRESENCES)
            if at is not None:
                self._do(lambda: put_inventory(self.session.opened, letter, row.purpose, presence=_PRESENCES[at]))

    @asks
    async def action_field(self, field: str) -> None:
        """Write one field of the cell in hand; a name says that it is there."""
        row, item, letter = self._row, self._item, self.letter
        if row is None:
            return
        named = field == "shown" and (item is None or item.presence == "not looked for")

        def put(text: str) -> bool:
            texts = {field: text.strip(), **({"presence": "there"} if named and text.strip() else {})}
            return self._do(lambda: put_inventory(self.session.opened, letter, row.purpose, **texts))

        value = "" if item is None else str(getattr(item, field))
        await self.ask_until(f"{field.replace('_', ' ')}:", put, value=value)

    def action_fill(self) -> None:
        """Fill in the default programs that were read off the chair in hand."""
        count: list[int] = []
        if self._do(lambda: count.append(fill_inventory(self.session.opened, self.letter))):
            self.tell(f"{count_of(count[0], 'program')} filled in from what was read off {self.letter}.")

    @asks
    async def action_tie(self) -> None:
        """Tie the cell in hand to another thing."""
        item = self._item
        if item is not None and await tie(self, f"inventory:{item.id}"):
            self._draw_beside()

    def _do(self, act: Callable[[], object]) -> bool:
        done = self.attempt(act)
        if done:
            self.draw()
        return done

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Keys about a cell need one."""
        if self.is_mounted and action in ("presence", "field", "tie") and self._row is None:
            return False
        if self.is_mounted and action in ("add", "fill", "chair") and not self.letter:
            return False
        return super().check_action(action, parameters)
