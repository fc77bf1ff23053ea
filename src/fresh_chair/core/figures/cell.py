"""One cell: a task on a chair."""

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence

from fresh_chair.core.figures.completion import rate
from fresh_chair.core.figures.estimate import Estimate, Proportion
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.figures.satisfaction import ease_mean
from fresh_chair.core.figures.times import censored_median, geometric_mean
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.sheet import RateInterval, TimeMeasure
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.outcome import Outcome


@frozen
class CellFigures:
    """All figures of one task on one chair.

    Attributes:
        counts: How many attempts ended in each outcome, void and later tries included.
        n: First tries that count.
        strict: Completed unaided, of n.
        lenient: Completed unaided or with help, of n.
        by_workaround: How many of these were completed only with a workaround.
        completed_seconds: Geometric mean time of completed attempts; hands or elapsed, as the weighing says.
        all_seconds: Kaplan-Meier median time of all attempts but the blocked ones.
        ease: Mean of the Single Ease Question.
        ease_counts: How often each of 1..7 was given.
        said_done_was_not: Attempts believed done that were not.
        benchmark_seconds: The expert's time, where known.
        efficiency: Default time figure over the benchmark, where both are known and of the same measure.
        not_reached: People whose sitting ended without an attempt at it.
    """

    card: str
    chair: str
    counts: dict[Outcome, int]
    n: int
    strict: Proportion
    lenient: Proportion
    completed_seconds: Estimate
    all_seconds: Estimate
    ease: Estimate
    ease_counts: tuple[int, ...]
    assists: int
    wrong_places: int
    said_done_was_not: int
    later_tries: int
    benchmark_seconds: float | None
    by_workaround: int = 0
    not_reached: int = 0

    @property
    def everyone_completed(self) -> bool:
        """True where no attempt is censored."""
        return self.n > 0 and self.lenient.x == self.n

    @property
    def default_seconds(self) -> Estimate:
        """The time figure to show first: the censored one wherever any attempt was not completed."""
        return self.completed_seconds if self.everyone_completed else self.all_seconds

    @property
    def efficiency(self) -> float | None:
        """Default time over the expert's, 1 or more is slower; None where either is unknown."""
        value = self.default_seconds.value
        return None if value is None or self.benchmark_seconds is None else value / self.benchmark_seconds


def cell_figures(
    card: str,
    chair: str,
    facts: Sequence[AttemptFact],
    *,
    benchmark_seconds: float | None = None,
    interval: RateInterval = "adjusted Wald",
    not_reached: int = 0,
) -> CellFigures:
    """The figures of one cell from its attempts.

    Void attempts are counted as void and nowhere else; later tries of the same person stay apart.
    """
    counting = [fact for fact in facts if fact.outcome.counts and fact.first_try]
    completed = [fact for fact in counting if fact.outcome.completed]
    # Blocked is no slow person: the chair made it impossible, and completion says so.
    timed = [fact for fact in counting if fact.outcome is not Outcome.BLOCKED]
    eases = [fact.ease for fact in counting if fact.ease is not None]
    return CellFigures(
        card=card,
        chair=chair,
        counts={outcome: sum(fact.outcome is outcome for fact in facts) for outcome in Outcome},
        n=len(counting),
        strict=rate(sum(fact.outcome is Outcome.UNAIDED for fact in counting), len(counting), interval),
        lenient=rate(len(completed), len(counting), interval),
        completed_seconds=geometric_mean([fact.hands_seconds for fact in completed if fact.hands_seconds > 0]),
        all_seconds=censored_median([fact.hands_seconds for fact in timed], [fact.outcome.completed for fact in timed]),
        ease=ease_mean(eases),
        ease_counts=tuple(eases.count(score) for score in range(1, 8)),
        assists=sum(fact.helped for fact in counting),
        wrong_places=sum(fact.wrong_places for fact in counting),
        said_done_was_not=sum(fact.said_done_was_not for fact in counting),
        later_tries=sum(fact.outcome.counts and not fact.first_try for fact in facts),
        benchmark_seconds=benchmark_seconds,
        by_workaround=sum(fact.route == "only with a workaround" for fact in completed),
        not_reached=not_reached,
    )


def all_cells(
    study: Study,
    facts: Iterable[AttemptFact],
    *,
    times: TimeMeasure = "hands",
    interval: RateInterval = "adjusted Wald",
    not_reached: Mapping[tuple[str, str], int] | None = None,
    going: Callable[[], object] = lambda: None,
) -> dict[tuple[str, str], CellFigures]:
    """Every cell of a study, empty ones too, by card and chair in the study's order.

    Args:
        study: The plan.
        facts: Its attempts, with the chosen time.
        times: Which time that is: the expert's is hands time, and stands beside no other.
        interval: Of completion rates.
        not_reached: How many people's sittings ended without an attempt, by card and chair.
        going: Is called before each cell, and raises where nobody waits any more.
    """
    grouped: dict[tuple[str, str], list[AttemptFact]] = defaultdict(list)
    for fact in facts:
        grouped[fact.card, fact.chair].append(fact)
    cells = {}
    for card in study.cards:
        for chair in study.chairs:
            going()
            cells[card.id, chair.letter] = cell_figures(
                card.id,
                chair.letter,
                grouped[card.id, chair.letter],
                benchmark_seconds=card.benchmark_seconds.get(chair.letter) if times == "hands" else None,
                interval=interval,
                not_reached=(not_reached or {}).get((card.id, chair.letter), 0),
            )
    return cells
