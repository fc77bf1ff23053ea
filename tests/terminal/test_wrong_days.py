"""Wrong days in a real terminal: closed, resized, its disk full, its file moved, and a second person at another one."""

import os
import signal
import subprocess
from collections.abc import Iterator
from pathlib import Path

import pytest

from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.study.open_study import create_study, open_study
from tests.builders import small_study
from tests.disks import fill
from tests.store.sqlite.test_study_file import small_disk
from tests.terminal.test_real_sitting import PROGRAM
from tests.terminal.tmux import Terminal

__all__ = ["small_disk"]


@pytest.fixture
def second(tmp_path: Path) -> Iterator[Terminal]:
    """Another terminal, at the other end of the table."""
    folder = tmp_path / "second"
    folder.mkdir()
    opened = Terminal(folder)
    yield opened
    opened.close()


def start(terminal: Terminal, path: Path) -> None:
    """Seat whoever is next, and start the first card."""
    terminal.run(*PROGRAM, "open", path)
    terminal.wait_for("P01", "Enter seats")
    terminal.keys("Enter")
    terminal.wait_for("start the clock")
    terminal.keys("Enter")
    terminal.wait_for("limit")


def kinds(path: Path) -> list[str]:
    opened = open_study(path, write=False)
    found: list[str] = [entry.content.kind for entries in opened.entries.values() for entry in entries]
    opened.close()
    return found


def test_a_terminal_that_is_closed_under_a_sitting_loses_nothing(terminal: Terminal, small_path: Path) -> None:
    start(terminal, small_path)
    terminal.keys("p", "h")
    # What kind of help it was can be said only once it is on record.
    terminal.wait_for("wrong place", "card again")
    os.kill(terminal.program(), signal.SIGHUP)
    terminal.wait_for("ended with 129")
    assert kinds(small_path)[-2:] == ["wrong_place", "helped"]
    terminal.run(*PROGRAM, "open", small_path)
    terminal.wait_for("was cut short", "was running")
    terminal.keys("c")
    terminal.wait_for("resumed; the time between counts")


def test_a_program_that_is_told_to_end_leaves_the_terminal_as_it_was_and_loses_nothing(
    terminal: Terminal, small_path: Path
) -> None:
    start(terminal, small_path)
    terminal.keys("p", "h")
    # The keys' own names stand below from the start; this one comes once the help is on record.
    terminal.wait_for("wrong place", "card again")
    os.kill(terminal.program(), signal.SIGTERM)
    screen = terminal.wait_for("ended with 143", most=2.0)
    assert "Everything that was shown is saved." in screen
    # The other screen is gone, and what is typed stands on the first one.
    assert terminal.alternate() == "0"
    assert kinds(small_path)[-2:] == ["wrong_place", "helped"]


def test_a_window_made_forty_by_twelve_in_the_middle_of_words_and_back_loses_nothing(
    terminal: Terminal, small_path: Path
) -> None:
    start(terminal, small_path)
    terminal.keys("s")
    terminal.wait_for("snag at")
    terminal.type("two menus")
    terminal.resize(40, 12)
    terminal.wait_for("Window too small", "hands")
    terminal.resize(142, 38)
    terminal.wait_for("two menus")
    terminal.keys("Enter")
    terminal.wait_for("snag: two menus")


def test_a_full_disk_in_the_middle_of_a_sitting_is_said_and_everything_is_merged_back(
    terminal: Terminal, small_disk: Path
) -> None:
    path = small_disk / "small.fresh"
    create_study(path, small_study())
    start(terminal, path)
    fill(small_disk / "filler")
    # What is committed already needs no room; a word that is long enough does.
    for number in range(12):
        terminal.keys("n")
        terminal.wait_for("note at")
        terminal.type(f"{number} " + "x" * 400)
        terminal.keys("Enter")
        terminal.wait_for(f"note: {number} xxx")
    terminal.keys("p")
    terminal.wait_for("in a second place", "wrong place")
    (small_disk / "filler").unlink()
    terminal.wait_for("are in the study file")
    terminal.keys("h")
    terminal.wait_for("helped")
    assert kinds(path)[-2:] == ["wrong_place", "helped"]
    terminal.keys("C-q")
    terminal.wait_for("ended with 0")
    assert check_file(path)[2].problems == ()


def test_a_file_that_is_moved_away_is_said_and_opening_it_there_brings_the_marks_in(
    terminal: Terminal, small_path: Path, tmp_path: Path
) -> None:
    start(terminal, small_path)
    moved = tmp_path / "moved.fresh"
    small_path.rename(moved)
    terminal.keys("p", "h")
    terminal.wait_for("no longer where it was opened", "2 marks lie")
    terminal.keys("C-q")
    terminal.wait_for("ended with 0")
    terminal.run(*PROGRAM, "open", moved)
    terminal.wait_for("was cut short")
    assert kinds(moved)[-2:] == ["wrong_place", "helped"]


def test_two_people_log_one_sitting_in_two_terminals(terminal: Terminal, second: Terminal, small_path: Path) -> None:
    start(terminal, small_path)
    second.run(*PROGRAM, "open", small_path, "--observer", "Mo")
    second.wait_for("Mo watches", "limit")
    terminal.wait_for("Mo watches too")
    terminal.keys("p")
    second.wait_for("wrong place", most=5)
    second.keys("q")
    second.wait_for("quote at")
    second.type("so where is it")
    second.keys("Enter")
    terminal.wait_for("quote: so where is it", most=5)
    # The observer's program is killed, and the moderator's goes on.
    os.kill(second.program(), signal.SIGKILL)
    second.wait_for("ended with 137")
    terminal.keys("h")
    terminal.wait_for("helped")
    second.run(*PROGRAM, "open", small_path, "--observer", "Mo")
    second.wait_for("Mo watches", "helped", "so where is it")
    terminal.keys("C-q")
    terminal.wait_for("ended with 0")
    found = kinds(small_path)
    assert found[3:] == ["observer_joined", "wrong_place", "quote", "worded", "helped"]


def test_nobody_sits_in_two_sittings_at_once_and_a_second_program_moderates_none(
    terminal: Terminal, second: Terminal, small_path: Path
) -> None:
    start(terminal, small_path)
    second.run(*PROGRAM, "open", small_path)
    second.wait_for("beside another")
    second.keys("Enter")
    second.wait_for("moderated in another Fresh Chair")
    ran = subprocess.run(
        [*PROGRAM, "sitting", "add", small_path, "1", "note", "0:01", "x", "--reason", "x"],
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert ran.returncode == 1
    assert "moderated in another" in ran.stderr
    terminal.keys("1")
    terminal.wait_for("sitting now", "Enter")
    terminal.keys("n", "Enter")
    terminal.wait_for("is still open")
