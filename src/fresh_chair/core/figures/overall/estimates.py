"""Measures of whole chairs, their margins, and the estimates and verdicts on them; without any arithmetic library."""

from collections.abc import Mapping
from enum import StrEnum
from math import log
from typing import Literal

from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.sheet import Comparing

# Each is a family of its own; completion is two of them.
OverallMeasure = Literal["who fared better", "completed unaided", "completed", "time", "ease", "satisfaction"]
MEASURES: tuple[OverallMeasure, ...] = (
    "who fared better",
    "completed unaided",
    "completed",
    "time",
    "ease",
    "satisfaction",
)


def margins_of(comparing: Comparing) -> dict[OverallMeasure, float]:
    """The smallest differences that matter, on each measure's own scale: log seconds for times, shares of 1."""
    return {
        "who fared better": comparing.margin_fared,
        "completed unaided": comparing.margin_completion / 100,
        "completed": comparing.margin_completion / 100,
        "time": log(comparing.margin_time),
        "ease": comparing.margin_ease,
        "satisfaction": comparing.margin_satisfaction,
    }


def main_measure_of(comparing: Comparing) -> OverallMeasure:
    """The primary measure; who fared better where none was chosen."""
    return comparing.primary or "who fared better"


MARGINS: Mapping[OverallMeasure, float] = margins_of(Comparing())

# Below so many people at both chairs nothing is said, and below so many tasks done at both.
FEWEST = 4
FEWEST_TASKS = 3
# Below this a scatter is none, and two effects are one.
NOTHING = 1e-9
# Why a pair cannot be told: nobody's difference is any, be it that tasks differ in opposite ways.
NOBODY_DIFFERS = "on balance nobody differs"
EVEN_BY_OPPOSITES = "on balance nobody differs, by opposite differences"


@frozen
class PairEstimate:
    """The first chair less the second, on the measure's scale.

    Attributes:
        people: Those at both chairs.
        degrees: Of freedom of the t distribution; no whole number where the tasks' shared error is in the error.
        why: Why there is no estimate; empty where there is one.
        differences: Each person's own difference of fitted effects; they describe, and decide nothing.
        common: The tasks done at both, over which it is estimated; empty for a measure without tasks.
        left_out: The tasks attempted somewhere and not done at both.
    """

    first: str
    second: str
    people: int
    value: float | None = None
    error: float | None = None
    degrees: float = 0
    why: str = ""
    differences: tuple[float, ...] = ()
    common: tuple[str, ...] = ()
    left_out: tuple[str, ...] = ()

    @property
    def tasks(self) -> int:
        """How many tasks were attempted anywhere."""
        return len(self.common) + len(self.left_out)


@frozen
class PositionShift:
    """How much a later position of a person's order changes the measure, with its standard error."""

    position: int
    value: float
    error: float
    degrees: float


class VerdictKind(StrEnum):
    """How a comparison over all tasks can end."""

    BETTER_BY_LESS = "better, by less than matters"
    BETTER_BY_MARGIN = "better, by more than the margin"
    BETTER = "better; by how much is open"
    ALIKE = "alike"
    MIXED = "mixed"
    CANNOT_TELL = "cannot tell"


BETTER = (VerdictKind.BETTER, VerdictKind.BETTER_BY_LESS, VerdictKind.BETTER_BY_MARGIN)


@frozen
class CompletionBeside:
    """Completion of a pair as it stands beside a verdict on another measure; the first chair less the second.

    Attributes:
        measure: Strict or lenient.
        value: A share of 1: by the rule, else as it was seen; None where nobody attempted a task at both.
        error: 0 where it is as it was seen.
        low, high: The 95 % interval; None where it is as it was seen.
        p_adjusted: Two-sided, after Holm over its own family; 1 where it cannot be tested.
        done, tried: At the first chair and at the second, over the tasks that each person attempted at both.
    """

    measure: OverallMeasure
    value: float | None
    error: float
    low: float | None
    high: float | None
    p_adjusted: float
    done: tuple[int, int]
    tried: tuple[int, int]


@frozen
class SharePart:
    """A part of the net share of who fared better: the first chair less the second."""

    part: Literal["outcome", "time"]
    value: float
    low: float | None
    high: float | None


@frozen
class OverallVerdict:
    """One pair on one measure, with every number its verdict stands on.

    Attributes:
        low, high: The interval that belongs to the verdict, at `level`; on the measure's scale, log seconds for times.
        p: Two-sided, raw; `p_adjusted` after Holm over the family.
        q: The larger one of both one-sided p at the margins, raw; `q_adjusted` after Holm.
        beyond: One-sided p against the margin on the winner's side, raw; `beyond_adjusted` after Holm.
        winner: The chair's letter; empty for none.
        why: Why it cannot be told; empty where it can.
        alone: The pair alone would show a difference, and the family's correction takes it.
        family: How many pairs were looked at.
        completions: Strict and lenient completion, beside any other measure.
        against: The completion that took a verdict back; empty where none did.
        before: The verdict that it took back.
        parts: Of the net share of who fared better: by outcome, by time; they add up to it.
        took_longer: How many times as long those who completed took at the winner; None where that is not told.
    """

    estimate: PairEstimate
    margin: float
    said: VerdictKind
    winner: str = ""
    low: float | None = None
    high: float | None = None
    level: float = 0.95
    p: float | None = None
    p_adjusted: float | None = None
    q: float | None = None
    q_adjusted: float | None = None
    beyond: float | None = None
    beyond_adjusted: float | None = None
    why: str = ""
    alone: bool = False
    family: int = 1
    completions: tuple[CompletionBeside, ...] = ()
    against: OverallMeasure | Literal[""] = ""
    before: VerdictKind | None = None
    parts: tuple[SharePart, ...] = ()
    took_longer: float | None = None


@frozen
class SignFlip:
    """How the people themselves differ; it describes, and decides nothing.

    Attributes:
        first, second: How many fared better there over the tasks they did at both; the others were even.
        p: Two-sided, of flipping the signs of their fitted differences; None for nobody.
    """

    first: int
    second: int
    even: int
    p: float | None


@frozen
class MeasureOverall:
    """One measure over all tasks: its verdict for each pair, and the positions' own effect.

    Attributes:
        gated: Pairs whose winner in time the gate took, with why, by the pair.
        dropped: Sittings and tasks that a time had to leave out.
        flips: What the people themselves show, by the pair.
    """

    measure: OverallMeasure
    verdicts: tuple[OverallVerdict, ...]
    positions: tuple[PositionShift, ...]
    rows: int
    dropped: tuple[str, ...] = ()
    gated: tuple[tuple[tuple[str, str], str], ...] = ()
    flips: tuple[SignFlip, ...] = ()


# A way in which a comparison is made again.
TurnWay = Literal[
    "one person out",
    "only chairs proved fresh",
    "help not completed",
    "the other time",
    "without tries after a void",
    "the pair's own scatter",
]


@frozen
class WayTried:
    """The comparison again, in one other way.

    Attributes:
        person: Who was left out; empty for every other way.
        changed: How many attempts the way changes.
        values: The estimate of each pair, as first chair, second chair and value.
        turned: The pairs whose verdict turns, each with how.
        why: Why there was nothing to try; empty where there was.
    """

    way: TurnWay
    person: str
    changed: int
    values: tuple[tuple[str, str, float], ...]
    turned: tuple[tuple[str, str, str], ...] = ()
    why: str = ""


@frozen
class Turning:
    """Whether the verdicts on one measure would turn.

    Attributes:
        ways: Every way that was tried, and those that could not be.
        ranges: From where to where each pair's estimate goes with one person less: first chair, second chair, ends.
    """

    measure: OverallMeasure
    ways: tuple[WayTried, ...]
    ranges: tuple[tuple[str, str, float, float], ...]

    @property
    def turned(self) -> bool:
        """Whether any verdict turns."""
        return any(way.turned for way in self.ways)
