"""`walks`, `new-walk` and `demo --walk`: what a walk brought, as text and as data."""

import json
from pathlib import Path

from tests.cli.forked import run as fresh_chair


def test_a_walk_is_listed_as_text_and_as_data(tmp_path: Path) -> None:
    study = tmp_path / "w.fresh"
    assert fresh_chair("demo", "--walk", "--no-open", "--to", study).returncode == 0
    told = fresh_chair("walks", "list", study).stdout
    assert "R1 walks through A" in told
    assert "a second screen, nothing to try it on; the cable for it is lent out" in told
    assert "about 01:35, said by the reviewer" in told
    data = json.loads(fresh_chair("walks", "list", study, "--json").stdout)
    assert [(walk["reviewer"], walk["contest"]) for walk in data] == [
        ("R1", None),
        *[("R1", "which one for the hall")] * 2,
    ]
    known = {mark["evidence"] for mark in data[0]["marks"]}
    own = json.loads(fresh_chair("walks", "list", study, "--own", "--json").stdout)[0]["marks"]
    assert {"heard", "read about"} <= known
    assert {mark["evidence"] for mark in own} == known - {"heard", "read about"}
    archives = next(step for step in data[0]["steps"] if step["title"] == "every kind of picture file")
    assert archives["list"].startswith("3 of 5 work")
    assert [item["name"] for item in archives["items"]] == ["png", "jpeg", "gif", "webp", "svg"]


def test_steps_are_chapters_of_the_recording(tmp_path: Path) -> None:
    study = tmp_path / "w.fresh"
    fresh_chair("demo", "--walk", "--no-open", "--to", study)
    lines = fresh_chair("sitting", "cues", study, "1", "--chapters").stdout.splitlines()
    assert lines[0] == "00:05 what it is and where it came from"
    # A step that was come back to is a chapter once, where it began.
    assert [line for line in lines if "starting from the stick" in line] == ["01:15 starting from the stick"]
    cues = fresh_chair("sitting", "cues", study, "1").stdout
    assert "step-3-2\n00:01:50.000 --> 00:02:06.000\nstarting from the stick (completed unaided)" in cues


def test_a_sitting_is_declared_a_walk_by_command(demo_path: Path) -> None:
    refused = fresh_chair("walks", "declare", demo_path, "3")
    assert (refused.returncode, "needs a reason" in refused.stderr) == (1, True)
    assert fresh_chair("walks", "declare", demo_path, "3", "--reason", "it was me").returncode == 0
    assert "declared a walk: it was me" in fresh_chair("walks", "list", demo_path).stdout


def test_a_new_walk_has_a_list_to_start_from(tmp_path: Path) -> None:
    made = fresh_chair("new-walk", tmp_path / "w.fresh", "--through", "Oakum 24 | 24 | Pane", "--template", "contest")
    assert "14 cards" in made.stdout
    strange = fresh_chair("new-walk", tmp_path / "x.fresh", "--through", "Oakum", "--template", "none")
    assert (strange.returncode, "tour, battery, first look, contest" in strange.stderr) == (1, True)
    assert not (tmp_path / "x.fresh").exists()


def test_a_walk_needs_a_terminal(tmp_path: Path) -> None:
    fresh_chair("new-walk", tmp_path / "w.fresh", "--through", "Oakum 24")
    ended = fresh_chair("walk", tmp_path / "w.fresh", "A")
    assert (ended.returncode, "needs a terminal" in ended.stderr) == (1, True)
    assert "Nobody has walked here yet" in fresh_chair("walks", "list", tmp_path / "w.fresh").stdout
