"""One letter a mark on a line of time: the key that makes it, on the screen and on paper alike."""

from fresh_chair.core.sitting.attempt import Tick

LETTERS = {
    "snag": "s",
    "delight": "d",
    "note": "n",
    "quote": "q",
    "warning": "y",
    "question": "k",
    "helped": "h",
    "wrong_place": "p",
    "said_done": "f",
    "step_reached": "l",
    "place_visited": "o",
    "left_running": "i",
    "left_ready": "-",
    "taken_up": "i",
}
# Marks that need no words have a letter each.
MARK_LETTERS = {
    "tries again": "t",
    "hesitates": "z",
    "no reaction": "r",
    "misled": "m",
    "restart": ",",
    "new login": ".",
}


def tick_letter(tick: Tick) -> str:
    """The letter of a mark, a capital where a second observer made it; empty for entries off the line of time."""
    letter = MARK_LETTERS.get(str(tick.what), "t") if tick.kind == "marked" else LETTERS.get(tick.kind, "")
    return letter.upper() if tick.observer else letter


def spoken() -> str:
    """The meanings of the letters, for the foot of a drawing."""
    marks = {
        kind.replace("_", " "): letter for kind, letter in LETTERS.items() if kind not in ("left_ready", "taken_up")
    }
    return ", ".join(f"{letter} {words}" for words, letter in (marks | MARK_LETTERS).items()) + "; capitals: observer"
