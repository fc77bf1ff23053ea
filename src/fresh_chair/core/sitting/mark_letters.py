"""One letter a mark on a line of time: the key that makes it, on the screen and on paper alike."""

from collections.abc import Mapping
from typing import Any

from fresh_chair.core.sitting.entries.marks import MARK_LETTERS
from fresh_chair.core.sitting.journal import CODEC
from fresh_chair.core.sitting.state.attempt import Tick

_KINDS: Mapping[str, Any] = CODEC.kinds
LETTERS: dict[str, str] = {name: kind.letter for name, kind in _KINDS.items() if kind.letter}


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
