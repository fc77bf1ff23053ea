"""How long a sitting takes: from limits and benchmarks, and from the data once there are sittings."""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from datetime import date, datetime, time, timedelta
from itertools import pairwise
from math import sqrt
from statistics import median

from fresh_chair.core.clock import SECOND
from fresh_chair.core.figures.facts import is_counted
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.readability import aloud_seconds
from fresh_chair.core.plan.sheet import DAYS, Timetable
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.text import count_of

# Handing over, reading and the ease question around each attempt, as long as no sitting says how long they take here.
BETWEEN_SECONDS = 45.0
# From so many attempts on, their median replaces the guess.
FEWEST_ATTEMPTS = 3


@frozen
class CardTime:
    """How long one card takes at one chair, everything included from reading it aloud on.

    Attributes:
        low: As quick as the expert.
        likely: The median of the attempts there were; before there are any, the geometric mean of benchmark and limit,
            or half the limit where no expert has done it.
        high: The limit used up; in the data, what nine of ten attempts kept within.
        attempts: How many attempts it is from; 0 where it is a guess.
    """

    card: str
    low: float
    likely: float
    high: float
    attempts: int


@frozen
class SeatTime:
    """How long one planned sitting takes, in minutes.

    Attributes:
        drop: Cards to leave out so that the likely time fits, lowest priority and longest first.
    """

    seat: Seat
    low: float
    likely: float
    high: float
    drop: tuple[str, ...]

    def over(self, minutes: int) -> bool:
        """True where the likely time is longer than planned."""
        return self.likely > minutes


@frozen
class Slot:
    """A planned sitting in the timetable."""

    seat: Seat
    begins: datetime
    ends: datetime


def card_times(study: Study, sittings: Mapping[int, Sitting]) -> dict[tuple[str, str], CardTime]:
    """How long each card takes at each chair, by card and chair."""
    spent, between = _spent(study, sittings)
    times = {}
    for card in study.cards:
        apart = aloud_seconds(card.goal) + between
        for chair in study.chairs:
            times[card.id, chair.letter] = _card_time(card, chair.letter, apart, spent.get((card.id, chair.letter), []))
    return times


def _card_time(card: TaskCard, letter: str, apart: float, spent: Sequence[float]) -> CardTime:
    limit, expert = float(card.limit_seconds), card.benchmark_seconds.get(letter)
    if len(spent) >= FEWEST_ATTEMPTS:
        ordered = sorted(spent)
        ninth = ordered[min(int(len(ordered) * 0.9), len(ordered) - 1)]
        return CardTime(card.id, ordered[0] + apart, median(ordered) + apart, ninth + apart, len(ordered))
    likely = limit / 2 if expert is None else min(sqrt(expert * limit), limit)
    return CardTime(card.id, (expert or 0.0) + apart, likely + apart, limit + apart, 0)


def _spent(study: Study, sittings: Mapping[int, Sitting]) -> tuple[dict[tuple[str, str], list[float]], float]:
    """Seconds of every counted attempt, waits and asides too, and the median seconds between two attempts."""
    spent: dict[tuple[str, str], list[float]] = defaultdict(list)
    gaps: list[float] = []
    for seat in study.seats:
        sitting = sittings.get(seat.number)
        if sitting is None or not is_counted(study, seat, sitting):
            continue
        ended: int | None = None
        for attempt in sitting.tried:
            if ended is not None:
                # What was left running overlaps with the next card; there is no gap then.
                gaps.append(max(attempt.started_ns - ended, 0) / SECOND)
            ended = attempt.stopped_ns
            if attempt.outcome is not None and attempt.outcome.counts:
                spent[attempt.card, seat.chair].append(attempt.elapsed_ns() / SECOND)
    if len(gaps) < FEWEST_ATTEMPTS:
        return spent, BETWEEN_SECONDS
    aloud = median([aloud_seconds(card.goal) for card in study.cards] or [0.0])
    return spent, max(median(gaps) - aloud, 0.0)


def measured_minutes(sittings: Mapping[int, Sitting]) -> dict[int, float]:
    """Minutes from sitting down to getting up, of every sitting that ended as planned, by its number."""
    return {
        number: (sitting.over_ns or 0) / SECOND / 60
        for number, sitting in sittings.items()
        if sitting.phase is Phase.ENDED
    }


def seat_time(study: Study, seat: Seat, times: Mapping[tuple[str, str], CardTime]) -> SeatTime:
    """How long one sitting takes, and the cards to leave out where that is too long."""
    each = [times[card, seat.chair] for card in seat.cards]
    apart = study.sheet.minutes_apart
    low, likely, high = (apart + sum(getattr(time, which) for time in each) / 60 for which in ("low", "likely", "high"))
    drop: list[str] = []
    over = likely - study.sheet.minutes_per_sitting
    cards = study.card_by_id
    for one in sorted(each, key=lambda one: (-cards[one.card].priority, -one.likely)):
        if over <= 0 or cards[one.card].priority == 1:
            break
        drop.append(one.card)
        over -= one.likely / 60
    return SeatTime(seat, low, likely, high, tuple(drop))


def timetable(study: Study, phases: Mapping[int, Phase], *, now: datetime) -> list[Slot]:
    """When every sitting to come is held, one after another; sittings that have begun are not in it.

    The timetable begins on its first day, or now where that has passed.
    """
    table = study.sheet.timetable
    if not table.starts or not table.days:
        return []
    to_come = [s for s in study.seats if phases.get(s.number, Phase.EMPTY) is Phase.EMPTY and _sits(study, s)]
    first = date.fromisoformat(table.first_day) if table.first_day else now.date()
    length = timedelta(minutes=study.sheet.minutes_per_sitting)
    slots = []
    for seat, begins in zip(
        sorted(to_come, key=lambda seat: seat.number), _starts(table, max(first, now.date()), now), strict=False
    ):
        slots.append(Slot(seat, begins, begins + length))
    return slots


def overlaps(table: Timetable, minutes: int) -> list[str]:
    """Starts of the timetable that come before the sitting before them is over."""
    starts = sorted(table.starts)
    found = []
    for earlier, later in pairwise(starts):
        apart = _minutes(later) - _minutes(earlier)
        if apart < minutes:
            found.append(
                f"{later} comes {count_of(apart, 'minute')} after {earlier}, and a sitting is planned for {minutes}."
            )
    return found


def _sits(study: Study, seat: Seat) -> bool:
    return not study.person_by_code[seat.participant].left


def _starts(table: Timetable, first: date, now: datetime) -> Iterable[datetime]:
    day = first
    while True:
        if DAYS[day.weekday()] in table.days:
            for start in sorted(table.starts):
                begins = datetime.combine(day, time.fromisoformat(start))
                if begins >= now:
                    yield begins
        day += timedelta(days=1)


def _minutes(start: str) -> int:
    clock = time.fromisoformat(start)
    return clock.hour * 60 + clock.minute
