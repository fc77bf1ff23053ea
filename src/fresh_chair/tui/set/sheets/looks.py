"""Looks: how programs of different toolkits fit the desktop, as a grid that is filled in."""

from typing import ClassVar

from textual.binding import Binding, BindingType
from textual.content import Content

from fresh_chair.core.chair.ledger import Held
from fresh_chair.core.text import clipped, legible
from fresh_chair.tui.set.sheets.records import Records

ASPECTS = ("theme", "dark", "icons", "letters", "window_buttons")
_WORDS = {"window_buttons": "buttons", "dark": "dark/light"}
_FITS = ("not looked at", "fits", "partly", "does not fit", "not legible")
_SHOWN = {
    "not looked at": ("?", "$thread"),
    "fits": ("fits", "$moss"),
    "partly": ("partly", "$lamp"),
    "does not fit": ("not", "$clay"),
    "not legible": ("illegible", "$clay"),
}
_COLUMN = 12


class Looks(Records):
    """One line a program, one column an aspect."""

    sheet_name = "looks"
    title_words = "looks"
    kind = "look"
    first = "program"
    first_words = "which program?"
    empty_words = "Programs of different toolkits, and how each fits: theme, dark, icons, letters. a adds one."
    about = "Consistency of looks is a grid that is filled in, not an impression. Space turns the cell in hand."
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("tab", "aspect(1)", "next column", id="looks.next", tooltip="The next aspect"),
        Binding("shift+tab", "aspect(-1)", "column before", id="looks.previous", show=False, tooltip="One aspect back"),
        Binding("space", "turn", "turn", id="looks.turn", tooltip="Fits, partly, does not fit, not legible"),
    ]
    _aspect = 0

    def line(self, held: Held) -> Content:
        """A program with its cells."""
        room = max(self.pile.size.width - _COLUMN * len(ASPECTS) - 1, 14)
        toolkit = self.value(held, "toolkit")
        name = f"{self.value(held, 'program')}{f' ({toolkit})' if toolkit else ''}"
        parts: list[tuple[str, str]] = [(clipped(legible(name), room - 1).ljust(room), "$chalk")]
        for index, aspect in enumerate(ASPECTS):
            words, colour = _SHOWN[self.value(held, aspect)]
            mark = self.signs.here if index == self._aspect else " "
            parts.append((f"{mark}{words}".ljust(_COLUMN), colour))
        return Content.assemble(*parts)

    def columns(self) -> Content:
        """The aspects."""
        room = max(self.pile.size.width - _COLUMN * len(ASPECTS) - 1, 14)
        names = "".join(f" {_WORDS.get(a, a)}".ljust(_COLUMN) for a in ASPECTS)
        return Content.styled(" " * room + names, "$thread")

    def action_aspect(self, step: int) -> None:
        """Go to another column."""
        self._aspect = (self._aspect + step) % len(ASPECTS)
        self.draw()

    def action_turn(self) -> None:
        """The next word of the cell in hand."""
        held = self.here
        if held is not None:
            aspect = ASPECTS[self._aspect]
            self.change(aspect, _FITS[(_FITS.index(self.value(held, aspect)) + 1) % len(_FITS)])
