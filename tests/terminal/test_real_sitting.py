"""The real thing: a program in a terminal, killed in the middle of an attempt."""

import csv
import os
import random
import re
import signal
import subprocess
import sys
from pathlib import Path

import pytest

from fresh_chair.services.study.open_study import open_study
from tests.terminal.tmux import Terminal

_KINDS = {"wrong place": "wrong_place", "helped": "helped", "says it is done": "said_done"}
_MARK = re.compile(r"\d\d:\d\d  (wrong place|helped|says it is done)")
PROGRAM = (sys.executable, "-m", "fresh_chair")


def test_a_sitting_survives_sigkill_and_the_export_has_exactly_its_marks(terminal: Terminal, tmp_path: Path) -> None:
    study = tmp_path / "demo.fresh"
    subprocess.run([*PROGRAM, "demo", "--to", study, "--no-open"], check=True, capture_output=True)
    terminal.run(*PROGRAM, "open", study)
    terminal.wait_for("P04", "Enter seats")
    terminal.keys("Enter")
    terminal.wait_for("say first", "at the bench", "were promised", "the first card")
    terminal.keys("Enter")
    # What they may decline is asked as it is read aloud.
    terminal.wait_for("being asked again next year (as they like)")
    terminal.keys("n")
    terminal.wait_for("card 1 of 8", "start the clock")
    # The first attempt: a wait, a snag with words, help.
    terminal.keys("Enter")
    terminal.wait_for("hands", "limit")
    terminal.keys("w")
    terminal.wait_for("the machine is busy")
    terminal.keys("w")
    terminal.wait_for("the machine is back")
    terminal.keys("s")
    terminal.wait_for("snag at")
    terminal.type("wrong menu; 1 2 3")
    terminal.keys("Enter")
    terminal.wait_for("snag: wrong menu; 1 2 3")
    terminal.keys("h")
    terminal.wait_for("helped")
    terminal.keys("Enter")
    terminal.wait_for("how did it end?")
    terminal.keys("h")
    terminal.wait_for("Overall, how difficult")
    terminal.keys("5")
    # The second attempt is killed in the middle.
    terminal.wait_for("card 2 of 8", "start the clock")
    terminal.keys("Enter")
    terminal.wait_for("card 2 of 8", "limit")
    terminal.keys("p")
    terminal.wait_for("wrong place")
    terminal.keys("s")
    shown = terminal.wait_for("snag at", "words to come")
    assert "snag (words to come)" in shown
    os.kill(terminal.program(), signal.SIGKILL)
    terminal.wait_for("ended with 137")
    terminal.run(*PROGRAM, "open", study)
    terminal.wait_for("Sitting 22 was cut short", "was running")
    terminal.keys("c")
    terminal.wait_for("card 2 of 8", "wrong place", "snag (words to come)", "resumed; the time between counts")
    terminal.keys("d")
    terminal.wait_for("delight at")
    terminal.type("smiles")
    terminal.keys("Enter")
    terminal.wait_for("delight: smiles")
    terminal.keys("Enter")
    terminal.wait_for("how did it end?")
    terminal.keys("u")
    terminal.wait_for("Overall, how difficult")
    terminal.keys("7")
    terminal.wait_for("card 3 of 8")
    terminal.keys("BSpace")
    terminal.wait_for("why is the sitting broken off?")
    terminal.type("bus leaves")
    terminal.keys("Enter")
    terminal.wait_for("broken off: bus leaves")
    terminal.keys("C-q")
    terminal.wait_for("ended with 0")
    subprocess.run([*PROGRAM, "export", study, "--to", tmp_path / "data"], check=True, capture_output=True)
    with (tmp_path / "data" / "marks.csv").open(encoding="utf-8") as file:
        marks = [row for row in csv.DictReader(file) if row["sitting"] == "22"]
    assert [row["kind"] for row in marks] == [
        *("sitting_began", "chair_found", "attempt_started", "wait_began", "wait_ended", "snag", "worded", "helped"),
        *("attempt_stopped", "outcome_judged", "ease_rated"),
        *("attempt_started", "wrong_place", "snag", "sitting_resumed", "delight", "worded"),
        *("attempt_stopped", "outcome_judged", "ease_rated", "sitting_broken_off"),
    ]
    assert [row["words"] for row in marks if row["kind"] == "worded"] == ["wrong menu; 1 2 3", "smiles"]
    with (tmp_path / "data" / "attempts.csv").open(encoding="utf-8") as file:
        attempts = [row for row in csv.DictReader(file) if row["sitting"] == "22"]
    assert [(row["outcome"], row["ease"], row["helped"]) for row in attempts] == [
        ("helped", "5", "1"),
        ("unaided", "7", "0"),
    ]
    for row in attempts:
        lanes = sum(float(row[f"{lane}_seconds"]) for lane in ("hands", "wait", "aside"))
        assert lanes == pytest.approx(float(row["elapsed_seconds"]), abs=1e-5)
    assert subprocess.run([*PROGRAM, "check", study], check=False, capture_output=True).returncode == 0


def test_whatever_was_shown_is_there_after_a_kill_at_a_random_moment(terminal: Terminal, small_path: Path) -> None:
    dice = random.Random(7)
    terminal.run(*PROGRAM, "open", small_path)
    terminal.wait_for("P01", "Enter seats")
    terminal.keys("Enter")
    terminal.wait_for("start the clock")
    terminal.keys("Enter")
    terminal.wait_for("limit")
    for _ in range(6):
        for _ in range(dice.randrange(2, 9)):
            terminal.keys(dice.choice("phf"))
        shown = terminal.screen()
        os.kill(terminal.program(), signal.SIGKILL)
        terminal.wait_for("ended with 137")
        seen = [_KINDS[words] for words in _MARK.findall(shown)]
        opened = open_study(small_path)
        entries = [entry.content.kind for number in opened.entries for entry in opened.entries[number]]
        opened.close()
        kept = [kind for kind in entries if kind in _KINDS.values()]
        assert any(kept[start : start + len(seen)] == seen for start in range(len(kept) - len(seen) + 1)), (seen, kept)
        terminal.run(*PROGRAM, "open", small_path)
        terminal.wait_for("was cut short", f"{len(entries)} entries are there")
        terminal.keys("a")
        terminal.wait_for("resumed; the time between is aside")


def test_a_second_program_reads_and_a_tiny_window_is_no_trouble(terminal: Terminal, demo_path: Path) -> None:
    writer = open_study(demo_path)
    terminal.run(*PROGRAM, "open", demo_path, "--plain")
    terminal.wait_for("beside another")
    terminal.resize(20, 8)
    terminal.wait_for("too small")
    terminal.resize(120, 34)
    terminal.wait_for("P06")
    terminal.keys("C-q")
    terminal.wait_for("ended with 0")
    writer.close()


def test_a_wrong_file_ends_in_one_sentence(terminal: Terminal, tmp_path: Path) -> None:
    path = tmp_path / "letter.fresh"
    path.write_text("dear boiler")
    terminal.run(*PROGRAM, "open", path)
    seen = terminal.wait_for("ended with 1")
    assert "letter.fresh is not a study file." in seen
    assert "Traceback" not in seen


def test_plain_signs_are_ascii_to_the_last_line_in_every_place(terminal: Terminal, demo_path: Path) -> None:
    terminal.run(*PROGRAM, "open", demo_path, "--plain")
    for key, mark in (("1", "Nobody has sat"), ("2", "who it says"), ("3", "Nobody is sitting"), ("4", "findings:")):
        terminal.keys(key)
        seen = terminal.wait_for(mark)
        assert seen.isascii(), sorted({sign for sign in seen if not sign.isascii()})
    for key, mark in (
        ("5", "who fared better"),
        ("6", "For those who decide"),
        ("?", "what can be done now"),
        ("Escape", "w  "),
    ):
        terminal.keys(key)
        assert terminal.wait_for(mark).isascii(), key
    terminal.keys("C-q")
    terminal.wait_for("ended with 0")
