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

# Below so many people at both chairs nothing is said.
FEWEST = 4
# Below this a scatter is none, and two effects are one.
NOTHING = 1e-9


@frozen
class PairEstimate:
    """The first chair less the second, on the measure's scale.

    Attributes:
        people: Those at both chairs.
        degrees: Of freedom of the t distribution.
        why: Why there is no estimate; empty where there is one.
        differences: Each person's own difference, unadjusted; they describe, and decide nothing.
    """

    first: str
    second: str
    people: int
    value: float | None = None
    error: float | None = None
    degrees: int = 0
    why: str = ""
    differences: tuple[float, ...] = ()


@frozen
class PositionShift:
    """How much a later position of a person's order changes the measure, with its standard error."""

    position: int
    value: float
    error: float
    degrees: int


class VerdictKind(StrEnum):
    """How a comparison over all tasks can end."""

    BETTER_BY_LESS = "better, by less than matters"
    BETTER_BY_MARGIN = "better, by more than the margin"
    BETTER = "better; by how much is open"
    ALIKE = "alike"
    CANNOT_TELL = "cannot tell"


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


@frozen
class SignFlip:
    """How the people themselves differ; it describes, and decides nothing.

    Attributes:
        first, second: How many fared better there; the others were even.
        p: Two-sided, of flipping the signs of their differences; None for nobody.
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
