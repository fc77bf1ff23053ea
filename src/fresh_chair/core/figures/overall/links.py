"""The tasks that chairs have in common, and the error of these tasks that all people share."""

from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from fresh_chair.core.figures.overall.estimates import FEWEST_TASKS, OverallMeasure
from fresh_chair.core.figures.overall.first_stage import SINGULAR, time_rows
from fresh_chair.core.figures.overall.rows import Compared, ComparedRow, Seated
from fresh_chair.core.frozen import frozen

Numbers = NDArray[np.float64]
# So many people at each chair make a task one that was done there.
_TWICE = 2
# A link that leaves more than this of a contrast over cannot carry it.
_REACHED = 1e-7


def tasks_of(compared: Compared) -> tuple[str, ...]:
    """The tasks that anybody attempted anywhere, sorted."""
    return tuple(sorted({row.card for row in compared.rows}))


def in_common(measure: OverallMeasure, compared: Compared, chairs: Sequence[str]) -> tuple[str, ...]:
    """The tasks that at least two people did at each of some chairs, in the way the measure asks for.

    Done is: an attempt (completion), a rating (ease), a completed time once what never was completed is dropped
    (time); for who fared better two people have to have attempted it at all of these chairs.
    """
    if measure == "who fared better":
        return _attempted_by_the_same(compared.rows, chairs)
    people: dict[tuple[str, str], set[str]] = {}
    for row in _rows_that_link(measure, compared):
        people.setdefault((row.card, row.chair), set()).add(row.person)
    cards = sorted({card for card, _ in people})
    return tuple(card for card in cards if all(len(people.get((card, c), ())) >= _TWICE for c in chairs))


def _rows_that_link(measure: OverallMeasure, compared: Compared) -> Sequence[ComparedRow]:
    if measure == "time":
        return [row for row in time_rows(compared)[0] if row.outcome.completed]
    if measure == "ease":
        return [row for row in compared.rows if row.ease is not None]
    return compared.rows


def _attempted_by_the_same(rows: Sequence[ComparedRow], chairs: Sequence[str]) -> tuple[str, ...]:
    attempted: dict[str, dict[str, set[str]]] = {}
    for row in rows:
        attempted.setdefault(row.card, {}).setdefault(row.chair, set()).add(row.person)
    found = []
    for card, by_chair in sorted(attempted.items()):
        everywhere = set.intersection(*(by_chair.get(chair, set()) for chair in chairs))
        if len(everywhere) >= _TWICE:
            found.append(card)
    return tuple(found)


def too_few_in_common(common: Sequence[str], tasks: Sequence[str]) -> bool:
    """Whether so few tasks were done at both that nothing can be told of a pair."""
    return len(common) < min(FEWEST_TASKS, len(tasks))


def over_tasks(compared: Compared, cards: Sequence[str]) -> Compared:
    """The rows of some tasks alone, at every chair; positions stay as they were."""
    kept = set(cards)
    rows = tuple(row for row in compared.rows if row.card in kept)
    return compared if len(rows) == len(compared.rows) else replace(compared, rows=rows)


@frozen
class TaskLink:
    """How sittings hang together by their tasks in stage one: the tasks' error is shared by all people.

    Attributes:
        sittings: In the order of the rows of `crossed`.
        crossed: How many rows a sitting has of a task; an array of sittings by tasks.
        variance: Residual variance of stage one.
        degrees: Of freedom of that variance.
    """

    sittings: tuple[Seated, ...]
    crossed: Numbers
    variance: float
    degrees: int

    @property
    def complete(self) -> bool:
        """Whether every sitting has every task, so that tasks weigh nothing in any difference of chairs."""
        return bool((self.crossed == 1).all())

    def task_weights(self, weights: Numbers) -> Numbers:
        """How much each task's effect weighs in a contrast of sittings' effects.

        Args:
            weights: The contrast, by sitting.
        """
        weighed: Numbers = (weights / self.crossed.sum(axis=1)) @ self.crossed
        return weighed

    def shared(self, weights: Numbers) -> float | None:
        """The variance of a contrast that comes from the tasks' effects, in units of stage one's.

        Args:
            weights: The contrast, by sitting.

        Returns:
            w' C+ w; None where the tasks and the contrast cannot be told apart.
        """
        if self.complete:
            return 0.0
        asked = self.task_weights(weights)
        spread, inverse = _task_spread(self.crossed.tobytes(), *self.crossed.shape)
        carried = inverse @ asked
        if float(np.abs(asked - spread @ carried).max()) > _REACHED:
            return None
        return max(float(asked @ carried), 0.0)

    def shared_covariance(self, contrasts: Numbers) -> Numbers | None:
        """The same for several contrasts at once, as a matrix: s1^2 W C+ W'; None where one cannot be told apart.

        Args:
            contrasts: A row each, by sitting.
        """
        size = len(contrasts)
        if self.complete:
            return np.zeros((size, size))
        asked = np.array([self.task_weights(row) for row in contrasts])
        spread, inverse = _task_spread(self.crossed.tobytes(), *self.crossed.shape)
        if float(np.abs(asked - asked @ inverse @ spread).max()) > _REACHED:
            return None
        covariance: Numbers = self.variance * asked @ inverse @ asked.T
        return covariance


@lru_cache(maxsize=16)
def _task_spread(crossed_bytes: bytes, sittings: int, tasks: int) -> tuple[Numbers, Numbers]:
    """The normal equations of tasks with the sittings taken out, and their pseudo-inverse."""
    crossed = np.frombuffer(crossed_bytes).reshape(sittings, tasks)
    shares = crossed / crossed.sum(axis=1, keepdims=True)
    spread = np.diag(crossed.sum(axis=0)) - crossed.T @ shares
    return spread, np.linalg.pinv(spread, rcond=SINGULAR, hermitian=True)


def with_link(error: float, degrees: float, weights: Numbers, link: TaskLink | None) -> tuple[float, float] | str:
    """A contrast's standard error and degrees of freedom with the tasks' shared error; a link makes nothing firmer.

    Args:
        error: Standard error from stage two.
        degrees: Its degrees of freedom.
        weights: The contrast, by sitting.
        link: From stage one; None where a measure has no tasks.

    Returns:
        Whichever of both pairs gives the longer 95 % interval; or why there is neither.

    Source:
        Satterthwaite (1946), Biometrics Bulletin 2, 110-114.
    """
    if link is None:
        return error, degrees
    shared = link.shared(weights)
    if shared is None:
        return "tasks and chairs cannot be told apart"
    if shared <= _REACHED**2:
        return error, degrees
    if link.degrees < 1:
        return "too few attempts are left once sittings and tasks are taken out"
    from scipy.special import stdtrit

    own, added = error**2, link.variance * shared
    both = own + added
    if both <= 0:
        return error, degrees
    joined = both**2 / (own**2 / degrees + added**2 / link.degrees)
    wider = both**0.5
    longer = stdtrit(joined, 0.975) * wider > stdtrit(degrees, 0.975) * error
    return (wider, joined) if longer else (error, degrees)
