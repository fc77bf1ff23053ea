"""The machine's share: waits and restarts of a task on a chair, and of a whole chair."""

from collections import defaultdict
from collections.abc import Iterable, Sequence

from fresh_chair.core.figures.estimate import Estimate
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.figures.times import geometric_mean
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Study


@frozen
class MachineShare:
    """Where the time of counted first tries went, in seconds.

    Attributes:
        card: The task; empty for all tasks of the chair.
        attempts: How many were timed.
        elapsed_seconds, wait_seconds: Of all of them together.
        shown_seconds, silent_seconds, frozen_seconds: Of the waits, by how they looked where that was told; talk within
            a wait is in these and not in `wait_seconds`.
        longest_silent_seconds: The longest wait without anything shown, in any attempt.
        restarts, new_logins: How many of them all attempts took.
        completed_hands, completed_elapsed: Geometric means of completed attempts.
    """

    card: str
    chair: str
    attempts: int
    elapsed_seconds: float
    wait_seconds: float
    shown_seconds: float
    silent_seconds: float
    frozen_seconds: float
    longest_silent_seconds: float
    restarts: int
    new_logins: int
    completed_hands: Estimate
    completed_elapsed: Estimate

    @property
    def share(self) -> float | None:
        """Waits of all elapsed time, 0 to 1; None where nothing was timed."""
        return self.wait_seconds / self.elapsed_seconds if self.elapsed_seconds else None


def machine_share(card: str, chair: str, facts: Sequence[AttemptFact]) -> MachineShare:
    """The machine's share in some attempts; those that do not count, and later tries, are passed over."""
    counted = [fact for fact in facts if fact.outcome.counts and fact.first_try]
    completed = [fact for fact in counted if fact.outcome.completed]
    return MachineShare(
        card,
        chair,
        len(counted),
        sum(fact.elapsed_seconds for fact in counted),
        sum(fact.wait_seconds for fact in counted),
        sum(fact.shown_wait_seconds for fact in counted),
        sum(fact.silent_wait_seconds for fact in counted),
        sum(fact.frozen_wait_seconds for fact in counted),
        max((fact.longest_silent_wait_seconds for fact in counted), default=0.0),
        sum(fact.restarts for fact in counted),
        sum(fact.new_logins for fact in counted),
        geometric_mean([fact.hands_seconds for fact in completed if fact.hands_seconds > 0]),
        geometric_mean([fact.elapsed_seconds for fact in completed if fact.elapsed_seconds > 0]),
    )


def machine_shares(study: Study, facts: Iterable[AttemptFact]) -> tuple[MachineShare, ...]:
    """Each chair's, then each task's on each chair, in the study's order.

    Args:
        study: The plan.
        facts: Its attempts with hands time, whichever time the other figures are taken from.
    """
    by_cell: dict[tuple[str, str], list[AttemptFact]] = defaultdict(list)
    by_chair: dict[str, list[AttemptFact]] = defaultdict(list)
    for fact in facts:
        by_cell[fact.card, fact.chair].append(fact)
        by_chair[fact.chair].append(fact)
    letters = [chair.letter for chair in study.chairs]
    whole = [machine_share("", letter, by_chair[letter]) for letter in letters]
    cells = [machine_share(card.id, letter, by_cell[card.id, letter]) for card in study.cards for letter in letters]
    return (*whole, *cells)
