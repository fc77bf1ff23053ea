"""How firm a ranking is: drawn again from the estimates, from the people, and with all weights."""

from collections.abc import Mapping, Sequence
from math import sqrt

import numpy as np
from numpy.typing import NDArray

from fresh_chair.core.frozen import frozen

DRAWS = 1_000
Numbers = NDArray[np.float64]


@frozen
class Firmness:
    """How often each chair takes each rank.

    Attributes:
        chances: By chair: the chance of rank 1, 2, ...
        by_weights: By chair: the part of all weights with which it wins; empty with one criterion.
        draws: How many draws that stands on.
        how: By which way it was drawn, in words.
        constant: Whether nothing in it was drawn: all scores are the reviewer's own, or counts of findings.
    """

    chances: Mapping[str, tuple[float, ...]]
    by_weights: Mapping[str, float]
    draws: int
    how: str
    constant: bool = False

    def firm(self, chair: str, rank: int) -> bool:
        """Whether a chair's rank is firm: its chance is 0.95, of two chairs 0.975."""
        least = 0.975 if len(self.chances) == 2 else 0.95
        return self.chances[chair][rank - 1] >= least


@frozen
class DrawnRule:
    """How a figure that is drawn again comes to its part of the scale.

    Attributes:
        worst, best: The figure of the lowest score, and of the highest.
        by_logarithm: Whether people's parts are logarithms of the figure, as those of times are.
    """

    worst: float
    best: float
    weight: float
    by_logarithm: bool = False


def one_measure(
    letters: Sequence[str], effects: Numbers, covariance: Numbers, degrees: float, *, higher_wins: bool, seed: int = 1
) -> Firmness:
    """The ranks of one measure drawn from its own fit.

    Args:
        letters: The chairs; the first is the reference, whose effect is 0.
        effects: Of each chair.
        covariance: Of the effects, the reference's row and column 0.
        degrees: Of freedom; one chi-square a draw.
        higher_wins: False for times.
        seed: Of the draws.

    Source: b + chol(V) z / sqrt(u/df), z normal, u chi-square with df degrees: the multivariate t distribution.
    """
    generator = np.random.default_rng(seed)
    others = covariance[1:, 1:]
    root = np.linalg.cholesky(others + np.eye(len(others)) * 1e-15) if others.size else others
    normal = generator.normal(size=(DRAWS, len(letters) - 1))
    scale = np.sqrt(generator.chisquare(degrees, DRAWS) / degrees)
    drawn = np.zeros((DRAWS, len(letters)))
    drawn[:, 1:] = effects[1:] + (normal @ root.T) / scale[:, np.newaxis]
    return _told(letters, drawn if higher_wins else -drawn, {}, "from the fit of its one measure")


def several(
    letters: Sequence[str],
    people: Sequence[Mapping[tuple[int, str], tuple[float, float]]],
    score: Mapping[int, DrawnRule],
    constant: Mapping[tuple[int, str], float],
    *,
    sittings: int,
    degrees: int,
    seed: int = 1,
) -> Firmness:
    """The ranks of a scorecard with people drawn again, each draw widened about the estimate.

    Args:
        letters: The chairs.
        people: Each person's part of each drawn criterion at each chair, as a sum and how much it weighs; a chair's
            figure is the sum over people by the sum of the weights.
        score: Of each drawn criterion, how its figure is mapped, and its weight.
        constant: Weighted parts of the criteria that are not drawn, by criterion and chair.
        sittings: How many there are.
        degrees: Of freedom of the comparison: sittings less people, chairs and positions.
        seed: Of the draws.

    Source: resampled people; the plain bootstrap is too sure of itself, so each draw is widened about the estimate by
        sqrt((S - P) / df) t.95(df) / 1.645.
    """
    from scipy.special import stdtrit

    generator = np.random.default_rng(seed)
    count = len(people)
    drawn_criteria = sorted(score)
    picks = generator.integers(0, count, (DRAWS, count))
    times = np.zeros((DRAWS, count))
    for row in range(DRAWS):
        times[row] = np.bincount(picks[row], minlength=count)
    times = np.vstack([np.ones((1, count)), times])
    sums = np.zeros((DRAWS + 1, len(letters)))
    for criterion in drawn_criteria:
        rule = score[criterion]
        for at, letter in enumerate(letters):
            parts = np.array([person.get((criterion, letter), (0.0, 0.0)) for person in people])
            weights = times @ parts[:, 1]
            whole = float(parts[:, 0].sum() / parts[:, 1].sum())
            figure = np.where(weights > 0, (times @ parts[:, 0]) / np.where(weights > 0, weights, 1), whole)
            shown = np.exp(figure) if rule.by_logarithm else figure
            sums[:, at] += rule.weight * np.clip((shown - rule.worst) / (rule.best - rule.worst), 0, 1)
    for (_, letter), value in constant.items():
        sums[:, letters.index(letter)] += value
    wider = sqrt(max(sittings - count, 1) / degrees) * float(stdtrit(degrees, 0.95)) / 1.645
    drawn = sums[0] + (sums[1:] - sums[0]) * wider
    return _told(letters, drawn, {}, "from people drawn again, widened for the design")


def over_weights(letters: Sequence[str], parts: Mapping[str, Sequence[float]], *, seed: int = 1) -> dict[str, float]:
    """The part of all possible weights with which each chair wins; a tie is no win."""
    criteria = len(next(iter(parts.values()), ()))
    if criteria < 2:
        return {}
    weights = np.random.default_rng(seed).dirichlet(np.ones(criteria), DRAWS)
    sums = np.array([weights @ np.array(parts[letter]) for letter in letters]).T
    wins = _first_alone(sums)
    return {letter: float(wins[:, at].mean()) for at, letter in enumerate(letters)}


def _first_alone(sums: Numbers) -> NDArray[np.bool_]:
    others = np.sort(sums, axis=1)
    alone = others[:, -1] - others[:, -2] > 1e-9
    best: NDArray[np.bool_] = (sums >= others[:, -1:] - 1e-12) & alone[:, np.newaxis]
    return best


def _told(letters: Sequence[str], drawn: Numbers, weights: Mapping[str, float], how: str) -> Firmness:
    order = np.argsort(-drawn, axis=1, kind="stable")
    ranked = np.empty_like(order)
    np.put_along_axis(ranked, order, np.arange(len(letters))[np.newaxis, :].repeat(len(drawn), 0), axis=1)
    chances = {
        letter: tuple(float((ranked[:, at] == rank).mean()) for rank in range(len(letters)))
        for at, letter in enumerate(letters)
    }
    return Firmness(chances, dict(weights), DRAWS, how)
