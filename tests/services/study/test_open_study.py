"""Use cases on real files."""

import time
from contextlib import closing
from dataclasses import replace
from pathlib import Path

import pytest

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.file.new_study import new_study
from fresh_chair.services.findings import sorting
from fresh_chair.services.findings.judging import judge_severity
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.plan.board import board, open_counts
from fresh_chair.services.plan.people import add_person
from fresh_chair.services.sitting.corrections import judge_again
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.recording import taken_up
from fresh_chair.services.sitting.view import look_back, sitting_view
from fresh_chair.services.study.open_study import OpenStudy, open_study
from tests.builders import FakeClock
from tests.damage import damaged, of_sitting


@pytest.fixture
def live(opened: OpenStudy) -> LiveSitting:
    sitting = LiveSitting(opened, opened.study.seats[0])
    sitting.begin(opened.clock.now())
    return sitting


def run_card(live: LiveSitting, clock: FakeClock, outcome: Outcome = Outcome.UNAIDED) -> None:
    assert live.state.card is not None
    live.log(j.AttemptStarted(live.state.card), clock.now())
    clock.pass_seconds(20)
    live.log(j.AttemptStopped(), clock.now())
    live.log(j.OutcomeJudged(outcome, "why"), clock.now())
    if outcome.counts:
        live.log(j.EaseRated(5), clock.now())


def reopened(opened: OpenStudy) -> OpenStudy:
    path = opened.beside
    opened.close()
    return open_study(path)


def test_what_is_shown_is_what_a_later_start_reads(opened: OpenStudy, live: LiveSitting, clock: FakeClock) -> None:
    run_card(live, clock)
    shown, state = list(live.entries), live.state
    again = reopened(opened)
    assert again.entries[live.seat.number] == shown
    assert again.sittings[live.seat.number] == state
    again.close()


def test_undo_is_an_entry_and_the_struck_one_stays_shown_as_struck(live: LiveSitting, clock: FakeClock) -> None:
    assert live.state.card is not None
    live.log(j.AttemptStarted(live.state.card), clock.now())
    live.toggle_wait(clock.now())
    struck = live.undo(clock.now())
    assert isinstance(struck.content, j.WaitBegan)
    assert not live.state.attempts[0].waiting
    assert [line.struck for line in live.lines(50)] == [False, False, False, True]
    assert len(live.entries) == 5


def test_there_is_nothing_to_take_back_before_the_first_card(live: LiveSitting, clock: FakeClock) -> None:
    with pytest.raises(Refused, match="nothing to undo"):
        live.undo(clock.now())


def test_nobody_else_sits_down_while_a_sitting_is_open(opened: OpenStudy, live: LiveSitting) -> None:
    with pytest.raises(Refused, match=f"Sitting {live.seat.number} is still open"):
        LiveSitting(opened, opened.study.seats[1]).begin(opened.clock.now())


def test_breaking_off_voids_what_was_running_and_says_why(
    opened: OpenStudy, live: LiveSitting, clock: FakeClock
) -> None:
    assert live.state.card is not None
    live.log(j.AttemptStarted(live.state.card), clock.now())
    live.break_off("fire alarm", clock.now())
    assert live.state.phase is Phase.BROKEN_OFF
    assert live.state.attempts[0].outcome is Outcome.VOID
    assert sitting_view(opened, live.seat.number).broken_reason == "fire alarm"


def test_after_a_crash_the_gap_runs_from_the_last_sign_of_life(
    opened: OpenStudy, live: LiveSitting, clock: FakeClock
) -> None:
    assert live.state.card is not None
    live.log(j.AttemptStarted(live.state.card), clock.now())
    clock.pass_seconds(40)
    live.beat(clock.now())
    again = reopened(opened)
    again.clock = clock
    clock.pass_seconds(300)
    resumed = LiveSitting(again, again.cut_short()[0])
    gap = resumed.interruption(clock.now())
    assert (gap.dead_ns, gap.running, gap.same_boot) == (300 * SECOND, True, True)
    resumed.resume(gap, j.Gap.ASIDE, clock.now())
    clock.pass_seconds(10)
    attempt = resumed.state.attempts[0]
    now = resumed.state.time_at(clock.now())
    assert attempt.lane_ns(Lane.HANDS, now) == 50 * SECOND
    assert attempt.lane_ns(Lane.ASIDE, now) == 300 * SECOND
    again.close()


def test_the_board_shows_each_sittings_place_state_and_outcomes(
    opened: OpenStudy, live: LiveSitting, clock: FakeClock
) -> None:
    run_card(live, clock, Outcome.HELPED)
    drawn = board(opened)
    (cell,) = drawn.cells[live.seat.participant, live.seat.chair]
    assert cell.phase is Phase.READING
    assert Outcome.HELPED in cell.strip
    assert sum(other.next_up for cells in drawn.cells.values() for other in cells) == 1
    counts = open_counts(opened)
    assert (counts.to_run, counts.empty_cells) == (3, 3)


def test_a_new_person_gets_a_seat_everywhere_and_changes_nobody_elses(opened: OpenStudy) -> None:
    before = opened.study.seats
    add_person(opened, "Q7")
    again = reopened(opened)
    assert again.study.seats[: len(before)] == before
    assert {seat.chair for seat in again.study.seats if seat.participant == "Q7"} == {"A", "B"}
    with pytest.raises(InputError, match="already"):
        add_person(again, "q7")
    again.close()


@pytest.mark.parametrize("code", ["[b]x[/b]", "\x1b[2J", "x" * 300, ""])
def test_a_hostile_code_is_refused_and_nobody_is_added(opened: OpenStudy, code: str) -> None:
    with pytest.raises(InputError):
        add_person(opened, code)
    assert len(opened.study.people) == 2


def test_sorting_is_kept(opened: OpenStudy, live: LiveSitting, clock: FakeClock) -> None:
    assert live.state.card is not None
    live.log(j.AttemptStarted(live.state.card), clock.now())
    snag = live.log(j.SnagSeen(), clock.now())
    sorting.word_mark(opened, sorted_findings_of(opened).loose[0], "menu hides")
    finding = sorting.open_finding(opened, "Menus hide", [f"mark:{snag.id}"])
    judge_severity(opened, finding, 3, "two gave up")
    again = reopened(opened)
    (view,) = sorted_findings_of(again).findings
    assert (view.title, view.severity, view.reason, view.observations[0].words) == (
        "Menus hide",
        3,
        "two gave up",
        "menu hides",
    )
    sorting.retitle(again, finding, "Menus hide themselves")
    sorting.part(again, finding, [f"mark:{snag.id}"])
    assert [loose.entry for loose in sorted_findings_of(again).loose] == [snag.id]
    sorting.join(again, finding, [f"mark:{snag.id}"])
    assert sorted_findings_of(again).findings[0].title == "Menus hide themselves"
    with pytest.raises(Refused, match="already"):
        sorting.join(again, finding, [f"mark:{snag.id}"])
    again.close()


def test_words_written_in_sort_show_in_the_journal_of_the_sitting_that_runs(
    opened: OpenStudy, live: LiveSitting, clock: FakeClock
) -> None:
    assert live.state.card is not None
    live.log(j.AttemptStarted(live.state.card), clock.now())
    live.log(j.SnagSeen(), clock.now())
    clock.pass_seconds(9)
    sorting.word_mark(opened, sorted_findings_of(opened).loose[0], "written elsewhere")
    live.log(j.Helped(), clock.now())
    assert [(line.at, line.text) for line in live.lines(9)][-2:] == [
        ("00:00", "snag: written elsewhere"),
        ("00:09", "helped"),
    ]


@pytest.mark.parametrize(("severity", "reason"), [(5, "x"), (-1, "x"), (2, "  ")])
def test_a_severity_needs_its_scale_and_a_reason(opened: OpenStudy, severity: int, reason: str) -> None:
    with pytest.raises(InputError):
        judge_severity(opened, "any", severity, reason)
    with pytest.raises(InputError):
        sorting.open_finding(opened, " ", ["s"])


def test_the_demo_is_a_study_in_progress(demo: OpenStudy) -> None:
    phases = [demo.phase(seat.number) for seat in demo.study.seats]
    assert (phases.count(Phase.ENDED), phases.count(Phase.BROKEN_OFF), phases.count(Phase.EMPTY)) == (20, 1, 6)
    facts = demo.facts()
    outcomes = {fact.outcome for fact in facts}
    assert {Outcome.UNAIDED, Outcome.HELPED, Outcome.GAVE_UP, Outcome.BLOCKED, Outcome.VOID} <= outcomes
    assert any(fact.said_done_was_not for fact in facts)
    assert any("unplugged" in fact.reason for fact in facts if fact.outcome is Outcome.VOID)
    kinds = {remark.kind for sitting in demo.sittings.values() for remark in sitting.remarks.values()}
    assert kinds == {"snag", "delight", "note", "quote"}
    assert sorted_findings_of(demo).loose


def test_a_whole_file_has_nothing_wrong_with_it(demo_path: Path) -> None:
    checks = check_file(demo_path)
    assert [check.what for check in checks] == ["file", "plan", "journals", "findings", "chairs", "files", "evidence"]
    assert not any(check.problems for check in checks)


@pytest.mark.parametrize(
    ("damage", "where", "said"),
    [
        (
            f"UPDATE entry SET kind='x', body='{{\"kind\":\"x\"}}' WHERE {of_sitting(3)} AND number=4",
            "journals",
            "Sitting 3, entry 4",
        ),
        (
            f"DELETE FROM entry WHERE {of_sitting(2)} AND number=9",
            "journals",
            "entry 9 is missing",
        ),
        (
            f"UPDATE entry SET ticks_ns=1 WHERE {of_sitting(5)} AND number=7",
            "journals",
            "Sitting 5, entry 7",
        ),
        ("DELETE FROM card WHERE id='dark-screen'", "plan", "names no card that is listed"),
        ("UPDATE seat SET participant='P99' WHERE number=1", "file", "points at a person"),
        ("DELETE FROM sort_entry WHERE number=2", "findings", "entry 2 is missing"),
    ],
)
def test_check_finds_what_was_done_to_a_file_and_where(demo_path: Path, damage: str, where: str, said: str) -> None:
    damaged(demo_path, damage)
    problems = {check.what: " ".join(check.problems) for check in check_file(demo_path)}
    assert said in problems[where]


def test_a_finding_whose_snag_is_in_no_journal_is_found(opened: OpenStudy) -> None:
    sorting.open_finding(opened, "a ghost", ["mark:no-such-snag"])
    path = opened.beside
    opened.close()
    assert any("no journal has" in problem for check in check_file(path) for problem in check.problems)


def test_a_sitting_looked_back_at_shows_every_line(demo: OpenStudy) -> None:
    lines = look_back(demo, 1)
    assert lines[0].text == "sat down"
    assert lines[-1].text == "got up"
    assert look_back(demo, 23) == []


def test_a_study_without_an_outline_is_empty_and_named_by_its_file(tmp_path: Path) -> None:
    study = new_study(tmp_path / "autumn.fresh")
    assert (study.title, study.seats) == ("autumn", ())
    wrong = tmp_path / "plan.toml"
    wrong.write_bytes(b"\xff\xfe")
    with pytest.raises(Exception, match="not UTF-8"):
        new_study(tmp_path / "x.fresh", outline=wrong)
    with pytest.raises(Exception, match="cannot be read"):
        new_study(tmp_path / "x.fresh", outline=tmp_path / "nowhere.toml")


def test_figures_are_computed_once_for_a_state_and_anew_for_the_next(demo: OpenStudy) -> None:
    first = weigh(demo)
    assert weigh(demo).comparisons is first.comparisons
    assert weigh(demo).overall is first.overall
    assert demo.facts() is demo.facts()
    seat = demo.to_run()[0]
    live = LiveSitting(demo, seat)
    live.begin(demo.clock.now())
    second = weigh(demo)
    assert second.comparisons is not first.comparisons
    demo.study = replace(demo.study, title="another plan")
    assert weigh(demo).comparisons is not second.comparisons
    live.break_off("the wrong person", demo.clock.now())
    before = demo.facts()
    judged = before[0]
    judge_again(taken_up(demo, judged.sitting), judged.attempt, Outcome.BLOCKED, "it was the machine")
    changed = [
        fact.outcome for fact in demo.facts() if (fact.sitting, fact.attempt) == (judged.sitting, judged.attempt)
    ]
    assert changed == [Outcome.BLOCKED]
    assert demo.facts() is not before


def test_rows_that_cannot_be_used_stand_aside_and_are_told_in_a_line_each(demo_path: Path) -> None:
    with closing(open_study(demo_path, write=False)) as before:
        whole = {number: list(entries) for number, entries in before.entries.items()}
        looks = len(before.fixture_checks)
    damaged(
        demo_path,
        "INSERT INTO entry (study, sitting, number, id, kind, version, ticks_ns, boot, wall_ns, author, body) SELECT "
        "study, sitting, 1999999, 'far', kind, version, ticks_ns, boot, wall_ns, author, body FROM entry "
        f"WHERE {of_sitting(3)} AND number=4",
        "UPDATE hunch SET severity=999 WHERE rowid=(SELECT min(rowid) FROM hunch)",
        "UPDATE fixture_check SET presence='perhaps' WHERE number=1",
    )
    begun = time.process_time()
    (rows,) = (check for check in check_file(demo_path) if check.what == "rows")
    # Two million numbers are one line, and no work.
    assert time.process_time() - begun < 30
    last = len(whole[3])
    assert rows.problems[0] == f"Sitting 3: entries {last + 1:,} to 1,999,998 are missing; 1 entry behind stands aside"
    assert len(rows.problems) == 3
    assert "a hunch that cannot be used" in rows.problems[1]
    assert "a look at the bench that cannot be used" in rows.problems[2]
    with closing(open_study(demo_path, write=False)) as opened:
        assert {number: list(entries) for number, entries in opened.entries.items()} == whole
        assert len(opened.fixture_checks) == looks - 1
