"""The rule that compares chairs, held to its stated errors by drawn studies."""

import os
import sys
import time
from collections.abc import Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field, replace
from itertools import combinations
from math import log, sqrt
from multiprocessing import get_context

import numpy as np

from fresh_chair.core.figures.overall.estimates import MEASURES, OverallMeasure, VerdictKind
from fresh_chair.core.figures.overall.fared import fared_scores, fared_shares
from fresh_chair.core.figures.simulation.design import (
    DrawnChair,
    DrawnDesign,
    orders_repeated,
    tasks_of_length,
    with_chairs,
)
from fresh_chair.core.figures.simulation.drawing import drawn_study, drawn_verdicts
from fresh_chair.core.plan.orders import williams_orders
from fresh_chair.core.sitting.state.outcome import Outcome

STUDIES = 2_000
# Standard errors of its own by which a cell may lie beyond a bound.
_ALLOWED = 2.6
_LENGTHS = (40, 90, 60, 150, 120, 80, 200, 55)
# People of the one large balanced study that tells the truth on measures without a formula.
_TRUTH_PEOPLE = 6_000


@dataclass(frozen=True)
class Cell:
    """One truth with its bounds.

    Attributes:
        at_margin: The measures whose true difference is the margin, so that "alike" is false.
        false_better: Share of studies that may name a winner where none is, or the wrong one.
        coverage: Least and most coverage of the intervals; ease may lie lower near its ceiling.
    """

    name: str
    design: DrawnDesign
    at_margin: tuple[OverallMeasure, ...] = ()
    false_better: float = 0.05
    coverage: tuple[float, float] = (0.93, 0.97)
    lower: Mapping[OverallMeasure, float] = field(default_factory=dict)


def verdict_errors(only: Sequence[str] = ()) -> int:
    """Every cell, a line each; how many lie beyond their bounds."""
    cells = [cell for cell in all_cells() if not only or cell.name in only]
    print(f"false verdicts, {STUDIES} drawn studies a cell, in % with the cell's own standard error", flush=True)
    begun, beyond = time.perf_counter(), 0
    # The arithmetic libraries' own threads would take each other's turns; they read this when they are loaded.
    os.environ |= {"OMP_NUM_THREADS": "1", "OPENBLAS_NUM_THREADS": "1"}
    with ProcessPoolExecutor(2, mp_context=get_context("spawn")) as pool:
        for cell, found in zip(cells, pool.map(_held, cells), strict=True):
            beyond += bool(found.beyond)
            print(f"  {cell.name:34}{found.words}", flush=True)
    took = time.perf_counter() - begun
    print(f"  {beyond} of {len(cells)} cells beyond their bounds by more than {_ALLOWED} standard errors, {took:.0f} s")
    return beyond


@dataclass(frozen=True)
class _Found:
    words: str
    beyond: tuple[str, ...]


def _held(cell: Cell) -> _Found:
    truth = true_differences(cell.design)
    pairs = list(combinations(cell.design.letters, 2))
    better, alike = dict.fromkeys(MEASURES, 0), dict.fromkeys(MEASURES, 0)
    covered: dict[OverallMeasure, list[float]] = {measure: [] for measure in MEASURES}
    for verdicts in drawn_verdicts(cell.design, studies=STUDIES, seed=_seed(cell)):
        for measure in MEASURES:
            inside, wrong, called_alike = [], False, False
            for verdict, pair in zip(verdicts[measure], pairs, strict=True):
                true = truth[measure][pair]
                wrong |= bool(verdict.winner) and verdict.winner != _winner(measure, pair, true)
                called_alike |= verdict.said is VerdictKind.ALIKE and measure in cell.at_margin and abs(true) > 1e-9
                estimate = verdict.estimate
                if estimate.value is not None and estimate.error:
                    inside.append(abs(estimate.value - true) <= _quantile(estimate.degrees) * estimate.error)
            better[measure] += wrong
            alike[measure] += called_alike
            if inside:
                covered[measure].append(float(np.mean(inside)))
    return _judged(cell, truth, better, alike, covered)


def _judged(
    cell: Cell,
    truth: Mapping[OverallMeasure, Mapping[tuple[str, str], float]],
    better: Mapping[OverallMeasure, int],
    alike: Mapping[OverallMeasure, int],
    covered: Mapping[OverallMeasure, list[float]],
) -> _Found:
    beyond = []
    for measure in MEASURES:
        for name, share, bound in (
            ("better", better[measure] / STUDIES, cell.false_better),
            ("alike", alike[measure] / STUDIES, 0.05),
        ):
            if share - bound > _ALLOWED * sqrt(bound * (1 - bound) / STUDIES):
                beyond.append(f"{measure}: false {name} {100 * share:.1f}")
        if len(covered[measure]) >= STUDIES // 10:
            share = float(np.mean(covered[measure]))
            error = sqrt(0.95 * 0.05 / len(covered[measure]))
            least, most = cell.lower.get(measure, cell.coverage[0]), cell.coverage[1]
            # Where nothing much can go wrong an interval may cover more; that is no false certainty.
            if least - share > _ALLOWED * error or (share - most > _ALLOWED * error and measure == "time"):
                beyond.append(f"{measure}: covers {100 * share:.1f}")
    worst = max(MEASURES, key=lambda measure: better[measure])
    share = better[worst] / STUDIES
    error = 100 * sqrt(share * (1 - share) / STUDIES)
    told = f"better {100 * share:4.1f} ± {error:.1f} ({worst})"
    if cell.at_margin:
        told += "  alike " + ", ".join(f"{100 * alike[m] / STUDIES:.1f}" for m in cell.at_margin)
        told += " at " + ", ".join(f"{max(map(abs, truth[m].values())):.3f}" for m in cell.at_margin)
    shares = {m: 100 * float(np.mean(listed)) for m, listed in covered.items() if len(listed) >= STUDIES // 10}
    told += f"  covers {min(shares.values()):.1f} to {max(shares.values()):.1f}"
    return _Found(f"{told}{'   BEYOND ' + '; '.join(beyond) if beyond else ''}", tuple(beyond))


def _winner(measure: OverallMeasure, pair: tuple[str, str], true: float) -> str:
    if abs(true) < 1e-9:
        return ""
    return pair[0] if (true < 0) is (measure == "time") else pair[1]


def _quantile(degrees: float) -> float:
    from scipy.special import stdtrit

    return float(stdtrit(degrees, 0.975))


def _seed(cell: Cell) -> int:
    return sum(ord(letter) * at for at, letter in enumerate(cell.name, start=1))


def true_differences(design: DrawnDesign) -> dict[OverallMeasure, dict[tuple[str, str], float]]:
    """The first chair less the second on each measure: 0 where both are equal, else from one large balanced study."""
    pairs = list(combinations(design.letters, 2))
    equal = len({replace(chair, letter="", scatter=1.0) for chair in design.chairs}) == 1
    if equal:
        return {measure: dict.fromkeys(pairs, 0.0) for measure in MEASURES}
    rows = williams_orders(len(design.letters))
    orders = [tuple(design.letters[i] for i in row) for row in rows]
    large = replace(design, orders=orders_repeated(orders, _TRUTH_PEOPLE // len(orders) * len(orders)))
    study = drawn_study(large, np.random.default_rng(20_261_127))
    sums: dict[OverallMeasure, dict[str, list[float]]] = {m: {c: [] for c in design.letters} for m in MEASURES}
    for row in study.compared.rows:
        sums["completed unaided"][row.chair].append(float(row.outcome is Outcome.UNAIDED))
        sums["completed"][row.chair].append(float(row.outcome.completed))
        sums["ease"][row.chair].append(float(row.ease or 0))
    for (_, chair), score in fared_scores(fared_shares(study.compared)).items():
        sums["who fared better"][chair].append(score)
    for (_, chair), score in study.scores.items():
        sums["satisfaction"][chair].append(score)
    means = {m: {c: float(np.mean(v)) if v else 0.0 for c, v in by.items()} for m, by in sums.items()}
    found = {m: {pair: means[m][pair[0]] - means[m][pair[1]] for pair in pairs} for m in MEASURES}
    found["time"] = {pair: design.truth_of_time(*pair) for pair in pairs}
    return _exact_where_equal(design, found)


def _exact_where_equal(
    design: DrawnDesign, found: dict[OverallMeasure, dict[tuple[str, str], float]]
) -> dict[OverallMeasure, dict[tuple[str, str], float]]:
    """Nothing but chance parts two chairs that are the same in all but their letter."""
    plain = {chair.letter: replace(chair, letter="", scatter=1.0) for chair in design.chairs}
    slower = {chair.letter: chair.slower for chair in design.chairs}
    easier = {chair.letter: chair.easier for chair in design.chairs}
    for first, second in combinations(design.letters, 2):
        if plain[first] == plain[second]:
            for by in found.values():
                by[first, second] = 0.0
        if easier[first] == easier[second]:
            found["ease"][first, second] = found["satisfaction"][first, second] = 0.0
        if slower[first] == slower[second]:
            found["time"][first, second] = 0.0
    return found


def _design(
    people: int, chairs: int, *, limit: float | None = 3.0, lopsided: bool = False, **more: object
) -> DrawnDesign:
    letters = "ABCD"[:chairs]
    orders = [tuple(letters[i] for i in row) for row in williams_orders(chairs)]
    if lopsided:
        # Three of four people have the same order.
        orders = [orders[0], orders[0], orders[0], *orders[1:2], *([orders[0]] * 3), *orders[2:3]]
    return DrawnDesign(
        tasks_of_length(_LENGTHS, limit_factor=limit),
        tuple(DrawnChair(letter) for letter in letters),
        orders_repeated(orders, people),
        **more,  # type: ignore[arg-type]
    )


def _with_some_elsewhere(design: DrawnDesign, people: int) -> DrawnDesign:
    """More people who sit at the first chair alone."""
    return replace(design, orders=(*design.orders, *((design.letters[0],),) * people))


def _quarter(design: DrawnDesign) -> DrawnDesign:
    return with_chairs(design, completing=dict.fromkeys(design.letters, 0.75))


def all_cells() -> list[Cell]:
    """The named list: equal chairs, unlike ones, some that differ by the margin, some with few tasks in common."""
    return [*_equal(), *_unlike(), *_at_margin(), *_in_common()]


def _in_common() -> list[Cell]:
    """Eight tasks of which chairs share some, cards that nobody reaches, half given up at one chair.

    With 0 to 2 tasks in common nothing may be told at all; the link of those that share more makes intervals wide, so
    that what covers too much is no fault.
    """
    learning, wide = (-0.2, -0.3, -0.35), (0.93, 1.0)
    cells = []
    for people, chairs in ((12, 2), (12, 3), (20, 2)):
        for common in (0, 2, 3, 4, 6):
            design = _design(people, chairs, given=_sharing(common, chairs), later=learning)
            name = f"{common} of 8 alike, n {people}, {chairs}"
            cells.append(Cell(name, design, coverage=wide))
    for common in (3, 4, 6):
        # Each task is quicker at one of both chairs; over those in common it comes to nothing.
        unlike = (-0.5, 0.5, 0.0, -0.5, 0.5, 0.0, -0.5, 0.5) if common != 4 else (-0.5, 0.5) * 4
        design = _design(12, 2, given=_sharing(common, 2), unlike_tasks={"B": unlike})
        cells.append(Cell(f"{common} alike, differing by task", design, false_better=0.08, coverage=wide))
    for share in (0.1, 0.3):
        for people, chairs in ((8, 2), (12, 2), (12, 3)):
            design = _design(people, chairs, unreached=share, person_chair=0.25)
            cells.append(Cell(f"{100 * share:.0f} % not reached, n {people}, {chairs}", design, coverage=wide))
    for people in (8, 12, 20):
        design = with_chairs(_design(people, 2), completing={"B": 0.5})
        cells.append(Cell(f"half given up at B, n {people}", design, coverage=wide))
    return cells


def _sharing(common: int, chairs: int) -> tuple[tuple[str, tuple[int, ...]], ...]:
    """Tasks given at each chair: the first ones at all of them, the others in turn at one."""
    rest = range(common, len(_LENGTHS))
    return tuple(
        (letter, (*range(common), *(task for task in rest if task % chairs == at)))
        for at, letter in enumerate("ABCD"[:chairs])
    )


def _equal() -> list[Cell]:
    learning = (-0.2, -0.3, -0.35)
    # Out of any limit's reach and from the middle of ease, or a wider scatter would be a true difference.
    rough, even = {"A": 6.0}, _design(12, 2, residual=0.15, limit=None, ease=4)
    even_three = _design(20, 3, residual=0.15, limit=None, ease=4)
    return [
        Cell("equal, n 5, 2 chairs", _design(5, 2)),
        Cell("equal, n 8, 2, learning", _design(8, 2, later=learning)),
        Cell("equal, n 12, 2, suits", _design(12, 2, person_chair=0.25)),
        Cell("equal, n 20, 2, close limits", _design(20, 2, limit=1.3)),
        Cell("equal, n 5, 3, suits, learning", _design(5, 3, person_chair=0.25, later=learning)),
        Cell("equal, n 8, 3, close limits", _design(8, 3, limit=1.3)),
        Cell("equal, n 12, 3, a quarter fails", _quarter(_design(12, 3))),
        Cell("equal, n 20, 3, all of it", _quarter(_design(20, 3, person_chair=0.25, later=learning, limit=1.5))),
        Cell("equal, n 8, 4, suits", _design(8, 4, person_chair=0.25)),
        Cell("equal, n 12, 4, learning", _design(12, 4, later=learning)),
        Cell("equal, n 20, 4, limits, a quarter", _quarter(_design(20, 4, limit=1.5))),
        Cell("equal, n 8, 2, lopsided", _design(8, 2, lopsided=True, later=learning)),
        Cell("equal, n 12, 3, lopsided", _design(12, 3, lopsided=True, later=learning, person_chair=0.25)),
        Cell("equal, n 8 and 4 at one, 2", _with_some_elsewhere(_design(8, 2), 4)),
        Cell("equal, n 12 and 8 at one, 3", _with_some_elsewhere(_design(12, 3, person_chair=0.25), 8)),
        Cell("equal, n 12, 2, six-fold", with_chairs(even, scatter=rough), false_better=0.08),
        Cell("equal, n 20, 3, six-fold", with_chairs(even_three, scatter=rough), false_better=0.08),
        Cell("equal, n 5, 2, a quarter, limits", _quarter(_design(5, 2, limit=1.5))),
    ]


def _unlike() -> list[Cell]:
    learning = (-0.2, -0.3, -0.35)
    half, double = {"B": log(1.5)}, {"B": log(2)}
    high: dict[OverallMeasure, float] = {"ease": 0.90, "satisfaction": 0.90}
    return [
        Cell("1.5-fold, n 8, 2", with_chairs(_design(8, 2), slower=half)),
        Cell("1.5-fold, n 12, 2, suits", with_chairs(_design(12, 2, person_chair=0.25), slower=half)),
        Cell("1.5-fold, n 12, 3, limits", with_chairs(_design(12, 3, person_chair=0.25, limit=2), slower=half)),
        Cell("1.5-fold, n 20, 3, learning", with_chairs(_design(20, 3, later=learning), slower=half)),
        Cell("1.5-fold, n 12, 4", with_chairs(_design(12, 4), slower=half)),
        Cell("1.5-fold, n 12, 2, lopsided", with_chairs(_design(12, 2, lopsided=True, later=learning), slower=half)),
        Cell("twice, n 5, 2, limits", with_chairs(_design(5, 2, limit=2), slower=double)),
        Cell("given up, n 8, 3", with_chairs(_design(8, 3), completing={"A": 0.9, "B": 0.6}, slower=half)),
        Cell("easier, near the ceiling, n 12", with_chairs(_design(12, 2, ease=6.3), easier={"A": 0.6}), lower=high),
        Cell("easier, near the ceiling, n 20", with_chairs(_design(20, 3, ease=6.3), easier={"A": 0.6}), lower=high),
    ]


def _at_margin() -> list[Cell]:
    fold = {"B": log(1.25)}
    fails = {"A": 1.0, "B": 1 - 0.15}
    # Where the margin has no formula the chairs differ by as much as the large balanced study says it takes.
    return [
        Cell("1.25-fold, n 20, 2", with_chairs(_design(20, 2), slower=fold), ("time",)),
        Cell("1.25-fold, n 12, 2, little scatter", with_chairs(_design(12, 2, residual=0.2), slower=fold), ("time",)),
        Cell("1.25-fold, n 20, 3, suits", with_chairs(_design(20, 3, person_chair=0.25), slower=fold), ("time",)),
        Cell("net 0.2, n 20, 2", with_chairs(_design(20, 2), slower={"B": 0.256}), ("who fared better",)),
        Cell("net 0.2, n 12, 3", with_chairs(_design(12, 3), slower={"B": 0.264}), ("who fared better",)),
        Cell(
            "15 points, n 20, 2",
            with_chairs(_design(20, 2, limit=None, helped=0.0), completing=fails),
            ("completed unaided", "completed"),
        ),
        Cell(
            "15 points, n 20, 3",
            with_chairs(_design(20, 3, limit=None, helped=0.0), completing={"C": 1.0, **fails}),
            ("completed unaided", "completed"),
        ),
        Cell("half a point of ease, n 20, 2", with_chairs(_design(20, 2, ease=4), easier={"A": 0.51}), ("ease",)),
        Cell("half a point of ease, n 12, 3", with_chairs(_design(12, 3, ease=4), easier={"A": 0.51}), ("ease",)),
        Cell("8 points of SUS, n 20, 2", with_chairs(_design(20, 2), easier={"A": 0.83}), ("satisfaction",)),
    ]


if __name__ == "__main__":
    sys.exit(verdict_errors(sys.argv[1:]) > 0)
