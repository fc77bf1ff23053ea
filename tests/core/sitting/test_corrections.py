"""What a correction or an answer may say, and what it leaves as it was."""

from dataclasses import replace

import pytest

from fresh_chair.core.codec import Unreadable
from fresh_chair.core.errors import JournalError, Refused
from fresh_chair.core.plan.sheet import StudyQuestion
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.contradictions import impossible, outcome_contradictions
from fresh_chair.core.sitting.replay import advance, replay
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.sitting.text.lines import lines_of
from fresh_chair.core.sitting.text.typed_lines import read_lines
from tests.builders import Script, small_study

CARDS = ("card-1", "card-2")


def two_attempts() -> Script:
    """Both cards done: the first with an ease of 5, the second with one of 6; then the usability scale."""
    script = Script()
    script.at(0, j.SittingBegan())
    for card, ease in zip(CARDS, (5, 6), strict=True):
        script.at(1, j.AttemptStarted(card))
        script.at(9, j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(ease))
    return script


def of(script: Script) -> Sitting:
    return replay(1, CARDS, script.entries)


def refused(script: Script, content: j.Content) -> str:
    sitting = of(script)
    script.at(1, content)
    with pytest.raises(Refused) as problem:
        advance(sitting, script.entries[-1])
    return problem.value.title


@pytest.mark.parametrize(
    "given",
    [
        j.RatingCorrected("usability", "misheard", item=1, score=6),
        j.RatingCorrected("usability", "misheard", item=2, score=3),
        j.RatingCorrected("question", "misheard", question="trust", score=3),
        j.RatingCorrected("question", "misheard", question="sure", attempt=1, score=3),
        j.RatingCorrected("ease", "misheard", attempt=1, score=8),
        j.RatingCorrected("ease", "misheard", attempt=3, score=5),
        j.RatingCorrected("expectation", "misheard", attempt=0, score=5),
    ],
)
def test_an_answer_that_was_never_given_or_is_off_its_scale_cannot_be_corrected(given: j.RatingCorrected) -> None:
    script = two_attempts()
    script.at(1, j.UsabilityAnswered(1, 4), j.QuestionAnswered("sure", 0, 4))
    assert refused(script, given).startswith("There is no such answer to correct")


def test_answers_that_were_given_are_corrected_each_in_its_place() -> None:
    script = two_attempts()
    script.at(1, j.UsabilityAnswered(1, 4), j.QuestionAnswered("sure", 0, 4))
    script.at(
        1,
        j.RatingCorrected("usability", "misheard", item=1, score=5),
        j.RatingCorrected("question", "misheard", question="sure", score=2),
        j.RatingCorrected("ease", "misheard", attempt=1, score=None),
        j.RatingCorrected("expectation", "misheard", attempt=2, score=7),
    )
    sitting = of(script)
    assert (sitting.usability[1], sitting.asked["sure", 0].score) == (5, 2)
    assert [(attempt.ease, attempt.expectation) for attempt in sitting.attempts] == [(None, None), (6, 7)]


def test_judging_otherwise_changes_that_attempt_and_no_other() -> None:
    script = two_attempts()
    script.at(1, j.OutcomeCorrected(1, Outcome.HELPED, "the hint was heard"))
    assert [(a.outcome, a.reason) for a in of(script).attempts] == [
        *((Outcome.HELPED, "the hint was heard"), (Outcome.UNAIDED, ""))
    ]


def test_more_about_an_ending_is_added_to_what_was_said_before() -> None:
    script = two_attempts()
    script.at(1, j.OutcomeTold(route="another"))
    script.at(1, j.OutcomeTold(grade=2))
    script.at(1, j.OutcomeTold(why="not there"))
    attempt = of(script).attempts[1]
    assert (attempt.route, attempt.grade, attempt.why) == ("another", 2, "not there")


def test_after_joining_the_last_attempt_what_is_told_goes_to_the_joined_one() -> None:
    script = two_attempts()
    script.at(1, j.AttemptsJoined(1, 2, "one go"), j.OutcomeTold(route="expected"))
    sitting = of(script)
    assert [attempt.number for attempt in sitting.tried] == [1]
    assert sitting.attempts[0].route == "expected"
    earlier = Script()
    earlier.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    earlier.at(5, j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(5), j.CardReopened("card-1", "x"))
    earlier.at(1, j.AttemptStarted("card-1"))
    earlier.at(5, j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(5), j.AttemptStarted("card-2"))
    earlier.at(1, j.AttemptsJoined(1, 2, "one go"), j.WaitBegan())
    assert of(earlier).attempts[2].waiting


def test_a_strike_of_nothing_is_refused_once_and_left_out_ever_after() -> None:
    script = two_attempts()
    strike = script.at(1, j.Struck("nothing", "why"))
    with pytest.raises(JournalError, match="strikes what is not there"):
        of(script)
    kept = replay(1, CARDS, script.entries, aside=[strike])
    assert set(kept.left_out) == {strike}
    with pytest.raises(JournalError, match="strikes what is not there"):
        replay(1, CARDS, script.entries, aside=["another"])


def test_what_was_left_running_is_not_guessed_at_where_there_are_two() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"), j.LeftRunning())
    script.at(1, j.AttemptStarted("card-2"), j.LeftRunning())
    script.at(1, Unreadable("taken_up", "damaged"))
    assert of(script).left == [1, 2]
    script.entries[-1] = replace(script.entries[-1], content=Unreadable("taken_up", "damaged", attempt=2))
    assert of(script).left == [1]
    one = Script()
    one.at(0, j.SittingBegan(), j.AttemptStarted("card-1"), j.LeftRunning(), Unreadable("taken_up", "damaged"))
    assert of(one).left == []


def test_only_an_outcome_that_counts_is_held_against_its_marks() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"), j.Helped())
    script.at(1, j.AttemptStopped(), j.OutcomeJudged(Outcome.VOID, "the machine froze"))
    assert outcome_contradictions(of(script).attempts[0]) == []
    script.at(1, j.OutcomeCorrected(1, Outcome.UNAIDED, "it had not frozen"))
    assert outcome_contradictions(of(script).attempts[0]) == ["completed unaided, with 1 help that counted"]


QUESTIONS = (
    StudyQuestion(id="sure", ask="How sure?", when="after the sitting", low="not", high="very", points=5),
    StudyQuestion(id="which", ask="Which?", when="after the sitting", kind="choice", choices=("this", "that")),
    StudyQuestion(id="why", ask="Why?", when="after the sitting", kind="words"),
)


@pytest.mark.parametrize(
    ("content", "problem"),
    [
        (j.QuestionAnswered("sure", 0, 5), ""),
        (j.QuestionAnswered("sure", 0, None), ""),
        (j.QuestionAnswered("sure", 0, 6), "goes from 1 to 5"),
        (j.QuestionAnswered("sure", 0, 0), "goes from 1 to 5"),
        (j.QuestionAnswered("which", words="this"), ""),
        (j.QuestionAnswered("which"), ""),
        (j.QuestionAnswered("which", words="neither"), "none of the choices"),
        (j.QuestionAnswered("why", words="anything at all"), ""),
        (j.QuestionAnswered("why", 0, 3), "answered in words"),
    ],
)
def test_an_answer_is_one_that_its_question_allows(content: j.Content, problem: str) -> None:
    study = small_study()
    asking = replace(study, sheet=replace(study.sheet, questions=QUESTIONS))
    said = impossible(asking, of(two_attempts()), content)
    assert problem in said
    assert bool(said) is bool(problem)


@pytest.mark.parametrize(
    ("content", "line"),
    [
        (j.QuestionAnswered("sure", 0, 4), "answer sure: 4"),
        (j.QuestionAnswered("sure", 2, None), "answer sure of 2: -"),
        (j.QuestionAnswered("why", words="too small"), "answer why: too small"),
        (j.QuestionAnswered("why", words="12"), "entry {"),
        (j.QuestionAnswered("why", 0, 3, "and words"), "entry {"),
        (j.QuestionAnswered("An odd name", words="x"), "entry {"),
    ],
)
def test_an_answer_is_written_in_words_where_it_can_be_read_back_so(content: j.Content, line: str) -> None:
    script = two_attempts()
    script.at(1, content)
    text = lines_of(script.entries)
    assert line in text
    assert [timed.content for timed in read_lines(text, name="x")][-1] == content


def test_a_text_that_is_not_ours_is_taken_as_typed_by_hand_wherever_the_head_stands() -> None:
    typed = "0:00 sat down\n0:05 start card-1\n0:10 restart\n0:15 stop\n"
    assert "wait_began" in [timed.content.kind for timed in read_lines(typed, name="x")]
    assert "wait_began" not in [
        timed.content.kind for timed in read_lines(f"# fresh-chair sitting 1\n{typed}", name="x")
    ]
    late = f"{typed}# fresh-chair sitting 1\n"
    assert "wait_began" in [timed.content.kind for timed in read_lines(late, name="x")]
