"""By courier: a script that runs on the chair, and the file it brings back."""

import os
import subprocess
from pathlib import Path

import pytest

from fresh_chair.core.errors import InputError
from fresh_chair.probe.courier import courier_script, enquiry_in, read_courier
from fresh_chair.probe.questions.framing import Question
from fresh_chair.probe.questions.state import IDENTITY, STATE
from fresh_chair.probe.runner import ask
from fresh_chair.probe.transport import Local

QUESTIONS = (*IDENTITY[:2], *(q for q in STATE if q.name in ("users", "packages", "home")))


def sent(folder: Path, environment: dict[str, str], *, at: Path | None = None) -> str:
    script = folder / "ask.sh"
    script.write_text(courier_script(QUESTIONS, number="n7", enquiry="A baseline", result="chair-A.answers"))
    ran = subprocess.run(
        ["sh", str(script)], cwd=at or folder, env=environment, capture_output=True, text=True, check=True, timeout=120
    )
    return ran.stdout


def test_a_courier_asks_the_same_and_brings_the_same_answers(
    tmp_path: Path, home: Path, surroundings: dict[str, str]
) -> None:
    stick = tmp_path / "stick"
    stick.mkdir()
    (home / "a.txt").write_text("x")
    said = sent(stick, surroundings)
    brought = stick / "chair-A.answers"
    assert f"Bring back: {brought}" in said
    assert enquiry_in(brought.read_bytes(), brought.name) == "A baseline"
    assert read_courier(brought.read_bytes(), brought.name, QUESTIONS) == ask(Local(surroundings), QUESTIONS)
    assert sorted(path.name for path in home.iterdir()) == ["a.txt"]


def test_where_a_stick_may_not_be_written_the_file_goes_where_one_stands(
    tmp_path: Path, surroundings: dict[str, str]
) -> None:
    script = courier_script(QUESTIONS[:1], number="n7", enquiry="A", result="chair-A.answers")
    # Root may write anywhere; a folder that is no folder refuses everybody.
    asked = script.replace('here=$(dirname "$0")', "here=/dev/null")
    ran = subprocess.run(
        ["sh", "-c", asked], cwd=tmp_path, env=surroundings, capture_output=True, text=True, check=True, timeout=60
    )
    assert f"Bring back: {tmp_path}/chair-A.answers" in ran.stdout


def test_a_file_that_breaks_off_keeps_what_is_whole(tmp_path: Path, surroundings: dict[str, str]) -> None:
    sent(tmp_path, surroundings)
    file = tmp_path / "chair-A.answers"
    data = file.read_bytes()
    file.write_bytes(data[: data.index(b" ask users") + 60])
    answers = read_courier(file.read_bytes(), file.name, QUESTIONS)
    assert answers["os-release"].read
    assert answers["users"].why == "the courier's file breaks off here"
    assert answers["home"].why == "is not in the courier's file"


def test_what_is_no_courier_s_file_is_said_to_be_none(tmp_path: Path) -> None:
    with pytest.raises(InputError, match="not what a courier brings"):
        read_courier(b"\x7fELF" + os.urandom(500), "x.answers", QUESTIONS)


def test_an_enquiry_cannot_carry_shell(tmp_path: Path) -> None:
    for enquiry, result in (("A'; rm -rf /; '", "x"), ("A", "x; rm")):
        with pytest.raises(ValueError, match="plain letters"):
            courier_script([Question("q", "true")], number="n", enquiry=enquiry, result=result)
