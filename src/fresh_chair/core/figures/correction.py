"""Corrections of p values for many comparisons."""

from collections.abc import Sequence


def holm(p_values: Sequence[float]) -> list[float]:
    """The p values, adjusted so that the chance of any false alarm among them all stays at the level.

    Args:
        p_values: Raw two-sided p values, any order.

    Returns:
        Adjusted values in the order given, at most 1, never below the raw ones.

    Source: Holm, S. (1979). A simple sequentially rejective multiple test procedure. Scand. J. Statistics 6, 65-70.

    >>> holm([0.01, 0.04])
    [0.02, 0.04]
    """
    order = sorted(range(len(p_values)), key=p_values.__getitem__)
    adjusted = [0.0] * len(p_values)
    highest = 0.0
    for rank, place in enumerate(order):
        highest = max(highest, min((len(p_values) - rank) * p_values[place], 1.0))
        adjusted[place] = highest
    return adjusted
