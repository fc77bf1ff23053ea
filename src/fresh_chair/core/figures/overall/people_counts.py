"""How many people did better where, counted over the tasks that each did at both chairs; facts, not fitted effects."""

from collections.abc import Callable, Mapping, Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from fresh_chair.core.figures.overall.estimates import NOTHING, OverallMeasure, SignFlip
from fresh_chair.core.figures.overall.rows import Compared, ComparedRow, Seated
from fresh_chair.core.sitting.state.outcome import Outcome

# From so many people on a sign flip is drawn from the seed instead of gone through.
_EXACT = 12
_DRAWS = 10_000
# The value of one attempt by which people are counted; None where it has none.
_VALUES: Mapping[OverallMeasure, Callable[[ComparedRow], float | None]] = {
    "completed unaided": lambda row: float(row.outcome is Outcome.UNAIDED),
    "completed": lambda row: float(row.outcome.completed),
    "time": lambda row: row.log_seconds if row.outcome.completed else None,
    "ease": lambda row: None if row.ease is None else float(row.ease),
}


def own_differences(
    measure: OverallMeasure,
    compared: Compared,
    pair: tuple[str, str],
    *,
    scores: Mapping[Seated, float],
    shares: Mapping[tuple[str, str, str], float],
) -> list[float]:
    """Each person's own difference over the tasks done at both chairs, the first chair less the second.

    Args:
        measure: Which of them; log seconds for times.
        compared: The rows of the study.
        pair: The chairs.
        scores: The System Usability Scale's score of each sitting.
        shares: Who fared better, by person and two chairs.

    Returns:
        One a person who did a task at both, in the order of their codes.
    """
    first, second = pair
    if measure == "who fared better":
        return [shares[key] for key in sorted(shares) if key[1:] == pair]
    if measure == "satisfaction":
        both = sorted(person for person, chair in scores if chair == first and (person, second) in scores)
        return [scores[person, first] - scores[person, second] for person in both]
    value = _VALUES[measure]
    return [
        sum(a - b for a, b in done) / len(done) for done in values_at_both(compared.rows, pair, value).values() if done
    ]


def values_at_both(
    rows: Sequence[ComparedRow], pair: tuple[str, str], value: Callable[[ComparedRow], float | None]
) -> dict[str, list[tuple[float, float]]]:
    """For each person with a value at both chairs: the values of each task there, first chair and second."""
    by_chair: dict[str, dict[tuple[str, str], float]] = {chair: {} for chair in pair}
    for row in rows:
        told = value(row) if row.chair in by_chair else None
        if told is not None:
            by_chair[row.chair][row.person, row.card] = told
    first, second = (by_chair[chair] for chair in pair)
    found: dict[str, list[tuple[float, float]]] = {}
    for person, card in sorted(first.keys() & second.keys()):
        found.setdefault(person, []).append((first[person, card], second[person, card]))
    return found


def counted(differences: Sequence[float], *, lower_wins: bool) -> tuple[int, int, int]:
    """How many differences favour the first, the second, neither; below 1e-9 they are even."""
    told = [0.0 if abs(each) < NOTHING else each for each in differences]
    first = sum((each < 0) if lower_wins else (each > 0) for each in told)
    even = sum(each == 0 for each in told)
    return first, len(told) - first - even, even


def sign_flip(
    differences: Sequence[float], *, own: Sequence[float] | None = None, lower_wins: bool = False, seed: int = 1
) -> SignFlip:
    """How many people fared better at the first chair, and how odd that would be if signs were drawn?

    Args:
        differences: One a person, the first chair less the second; below 1e-9 they are even.
        own: The differences by which people are counted; the same where they are not given.
        lower_wins: True for times.
        seed: Of the draws beyond twelve people.

    >>> sign_flip([1.0, 1.0, 1 / 3, 1 / 3, 2 / 3]).p
    0.0625
    """
    counts = counted(differences if own is None else own, lower_wins=lower_wins)
    told = [0.0 if abs(each) < NOTHING else each for each in differences]
    if not told:
        return SignFlip(*counts, None)
    values = np.array(told)
    observed = abs(float(values.sum()))
    signs = _signs(len(told), seed)
    sums = np.abs(signs @ values)
    return SignFlip(*counts, float((sums >= observed - NOTHING).mean()))


@lru_cache(maxsize=8)
def _signs(people: int, seed: int) -> NDArray[np.float64]:
    """All signs of so few, or as many draws of them as are drawn: a row each."""
    if people <= _EXACT:
        bits = (np.arange(2**people)[:, np.newaxis] >> np.arange(people)) & 1
    else:
        bits = np.random.default_rng(seed).integers(0, 2, (_DRAWS, people))
    return (2 * bits - 1).astype(np.float64)
