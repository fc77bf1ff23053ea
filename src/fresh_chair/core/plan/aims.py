"""A study's possible aims, with the target that decides how many people it takes."""

from fresh_chair.core.frozen import frozen


@frozen
class Aim:
    """One thing a study may be meant to find out, with the numbers that decide how many people it takes."""

    id: str
    words: str
    target: float


AIMS = (
    Aim("see", "find what trips a third of newcomers", 1 / 3),
    Aim("width", "hold a completion rate within 20 points either way", 0.20),
)
