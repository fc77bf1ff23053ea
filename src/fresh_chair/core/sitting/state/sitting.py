"""The state of one sitting, as far as its journal has come."""

from dataclasses import dataclass, field
from operator import itemgetter

from fresh_chair.core.chair.freshness import Freshness
from fresh_chair.core.clock import Moment
from fresh_chair.core.evidence.attachments import Attachment
from fresh_chair.core.evidence.kinds import BESIDE_A_NEWCOMER, IN_A_WALK, Evidence, Side
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import LedgerEntry
from fresh_chair.core.sitting.state.attempt import Attempt, Tick
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.timeline import Timeline
from fresh_chair.core.sitting.state.walk import Walk

# Moments that came with a text have a boot of this kind, and are by no machine's clock.
TYPED_BOOT = "typed-"


@dataclass(slots=True)
class Remark:
    """A snag, delight or note, with its latest words.

    Attributes:
        attempt, step: The attempt, or the step of a walk, that was in hand.
        evidence: How it is known.
        typed_as_line: Whether it was typed before its kind was told.
        side: What it is besides its kind.
        revises, revised_by: The earlier opinion that it revises, and the later one that revises it.
    """

    entry: str
    kind: str
    at_ns: int
    attempt: int | None
    words: str
    author: str
    severity: int | None = None
    step: int | None = None
    evidence: Evidence = BESIDE_A_NEWCOMER
    typed_as_line: bool = False
    side: Side = "plain"
    revises: str = ""
    revised_by: str = ""


@frozen
class AttachedFile:
    """A file that shows a mark, or a step by the entry that opened it; `entry` is the entry that attached it."""

    about: str
    entry: str
    attachment: Attachment


@frozen
class QuestionAnswer:
    """An answer to one of the study's own questions."""

    score: int | None
    words: str


@dataclass(slots=True)
class Sitting:
    """The state of one sitting after some of its entries.

    Args:
        number: The planned sitting's number.
        cards: The cards in the order planned for it.
        mark_words: The words of marks that are no remarks (a help, a wrong place), by entry.
        ahead: Notes that wait for the recording to come to their moment, in nanoseconds since the sitting began.
        observed_taken: Marks an observer alone made, by entry: whether each was taken, and by whom it was made.
    """

    number: int
    cards: tuple[str, ...]
    attempts: list[Attempt] = field(default_factory=list)
    remarks: dict[str, Remark] = field(default_factory=dict)
    wordless: set[str] = field(default_factory=set)
    passed: dict[str, str] = field(default_factory=dict)
    usability: dict[int, int | None] = field(default_factory=dict)
    usability_declined: bool = False
    began: Moment | None = None
    line: Timeline = field(default_factory=Timeline)
    hand: int = 0
    left: list[int] = field(default_factory=list)
    over: Phase | None = None
    over_ns: int | None = None
    broken_reason: str = ""
    entries: int = 0
    done: set[str] = field(default_factory=set)
    undoable: list[str] = field(default_factory=list)
    gaps: int = 0
    chair_found: Freshness = "not checked"
    so_before: dict[str, str] = field(default_factory=dict)
    expectations: dict[str, int | None] = field(default_factory=dict)
    asked: dict[tuple[str, int], QuestionAnswer] = field(default_factory=dict)
    preference: tuple[str, ...] | None = None
    preference_words: str = ""
    recording: tuple[str, float] | None = None
    observers: set[str] = field(default_factory=set)
    left_out: dict[str, str] = field(default_factory=dict)
    walk: Walk | None = None
    attachments: list[AttachedFile] = field(default_factory=list)
    mark_words: dict[str, str] = field(default_factory=dict)
    ahead: list[tuple[int, LedgerEntry]] = field(default_factory=list)
    observed_taken: dict[str, tuple[bool, str]] = field(default_factory=dict)

    @property
    def typed(self) -> bool:
        """Whether its times are those of a text: typed, and measured by no clock."""
        return self.began is not None and self.began.boot.startswith(TYPED_BOOT)

    @property
    def offset_seconds(self) -> float:
        """Where in its recording it begins; 0 without one."""
        return self.recording[1] if self.recording is not None else 0.0

    @property
    def still_comes(self) -> bool:
        """Whether a moment that it has not reached may still come: it is logged from a recording, and not over."""
        return self.recording is not None and self.over is None

    @property
    def at_ns(self) -> int:
        """Nanoseconds from its beginning to its latest entry."""
        return self.line.at_ns

    @property
    def latest(self) -> Attempt | None:
        """The attempt that was in hand last, however far it has come; None where none is, or it was left running."""
        return self.attempts[self.hand - 1] if self.hand else None

    @property
    def tried(self) -> list[Attempt]:
        """The attempts that stand, in the order they were begun; those that were joined to another are part of it."""
        return sorted((a for a in self.attempts if a.joined_to is None), key=lambda a: a.started_ns)

    def last_try(self, card: str) -> Attempt | None:
        """The last attempt at a card that stands; None where it was not tried."""
        return next((attempt for attempt in reversed(self.tried) if attempt.card == card), None)

    @property
    def phase(self) -> Phase:
        """The next thing the sitting waits for."""
        if self.began is None:
            return Phase.EMPTY
        if self.over is not None:
            return self.over
        if self.walk is not None:
            return Phase.WALKING
        attempt = self.latest
        if attempt is not None:
            if attempt.stopped_ns is None:
                return Phase.RUNNING
            if attempt.outcome is None:
                return Phase.JUDGING
            if attempt.outcome.counts and not attempt.ease_asked:
                return Phase.EASE
        if self.card is not None:
            return Phase.READING
        if self.left:
            return Phase.LEFT_RUNNING
        return Phase.CLOSING if self.usability_declined or len(self.usability) == 10 else Phase.USABILITY

    @property
    def card(self) -> str | None:
        """The first card that was neither attempted to its end, nor passed, nor left running; None after the last."""
        gone = {self.attempts[number - 1].card for number in self.left} | self.done
        return next((card for card in self.cards if card not in gone and card not in self.passed), None)

    @property
    def answers(self) -> tuple[int | None, ...] | None:
        """The ten answers of the System Usability Scale, or None before the last one."""
        return tuple(self.usability[item] for item in range(1, 11)) if len(self.usability) == 10 else None

    @property
    def attempt(self) -> Attempt | None:
        """The attempt in hand: running, or just ended and not yet rated."""
        return self.latest if self.phase in (Phase.RUNNING, Phase.JUDGING, Phase.EASE) else None

    def keep(self, remark: Remark) -> None:
        """Keep a remark; in a walk it belongs to the step of its moment, and is known as a walk's are."""
        if self.walk is not None:
            step = self.walk.step_at(remark.at_ns)
            remark.step, remark.evidence = step.number if step is not None else None, IN_A_WALK
        remark.typed_as_line = remark.kind == "line"
        self.remarks[remark.entry] = remark
        if not remark.words:
            self.wordless.add(remark.entry)

    def mark_by(self, entry: str) -> Tick | None:
        """The mark on an attempt's line of time that an entry made; None where it made none, or does not stand."""
        return next((tick for attempt in self.attempts for tick in attempt.ticks if tick.entry == entry), None)

    def words_of(self, entry: str) -> str:
        """The latest words of a remark or a mark; empty for none."""
        remark = self.remarks.get(entry)
        return self.mark_words.get(entry, "") if remark is None else remark.words

    def end(self, over: Phase, at_ns: int) -> None:
        """End it; a step of a walk that is in hand is set aside."""
        if self.walk is not None:
            self.walk.set_aside(at_ns)
        self.over, self.over_ns = over, at_ns

    def attempt_at(self, at_ns: int) -> Attempt | None:
        """The attempt in hand at a moment, in nanoseconds since the sitting began; None where none was."""
        return next((attempt for attempt in self.tried if attempt.ran_in_hand(at_ns)), None)

    def attempt_seen_at(self, at_ns: int) -> Attempt | None:
        """The attempt that a remark of a moment belongs to: in hand then, or stopped and not yet rated."""
        within = self.attempt_at(at_ns)
        if within is not None:
            return within
        stopped = [(each.stopped_ns, each) for each in self.tried if each.stopped_ns is not None]
        _, last = max((pair for pair in stopped if pair[0] <= at_ns), key=itemgetter(0), default=(0, None))
        return last if last is not None and (last.closed_ns is None or at_ns <= last.closed_ns) else None

    def attempt_of_mark(self, at_ns: int) -> Attempt:
        """The attempt that an observer's mark of a moment belongs to: in hand then, or else the last one before it.

        A key is pressed now and then just after the moderator's that stopped it. There must be an attempt.
        """
        before = [attempt for attempt in self.tried if attempt.started_ns <= at_ns]
        return self.attempt_at(at_ns) or (before or self.tried)[-1]

    def time_at(self, moment: Moment) -> int:
        """Nanoseconds from the beginning of the sitting to a moment."""
        return self.line.at(moment)
