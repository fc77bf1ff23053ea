"""Walks: begun by a reviewer alone, apart from newcomers' figures, taken up as a series, told whole in open data."""

import csv
import json
from collections.abc import Iterator
from dataclasses import replace
from io import StringIO
from pathlib import Path

import pytest

from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.evidence.kinds import KINDS
from fresh_chair.core.plan.study import Seat
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.walk import StepEnding
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.file.erasing import erase_person
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.file.new_walk import TEMPLATES, new_walk, new_walk_demo
from fresh_chair.services.findings.sorting import open_finding
from fresh_chair.services.plan.board import open_counts
from fresh_chair.services.plan.people import add_person
from fresh_chair.services.report.outputs import write_export
from fresh_chair.services.report.reports import write_report
from fresh_chair.services.sitting.corrections import late_marks
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.recording import RecordedSitting
from fresh_chair.services.sitting.text.notes import sitting_lines, take_lines
from fresh_chair.services.sitting.text.timed_notes import take_notes
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.services.walk.walks import begin_walk, declare_walk, walk_marks, walk_view, walks
from fresh_chair.tell.evidence_tables import EVIDENCE_FILES
from tests.builders import FakeClock


@pytest.fixture
def opened(small_path: Path, clock: FakeClock) -> Iterator[OpenStudy]:
    study = open_study(small_path)
    study.clock = clock
    yield study
    study.close()


@pytest.fixture
def clock() -> FakeClock:
    return FakeClock()


def walked(opened: OpenStudy, clock: FakeClock, letter: str = "A") -> LiveSitting:
    """A walk with a closed step, an open one, and a question."""
    live = begin_walk(opened, letter)
    archives = live.log(j.StepOpened("the archives"), clock.now())
    clock.pass_seconds(20)
    live.log(j.StepClosed(archives.id, StepEnding.UNAIDED), clock.now())
    live.log(j.StepOpened("the printer", "card-1"), clock.now())
    clock.pass_seconds(5)
    live.log(j.QuestionLeft("is it there without a cable"), clock.now())
    return live


def planned_for(opened: OpenStudy, code: str) -> Seat:
    """A seat for a walk that was not begun yet."""
    study = opened.study
    number = max(seat.number for seat in study.seats) + 1
    known = next((seat for seat in study.seats if seat.participant == code), None)
    if known is not None:
        return known
    seat = Seat(number=number, participant=code, chair="A", position=1, cards=study.seats[0].cards)
    opened.amend(replace(study, seats=(*study.seats, seat)))
    return seat


def rows(path: Path) -> list[dict[str, str]]:
    return list(csv.DictReader(StringIO(path.read_text(encoding="utf-8"))))


def test_a_walk_is_a_reviewers_who_is_added_with_it(opened: OpenStudy, clock: FakeClock) -> None:
    before = opened.study.seats
    live = walked(opened, clock)
    person = opened.study.person_by_code[live.seat.participant]
    assert (person.role, live.state.phase) == ("reviewer", Phase.WALKING)
    assert opened.study.seats[: len(before)] == before
    view = walk_view(opened, live.seat.number)
    assert [step.title for step in view.steps] == ["the archives", "the printer"]
    assert [card.id for card in view.untouched] == ["card-2"]
    assert view.step is not None
    assert view.step.number == 2


def test_nothing_of_a_walk_is_in_a_newcomers_figure(opened: OpenStudy, clock: FakeClock) -> None:
    before, counts = weigh(opened).cells, open_counts(opened).empty_cells
    walked(opened, clock)
    assert (weigh(opened).cells, open_counts(opened).empty_cells) == (before, counts)
    assert opened.facts() == []


def test_the_next_part_begins_with_what_the_last_one_left_open(opened: OpenStudy, clock: FakeClock) -> None:
    live = walked(opened, clock)
    live.log(j.SittingEnded(), clock.now())
    clock.pass_seconds(3 * 86_400)
    later = begin_walk(opened, "A")
    view = walk_view(opened, later.seat.number)
    assert (view.part, later.seat.participant) == (2, live.seat.participant)
    assert view.before == ("open: the printer", "to come back to: is it there without a cable")


def test_a_walk_waits_for_an_open_sitting_and_plans_nothing_meanwhile(opened: OpenStudy, clock: FakeClock) -> None:
    live = LiveSitting(opened, opened.study.seats[0])
    live.begin(clock.now())
    people = opened.study.people
    with pytest.raises(Refused, match="still open"):
        begin_walk(opened, "A")
    assert opened.study.people == people


@pytest.mark.parametrize(
    ("letter", "code", "said"), [("Q", "", "no chair"), ("A", "P01", "only a reviewer"), ("A", "R 1", "cannot be")]
)
def test_where_no_walk_can_be_one_sentence_says_so(opened: OpenStudy, letter: str, code: str, said: str) -> None:
    with pytest.raises(InputError, match=said):
        begin_walk(opened, letter, code=code)
    assert all(person.role != "reviewer" for person in opened.study.people)


def test_a_walk_over_a_recording_that_is_open_is_gone_on_with(opened: OpenStudy) -> None:
    live = begin_walk(opened, "A", recording="walk.webm 2:31")
    seats = opened.study.seats
    assert begin_walk(opened, "A").seat == live.seat
    for letter, recording in (("B", ""), ("A", "other.webm")):
        with pytest.raises(Refused, match="walks in sitting"):
            begin_walk(opened, letter, recording=recording)
    assert opened.study.seats == seats


def test_a_line_of_a_recorded_walk_can_be_typed_after_going_back(opened: OpenStudy) -> None:
    live = begin_walk(opened, "A", recording="walk.webm")
    assert isinstance(live, RecordedSitting)
    live.player.go_to(60)
    live.log(j.StepOpened("a"), live.now())
    live.player.go_to(90)
    live.log(j.NoteTaken("x"), live.now())
    live.player.go_to(70)
    live.log(j.LineTyped("seen on going back"), live.now())
    view = walk_view(opened, live.seat.number)
    assert [(line.words, line.at, line.step) for line in view.untold] == [("seen on going back", "01:10", 1)]


def test_a_line_that_turned_out_a_snag_can_be_in_a_finding(opened: OpenStudy, clock: FakeClock) -> None:
    live = walked(opened, clock)
    line = live.log(j.LineTyped("it hums"), clock.now())
    live.log(j.LineMeant(line.id, "snag"), clock.now())
    live.log(j.SittingEnded(), clock.now())
    open_finding(opened, "noise", [line.id])
    path = opened.beside
    opened.close()
    assert [problem for check in check_file(path) for problem in check.problems] == []


def test_marks_of_an_attempt_are_added_to_no_walk_and_lines_to_nothing_else(
    opened: OpenStudy, clock: FakeClock, tmp_path: Path
) -> None:
    newcomers = LiveSitting(opened, opened.study.seats[0])
    newcomers.begin(clock.now())
    clock.pass_seconds(60)
    newcomers.break_off("enough", clock.now())
    number = walked(opened, clock).seat.number
    assert set(late_marks(opened, number)) == set(j.WORDABLE)
    assert "line" not in late_marks(opened, newcomers.seat.number)
    # A note that happens to begin with that word stays a note of a newcomer's sitting.
    (tmp_path / "n.srt").write_text("1\n00:00:05,000 --> 00:00:06,000\nline after line\n", encoding="utf-8")
    take_notes(opened, newcomers.seat.number, tmp_path / "n.srt")
    assert [r.words for r in opened.sittings[newcomers.seat.number].remarks.values()] == ["line after line"]


def test_a_sitting_logged_otherwise_is_declared_a_walk_with_a_reason(opened: OpenStudy, clock: FakeClock) -> None:
    live = LiveSitting(opened, opened.study.seats[0])
    live.begin(clock.now())
    live.log(j.AttemptStarted(live.seat.cards[0]), clock.now())
    live.log(j.AttemptStopped(), clock.now())
    live.log(j.OutcomeJudged(Outcome.UNAIDED), clock.now())
    live.break_off("enough", clock.now())
    assert len(opened.facts()) == 1
    with pytest.raises(Refused, match="reason"):
        declare_walk(opened, live.seat.number, " ")
    declare_walk(opened, live.seat.number, "it was me, at home")
    assert opened.facts() == []
    assert [view.declared for view in walks(opened)] == ["it was me, at home"]
    with pytest.raises(Refused, match="already"):
        declare_walk(opened, live.seat.number, "again")


@pytest.mark.parametrize("template", list(TEMPLATES))
def test_each_list_to_start_from_has_a_dozen_steps_or_more(tmp_path: Path, template: str) -> None:
    study = new_walk(
        tmp_path / "w.fresh", reviewer="R1", through="Oakum 24 | 24", machine="the bench", template=template
    )
    assert len(study.cards) >= 12
    assert (study.chairs[0].title, study.chairs[0].desktop) == ("Oakum 24 24", "not known")
    opened = open_study(tmp_path / "w.fresh")
    assert begin_walk(opened, "A").seat.participant == "R1"
    opened.close()


def test_a_new_walk_without_a_subject_makes_no_file(tmp_path: Path) -> None:
    with pytest.raises(InputError, match="walked through"):
        new_walk(tmp_path / "w.fresh", reviewer="R1", through=" ", machine="x")
    assert not (tmp_path / "w.fresh").exists()


def test_a_whole_walk_is_told_in_open_data_and_in_the_report(tmp_path: Path) -> None:
    new_walk_demo(tmp_path / "w.fresh")
    assert [problem for check in check_file(tmp_path / "w.fresh") for problem in check.problems] == []
    opened = open_study(tmp_path / "w.fresh", write=False)
    list(write_export(opened, tmp_path / "out"))
    list(write_report(opened, tmp_path / "out"))
    steps = [step for step in rows(tmp_path / "out" / "walk_steps.csv") if step["sitting"] == "1"]
    assert 40 <= len(steps) <= 60
    assert {step["ending"] for step in steps} >= {"unaided", "looked_at", "not_tried", "nothing_for_it", "open"}
    # A cut recording has no times: what was said stands apart.
    assert {step["hands_seconds"] for step in steps} == {""}
    assert [step["said_seconds"] for step in steps if step["trust"] == "said by the reviewer"] == ["95", "41"]
    assert len(rows(tmp_path / "out" / "walk_items.csv")) == 10
    remarks = rows(tmp_path / "out" / "walk_remarks.csv")
    known = {remark["evidence"] for remark in remarks}
    assert known <= set(KINDS)
    assert {"read about", "heard", "measured", "done"} <= known
    assert {r["own_evidence"] for r in remarks if r["evidence"] == "heard"} == {"false"}
    assert {r["side"] for r in remarks} == {"", "intent", "praise and blame"}
    (later,) = (r for r in remarks if r["revises"])
    assert [r["revised_by"] for r in remarks if r["id"] == later["revises"]] == [later["id"]]
    assert [step["chair_change"] for step in steps][-3:] == ["0", "1", "2"]
    contest = rows(tmp_path / "out" / "contest.csv")
    assert {row["better"] for row in contest} == {"A", "B", "neither", "cannot say", ""}
    assert sum(row["ending"] == "" for row in contest) == 1
    assert [row["copied"] for row in rows(tmp_path / "out" / "attachments.csv")] == ["true"]
    told_kinds = {path.name for path in (tmp_path / "out").glob("*.csv")}
    # No quote was chosen there, no makers were asked, and nothing went out.
    none = {"choices.csv", "replies.csv", "final_documents.csv"}
    assert set(EVIDENCE_FILES.values()) - none | {"later.csv"} <= told_kinds
    assert rows(tmp_path / "out" / "attempts.csv") == []
    told = json.loads((tmp_path / "out" / "study.json").read_text(encoding="utf-8"))
    kinds = {entry["content"]["kind"] for entry in told["sittings"][0]["entries"]}
    assert {"walk_began", "step_opened", "line_meant", "recording_cut"} <= kinds
    report = (tmp_path / "out" / "report.md").read_text(encoding="utf-8")
    assert "3 of 5 work; 1 with trouble" in report
    assert "Evidence of one reviewer alone" in report
    opened.close()


def test_a_walk_as_text_comes_back_the_same(opened: OpenStudy, clock: FakeClock, tmp_path: Path) -> None:
    live = walked(opened, clock)
    live.log(j.SittingEnded(), clock.now())
    text = sitting_lines(opened, live.seat.number)
    (tmp_path / "w.txt").write_text(text, encoding="utf-8")
    add_person(opened, "R2", role="reviewer")
    take_lines(opened, planned_for(opened, "R2").number, tmp_path / "w.txt")
    again = sitting_lines(opened, planned_for(opened, "R2").number)
    assert [line for line in again.splitlines() if not line.startswith("# ")] == [
        line for line in text.splitlines() if not line.startswith("# ")
    ]


def test_notes_typed_for_a_reviewer_are_a_walk_without_saying_so(opened: OpenStudy, tmp_path: Path) -> None:
    (tmp_path / "w.txt").write_text("0:05 open the menu\n0:09 snag slow\n0:09 rate #2 3\n", encoding="utf-8")
    add_person(opened, "R2", role="reviewer")
    number = planned_for(opened, "R2").number
    take_lines(opened, number, tmp_path / "w.txt")
    view = walk_view(opened, number)
    assert [(step.title, step.number) for step in view.steps] == [("the menu", 1)]
    assert [(mark.words, mark.severity, mark.step) for mark in walk_marks(opened, view.number)] == [("slow", 3, 1)]


def test_an_erased_reviewers_words_are_gone(opened: OpenStudy, clock: FakeClock) -> None:
    live = walked(opened, clock)
    live.log(j.LineTyped("what nobody else may read"), clock.now())
    live.log(j.EvidenceTold(live.entries[-1].id, "heard"), clock.now())
    step = walk_view(opened, live.seat.number).steps[1]
    live.log(j.ItemsListed(step.entry, ("the hall", "my own desk")), clock.now())
    live.log(j.ItemJudged(step.entry, 2, "fails", "it lies under letters"), clock.now())
    live.log(j.SittingEnded(), clock.now())
    code = live.seat.participant
    erase_person(opened, code, keep_figures=True)
    path = opened.beside
    opened.close()
    data = path.read_bytes()
    assert b"what nobody else may read" not in data
    for words in (b"without a cable", b"the archives", b"my own desk", b"under letters"):
        assert words not in data
    assert [problem for check in check_file(path) for problem in check.problems] == []
    again = open_study(path, write=False)
    view = walks(again)[0]
    assert [item.result for item in view.steps[1].items] == [None, "fails"]
    assert [mark.evidence for mark in walk_marks(again, view.number)] == ["done", "heard"]
    again.close()
