"""How far sittings came: the cards that were never reached, and the sittings that were broken off."""

from collections import Counter, defaultdict
from collections.abc import Mapping
from dataclasses import field

from fresh_chair.core.figures.facts import is_counted
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Sitting


@frozen
class Reach:
    """Everything beside the attempts that explains how many there are.

    Attributes:
        not_reached: People whose sitting is over without an attempt, by card and chair.
        broken_off: Numbers of the sittings that were broken off, by chair.
        to_come: How many planned sittings have not ended, by chair.
    """

    not_reached: Mapping[tuple[str, str], int] = field(default_factory=dict)
    broken_off: Mapping[str, tuple[int, ...]] = field(default_factory=dict)
    to_come: Mapping[str, int] = field(default_factory=dict)


def reach_of(study: Study, sittings: Mapping[int, Sitting]) -> Reach:
    """How far the counted sittings came."""
    missed: Counter[tuple[str, str]] = Counter()
    broken: dict[str, list[int]] = defaultdict(list)
    to_come: Counter[str] = Counter()
    left = {person.code for person in study.people if person.left}
    for seat in study.seats:
        sitting = sittings.get(seat.number)
        if sitting is None or sitting.over is None:
            to_come[seat.chair] += study.counted(seat.participant) and seat.participant not in left
            continue
        if not is_counted(study, seat, sitting):
            continue
        tried = {attempt.card for attempt in sitting.tried}
        dropped = {card.id for card in study.cards if card.dropped}
        missed.update((card, seat.chair) for card in seat.cards if card not in tried and card not in dropped)
        if sitting.over is Phase.BROKEN_OFF:
            broken[seat.chair].append(seat.number)
    return Reach(dict(missed), {chair: tuple(numbers) for chair, numbers in broken.items()}, dict(to_come))
