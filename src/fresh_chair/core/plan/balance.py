"""The balance of a plan of orders: its effects that are balanced, those that are not, and the remedy."""

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence

from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.cards import must_follow
from fresh_chair.core.plan.orders import chairs_for, neighbour_counts, position_counts, unevenness, williams_orders
from fresh_chair.core.plan.study import Seat, Study


@frozen
class ChairBalance:
    """One set of chairs that some people sit at all of.

    Attributes:
        group: Its name; empty where everyone sits at every chair.
        positions: Per chair, how often it stands first, second, and so on.
        neighbours: How often a chair directly follows another, by (earlier, later).
        complete: People that a whole Williams design takes.
    """

    group: str
    letters: tuple[str, ...]
    people: int
    positions: Mapping[str, Sequence[int]]
    neighbours: Mapping[tuple[str, str], int]
    complete: int

    @property
    def missing(self) -> int:
        """People more for which every chair stands everywhere equally often."""
        return -self.people % self.complete


@frozen
class CardBalance:
    """Where the cards stand in their sittings.

    Attributes:
        positions: Per card, how often it stands first, second, and so on.
        bound: Cards that prerequisites keep from standing everywhere.
        unevenness: Mean squared distance of a count from an even spread.
    """

    positions: Mapping[str, Sequence[int]]
    bound: tuple[str, ...]
    unevenness: float


@frozen
class Balance:
    """The balance of a whole plan, with its sentences."""

    chairs: tuple[ChairBalance, ...]
    cards: CardBalance
    sentences: tuple[str, ...]
    uneven: tuple[str, ...]


def balance_of(study: Study, seats: Sequence[Seat]) -> Balance:
    """The balance of planned seats; pilots and experts are not counted.

    Of those who left, the sittings that were run count where cards are concerned, because their attempts do; their
    order of chairs does not, because whoever replaces them has it.
    """
    people = study.person_by_code
    counted = [seat for seat in seats if study.counted(seat.participant)]
    chairs = tuple(_chair_balances(study, [seat for seat in counted if not people[seat.participant].left]))
    ids = [card.id for card in study.cards if not card.dropped]
    orders = [seat.cards for seat in counted]
    before = must_follow(card for card in study.cards if not card.dropped)
    cards = CardBalance(
        position_counts(orders, ids),
        tuple(name for name in ids if before[name] or any(name in earlier for earlier in before.values())),
        unevenness(orders, ids),
    )
    said: list[str] = []
    uneven: list[str] = []
    for each in chairs:
        _say_chairs(study, each, said, uneven)
    said, uneven = [f"{one[0].upper()}{one[1:]}" for one in said], [f"{one[0].upper()}{one[1:]}" for one in uneven]
    _say_cards(study, cards, said, uneven)
    uneven += _once_sentences(study, counted, seats)
    return Balance(chairs, cards, tuple(said), tuple(uneven))


def _chair_balances(study: Study, seats: Sequence[Seat]) -> list[ChairBalance]:
    orders: dict[tuple[str, tuple[str, ...]], list[tuple[str, ...]]] = defaultdict(list)
    by_person: dict[str, list[Seat]] = defaultdict(list)
    for seat in seats:
        by_person[seat.participant].append(seat)
    groups = {group.name: group.chairs for group in study.sheet.groups}
    everywhere = tuple(chair.letter for chair in study.chairs)
    people = study.person_by_code
    for code, theirs in by_person.items():
        name = people[code].group if people[code].group in groups else ""
        letters = tuple(letter for letter in everywhere if letter in groups[name]) if name else everywhere
        order = tuple(seat.chair for seat in sorted(theirs, key=lambda seat: seat.position))
        orders[name, letters].append(order)
    return [
        ChairBalance(
            name,
            letters,
            len(listed),
            position_counts(listed, letters),
            dict(neighbour_counts(listed)),
            max(len(williams_orders(len(letters))), 1),
        )
        for (name, letters), listed in orders.items()
    ]


def _say_chairs(study: Study, each: ChairBalance, said: list[str], uneven: list[str]) -> None:
    titles = {letter: study.chair_by_letter[letter].title for letter in each.letters}
    who = f"Group {each.group}: " if each.group else ""
    if len(each.letters) < 2:
        return
    counts = {count for row in each.positions.values() for count in row}
    neighbours = {each.neighbours.get((one, other), 0) for one in titles for other in titles if one != other}
    if len(counts) == 1:
        said.append(f"{who}every chair stands in every position equally often, {_times(counts.pop())}.")
    else:
        most, least = _extremes({letter: row[0] for letter, row in each.positions.items()})
        firsts = {letter: row[0] for letter, row in each.positions.items()}
        if firsts[most] != firsts[least]:
            detail = f"{titles[most]} comes first {_times(firsts[most])}, {titles[least]} {_times(firsts[least])}"
        else:
            detail = "some chairs stand in a later position more often than others"
        uneven.append(f"{who}{detail}; {_more(each)}.")
    if len(neighbours) == 1:
        said.append(f"{who}every chair follows every other equally often, {_times(neighbours.pop())}.")
    elif len(counts) == 1 or not uneven:
        uneven.append(f"{who}not every chair follows every other equally often; {_more(each)}.")


def _more(each: ChairBalance) -> str:
    if each.missing:
        people = (
            "1 more person"
            if each.missing == 1
            else f"{each.missing} more {'person' if each.missing == 1 else 'people'}"
        )
        return f"{people} ({each.people + each.missing} in all) would even it out"
    return "people who left, or sittings already run, stand in the way; nothing to come can even it out"


def _say_cards(study: Study, cards: CardBalance, said: list[str], uneven: list[str]) -> None:
    titles = {card.id: card.title for card in study.cards}
    free = {name: row for name, row in cards.positions.items() if name not in cards.bound and any(row)}
    if not any(map(any, cards.positions.values())):
        return
    apart = {name: max(row) - min(row) for name, row in free.items()}
    if free and max(apart.values()) <= 1:
        said.append("Every card that no other binds stands in every position equally often, give or take one.")
    elif free:
        worst = max(apart, key=lambda name: apart[name])
        row = free[worst]
        uneven.append(
            f"“{titles[worst]}” stands {_times(max(row))} in one position and {_times(min(row))} in another; "
            "more people even it out."
        )
    if cards.bound:
        names = ", ".join(f"“{titles[name]}”" for name in cards.bound[:4]) + (" …" if len(cards.bound) > 4 else "")
        said.append(f"Prerequisites keep {names} from standing everywhere; their position is not balanced.")


def _once_sentences(study: Study, seats: Sequence[Seat], everyone: Sequence[Seat]) -> list[str]:
    said = []
    once = [card for card in study.cards if card.once and not card.dropped]
    for chair in study.chairs:
        here = [seat for seat in seats if seat.chair == chair.letter]
        if chair.put_back != "by hand" or not once:
            continue
        if not here:
            others = [seat.participant for seat in everyone if seat.chair == chair.letter]
            who = ", ".join(others)
            said += [
                f"“{card.title}” can be seen once per installation, and at {chair.title} only {who} sits, "
                "who is never counted: nobody gets it there."
                for card in once
                if others
            ]
            continue
        for card in once:
            getting = [seat.participant for seat in here if card.id in seat.cards]
            only = f"only {getting[0]} gets it" if len(getting) == 1 else "nobody gets it"
            said.append(
                f"“{card.title}” can be seen once per installation, and {chair.title} is put back by hand: {only}. "
                "A fresh copy for everyone would let all of them meet it."
            )
    return said


def _extremes(counts: Mapping[str, int]) -> tuple[str, str]:
    return max(counts, key=lambda name: counts[name]), min(counts, key=lambda name: counts[name])


def _times(count: int) -> str:
    return ("never", "once", "twice")[count] if count < 3 else f"{count} times"


@frozen
class Vacancy:
    """A place in the plan whose person left before all their sittings were run.

    Attributes:
        code: Who left.
        missing: The chairs they did not sit at.
        filled_by: Who takes their place; empty while nobody does.
    """

    code: str
    why: str
    missing: tuple[str, ...]
    filled_by: str


def vacancies(study: Study, ended: Collection[int]) -> list[Vacancy]:
    """Everyone who left without having sat everywhere, and who replaces them.

    A replacement begins anew, at every chair and in the order of the one who left: half of somebody's sittings and
    half of somebody else's are no pair.
    """
    replaced = {person.replaces: person.code for person in study.people if person.replaces}
    sat = {(seat.participant, seat.chair) for seat in study.seats if seat.number in set(ended)}
    found = []
    for person in study.people:
        missing = tuple(c.letter for c in chairs_for(study, person) if (person.code, c.letter) not in sat)
        if person.left and person.counts and missing:
            found.append(Vacancy(person.code, person.left, missing, replaced.get(person.code, "")))
    return found
