"""Marks of a sitting with more than a kind, and entries that tell more of an earlier one."""

from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Ge, Le, MaxLen

from fresh_chair.core.sitting.outcome import Outcome

MAX_WORDS = 2000
Typed = Annotated[str, MaxLen(MAX_WORDS)]
Place = Annotated[int, Ge(1), Le(99)]
Severity = Annotated[int, Ge(0), Le(4)]
WaitKind = Literal["shown progress", "silent", "believed frozen"]
HelpLevel = Literal["repeated the card", "encouraged", "hinted", "showed"]
MarkName = Literal["hesitates", "tries again", "no reaction", "misled", "restart", "new login"]
Route = Literal["", "expected", "another", "only with a workaround"]
GaveUpWhy = Literal["", "not found", "not there"]
LateMark = Literal[
    "snag", "delight", "note", "quote", "warning", "question", "helped", "wrong_place", "said_done",
    "hesitates", "tries again", "no reaction", "misled", "restart", "new login",
]  # fmt: skip
ChairSays = Literal["confirmed", "contradicted", "cannot tell", "was so before"]


@dataclass(frozen=True, slots=True)
class WaitTold:
    """How the wait that runs looks to the person; it counts for the whole wait."""

    how: WaitKind
    kind: Literal["wait_told"] = "wait_told"


@dataclass(frozen=True, slots=True)
class HelpTold:
    """How much help an earlier help was."""

    entry: str
    level: HelpLevel
    kind: Literal["help_told"] = "help_told"


@dataclass(frozen=True, slots=True)
class Marked:
    """Something seen that needs no words: a hesitation, another try, no reaction, a restart that the change needs."""

    mark: MarkName
    kind: Literal["marked"] = "marked"


@dataclass(frozen=True, slots=True)
class StepReached:
    """The person is at this step of the expected route, counted from 1."""

    step: Place
    kind: Literal["step_reached"] = "step_reached"


@dataclass(frozen=True, slots=True)
class PlaceVisited:
    """The person is at this place of the machine."""

    place: Typed
    kind: Literal["place_visited"] = "place_visited"


@dataclass(frozen=True, slots=True)
class QuoteTaken:
    """The participant's own words; they may follow."""

    words: Typed = ""
    kind: Literal["quote"] = "quote"


@dataclass(frozen=True, slots=True)
class WarningSeen:
    """The machine warned; the words may follow."""

    words: Typed = ""
    kind: Literal["warning"] = "warning"


@dataclass(frozen=True, slots=True)
class QuestionLeft:
    """Something to come back to; the words may follow."""

    words: Typed = ""
    kind: Literal["question"] = "question"


@dataclass(frozen=True, slots=True)
class SnagRated:
    """How bad an earlier snag was, as far as could be said at once."""

    entry: str
    severity: Severity
    kind: Literal["snag_rated"] = "snag_rated"


@dataclass(frozen=True, slots=True)
class MarkMoved:
    """A correction: an earlier mark belongs some seconds earlier, or later where that is negative.

    Where it was stays in the journal.
    """

    entry: str
    seconds_earlier: Annotated[int, Ge(-3600), Le(3600)]
    reason: Typed = ""
    kind: Literal["mark_moved"] = "mark_moved"


@dataclass(frozen=True, slots=True)
class AddedLate:
    """A mark put in afterwards, with the reason it was missed; its kind stays plain to see.

    Args:
        at_seconds: Since the sitting began.
        severity: Of a snag, how bad it was as far as could be said at once.
    """

    mark: LateMark
    at_seconds: Annotated[float, Ge(0), Le(200_000)]
    words: Typed
    reason: Typed
    severity: Severity | None = None
    kind: Literal["added_late"] = "added_late"


@dataclass(frozen=True, slots=True)
class OutcomeCorrected:
    """A correction: an attempt is judged otherwise, with why. The first judgement stays in the journal."""

    attempt: Place
    outcome: Outcome
    reason: Typed
    kind: Literal["outcome_corrected"] = "outcome_corrected"


@dataclass(frozen=True, slots=True)
class OutcomeTold:
    """More about how the last attempt ended; empty fields were not said.

    Args:
        grade: How far it got, of the card's grades on the way, from 1.
        route: By which way.
        why: What giving up was about: not found is not the same as not there.
    """

    grade: Place | None = None
    route: Route = ""
    why: GaveUpWhy = ""
    kind: Literal["outcome_told"] = "outcome_told"


@dataclass(frozen=True, slots=True)
class ChairWitnessed:
    """The chair's own judgement of an attempt: a fact beside the participant's word and the moderator's judgement.

    Args:
        attempt: Its number in the sitting; 0 for a card that has not been started.
    """

    attempt: Annotated[int, Ge(0)]
    card: str
    when: Literal["before", "after"]
    says: ChairSays
    evidence: Typed = ""
    kind: Literal["chair_witnessed"] = "chair_witnessed"
