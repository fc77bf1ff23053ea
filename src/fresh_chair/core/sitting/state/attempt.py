"""One attempt, its lanes of time and its marks."""

from bisect import insort
from collections.abc import Iterator
from dataclasses import dataclass, field

from fresh_chair.core.evidence.kinds import BESIDE_A_NEWCOMER, Evidence
from fresh_chair.core.frozen import frozen
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.outcome import Outcome


@frozen
class Span:
    """A stretch of one lane, in nanoseconds since the sitting began."""

    lane: Lane
    begin_ns: int
    end_ns: int


@frozen
class Tick:
    """A mark on an attempt's line of time.

    Attributes:
        entry: The entry it comes from, by which it can be moved.
        what: Which mark, step or spot it is, where its kind has several.
        observer: The second observer who made it; empty for the moderator's, which alone are counted.
    """

    kind: str
    at_ns: int
    entry: str = ""
    what: str | int = ""
    observer: str = ""


@dataclass(slots=True)
class Wait:
    """One wait, and how it looked; its end is None while it runs."""

    begin_ns: int
    end_ns: int | None = None
    how: str = ""


@frozen
class SeenOutcome:
    """How a second observer judged an attempt; it is counted nowhere."""

    outcome: Outcome
    reason: str


# Help that does not change what an attempt counts as: the card again, and a kind word.
NO_ASSIST = ("repeated the card", "encouraged")


@dataclass(slots=True)
class Attempt:
    """One participant's go at one card, as far as it has come.

    Times are whole nanoseconds since the sitting began, so that the lanes add up to the elapsed time exactly.

    Attributes:
        closed_ns: When nothing more was asked about it; None before.
        judged_by: The entry that judged it; `evidence` is how its outcome is known.
        seen_as: The outcome as each second observer judged it, by name.
    """

    number: int
    card: str
    started_ns: int
    spans: list[Span] = field(default_factory=list)
    ticks: list[Tick] = field(default_factory=list)
    waiting: bool = False
    set_aside: bool = False
    lane_since_ns: int = 0
    stopped_ns: int | None = None
    closed_ns: int | None = None
    outcome: Outcome | None = None
    reason: str = ""
    ease: int | None = None
    ease_asked: bool = False
    said_done: bool = False
    helps: dict[str, str] = field(default_factory=dict)
    wrong_places: int = 0
    snags: int = 0
    waits: list[Wait] = field(default_factory=list)
    marks: dict[str, int] = field(default_factory=dict)
    steps: set[int] = field(default_factory=set)
    spots: list[str] = field(default_factory=list)
    grade: int | None = None
    route: str = ""
    why: str = ""
    moves: int = 0
    chair_says: str = ""
    chair_evidence: str = ""
    left: bool = False
    left_spans: list[tuple[int, int]] = field(default_factory=list)
    left_since_ns: int = 0
    expectation: int | None = None
    benchmark_refused: str = ""
    joined_to: int | None = None
    unreadable: bool = False
    judged_by: str = ""
    evidence: Evidence = BESIDE_A_NEWCOMER
    seen_as: dict[str, SeenOutcome] = field(default_factory=dict)

    @property
    def judged(self) -> bool:
        """True where it has ended, was judged, and is not part of another attempt."""
        return self.outcome is not None and self.joined_to is None

    @property
    def left_ns(self) -> int:
        """Nanoseconds for which the machine worked on while another card was in hand."""
        return sum(end - begin for begin, end in self.left_spans)

    @property
    def helped(self) -> int:
        """How often there was help that counts as such."""
        return sum(level not in NO_ASSIST for level in self.helps.values())

    @property
    def tries(self) -> int:
        """How often it was tried, the first time included."""
        return 1 + self.marks.get("tries again", 0)

    def wait_ns(self, how: str) -> int:
        """Nanoseconds from the beginning to the end of all waits of one kind; an aside within them is theirs too."""
        return sum((wait.end_ns or wait.begin_ns) - wait.begin_ns for wait in self.waits if wait.how == how)

    @property
    def longest_silent_ns(self) -> int:
        """The longest wait without anything shown, in nanoseconds; 0 where there was none."""
        silent = [w for w in self.waits if w.how in ("silent", "believed frozen") and w.end_ns is not None]
        return max(((wait.end_ns or 0) - wait.begin_ns for wait in silent), default=0)

    @property
    def lane(self) -> Lane:
        """The lane that is live; talk outranks a wait, because the machine is not watched meanwhile.

        What was left running is the machine's time until it is ready, and nobody's until somebody comes back.
        """
        if self.left:
            return Lane.WAIT if self.waiting else Lane.ASIDE
        return Lane.ASIDE if self.set_aside else Lane.WAIT if self.waiting else Lane.HANDS

    def put(self, tick: Tick) -> None:
        """Put a mark on its line, by its time: an observer's may come after later ones."""
        if not self.ticks or self.ticks[-1].at_ns <= tick.at_ns:
            self.ticks.append(tick)
        else:
            insort(self.ticks, tick, key=lambda each: each.at_ns)

    def close_span(self, at_ns: int) -> None:
        """Charge the time since the last change to the live lane."""
        if at_ns > self.lane_since_ns:
            self.spans.append(Span(self.lane, self.lane_since_ns, at_ns))
            self.lane_since_ns = at_ns

    def begin_wait(self, at_ns: int) -> None:
        """From here the machine is busy, unless it is already."""
        if not self.waiting:
            self.waiting = True
            self.waits.append(Wait(at_ns))

    def end_wait(self, at_ns: int) -> None:
        """From here it is not."""
        if self.waiting:
            self.waiting = False
            self.waits[-1].end_ns = at_ns

    def ran_in_hand(self, at_ns: int) -> bool:
        """Whether its clock ran at a moment with the person at it."""
        if at_ns < self.started_ns or (self.stopped_ns is not None and at_ns > self.stopped_ns):
            return False
        left = [*self.left_spans, *([(self.left_since_ns, at_ns)] if self.left else [])]
        return not any(begin < at_ns < end for begin, end in left)

    def lanes(self, now_ns: int | None = None) -> Iterator[Span]:
        """All stretches so far, the live one up to `now_ns` included while the attempt runs."""
        yield from self.spans
        if self.stopped_ns is None and now_ns is not None and now_ns > self.lane_since_ns:
            yield Span(self.lane, self.lane_since_ns, now_ns)

    def lane_ns(self, lane: Lane, now_ns: int | None = None) -> int:
        """Nanoseconds charged to one lane."""
        return sum(span.end_ns - span.begin_ns for span in self.lanes(now_ns) if span.lane is lane)

    def line_ns(self, hands_ns: int) -> int:
        """Where on the sitting's line so much hands time stands; the other lanes push it on."""
        others = sum(span.end_ns - span.begin_ns for span in self.spans if span.lane is not Lane.HANDS)
        return self.started_ns + others + hands_ns

    def elapsed_ns(self, now_ns: int | None = None) -> int:
        """Nanoseconds from start to stop, or to now."""
        end = self.stopped_ns if self.stopped_ns is not None else now_ns
        return (self.lane_since_ns if end is None else max(end, self.started_ns)) - self.started_ns
