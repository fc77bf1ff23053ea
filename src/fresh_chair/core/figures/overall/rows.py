"""The rows that chairs are compared by: one an attempt that counts, of one sitting a person and chair."""

from collections.abc import Iterable, Mapping, Sequence
from math import log

from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.outcome import Outcome

# A sitting: who sat where.
Seated = tuple[str, str]
# Unaided before help before partly before all that never got there.
RANKS = {Outcome.UNAIDED: 4, Outcome.HELPED: 3, Outcome.PARTLY: 2}
_NEVER = 1


@frozen
class ComparedRow:
    """One attempt.

    Attributes:
        limit_seconds: After which the moderator may end it.
        ease: 1 to 7; None where it was not given.
    """

    person: str
    chair: str
    card: str
    outcome: Outcome
    hands_seconds: float
    limit_seconds: float
    ease: int | None = None

    @property
    def seated(self) -> Seated:
        """The sitting it is of."""
        return self.person, self.chair

    @property
    def rank(self) -> int:
        """How far it got: the higher the better."""
        return RANKS.get(self.outcome, _NEVER)

    @property
    def log_seconds(self) -> float:
        """The logarithm of its hands time; a time of nothing is the shortest that can be told, a tenth of a second."""
        return log(max(self.hands_seconds, 0.1))


@frozen
class Compared:
    """All rows of a study, and the place of each sitting in its person's order.

    Attributes:
        positions: From 1, among the person's sittings with at least one row.
        chairs: Letters, in the study's order.
    """

    rows: tuple[ComparedRow, ...]
    positions: Mapping[Seated, int]
    chairs: tuple[str, ...]

    def at_both(self, first: str, second: str) -> list[str]:
        """The people with a sitting at both chairs, sorted."""
        return sorted(p for p, chair in self.positions if chair == first and (p, second) in self.positions)

    def order_groups(self, first: str, second: str) -> tuple[list[str], list[str]]:
        """Those of them who sat at the first chair first, and those who sat at the second first."""
        both = self.at_both(first, second)
        earlier = [p for p in both if self.positions[p, first] < self.positions[p, second]]
        return earlier, [p for p in both if p not in earlier]


def compared_rows(facts: Iterable[AttemptFact], chairs: Sequence[str], limits: Mapping[str, float]) -> Compared:
    """The rows of counted newcomers' attempts.

    A void attempt and a card that was not reached have none; where a person has several sittings at a chair, the last
    with a counted attempt is the one.

    Args:
        facts: Attempts; those that do not count, and later tries, are passed over.
        chairs: Letters of the chairs, in the study's order.
        limits: Seconds after which a card may be ended, by the card's id.
    """
    counted = [fact for fact in facts if fact.outcome.counts and fact.first_try]
    last: dict[Seated, int] = {}
    for fact in counted:
        seated = fact.participant, fact.chair
        last[seated] = max(last.get(seated, 0), fact.sitting)
    kept = [fact for fact in counted if fact.sitting == last[fact.participant, fact.chair]]
    rows = tuple(
        ComparedRow(
            fact.participant,
            fact.chair,
            fact.card,
            fact.outcome,
            fact.hands_seconds,
            limits.get(fact.card, fact.hands_seconds),
            fact.ease,
        )
        for fact in kept
    )
    when = {(fact.participant, fact.chair): (fact.position, fact.sitting) for fact in kept}
    return Compared(rows, _positions(when), tuple(chairs))


def study_rows(study: Study, facts: Iterable[AttemptFact]) -> Compared:
    """The rows of a study's own chairs, with the limits of its cards."""
    limits = {card.id: float(card.limit_seconds) for card in study.cards}
    return compared_rows(facts, [chair.letter for chair in study.chairs], limits)


def _positions(when: Mapping[Seated, tuple[int, int]]) -> dict[Seated, int]:
    """Each sitting's ordinal among its person's."""
    found: dict[Seated, int] = {}
    by_person: dict[str, list[Seated]] = {}
    for seated in sorted(when, key=lambda each: when[each]):
        by_person.setdefault(seated[0], []).append(seated)
    for listed in by_person.values():
        found |= {seated: index for index, seated in enumerate(listed, start=1)}
    return found
