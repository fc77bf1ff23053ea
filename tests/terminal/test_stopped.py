"""A program that the system stops and lets go on: one reader of the terminal, and every letter once."""

import os
import signal
import time
from pathlib import Path

import pytest

from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.study.open_study import open_study
from tests.terminal.pseudo import PROGRAM, PseudoTerminal

pytestmark = pytest.mark.long
_STOPS = 300
_WORDS = "the quick brown fox jumps over the lazy dog and looks for the switch"


def threads(pid: int) -> int:
    return len(list(Path(f"/proc/{pid}/task").iterdir()))


def test_letters_are_neither_lost_nor_parted_where_a_program_was_stopped(demo_path: Path, tmp_path: Path) -> None:
    terminal = PseudoTerminal([*PROGRAM, "open", str(demo_path)], tmp_path / "state")
    try:
        terminal.wait_for("Enter seats")
        terminal.quiet()
        terminal.send(b"s")
        terminal.wait_for("The study sheet")
        terminal.send(b"\x1b")
        terminal.wait_for("Enter seats")
        terminal.idle()
        before = threads(terminal.pid)
        for _ in range(5):
            terminal.stop(0.05)
            terminal.quiet(0.05)
        terminal.idle()
        assert threads(terminal.pid) <= before
        # Something put off, typed letter by letter while the program is stopped now and then.
        terminal.send(b"z")
        terminal.wait_for("put off")
        terminal.send(b"a")
        terminal.wait_for("put off:")
        for at, letter in enumerate(_WORDS):
            terminal.send(letter.encode())
            if at % 5 == 0:
                terminal.stop(0.01)
        terminal.send(b"\rl\r")
        terminal.idle()
        os.kill(terminal.pid, signal.SIGTERM)
        assert terminal.ended() == 143
    finally:
        terminal.close()
    opened = open_study(demo_path, write=False)
    try:
        assert _WORDS in [getattr(held.record, "what", "") for held in evidence_of_kind(opened, "later")]
    finally:
        opened.close()


def test_a_program_that_is_let_go_on_in_the_middle_of_a_painting_is_never_stuck(
    demo_path: Path, tmp_path: Path
) -> None:
    terminal = PseudoTerminal([*PROGRAM, "open", str(demo_path)], tmp_path / "state")
    try:
        terminal.wait_for("Enter seats")
        terminal.quiet()
        for at in range(_STOPS):
            # Each arrow paints; the signal comes while it does.
            terminal.send(b"\x1b[B" if at % 8 < 4 else b"\x1b[A")
            for _ in range(5):
                os.kill(terminal.pid, signal.SIGCONT)
                time.sleep(0.0007)
        os.kill(terminal.pid, signal.SIGTERM)
        assert terminal.ended(30) == 143
    finally:
        terminal.close()
