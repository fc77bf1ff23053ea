"""The course of a sitting: cards begun, passed over, left running, tried again; its beginning, gaps and end."""

from collections.abc import Mapping
from enum import StrEnum
from typing import ClassVar, Literal

from fresh_chair.core.chair.freshness import Freshness
from fresh_chair.core.clock import SECOND, Moment, clock_text, elapsed_ns
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import LedgerEntry, Typed
from fresh_chair.core.sitting.entries.base import (
    BETWEEN,
    OPEN,
    READING,
    RUNNING,
    Happening,
    Ordinal,
    Seconds,
    Told,
    Why,
    in_hand,
)
from fresh_chair.core.sitting.entries.syntax import Reader, TimedContent, card_and, kept, number, one, words_meant
from fresh_chair.core.sitting.state.attempt import Attempt, Tick
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Sitting


class Gap(StrEnum):
    """How the time counts in which the program was dead."""

    COUNT = "count"
    ASIDE = "aside"
    VOID = "void"


_GAP_WORDS = {
    Gap.COUNT: "the time between counts",
    Gap.ASIDE: "the time between is aside",
    Gap.VOID: "the attempt is void",
}


@frozen
class SittingBegan(Happening):
    """The participant sat down."""

    kind: Literal["sitting_began"] = "sitting_began"
    phases: ClassVar[frozenset[Phase]] = frozenset({Phase.EMPTY})
    undoable: ClassVar[bool] = False
    said: ClassVar[str] = "sat down"
    typed: ClassVar[str] = "sat down"


@frozen
class ChairFound(Happening):
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
    phases: ClassVar[frozenset[Phase]] = OPEN
    undoable: ClassVar[bool] = False

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.chair_found = self.freshness

    def sentence(self, told: Told) -> str:
        """The freshness, the differences, and the preconditions that did not hold."""
        differing = f": {'; '.join(self.told)}" if self.told else ""
        skipped = f". Not so at the bench: {'; '.join(self.skipped)}" if self.skipped else ""
        return f"the chair is {self.freshness}{differing}{skipped}"


class _OfCardInHand(Happening):
    """About the card that is read now, and no other."""

    __slots__ = ()
    card: str
    phases: ClassVar[frozenset[Phase]] = READING

    def objection(self, sitting: Sitting) -> str:
        return "" if self.card == sitting.card else f"The card in hand is {sitting.card}, not {self.card}."


@frozen
class AttemptStarted(_OfCardInHand):
    """The card was read and the clock started."""

    card: str
    kind: Literal["attempt_started"] = "attempt_started"

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        attempt = Attempt(len(sitting.attempts) + 1, self.card, at_ns, lane_since_ns=at_ns)
        attempt.expectation = sitting.expectations.pop(self.card, None)
        sitting.attempts.append(attempt)
        sitting.hand = attempt.number

    def sentence(self, told: Told) -> str:
        return f"start: {told.title(self.card)}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"start {self.card}"


@frozen
class CardPassed(_OfCardInHand):
    """The card was left out of this sitting, with why."""

    card: str
    reason: Typed
    kind: Literal["card_passed"] = "card_passed"

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.passed[self.card] = self.reason

    def sentence(self, told: Told) -> str:
        return f"passed over {told.title(self.card)}: {self.reason}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"pass {self.card} {kept(self.reason)}"


@frozen
class LeftRunning(Happening):
    """The machine works on for the card in hand, and the next card is read meanwhile."""

    kind: Literal["left_running"] = "left_running"
    phases: ClassVar[frozenset[Phase]] = RUNNING
    letter: ClassVar[str] = "i"
    said: ClassVar[str] = "left running; the next card meanwhile"
    typed: ClassVar[str] = "left running"

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        attempt = in_hand(sitting)
        attempt.close_span(at_ns)
        attempt.set_aside = False
        attempt.begin_wait(at_ns)
        attempt.left, attempt.left_since_ns = True, at_ns
        attempt.ticks.append(Tick(self.kind, at_ns, entry.id))
        sitting.left.append(attempt.number)
        sitting.hand = 0


class _OfLeftAttempt(Happening):
    """About an attempt that was left running."""

    __slots__ = ()
    attempt: int

    def _end_wait(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> Attempt:
        attempt = sitting.attempts[self.attempt - 1]
        attempt.close_span(at_ns)
        attempt.end_wait(at_ns)
        attempt.ticks.append(Tick(self.kind, at_ns, entry.id))
        return attempt

    def objection(self, sitting: Sitting) -> str:
        return "" if self.attempt in sitting.left else "Nothing of that number was left running."


@frozen
class LeftReady(_OfLeftAttempt):
    """The machine has ended its work on an attempt that was left running; it is not taken up yet."""

    attempt: Ordinal
    kind: Literal["left_ready"] = "left_ready"
    phases: ClassVar[frozenset[Phase]] = OPEN
    letter: ClassVar[str] = "-"

    def objection(self, sitting: Sitting) -> str:
        said = _OfLeftAttempt.objection(self, sitting)
        ready = not said and not sitting.attempts[self.attempt - 1].waiting
        return "It is ready already." if ready else said

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        self._end_wait(sitting, entry, at_ns)

    def sentence(self, told: Told) -> str:
        return f"ready: {told.tried(self.attempt)}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"ready {self.attempt}"


@frozen
class TakenUp(_OfLeftAttempt):
    """The person has come back to an attempt that was left running."""

    attempt: Ordinal
    kind: Literal["taken_up"] = "taken_up"
    phases: ClassVar[frozenset[Phase]] = frozenset({Phase.READING, Phase.LEFT_RUNNING})
    letter: ClassVar[str] = "i"

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        attempt = self._end_wait(sitting, entry, at_ns)
        attempt.left_spans.append((attempt.left_since_ns, at_ns))
        attempt.left = False
        sitting.left.remove(attempt.number)
        sitting.hand = attempt.number

    def sentence(self, told: Told) -> str:
        return f"back to: {told.tried(self.attempt)}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"back to {self.attempt}"


@frozen
class CardReopened(Happening):
    """A card that was done is to be tried again in this sitting, with why; first and later tries stay apart."""

    card: str
    reason: Why
    kind: Literal["card_reopened"] = "card_reopened"
    phases: ClassVar[frozenset[Phase]] = BETWEEN

    def objection(self, sitting: Sitting) -> str:
        if self.card not in sitting.done and self.card not in sitting.passed:
            return "Only a card that was done or passed over can be tried again."
        return "" if self.reason.strip() else "Trying a card again needs a reason."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.done.discard(self.card)
        sitting.passed.pop(self.card, None)

    def sentence(self, told: Told) -> str:
        return f"once more: {told.title(self.card)}: {self.reason}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"again {self.card} {kept(self.reason)}"


@frozen
class AttemptStopped(Happening):
    """The clock stopped; how it ended is judged next."""

    kind: Literal["attempt_stopped"] = "attempt_stopped"
    phases: ClassVar[frozenset[Phase]] = RUNNING
    said: ClassVar[str] = "clock stopped"
    typed: ClassVar[str] = "stop"

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        attempt = in_hand(sitting)
        attempt.close_span(at_ns)
        attempt.stopped_ns = at_ns
        if attempt.waits and attempt.waits[-1].end_ns is None:
            attempt.waits[-1].end_ns = at_ns


@frozen
class RecordingOpened(Happening):
    """The sitting is logged from a recording.

    Args:
        file: Where the recording lies, as it was said.
        offset_seconds: Where in the recording the sitting begins.
    """

    file: Typed
    offset_seconds: Seconds = 0.0
    kind: Literal["recording_opened"] = "recording_opened"
    phases: ClassVar[frozenset[Phase]] = OPEN
    undoable: ClassVar[bool] = False

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.recording = (self.file, self.offset_seconds)

    def sentence(self, told: Told) -> str:
        begins = clock_text(round(self.offset_seconds * SECOND))
        return f"from the recording {self.file}, beginning at {begins} of it"


@frozen
class ObserverJoined(Happening):
    """The author of this entry watches beside the moderator; from here on their marks stay apart from the counts.

    Attributes:
        ahead_ns: By how much the wall clock of their machine is ahead of the moderator's, as measured when they
            joined; 0 on the same machine, or where it could not be measured.
    """

    ahead_ns: int = 0
    kind: Literal["observer_joined"] = "observer_joined"
    phases: ClassVar[frozenset[Phase]] = OPEN
    observable: ClassVar[bool] = True
    undoable: ClassVar[bool] = False
    typed: ClassVar[str] = "watches too"

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.observers.add(entry.author)

    def sentence(self, told: Told) -> str:
        return f"{told.entry.author} watches too"


@frozen
class SittingEnded(Happening):
    """The participant got up, all done."""

    kind: Literal["sitting_ended"] = "sitting_ended"
    phases: ClassVar[frozenset[Phase]] = frozenset({Phase.CLOSING, Phase.USABILITY, Phase.WALKING})
    said: ClassVar[str] = "got up"
    typed: ClassVar[str] = "got up"

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.end(Phase.ENDED, at_ns)


@frozen
class SittingBrokenOff(Happening):
    """The sitting ended before its end, with why."""

    reason: Typed
    kind: Literal["sitting_broken_off"] = "sitting_broken_off"
    phases: ClassVar[frozenset[Phase]] = OPEN - {Phase.RUNNING, Phase.JUDGING}

    def objection(self, sitting: Sitting) -> str:
        return "What was left running has no end yet." if sitting.left else ""

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.end(Phase.BROKEN_OFF, at_ns)
        sitting.broken_reason = self.reason

    def sentence(self, told: Told) -> str:
        return f"broken off: {self.reason}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"broken off {kept(self.reason)}"


@frozen
class SittingResumed(Happening):
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
    phases: ClassVar[frozenset[Phase]] = OPEN

    @property
    def alive(self) -> Moment:
        """The last moment at which the program is known to have been alive."""
        return Moment(self.alive_ticks_ns, self.alive_boot, self.alive_wall_ns)

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.gaps += 1
        step = sitting.walk.step if sitting.walk is not None else None
        if step is not None and self.gap is not Gap.COUNT:
            step.leave(at_ns - elapsed_ns(self.alive, entry.moment))
            step.take(at_ns)
        attempt = sitting.latest
        if attempt is None or attempt.stopped_ns is not None:
            return
        if self.gap is not Gap.COUNT:
            died_ns = at_ns - elapsed_ns(self.alive, entry.moment)
            attempt.close_span(died_ns)
            was_aside, attempt.set_aside = attempt.set_aside, True
            attempt.close_span(at_ns)
            attempt.set_aside = was_aside
        if self.gap is Gap.VOID:
            attempt.stopped_ns, attempt.closed_ns, attempt.outcome = at_ns, at_ns, Outcome.VOID
            attempt.reason = "the program was interrupted and the attempt could not be followed"
            sitting.done.add(attempt.card)

    def sentence(self, told: Told) -> str:
        return f"resumed; {_GAP_WORDS[self.gap]}"


def _passed(at_ns: int, rest: str) -> list[TimedContent]:
    card, reason = card_and(rest)
    if not reason.strip():
        raise ValueError("passing over a card needs a reason")
    return one(at_ns, CardPassed, card=card, reason=words_meant(reason))


def _again(at_ns: int, rest: str) -> list[TimedContent]:
    card, reason = card_and(rest)
    if not reason.strip():
        raise ValueError("trying a card again needs a reason")
    return one(at_ns, CardReopened, card=card, reason=words_meant(reason))


COURSE = (SittingBegan(), LeftRunning(), AttemptStopped(), ObserverJoined(), SittingEnded())
VERBS: dict[str, Reader] = {
    "start": lambda at, rest: one(at, AttemptStarted, card=card_and(rest)[0] if rest[:1] in '"“' else rest),
    "pass": _passed,
    "again": _again,
    "ready": lambda at, rest: one(at, LeftReady, attempt=number(rest)),
    "back to": lambda at, rest: one(at, TakenUp, attempt=number(rest)),
    "broken off": lambda at, rest: one(at, SittingBrokenOff, reason=words_meant(rest)),
}
