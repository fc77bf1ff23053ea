"""A scorecard over several studies: their chairs ranked together, each with its date."""

from collections.abc import Sequence
from datetime import UTC, datetime

from fresh_chair.core.errors import InputError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.judgement.scorecard import Scorecard, ScoreRow, complete, part_of_scale, ranks, scored
from fresh_chair.core.text import count_of
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.judgement.scorecards import scorecards
from fresh_chair.services.study.open_study import open_study
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.store.address import Address


@frozen
class SeriesPlace:
    """A chair of one study in the series: its sum over the criteria that all studies share, and its rank."""

    study: str
    chair: str
    day: str
    weighted: float
    rank: int


@frozen
class RankedSeries:
    """The chairs, the best first; and the limits of it."""

    places: tuple[SeriesPlace, ...]
    notes: tuple[str, ...]


def ranked_series(paths: Sequence[Address], name: str, audience: str) -> RankedSeries:
    """Rank the chairs of several studies by the criteria of one scorecard that every one of them can fill.

    Raises:
        InputError: Where a study has no such scorecard, or they share no criterion with the same scale and weight.
        FreshChairError: Where a file cannot be read.
    """
    found: list[tuple[str, str, Scorecard, dict[str, str]]] = []
    for path in paths:
        opened = open_study(path, write=False)
        try:
            cards = scorecards(opened, weigh(opened))
            card = next((each for each in cards if (each.name, each.audience) == (name, audience)), None)
            if card is None:
                raise InputError(f"{path} has no such scorecard.", "scorecard show lists those it has.")
            titles = {chair.letter: chair.title for chair in opened.study.chairs}
            found.append((opened.study.title, _day(opened), card, titles))
        finally:
            opened.close()
    shared = set.intersection(*({_rule(row.criterion.name, row) for row in complete(each[2].rows)} for each in found))
    if not shared:
        raise InputError("These studies share no criterion that each of them can fill.", "Rules must be the same, too.")
    places = [each for told in found for each in _places(*told, shared=shared)]
    ranked = ranks({str(at): each.weighted for at, each in enumerate(places)})
    ended = [
        SeriesPlace(each.study, each.chair, each.day, each.weighted, ranked[str(at)]) for at, each in enumerate(places)
    ]
    names = sorted(rule[0] for rule in shared)
    over = count_of(len(shared), "shared criterion", "shared criteria")
    notes = [f"Over {over}: {', '.join(names)}. Other people, other days: no test stands behind it."]
    return RankedSeries(tuple(sorted(ended, key=lambda each: each.rank)), tuple(notes))


Rule = tuple[str, object, object, object, float, float, float]


def _rule(name: str, row: ScoreRow) -> Rule:
    each = row.criterion
    return name, each.figure, each.worst, each.best, each.low, each.high, each.weight


def _places(study: str, day: str, card: Scorecard, titles: dict[str, str], *, shared: set[Rule]) -> list[SeriesPlace]:
    rows = [row for row in complete(card.rows) if _rule(row.criterion.name, row) in shared]
    whole = sum(row.criterion.weight for row in rows) or 1.0
    sums: dict[str, float] = {letter: 0.0 for letter in titles if letter in scored(card.rows)}
    for row in rows:
        for cell in (each for each in row.cells if each.value is not None):
            sums[cell.chair] += row.criterion.weight * part_of_scale(row.criterion, cell.value or 0.0)
    return [SeriesPlace(study, titles[letter], day, 100 * value / whole, 0) for letter, value in sums.items()]


def _day(opened: StudyReading) -> str:
    """The day of its last entry."""
    last = max((entries[-1].moment.wall_ns for entries in opened.entries.values() if entries), default=0)
    return f"{datetime.fromtimestamp(last / 1e9, UTC):%Y-%m-%d}" if last else "nobody sat yet"
