"""Entries about the course of a sitting: left running, tried again, split, joined; recordings and observers."""

from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Ge, Gt, Le, MaxLen, MinLen

from fresh_chair.core.plan.sheet import MOST_POINTS
from fresh_chair.core.sitting.marks import Place, Typed
from fresh_chair.core.sitting.outcome import Outcome

# Longer than any sitting or recording of one.
MOST_SECONDS = 200_000
Seconds = Annotated[float, Ge(0), Le(MOST_SECONDS)]
Reason = Annotated[Typed, MinLen(1)]


@dataclass(frozen=True, slots=True)
class LeftRunning:
    """The machine works on for the card in hand, and the next card is read meanwhile."""

    kind: Literal["left_running"] = "left_running"


@dataclass(frozen=True, slots=True)
class LeftReady:
    """The machine has ended its work on an attempt that was left running; it is not taken up yet."""

    attempt: Place
    kind: Literal["left_ready"] = "left_ready"


@dataclass(frozen=True, slots=True)
class TakenUp:
    """The person has come back to an attempt that was left running."""

    attempt: Place
    kind: Literal["taken_up"] = "taken_up"


@dataclass(frozen=True, slots=True)
class CardReopened:
    """A card that was done is to be tried again in this sitting, with why; first and later tries stay apart."""

    card: str
    reason: Reason
    kind: Literal["card_reopened"] = "card_reopened"


@dataclass(frozen=True, slots=True)
class AttemptSplit:
    """A correction: one attempt was two.

    Args:
        attempt: Its number; the first part keeps it.
        at_seconds: Where the first part ended, since the sitting began.
        outcome: How the first part ended; the second part keeps how the whole was judged.
        card: What the second part was a go at.
    """

    attempt: Place
    at_seconds: Seconds
    outcome: Outcome
    card: str
    reason: Reason
    kind: Literal["attempt_split"] = "attempt_split"


@dataclass(frozen=True, slots=True)
class AttemptsJoined:
    """A correction: two attempts were one, which ended as the later one did; the time between them is aside."""

    attempt: Place
    later: Place
    reason: Reason
    kind: Literal["attempts_joined"] = "attempts_joined"


@dataclass(frozen=True, slots=True)
class BenchmarkRefused:
    """An expert's attempt is not to count for the benchmark, with why."""

    attempt: Place
    reason: Reason
    kind: Literal["benchmark_refused"] = "benchmark_refused"


@dataclass(frozen=True, slots=True)
class RecordingOpened:
    """The sitting is logged from a recording.

    Args:
        file: Where the recording lies, as it was said.
        offset_seconds: Where in the recording the sitting begins.
    """

    file: Typed
    offset_seconds: Seconds = 0.0
    kind: Literal["recording_opened"] = "recording_opened"


@dataclass(frozen=True, slots=True)
class ObserverJoined:
    """The author of this entry watches beside the moderator; from here on their marks stay apart from the counts."""

    kind: Literal["observer_joined"] = "observer_joined"


@dataclass(frozen=True, slots=True)
class ExpectationGiven:
    """How easy the person expects a card to be, before the clock starts: 1 to 7, None where it was not answered."""

    card: str
    score: Annotated[int, Ge(1), Le(7)] | None
    kind: Literal["expectation_given"] = "expectation_given"


@dataclass(frozen=True, slots=True)
class QuestionAnswered:
    """An answer to one of the study's own questions.

    Args:
        question: Its id.
        attempt: The attempt it was asked after; 0 where it is of the whole sitting.
        score: For a scale, None where it was left out.
        words: For a choice or free words; empty where it was left out.
    """

    question: str
    attempt: Annotated[int, Ge(0), Le(99)] = 0
    score: Annotated[int, Ge(0), Le(MOST_POINTS)] | None = None
    words: Typed = ""
    kind: Literal["question_answered"] = "question_answered"


@dataclass(frozen=True, slots=True)
class PreferenceGiven:
    """Which chair the person would rather have, the best first; empty where they would not say.

    Args:
        order: Letters of chairs.
        words: Why.
    """

    order: tuple[str, ...]
    words: Typed = ""
    kind: Literal["preference_given"] = "preference_given"


@dataclass(frozen=True, slots=True)
class SittingUnbegun:
    """A correction: the sitting began by mistake, and nothing was started; it is to come again."""

    reason: Reason
    kind: Literal["sitting_unbegun"] = "sitting_unbegun"


@dataclass(frozen=True, slots=True)
class RatingCorrected:
    """A correction: an answer was given otherwise than it was put down, with why.

    Args:
        attempt: Which attempt it is of; 0 where it is of the whole sitting.
        item: Which statement of the usability scale.
        question: Which of the study's own questions.
        score: What it is now; None where it was left out, or is in words.
    """

    what: Literal["ease", "expectation", "usability", "question"]
    reason: Reason
    attempt: Annotated[int, Ge(0), Le(99)] = 0
    item: Annotated[int, Ge(0), Le(10)] = 0
    question: Annotated[str, MaxLen(40)] = ""
    score: Annotated[int, Ge(0), Le(MOST_POINTS)] | None = None
    words: Typed = ""
    kind: Literal["rating_corrected"] = "rating_corrected"


@dataclass(frozen=True, slots=True)
class StopMoved:
    """A correction: an attempt's clock was stopped too late; the time since counts in no lane.

    Args:
        seconds_earlier: By how much.
    """

    attempt: Place
    seconds_earlier: Annotated[float, Gt(0), Le(3600)]
    reason: Reason
    kind: Literal["stop_moved"] = "stop_moved"
