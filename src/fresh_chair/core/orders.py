"""Who sits where in which order."""

from collections.abc import Sequence
from random import Random

from fresh_chair.core.study import Chair, Participant, Seat, TaskCard


def williams_orders(count: int) -> tuple[tuple[int, ...], ...]:
    """Orders of `count` things in which each stands in each position, and follows each other one, equally often.

    An even count needs `count` orders, an odd one twice as many (the square and its mirror image).

    Source: Williams, E. J. (1949). Experimental designs balanced for the estimation of residual effects of
        treatments. Australian Journal of Scientific Research A 2, 149-168.

    >>> williams_orders(2)
    ((0, 1), (1, 0))
    """
    if count < 1:
        return ()
    first = [0]
    low, high = 1, count - 1
    while len(first) < count:
        if len(first) % 2:
            first.append(low)
            low += 1
        else:
            first.append(high)
            high -= 1
    square = [tuple((start + step) % count for step in first) for start in range(count)]
    if count % 2 and count > 1:
        square += [tuple(reversed(order)) for order in square]
    return tuple(square)


def seats_of(
    person: Participant,
    index: int,
    chairs: Sequence[Chair],
    cards: Sequence[TaskCard],
    *,
    seed: int,
    numbers: Sequence[int],
) -> tuple[Seat, ...]:
    """One person's seats at every chair.

    The chairs follow the Williams order that falls to the `index`-th person (from 0); the cards are shuffled per
    sitting by a generator that depends on the seed and the person alone, so that adding people changes nobody else.

    Args:
        numbers: The sittings' numbers, one for each chair.
    """
    orders = williams_orders(len(chairs))
    return tuple(
        Seat(
            number=number,
            participant=person.code,
            chair=chairs[which].letter,
            position=position,
            cards=shuffled_cards(cards, seed=seed, who=f"{person.code}@{chairs[which].letter}"),
        )
        for position, (number, which) in enumerate(
            zip(numbers, orders[index % len(orders)] if orders else (), strict=True), start=1
        )
    )


def seats_for(
    people: Sequence[Participant], chairs: Sequence[Chair], cards: Sequence[TaskCard], *, seed: int
) -> tuple[Seat, ...]:
    """A seat for everyone at every chair, numbered so that everybody's first sitting comes before anybody's second."""
    seats = [
        seat
        for index, person in enumerate(people)
        for seat in seats_of(
            person,
            index,
            chairs,
            cards,
            seed=seed,
            numbers=[round_ * len(people) + index + 1 for round_ in range(len(chairs))],
        )
    ]
    return tuple(sorted(seats, key=lambda seat: seat.number))


def shuffled_cards(cards: Sequence[TaskCard], *, seed: int, who: str) -> tuple[str, ...]:
    """The ids of the cards in an order that the seed and the name fix for good."""
    ids = [card.id for card in cards]
    Random(f"{seed}/{who}").shuffle(ids)
    return tuple(ids)
