"""Scorecards: criteria with weights, figures mapped to scores by a stated rule, sums, ranks; missing stays missing."""

from collections.abc import Iterable, Mapping, Sequence

from fresh_chair.core.evidence.judged import Criterion
from fresh_chair.core.frozen import frozen


@frozen
class ScoreCell:
    """The score of one chair on one criterion.

    Attributes:
        value: On the criterion's scale; None where it is missing.
        figure: The figure it was mapped from; None for the reviewer's own score.
        said: The figure with its interval in words, or the reviewer's reason.
        rests_on: Targets it stands on: links of an own score; findings, or attempts, of a figure.
    """

    chair: str
    value: float | None
    figure: float | None = None
    said: str = ""
    rests_on: tuple[str, ...] = ()


@frozen
class ScoreRow:
    """One criterion with the score of each chair."""

    criterion: Criterion
    cells: tuple[ScoreCell, ...]


@frozen
class ChairTotal:
    """A chair's sums over the criteria on which every chair has a score.

    Attributes:
        plain: Sum of the scores, each on its own scale.
        weighted: Weighted mean of the scores as parts of their scales, 0 to 100; None without any.
        rank: From 1; chairs with equal sums share it; None without a sum.
        missing: Names of the criteria on which it has no score.
    """

    chair: str
    plain: float | None
    weighted: float | None
    rank: int | None
    missing: tuple[str, ...]


@frozen
class Scorecard:
    """A scorecard for an audience.

    Attributes:
        summed: Names of the criteria that enter the sums: those on which every chair has a score.
        twice: Facts that feed two criteria, in words.
    """

    name: str
    audience: str
    rows: tuple[ScoreRow, ...]
    totals: tuple[ChairTotal, ...]
    summed: tuple[str, ...]
    twice: tuple[str, ...]


def mapped(criterion: Criterion, figure: float) -> float:
    """The score of a figure: the lowest at the stated worst value, the highest at the best, in between in proportion.

    >>> mapped(Criterion(id="c", name="completed", figure="completion", worst=0.5, best=1.0), 0.75)
    5.0
    """
    assert criterion.worst is not None
    assert criterion.best is not None
    part = (figure - criterion.worst) / (criterion.best - criterion.worst)
    return criterion.low + min(max(part, 0.0), 1.0) * (criterion.high - criterion.low)


def part_of_scale(criterion: Criterion, value: float) -> float:
    """A score as a part of its scale, 0 to 1."""
    return (value - criterion.low) / (criterion.high - criterion.low)


def score_words(criterion: Criterion, value: float | None) -> str:
    """A score as the reviewer's scale says it: a number, or the nearest of its words."""
    if value is None:
        return "-"
    if not criterion.names:
        return f"{value:.1f}".rstrip("0").rstrip(".")
    at = round(part_of_scale(criterion, value) * (len(criterion.names) - 1))
    return criterion.names[min(max(at, 0), len(criterion.names) - 1)]


def weighted_parts(rows: Sequence[ScoreRow], chairs: Sequence[str]) -> dict[str, list[float]]:
    """The parts of their scales that chairs reach, by chair, of the criteria on which every chair has a score."""
    there = scored(rows)
    found: dict[str, list[float]] = {chair: [] for chair in chairs if chair in there}
    for row in complete(rows):
        for cell in row.cells:
            if cell.value is not None:
                found[cell.chair].append(part_of_scale(row.criterion, cell.value))
    return found


def scored(rows: Iterable[ScoreRow]) -> set[str]:
    """The chairs that have a score at all; the others do not stand on this scorecard."""
    return {cell.chair for row in rows for cell in row.cells if cell.value is not None}


def complete(rows: Sequence[ScoreRow]) -> list[ScoreRow]:
    """The rows on which every chair of the scorecard has a score."""
    there = scored(rows)
    return [row for row in rows if all(cell.value is not None for cell in row.cells if cell.chair in there)]


def totals(rows: Sequence[ScoreRow], chairs: Sequence[str]) -> tuple[ChairTotal, ...]:
    """The sums and ranks of chairs: only over criteria on which every chair has a score, or a lack would be a loss."""
    summed = complete(rows)
    weights = [row.criterion.weight for row in summed]
    parts = weighted_parts(rows, chairs)
    found: dict[str, tuple[float | None, float | None]] = {}
    for chair in chairs:
        if chair not in parts:
            found[chair] = None, None
            continue
        values = [cell.value for row in summed for cell in row.cells if cell.chair == chair]
        plain = sum(value for value in values if value is not None) if values else None
        whole = sum(weights)
        weighted = None
        if whole > 0:
            weighted = 100 * sum(w * part for w, part in zip(weights, parts[chair], strict=True)) / whole
        found[chair] = plain, weighted
    ranked = ranks({chair: sums[1] for chair, sums in found.items()})
    return tuple(
        ChairTotal(
            chair,
            *found[chair],
            ranked.get(chair),
            tuple(r.criterion.name for r in rows for c in r.cells if c.chair == chair and c.value is None),
        )
        for chair in chairs
    )


def ranks(sums: Mapping[str, float | None]) -> dict[str, int]:
    """Ranks from the highest sum on; equal sums, to a billionth, share the better one.

    >>> ranks({"A": 70.0, "B": 80.0, "C": 70.0, "D": None})
    {'A': 2, 'B': 1, 'C': 2}
    """
    known = {chair: value for chair, value in sums.items() if value is not None}
    return {chair: 1 + sum(other > value + 1e-9 for other in known.values()) for chair, value in known.items()}


def fed_twice(rows: Sequence[ScoreRow]) -> tuple[str, ...]:
    """Facts that stand under two criteria, and so count twice."""
    found = []
    for at, row in enumerate(rows):
        for other in rows[at + 1 :]:
            names = f"{row.criterion.name} and {other.criterion.name}"
            if row.criterion.figure and row.criterion.figure == other.criterion.figure:
                found.append(f"{names} are both mapped from {row.criterion.figure}")
                continue
            shared = {
                target
                for mine, theirs in zip(row.cells, other.cells, strict=True)
                for target in set(mine.rests_on) & set(theirs.rests_on)
                # All figures are made from the same attempts; that is no fact counted twice.
                if not target.startswith("attempt:")
            }
            if shared:
                found.append(f"{names} both rest on {', '.join(sorted(shared)[:3])}")
    return tuple(found)
