"""Did everything go faster in the second chair? Looked at before any two chairs are compared."""

from collections.abc import Sequence
from math import exp, log, sqrt

from fresh_chair.core.figures.estimate import LEVEL, Estimate, t_quantile, too_wide
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.frozen import frozen


@frozen
class PositionEffect:
    """Time at this position, as a multiple of time at the first."""

    position: int
    ratio: Estimate


def position_effects(facts: Sequence[AttemptFact], *, level: float = LEVEL) -> tuple[PositionEffect, ...]:
    """How does time on task change from a person's first chair to the later ones, all else alike?

    Assumes that log hands time of completed attempts adds up from who, which task on which chair, and which position.

    Args:
        facts: Attempts; only completed first tries with time above 0 are used.
        level: Confidence level, between 0 and 1.

    Returns:
        One effect a later position; none where the data cannot tell position from the rest, or say nothing of it.

    Source: ordinary least squares on log time with indicator variables, intervals by t.
    """
    used = [fact for fact in facts if fact.outcome.completed and fact.first_try and fact.hands_seconds > 0]
    positions = sorted({fact.position for fact in used})
    if len(positions) < 2:
        return ()
    import numpy as np

    people = sorted({fact.participant for fact in used})
    cells = sorted({(fact.card, fact.chair) for fact in used})
    later = positions[1:]
    width = len(people) + len(cells) - 1 + len(later)
    design = np.zeros((len(used), width))
    for row, fact in enumerate(used):
        design[row, people.index(fact.participant)] = 1
        cell = cells.index((fact.card, fact.chair))
        if cell:
            design[row, len(people) + cell - 1] = 1
        if fact.position in later:
            design[row, width - len(later) + later.index(fact.position)] = 1
    times = np.array([log(fact.hands_seconds) for fact in used])
    degrees = len(used) - width
    if degrees < 1 or np.linalg.matrix_rank(design) < width:
        return ()
    weights, _, _, _ = np.linalg.lstsq(design, times, rcond=None)
    variance = float(((times - design @ weights) ** 2).sum()) / degrees
    inverse = np.linalg.inv(design.T @ design)
    reach = t_quantile(level, degrees)
    effects = []
    for index, position in enumerate(later, start=width - len(later)):
        half = reach * sqrt(variance * float(inverse[index, index]))
        count = sum(fact.position == position for fact in used)
        ratio = _ratio(float(weights[index]), half, count, level)
        if not too_wide(ratio.low, ratio.high):
            effects.append(PositionEffect(position, ratio))
    return tuple(effects)


def _ratio(middle: float, half: float, count: int, level: float) -> Estimate:
    ends = exp(middle - half), exp(middle + half)
    return Estimate(exp(middle), *ends, count, "least squares on log time, t interval", level)
