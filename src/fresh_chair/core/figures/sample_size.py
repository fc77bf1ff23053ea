"""How many people: the power of a planned number, and its limits."""

from math import ceil, log, sqrt

from fresh_chair.core.figures.completion import adjusted_wald
from fresh_chair.core.figures.times import ratio_shown
from fresh_chair.core.plan.aims import Aim

MOST_PEOPLE = 500
POWER = 0.8
# The standard deviation, over people, of the log ratio of one person's times at two chairs, where no data says better:
# one person in three differs from the typical ratio by more than a factor of 1.65.
TYPICAL_SPREAD = 0.5


def chance_to_see(share: float, people: int) -> float:
    """Chance that at least one of `people` meets a problem that trips this share of newcomers.

    Assumes that people meet it independently of each other.

    Args:
        share: Part of all newcomers whom it trips, 0 to 1.
        people: Participants, 0 or more.

    Returns:
        Probability, 0 to 1.

    Source: Virzi, R. A. (1992). Refining the test phase of usability evaluation. Human Factors 34, 457-468: 1-(1-p)^n.

    >>> round(chance_to_see(0.31, 5), 2)
    0.84
    """
    return 1.0 - (1.0 - share) ** people


def people_to_see(share: float, chance: float = POWER) -> int:
    """Fewest people with whom a problem of this share is seen at least once with this chance.

    Raises:
        ValueError: Where share or chance is not between 0 and 1.

    >>> people_to_see(1 / 3, 0.8)
    4
    """
    if not (0 < share < 1 and 0 < chance < 1):
        raise ValueError("share and chance lie between 0 and 1")
    return ceil(round(log(1 - chance) / log(1 - share), 9))


def half_width(people: int) -> float:
    """Half the width of the 95 % adjusted Wald interval of a completion rate, at its widest (half of them completed).

    Args:
        people: Participants, 1 or more.

    Returns:
        A share, 0 to 1.

    Source: Agresti & Coull (1998), The American Statistician 52, 119-126; at x = n/2 the centre stays 1/2, so that an
        odd n is taken at its real-valued middle: z * sqrt(0.25 / (n + z^2)).
    """
    if people % 2 == 0:
        interval = adjusted_wald(people // 2, people)
        if interval.low is not None and interval.high is not None:
            return (interval.high - interval.low) / 2
    z = 1.959963984540054
    return z * sqrt(0.25 / (people + z * z))


def people_for_half_width(width: float) -> int:
    """Fewest people with whom a completion interval never reaches further than `width` to either side.

    Raises:
        ValueError: Where no number up to 500 is enough.
    """
    for people in range(1, MOST_PEOPLE + 1):
        if half_width(people) <= width:
            return people
    raise ValueError(f"not even {MOST_PEOPLE} people are enough")


def people_for_ratio(ratio: float, spread: float = TYPICAL_SPREAD) -> int:
    """Fewest people who must sit at both chairs to show this ratio of times.

    Raises:
        ValueError: Where the ratio is not above 1, or no number up to 500 is enough.
    """
    if ratio <= 1:
        raise ValueError("a ratio of times to be shown is above 1")
    low, high = 2, MOST_PEOPLE
    if ratio_shown(high, spread) > ratio:
        raise ValueError(f"not even {MOST_PEOPLE} people are enough")
    while low < high:
        middle = (low + high) // 2
        low, high = (low, middle) if ratio_shown(middle, spread) <= ratio else (middle + 1, high)
    return low


def people_for(aim: Aim, spread: float = TYPICAL_SPREAD) -> int:
    """People at each chair that an aim takes."""
    if aim.id == "see":
        return people_to_see(aim.target)
    return people_for_ratio(aim.target, spread) if aim.id == "ratio" else people_for_half_width(aim.target)


def reached(aim: Aim, people: int, spread: float = TYPICAL_SPREAD) -> float:
    """The aim as far as n people reach it: a chance for "see", a time ratio for "ratio", a half width for "width"."""
    if aim.id == "see":
        return chance_to_see(aim.target, people)
    if aim.id == "ratio":
        return ratio_shown(people, spread) if people >= 2 else float("inf")
    return half_width(people) if people else 1.0
