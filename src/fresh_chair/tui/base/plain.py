"""Terminals whose letters end with ASCII: nothing else reaches them."""

from dataclasses import fields

from fresh_chair.tui.base.application.terminal import TerminalDriver
from fresh_chair.tui.widgets.signs import FULL, PLAIN

_SAME_WIDTH = {
    "→": ">", "←": "<", "↑": "^", "↓": "v", "–": "-", "—": "-", "…": ".", "·": ".", "“": '"', "”": '"', "‘": "'",
    "’": "'", "¶": "|", "×": "x", "≥": ">", "≤": "<", "≈": "~", "µ": "u", "▏": "|", "°": "o", "é": "e", "è": "e",
    "ä": "a", "ö": "o", "ü": "u", "ß": "s", "å": "a", "ø": "o", "ñ": "n", "ç": "c",
}  # fmt: skip


def _table() -> dict[int, str]:
    signs = {ord(sign): plain for sign, plain in _SAME_WIDTH.items()}
    for name in (each.name for each in fields(FULL)):
        full, plain = getattr(FULL, name), getattr(PLAIN, name)
        pairs = (
            zip(full.values(), plain.values(), strict=True)
            if isinstance(full, dict)
            else zip(full, plain, strict=False)
        )
        signs |= {ord(one): other for one, other in pairs if len(one) == 1 == len(other) and not one.isascii()}
    return signs


_PLAIN = _table()


def ascii_of(text: str) -> str:
    """The text in ASCII alone, each letter as wide as it was; letters without a likeness become question marks.

    >>> ascii_of("a – b → “c”"), ascii_of("日")
    ('a - b > "c"', '??')
    """
    if text.isascii():
        return text
    from rich.cells import get_character_cell_size

    plain = text.translate(_PLAIN)
    return "".join(c if c.isascii() else "?" * get_character_cell_size(c) for c in plain)


class PlainDriver(TerminalDriver):
    """Writes to the terminal in ASCII."""

    def write(self, data: str) -> None:
        """Write, with everything beyond ASCII put into it."""
        super().write(ascii_of(data))
