"""Digits that can be read from two metres, drawn from cells."""

from textual.content import Content

_ROWS = {
    "0": ("111", "101", "101", "101", "111"),
    "1": ("010", "110", "010", "010", "111"),
    "2": ("111", "001", "111", "100", "111"),
    "3": ("111", "001", "011", "001", "111"),
    "4": ("101", "101", "111", "001", "001"),
    "5": ("111", "100", "111", "001", "111"),
    "6": ("111", "100", "111", "101", "111"),
    "7": ("111", "001", "010", "010", "010"),
    "8": ("111", "101", "111", "101", "111"),
    "9": ("111", "101", "111", "001", "111"),
    ":": ("0", "1", "0", "1", "0"),
}
HEIGHT = 5


def big_digits(text: str, colour: str, *, pixel: str, wide: bool) -> list[Content]:
    """The text as five rows of big digits; each dot two cells wide where there is room, one where not."""
    across = 2 if wide else 1
    rows = []
    for row in range(HEIGHT):
        dots = " ".join(
            "".join((pixel if dot == "1" else " ") * across for dot in _ROWS[letter][row])
            for letter in text
            if letter in _ROWS
        )
        rows.append(Content.styled(dots, colour))
    return rows


def digits_width(text: str, *, wide: bool) -> int:
    """How many cells the text takes."""
    across = 2 if wide else 1
    return sum(len(_ROWS[letter][0]) * across for letter in text) + len(text) - 1
