"""Contests: the same steps at two chairs, each with its own journal and clock; and which was better at each."""

import csv
import json
from io import StringIO
from pathlib import Path

import pytest

from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.walk import StepEnding
from fresh_chair.core.words.walks import contest_counts, contest_turns
from fresh_chair.services.report.outputs import write_export
from fresh_chair.services.report.reports import write_report
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.recording import RecordedSitting
from fresh_chair.services.sitting.text.notes import sitting_lines, take_lines
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.services.walk.chair_changes import alter_chair
from fresh_chair.services.walk.contests import begin_contest, contest_of, contests, next_chair
from fresh_chair.services.walk.walks import begin_walk
from tests.builders import FakeClock


def gone_through(opened: OpenStudy, clock: FakeClock) -> LiveSitting:
    """A step at both chairs, the second in hand."""
    live = begin_contest(opened, ("A", "B"))
    step = live.log(j.StepOpened("the menu"), clock.now())
    clock.pass_seconds(30)
    live.log(j.StepClosed(step.id, StepEnding.PARTLY), clock.now())
    other = next_chair(opened, live, clock.now())
    clock.pass_seconds(12)
    return other


def test_one_key_goes_on_to_the_same_step_at_the_next_chair_with_a_clock_of_its_own(
    opened: OpenStudy, clock: FakeClock
) -> None:
    other = gone_through(opened, clock)
    entry = other.state.walk.steps[0].entry if other.state.walk is not None else ""
    other.log(j.StepClosed(entry, StepEnding.UNAIDED), clock.now())
    other.log(j.StepCompared(entry, "B", "fewer clicks"), clock.now())
    (view,) = contests(opened)
    assert (other.seat.chair, view.chairs) == ("B", ("A", "B"))
    (row,) = view.rows
    at_a, at_b = row.cells
    assert at_a is not None
    assert at_b is not None
    assert (at_a.hands_seconds, at_b.hands_seconds) == (30, 12)
    assert row.judgement is not None
    assert (row.judgement.better, row.judgement.reason) == ("B", "fewer clicks")
    assert contest_counts(view) == "A 0, B 1"


def test_a_step_in_hand_is_set_aside_here_and_what_is_open_there_is_taken_up_again(
    opened: OpenStudy, clock: FakeClock
) -> None:
    live = begin_contest(opened, ("A", "B"))
    live.log(j.StepOpened("the menu"), clock.now())
    clock.pass_seconds(10)
    there = next_chair(opened, live, clock.now())
    clock.pass_seconds(100)
    back = next_chair(opened, there, clock.now())
    clock.pass_seconds(5)
    walk = back.state.walk
    assert walk is not None
    assert (back.seat.chair, len(walk.steps), walk.hand) == ("A", 1, 1)
    assert walk.steps[0].hands_ns(back.state.time_at(clock.now())) == 15 * 10**9


def test_a_step_closed_at_the_other_chair_stays_closed(opened: OpenStudy, clock: FakeClock) -> None:
    other = gone_through(opened, clock)
    back = next_chair(opened, other, clock.now())
    walk = back.state.walk
    assert walk is not None
    assert (walk.hand, walk.steps[0].ending) == (0, StepEnding.PARTLY)


def test_the_last_answer_counts_wherever_it_was_given(opened: OpenStudy, clock: FakeClock) -> None:
    other = gone_through(opened, clock)
    assert other.state.walk is not None
    other.log(j.StepCompared(other.state.walk.steps[0].entry, "B"), clock.now())
    clock.pass_seconds(5)
    back = next_chair(opened, other, clock.now())
    assert back.state.walk is not None
    back.log(j.StepCompared(back.state.walk.steps[0].entry, "cannot say", "both crashed"), clock.now())
    judgement = contests(opened)[0].rows[0].judgement
    assert judgement is not None
    assert judgement.better == "cannot say"


def test_empty_cells_are_counted(opened: OpenStudy, clock: FakeClock) -> None:
    live = begin_contest(opened, ("A", "B"))
    live.log(j.StepOpened("the menu"), clock.now())
    live.log(j.StepOpened("the printer", "card-1"), clock.now())
    next_chair(opened, live, clock.now())
    view = contest_of(opened, live.seat.number)
    assert view is not None
    assert [[cell is not None for cell in row.cells] for row in view.rows] == [[True, False], [True, True]]
    assert (view.empty, view.undecided) == (1, 2)


@pytest.mark.parametrize(("chairs", "said"), [(("A",), "two chairs"), (("A", "A"), "once"), (("A", "Q"), "no chair Q")])
def test_a_contest_is_between_chairs_of_the_study(opened: OpenStudy, chairs: tuple[str, ...], said: str) -> None:
    with pytest.raises(InputError, match=said):
        begin_contest(opened, chairs)
    assert not opened.begun


def test_nobody_else_sits_down_while_a_contest_is_open(opened: OpenStudy, clock: FakeClock) -> None:
    gone_through(opened, clock)
    with pytest.raises(Refused, match="still open"):
        LiveSitting(opened, opened.study.seats[0]).begin(clock.now())
    with pytest.raises(Refused):
        begin_walk(opened, "A")


def test_what_is_no_contest_has_no_next_chair(opened: OpenStudy, clock: FakeClock) -> None:
    live = begin_walk(opened, "A")
    with pytest.raises(Refused, match="no part of a contest"):
        next_chair(opened, live, clock.now())


def test_a_side_that_has_ended_is_not_gone_back_to(opened: OpenStudy, clock: FakeClock) -> None:
    other = gone_through(opened, clock)
    back = next_chair(opened, other, clock.now())
    back.log(j.SittingEnded(), clock.now())
    with pytest.raises(Refused, match="through A has ended"):
        next_chair(opened, other, clock.now())


def test_one_recording_shows_both_chairs_and_stands_where_it_stood(opened: OpenStudy) -> None:
    live = begin_contest(opened, ("A", "B"), recording="both.webm 1:00", began="2026-11-09T10:00")
    assert isinstance(live, RecordedSitting)
    live.player.go_to(90)
    live.log(j.StepOpened("the menu"), live.now())
    live.player.go_to(130)
    there = next_chair(opened, live, live.now())
    assert isinstance(there, RecordedSitting)
    assert there.player.position_ns == 130 * 10**9
    assert there.state.recording == ("both.webm", 60.0)
    assert there.state.walk is not None
    assert there.state.walk.steps[0].opened_ns == 70 * 10**9


def test_a_second_contest_between_the_same_chairs_is_another_one(opened: OpenStudy, clock: FakeClock) -> None:
    other = gone_through(opened, clock)
    back = next_chair(opened, other, clock.now())
    for side in (back, other):
        side.log(j.SittingEnded(), clock.now())
    begin_contest(opened, ("A", "B"))
    assert [view.name for view in contests(opened)] == ["contest of A and B", "contest of A and B, 2"]


def test_a_contest_is_told_whole_in_the_open_data_the_report_and_the_text(
    opened: OpenStudy, clock: FakeClock, tmp_path: Path
) -> None:
    other = gone_through(opened, clock)
    assert other.state.walk is not None
    other.log(j.StepCompared(other.state.walk.steps[0].entry, "B", "=1+1"), clock.now())
    other.log(j.StepOpened("only here"), clock.now())
    list(write_export(opened, tmp_path / "data"))
    rows = list(csv.DictReader(StringIO((tmp_path / "data" / "contest.csv").read_text())))
    assert [(row["title"], row["chair"], row["ending"], row["better"], row["said_at_chair"]) for row in rows] == [
        ("the menu", "A", "partly", "B", "false"),
        ("the menu", "B", "open", "B", "true"),
        ("only here", "A", "", "", "false"),
        ("only here", "B", "open", "", "false"),
    ]
    assert rows[0]["reason"] == "'=1+1"
    list(write_report(opened, tmp_path / "report"))
    told = (tmp_path / "report" / "report.md").read_text()
    assert "## Contest: contest of A and B" in told
    assert "not gone through" in told
    whole = json.loads((tmp_path / "data" / "study.json").read_text())
    kinds = [entry["content"]["kind"] for sitting in whole["sittings"] for entry in sitting["entries"]]
    assert kinds.count("contest_joined") == 2
    text = tmp_path / "b.txt"
    text.write_text(sitting_lines(opened, other.seat.number))
    assert "contest A,B contest of A and B" in text.read_text()
    again = tmp_path / "again.fresh"
    from fresh_chair.services.study.open_study import create_study

    create_study(again, opened.study)
    copy = open_study(again)
    try:
        take_lines(copy, other.seat.number, text, began="2026-11-09T10:00")
        assert contests(copy)[0].rows[0].cells[1] is not None
    finally:
        copy.close()


def test_a_chair_altered_in_a_contest_is_another_one_from_there_on(opened: OpenStudy, clock: FakeClock) -> None:
    other = gone_through(opened, clock)
    alter_chair(other, "a newer kernel", clock.now())
    other.log(j.StepOpened("the sound"), clock.now())
    (view,) = contests(opened)
    assert contest_turns(view) == ["B, the chair was altered: a newer kernel; from then: the sound"]
