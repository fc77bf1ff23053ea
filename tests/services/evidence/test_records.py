"""Evidence records by text, what they speak of, links from both ends, and the later list here and on this machine."""

import csv
import json
from datetime import date
from io import StringIO
from pathlib import Path

import pytest

from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.evidence.later import grouped
from fresh_chair.core.evidence.records import Forecast, LaterItem
from fresh_chair.core.sitting import journal as j
from fresh_chair.services.chair.records import put_record
from fresh_chair.services.evidence.later import (
    bring_back,
    close_later,
    due_everywhere,
    later_everywhere,
    later_of,
    remember_later,
)
from fresh_chair.services.evidence.records import drop_evidence, evidence_lines, find_evidence, put_evidence
from fresh_chair.services.evidence.targets import dangling, links_of, target_words, targets
from fresh_chair.services.file.erasing import erase_person
from fresh_chair.services.file.file_check import check_file, check_open
from fresh_chair.services.report.outputs import write_export
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.services.walk.walks import begin_walk
from fresh_chair.store.later_index import LaterIndex
from tests.builders import FakeClock


@pytest.fixture
def asked(opened: OpenStudy, clock: FakeClock) -> str:
    """A walk in which a question was logged; the target of its mark."""
    live = begin_walk(opened, "A")
    live.log(j.StepOpened("the help"), clock.now())
    mark = live.log(j.QuestionLeft("is there one without a network"), clock.now())
    live.log(j.SittingEnded(), clock.now())
    return f"mark:{mark.id}"


def test_a_record_is_made_of_texts_changed_field_by_field_and_dropped(opened: OpenStudy) -> None:
    made = put_evidence(opened, "reference", {"name": "the release before", "earlier_of": "chair:A"})
    put_evidence(opened, "reference", {"sort": "earlier release"}, record_id=made.id)
    assert evidence_lines(find_evidence(opened, "reference", made.id)) == [
        ("name", "the release before"),
        ("sort", "earlier release"),
        ("earlier release of", "chair:A"),
    ]
    drop_evidence(opened, "reference", made.id, "it is the same one")
    with pytest.raises(InputError, match="There is no reference"):
        find_evidence(opened, "reference", made.id)
    with pytest.raises(InputError, match="needs a reason"):
        drop_evidence(opened, "reference", put_evidence(opened, "reference", {"name": "x"}).id, " ")


def test_everything_that_is_wrong_with_a_record_is_said_at_once(opened: OpenStudy) -> None:
    with pytest.raises(InputError) as said:
        put_evidence(opened, "link", {"first": "chair:A", "relation": "so so", "colour": "blue"})
    for reason in ("@ relation", "has no colour", "say what it is tied to @ second"):
        assert reason in said.value.title
    with pytest.raises(InputError, match="no kind of evidence record"):
        put_evidence(opened, "dream", {})
    assert not opened.evidence.entries


@pytest.mark.parametrize("target", ["chair:Q", "mark:none", "card:none", "reference:none"])
def test_nothing_is_tied_to_what_is_not_there(opened: OpenStudy, target: str) -> None:
    with pytest.raises(InputError, match="There is no"):
        put_evidence(opened, "link", {"first": "chair:A", "relation": "same as", "second": target})


def test_a_link_reads_from_both_ends_and_stays_where_an_end_is_gone(opened: OpenStudy, asked: str) -> None:
    advice = put_evidence(opened, "advice", {"what": "ship it with the help", "to": "makers", "of": asked})
    put_evidence(opened, "link", {"first": f"advice:{advice.id}", "relation": "because of", "second": asked})
    (end,) = links_of(opened, asked)
    assert (end.words, end.other_words, end.gone) == ("is why", "advice ship it with the help", False)
    (end,) = links_of(opened, f"advice:{advice.id}")
    assert (end.words, end.other) == ("because of", asked)
    drop_evidence(opened, "advice", advice.id, "they do by now")
    (end,) = links_of(opened, asked)
    assert end.gone
    assert end.other_words.endswith("(gone)")
    assert [said.split(" @ ")[1] for said in dangling(opened)] == ["first"]


def test_every_sort_of_thing_can_be_spoken_of(demo: OpenStudy) -> None:
    put_record(demo, "A", "claim", promised="dark at once")
    put_evidence(demo, "forecast", {"what": "it gets faster"})
    sorts = {target.partition(":")[0] for target in targets(demo)}
    assert sorts >= {"chair", "card", "sitting", "attempt", "mark", "record", "finding", "hunch", "forecast"}
    assert target_words(demo, "chair:A").startswith("A ")


def test_a_sealed_forecast_is_told_of_and_not_changed(opened: OpenStudy) -> None:
    made = put_evidence(opened, "forecast", {"what": "it gets faster", "sealed": "yes"})
    with pytest.raises(Refused, match="sealed"):
        put_evidence(opened, "forecast", {"what": "it gets slower"}, record_id=made.id)
    told = put_evidence(opened, "forecast", {"outcome": "did not"}, record_id=made.id)
    assert isinstance(told, Forecast)
    assert told.what == "it gets faster"


def test_a_logged_question_is_on_the_later_list_until_it_is_done(opened: OpenStudy, asked: str) -> None:
    (line,) = later_of(opened)
    assert (line.what, line.sort, line.record) == ("is there one without a network", "without an answer", "")
    bring_back(opened, line, due="2027-04-01", whom="the library")
    (line,) = later_of(opened)
    assert (line.due, line.whom, f"mark:{line.mark}") == ("2027-04-01", "the library", asked)
    with pytest.raises(InputError, match="what came of it"):
        close_later(opened, line, " ")
    close_later(opened, line, "there is, in the menu")
    assert later_of(opened) == ()
    record = find_evidence(opened, "later", line.record)
    assert isinstance(record, LaterItem)
    assert (record.done, record.became) == (True, "there is, in the menu")


def test_what_is_due_comes_first_and_what_nothing_brings_back_last(opened: OpenStudy) -> None:
    for what, more in (
        ("nothing", {}),
        ("chair", {"chair": "B"}),
        ("later", {"due": "2027-01-01"}),
        ("release", {"when": "the final"}),
        ("due", {"due": "2026-11-01", "when": "the final"}),
    ):
        put_evidence(opened, "later", {"what": what, **more})
    found = [(group, [line.what for line in lines]) for group, lines in grouped(later_of(opened), date(2026, 11, 26))]
    assert found == [
        ("due", ["due"]),
        ("on a day", ["later"]),
        ("with something else", ["release"]),
        ("at a chair", ["chair"]),
        ("nothing brings it back yet", ["nothing"]),
    ]


def test_the_lists_of_all_studies_are_known_without_opening_them(
    opened: OpenStudy, demo: OpenStudy, tmp_path: Path
) -> None:
    index = LaterIndex(tmp_path / "index")
    put_evidence(opened, "later", {"what": "the scanner", "due": "2026-11-01"})
    put_evidence(demo, "later", {"what": "made up"})
    remember_later(opened, index)
    remember_later(demo, index)
    (of,) = later_everywhere(index)
    assert (of.title, of.there, [line.what for line in of.lines]) == (opened.study.title, True, ["the scanner"])
    assert [line.what for _, line in due_everywhere(date(2026, 11, 26), index)] == ["the scanner"]
    assert due_everywhere(date(2026, 10, 1), index) == []
    close_later(opened, later_of(opened)[0], "it works")
    remember_later(opened, index)
    assert later_everywhere(index) == []


@pytest.mark.parametrize("damage", ["", "[]", "{", '{"path": 1}', '{"path": "a", "title": "t", "lines": [1]}'])
def test_an_index_that_cannot_be_read_is_passed_over(tmp_path: Path, damage: str) -> None:
    (tmp_path / "x.json").write_text(damage)
    assert [of.lines for of in later_everywhere(LaterIndex(tmp_path))] in ([], [()])


def test_records_come_out_whole_in_the_open_data_and_the_file_is_sound(
    opened: OpenStudy, asked: str, tmp_path: Path
) -> None:
    put_evidence(
        opened, "inventory", {"chair": "A", "purpose": "to print labels", "presence": "nowhere", "looked": "=1"}
    )
    put_evidence(opened, "change", {"chair": "A", "what": "the dock", "sort": "moved", "known": "announced"})
    written = {each.path.name for each in write_export(opened, tmp_path)}
    assert {"inventory.csv", "changes.csv", "later.csv"} <= written
    assert "links.csv" not in written
    (item,) = csv.DictReader(StringIO((tmp_path / "inventory.csv").read_text()))
    assert (item["presence"], item["looked"], item["own_evidence"]) == ("nowhere", "'=1", "true")
    (change,) = csv.DictReader(StringIO((tmp_path / "changes.csv").read_text()))
    assert (change["evidence"], change["own_evidence"]) == ("read about", "false")
    told = json.loads((tmp_path / "study.json").read_text())
    assert [entry["content"]["record_kind"] for entry in told["evidence"]] == ["inventory", "change"]
    assert not any(check.problems for check in check_open(opened.store))


def test_causes_that_go_round_are_a_remark_of_the_check(opened: OpenStudy) -> None:
    for first, second in (("chair:A", "chair:B"), ("chair:B", "chair:A")):
        put_evidence(opened, "link", {"first": first, "relation": "because of", "second": second})
    said = [remark for check in check_open(opened.store) for remark in check.remarks]
    assert said == ["goes round: chair:A because of chair:B"]


def test_words_about_an_erased_persons_marks_go_with_them(opened: OpenStudy, asked: str) -> None:
    put_evidence(opened, "advice", {"what": "ask Mara Okello", "of": asked})
    put_evidence(opened, "advice", {"what": "ship it with the help", "of": "chair:A"})
    number = next(n for n, s in opened.sittings.items() if s.walk is not None)
    path = opened.beside
    remember_later(opened)
    assert "is there one without a network" in str(later_everywhere())
    erase_person(opened, opened.study.seat(number).participant, keep_figures=True)
    assert "is there one without a network" not in str(later_everywhere())
    opened.close()
    assert b"Okello" not in path.read_bytes()
    again = open_study(path, write=False)
    assert [evidence_lines(held.record)[0][1] for held in again.evidence.state.held("advice")] == [
        "erased",
        "ship it with the help",
    ]
    again.close()
    assert not any(check.problems for check in check_file(path))


def test_a_study_that_is_gone_leaves_the_index_as_it_was(opened: OpenStudy, tmp_path: Path) -> None:
    index = LaterIndex(tmp_path / "index")
    put_evidence(opened, "later", {"what": "the scanner"})
    remember_later(opened, index)
    opened.evidence.forget()
    opened.beside.write_bytes(b"")
    remember_later(opened, index)
    assert [line.what for of in later_everywhere(index) for line in of.lines] == ["the scanner"]
