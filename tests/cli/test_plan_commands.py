"""Everything of a plan from the command line."""

import contextlib
import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from fresh_chair.services.study.open_study import open_study
from tests.cli.forked import run as fresh_chair


def said(*arguments: str | Path) -> Any:
    """What a command prints as JSON."""
    ended = fresh_chair(*arguments, "--json")
    assert ended.returncode == 0, ended.stderr
    return json.loads(ended.stdout)


def test_a_script_is_checked_with_an_exit_code_and_json(demo_path: Path, tmp_path: Path) -> None:
    good = tmp_path / "good.toml"
    shown = fresh_chair("library", "show", "boiler-letter")
    good.write_text(shown.stdout, encoding="utf-8")
    assert fresh_chair("script", "check", good).returncode == 0
    doubtful = tmp_path / "doubtful.toml"
    doubtful.write_text(good.read_text().replace("Please find it for me.", "Please click the icon."), encoding="utf-8")
    ended = fresh_chair("script", "check", doubtful, "--json")
    assert ended.returncode == 1
    report = json.loads(ended.stdout)
    assert {remark["rule"] for remark in report["remarks"]} == {"names-means"}
    assert all(remark["why"] and remark["advice"] for remark in report["remarks"])
    broken = tmp_path / "broken.toml"
    broken.write_text(good.read_text().replace("limit_seconds", "limit"), encoding="utf-8")
    ended = fresh_chair("script", "check", broken, "--json")
    assert ended.returncode == 2
    assert any("@ cards[1]" in problem for problem in json.loads(ended.stdout)["problems"])
    ended = fresh_chair("script", "check", broken)
    assert ended.returncode == 2
    assert "Traceback" not in ended.stderr
    held = fresh_chair("script", "check", good, "--study", demo_path)
    assert held.returncode == 0


def test_a_script_goes_out_and_comes_back(demo_path: Path, tmp_path: Path) -> None:
    text = fresh_chair("script", "show", demo_path).stdout
    file = tmp_path / "s.toml"
    file.write_text("# kept\n" + text, encoding="utf-8")
    assert fresh_chair("script", "put", demo_path, file).returncode == 0
    assert "# kept" in fresh_chair("script", "show", demo_path).stdout
    assert fresh_chair("script", "take", demo_path, "headset", "print-it").returncode == 0
    missing = fresh_chair("script", "take", demo_path, "no-such-card")
    assert (missing.returncode, "no card no-such-card" in missing.stderr) == (1, True)
    assert 'id = "print-it"' in fresh_chair("script", "show", demo_path).stdout


@pytest.mark.parametrize(
    ("editor", "code", "words"),
    [
        ("true", 0, "8 cards"),
        ("sed -i s/480/490/", 0, "8 cards"),
        ("sh -c 'exit 3'", 1, "ended with error 3"),
        ("sed -i s/title/titel/", 1, "is kept in"),
        ("no-such-editor-at-all", 1, "is not there"),
        ("'", 1, "cannot be read as a command"),
    ],
)
def test_the_script_is_edited_in_an_editor_and_nothing_typed_is_lost(
    demo_path: Path, monkeypatch: pytest.MonkeyPatch, editor: str, code: int, words: str
) -> None:
    monkeypatch.delenv("VISUAL", raising=False)
    monkeypatch.setenv("EDITOR", editor)
    ended = fresh_chair("script", "edit", demo_path)
    assert ended.returncode == code
    assert words in ended.stdout + ended.stderr
    assert "Traceback" not in ended.stderr
    if "titel" in editor:
        monkeypatch.setenv("EDITOR", "sed -i s/titel/title/")
        again = fresh_chair("script", "edit", demo_path)
        assert again.returncode == 0, again.stderr


def test_an_editor_that_cannot_be_started_is_said(
    demo_path: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    broken = tmp_path / "editor"
    broken.write_bytes(b"\x7fELF nothing of the kind")
    broken.chmod(0o755)
    monkeypatch.delenv("VISUAL", raising=False)
    monkeypatch.setenv("EDITOR", str(broken))
    ended = fresh_chair("script", "edit", demo_path)
    assert (ended.returncode, "cannot be started" in ended.stderr) == (1, True)


def test_orders_are_printed_drawn_again_and_say_what_is_not_balanced(demo_path: Path) -> None:
    before = said("plan", "order", demo_path)
    after = said("plan", "order", demo_path, "--seed", "77")
    assert after["seed"] == 77
    begun = 21
    assert before["sittings"][:begun] == after["sittings"][:begun]
    assert before["sittings"][begun:] != after["sittings"][begun:]
    assert after["chairs"][0]["positions"] == {"A": [2, 2, 2], "B": [2, 2, 2], "C": [2, 2, 2]}
    assert set(after["cards"]["bound"]) == {"get-online", "painting-program", "all-fixes"}
    assert "balanced:" in fresh_chair("plan", "order", demo_path).stdout


def test_every_field_can_be_listed_read_and_set(demo_path: Path) -> None:
    listed = said("plan", "fields", demo_path, "chair", "B")
    places = {line["place"]: line["text"] for line in listed}
    assert places["chair.B.desktop"] == "Wick 0.9"
    assert fresh_chair("plan", "set", demo_path, "chair.B.desktop", "Wick 1.0").returncode == 0
    assert fresh_chair("plan", "get", demo_path, "chair.B.desktop").stdout.strip() == "Wick 1.0"
    wrong = fresh_chair("plan", "set", demo_path, "chair.B.hue", "99")
    assert (wrong.returncode, "out of range" in wrong.stderr) == (1, True)
    (change,) = [c for c in said("plan", "changes", demo_path) if c["place"] == "chair.B.desktop"]
    assert (change["before"], change["after"]) == ("Wick 0.9", "Wick 1.0")


def test_readiness_numbers_minutes_and_timetable_are_said(demo_path: Path, tmp_path: Path) -> None:
    assert {part["id"] for part in said("plan", "show", demo_path)} >= {"tasks", "person", "bench"}
    numbers = said("plan", "numbers", demo_path, "--people", "21")
    assert (numbers["people"], numbers["planned"], numbers["needed"]["see"], numbers["needed"]["width"]) == (
        21,
        6,
        4,
        21,
    )
    minutes = said("plan", "time", demo_path)
    assert [each["sitting"] for each in minutes["sittings"]] == [22, 23, 24, 25, 26, 27]
    assert fresh_chair("plan", "calendar", demo_path, "--to", tmp_path / "t.ics").returncode == 0
    assert (tmp_path / "t.ics").read_text(encoding="utf-8").startswith("BEGIN:VCALENDAR")


def test_people_are_imported_with_all_that_is_wrong_said(demo_path: Path, tmp_path: Path) -> None:
    table = tmp_path / "people.csv"
    table.write_bytes("code;Name;Sprache\nQ01;Ada;Português\nQ 2;Eva;x\nQ03;Kim;=1+1\n".encode("cp1252"))
    refused = fresh_chair("people", "import", demo_path, table, "--map", "Sprache=language", "--json")
    assert refused.returncode == 1
    report = json.loads(refused.stdout)
    assert (report["added"], report["people"]) == (0, ["Q01", "Q03"])
    assert any("row 3" in problem for problem in report["problems"])
    for sign in ("Windows-1252", "formula", "who people are"):
        assert any(sign in remark for remark in report["remarks"]), sign
    taken = fresh_chair("people", "import", demo_path, table, "--map", "Sprache=language", "--skip-bad-rows")
    assert taken.returncode == 0, taken.stderr
    people = {person["code"]: person for person in said("people", "list", demo_path)}
    assert people["Q01"]["language"] == "Português"
    assert not any("Ada" in str(person) for person in people.values())
    assert fresh_chair("people", "export", demo_path, "--to", tmp_path / "out.csv").returncode == 0
    assert "'=1+1" in (tmp_path / "out.csv").read_text(encoding="utf-8")


def test_people_are_added_let_go_replaced_and_erased(demo_path: Path) -> None:
    assert fresh_chair("people", "add", demo_path, "T2", "--role", "pilot").returncode == 0
    assert fresh_chair("people", "add", demo_path, "T3", "--role", "king").returncode == 1
    assert fresh_chair("people", "let-go", demo_path, "P06", "moved away").returncode == 0
    assert fresh_chair("people", "add", demo_path, "P08", "--replaces", "P06").returncode == 0
    assert fresh_chair("people", "agree", demo_path, "P08", "taking-part").returncode == 0
    assert fresh_chair("people", "erase", demo_path, "P06").returncode == 2
    assert fresh_chair("people", "erase", demo_path, "P06", "--figures", "keep").returncode == 0
    opened = open_study(demo_path)
    assert opened.study.person_by_code["P06"].erased
    assert opened.study.person_by_code["P08"].replaces == "P06"
    assert list(opened.study.person_by_code["P08"].consents) == ["taking-part"]
    opened.close()


def test_chairs_hunches_and_the_bench_are_kept_from_the_command_line(demo_path: Path, tmp_path: Path) -> None:
    other = tmp_path / "other.fresh"
    assert fresh_chair("new", other).returncode == 0
    assert fresh_chair("chairs", "add", other, "Saltmarsh", "10", "Samphire 4").stdout.strip() == "A"
    assert "findings" in fresh_chair("chairs", "carry", other, demo_path, "A").stdout
    assert fresh_chair("chairs", "copy", other, "A").stdout.strip() == "C"
    assert fresh_chair("chairs", "remove", other, "C").returncode == 0
    listed = said("chairs", "list", other)
    assert [chair["letter"] for chair in listed["chairs"]] == ["A", "B"]
    assert len(listed["carried"]) > 3
    fresh_chair("script", "take", other, "headset")
    assert fresh_chair("hunches", "add", other, "headset", "A", "3", "never connects").returncode == 0
    assert "1 sealed" in fresh_chair("hunches", "seal", other).stdout
    (hunch,) = said("hunches", "list", other)
    assert (hunch["severity"], hunch["sealed_wall_ns"] is not None) == (3, True)
    assert fresh_chair("bench", "look", other, "a piece of music", "ready").returncode == 0
    assert fresh_chair("bench", "look", other, "a piece of music", "lost").returncode == 1
    assert [each["check"] is not None for each in said("bench", "list", other)] == [False, True]


def test_the_plan_is_printed(demo_path: Path, tmp_path: Path) -> None:
    ended = fresh_chair("print", demo_path, "--to", tmp_path / "p.pdf", "--what", "cards", "--paper", "Letter")
    assert ended.returncode == 0, ended.stderr
    assert (tmp_path / "p.pdf").read_bytes().startswith(b"%PDF")
    assert fresh_chair("print", demo_path, "--to", tmp_path / "q.pdf", "--what", "posters").returncode == 1
    assert not (tmp_path / "q.pdf").exists()


def test_the_library_is_listed_and_searched() -> None:
    everything = said("library", "list")
    assert len(everything) >= 70
    assert [card["id"] for card in said("library", "list", "boiler", "letter")] == ["boiler-letter"]
    assert fresh_chair("library", "list", "--area", "nonsense").returncode == 1


def test_a_plan_is_changed_while_another_program_has_it_open(demo_path: Path) -> None:
    opened = open_study(demo_path)
    ended = fresh_chair("plan", "set", demo_path, "study.title", "other")
    assert ended.returncode == 0, ended.stderr
    opened.read_on()
    assert opened.study.title == "other"
    ended = fresh_chair("people", "erase", demo_path, "P05", "--figures", "keep")
    opened.close()
    assert ended.returncode == 1
    assert "moderated in another" in ended.stderr


def test_a_sitting_is_planned_once_more(demo_path: Path) -> None:
    ended = fresh_chair("plan", "again", demo_path, "3")
    assert ended.returncode == 0, ended.stderr
    with contextlib.closing(open_study(demo_path)) as opened:
        first, again = opened.study.seat(3), opened.study.seats[-1]
        assert (again.participant, again.chair, again.cards) == (first.participant, first.chair, first.cards)
    assert "is planned for that already" in fresh_chair("plan", "again", demo_path, "3").stderr


def test_hostile_text_in_a_study_does_not_act_on_a_terminal(demo_path: Path) -> None:
    assert fresh_chair("plan", "set", demo_path, "chair.A.kernel", "\x1b[31mred\x1b[0m").returncode == 0
    for command in (("plan", "get", demo_path, "chair.A.kernel"), ("plan", "fields", demo_path, "chair", "A")):
        assert "\x1b" not in fresh_chair(*command).stdout


def test_the_commands_are_explained() -> None:
    for group in ("plan", "script", "library", "people", "chairs", "hunches", "bench"):
        ended = subprocess.run(
            [sys.executable, "-m", "fresh_chair", group, "--help"], capture_output=True, text=True, check=True
        )
        assert "Commands" in ended.stdout


def test_a_card_of_the_library_is_found_by_the_id_it_had_once() -> None:
    shown = fresh_chair("library", "show", "say-cheese")
    assert shown.returncode == 0
    assert 'id = "seen-in-the-talk"' in shown.stdout
