"""Discovery: how many of the problems were found, and how many are likely still unseen."""

from collections.abc import Collection, Sequence
from math import ceil, comb, log

from fresh_chair.core.frozen import frozen

# The share that planning aims at.
GOAL = 0.85
_MOST_PEOPLE = 10_000


@frozen
class Discovery:
    """The share of the problems that was found, and the likely total.

    Attributes:
        participants, problems: How many people were looked at, and how many problems they met.
        once: How many of the problems one person alone met.
        curve: Expected number of problems found by 1, 2, ... people, averaged over all orders; of length participants.
        raw: Observed discovery rate: the mean share of the problems that one person met; None where there are none.
        adjusted: The rate adjusted for a small sample; None below two people, or where there are no problems.
        total: How many problems there are likely to be at that rate; None where `adjusted` is.
        more: How many more people find 85 % of them; None where `adjusted` is.
    """

    participants: int
    problems: int
    once: int
    curve: tuple[float, ...]
    raw: float | None
    adjusted: float | None
    total: float | None
    more: int | None

    @property
    def found(self) -> float | None:
        """The share of the likely total that was found, 0 to 1."""
        return None if not self.total else self.problems / self.total


def discovery(participants: Collection[str], met_by: Sequence[Collection[str]]) -> Discovery:
    """How many of the problems were found: the question that decides whether to seat more newcomers.

    It assumes that people are alike in what they meet, and that problems are; a study whose problems differ much
    underestimates what is left.

    Args:
        participants: Codes of the people who count.
        met_by: For each problem the codes of those who met it; others than participants are left out, and so is a
            problem that none of them met.

    Returns:
        The rates are shares, 0 to 1; `total` is a number of problems, at least as many as were found.

    Source:
        Curve over all orders: the expected number of distinct items in a sample without replacement. Adjustment:
        Lewis (2001), the mean of the normalised rate (p - 1/n)(1 - 1/n) and the Turing-Good one p / (1 + E(N1)/N),
        with E(N1)/N the share of problems met once. Total and people: 1 - (1 - p)^n.

    >>> discovery(["P1", "P2"], [["P1", "P2"], ["P1"]]).curve
    (1.5, 2.0)
    """
    people = set(participants)
    counts = [count for each in met_by if (count := len(people & set(each)))]
    n, problems = len(people), len(counts)
    once = sum(count == 1 for count in counts)
    curve = tuple(sum(1 - comb(n - count, k) / comb(n, k) for count in counts) for k in range(1, n + 1))
    if not problems:
        return Discovery(n, 0, 0, curve, None, None, None, None)
    raw = sum(counts) / (n * problems)
    if n < 2:
        return Discovery(n, problems, once, curve, raw, None, None, None)
    adjusted = adjusted_rate(raw, participants=n, once=once / problems)
    found = 1 - (1 - adjusted) ** n
    return Discovery(n, problems, once, curve, raw, adjusted, problems / found, _more(adjusted, n))


def adjusted_rate(raw: float, *, participants: int, once: float) -> float:
    """A discovery rate adjusted for a small sample, kept between 1/1000 and 1.

    Args:
        raw: The observed rate, 0 to 1.
        participants: How many people; at least two.
        once: The share of problems that one person alone met.

    Source:
        Lewis, J. R. (2001), Evaluation of procedures for adjusting problem-discovery rates estimated from small
        samples, International Journal of Human-Computer Interaction 13 (4): the mean of the two estimates.

    >>> round(adjusted_rate(0.5, participants=4, once=0.5), 4)
    0.2604
    """
    normalised = (raw - 1 / participants) * (1 - 1 / participants)
    turing_good = raw / (1 + once)
    return min(max((normalised + turing_good) / 2, 0.001), 1.0)


def _more(rate: float, people: int) -> int:
    """How many more people it takes to find the share aimed at."""
    if rate >= 1:
        return 0
    needed = ceil(log(1 - GOAL) / log(1 - rate) - 1e-9)
    return min(max(needed - people, 0), _MOST_PEOPLE)
