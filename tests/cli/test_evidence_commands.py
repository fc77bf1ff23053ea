"""Evidence records and the later list from the command line."""

import json
from pathlib import Path

from tests.cli.forked import run as fresh_chair


def test_records_are_put_down_tied_and_told(small_path: Path) -> None:
    reference = fresh_chair("references", "add", small_path, "name=the release before", "earlier-of=chair:A").stdout
    tied = f"than=reference:{reference.strip()}"
    fresh_chair("against", "add", small_path, "of=chair:A", tied, "says=better", "words=it starts sooner")
    said = fresh_chair("against", "list", small_path).stdout
    assert "says: better" in said
    assert "against: reference the release before" in said
    forecast = fresh_chair("forecast", "add", small_path, "what=it gets faster").stdout.strip()
    link = ("first=chair:A", "relation=speaks for", f"second=forecast:{forecast}")
    assert fresh_chair("links", "add", small_path, *link).returncode == 0
    (end,) = json.loads(fresh_chair("links", "of", small_path, f"forecast:{forecast}", "--json").stdout)
    assert (end["reads"], end["other"]) == ("is spoken for by", "chair:A")
    refused = fresh_chair("forecast", "set", small_path, forecast, "what=it gets slower")
    assert refused.returncode == 1
    assert "sealed" in refused.stderr
    assert fresh_chair("forecast", "set", small_path, forecast, "outcome=did not").returncode == 0
    assert fresh_chair("forecast", "drop", small_path, forecast, "typed twice").returncode == 0
    assert "(gone)" in fresh_chair("links", "list", small_path).stdout
    assert "Nothing is wrong with it." in fresh_chair("check", small_path).stdout


def test_a_field_that_is_none_is_said_and_the_fields_are_listed(small_path: Path) -> None:
    wrong = fresh_chair("inventory", "add", small_path, "chair=A", "purpose=mail", "colour=blue")
    assert wrong.returncode == 1
    assert "has no colour" in wrong.stderr
    assert "purpose" in fresh_chair("inventory", "fields").stdout
    assert "given as FIELD=TEXT" in fresh_chair("inventory", "add", small_path, "mail").stderr


def test_what_is_found_by_its_words_can_be_tied(demo_path: Path) -> None:
    found = json.loads(fresh_chair("links", "targets", demo_path, "dark screen", "--json").stdout)
    assert any(each["target"].startswith("card:") for each in found)


def test_the_later_list_of_all_studies_and_of_one(small_path: Path, demo_path: Path) -> None:
    assert "Nothing was put off." in fresh_chair("later").stdout
    record = fresh_chair("later", "add", small_path, "what=the scanner", "due=2026-01-31", "chair=A").stdout.strip()
    # A made-up study is in nobody's list.
    fresh_chair("later", "add", demo_path, "what=made up")
    (of,) = json.loads(fresh_chair("later", "all", "--json").stdout)
    assert [line["what"] for line in of["lines"]] == ["the scanner"]
    assert "the scanner  (2026-01-31, at A)" in fresh_chair("later").stdout
    assert "made up" in fresh_chair("later", "of", demo_path, small_path).stdout
    assert fresh_chair("later", "done", small_path, record, "it scans").returncode == 0
    assert "Nothing was put off." in fresh_chair("later").stdout
    assert fresh_chair("later", "done", small_path, "none", "it scans").returncode == 1


def test_the_inventory_is_filled_from_what_was_read_and_shown_across_chairs(demo_path: Path, small_path: Path) -> None:
    assert "filled in" in fresh_chair("inventory", "fill", demo_path, "A").stdout
    # What is there already is not put down twice.
    assert fresh_chair("inventory", "fill", demo_path, "A").stdout == "0 filled in.\n"
    rows = json.loads(fresh_chair("inventory", "grid", demo_path, "--json").stdout)
    filled = [row for row in rows if row["at"]["A"] is not None and row["at"]["B"] is None]
    assert filled
    assert all(row["at"]["A"]["presence"] == "there" for row in filled)
    assert "B ?" in fresh_chair("inventory", "grid", demo_path).stdout
    assert "has not been read yet" in fresh_chair("inventory", "fill", small_path, "A").stderr


def test_releases_and_courses_of_the_demo_are_told(demo_path: Path) -> None:
    said = fresh_chair("changes", "succession", demo_path).stdout
    assert "Saltmarsh 7 -> Saltmarsh 8 -> A Saltmarsh 9" in said
    assert "still to come: added, release 10" in said
    (first, *_) = json.loads(fresh_chair("changes", "succession", demo_path, "--json").stdout)
    assert [release["letter"] for release in first["releases"]] == ["", "", "A"]
    courses = json.loads(fresh_chair("evidence", "over-time", demo_path, "--json").stdout)
    assert any(not point["counts"] for course in courses for point in course["points"])
    assert "from Last winter's trial" in fresh_chair("evidence", "over-time", demo_path).stdout
    predictions = json.loads(fresh_chair("forecast", "all", demo_path, "--json").stdout)
    assert {each["sort"] for each in predictions} == {"forecast", "hunch"}


def test_evidence_goes_out_as_text_and_into_another_study(demo_path: Path, small_path: Path, tmp_path: Path) -> None:
    text = tmp_path / "evidence.txt"
    text.write_text(fresh_chair("evidence", "text", demo_path).stdout)
    # All of it is there already.
    assert "0 new, 0 changed" in fresh_chair("evidence", "read", demo_path, text).stdout
    refused = fresh_chair("evidence", "read", small_path, text)
    assert refused.returncode == 1
    assert "Nothing was read in." in refused.stderr
    text.write_text("later scanner\n  what: the scanner\n")
    assert "1 new" in fresh_chair("evidence", "read", small_path, text).stdout
    assert "the scanner" in fresh_chair("later", "of", small_path).stdout


def test_readings_of_another_study_are_brought_to_stand_beside(demo_path: Path, small_path: Path) -> None:
    brought = fresh_chair("records", "bring", small_path, "A", demo_path, "B")
    assert brought.returncode == 0
    assert brought.stdout.split()[0] != "0"
    assert fresh_chair("records", "bring", small_path, "A", demo_path, "Q").returncode == 1
