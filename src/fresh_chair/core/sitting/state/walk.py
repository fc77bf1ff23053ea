"""The state of a walk: the steps a reviewer opened, in any order, and how each was closed."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Literal

from fresh_chair.core.evidence.kinds import IN_A_WALK, Evidence
from fresh_chair.core.frozen import frozen
from fresh_chair.core.sitting.state.outcome import Outcome

ItemResult = Literal["works", "with trouble", "fails", "not there", "not tried"]
Trust = Literal[
    "measured live", "from an uncut recording", "as typed", "cut or sped up", "said by the reviewer", "not known"
]  # fmt: skip
# Only these are times; the others are shown as they are.
MEASURED: frozenset[Trust] = frozenset({"measured live", "from an uncut recording"})
# A time that came with a text is shown as one, and told as typed.
TIMES: frozenset[Trust] = MEASURED | {"as typed"}


class StepEnding(StrEnum):
    """How a step was closed: an outcome, or one of three closings that are none and enter no figure."""

    UNAIDED = "unaided"
    HELPED = "helped"
    PARTLY = "partly"
    GAVE_UP = "gave_up"
    OUT_OF_TIME = "out_of_time"
    BLOCKED = "blocked"
    VOID = "void"
    LOOKED_AT = "looked_at"
    NOT_TRIED = "not_tried"
    NOTHING_FOR_IT = "nothing_for_it"

    @property
    def outcome(self) -> Outcome | None:
        """The outcome it is; None for a closing."""
        return None if self in _CLOSINGS else Outcome(self.value)

    @property
    def words(self) -> str:
        """The ending as a reviewer says it."""
        outcome = self.outcome
        return outcome.words if outcome is not None else _CLOSINGS[self]

    @property
    def needs_reason(self) -> bool:
        """True where the ending is a statement that must be backed."""
        outcome = self.outcome
        return outcome is not None and outcome.needs_reason


_CLOSINGS: Mapping[StepEnding, str] = {
    StepEnding.LOOKED_AT: "looked at",
    StepEnding.NOT_TRIED: "not tried",
    StepEnding.NOTHING_FOR_IT: "nothing to try it on",
}


@dataclass(slots=True)
class Item:
    """One thing of a list that a step goes through."""

    name: str
    result: ItemResult | None = None
    words: str = ""


@frozen
class ChairTurn:
    """Where the chair of a walk changed: it was altered, or left for another machine.

    Attributes:
        entry: The entry that says so.
        words: What was altered; why the machine was left.
        machine: The other machine; empty where the chair was altered.
        state: Number of the chair's state from there on, as the plan keeps them; 0 for not known.
    """

    entry: str
    at_ns: int
    words: str
    machine: str
    state: int


@frozen
class Contest:
    """The contest a walk is one side of."""

    name: str
    chairs: tuple[str, ...]


@frozen
class Judgement:
    """Which chair was better at a step of a contest: a letter, `neither`, `cannot say`; why, and when that was said."""

    better: str
    reason: str
    wall_ns: int


@dataclass(slots=True)
class Step:
    """One thing gone through in a walk: a card, or something opened in passing.

    Attributes:
        number: From 1, in the order of opening.
        entry: The entry that opened it.
        card: Its card's id; empty where it stood on no list.
        in_hand: Stretches of time in which it was in hand, in nanoseconds since the walk began.
        since_ns: When it was taken in hand last; None while it is not.
        machine: Stretches in which it was left and the machine went on working.
        running_ns: When it was left running; None while it is not.
        said_seconds: A time that the reviewer said; none was measured then.
        turn: In which state of the chair it was opened: 0 for how it was when the walk began, then a turn each.
        judgement: Which chair of a contest was better at it.
    """

    number: int
    entry: str
    title: str
    card: str
    opened_ns: int
    in_hand: list[tuple[int, int]] = field(default_factory=list)
    since_ns: int | None = None
    machine: list[tuple[int, int]] = field(default_factory=list)
    running_ns: int | None = None
    ending: StepEnding | None = None
    reason: str = ""
    closed_ns: int | None = None
    evidence: Evidence = IN_A_WALK
    said_seconds: float | None = None
    items: list[Item] = field(default_factory=list)
    turn: int = 0
    judgement: Judgement | None = None

    def take(self, at_ns: int) -> None:
        """Take it in hand, from now on."""
        if self.running_ns is not None:
            self.machine.append((self.running_ns, at_ns))
            self.running_ns = None
        self.since_ns = at_ns

    def leave(self, at_ns: int, *, running: bool = False) -> None:
        """Set it aside; its time from now on is the machine's where that works on."""
        if self.since_ns is not None:
            self.in_hand.append((self.since_ns, at_ns))
        self.since_ns = None
        self.running_ns = at_ns if running else None

    def hands_ns(self, now_ns: int | None = None) -> int:
        """The time it was in hand, in nanoseconds."""
        going = 0 if self.since_ns is None or now_ns is None else max(now_ns - self.since_ns, 0)
        return sum(end - begin for begin, end in self.in_hand) + going

    def machine_ns(self, now_ns: int | None = None) -> int:
        """The time the machine worked on for it while it was not in hand, in nanoseconds."""
        going = 0 if self.running_ns is None or now_ns is None else max(now_ns - self.running_ns, 0)
        return sum(end - begin for begin, end in self.machine) + going


@dataclass(slots=True)
class Walk:
    """A walk as far as it has come.

    Attributes:
        hand: Number of the step in hand; 0 for none.
        cuts: Where its recording is cut, in nanoseconds since the walk began.
        uncut: True where the reviewer said that the recording is whole.
        declared: Why a sitting that was logged otherwise is a walk; empty for one that was begun as such.
        turns: Where the chair was altered, or left for another machine.
        contest: The contest it is one side of.
        promised_seconds: How long it is to last; None where that was not said.
    """

    steps: list[Step] = field(default_factory=list)
    hand: int = 0
    cuts: list[int] = field(default_factory=list)
    uncut: bool = False
    declared: str = ""
    turns: list[ChairTurn] = field(default_factory=list)
    contest: Contest | None = None
    promised_seconds: float | None = None

    @property
    def step(self) -> Step | None:
        """The step in hand."""
        return self.steps[self.hand - 1] if self.hand else None

    def step_at(self, at_ns: int) -> Step | None:
        """The step that was in hand at a moment; None where none was."""
        # Nearly every mark is of the step in hand: the others are looked through for those put in late.
        in_hand = self.step
        if in_hand is not None and in_hand.since_ns is not None and in_hand.since_ns <= at_ns:
            return in_hand
        for step in self.steps:
            if any(begin <= at_ns < end for begin, end in step.in_hand):
                return step
        return None

    def opened_by(self, entry: str) -> Step | None:
        """The step that an entry opened."""
        return next((step for step in self.steps if step.entry == entry), None)

    def set_aside(self, at_ns: int, *, running: bool = False) -> None:
        """Set the step in hand aside."""
        step = self.step
        if step is not None:
            step.leave(at_ns, running=running)
        self.hand = 0

    def trust(self, step: Step, *, recorded: bool, typed: bool = False, now_ns: int | None = None) -> Trust:
        """How far a step's time is to be trusted.

        Args:
            step: The step.
            recorded: Whether the walk is logged from a recording.
            typed: Whether its times are those of a text.
            now_ns: The present time of the walk, for the step in hand.
        """
        if step.said_seconds is not None:
            return "said by the reviewer"
        if not step.hands_ns(now_ns) and step.number != self.hand:
            return "not known"
        if not recorded:
            return "as typed" if typed else "measured live"
        stretches = [*step.in_hand, *([(step.since_ns, now_ns)] if step.since_ns is not None and now_ns else [])]
        if any(begin <= cut <= end for begin, end in stretches for cut in self.cuts):
            return "cut or sped up"
        return "from an uncut recording" if self.uncut else "not known"
