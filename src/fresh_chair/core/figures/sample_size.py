"""How many people: the chance to see a trouble, and how sure a share is; a winner's chances are simulated."""

from math import ceil, log, sqrt

from fresh_chair.core.figures.completion import adjusted_wald
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


def people_for(aim: Aim) -> int:
    """People at each chair that an aim takes."""
    return people_to_see(aim.target) if aim.id == "see" else people_for_half_width(aim.target)


def reached(aim: Aim, people: int) -> float:
    """The aim as far as n people reach it: a chance for "see", a half width for "width"."""
    if aim.id == "see":
        return chance_to_see(aim.target, people)
    return half_width(people) if people else 1.0
