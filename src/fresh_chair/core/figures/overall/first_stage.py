"""Stage one: how each sitting went over the tasks it had, with the tasks' own difficulty taken out."""

from collections.abc import Callable, Sequence
from functools import lru_cache
from math import log

import numpy as np
from numpy.typing import NDArray

from fresh_chair.core.figures.overall.rows import Compared, ComparedRow, Seated
from fresh_chair.core.frozen import frozen
from fresh_chair.core.sitting.state.outcome import Outcome

Numbers = NDArray[np.float64]
# A part of the largest below which a direction is none: rounding lies at a hundred-thousandth of that.
SINGULAR = 1e-10
# Where the fixed point starts, and how far the scatter of log times may go.
_START, _LEAST, _MOST, _SETTLED, _STEPS = 0.4, 0.1, 2.0, 1e-10, 2_000


@frozen
class SittingEffects:
    """An effect a sitting, on the scale of its measure; higher is better but for times.

    Attributes:
        tasks: The effect of each task; they add up to nothing.
        rows: How many attempts it stands on.
        scatter: Residual standard deviation; None where there are no tasks to fit.
        degrees: Of freedom of the scatter.
        crossed: How many rows each sitting has of each task, as an array in the order of both; None without tasks.
        dropped: Sittings and tasks without a completed attempt, in words.
        why: Why there is none; empty where there is.
    """

    effects: dict[Seated, float]
    tasks: dict[str, float]
    rows: int
    scatter: float | None = None
    degrees: int = 0
    crossed: Numbers | None = None
    dropped: tuple[str, ...] = ()
    why: str = ""


# Measures share their layout: all attempts have an outcome, and most of them an ease.
@lru_cache(maxsize=6)
def _inverted(crossed_bytes: bytes, sittings: int, tasks: int) -> tuple[Numbers, Numbers, int]:
    """How all effects come from the free ones, the inverse of the normal equations of sittings by tasks, their rank."""
    crossed = np.frombuffer(crossed_bytes).reshape(sittings, tasks)
    both = np.block([[np.diag(crossed.sum(1)), crossed], [crossed.T, np.diag(crossed.sum(0))]])
    # The last task's effect is what the others leave.
    spread = np.eye(sittings + tasks, sittings + tasks - 1)
    spread[-1, sittings:] = -1
    normal = spread.T @ both @ spread
    rank = int(np.linalg.matrix_rank(normal, hermitian=True))
    return spread, np.linalg.pinv(normal, rcond=SINGULAR, hermitian=True) @ spread.T, rank


class _Layout:
    """The columns of sittings and tasks for some rows: task effects add up to nothing.

    By the normal equations, which are as small as sittings and tasks are few, however many rows there are.
    """

    def __init__(self, rows: Sequence[ComparedRow]) -> None:
        self.sittings = sorted({row.seated for row in rows})
        self.tasks = sorted({row.card for row in rows})
        at, of = {s: i for i, s in enumerate(self.sittings)}, {t: i for i, t in enumerate(self.tasks)}
        self._seated = np.array([at[row.seated] for row in rows])
        self._task = np.array([of[row.card] for row in rows])
        self.crossed = np.zeros((len(at), len(of)))
        np.add.at(self.crossed, (self._seated, self._task), 1)
        self._spread, self._inverse, self.rank = _inverted(self.crossed.tobytes(), len(at), len(of))

    def fitted(self, values: Numbers) -> tuple[Numbers, Numbers]:
        """The effects, and the fitted values."""
        sums = np.concatenate(
            (
                np.bincount(self._seated, values, len(self.sittings)),
                np.bincount(self._task, values, len(self.tasks)),
            )
        )
        effects = self._inverse @ sums
        every = self._spread @ effects
        return effects, every[self._seated] + every[len(self.sittings) + self._task]

    def told(self, effects: Numbers, rows: int, **more: object) -> SittingEffects:
        count = len(self.sittings)
        tasks = [float(each) for each in effects[count:]]
        tasks.append(-sum(tasks))
        sittings = {seated: float(effects[i]) for i, seated in enumerate(self.sittings)}
        by_task = dict(zip(self.tasks, tasks, strict=True))
        return SittingEffects(sittings, by_task, rows, crossed=self.crossed, **more)  # type: ignore[arg-type]


def sitting_effects(compared: Compared, value: Callable[[ComparedRow], float | None]) -> SittingEffects:
    """How did each sitting go on a measure, its tasks' own difficulty taken out?

    Least squares: the value is the sitting's effect and the task's, these adding up to nothing.

    Args:
        compared: The rows of the study.
        value: The measure of a row; None where it has none.

    Returns:
        The effects, unweighted; none where no row has a value.
    """
    rows = [row for row in compared.rows if value(row) is not None]
    if not rows:
        return SittingEffects({}, {}, 0, why="no attempt has a value")
    layout = _Layout(rows)
    values = np.array([value(row) for row in rows], dtype=np.float64)
    effects, fitted = layout.fitted(values)
    degrees = len(rows) - layout.rank
    scatter = float(np.sqrt(((values - fitted) ** 2).sum() / degrees)) if degrees > 0 else None
    return layout.told(effects, len(rows), scatter=scatter, degrees=max(degrees, 0))


def time_effects(compared: Compared) -> SittingEffects:
    """How long did each sitting take over its tasks, those cut at the limit taken for longer than that?

    Log hands time of completed attempts; out of time is right-censored at the hands time at which it ended; partly,
    gave up and blocked have no row, since censoring them would invent a faster chair where one is a dead end.

    Returns:
        Effects in log seconds, with the sittings and tasks that had to be dropped; none where nothing is left, the
        degrees of freedom are below one, or the fit does not settle.

    Source:
        Least squares for censored data by a fixed point: Schmee & Hahn (1979), Technometrics 21, 417-432.
    """
    rows, dropped = time_rows(compared)
    if not rows:
        return SittingEffects({}, {}, 0, dropped=dropped, why="no attempt was completed")
    layout = _Layout(rows)
    degrees = len(rows) - len(layout.sittings) - len(layout.tasks) + 1
    if degrees < 1:
        return SittingEffects({}, {}, len(rows), dropped=dropped, why="too few attempts for a fit of times")
    ends = np.array([row.log_seconds for row in rows])
    censored = np.array([not row.outcome.completed for row in rows])
    settled = _settled(layout, ends, censored, degrees)
    if settled is None:
        return SittingEffects({}, {}, len(rows), dropped=dropped, why="the fit of times did not settle")
    effects, scatter = settled
    return layout.told(effects, len(rows), scatter=scatter, degrees=degrees, dropped=dropped)


def limit_effects(compared: Compared) -> SittingEffects:
    """The same with all who did not complete counted as the limit, for the gate on a winner in time."""

    def at_limit(row: ComparedRow) -> float:
        return row.log_seconds if row.outcome.completed else log(max(row.limit_seconds, row.hands_seconds, 0.1))

    return sitting_effects(compared, at_limit)


def _settled(layout: _Layout, ends: Numbers, censored: NDArray[np.bool_], degrees: int) -> tuple[Numbers, float] | None:
    """The effects and the scatter of the censored fit; None where it does not settle."""
    from scipy.special import log_ndtr

    values, scatter = np.where(censored, ends + 0.2, ends), _START
    for _ in range(_STEPS):
        _, fitted = layout.fitted(values)
        z = (ends - fitted) / scatter
        # By logarithms, so that it holds for a z far out.
        hazard = np.exp(-z * z / 2 - np.log(2 * np.pi) / 2 - log_ndtr(-z))
        spread = np.where(
            censored, (scatter * hazard) ** 2 + scatter**2 * (1 + z * hazard - hazard**2), (values - fitted) ** 2
        )
        # The scatter of this round belongs to the values of this round, too.
        moved = np.where(censored, fitted + scatter * hazard, ends)
        wider = float(np.clip(np.sqrt(spread.sum() / degrees), _LEAST, _MOST))
        change = max(float(np.abs(moved - values).max()), abs(wider - scatter))
        values, scatter = moved, wider
        if change < _SETTLED:
            return layout.fitted(values)[0], scatter
    return None


def time_rows(compared: Compared) -> tuple[list[ComparedRow], tuple[str, ...]]:
    """The rows that times are fitted on, and the dropped sittings and tasks in words.

    Completed and out of time; sittings and tasks without a completed attempt are dropped until there are none.
    """
    rows = [r for r in compared.rows if r.outcome.completed or r.outcome is Outcome.OUT_OF_TIME]
    dropped: list[str] = []
    while True:
        sittings = {row.seated for row in rows} - {row.seated for row in rows if row.outcome.completed}
        tasks = {row.card for row in rows} - {row.card for row in rows if row.outcome.completed}
        if not sittings and not tasks:
            return rows, tuple(dropped)
        dropped += [f"{person} at {chair}" for person, chair in sorted(sittings)] + sorted(tasks)
        rows = [row for row in rows if row.seated not in sittings and row.card not in tasks]
