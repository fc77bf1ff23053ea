"""Who sits where in which order.

Chairs follow Williams designs; cards follow Williams rows too, bent as little as the prerequisites demand and then
evened out by exchanges. Whatever was run already stays as it is and counts in the balance. The same study, seed and
runs give the same plan.
"""

from collections import Counter, defaultdict
from collections.abc import Collection, Mapping, Sequence
from itertools import pairwise
from random import Random

from fresh_chair.core.plan.cards import TaskCard, must_follow
from fresh_chair.core.plan.chairs import Chair
from fresh_chair.core.plan.people import Participant
from fresh_chair.core.plan.study import Seat, Study

# Exchanges tried for each sitting; more than this improves the balance by less than one part in a hundred (make bench).
_TRIES = 160


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


def planned_seats(study: Study, begun: Collection[int] = ()) -> tuple[Seat, ...]:
    """Seats for everybody, with those that have begun left exactly as they are.

    Args:
        study: The study; its present seats that are not in `begun` are planned anew.
        begun: Numbers of the sittings that have begun.

    Returns:
        All seats by number. Nobody who has left gets a new one. Whoever replaces somebody gets that person's order of
        chairs. Everybody's first sitting is numbered before anybody's second.
    """
    ran = {(seat.participant, seat.chair) for seat in study.seats if seat.number in set(begun)}
    # Whoever sits at a chair once more does so after the first time, and keeps the place that was given then.
    kept = [seat for seat in study.seats if seat.number in set(begun) or (seat.participant, seat.chair) in ran]
    free = _chair_seats(study, kept)
    taken = {seat.number for seat in kept}
    numbers = (number for number in range(1, len(taken) + len(free) + 1) if number not in taken)
    place = {person.code: at for at, person in enumerate(study.people)}
    order = sorted(free, key=lambda seat: (_ROLE_FIRST[study.person_by_code[seat[0]].role], seat[2], place[seat[0]]))
    bare = [
        Seat(number=number, participant=code, chair=letter, position=position, cards=())
        for number, (code, letter, position) in zip(numbers, order, strict=False)
    ]
    return tuple(sorted([*kept, *_with_cards(study, kept, bare)], key=lambda seat: seat.number))


# The expert knows the way before a pilot tries it, and a pilot comes before everybody who counts.
_ROLE_FIRST = {"expert": 0, "pilot": 1, "participant": 2}


def _is_planned(person: Participant) -> bool:
    """Whether a person's sittings are planned beforehand: a reviewer's walks are taken up as they come."""
    return not person.left and person.role != "reviewer"


def chairs_for(study: Study, person: Participant) -> tuple[Chair, ...]:
    """The chairs a person sits at: their group's, or all."""
    for group in study.sheet.groups:
        if group.name == person.group:
            return tuple(chair for chair in study.chairs if chair.letter in group.chairs)
    return study.chairs


def _chair_seats(study: Study, kept: Sequence[Seat]) -> list[tuple[str, str, int]]:
    """Who sits at which chair as which of theirs, for all seats that have not begun."""
    done: dict[str, list[Seat]] = defaultdict(list)
    for seat in kept:
        done[seat.participant].append(seat)
    used: dict[tuple[str, ...], Counter[tuple[str, ...]]] = defaultdict(Counter)
    rows: dict[tuple[str, ...], list[tuple[str, ...]]] = {}
    order_of: dict[str, tuple[str, ...]] = {}
    free: list[tuple[str, str, int]] = []
    for person in sorted(study.people, key=lambda person: (not done[person.code], bool(person.replaces))):
        letters = tuple(chair.letter for chair in chairs_for(study, person))
        if not letters:
            continue
        if letters not in rows:
            rows[letters] = [tuple(letters[i] for i in order) for order in williams_orders(len(letters))]
        sat = list(dict.fromkeys(seat.chair for seat in sorted(done[person.code], key=lambda seat: seat.position)))
        row = _row_for(rows[letters], used[letters], sat, order_of.get(person.replaces))
        order_of[person.code] = row
        # A place that is to be filled by somebody else is not filled yet.
        if person.counts and not person.left:
            used[letters][row] += 1
        if _is_planned(person):
            free += [(person.code, letter, at) for at, letter in enumerate(row, start=1) if letter not in sat]
    return free


def _row_for(
    rows: Sequence[tuple[str, ...]],
    used: Counter[tuple[str, ...]],
    sat: Sequence[str],
    wanted: tuple[str, ...] | None,
) -> tuple[str, ...]:
    """The least used row that begins as the person has begun; failing that, their own beginning and the rest of one."""
    if wanted is not None and wanted in rows and list(wanted[: len(sat)]) == list(sat):
        return wanted
    fitting = [row for row in rows if list(row[: len(sat)]) == list(sat)]
    if fitting:
        return min(fitting, key=lambda row: (used[row], rows.index(row)))
    row = min(rows, key=lambda row: (used[row], rows.index(row)))
    return (*sat, *(letter for letter in row if letter not in sat))


def _with_cards(study: Study, kept: Sequence[Seat], bare: Sequence[Seat]) -> list[Seat]:
    """The seats with the cards in an order that the prerequisites allow, positions spread evenly."""
    cards = [card for card in study.cards if not card.dropped]
    allowed = _once_only(study, kept, bare, cards)
    orderer = _Orderer(cards, Random(f"{study.seed}/cards"))
    for seat in kept:
        if study.counted(seat.participant):
            orderer.count(seat.cards)
    planned: list[tuple[Seat, tuple[str, ...]]] = []
    counted: list[int] = []
    for at, seat in enumerate(bare):
        given = [card.id for card in cards if (seat.number, card.id) not in allowed]
        if study.counted(seat.participant):
            counted.append(at)
            planned.append((seat, orderer.next_order(given)))
        else:
            planned.append((seat, orderer.plain_order(given)))
    evened = orderer.evened([planned[at][1] for at in counted])
    for at, order in zip(counted, evened, strict=True):
        planned[at] = (planned[at][0], order)
    return [
        Seat(number=s.number, participant=s.participant, chair=s.chair, position=s.position, cards=order)
        for s, order in planned
    ]


def _once_only(
    study: Study, kept: Sequence[Seat], bare: Sequence[Seat], cards: Sequence[TaskCard]
) -> set[tuple[int, str]]:
    """Sittings and cards that do not go together: a once-only card was seen there before.

    At a chair that is put back by hand, only the first participant gets a once-only card.
    """
    by_hand = {chair.letter for chair in study.chairs if chair.put_back == "by hand"}
    once = [card.id for card in cards if card.once]
    gone: set[tuple[str, str]] = {(seat.chair, card) for seat in kept for card in seat.cards if seat.chair in by_hand}
    without: set[tuple[int, str]] = set()
    for seat in sorted(bare, key=lambda seat: seat.number):
        if seat.chair not in by_hand:
            continue
        for card in once:
            if (seat.chair, card) in gone or not study.counted(seat.participant):
                without.add((seat.number, card))
            else:
                gone.add((seat.chair, card))
    return without


class _Orderer:
    """Orders cards for one sitting after another, with the balance so far in mind."""

    def __init__(self, cards: Sequence[TaskCard], random: Random) -> None:
        self._random = random
        self._ids = [card.id for card in cards]
        self._place = {name: at for at, name in enumerate(self._ids)}
        before = must_follow(cards)
        self._before = [self._mask(before[name]) for name in self._ids]
        self._after = [
            sum(1 << other for other in range(len(self._ids)) if self._before[other] >> at & 1)
            for at in range(len(self._ids))
        ]
        self._bound = any(self._before)
        self._counts = [[0] * len(self._ids) for _ in self._ids]
        rows = list(williams_orders(len(self._ids)))
        labels = list(range(len(self._ids)))
        random.shuffle(labels)
        self._rows = [tuple(labels[i] for i in row) for row in rows]
        random.shuffle(self._rows)
        self._next = 0

    def count(self, order: Sequence[str]) -> None:
        """Count an order that was run."""
        for position, name in enumerate(order):
            if name in self._place and position < len(self._ids):
                self._counts[self._place[name]][position] += 1

    def plain_order(self, given: Sequence[str]) -> tuple[str, ...]:
        """The cards as the script lists them, as far as the prerequisites allow: for those who are not counted."""
        return self._names(self._allowed([self._place[name] for name in given]))

    def next_order(self, given: Sequence[str]) -> tuple[str, ...]:
        """The next Williams row, bent to the prerequisites."""
        if not self._ids:
            return ()
        wanted = {self._place[name] for name in given}
        row = [at for at in self._rows[self._next % len(self._rows)] if at in wanted]
        self._next += 1
        order = self._names(self._allowed(row))
        self.count(order)
        return order

    def evened(self, orders: Sequence[tuple[str, ...]]) -> list[tuple[str, ...]]:
        """The orders after exchanging cards within each wherever that spreads positions more evenly.

        Where nothing binds the cards, Williams rows are balanced for neighbours too, and only an incomplete set is
        exchanged further.
        """
        places = [[self._place[name] for name in order] for order in orders]
        if not self._bound and len(orders) % max(len(self._rows), 1) == 0 and all(map(self._whole, places)):
            return list(orders)
        counts, randrange = self._counts, self._random.randrange
        for order in places * 2:
            size = len(order)
            for _ in range(_TRIES // 2 if size > 1 else 0):
                low, high = randrange(size), randrange(size)
                if low > high:
                    low, high = high, low
                if low == high:
                    continue
                one, other = order[low], order[high]
                ones, others = counts[one], counts[other]
                # Change of the sum of squared counts, halved and less its constant.
                gain = ones[low] - ones[high] + others[high] - others[low]
                if gain < 2 or not self._may_swap(order, low, high):
                    continue
                ones[low] -= 1
                ones[high] += 1
                others[high] -= 1
                others[low] += 1
                order[low], order[high] = other, one
        return [self._names(order) for order in places]

    def _may_swap(self, order: Sequence[int], low: int, high: int) -> bool:
        between = 0
        for at in order[low + 1 : high]:
            between |= 1 << at
        one, other = order[low], order[high]
        return not (self._after[one] & (between | 1 << other) or self._before[other] & between)

    def _whole(self, order: Sequence[int]) -> bool:
        return len(order) == len(self._ids)

    def _allowed(self, row: Sequence[int]) -> list[int]:
        """The row with every card held back until its requirements have come."""
        waiting, wanted, order, come = list(row), self._mask_of(row), [], 0
        while waiting:
            for at in waiting:
                if not self._before[at] & wanted & ~come:
                    order.append(at)
                    come |= 1 << at
                    waiting.remove(at)
                    break
        return order

    def _mask(self, names: Collection[str]) -> int:
        return self._mask_of([self._place[name] for name in names if name in self._place])

    def _mask_of(self, places: Sequence[int]) -> int:
        return sum(1 << at for at in places)

    def _names(self, places: Sequence[int]) -> tuple[str, ...]:
        return tuple(self._ids[at] for at in places)


def position_counts(orders: Sequence[Sequence[str]], names: Sequence[str]) -> dict[str, list[int]]:
    """How often each name stands in each position, from the first on."""
    longest = max((len(order) for order in orders), default=0)
    counts = {name: [0] * longest for name in names}
    for order in orders:
        for position, name in enumerate(order):
            if name in counts:
                counts[name][position] += 1
    return counts


def neighbour_counts(orders: Sequence[Sequence[str]]) -> Mapping[tuple[str, str], int]:
    """How often each name comes directly after each other one, by (earlier, later)."""
    return Counter(pair for order in orders for pair in pairwise(order))


def unevenness(orders: Sequence[Sequence[str]], names: Sequence[str]) -> float:
    """Mean over names and positions of the squared distance of the count from an even spread; 0 is perfect."""
    counts = position_counts(orders, names)
    cells = [(count - sum(row) / len(row)) ** 2 for row in counts.values() if row for count in row]
    return sum(cells) / len(cells) if cells else 0.0
