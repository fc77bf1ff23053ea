"""A sitting's journal: all kinds of its entries, and their codec. Entries are appended, never changed: laws 1 to 3."""

from typing import get_args

from fresh_chair.core.clock import SECOND
from fresh_chair.core.codec import Unreadable as Unreadable
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import MAX_WORDS as MAX_WORDS
from fresh_chair.core.ledger import Codec, LedgerEntry
from fresh_chair.core.ledger import Typed as Typed
from fresh_chair.core.sitting.authors import MODERATOR as MODERATOR
from fresh_chair.core.sitting.authors import is_observer_name as is_observer_name
from fresh_chair.core.sitting.entries.answers import EaseRated as EaseRated
from fresh_chair.core.sitting.entries.answers import ExpectationGiven as ExpectationGiven
from fresh_chair.core.sitting.entries.answers import GaveUpWhy as GaveUpWhy
from fresh_chair.core.sitting.entries.answers import OutcomeJudged as OutcomeJudged
from fresh_chair.core.sitting.entries.answers import OutcomeTold as OutcomeTold
from fresh_chair.core.sitting.entries.answers import PreferenceGiven as PreferenceGiven
from fresh_chair.core.sitting.entries.answers import QuestionAnswered as QuestionAnswered
from fresh_chair.core.sitting.entries.answers import Route as Route
from fresh_chair.core.sitting.entries.answers import UsabilityAnswered as UsabilityAnswered
from fresh_chair.core.sitting.entries.answers import UsabilityDeclined as UsabilityDeclined
from fresh_chair.core.sitting.entries.attached import Attached as Attached
from fresh_chair.core.sitting.entries.base import MOST_SECONDS as MOST_SECONDS
from fresh_chair.core.sitting.entries.base import WORDABLE as WORDABLE
from fresh_chair.core.sitting.entries.corrections import AddedLate as AddedLate
from fresh_chair.core.sitting.entries.corrections import AttemptsJoined as AttemptsJoined
from fresh_chair.core.sitting.entries.corrections import AttemptSplit as AttemptSplit
from fresh_chair.core.sitting.entries.corrections import BenchmarkRefused as BenchmarkRefused
from fresh_chair.core.sitting.entries.corrections import LateMark as LateMark
from fresh_chair.core.sitting.entries.corrections import MarkMoved as MarkMoved
from fresh_chair.core.sitting.entries.corrections import OutcomeCorrected as OutcomeCorrected
from fresh_chair.core.sitting.entries.corrections import RatingCorrected as RatingCorrected
from fresh_chair.core.sitting.entries.corrections import SittingUnbegun as SittingUnbegun
from fresh_chair.core.sitting.entries.corrections import StopMoved as StopMoved
from fresh_chair.core.sitting.entries.corrections import Struck as Struck
from fresh_chair.core.sitting.entries.course import AttemptStarted as AttemptStarted
from fresh_chair.core.sitting.entries.course import AttemptStopped as AttemptStopped
from fresh_chair.core.sitting.entries.course import CardPassed as CardPassed
from fresh_chair.core.sitting.entries.course import CardReopened as CardReopened
from fresh_chair.core.sitting.entries.course import ChairFound as ChairFound
from fresh_chair.core.sitting.entries.course import Gap as Gap
from fresh_chair.core.sitting.entries.course import LeftReady as LeftReady
from fresh_chair.core.sitting.entries.course import LeftRunning as LeftRunning
from fresh_chair.core.sitting.entries.course import ObserverJoined as ObserverJoined
from fresh_chair.core.sitting.entries.course import RecordingOpened as RecordingOpened
from fresh_chair.core.sitting.entries.course import SittingBegan as SittingBegan
from fresh_chair.core.sitting.entries.course import SittingBrokenOff as SittingBrokenOff
from fresh_chair.core.sitting.entries.course import SittingEnded as SittingEnded
from fresh_chair.core.sitting.entries.course import SittingResumed as SittingResumed
from fresh_chair.core.sitting.entries.course import TakenUp as TakenUp
from fresh_chair.core.sitting.entries.lanes import AsideBegan as AsideBegan
from fresh_chair.core.sitting.entries.lanes import AsideEnded as AsideEnded
from fresh_chair.core.sitting.entries.lanes import WaitBegan as WaitBegan
from fresh_chair.core.sitting.entries.lanes import WaitEnded as WaitEnded
from fresh_chair.core.sitting.entries.lanes import WaitKind as WaitKind
from fresh_chair.core.sitting.entries.lanes import WaitTold as WaitTold
from fresh_chair.core.sitting.entries.marks import ChairSays as ChairSays
from fresh_chair.core.sitting.entries.marks import ChairWitnessed as ChairWitnessed
from fresh_chair.core.sitting.entries.marks import Helped as Helped
from fresh_chair.core.sitting.entries.marks import HelpLevel as HelpLevel
from fresh_chair.core.sitting.entries.marks import HelpTold as HelpTold
from fresh_chair.core.sitting.entries.marks import Marked as Marked
from fresh_chair.core.sitting.entries.marks import MarkName as MarkName
from fresh_chair.core.sitting.entries.marks import SaidDone as SaidDone
from fresh_chair.core.sitting.entries.marks import SpotVisited as SpotVisited
from fresh_chair.core.sitting.entries.marks import StepReached as StepReached
from fresh_chair.core.sitting.entries.marks import WrongPlace as WrongPlace
from fresh_chair.core.sitting.entries.observed import ObservedTaken as ObservedTaken
from fresh_chair.core.sitting.entries.observed import OutcomeSeen as OutcomeSeen
from fresh_chair.core.sitting.entries.opinions import OpinionRevised as OpinionRevised
from fresh_chair.core.sitting.entries.opinions import SideTold as SideTold
from fresh_chair.core.sitting.entries.remarks import DelightSeen as DelightSeen
from fresh_chair.core.sitting.entries.remarks import NoteTaken as NoteTaken
from fresh_chair.core.sitting.entries.remarks import QuestionLeft as QuestionLeft
from fresh_chair.core.sitting.entries.remarks import QuoteTaken as QuoteTaken
from fresh_chair.core.sitting.entries.remarks import RemarkMade as RemarkMade
from fresh_chair.core.sitting.entries.remarks import SnagRated as SnagRated
from fresh_chair.core.sitting.entries.remarks import SnagSeen as SnagSeen
from fresh_chair.core.sitting.entries.remarks import WarningSeen as WarningSeen
from fresh_chair.core.sitting.entries.remarks import Worded as Worded
from fresh_chair.core.sitting.entries.syntax import ENTRY_VERSION as ENTRY_VERSION
from fresh_chair.core.sitting.entries.walks.contest import ContestJoined as ContestJoined
from fresh_chair.core.sitting.entries.walks.contest import StepCompared as StepCompared
from fresh_chair.core.sitting.entries.walks.motion import ChairAltered as ChairAltered
from fresh_chair.core.sitting.entries.walks.motion import WalkMoved as WalkMoved
from fresh_chair.core.sitting.entries.walks.steps import ItemJudged as ItemJudged
from fresh_chair.core.sitting.entries.walks.steps import ItemsListed as ItemsListed
from fresh_chair.core.sitting.entries.walks.steps import StepClosed as StepClosed
from fresh_chair.core.sitting.entries.walks.steps import StepMadeCard as StepMadeCard
from fresh_chair.core.sitting.entries.walks.steps import StepOpened as StepOpened
from fresh_chair.core.sitting.entries.walks.steps import StepSetAside as StepSetAside
from fresh_chair.core.sitting.entries.walks.steps import StepTakenUp as StepTakenUp
from fresh_chair.core.sitting.entries.walks.steps import TimeSaid as TimeSaid
from fresh_chair.core.sitting.entries.walks.walk import EvidenceTold as EvidenceTold
from fresh_chair.core.sitting.entries.walks.walk import LineMeant as LineMeant
from fresh_chair.core.sitting.entries.walks.walk import LineTyped as LineTyped
from fresh_chair.core.sitting.entries.walks.walk import RecordingCut as RecordingCut
from fresh_chair.core.sitting.entries.walks.walk import RecordingUncut as RecordingUncut
from fresh_chair.core.sitting.entries.walks.walk import WalkBegan as WalkBegan
from fresh_chair.core.sitting.entries.walks.walk import WalkDeclared as WalkDeclared
from fresh_chair.core.sitting.entries.walks.walk import WalkTimeboxed as WalkTimeboxed

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
    | SpotVisited
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
    | OutcomeSeen
    | ObservedTaken
    | SittingEnded
    | SittingBrokenOff
    | SittingResumed
    | SittingUnbegun
    | RatingCorrected
    | StopMoved
    | WalkBegan
    | WalkDeclared
    | StepOpened
    | StepSetAside
    | StepTakenUp
    | StepClosed
    | ItemsListed
    | ItemJudged
    | TimeSaid
    | LineTyped
    | LineMeant
    | EvidenceTold
    | RecordingCut
    | RecordingUncut
    | WalkTimeboxed
    | StepMadeCard
    | SideTold
    | OpinionRevised
    | ChairAltered
    | WalkMoved
    | ContestJoined
    | StepCompared
    | Attached
    | Struck
    | Unreadable
)
# What may carry words, then or later.
Wordable = SnagSeen | DelightSeen | NoteTaken | QuoteTaken | WarningSeen | QuestionLeft | LineTyped
# What speaks of an earlier entry by its id.
About = (
    HelpTold
    | SnagRated
    | MarkMoved
    | Worded
    | LineMeant
    | EvidenceTold
    | StepTakenUp
    | StepClosed
    | ItemsListed
    | ItemJudged
    | TimeSaid
    | StepMadeCard
    | SideTold
    | OpinionRevised
    | StepCompared
    | Attached
    | ObservedTaken
    | Struck
)


@frozen
class Entry(LedgerEntry):
    """One entry of a sitting's journal."""

    content: Content


CODEC = Codec(get_args(Content), version=ENTRY_VERSION)
KINDS = frozenset(CODEC.kinds)


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
