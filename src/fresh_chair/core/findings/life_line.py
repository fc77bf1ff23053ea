"""The life line of a finding over releases and studies: new, known, gone, back again, changed."""

from collections.abc import Sequence
from typing import Literal

from fresh_chair.core.frozen import frozen

Life = Literal["", "new", "known", "changed", "gone", "back again", "not tried"]


@frozen
class LifePoint:
    """A finding at one release, in one study.

    Attributes:
        where: The chair's letter, or a reference as a target.
        met: Whether it was met there; None where it was not tried.
        severity: How bad it was there; None where that is not known.
        words: Who met it, or who says so.
        source: The earlier study it comes from; empty for this one.
    """

    where: str
    met: bool | None
    severity: int | None = None
    words: str = ""
    source: str = ""


def life_of(points: Sequence[LifePoint]) -> list[Life]:
    """The state of a finding at each point, held against the points before it; empty where there are none to hold it
    against, or where it has never been met.

    >>> life_of([LifePoint("A", True), LifePoint("A", False), LifePoint("B", True)])
    ['', 'gone', 'back again']
    """
    states: list[Life] = []
    before: list[LifePoint] = []
    for point in points:
        if point.met is None:
            states.append("not tried")
            continue
        states.append(_state(point, before))
        before.append(point)
    return states


def _state(point: LifePoint, before: Sequence[LifePoint]) -> Life:
    if not before:
        return ""
    ever = [each for each in before if each.met]
    if not point.met:
        return "gone" if ever else ""
    if not ever:
        return "new"
    if not before[-1].met:
        return "back again"
    severities = (before[-1].severity, point.severity)
    return "changed" if None not in severities and severities[0] != severities[1] else "known"
