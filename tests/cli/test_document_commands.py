"""Documents for readers from the command line: written, traced, answered, given out."""

import json
from pathlib import Path

import yaml

from tests.cli.forked import run as fresh_chair


def test_a_draft_for_makers_is_written_answered_and_given_out(demo_path: Path, tmp_path: Path) -> None:
    asked = ("report", demo_path, "--for", "maker", "--chair", "B", "--format", "md,odt", "--to")
    ended = fresh_chair(*asked, tmp_path / "draft", "--lang", "de", "--until", "2026-12-31")
    assert ended.returncode == 0, ended.stderr
    text = (tmp_path / "draft" / "maker-B.md").read_text()
    assert "31. Dezember 2026" in text or "31.12.2026" in text
    assert {path.suffix for path in (tmp_path / "draft").glob("maker-*.*")} == {".md", ".odt"}
    files = sorted((tmp_path / "draft" / "maker-B").glob("F*.md"))
    assert len(files) > 5
    assert all(yaml.safe_load(path.read_text().split("---\n")[1])["number"] for path in files)
    refused = fresh_chair(*asked, tmp_path / "no", "--until", "2026-12-31", "--final")
    assert (refused.returncode, "no draft" in refused.stderr) == (1, True)
    replied = fresh_chair("reply", "add", demo_path, "chair=B", "text=We mend it in the next release.")
    assert replied.returncode == 0, replied.stderr
    final = fresh_chair(*asked, tmp_path / "final", "--final")
    assert final.returncode == 0, final.stderr
    assert "We mend it in the next release" in (tmp_path / "final" / "maker-B.md").read_text()
    fresh_chair("paragraph", "add", demo_path, "text=One thing more.", "at=foreword")
    later = fresh_chair(*asked, tmp_path / "later")
    assert later.returncode == 0, later.stderr
    assert "One thing more" in (tmp_path / "later" / "maker-B.md").read_text()


def test_a_number_is_traced_and_one_there_is_none_of_is_one_sentence(demo_path: Path) -> None:
    traced = fresh_chair("trace", demo_path, "completion/dark-screen/A")
    assert traced.returncode == 0, traced.stderr
    assert traced.stdout.startswith("completion/dark-screen/A: ")
    assert len(traced.stdout.splitlines()) > 10
    marks = json.loads(fresh_chair("trace", demo_path, "completion/dark-screen/A", "--json").stdout)["marks"]
    assert {mark["chair"] for mark in marks} == {"A"}
    for strange in ("completion/no-such/A", "completion", "../../etc/passwd", "severity/F99"):
        ended = fresh_chair("trace", demo_path, strange)
        assert (ended.returncode, len(ended.stderr.strip().splitlines()) <= 2) == (1, True), ended.stderr
        assert ended.stdout == ""


def test_an_open_point_is_answered_by_its_key_and_then_open_no_longer(demo_path: Path) -> None:
    points = json.loads(fresh_chair("open-points", demo_path, "--json").stdout)
    assert {each["sort"] for each in points} >= {"contradiction", "unsorted", "open threshold"}
    unsorted = next(each for each in points if each["sort"] == "unsorted")
    ended = fresh_chair("contradictions", "answer", demo_path, unsorted["key"], "stands", "they are small")
    assert ended.returncode == 0, ended.stderr
    after = {each["key"]: each["answer"] for each in json.loads(fresh_chair("open-points", demo_path, "--json").stdout)}
    assert after[unsorted["key"]]["because"] == "they are small"
    again = fresh_chair("contradictions", "answer", demo_path, unsorted["key"], "changed", "sorted")
    assert again.returncode == 0, again.stderr
    assert "changed: sorted" in fresh_chair("open-points", demo_path).stdout


def test_what_is_asked_wrongly_is_one_sentence_and_writes_nothing(demo_path: Path, tmp_path: Path) -> None:
    for wrong in (
        ("--for", "decider", "--format", "doc"),
        ("--for", "decider", "--lang", "tlh"),
        ("--for", "maker", "--chair", "Z"),
        ("--for", "viewer", "--sitting", "99"),
        ("--for", "maker", "--until", "soon"),
        ("--for", "everybody"),
    ):
        ended = fresh_chair("report", demo_path, *wrong, "--to", tmp_path / "out")
        assert ended.returncode != 0, wrong
        assert "Traceback" not in ended.stderr
        assert not (tmp_path / "out").exists(), wrong


def test_points_hold_every_contradiction_that_is_listed_also_that_the_answer_turns(tmp_path: Path) -> None:
    path = tmp_path / "second.fresh"
    assert fresh_chair("demo", "--second", "--to", path, "--no-open").returncode == 0
    listed = json.loads(fresh_chair("contradictions", "list", path, "--json").stdout)
    turns = [each["key"] for each in listed if each["key"].startswith("turns")]
    assert turns
    points = json.loads(fresh_chair("open-points", path, "--json").stdout)
    assert {each["key"] for each in listed} <= {each["key"] for each in points}
    ended = fresh_chair("contradictions", "answer", path, turns[0], "stands", "it is said on the first page")
    assert ended.returncode == 0, ended.stderr


def test_the_numbers_of_two_pages_lead_to_a_report_that_is_there(demo_path: Path, tmp_path: Path) -> None:
    ended = fresh_chair("report", demo_path, "--for", "decider", "--format", "odt", "--to", tmp_path / "out")
    assert ended.returncode == 0, ended.stderr
    assert {path.name for path in (tmp_path / "out").iterdir()} == {"decider.odt", "researcher.html"}
