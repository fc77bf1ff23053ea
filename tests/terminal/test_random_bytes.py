"""Random bytes at every kind of screen: the program stays, and the study stays whole."""

import os
import random
from pathlib import Path

import pytest

from fresh_chair.services.file.file_check import check_file
from tests.terminal.pseudo import PROGRAM, PseudoTerminal

pytestmark = pytest.mark.long

# Leaves the program, by its own key.
_LEAVES = b"\x11"
# A hundred bytes each: ten thousand by `FRESH_CHAIR_LOOPS=all`.
_WRITES = 100 if os.environ.get("FRESH_CHAIR_LOOPS") == "all" else 5
# Keys that lead to each kind of screen from the board.
SCREENS = {
    "a line in an attempt": b"\r\rn\rs",
    "the board": b"",
    "Sort": b"4",
    "help": b"?",
    "Weigh": b"5",
    "a sheet": b"t",
    "Tell": b"6",
}


@pytest.mark.parametrize("screen", SCREENS)
def test_random_bytes_end_nothing(screen: str, demo_path: Path, tmp_path: Path) -> None:
    dice = random.Random(screen)
    terminal = PseudoTerminal([*PROGRAM, "open", str(demo_path)], tmp_path / "state")
    try:
        terminal.wait_for("Enter seats")
        terminal.quiet()
        terminal.send(SCREENS[screen])
        terminal.quiet(0.5)
        # First those that once ended the reader, in the middle of words.
        for sent in (b"caf\xe9", b"\x9b", b"\xff\xfe", b"\x1b[M \xf0\xf0", b"\xc3"):
            terminal.send(sent)
        for _ in range(_WRITES):
            several = bytes(dice.randrange(256) for _ in range(100)).replace(_LEAVES, b"")
            terminal.send(several)
            terminal.quiet(0.01, most=0.2)
        terminal.idle()
        assert terminal.ended(most=0.5) is None, terminal.text()[-800:]
    finally:
        terminal.close()
    assert not list((tmp_path / "state").rglob("last-failure.txt"))
    assert [problem for check in check_file(demo_path) for problem in check.problems] == []
