"""The real thing for Set: a stand-in chair over SSH, proved fresh in a terminal, killed while it is read."""

import csv
import os
import signal
import socket
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from fresh_chair.services.chair.asking import choose_reach
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.study.open_study import open_study
from tests.terminal.tmux import Terminal

PROGRAM = (sys.executable, "-m", "fresh_chair")


@pytest.fixture
def stand_in() -> Iterator[tuple["subprocess.Popen[str]", str]]:
    """The demo's chair A behind a real SSH server; with the way to it."""
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        port = taken.getsockname()[1]
    process = subprocess.Popen(
        [*PROGRAM, "demo", "--chair", "--letter", "A", "--port", str(port)],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
    )
    assert process.stdout is not None
    assert process.stdin is not None
    lines = [process.stdout.readline() for _ in range(3)]
    yield process, lines[1].split("by: ")[1].strip()
    process.terminate()
    process.wait(30)
    process.stdin.close()
    process.stdout.close()


def sit(process: "subprocess.Popen[str]", key: str = "") -> None:
    assert process.stdin is not None
    assert process.stdout is not None
    process.stdin.write(f"{key}\n")
    process.stdin.flush()
    process.stdout.readline()


def test_a_chair_is_proved_fresh_before_a_sitting_which_then_says_so(
    terminal: Terminal, demo_path: Path, tmp_path: Path, stand_in: tuple["subprocess.Popen[str]", str]
) -> None:
    process, way = stand_in
    opened = open_study(demo_path)
    choose_reach(opened, "A", way)
    opened.close()
    terminal.run(*PROGRAM, "open", demo_path)
    terminal.wait_for("Enter seats")
    terminal.keys("2")
    terminal.wait_for("who it says it is", "Saltmarsh 9")
    terminal.keys("f")
    # A host key that nobody has confirmed: shown, and nothing is asked before it is.
    terminal.wait_for("not known yet", "its host key is SHA256:")
    terminal.keys("y")
    terminal.wait_for("Chair A is fresh.")
    sit(process)
    terminal.keys("f")
    terminal.wait_for("Chair A is not fresh.", "the theme was changed", "one network is remembered: Harbour-Guest")
    # Killed while it is read: nothing half is kept, and it can be read again.
    terminal.keys("r")
    terminal.wait_for("reading chair A")
    os.kill(terminal.program(), signal.SIGKILL)
    terminal.wait_for("ended with 137")
    assert [problem for check in check_file(demo_path) for problem in check.problems] == []
    sit(process, "b")
    terminal.run(*PROGRAM, "open", demo_path)
    terminal.wait_for("Enter seats")
    terminal.keys("2")
    terminal.wait_for("Saltmarsh 9", "not fresh")
    terminal.keys("f")
    terminal.wait_for("Chair A is fresh.")
    terminal.keys("1")
    terminal.wait_for("Enter seats")
    terminal.keys("Enter")
    terminal.wait_for("the first card", "the chair is fresh")
    terminal.keys("C-q")
    terminal.wait_for("ended with 0")
    subprocess.run([*PROGRAM, "export", demo_path, "--to", tmp_path / "data"], check=True, capture_output=True)
    with (tmp_path / "data" / "marks.csv").open(encoding="utf-8") as file:
        marks = [row for row in csv.DictReader(file) if row["sitting"] == "22"]
    # What the chair is asked meanwhile may have come by then, and nothing else.
    assert [row["kind"] for row in marks if row["kind"] != "chair_witnessed"] == ["sitting_began", "chair_found"]
    assert '"freshness": "fresh"' in marks[1]["content_json"]


def test_a_window_of_another_size_and_a_chair_that_is_switched_off_are_survived(
    terminal: Terminal, demo_path: Path, stand_in: tuple["subprocess.Popen[str]", str]
) -> None:
    process, way = stand_in
    opened = open_study(demo_path)
    choose_reach(opened, "A", way)
    opened.close()
    terminal.run(*PROGRAM, "open", demo_path)
    terminal.wait_for("Enter seats")
    terminal.keys("2")
    terminal.wait_for("who it says it is")
    terminal.keys("f")
    terminal.wait_for("its host key is SHA256:")
    terminal.keys("y")
    terminal.wait_for("Chair A is fresh.")
    terminal.keys("r")
    terminal.wait_for("reading chair A")
    terminal.resize(40, 12)
    terminal.wait_for("Window too small")
    terminal.resize(120, 34)
    terminal.wait_for("reading chair A")
    process.kill()
    # What was answered before is kept; the rest is said not to have been.
    terminal.wait_for("could not be read: ", "cannot be reached")
    terminal.keys("f")
    terminal.wait_for("cannot be reached")
    terminal.keys("C-q")
    terminal.wait_for("ended with 0")
