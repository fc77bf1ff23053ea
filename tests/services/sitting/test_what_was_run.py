"""What was run never changes: the chair of a sitting, its beginning, its ratings and its end."""

import json
from dataclasses import replace
from pathlib import Path

import pytest

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import FreshChairError, Refused
from fresh_chair.core.plan.people import Consent
from fresh_chair.core.plan.sheet import StudyQuestion
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.contradictions import outcome_contradictions
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.plan import people
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.report.outputs import write_export
from fresh_chair.services.sitting import corrections as correcting
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.preconditions import seating_objections
from fresh_chair.services.study.open_study import OpenStudy, open_study
from tests.builders import FakeClock


def one_done(opened: OpenStudy, clock: FakeClock, outcome: Outcome = Outcome.UNAIDED) -> LiveSitting:
    """A sitting whose first card took 20 s and was rated 5."""
    live = LiveSitting(opened, opened.study.seats[0])
    live.begin(clock.now())
    live.log(j.AttemptStarted(live.seat.cards[0]), clock.now())
    clock.pass_seconds(20)
    for content in (j.AttemptStopped(), j.OutcomeJudged(outcome), j.EaseRated(5)):
        live.log(content, clock.now())
    return live


def test_a_sitting_keeps_the_state_and_the_machine_its_chair_had(
    opened: OpenStudy, clock: FakeClock, tmp_path: Path
) -> None:
    live = one_done(opened, clock)
    letter, machine = live.seat.chair, opened.study.chair_by_letter[live.seat.chair].machine
    memory = opened.study.machine_of(opened.study.chair_by_letter[letter]).memory
    clock.pass_seconds(60)
    set_field(opened, f"chair.{letter}.state", "upgraded")
    set_field(opened, f"machine.{machine}.memory", "64 GiB")
    list(write_export(opened, tmp_path))
    exported = json.loads((tmp_path / "study.json").read_text(encoding="utf-8"))
    told = next(each for each in exported["sittings"] if each["number"] == live.seat.number)
    assert told["chair_state"]["chair"]["state"] == "fresh"
    assert told["chair_state"]["machine"]["memory"] == memory
    assert opened.study.chair_by_letter[letter].state == "upgraded"


def test_a_beginning_that_was_a_slip_is_taken_back_stays_on_record_and_is_counted_nowhere(
    opened: OpenStudy, clock: FakeClock
) -> None:
    live = LiveSitting(opened, opened.study.seats[0])
    live.begin(clock.now())
    with pytest.raises(Refused, match="needs a reason"):
        live.unbegin(" ", clock.now())
    live.unbegin("the wrong person", clock.now())
    number = live.seat.number
    assert live.state.phase is Phase.EMPTY
    assert opened.phase(number) is Phase.EMPTY
    assert [entry.content.kind for entry in opened.journals.all()[number]][-1] == "sitting_unbegun"
    assert weigh(opened).facts == ()
    assert number in {seat.number for seat in opened.to_run()}
    again = LiveSitting(opened, opened.study.seats[0])
    again.begin(clock.now())
    again.log(j.AttemptStarted(again.seat.cards[0]), clock.now())
    with pytest.raises(Refused):
        again.unbegin("too late", clock.now())
    assert check_file(opened.beside)[2].problems == ()


@pytest.mark.parametrize("later", [False, True], ids=["live", "days later"])
def test_a_rating_and_a_late_stop_are_corrected_with_a_reason(
    opened: OpenStudy, clock: FakeClock, *, later: bool
) -> None:
    live = one_done(opened, clock)
    if later:
        live.log(j.UsabilityDeclined(), clock.now()) if live.state.phase is Phase.USABILITY else None
        opened.close()
        opened = open_study(opened.beside)
        opened.clock = clock
        clock.pass_seconds(3 * 86_400)
        live = LiveSitting(opened, opened.study.seats[0])
    correcting.correct_ease(live, 1, 2, "heard wrong")
    correcting.move_stop(live, 1, *correcting.late_stop("-8 the hand was slow"))
    attempt = live.state.attempts[0]
    assert (attempt.ease, attempt.elapsed_ns()) == (2, 12 * SECOND)
    with pytest.raises(FreshChairError, match="reason"):
        correcting.correct_ease(live, 1, 3, "")
    (fact,) = weigh(opened).facts
    assert (fact.ease, fact.hands_seconds) == (2, 12)
    kinds = [entry.content.kind for entry in opened.journals.all()[live.seat.number]]
    assert kinds.count("ease_rated") == 1, "what was put down first stays"
    opened.close()


def test_completed_unaided_after_help_is_found_by_the_check(opened: OpenStudy, clock: FakeClock) -> None:
    live = LiveSitting(opened, opened.study.seats[0])
    live.begin(clock.now())
    live.log(j.AttemptStarted(live.seat.cards[0]), clock.now())
    for content in (j.Helped(), j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(5)):
        live.log(content, clock.now())
    assert outcome_contradictions(live.state.attempts[0]) == ["completed unaided, with 1 help that counted"]
    remarks = " ".join(remark for check in check_file(opened.beside) for remark in check.remarks)
    assert "completed unaided, with 1 help that counted" in remarks


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (j.QuestionAnswered("nobody-asks", 1, 3), "asks no question"),
        (j.QuestionAnswered("sure", 1, 9), "goes from 1 to 5"),
        (j.QuestionAnswered("sure", 0, 3), "is asked after each card"),
        (j.QuestionAnswered("sure", 1, None, "very"), "by a number"),
        (j.OutcomeTold(grade=7), "there is no number 7"),
        (j.OutcomeTold(why="not found"), "cannot be “not found”"),
    ],
)
def test_what_no_question_allows_and_no_card_lists_is_refused(
    opened: OpenStudy, clock: FakeClock, content: j.Content, said: str
) -> None:
    asked = StudyQuestion(id="sure", ask="How sure?", when="after each card", points=5)
    opened.amend(replace(opened.study, sheet=replace(opened.study.sheet, questions=(asked,))))
    live = one_done(opened, clock)
    count = len(live.entries)
    with pytest.raises(Refused, match=said):
        live.log(content, clock.now())
    assert len(opened.journals.all()[live.seat.number]) == count


def test_consents_are_dated_one_by_one_and_what_may_be_declined_is_never_taken_as_given(opened: OpenStudy) -> None:
    asked = (Consent(id="part", words="to take part"), Consent(id="again", words="to being asked", needed=False))
    opened.amend(replace(opened.study, sheet=replace(opened.study.sheet, consents=asked)))
    seat = opened.study.seats[0]
    assert "not agreed to yet: part" in seating_objections(opened, seat)
    people.agree(opened, "P01", ["part"])
    assert list(opened.study.person_by_code["P01"].consents) == ["part"]
    assert not any("agreed" in each for each in seating_objections(opened, seat))
    with pytest.raises(FreshChairError):
        people.agree(opened, "P01", ["nothing-like-it"])


def test_seating_somebody_out_of_their_order_or_who_left_is_said(opened: OpenStudy) -> None:
    first, second = (seat for seat in opened.study.seats if seat.participant == "P01")
    assert seating_objections(opened, first) == []
    assert seating_objections(opened, second) == [f"out of P01's order: {first.chair} comes first"]
    people.let_go(opened, "P01", "moved away")
    assert "P01 left" in seating_objections(opened, first)
