"""A walk's steps as plain lines: the input of screens, tables and documents."""

from dataclasses import replace

from fresh_chair.core.clock import SECOND
from fresh_chair.core.evidence.kinds import OWN, Evidence
from fresh_chair.core.frozen import frozen
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.sitting.state.walk import TIMES, Item, Judgement, Step, StepEnding, Trust, Walk


@frozen
class StepLine:
    """One step of a walk.

    Attributes:
        hands_seconds, machine_seconds: How long it was in hand, and how long the machine worked on without it; with
            `trust`, how far that is a time at all.
        turn: In which state of the chair it was opened; 0 for how it was when the walk began.
        said_seconds: How long it took as the reviewer said; None where that was not said.
    """

    number: int
    title: str
    card: str
    ending: StepEnding | None
    reason: str
    in_hand: bool
    running: bool
    opened_seconds: float
    hands_seconds: float
    machine_seconds: float
    said_seconds: float | None
    trust: Trust
    evidence: Evidence
    items: tuple[Item, ...]
    entry: str
    turn: int
    judgement: Judgement | None

    @property
    def own(self) -> bool:
        """True where it is the reviewer's own evidence."""
        return self.evidence in OWN

    @property
    def timed(self) -> bool:
        """True where its time is one: measured live, from an uncut recording, or as it was typed."""
        return self.trust in TIMES


def step_lines(sitting: Sitting, now_ns: int | None = None) -> tuple[StepLine, ...]:
    """The steps of a sitting's walk, in the order of opening; none where it is no walk.

    Args:
        sitting: The sitting.
        now_ns: Its present time, for the step in hand.
    """
    walk = sitting.walk
    return () if walk is None else tuple(_step_line(sitting, walk, step, now_ns) for step in walk.steps)


def line_in_hand(sitting: Sitting, now_ns: int) -> StepLine | None:
    """The step in hand at the present time of a sitting; None where none is."""
    walk = sitting.walk
    step = walk.step if walk is not None else None
    return None if walk is None or step is None else _step_line(sitting, walk, step, now_ns)


def _step_line(sitting: Sitting, walk: Walk, step: Step, now_ns: int | None) -> StepLine:
    return StepLine(
        number=step.number,
        title=step.title,
        card=step.card,
        ending=step.ending,
        reason=step.reason,
        in_hand=walk.hand == step.number,
        running=step.running_ns is not None,
        opened_seconds=step.opened_ns / SECOND,
        hands_seconds=step.hands_ns(now_ns) / SECOND,
        machine_seconds=step.machine_ns(now_ns) / SECOND,
        said_seconds=step.said_seconds,
        trust=walk.trust(step, recorded=sitting.recording is not None, typed=sitting.typed, now_ns=now_ns),
        evidence=step.evidence,
        # Copies: a line that is compared with a later one must not change with it.
        items=tuple(replace(item) for item in step.items),
        entry=step.entry,
        turn=step.turn,
        judgement=step.judgement,
    )
