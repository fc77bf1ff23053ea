"""The command line as a whole: completion, the manual page, exit codes, Ctrl+C, JSON wherever something is shown."""

import json
import os
import signal
import subprocess
import sys
from pathlib import Path

import pytest

from fresh_chair.cli.manual import EXIT_CODES, manual
from fresh_chair.cli.program import program
from tests.cli.forked import run as fresh_chair

ROOT = Path(__file__).parents[2]


def test_the_manual_page_is_what_the_commands_say_now() -> None:
    assert (ROOT / "docs" / "fresh-chair.1").read_text(encoding="utf-8") == manual(program())


def test_every_exit_code_of_the_manual_stands_in_the_guide() -> None:
    guide = (ROOT / "docs" / "guide.md").read_text(encoding="utf-8")
    for code, _ in EXIT_CODES:
        assert f"| {code} |" in guide


@pytest.mark.parametrize("shell", ["bash", "zsh", "fish"])
def test_completion_is_there_for_each_shell(shell: str) -> None:
    made = subprocess.run(
        [sys.executable, "-m", "fresh_chair"],
        env={**os.environ, "_FRESH_CHAIR_COMPLETE": f"source_{shell}"},
        capture_output=True,
        text=True,
        check=False,
    )
    assert made.returncode == 0
    assert "fresh-chair" in made.stdout
    words = {"COMP_WORDS": "fresh-chair rec", "COMP_CWORD": "1", "_TYPER_COMPLETE_ARGS": "fresh-chair rec"}
    words["_TYPER_COMPLETE_FISH_ACTION"] = "get-args"
    found = subprocess.run(
        [sys.executable, "-m", "fresh_chair"],
        env={
            **os.environ,
            **words,
            "_FRESH_CHAIR_COMPLETE": f"complete_{shell}",
            "_TYPER_COMPLETE_FISH_ACTION": "get-args",
        },
        capture_output=True,
        text=True,
        check=False,
    )
    assert "records" in found.stdout
    assert "unsupported" not in made.stdout + made.stderr + found.stdout + found.stderr


def test_ctrl_c_always_says_the_same_word(tmp_path: Path) -> None:
    running = subprocess.Popen(
        [sys.executable, "-m", "fresh_chair", "script", "check", "-"],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
    )
    assert running.stdin is not None
    running.stdin.write("script = 1\n")
    running.stdin.flush()
    status = Path(f"/proc/{running.pid}/status")
    # It reads standard input once it has a handler of its own for the signal.
    while f"{1 << (signal.SIGINT - 1):x}" not in status.read_text().split("SigCgt:")[1].split("\n")[0]:
        os.sched_yield()
    waits = Path(f"/proc/{running.pid}/wchan")
    while "pipe" not in waits.read_text():
        os.sched_yield()
    running.send_signal(signal.SIGINT)
    out, err = running.communicate(timeout=30)
    assert (running.returncode, out, err) == (130, "", "fresh-chair: Stopped.\n")


@pytest.mark.parametrize(
    "command",
    [
        *(("plan", "show"), ("plan", "get", "study.title"), ("plan", "order"), ("plan", "changes"), ("script", "show")),
        *(("people", "list"), ("chairs", "list"), ("hunches", "list"), ("bench", "list"), ("sitting", "list", "1")),
        *(("records", "list", "B", "reading"), ("probe", "show", "B"), ("probe", "noise", "B"), ("checks", "commands")),
        *(("figures",), ("check",), ("plan", "fields", "study"), ("plan", "numbers"), ("plan", "time")),
    ],
)
def test_whatever_is_listed_or_shown_can_be_had_as_json(demo_path: Path, command: tuple[str, ...]) -> None:
    group = command[:2] if command[0] not in ("figures", "check") else command[:1]
    ran = fresh_chair(*group, demo_path, *command[len(group) :], "--json")
    assert ran.returncode == 0, ran.stderr
    json.loads(ran.stdout)


def test_a_card_of_the_library_can_be_had_as_json() -> None:
    listed = json.loads(fresh_chair("library", "list", "--json").stdout)
    shown = json.loads(fresh_chair("library", "show", listed[0]["id"], "--json").stdout)
    assert shown == listed[0]


def test_nothing_is_no_folder(demo_path: Path) -> None:
    for command in ("report", "export"):
        ran = fresh_chair(command, demo_path, "--to", "")
        assert ran.returncode == 2
        assert "nothing is none" in ran.stderr


def test_rating_forms_are_printed_unless_something_else_is_asked_for(demo_path: Path, tmp_path: Path) -> None:
    from pypdf import PdfReader

    assert fresh_chair("print", demo_path, "--to", tmp_path / "all.pdf").returncode == 0
    assert fresh_chair("print", demo_path, "--to", tmp_path / "cards.pdf", "--what", "cards").returncode == 0
    whole, cards = (
        " ".join(page.extract_text() for page in PdfReader(tmp_path / name).pages) for name in ("all.pdf", "cards.pdf")
    )
    statement = "I found this computer unnecessarily complex"
    assert statement in " ".join(whole.split())
    assert statement not in " ".join(cards.split())
    assert "ratings" in fresh_chair("print", "--help").stdout


def test_orders_are_drawn_anew_by_command(demo_path: Path) -> None:
    before = json.loads(fresh_chair("plan", "order", demo_path, "--json").stdout)
    again = json.loads(fresh_chair("plan", "order", demo_path, "--again", "--json").stdout)
    assert again["seed"] == before["seed"]
    other = json.loads(fresh_chair("plan", "order", demo_path, "--seed", "99", "--json").stdout)
    assert other["seed"] == 99
    assert other["sittings"] != before["sittings"]


def test_whoever_reads_may_go_away() -> None:
    command = [sys.executable, "-m", "fresh_chair", "library", "list", "--json"]
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE) as program:
        assert program.stdout is not None
        assert program.stderr is not None
        program.stdout.close()
        said = program.stderr.read()
        assert (program.wait(60), said) == (141, b"")
