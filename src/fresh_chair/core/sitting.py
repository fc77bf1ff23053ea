"""The state of one sitting, as far as its journal has come."""

from dataclasses import dataclass, field
from enum import StrEnum

from fresh_chair.core.attempt import Attempt
from fresh_chair.core.clock import Moment, elapsed_ns
from fresh_chair.core.witness.drift import Freshness


class Phase(StrEnum):
    """What a sitting is waiting for."""

    EMPTY = "empty"
    READING = "reading"
    RUNNING = "running"
    JUDGING = "judging"
    EASE = "ease"
    USABILITY = "usability"
    CLOSING = "closing"
    ENDED = "ended"
    BROKEN_OFF = "broken_off"

    @property
    def open(self) -> bool:
        """True while someone sits there."""
        return self not in (Phase.EMPTY, Phase.ENDED, Phase.BROKEN_OFF)


@dataclass(slots=True)
class Remark:
    """A snag, delight or note, with its latest words."""

    entry: str
    kind: str
    at_ns: int
    attempt: int | None
    words: str
    author: str
    severity: int | None = None


@dataclass(slots=True)
class Sitting:
    """The state of one sitting after some of its entries.

    Args:
        number: The planned sitting's number.
        cards: The cards in the order planned for it.
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
    last: Moment | None = None
    at_ns: int = 0
    over: Phase | None = None
    over_ns: int | None = None
    broken_reason: str = ""
    entries: int = 0
    done: set[str] = field(default_factory=set)
    undoable: list[str] = field(default_factory=list)
    gaps: int = 0
    chair_found: Freshness = "not checked"
    so_before: dict[str, str] = field(default_factory=dict)

    @property
    def phase(self) -> Phase:
        """What the sitting is waiting for now."""
        if self.began is None:
            return Phase.EMPTY
        if self.over is not None:
            return self.over
        attempt = self.attempts[-1] if self.attempts else None
        if attempt is not None:
            if attempt.stopped_ns is None:
                return Phase.RUNNING
            if attempt.outcome is None:
                return Phase.JUDGING
            if attempt.outcome.counts and not attempt.ease_asked:
                return Phase.EASE
        if self.card is not None:
            return Phase.READING
        return Phase.CLOSING if self.usability_declined or len(self.usability) == 10 else Phase.USABILITY

    @property
    def card(self) -> str | None:
        """The first card that was neither attempted to its end nor passed, or None after the last."""
        return next((card for card in self.cards if card not in self.done and card not in self.passed), None)

    @property
    def answers(self) -> tuple[int | None, ...] | None:
        """The ten answers of the System Usability Scale, or None before the last one."""
        return tuple(self.usability[item] for item in range(1, 11)) if len(self.usability) == 10 else None

    @property
    def attempt(self) -> Attempt | None:
        """The attempt in hand: running, or just ended and not yet rated."""
        if self.attempts and self.phase in (Phase.RUNNING, Phase.JUDGING, Phase.EASE):
            return self.attempts[-1]
        return None

    def attempt_at(self, at_ns: int) -> Attempt | None:
        """The attempt whose clock ran at a moment, in nanoseconds since the sitting began; None where none did."""
        return next(
            (a for a in self.attempts if a.started_ns <= at_ns and (a.stopped_ns is None or at_ns <= a.stopped_ns)),
            None,
        )

    def time_at(self, moment: Moment) -> int:
        """Nanoseconds since the sitting began, at a moment after its last entry."""
        return self.at_ns if self.last is None else self.at_ns + elapsed_ns(self.last, moment)
