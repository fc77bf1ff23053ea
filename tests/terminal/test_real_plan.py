"""The script in a real editor in a real terminal, on good days and on wrong ones."""

import os
import signal
import sys
from pathlib import Path

from fresh_chair.services.study.open_study import open_study
from tests.terminal.tmux import Terminal

PROGRAM = (sys.executable, "-m", "fresh_chair")


def editor(folder: Path, script: str) -> str:
    """An editor that does what the shell script says to the file it is given."""
    path = folder / "editor.sh"
    path.write_text(f"#!/bin/sh\n{script}\n")
    path.chmod(0o755)
    return f"EDITOR={path}"


def open_tasks(terminal: Terminal, study: Path, variable: str) -> None:
    terminal.run("env", "-u", "VISUAL", variable, *PROGRAM, "open", study)
    terminal.wait_for("Enter seats")
    terminal.keys("t")
    terminal.wait_for("Dark screen", "in the editor")


def test_what_the_editor_leaves_becomes_the_script_and_the_screen_comes_back(
    terminal: Terminal, demo_path: Path, tmp_path: Path
) -> None:
    variable = editor(tmp_path, """sed -i 's/^title = "Dark screen"/title = "Darker"  # renamed/' "$1" """)
    open_tasks(terminal, demo_path, variable)
    terminal.keys("e")
    terminal.wait_for("The script has 8 cards", "Darker")
    terminal.keys("C-q")
    terminal.wait_for("ended with 0")
    opened = open_study(demo_path)
    assert opened.study.card_by_id["dark-screen"].title == "Darker"
    assert "# renamed" in (opened.plans.script() or "")
    opened.close()


def test_a_broken_text_is_kept_over_a_kill_and_all_that_is_wrong_is_said(
    terminal: Terminal, demo_path: Path, tmp_path: Path
) -> None:
    open_tasks(terminal, demo_path, editor(tmp_path, """sed -i 's/^limit_seconds = .*/limit_seconds = -1/' "$1" """))
    terminal.keys("e")
    # Wide enough for a place to stand on one line.
    terminal.resize(200, 50)
    terminal.wait_for("cards[1].limit_seconds", "cards[4].limit_seconds", "Your text is kept")
    os.kill(terminal.program(), signal.SIGKILL)
    terminal.wait_for("ended with 137")
    open_tasks(terminal, demo_path, editor(tmp_path, """sed -i 's/^limit_seconds = -1/limit_seconds = 77/' "$1" """))
    terminal.wait_for("The editor left a text")
    terminal.keys("e")
    terminal.wait_for("The script has 8 cards")
    terminal.keys("C-q")
    terminal.wait_for("ended with 0")
    opened = open_study(demo_path)
    assert {card.limit_seconds for card in opened.study.cards} == {77}
    opened.close()


def test_an_editor_that_fails_changes_nothing_and_a_draft_can_be_forgotten(
    terminal: Terminal, demo_path: Path, tmp_path: Path
) -> None:
    open_tasks(terminal, demo_path, editor(tmp_path, """echo broken >> "$1"; exit 3"""))
    terminal.keys("e")
    terminal.wait_for("The editor ended with error 3", "is kept in")
    terminal.keys("u")
    terminal.wait_for("forget all that was typed")
    terminal.keys("y")
    terminal.wait_for("The draft is forgotten")
    opened = open_study(demo_path, write=False)
    assert "broken" not in (opened.plans.script() or "")
    opened.close()


def test_a_change_of_the_plan_survives_a_kill_the_moment_it_is_shown(terminal: Terminal, demo_path: Path) -> None:
    terminal.run(*PROGRAM, "open", demo_path)
    terminal.wait_for("Enter seats")
    terminal.keys("a", "m")
    terminal.wait_for("how many participants?")
    terminal.keys("5", "Enter")
    terminal.wait_for("5 people were added, up to P12")
    os.kill(terminal.program(), signal.SIGKILL)
    terminal.wait_for("ended with 137")
    opened = open_study(demo_path)
    assert {"P08", "P12"} <= set(opened.study.person_by_code)
    assert sum(seat.participant == "P12" for seat in opened.study.seats) == 3
    opened.close()
