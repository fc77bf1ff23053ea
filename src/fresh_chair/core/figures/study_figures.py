"""Every figure of a study together, and the sentences each task's figures allow."""

from collections.abc import Callable, Mapping, Sequence

from fresh_chair.core.figures.cell import CellFigures, all_cells
from fresh_chair.core.figures.comparison import Comparison, compare_all
from fresh_chair.core.figures.estimate import Estimate
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.figures.position import PositionEffect, position_effects
from fresh_chair.core.figures.satisfaction import SusScore, sus_mean, sus_score
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.sitting import Sitting


@frozen
class Satisfaction:
    """The System Usability Scale at one chair: each person's score, and their mean."""

    chair: str
    scores: tuple[tuple[str, SusScore], ...]
    mean: Estimate


@frozen
class Weighing:
    """All figures of a study.

    Attributes:
        cells: By card and chair.
        comparisons: By card.
        positions: How later chairs went faster or slower than the first.
        satisfaction: By chair, in the study's order.
    """

    study: Study
    facts: tuple[AttemptFact, ...]
    cells: dict[tuple[str, str], CellFigures]
    comparisons: dict[str, list[Comparison]]
    positions: tuple[PositionEffect, ...]
    satisfaction: tuple[Satisfaction, ...]


def weigh_facts(
    study: Study,
    facts: Sequence[AttemptFact],
    satisfaction: tuple[Satisfaction, ...] = (),
    going: Callable[[], object] = lambda: None,
) -> Weighing:
    """All figures of a study from its attempts.

    Args:
        study: The plan.
        facts: Its attempts.
        satisfaction: The System Usability Scale at every chair.
        going: Is called before each part, and raises where nobody waits for the figures any more.
    """
    comparisons = compare_all(study, facts, going=going)
    positions = position_effects(facts)
    return Weighing(
        study,
        tuple(facts),
        all_cells(study, facts, going=going),
        comparisons,
        positions,
        satisfaction,
    )


def satisfaction_of(study: Study, sittings: Mapping[int, Sitting]) -> tuple[Satisfaction, ...]:
    """The System Usability Scale at every chair, in the study's order."""
    found = []
    for chair in study.chairs:
        scores = []
        for seat in study.seats:
            sitting = sittings.get(seat.number)
            counted = seat.chair == chair.letter and study.counted(seat.participant)
            if counted and sitting is not None and sitting.answers:
                scores.append((seat.participant, sus_score(sitting.answers)))
        values = [score.score for _, score in scores if score.score is not None]
        found.append(Satisfaction(chair.letter, tuple(scores), sus_mean(values)))
    return tuple(found)
