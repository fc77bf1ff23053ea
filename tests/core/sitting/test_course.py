"""What is left running, tried again, split and joined; and a second observer's marks beside the moderator's."""

import pytest

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import JournalError, Refused
from fresh_chair.core.figures.facts import facts_of
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.sitting.replay import advance, replay
from fresh_chair.core.sitting.state.attempt import Attempt
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import QuestionAnswer
from tests.builders import FakeClock, Script, small_study

CARDS = ("card-1", "card-2")


def lanes(attempt: Attempt) -> list[int]:
    """Hands, wait and aside in seconds."""
    return [attempt.lane_ns(lane) // SECOND for lane in Lane]


def overlapped() -> Script:
    """An installation is left running for 60 s, the next card is done meanwhile, then it is taken up again."""
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    script.at(10, j.LeftRunning())
    script.at(5, j.AttemptStarted("card-2"))
    script.at(20, j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(6))
    script.at(15, j.LeftReady(1))
    script.at(20, j.TakenUp(1))
    script.at(7, j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(5))
    return script


def test_what_is_left_running_is_the_machines_time_until_it_is_ready_and_the_persons_when_they_are_back() -> None:
    sitting = replay(1, CARDS, overlapped().entries)
    first, second = sitting.attempts
    assert lanes(first) == [17, 40, 20]
    assert lanes(second) == [20, 0, 0]
    assert (first.elapsed_ns(), second.elapsed_ns()) == (77 * SECOND, 20 * SECOND)
    assert first.left_ns == 60 * SECOND
    assert sitting.phase is Phase.USABILITY


def test_a_sitting_waits_for_what_was_left_running_when_no_card_is_left() -> None:
    sitting = replay(1, CARDS, overlapped().entries[:8])
    assert sitting.phase is Phase.LEFT_RUNNING
    with pytest.raises(Refused, match="while the sitting is at"):
        advance(sitting, Entry("x", 9, FakeClock(10**15).now(), "moderator", j.UsabilityDeclined()))


def test_marks_go_to_the_attempt_in_hand_while_another_one_runs() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    script.at(10, j.LeftRunning(), j.AttemptStarted("card-2"))
    script.at(3, j.Helped(), j.SnagSeen("slow"), j.WaitBegan())
    first, second = replay(1, CARDS, script.entries).attempts
    assert (len(first.helps), len(second.helps), second.snags, second.waiting) == (0, 1, 1, True)


def test_coming_back_before_it_was_said_to_be_ready_ends_its_wait() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    script.at(10, j.WaitBegan(), j.WaitTold("silent"))
    script.at(5, j.LeftRunning())
    script.at(30, j.TakenUp(1))
    script.at(4, j.AttemptStopped())
    attempt = replay(1, CARDS, script.entries).attempts[0]
    assert lanes(attempt) == [14, 35, 0]
    assert attempt.longest_silent_ns == 35 * SECOND


def test_restarts_and_logins_are_counted_inside_the_task() -> None:
    study = small_study()
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    script.at(4, j.Marked("restart"), j.WaitBegan())
    script.at(30, j.WaitEnded(), j.Marked("new login"))
    script.at(5, j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED))
    fact = facts_of(study, {1: replay(1, CARDS, script.entries)})[0]
    assert (fact.restarts, fact.new_logins, fact.elapsed_seconds, fact.wait_seconds) == (1, 1, 39, 30)


def tried_twice() -> Script:
    """A first try that was void, and a second one."""
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    script.at(10, j.AttemptStopped(), j.OutcomeJudged(Outcome.VOID, "no network"))
    script.at(5, j.CardReopened("card-1", "the network is back"))
    script.at(5, j.AttemptStarted("card-1"))
    script.at(8, j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(6))
    return script


def test_a_card_that_is_tried_again_comes_before_the_next_one_and_a_void_try_is_no_first_one() -> None:
    sitting = replay(1, CARDS, tried_twice().entries)
    facts = facts_of(small_study(), {1: sitting})
    assert [(fact.outcome, fact.first_try) for fact in facts] == [(Outcome.VOID, True), (Outcome.UNAIDED, True)]
    assert sitting.card == "card-2"


def test_a_second_try_of_a_counted_attempt_stays_apart() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    script.at(9, j.AttemptStopped(), j.OutcomeJudged(Outcome.GAVE_UP), j.EaseRated(1))
    script.at(1, j.CardReopened("card-1", "asked for another go"), j.AttemptStarted("card-1"))
    script.at(9, j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(6))
    facts = facts_of(small_study(), {1: replay(1, CARDS, script.entries)})
    assert [fact.first_try for fact in facts] == [True, False]


def two_in_one() -> Script:
    """One attempt that was two cards: 20 s each, a wait across the seam, a snag and a help in each half."""
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    script.at(5, j.SnagSeen("early"), j.Helped(), j.Marked("hesitates"), j.StepReached(1))
    script.at(10, j.WaitBegan())
    script.at(10, j.WaitEnded())
    script.at(5, j.SnagSeen("late"), j.Helped(), j.WrongPlace(), j.SpotVisited("Files"), j.SaidDone())
    script.at(10, j.AttemptStopped(), j.OutcomeJudged(Outcome.HELPED), j.EaseRated(4))
    return script


def test_splitting_an_attempt_parts_its_time_and_its_marks_at_that_moment() -> None:
    script = two_in_one()
    script.at(60, j.AttemptSplit(1, 20, Outcome.UNAIDED, "card-2", "the second card was begun without a key"))
    sitting = replay(1, CARDS, script.entries)
    first, second = sitting.tried
    assert (lanes(first), lanes(second)) == ([15, 5, 0], [15, 5, 0])
    assert (first.outcome, second.outcome, first.ease, second.ease) == (Outcome.UNAIDED, Outcome.HELPED, None, 4)
    assert (first.snags, first.helped, first.wrong_places, first.said_done, first.steps) == (1, 1, 0, False, {1})
    assert (second.snags, second.helped, second.wrong_places, second.said_done) == (1, 1, 1, True)
    assert (first.marks, second.marks, second.spots) == ({"hesitates": 1}, {}, ["Files"])
    assert [remark.attempt for remark in sitting.remarks.values()] == [first.number, second.number]
    assert sitting.card is None


def test_joining_what_was_split_gives_the_whole_again() -> None:
    script = two_in_one()
    whole = replay(1, CARDS, script.entries).attempts[0]
    script.at(60, j.AttemptSplit(1, 20, Outcome.UNAIDED, "card-2", "a slip"))
    script.at(1, j.AttemptsJoined(1, 2, "it was one after all"))
    sitting = replay(1, CARDS, script.entries)
    (again,) = sitting.tried
    assert (lanes(again), again.elapsed_ns()) == (lanes(whole), whole.elapsed_ns())
    assert (again.snags, again.helps.keys(), again.marks) == (whole.snags, whole.helps.keys(), whole.marks)
    assert (again.outcome, again.ease, sitting.card) == (whole.outcome, whole.ease, "card-2")


def test_what_is_told_of_an_ending_is_that_of_the_later_part_once_two_are_one() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    script.at(10, j.AttemptStopped(), j.OutcomeJudged(Outcome.PARTLY), j.OutcomeTold(grade=1, route="another"))
    script.at(0, j.EaseRated(2), j.AttemptStarted("card-2"))
    script.at(10, j.AttemptStopped(), j.OutcomeJudged(Outcome.PARTLY), j.OutcomeTold(grade=3, why="not found"))
    script.at(0, j.EaseRated(2), j.AttemptsJoined(1, 2, "it was one"))
    (attempt,) = replay(1, CARDS, script.entries).tried
    assert (attempt.grade, attempt.route, attempt.why) == (3, "", "not found")


def test_the_time_between_two_joined_attempts_is_aside() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    script.at(10, j.AttemptStopped(), j.OutcomeJudged(Outcome.GAVE_UP), j.EaseRated(2))
    script.at(30, j.AttemptStarted("card-2"))
    script.at(10, j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(5))
    script.at(1, j.AttemptsJoined(1, 2, "stopped by mistake"))
    sitting = replay(1, CARDS, script.entries)
    (attempt,) = sitting.tried
    assert (lanes(attempt), attempt.card, attempt.outcome) == ([20, 0, 30], "card-1", Outcome.UNAIDED)
    assert sitting.card == "card-2", "which was never tried"


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (j.AttemptSplit(1, 200, Outcome.PARTLY, "card-2", "why"), "did not run at that moment"),
        (j.AttemptSplit(9, 20, Outcome.PARTLY, "card-2", "why"), "no such attempt"),
        (j.AttemptSplit(1, 20, Outcome.PARTLY, "card-9", "why"), "not in this sitting"),
        (j.AttemptsJoined(1, 1, "why"), "began after the other"),
        (j.CardReopened("card-2", "why"), "done or passed over"),
        (j.LeftReady(1), "left running"),
        (j.TakenUp(1), "left running"),
        (j.BenchmarkRefused(7, "why"), "no such attempt"),
        (j.QuestionAnswered("q", 9, 3), "no such attempt"),
    ],
)
def test_what_cannot_be_is_refused_in_a_sentence(content: j.Content, said: str) -> None:
    script = two_in_one()
    script.at(1, content)
    with pytest.raises(JournalError, match=said):
        replay(1, CARDS, script.entries)


def test_what_is_asked_besides_is_kept_where_it_was_asked() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.ExpectationGiven("card-1", 6), j.AttemptStarted("card-1"))
    script.at(9, j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(3))
    script.at(1, j.QuestionAnswered("trust", 1, 4), j.QuestionAnswered("why", 0, None, "it asked too much"))
    script.at(1, j.PreferenceGiven(("B", "A"), "quicker"))
    sitting = replay(1, CARDS, script.entries)
    assert sitting.attempts[0].expectation == 6
    assert sitting.asked == {("trust", 1): QuestionAnswer(4, ""), ("why", 0): QuestionAnswer(None, "it asked too much")}
    assert (sitting.preference, sitting.preference_words) == (("B", "A"), "quicker")


def test_where_so_much_hands_time_stands_on_the_line_is_pushed_on_by_the_other_lanes() -> None:
    script = Script()
    script.at(0, j.SittingBegan())
    script.at(5, j.AttemptStarted("card-1"))
    script.at(10, j.WaitBegan())
    script.at(20, j.WaitEnded())
    script.at(10, j.AttemptStopped())
    (attempt,) = replay(1, CARDS, script.entries).attempts
    assert attempt.line_ns(60 * SECOND) == (5 + 20 + 60) * SECOND


def test_nothing_is_added_late_after_the_sitting_had_ended() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    script.at(10, j.AttemptStopped(), j.OutcomeJudged(Outcome.GAVE_UP), j.EaseRated(2))
    script.at(0, j.SittingBrokenOff("the lamp went out"))
    script.at(500, j.AddedLate("note", 9.0, "a word", "no hand was free"))
    sitting = replay(1, CARDS, script.entries)
    assert [remark.words for remark in sitting.remarks.values()] == ["a word"]
    with pytest.raises(Refused, match="had not come that far"):
        advance(sitting, Entry("x", 8, script.clock.now(), "moderator", j.AddedLate("note", 30.0, "w", "why")))
