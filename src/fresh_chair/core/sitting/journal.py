"""The entries a sitting's journal is made of. Entries are appended and never changed: laws 1 to 3.

On disk an entry's content is a kind, a version and a JSON object; no class path, no framework type. A kind or
version this module does not know is an error that names the entry, never a guess.
"""

import unicodedata
from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated, Literal, get_args

from annotated_types import Ge, Le

from fresh_chair.core.chair.drift import Freshness
from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.codec import Unreadable as Unreadable
from fresh_chair.core.codec import decoded, encoded, gated
from fresh_chair.core.sitting.course import MOST_SECONDS as MOST_SECONDS
from fresh_chair.core.sitting.course import AttemptsJoined as AttemptsJoined
from fresh_chair.core.sitting.course import AttemptSplit as AttemptSplit
from fresh_chair.core.sitting.course import BenchmarkRefused as BenchmarkRefused
from fresh_chair.core.sitting.course import CardReopened as CardReopened
from fresh_chair.core.sitting.course import ExpectationGiven as ExpectationGiven
from fresh_chair.core.sitting.course import LeftReady as LeftReady
from fresh_chair.core.sitting.course import LeftRunning as LeftRunning
from fresh_chair.core.sitting.course import ObserverJoined as ObserverJoined
from fresh_chair.core.sitting.course import PreferenceGiven as PreferenceGiven
from fresh_chair.core.sitting.course import QuestionAnswered as QuestionAnswered
from fresh_chair.core.sitting.course import RatingCorrected as RatingCorrected
from fresh_chair.core.sitting.course import RecordingOpened as RecordingOpened
from fresh_chair.core.sitting.course import SittingUnbegun as SittingUnbegun
from fresh_chair.core.sitting.course import StopMoved as StopMoved
from fresh_chair.core.sitting.course import TakenUp as TakenUp
from fresh_chair.core.sitting.marks import MAX_WORDS as MAX_WORDS
from fresh_chair.core.sitting.marks import AddedLate as AddedLate
from fresh_chair.core.sitting.marks import ChairSays as ChairSays
from fresh_chair.core.sitting.marks import ChairWitnessed as ChairWitnessed
from fresh_chair.core.sitting.marks import GaveUpWhy as GaveUpWhy
from fresh_chair.core.sitting.marks import HelpLevel as HelpLevel
from fresh_chair.core.sitting.marks import HelpTold as HelpTold
from fresh_chair.core.sitting.marks import LateMark as LateMark
from fresh_chair.core.sitting.marks import Marked as Marked
from fresh_chair.core.sitting.marks import MarkMoved as MarkMoved
from fresh_chair.core.sitting.marks import MarkName as MarkName
from fresh_chair.core.sitting.marks import OutcomeCorrected as OutcomeCorrected
from fresh_chair.core.sitting.marks import OutcomeTold as OutcomeTold
from fresh_chair.core.sitting.marks import PlaceVisited as PlaceVisited
from fresh_chair.core.sitting.marks import QuestionLeft as QuestionLeft
from fresh_chair.core.sitting.marks import QuoteTaken as QuoteTaken
from fresh_chair.core.sitting.marks import Route as Route
from fresh_chair.core.sitting.marks import SnagRated as SnagRated
from fresh_chair.core.sitting.marks import StepReached as StepReached
from fresh_chair.core.sitting.marks import Typed as Typed
from fresh_chair.core.sitting.marks import WaitKind as WaitKind
from fresh_chair.core.sitting.marks import WaitTold as WaitTold
from fresh_chair.core.sitting.marks import WarningSeen as WarningSeen
from fresh_chair.core.sitting.outcome import Outcome

ENTRY_VERSION = 1
MODERATOR = "moderator"


def is_observer_name(name: object) -> bool:
    """Whether a second observer may log under a name: short, printable, and not the moderator's."""
    return (
        isinstance(name, str)
        and 0 < len(name.strip()) <= 40
        and name == name.strip()
        and name.isprintable()
        and unicodedata.normalize("NFKC", name).casefold() != MODERATOR
    )


class Gap(StrEnum):
    """How the time counts in which the program was dead."""

    COUNT = "count"
    ASIDE = "aside"
    VOID = "void"


@dataclass(frozen=True, slots=True)
class SittingBegan:
    """The participant sat down."""

    kind: Literal["sitting_began"] = "sitting_began"


@dataclass(frozen=True, slots=True)
class ChairFound:
    """The chair's freshness at the beginning of a sitting.

    Args:
        freshness: What the last comparison with its baseline said, where one was made since anyone sat there.
        told: What differed, in words, or why it was not checked.
        read_wall_ns: When it was compared, by the wall clock; None where it was not.
        skipped: What else was not so at the bench: fixtures, consent.
    """

    freshness: Freshness
    told: tuple[Typed, ...] = ()
    read_wall_ns: int | None = None
    skipped: tuple[Typed, ...] = ()
    kind: Literal["chair_found"] = "chair_found"


@dataclass(frozen=True, slots=True)
class AttemptStarted:
    """The card was read and the clock started."""

    card: str
    kind: Literal["attempt_started"] = "attempt_started"


@dataclass(frozen=True, slots=True)
class CardPassed:
    """The card was left out of this sitting, with why."""

    card: str
    reason: Typed
    kind: Literal["card_passed"] = "card_passed"


@dataclass(frozen=True, slots=True)
class WaitBegan:
    """From here the machine is busy, not the person."""

    kind: Literal["wait_began"] = "wait_began"


@dataclass(frozen=True, slots=True)
class WaitEnded:
    """From here the person has the machine again."""

    kind: Literal["wait_ended"] = "wait_ended"


@dataclass(frozen=True, slots=True)
class AsideBegan:
    """From here time belongs neither to the person nor to the machine."""

    kind: Literal["aside_began"] = "aside_began"


@dataclass(frozen=True, slots=True)
class AsideEnded:
    """The interruption is over."""

    kind: Literal["aside_ended"] = "aside_ended"


@dataclass(frozen=True, slots=True)
class Helped:
    """The moderator helped."""

    kind: Literal["helped"] = "helped"


@dataclass(frozen=True, slots=True)
class WrongPlace:
    """The participant looked where the thing is not."""

    kind: Literal["wrong_place"] = "wrong_place"


@dataclass(frozen=True, slots=True)
class SaidDone:
    """The participant said that it is done."""

    kind: Literal["said_done"] = "said_done"


@dataclass(frozen=True, slots=True)
class SnagSeen:
    """A trouble; the words may follow."""

    words: Typed = ""
    kind: Literal["snag"] = "snag"


@dataclass(frozen=True, slots=True)
class DelightSeen:
    """Something that pleased; the words may follow."""

    words: Typed = ""
    kind: Literal["delight"] = "delight"


@dataclass(frozen=True, slots=True)
class NoteTaken:
    """Anything else worth keeping; the words may follow."""

    words: Typed = ""
    kind: Literal["note"] = "note"


@dataclass(frozen=True, slots=True)
class Worded:
    """The words for an earlier snag, delight or note."""

    entry: str
    words: Typed
    kind: Literal["worded"] = "worded"


@dataclass(frozen=True, slots=True)
class AttemptStopped:
    """The clock stopped; how it ended is judged next."""

    kind: Literal["attempt_stopped"] = "attempt_stopped"


@dataclass(frozen=True, slots=True)
class OutcomeJudged:
    """How the attempt ended, as the moderator judges it."""

    outcome: Outcome
    reason: Typed = ""
    kind: Literal["outcome_judged"] = "outcome_judged"


@dataclass(frozen=True, slots=True)
class EaseRated:
    """The Single Ease Question, 1 (very hard) to 7 (very easy); None where it was not answered."""

    score: Annotated[int, Ge(1), Le(7)] | None
    kind: Literal["ease_rated"] = "ease_rated"


@dataclass(frozen=True, slots=True)
class UsabilityAnswered:
    """One answer of the System Usability Scale, 1 to 5; None where the item was left out. The last one holds."""

    item: Annotated[int, Ge(1), Le(10)]
    score: Annotated[int, Ge(1), Le(5)] | None
    kind: Literal["usability_answered"] = "usability_answered"


@dataclass(frozen=True, slots=True)
class UsabilityDeclined:
    """The System Usability Scale was not asked, or not wanted."""

    kind: Literal["usability_declined"] = "usability_declined"


@dataclass(frozen=True, slots=True)
class SittingEnded:
    """The participant got up, all done."""

    kind: Literal["sitting_ended"] = "sitting_ended"


@dataclass(frozen=True, slots=True)
class SittingBrokenOff:
    """The sitting ended before its end, with why."""

    reason: Typed
    kind: Literal["sitting_broken_off"] = "sitting_broken_off"


@dataclass(frozen=True, slots=True)
class SittingResumed:
    """The program was dead and is back.

    Args:
        alive: The last moment at which it is known to have been alive.
        gap: What the time since then counts as, for an attempt that was running.
    """

    alive_ticks_ns: int
    alive_boot: str
    alive_wall_ns: int
    gap: Gap
    kind: Literal["sitting_resumed"] = "sitting_resumed"

    @property
    def alive(self) -> Moment:
        """The last moment at which the program is known to have been alive."""
        return Moment(self.alive_ticks_ns, self.alive_boot, self.alive_wall_ns)


@dataclass(frozen=True, slots=True)
class Struck:
    """A correction: an earlier entry does not hold, with why. The earlier entry stays where it is."""

    entry: str
    reason: Typed
    kind: Literal["struck"] = "struck"


Content = (
    SittingBegan
    | ChairFound
    | AttemptStarted
    | CardPassed
    | WaitBegan
    | WaitTold
    | WaitEnded
    | AsideBegan
    | AsideEnded
    | Helped
    | HelpTold
    | Marked
    | StepReached
    | PlaceVisited
    | WrongPlace
    | SaidDone
    | SnagSeen
    | DelightSeen
    | NoteTaken
    | QuoteTaken
    | WarningSeen
    | QuestionLeft
    | SnagRated
    | MarkMoved
    | Worded
    | LeftRunning
    | LeftReady
    | TakenUp
    | AttemptStopped
    | OutcomeJudged
    | OutcomeTold
    | OutcomeCorrected
    | AddedLate
    | ChairWitnessed
    | ExpectationGiven
    | EaseRated
    | QuestionAnswered
    | PreferenceGiven
    | UsabilityAnswered
    | UsabilityDeclined
    | CardReopened
    | AttemptSplit
    | AttemptsJoined
    | BenchmarkRefused
    | RecordingOpened
    | ObserverJoined
    | SittingEnded
    | SittingBrokenOff
    | SittingResumed
    | SittingUnbegun
    | RatingCorrected
    | StopMoved
    | Struck
    | Unreadable
)
# What may carry words, then or later.
Wordable = SnagSeen | DelightSeen | NoteTaken | QuoteTaken | WarningSeen | QuestionLeft
WORDABLE = ("snag", "delight", "note", "quote", "warning", "question")


@dataclass(frozen=True, slots=True)
class Entry:
    """One entry: its content, the moment of the key, and the author.

    Args:
        id: Unique in the study.
        number: Place in the sitting's journal, from 1 without gaps.
    """

    id: str
    number: int
    moment: Moment
    author: str
    content: Content


def late_mark(content: Content, at_ns: int, reason: str) -> Content | None:
    """A mark's content as one that is put in afterwards, at the time of its key; None for other contents."""
    seconds = at_ns / SECOND
    if isinstance(content, Wordable):
        return AddedLate(content.kind, seconds, content.words, reason)
    if isinstance(content, Marked):
        return AddedLate(content.mark, seconds, "", reason)
    if isinstance(content, Helped | WrongPlace | SaidDone):
        return AddedLate(content.kind, seconds, "", reason)
    return None


_KINDS: dict[str, type] = {
    part.__dataclass_fields__["kind"].default: part for part in get_args(Content) if part is not Unreadable
}
KINDS = frozenset(_KINDS)


def body_of(content: Content) -> str:
    """The content as the JSON object that is stored."""
    return encoded(content)


def body_to_keep(content: Content) -> str:
    """As `body_of`, once it has been read back. Raises InputError where no file may hold it."""
    return gated(content, body_of, lambda body: content_from(body, version=ENTRY_VERSION, where="It"))


def content_from(body: str, *, version: int, where: str) -> Content:
    """The content that a stored JSON object holds.

    Args:
        body: The JSON object.
        version: The version it was written with.
        where: What to call the entry in an error.

    Raises:
        JournalError: Where the kind or version is unknown, or a field is missing or out of range.
    """
    content: Content = decoded(_KINDS, body, version=version, known=ENTRY_VERSION, where=where)
    return content
