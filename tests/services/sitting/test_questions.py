"""What is asked of people, in which order, and what is never asked of an expert."""

from dataclasses import replace

import pytest

from fresh_chair.core.plan.sheet import StudyQuestion
from fresh_chair.core.plan.study import Seat
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.questions import NextQuestion, answered, next_ask
from fresh_chair.services.study.open_study import OpenStudy
from tests.builders import FakeClock


def through_cards(opened: OpenStudy, clock: FakeClock, seat: Seat) -> LiveSitting:
    """A sitting in which every card and the usability scale are done."""
    live = LiveSitting(opened, seat)
    live.begin(clock.now())
    for card in seat.cards:
        live.log(j.AttemptStarted(card), clock.now())
        clock.pass_seconds(5)
        for content in (j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(5)):
            live.log(content, clock.now())
    live.log(j.UsabilityDeclined(), clock.now())
    return live


def seats_of(opened: OpenStudy, code: str) -> list[Seat]:
    return [seat for seat in opened.study.seats if seat.participant == code]


def asking(opened: OpenStudy, *questions: StudyQuestion, preference: bool = False, role: str = "participant") -> None:
    """Let the study ask these."""
    sheet = replace(opened.study.sheet, questions=questions, ask_preference=preference)
    first, *others = opened.study.people
    opened.amend(replace(opened.study, sheet=sheet, people=(replace(first, role=role), *others)))  # type: ignore[arg-type]


def test_which_chair_somebody_would_rather_have_is_asked_with_their_last_one(
    opened: OpenStudy, clock: FakeClock
) -> None:
    asking(opened, preference=True)
    first, second = seats_of(opened, "P01")
    live = through_cards(opened, clock, first)
    assert next_ask(live) is None
    live.log(j.SittingEnded(), clock.now())
    live = through_cards(opened, clock, second)
    ask = next_ask(live)
    assert ask is not None
    assert [words for _, words in ask.answers] == ["A ChairA 1", "B ChairB 1"]
    why = answered(live, ask, "2", clock.now())
    assert isinstance(why, NextQuestion)
    assert why.free
    # Nothing is on record before the whole answer is.
    assert not any(isinstance(entry.content, j.PreferenceGiven) for entry in live.entries)
    assert answered(live, why, "it waits for me", clock.now()) is None
    assert (live.state.preference, live.state.preference_words) == (("B", "A"), "it waits for me")
    assert next_ask(live) is None


def test_whoever_does_not_say_which_chair_is_on_record_as_that(opened: OpenStudy, clock: FakeClock) -> None:
    asking(opened, preference=True)
    first, second = seats_of(opened, "P01")
    through_cards(opened, clock, first).log(j.SittingEnded(), clock.now())
    live = through_cards(opened, clock, second)
    ask = next_ask(live)
    assert ask is not None
    answered(live, ask, "-", clock.now())
    assert live.state.preference == ()
    assert next_ask(live) is None


def test_of_a_person_who_sat_at_one_chair_alone_no_preference_is_asked(opened: OpenStudy, clock: FakeClock) -> None:
    asking(opened, preference=True)
    first, second = seats_of(opened, "P01")
    live = LiveSitting(opened, first)
    live.begin(clock.now())
    live.break_off("called away", clock.now())
    assert next_ask(through_cards(opened, clock, second)) is None


def test_an_expert_is_asked_ease_and_nothing_of_the_studys_own(opened: OpenStudy, clock: FakeClock) -> None:
    question = StudyQuestion(id="sure", ask="How sure?", when="after each card")
    asking(opened, question, StudyQuestion(id="end", ask="And?"), preference=True, role="expert")
    live = through_cards(opened, clock, seats_of(opened, "P01")[0])
    assert live.state.asked == {}
    assert next_ask(live) is None


@pytest.mark.parametrize(
    ("question", "key", "score", "words"),
    [
        (StudyQuestion(id="q", ask="How sure?", low="not", high="very"), "3", 3, ""),
        (StudyQuestion(id="q", ask="How sure?"), "-", None, ""),
        (StudyQuestion(id="q", ask="Take it?", kind="choice", choices=("yes", "no")), "2", None, "no"),
        (StudyQuestion(id="q", ask="Take it?", kind="choice", choices=("yes", "no")), "-", None, ""),
        (StudyQuestion(id="q", ask="Missed?", kind="words"), " a bin ", None, "a bin"),
        (StudyQuestion(id="q", ask="Missed?", kind="words"), "-", None, ""),
    ],
)
def test_each_kind_of_question_is_answered_or_left_out(
    opened: OpenStudy, clock: FakeClock, question: StudyQuestion, key: str, score: int | None, words: str
) -> None:
    asking(opened, question)
    live = through_cards(opened, clock, seats_of(opened, "P01")[0])
    ask = next_ask(live)
    assert ask is not None
    assert answered(live, ask, key, clock.now()) is None
    given = live.state.asked["q", 0]
    assert (given.score, given.words) == (score, words)
    assert next_ask(live) is None
