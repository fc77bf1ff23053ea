"""A walk in a real terminal: from the start screen to open data, killed in the middle."""

import csv
import os
import signal
import subprocess
import sys
from pathlib import Path

from tests.terminal.tmux import Terminal

PROGRAM = (sys.executable, "-m", "fresh_chair")


def test_a_walk_from_the_start_screen_survives_sigkill_and_comes_out_whole(terminal: Terminal, tmp_path: Path) -> None:
    study = tmp_path / "walk.fresh"
    state = tmp_path / "state"
    terminal.run("env", f"XDG_STATE_HOME={state}", *PROGRAM)
    terminal.wait_for("a walk")
    terminal.keys("w")
    terminal.wait_for("who walks?")
    # What cannot be is said at once, and the answer is asked for again with its words.
    terminal.type(" !")
    terminal.keys("Enter")
    terminal.wait_for("cannot be a participant's code", "R1 !")
    terminal.keys("BSpace", "BSpace", "Enter")
    terminal.wait_for("through what?")
    terminal.type("Oakum 24 | 24.1 | Pane")
    terminal.keys("Enter")
    terminal.wait_for("on which machine?")
    terminal.keys("Enter")
    terminal.wait_for("the walk goes to")
    terminal.keys("C-u")
    terminal.settle()
    terminal.type(str(study))
    terminal.keys("Enter")
    terminal.wait_for("R1 (reviewer)", "opens a step")
    terminal.keys("Enter")
    terminal.wait_for("which step?")
    terminal.type("every picture file")
    terminal.keys("Enter")
    terminal.wait_for("step: every picture file", "in hand")
    terminal.keys("s")
    terminal.wait_for("snag at")
    terminal.type("svg stays empty")
    terminal.keys("Enter")
    terminal.wait_for("snag: svg stays empty")
    terminal.keys("Space")
    terminal.type("the icons are small")
    terminal.keys("Enter")
    terminal.wait_for("line: the icons are small", "1 line without a kind")
    os.kill(terminal.program(), signal.SIGKILL)
    terminal.wait_for("ended with 137")
    terminal.run("env", f"XDG_STATE_HOME={state}", *PROGRAM, "open", study)
    terminal.wait_for("was cut short", "every picture file", "was running", "make it aside")
    terminal.keys("a")
    terminal.wait_for("every picture file", "line: the icons are small", "resumed")
    terminal.keys("m", "d")
    terminal.wait_for("delight: the icons are small")
    terminal.keys("c", "p")
    terminal.wait_for("partly done, because")
    terminal.keys("Enter")
    terminal.wait_for("every picture file: partly done")
    terminal.keys("f")
    terminal.wait_for("end the walk: 19 cards not looked at?")
    terminal.keys("y")
    terminal.wait_for("The walk is over")
    terminal.keys("C-q")
    terminal.wait_for("ended with 0")
    subprocess.run([*PROGRAM, "export", study, "--to", tmp_path / "out"], check=True, capture_output=True)
    with (tmp_path / "out" / "walk_steps.csv").open(encoding="utf-8") as file:
        steps = list(csv.DictReader(file))
    assert [(step["title"], step["ending"], step["trust"]) for step in steps] == [
        ("every picture file", "partly", "measured live")
    ]
    with (tmp_path / "out" / "walk_remarks.csv").open(encoding="utf-8") as file:
        remarks = [(row["kind"], row["words"], row["step"]) for row in csv.DictReader(file)]
    assert remarks == [("snag", "svg stays empty", "1"), ("delight", "the icons are small", "1")]


def test_a_contest_survives_sigkill_and_goes_on_at_both_chairs(
    terminal: Terminal, demo_path: Path, tmp_path: Path
) -> None:
    start = ("env", f"XDG_STATE_HOME={tmp_path / 'state'}", *PROGRAM)
    terminal.run(*start, "walk", demo_path, "A", "B")
    terminal.wait_for("contest between A and B", "opens a step")
    terminal.keys("Enter")
    terminal.type("the clock in the corner")
    terminal.keys("Enter")
    terminal.wait_for("step: the clock", "in hand")
    terminal.keys("o")
    terminal.wait_for("at Lanternwood", "step: the clock")
    os.kill(terminal.program(), signal.SIGKILL)
    terminal.wait_for("ended with 137")
    terminal.run(*start, "open", demo_path)
    terminal.wait_for("was cut short", "the clock in the corner")
    terminal.keys("c")
    terminal.wait_for("at Lanternwood", "resumed")
    terminal.keys("c", "u")
    terminal.wait_for("completed unaided, because")
    terminal.keys("Enter")
    # A key that comes with the Enter before it would still be typed into that line.
    terminal.wait_for("Nothing is in hand")
    terminal.keys("=")
    terminal.wait_for("which was better?")
    terminal.keys("b")
    terminal.wait_for("because (may stay empty)")
    terminal.type("it can be moved")
    terminal.keys("Enter")
    terminal.wait_for("B better", "it can be moved")
    terminal.keys("o")
    terminal.wait_for("at Saltmarsh", "back to: the clock")
    terminal.keys("f", "a")
    terminal.wait_for("The walk is over")
    terminal.keys("C-q")
    terminal.wait_for("ended with 0")
    subprocess.run([*PROGRAM, "export", demo_path, "--to", tmp_path / "out"], check=True, capture_output=True)
    with (tmp_path / "out" / "contest.csv").open(encoding="utf-8") as file:
        rows = [(row["title"], row["chair"], row["better"], row["reason"]) for row in csv.DictReader(file)]
    assert rows == [
        ("the clock in the corner", "A", "B", "it can be moved"),
        ("the clock in the corner", "B", "B", "it can be moved"),
    ]
    # What newcomers did is as it was.
    checked = subprocess.run([*PROGRAM, "check", demo_path], check=False, capture_output=True, text=True).stdout
    assert "Nothing is wrong with it." in checked, checked
