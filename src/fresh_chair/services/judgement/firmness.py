"""How firm a scorecard's ranking is, drawn beside the screen."""

from collections.abc import Callable
from dataclasses import replace

from fresh_chair.core.figures.whole.study_figures import Weighing, sus_scores
from fresh_chair.core.judgement.firmness import Firmness
from fresh_chair.core.judgement.scorecard import Scorecard, complete, part_of_scale, scored, weighted_parts
from fresh_chair.services.judgement.scorecards import (
    drawn_from_people,
    people_parts,
)


def firmness(
    weighing: Weighing, card: Scorecard, *, apart: bool = False, stopped: Callable[[], bool] = lambda: False
) -> Firmness | None:
    """How often each chair takes each rank of a scorecard; None where nothing in it comes from people.

    Args:
        weighing: The figures.
        card: The scorecard.
        apart: Draw in a process of its own, so that nobody's keys wait.
        stopped: Is asked meanwhile whether to give up.

    Raises:
        Stopped: Where it was given up.
    """
    from fresh_chair.services.system.child import in_child

    if apart:
        found: Firmness | None = next(in_child(f"{__name__}:firmness_of", weighing, card, stopped=stopped))
        return found
    return firmness_of(weighing, card)


def firmness_of(weighing: Weighing, card: Scorecard) -> Firmness | None:
    """The same, here."""
    from fresh_chair.core.judgement.firmness import over_weights

    there = scored(card.rows)
    letters = [chair.letter for chair in weighing.study.chairs if chair.letter in there]
    rows = complete(card.rows)
    drawn = [row for row in rows if drawn_from_people(row.criterion.figure) and row.criterion.weight > 0]
    if not drawn or len(letters) < 2:
        return None
    found = _one(weighing, drawn[0].criterion.figure) if len(rows) == 1 else None
    found = found or _several(weighing, card, letters)
    return (
        None if found is None else replace(found, by_weights=over_weights(letters, weighted_parts(card.rows, letters)))
    )


def _one(weighing: Weighing, figure: str) -> Firmness | None:
    """A scorecard of one measure: from its own fit."""
    import numpy as np

    from fresh_chair.core.figures.overall.links import in_common, over_tasks, tasks_of, too_few_in_common
    from fresh_chair.core.figures.overall.measures import link_of, sitting_source
    from fresh_chair.core.figures.overall.rows import study_rows
    from fresh_chair.core.figures.overall.second_stage import chair_effects
    from fresh_chair.core.judgement.firmness import one_measure
    from fresh_chair.services.judgement.scorecards import measure_of

    study = weighing.study
    compared = study_rows(study, weighing.facts)
    measure = measure_of(figure)
    if measure is None:
        return None
    scores = {s: v for s, v in sus_scores(weighing.satisfaction).items() if s in compared.positions}
    if measure != "satisfaction":
        common = in_common(measure, compared, compared.chairs)
        if too_few_in_common(common, tasks_of(compared)):
            return None
        compared = over_tasks(compared, common)
    source = sitting_source(measure, compared, scores)
    fit = chair_effects(compared, source.effects, link=link_of(source))
    if fit is None or len(fit.letters) != len(study.chairs):
        return None
    effects, covariance = np.array(fit.values), np.array(fit.covariance)
    return one_measure(fit.letters, effects, covariance, fit.degrees, higher_wins=measure != "time")


def _several(weighing: Weighing, card: Scorecard, letters: list[str]) -> Firmness | None:
    """Several criteria: people drawn again, over the tasks that were done at every ranked chair."""
    from fresh_chair.core.figures.overall.links import in_common, tasks_of, too_few_in_common
    from fresh_chair.core.figures.overall.rows import study_rows
    from fresh_chair.core.judgement.firmness import DrawnRule, several

    compared = study_rows(weighing.study, weighing.facts)
    common = in_common("completed", compared, letters)
    if too_few_in_common(common, tasks_of(compared)):
        return None
    weighing = replace(weighing, facts=tuple(fact for fact in weighing.facts if fact.card in common))

    rows = complete(card.rows)
    people: dict[str, dict[tuple[int, str], tuple[float, float]]] = {}
    score: dict[int, DrawnRule] = {}
    constant: dict[tuple[int, str], float] = {}
    for number, row in enumerate(rows):
        criterion = row.criterion
        if not drawn_from_people(criterion.figure):
            for cell in (each for each in row.cells if each.chair in letters):
                constant[number, cell.chair] = criterion.weight * part_of_scale(criterion, cell.value or 0.0)
            continue
        assert criterion.worst is not None
        assert criterion.best is not None
        score[number] = DrawnRule(criterion.worst, criterion.best, criterion.weight, criterion.figure == "time")
        for person, by_chair in people_parts(weighing, criterion.figure, letters).items():
            for letter, part in by_chair.items():
                people.setdefault(person, {})[number, letter] = part
    sittings = len({(fact.participant, fact.chair) for fact in weighing.facts if fact.outcome.counts})
    degrees = sittings - len(people) - 2 * (len(letters) - 1)
    if degrees < 2 or len(people) < 2:
        return None
    return several(letters, list(people.values()), score, constant, sittings=sittings, degrees=degrees)
