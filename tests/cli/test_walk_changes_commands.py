"""Contests, attached files, kinds of evidence and cards of steps from the command line."""

import json
from pathlib import Path

import pytest

from fresh_chair.core.sitting import journal as j
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.walk.contests import begin_contest, next_chair
from tests.builders import FakeClock
from tests.cli.forked import run as fresh_chair


@pytest.fixture
def contest(opened: OpenStudy, clock: FakeClock) -> Path:
    """A study with a contest of one step, closed."""
    live = begin_contest(opened, ("A", "B"))
    live.log(j.StepOpened("the menu"), clock.now())
    clock.pass_seconds(9)
    there = next_chair(opened, live, clock.now())
    assert there.state.walk is not None
    there.log(j.StepCompared(there.state.walk.steps[0].entry, "B", "nearer"), clock.now())
    for side in (live, there):
        side.log(j.SittingEnded(), clock.now())
    opened.close()
    return opened.beside


def test_a_contest_is_listed_in_words_and_in_json(contest: Path) -> None:
    said = fresh_chair("walks", "contests", contest).stdout
    assert "contest of A and B: R1 at A, B" in said
    assert "B better: nearer" in said
    (data,) = json.loads(fresh_chair("walks", "contests", contest, "--json").stdout)
    assert data["better"] == {"A": 0, "B": 1, "neither": 0, "cannot say": 0}
    assert data["steps"][0]["at"]["A"]["hands_seconds"] == 9


def test_a_file_is_attached_and_listed_and_told_only_on_request(contest: Path, tmp_path: Path) -> None:
    (tmp_path / "menu.png").write_bytes(b"a picture")
    number = json.loads(fresh_chair("walks", "contests", contest, "--json").stdout)[0]["sittings"]["A"]
    assert fresh_chair("walks", "attach", contest, number, "step 1", tmp_path / "menu.png", "--copy").returncode == 0
    assert "shows the menu" in fresh_chair("walks", "files", contest).stdout
    (file,) = json.loads(fresh_chair("walks", "files", contest, "--json").stdout)
    assert (file["attachment"]["name"], file["copied"]) == ("menu.png", True)
    fresh_chair("export", contest, "--to", tmp_path / "out", "--with-attachments")
    assert [path.read_bytes() for path in (tmp_path / "out").glob("*.png")] == [b"a picture"]
    missing = fresh_chair("walks", "attach", contest, number, "9", tmp_path / "menu.png")
    assert missing.returncode == 1
    assert "no step 9" in missing.stderr


def test_a_step_becomes_a_card_and_says_how_it_is_known(contest: Path) -> None:
    number = json.loads(fresh_chair("walks", "contests", contest, "--json").stdout)[0]["sittings"]["A"]
    assert fresh_chair("walks", "card", contest, number, "1").stdout == "the-menu: the menu\n"
    listed = fresh_chair("sitting", "list", contest, number).stdout.splitlines()
    entry = next(line.split()[0] for line in listed if "step: the menu" in line).lstrip("#")
    assert fresh_chair("sitting", "known", contest, number, entry, "read about").returncode == 0
    assert "read about" in fresh_chair("walks", "list", contest).stdout
    assert "the menu" not in fresh_chair("walks", "list", contest, "--own").stdout.split("Sitting")[1]
    wrong = fresh_chair("sitting", "known", contest, number, entry, "dreamt")
    assert wrong.returncode == 1
    assert "remembered" in wrong.stderr


def test_figures_and_records_are_narrowed_to_own_evidence(demo_path: Path, tmp_path: Path) -> None:
    listed = json.loads(fresh_chair("sitting", "list", demo_path, 7, "--json").stdout)
    judged = next(entry["entry"] for entry in listed if entry["kind"] == "outcome_judged")
    fresh_chair("sitting", "known", demo_path, 7, judged, "heard")
    assert "Not own evidence, and counted: 1 heard." in fresh_chair("figures", demo_path).stdout
    assert "left out: 1 heard." in fresh_chair("figures", demo_path, "--own").stdout
    record = fresh_chair(
        "records", "add", demo_path, "A", "reading", "what=start of the mail", "value=9 s"
    ).stdout.strip()
    fresh_chair("records", "set", demo_path, "A", "reading", record, "evidence=read about")
    assert "(read about)" in fresh_chair("records", "list", demo_path, "A", "reading").stdout
    assert record not in fresh_chair("records", "list", demo_path, "A", "reading", "--own").stdout
    (tmp_path / "page.png").write_bytes(b"a page")
    assert fresh_chair("records", "attach", demo_path, "A", "reading", record, tmp_path / "page.png").returncode == 0
    fresh_chair("export", demo_path, "--to", tmp_path / "o")
    chairs = json.loads((tmp_path / "o" / "study.json").read_text())["chairs"]
    assert [file["size"] for chair in chairs for file in chair["files"]] == [6]


def test_no_chair_and_a_chair_twice_are_said(contest: Path) -> None:
    # Without a terminal the command says so; its chairs are looked at by the service.
    assert "needs a terminal" in fresh_chair("walk", contest, "A", "B").stderr
