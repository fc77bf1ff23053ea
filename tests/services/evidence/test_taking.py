"""Evidence as text into a study, out of an outline, along releases, over time, carried, and held together."""

from pathlib import Path

import pytest

from fresh_chair.core.errors import InputError
from fresh_chair.core.evidence.records import Forecast
from fresh_chair.services.chair.records import put_fields, records_of
from fresh_chair.services.evidence.doubts import evidence_doubts
from fresh_chair.services.evidence.records import evidence_of_kind, find_evidence, put_evidence
from fresh_chair.services.evidence.succession import chair_groups, successions_of
from fresh_chair.services.evidence.targets import targets
from fresh_chair.services.evidence.text import TextTaken, evidence_text, take_evidence
from fresh_chair.services.figures.over_time import courses_of
from fresh_chair.services.file import carrying
from fresh_chair.services.file.file_check import check_file, check_open
from fresh_chair.services.file.new_study import new_study
from fresh_chair.services.file.study_check import check_study
from fresh_chair.services.findings.forecasts import forecast_lines
from fresh_chair.services.study.open_study import OpenStudy, create_study, open_study
from tests.builders import small_study

TEXT = """
reference before
  name: the release before
  earlier release of: chair:A

change dock
  chair: A
  what: the dock
  sort: removed

link tie
  what: change:dock
  how: because of
  to what: reference:before
"""


def test_a_text_is_taken_in_whole_changed_and_told_back(opened: OpenStudy) -> None:
    put_evidence(opened, "reference", {"name": "a rival", "sort": "rival"})
    told = evidence_text(opened)
    assert take_evidence(opened, told, name="it") == TextTaken(0, 0, 1)
    changed = told.replace("a rival", "the rival")
    assert take_evidence(opened, changed, name="it") == TextTaken(0, 1, 0)
    assert evidence_text(opened) == changed


def test_a_record_may_speak_of_another_one_of_the_same_text(opened: OpenStudy) -> None:
    labels = text_with_labels()
    assert take_evidence(opened, labels, name="it").new == 3
    assert "link:tie" in targets(opened)


def text_with_labels() -> str:
    from fresh_chair.core.evidence.labels import EVIDENCE_LABELS

    words = {label.field: label.words for label in EVIDENCE_LABELS["link"]}
    return (
        TEXT.replace("  what: change:dock", f"  {words['first']}: change:dock")
        .replace("  how:", f"  {words['relation']}:")
        .replace("  to what:", f"  {words['second']}:")
    )


@pytest.mark.parametrize(
    ("before", "after", "said"),
    [
        ("chair: A", "chair: Q", "there is no chair Q in this study @ change dock"),
        ("sort: removed", "sort: lost", "line 6"),
        ("reference:before\n", "reference:gone\n", "there is no reference:gone"),
    ],
)
def test_one_wrong_record_keeps_all_of_a_text_out(opened: OpenStudy, before: str, after: str, said: str) -> None:
    with pytest.raises(InputError) as problem:
        take_evidence(opened, text_with_labels().replace(before, after), name="it")
    assert said in problem.value.title
    assert not opened.evidence.entries


OUTLINE = 'outline = 1\ntitle = "Of an outline"\nevidence = """\n{}\n"""\n'


def test_an_outline_brings_its_evidence_and_makes_no_file_where_one_record_is_wrong(tmp_path: Path) -> None:
    outline, path = tmp_path / "o.toml", tmp_path / "o.fresh"
    outline.write_text(OUTLINE.format("later scanner\n  what: the scanner\n  colour: the final"))
    with pytest.raises(InputError, match="has no colour"):
        new_study(path, outline=outline)
    assert not path.exists()
    outline.write_text(OUTLINE.format("later scanner\n  what: the scanner"))
    new_study(path, outline=outline)
    opened = open_study(path, write=False)
    assert [held.record.id for held in evidence_of_kind(opened, "later")] == ["scanner"]
    opened.close()


def test_evidence_that_bore_on_a_forecast_before_it_was_written_seals_it(opened: OpenStudy) -> None:
    made = put_evidence(opened, "forecast", {"what": "it gets faster"})
    put_evidence(opened, "link", {"first": "chair:A", "relation": "speaks for", "second": f"forecast:{made.id}"})
    text = evidence_text(opened)
    held = find_evidence(opened, "forecast", made.id)
    assert isinstance(held, Forecast)
    assert held.sealed
    assert "forecast" in text
    lines = forecast_lines(opened)
    assert [(line.what, line.sealed, line.sort) for line in lines] == [("it gets faster", True, "forecast")]


def test_hunches_stand_among_the_forecasts_with_their_outcome(demo: OpenStudy) -> None:
    by_sort: dict[str, set[str]] = {}
    for line in forecast_lines(demo):
        by_sort.setdefault(line.sort, set()).add(line.outcome)
    assert {"came true", "did not"} <= by_sort["hunch"]
    assert by_sort["forecast"]


def test_the_succession_of_a_study_names_its_releases_and_groups_its_chairs(opened: OpenStudy) -> None:
    take_evidence(opened, text_with_labels(), name="it")
    (told,) = successions_of(opened)
    assert [release.letter for release in told.releases] == ["", "A"]
    assert told.releases[0].title == "the release before"
    assert [line.what for line in told.lines] == ["the dock"]
    assert chair_groups(opened) == [("A",), ("B",)]
    put_evidence(opened, "link", {"first": "chair:B", "relation": "earlier release of", "second": "chair:A"})
    assert ("B", "A") in chair_groups(opened)


def test_a_reading_taken_twice_is_a_course_and_one_of_another_study_stands_beside(
    opened: OpenStudy, tmp_path: Path
) -> None:
    other = tmp_path / "other.fresh"
    create_study(other, small_study(people=1, chairs=1))
    elsewhere = open_study(other)
    put_fields(elsewhere, "A", "reading", {"what": "idle memory", "value": "500 MB"})
    put_fields(elsewhere, "A", "claim", {"promised": "dark at once"})
    elsewhere.close()
    put_fields(opened, "A", "reading", {"what": "idle memory", "value": "800 MB"})
    assert courses_of(opened) == []
    assert carrying.bring_readings(opened, "A", other, "A") == 1
    assert carrying.bring_readings(opened, "A", other, "A") == 0
    assert not records_of(opened, "A", "claim")
    (course,) = courses_of(opened)
    assert {(point.words, point.counts) for point in course.points} == {("500 MB", False), ("800 MB", True)}
    assert any("A small study" in point.note for point in course.points)
    with pytest.raises(InputError):
        carrying.bring_readings(opened, "A", other, "Q")


def test_readings_along_a_succession_are_held_against_each_other_with_what_differs(opened: OpenStudy) -> None:
    put_fields(opened, "A", "reading", {"what": "idle memory", "value": "500 MB", "method": "free"})
    put_fields(opened, "B", "reading", {"what": "idle memory", "value": "800 MB", "method": "free"})
    assert courses_of(opened) == []
    put_evidence(opened, "link", {"first": "chair:A", "relation": "earlier release of", "second": "chair:B"})
    (course,) = courses_of(opened)
    assert [point.chair for point in course.points] == ["A", "B"]
    assert any(said.startswith("from A to B: 500 to 800 MB") for said in course.told)


def test_a_chair_brings_the_evidence_that_is_about_it_and_nothing_left_behind(
    opened: OpenStudy, tmp_path: Path
) -> None:
    take_evidence(opened, text_with_labels(), name="it")
    put_evidence(opened, "inventory", {"chair": "B", "purpose": "mail"})
    put_evidence(opened, "advice", {"what": "look at the card", "of": "card:card-1"})
    source = opened.beside
    opened.close()
    other = tmp_path / "other.fresh"
    create_study(other, small_study(people=1, chairs=1))
    there = open_study(other)
    chair, carried = carrying.carry_over(there, source, "A")
    assert carried.evidence == 3
    held = [each for kind in ("reference", "change", "link") for each in evidence_of_kind(there, kind)]
    assert {each.source for each in held} == {"A small study"}
    assert not evidence_of_kind(there, "inventory")
    assert not evidence_of_kind(there, "advice")
    (told,) = successions_of(there)
    assert [release.letter for release in told.releases] == ["", chair.letter]
    assert not any(check.problems for check in check_open(there.store))
    there.close()
    assert not any(check.problems for check in check_file(other))


def test_records_that_contradict_each_other_are_shown_to_the_reviewer(opened: OpenStudy) -> None:
    assert evidence_doubts(opened) == []
    forecast = f"forecast:{put_evidence(opened, 'forecast', {'what': 'it gets faster'}).id}"
    for relation in ("speaks for", "speaks against"):
        put_evidence(opened, "link", {"first": "chair:A", "relation": relation, "second": forecast})
    for says in ("better", "worse"):
        put_evidence(opened, "against", {"of": "chair:A", "than": "chair:B", "says": says})
    put_evidence(opened, "inventory", {"chair": "A", "purpose": "a calendar", "presence": "nowhere"})
    put_evidence(opened, "change", {"chair": "A", "what": "A calendar", "sort": "added"})
    said = [remark for check in check_study(opened) for remark in check.remarks]
    assert len(said) == 3
    assert "speaking for and as speaking against" in said[0]
    assert "said to be better and worse" in said[1]
    assert "found it nowhere" in said[2]


def test_releases_that_go_round_are_a_remark_of_the_check(opened: OpenStudy) -> None:
    for first, second in (("chair:A", "chair:B"), ("chair:B", "chair:A")):
        put_evidence(opened, "link", {"first": first, "relation": "earlier release of", "second": second})
    said = [remark for check in check_open(opened.store) for remark in check.remarks]
    assert said == ["earlier than itself: chair:A, chair:B"]
