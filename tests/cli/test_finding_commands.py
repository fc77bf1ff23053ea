"""Findings from the command line: everything that Sort does, as text and as JSON."""

import csv
import json
from io import StringIO
from pathlib import Path

import pytest

from tests.cli.forked import run as fresh_chair


def loose(study: Path, *more: str) -> list[dict[str, object]]:
    found: list[dict[str, object]] = json.loads(fresh_chair("finding", "loose", study, *more, "--json").stdout)
    return found


def shown(study: Path, name: str) -> dict[str, object]:
    told: dict[str, object] = json.loads(fresh_chair("finding", "show", study, name, "--json").stdout)
    return told


def test_observations_become_findings_that_are_split_and_merged(demo_path: Path) -> None:
    first, second, third = (str(each["target"]) for each in loose(demo_path)[:3])
    made = fresh_chair("finding", "open", demo_path, first, second, "--title", "by hand").stdout.strip()
    assert made.startswith("F")
    assert fresh_chair("finding", "join", demo_path, made, third).returncode == 0
    assert shown(demo_path, made)["evidence"] == [first, second, third]
    assert fresh_chair("finding", "join", demo_path, made, third).returncode == 1
    part = fresh_chair("finding", "split", demo_path, made, second, "--title", "a part").stdout.strip()
    assert fresh_chair("finding", "part", demo_path, made, third).returncode == 0
    assert fresh_chair("finding", "merge", demo_path, part, made).returncode == 0
    told = shown(demo_path, part)
    assert (told["number"], told["merged"], told["evidence"]) == (made, [part], [first, second])
    assert "Taken back: finding merged" in fresh_chair("finding", "back", demo_path).stdout
    wrong = fresh_chair("finding", "open", demo_path, "mark:none", "--title", "x")
    assert (wrong.returncode, "no observation mark:none" in wrong.stderr) == (1, True)
    assert "no finding F99" in fresh_chair("finding", "show", demo_path, "F99").stderr


def test_observations_are_narrowed_and_found_by_likeness(demo_path: Path) -> None:
    assert {each["chair"] for each in loose(demo_path, "--chair", "B", "--all")} == {"B"}
    assert "green" in str(loose(demo_path, "sign", "green", "--all")[0]["words"])
    (like, *_) = loose(demo_path, "--like", "a sign that is green before anybody looked", "--all")
    assert "green" in str(like["words"])
    assert "mark:" in fresh_chair("finding", "loose", demo_path, "--person", "P01", "--all").stdout
    assert all(not each["sitting"] for each in loose(demo_path, "--kind", "records of chairs"))


def test_a_finding_is_judged_explained_got_round_and_excused(demo_path: Path) -> None:
    run = [
        ("severity", "F2", "3", "--reason", "two gave up"),
        ("severity", "F2", "1", "--chair", "B", "--known", "--reason", "known there"),
        ("factor", "F2", "impact", "2", "--reason", "it was the bench"),
        ("comes", "F2", "sometimes", "--met", "2", "--tries", "5", "--count", "9"),
        ("cause", "F2", "words=the driver", "lies=a driver or the machine", "--reason", "after each lid"),
        ("cause", "F2", "sure=likely", "--change", "1", "--reason", "again"),
        ("trial", "F2", "tried=another kernel", "result=helped", "cause=1", "when=2026-11-20"),
        ("workaround", "F2", "steps=close the lid twice", "skill=an expert"),
        ("excuse", "F2", "sort=early release", "severity=1", "again=it is final", "--reason", "a beta"),
        ("sort", "F2", "strength"),
        ("tag", "F2", "feedback"),
        ("under", "F2", "F1"),
        ("rename", "F2", "a better name"),
    ]
    for command in run:
        done = fresh_chair("finding", command[0], demo_path, *command[1:])
        assert done.returncode == 0, (command, done.stderr)
    told = shown(demo_path, "F2")
    assert (told["severity"], told["excused"], told["sort"], told["tags"]) == (3, 1, "strength", ["feedback"])
    assert [cause["sure"] for cause in told["causes"]] == ["likely"]  # type: ignore[attr-defined]
    text = fresh_chair("finding", "show", demo_path, "F2").stdout
    for words in ("likely: the driver", "helped: another kernel", "close the lid twice", "sometimes (2 of 5 tries)"):
        assert words in text
    assert "a better name" in fresh_chair("finding", "again", demo_path).stdout
    assert fresh_chair("finding", "severity", demo_path, "F2", "--withdraw", "--chair", "B", "--known").returncode == 1
    dropped = ("finding", "workaround", demo_path, "F2", "--drop", "1", "--reason", "it does not help")
    assert fresh_chair(*dropped).returncode == 0
    assert shown(demo_path, "F2")["workarounds"] == []


@pytest.mark.parametrize(
    ("command", "said"),
    [
        (("severity", "F1", "2"), "needs a reason"),
        (("severity", "F1", "2", "--chair", "Q", "--reason", "x"), "no chair Q"),
        (("cause", "F1", "colour=blue"), "has no colour"),
        (("cause", "F1", "words"), "given as FIELD=TEXT"),
        (("trial", "F1", "tried=x", "result=helped", "cause=7"), "has no cause 7"),
        (("sort", "F1", "dream"), "one of: problem"),
        (("settle", "--open"), "can be seen already"),
        (("settle",), "Say which finding"),
        (("fields", "dream"), "It has: cause"),
    ],
)
def test_a_judgement_that_cannot_be_is_said_in_one_sentence(
    demo_path: Path, command: tuple[str, ...], said: str
) -> None:
    name, *rest = command
    where = () if name == "fields" else (demo_path,)
    failed = fresh_chair("finding", name, *where, *rest)
    assert failed.returncode == 1
    assert said in failed.stderr
    assert "Traceback" not in failed.stderr


def test_the_suggested_severity_is_taken_with_its_steps_as_the_reason(demo_path: Path) -> None:
    suggested = shown(demo_path, "F3")["suggested"]
    assert fresh_chair("finding", "severity", demo_path, "F3", "--suggested").returncode == 0
    told = shown(demo_path, "F3")
    assert told["severity"] == suggested
    assert str(told["severity_reason"]).startswith("impact")


def test_raters_fill_in_forms_unseen_and_are_settled(small_demo: Path, tmp_path: Path) -> None:
    for name, severity in (("Ada", "1"), ("Bo", "3")):
        rows = list(csv.DictReader(StringIO(fresh_chair("finding", "form", small_demo, "--rater", name).stdout)))
        assert not any(row["severity"] for row in rows)
        form = tmp_path / f"{name}.csv"
        with form.open("w", newline="") as file:
            writer = csv.DictWriter(file, rows[0].keys())
            writer.writeheader()
            writer.writerows({**row, "severity": severity, "reason": f"{name} says so"} for row in rows[:2])
        assert "2 taken in" in fresh_chair("finding", "rate", small_demo, form, "--rater", name).stdout
    assert "Ada says so" not in fresh_chair("finding", "ratings", small_demo).stdout
    assert "Ada says so" not in fresh_chair("finding", "log", small_demo).stdout
    assert "Bo says so" not in fresh_chair("finding", "ratings", small_demo, "--rater", "Ada").stdout
    assert fresh_chair("finding", "settle", small_demo, "--open").returncode == 0
    told = json.loads(fresh_chair("finding", "ratings", small_demo, "--json").stdout)
    assert (told["raters"], told["alpha"]["units"], len(told["ratings"])) == (["Ada", "Bo"], 2, 4)
    assert "alpha" in fresh_chair("finding", "ratings", small_demo).stdout
    assert fresh_chair("finding", "settle", small_demo, "F1", "2", "--reason", "between them").returncode == 0
    assert shown(small_demo, "F1")["severity"] == 2


@pytest.fixture
def small_demo(small_path: Path) -> Path:
    """A study with two findings and no rating."""
    from fresh_chair.services.findings import sorting
    from fresh_chair.services.study.open_study import open_study
    from tests.services.findings.test_judging import sat

    opened = open_study(small_path)
    for words in ("menus hide", "no sound"):
        sorting.open_finding(opened, words, sat(opened, "P01" if words == "no sound" else "P02", words))
    opened.close()
    return small_path


def test_what_was_found_is_discovered_printed_and_begun_again(demo_path: Path, tmp_path: Path) -> None:
    discovered = json.loads(fresh_chair("finding", "discovery", demo_path, "--json").stdout)
    assert discovered["participants"] >= 5
    assert len(discovered["curve"]) == discovered["participants"]
    assert "adjusted for so few" in fresh_chair("finding", "discovery", demo_path).stdout
    assert fresh_chair("finding", "show", demo_path, "F1", "--pdf", tmp_path / "f.pdf").returncode == 0
    assert (tmp_path / "f.pdf").read_bytes().startswith(b"%PDF")
    begun = fresh_chair("new", tmp_path / "again.fresh", "--again", demo_path)
    assert begun.returncode == 0
    assert "0 people" in begun.stdout
    assert "carried, at" in fresh_chair("finding", "again", tmp_path / "again.fresh").stdout
    both = fresh_chair("new", tmp_path / "x.fresh", "--again", demo_path, "--outline", tmp_path / "o.toml")
    assert both.returncode != 0


def test_observers_are_shown_side_by_side_and_judge_for_themselves(demo_path: Path) -> None:
    seen = json.loads(fresh_chair("finding", "observers", demo_path, "18", "--json").stdout)
    alone = [row for row in seen["rows"] if row["entry"]]
    assert alone
    assert "Any-two agreement" in fresh_chair("finding", "observers", demo_path, "18").stdout
    assert "Nobody watched sitting 1" in fresh_chair("finding", "observers", demo_path, "1").stderr
    done = fresh_chair("sitting", "seen", demo_path, "18", "1", "--ended", "gave up", "--observer", "Mo")
    assert done.returncode == 0, done.stderr
    assert "gave up" in json.dumps(json.loads(fresh_chair("finding", "observers", demo_path, "18", "--json").stdout))
    entry = entry_number(demo_path, 18, alone[0]["entry"])
    refused = fresh_chair("sitting", "take-mark", demo_path, "18", entry)
    assert (refused.returncode, "needs a reason" in refused.stderr) == (1, True)
    taken = fresh_chair("sitting", "take-mark", demo_path, "18", entry, "--reason", "it is on the tape")
    assert taken.returncode == 0, taken.stderr
    again = json.loads(fresh_chair("finding", "observers", demo_path, "18", "--json").stdout)
    assert [row["decided"] for row in again["rows"] if row["entry"] == alone[0]["entry"]] == ["taken"]
    assert fresh_chair("sitting", "leave-mark", demo_path, "18", entry, "--reason", "after all").returncode == 1


def entry_number(path: Path, sitting: int, entry: str) -> int:
    from fresh_chair.services.study.open_study import open_study

    opened = open_study(path, write=False)
    number = next(each.number for each in opened.entries[sitting] if each.id == entry)
    opened.close()
    return number
