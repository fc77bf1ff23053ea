"""Stage two: chairs against each other, person and position taken out; and completion with its own scatter."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from math import sqrt

import numpy as np

from fresh_chair.core.figures.overall.estimates import FEWEST, NOBODY_DIFFERS, NOTHING, PairEstimate, PositionShift
from fresh_chair.core.figures.overall.first_stage import SINGULAR
from fresh_chair.core.figures.overall.links import TaskLink, with_link
from fresh_chair.core.figures.overall.rows import Compared, Seated
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import count_of


def stage_two(
    compared: Compared,
    effects: Mapping[Seated, float],
    pairs: Sequence[tuple[str, str]],
    *,
    link: TaskLink | None = None,
) -> tuple[list[PairEstimate], list[PositionShift]]:
    """How do chairs differ on a measure, people and positions alike?

    Least squares of the sittings' effects on person, chair and position; unadjusted for position a lopsided order
    names a false winner.

    Args:
        compared: The rows of the study.
        effects: One a sitting, from stage one or as it is.
        pairs: The pairs of chairs that are asked for.
        link: How sittings hang together by their tasks; None for a measure without tasks.

    Returns:
        An estimate a pair, or why there is none; and the positions' own effects.
    """
    matrix, values, people, chairs, later = _columns(compared, effects)
    fit = _Fit(matrix, values)
    found = [_pair(compared, effects, fit, people, chairs, pair, link) for pair in pairs]
    shifts = []
    for index, position in enumerate(later):
        contrast = np.zeros(matrix.shape[1])
        contrast[len(people) + len(chairs) - 1 + index] = 1
        told = fit.estimate(contrast)
        if told is None or fit.degrees < 1:
            continue
        wider = with_link(told[1], fit.degrees, fit.sittings_of(contrast), link)
        if not isinstance(wider, str):
            shifts.append(PositionShift(position, told[0], *wider))
    return found, shifts


@frozen
class ChairEffects:
    """The chairs' effects of one fit, the first chair 0; with their covariance, as rows of numbers."""

    letters: tuple[str, ...]
    values: tuple[float, ...]
    covariance: tuple[tuple[float, ...], ...]
    degrees: float


def chair_effects(
    compared: Compared, effects: Mapping[Seated, float], *, link: TaskLink | None = None
) -> ChairEffects | None:
    """All chairs' effects at once, people and positions alike; None where the rows cannot tell them.

    The covariance holds the error of the tasks' effects that all people share, too.
    """
    matrix, values, people, chairs, _ = _columns(compared, effects)
    fit = _Fit(matrix, values)
    if len(chairs) < 2 or fit.degrees < 2:
        return None
    first = len(people)
    found, asked = [0.0], []
    for at in range(len(chairs) - 1):
        contrast = np.zeros(matrix.shape[1])
        contrast[first + at] = 1
        told = fit.estimate(contrast)
        if told is None:
            return None
        found.append(told[0])
        asked.append(fit.sittings_of(contrast))
    shared = link.shared_covariance(np.array(asked)) if link is not None else 0.0
    if shared is None:
        return None
    covariance = np.zeros((len(chairs), len(chairs)))
    covariance[1:, 1:] = fit.covariance[first : first + len(chairs) - 1, first : first + len(chairs) - 1] + shared
    rows = tuple(tuple(float(each) for each in row) for row in covariance)
    return ChairEffects(tuple(chairs), tuple(found), rows, fit.degrees)


def _columns(
    compared: Compared, effects: Mapping[Seated, float]
) -> tuple[np.ndarray, np.ndarray, list[str], list[str], list[int]]:
    """The columns of person, chair and position with the values; then the people, the chairs, the later positions."""
    seated = sorted(s for s in effects if s in compared.positions)
    people, chairs = sorted({p for p, _ in seated}), [c for c in compared.chairs if any(c == s[1] for s in seated)]
    later = sorted({compared.positions[s] for s in seated})[1:]
    matrix = np.zeros((len(seated), len(people) + max(len(chairs) - 1, 0) + len(later)))
    for index, (person, chair) in enumerate(seated):
        matrix[index, people.index(person)] = 1
        if chairs.index(chair):
            matrix[index, len(people) + chairs.index(chair) - 1] = 1
        position = compared.positions[person, chair]
        if position in later:
            matrix[index, len(people) + len(chairs) - 1 + later.index(position)] = 1
    return matrix, np.array([effects[s] for s in seated]), people, chairs, later


class _Fit:
    """Least squares with the estimates its rows allow."""

    def __init__(self, matrix: np.ndarray, values: np.ndarray) -> None:
        self.rank = int(np.linalg.matrix_rank(matrix)) if matrix.size else 0
        self.degrees = len(values) - self.rank
        self._inverse = (
            np.linalg.pinv(matrix.T @ matrix, rcond=SINGULAR, hermitian=True) if matrix.size else np.zeros((0, 0))
        )
        self._by_sitting = self._inverse @ matrix.T if matrix.size else np.zeros((0, 0))
        self.weights = self._by_sitting @ values if matrix.size else np.zeros(0)
        self._space = self._inverse @ (matrix.T @ matrix) if matrix.size else np.zeros((0, 0))
        residuals = values - matrix @ self.weights if matrix.size else values
        self.scatter = sqrt(float(residuals @ residuals) / self.degrees) if self.degrees > 0 else 0.0

    @property
    def covariance(self) -> np.ndarray:
        """Of the weights."""
        return self._inverse * self.scatter**2

    def sittings_of(self, contrast: np.ndarray) -> np.ndarray:
        """How much each sitting's effect weighs in a contrast."""
        weighed: np.ndarray = contrast @ self._by_sitting
        return weighed

    def estimate(self, contrast: np.ndarray) -> tuple[float, float] | None:
        """A contrast and its standard error; None where the rows cannot tell it."""
        if not contrast.size or float(np.abs(contrast @ self._space - contrast).max()) > 1e-7:
            return None
        variance = float(contrast @ self._inverse @ contrast)
        return float(contrast @ self.weights), self.scatter * sqrt(max(variance, 0.0))


def _pair(
    compared: Compared,
    effects: Mapping[Seated, float],
    fit: _Fit,
    people: Sequence[str],
    chairs: Sequence[str],
    pair: tuple[str, str],
    link: TaskLink | None,
) -> PairEstimate:
    first, second = pair
    both = [p for p in compared.at_both(first, second) if (p, first) in effects and (p, second) in effects]
    differences = tuple(effects[p, first] - effects[p, second] for p in both)
    open_pair = PairEstimate(first, second, len(both), differences=differences)
    why = why_not(compared, both, pair)
    if why:
        return replace(open_pair, why=why)
    contrast = np.zeros(len(fit.weights))
    for chair, sign in ((first, 1.0), (second, -1.0)):
        if chairs.index(chair):
            contrast[len(people) + chairs.index(chair) - 1] = sign
    told = fit.estimate(contrast)
    if told is None:
        return replace(open_pair, why="order and chair cannot be told apart")
    if fit.degrees < 2:
        return replace(open_pair, why="too few sittings are left once people and positions are taken out")
    if fit.scatter < NOTHING:
        return replace(open_pair, why=_without_scatter(differences))
    wider = with_link(told[1], fit.degrees, fit.sittings_of(contrast), link)
    if isinstance(wider, str):
        return replace(open_pair, why=wider)
    return replace(open_pair, value=told[0], error=wider[0], degrees=wider[1])


def _without_scatter(differences: Sequence[float]) -> str:
    """Why differences that do not scatter tell nothing: there are none, or all are the same."""
    if all(abs(each) < NOTHING for each in differences):
        return NOBODY_DIFFERS
    return "everybody differs in the same way, and without scatter nothing says how sure that is"


def paired_difference_by_order(
    compared: Compared,
    effects: Mapping[Seated, float],
    pair: tuple[str, str],
    *,
    link: TaskLink | None = None,
) -> PairEstimate:
    """How do two chairs differ in completion, each order of them counted alike?

    The mean of both order groups' mean differences, with the scatter within the groups.

    Args:
        compared: The rows of the study.
        effects: Completion of each sitting from stage one.
        pair: The chairs.
        link: How sittings hang together by their tasks.
    """
    first, second = pair
    earlier, later = (
        [p for p in group if (p, first) in effects and (p, second) in effects]
        for group in compared.order_groups(first, second)
    )
    groups = [[effects[p, first] - effects[p, second] for p in group] for group in (earlier, later)]
    differences = (*groups[0], *groups[1])
    both = [*earlier, *later]
    open_pair = PairEstimate(first, second, len(both), differences=differences)
    why = why_not(compared, both, pair)
    degrees = len(both) - 2
    if not why and degrees < 2:
        why = "too few people were at both"
    if why:
        return replace(open_pair, why=why)
    means = [sum(group) / len(group) for group in groups]
    squares = sum((each - mean) ** 2 for group, mean in zip(groups, means, strict=True) for each in group)
    scatter = sqrt(squares / degrees)
    if scatter < NOTHING:
        return replace(open_pair, why=_without_scatter(differences))
    error = scatter / 2 * sqrt(1 / len(groups[0]) + 1 / len(groups[1]))
    weights = _order_weights(link, (earlier, later), pair) if link is not None else np.zeros(0)
    wider = with_link(error, degrees, weights, link)
    if isinstance(wider, str):
        return replace(open_pair, why=wider)
    return replace(open_pair, value=sum(means) / 2, error=wider[0], degrees=wider[1])


def _order_weights(link: TaskLink, groups: Sequence[Sequence[str]], pair: tuple[str, str]) -> np.ndarray:
    """How much each sitting's effect weighs in the mean of both order groups' differences."""
    at = {seated: index for index, seated in enumerate(link.sittings)}
    weights = np.zeros(len(at))
    for group in groups:
        for person in group:
            weights[at[person, pair[0]]] = 1 / (2 * len(group))
            weights[at[person, pair[1]]] = -1 / (2 * len(group))
    return weights


def why_not(compared: Compared, both: Sequence[str], pair: tuple[str, str]) -> str:
    """Why a pair can tell nothing on any measure; empty where it may."""
    if len(both) < FEWEST:
        return f"{count_of(len(both), 'person was', 'people were')} at both, and it takes {FEWEST}"
    earlier = [p for p in both if compared.positions[p, pair[0]] < compared.positions[p, pair[1]]]
    if len(earlier) in (0, len(both)):
        return "all of them sat at the same one first"
    return ""
