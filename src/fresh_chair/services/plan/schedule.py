"""How long sittings take and when they are held."""

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import replace
from datetime import datetime
from math import log
from pathlib import Path

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import InputError
from fresh_chair.core.figures.duration import (
    CardTime,
    SeatTime,
    Slot,
    card_times,
    measured_minutes,
    overlaps,
    seat_time,
    timetable,
)
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.text import count_of
from fresh_chair.services.plan.plan_changes import change_plan, replaced
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.services.system.files import Written, write_file


@frozen
class Timing:
    """The whole plan in minutes.

    Attributes:
        seats: Every sitting to come, by number.
        measured: Minutes that each sitting that was run took, by number.
        remarks: What does not fit, in words.
    """

    minutes: int
    seats: tuple[SeatTime, ...]
    cards: Mapping[tuple[str, str], CardTime]
    measured: Mapping[int, float]
    slots: tuple[Slot, ...]
    remarks: tuple[str, ...]

    @property
    def over(self) -> tuple[SeatTime, ...]:
        """Sittings that are likely to take longer than planned."""
        return tuple(seat for seat in self.seats if seat.over(self.minutes))

    @property
    def to_drop(self) -> dict[str, int]:
        """Cards to leave out so that every sitting fits, with how many sittings would need it."""
        counts: dict[str, int] = defaultdict(int)
        for seat in self.over:
            for card in seat.drop:
                counts[card] += 1
        return dict(sorted(counts.items(), key=lambda item: -item[1]))


def timing(opened: StudyReading) -> Timing:
    """How long every sitting to come takes, and when it is."""
    study = opened.study
    times = card_times(study, opened.sittings)
    people = study.person_by_code
    seats = tuple(
        seat_time(study, seat, times)
        for seat in study.seats
        if opened.phase(seat.number) is Phase.EMPTY and not people[seat.participant].left
    )
    phases = {number: sitting.phase for number, sitting in opened.sittings.items()}
    slots = timetable(study, phases, now=datetime.fromtimestamp(opened.clock.now().wall_ns / SECOND))
    counted = {
        s.number: opened.sittings[s.number]
        for s in study.seats
        if s.number in opened.begun and people[s.participant].counts
    }
    minutes = study.sheet.minutes_per_sitting
    return Timing(
        minutes, seats, times, measured_minutes(counted), tuple(slots), tuple(_remarks(opened.study, seats, times))
    )


def _remarks(study: Study, seats: tuple[SeatTime, ...], times: Mapping[tuple[str, str], CardTime]) -> list[str]:
    minutes = study.sheet.minutes_per_sitting
    said = [f"Sitting times: {sentence}" for sentence in overlaps(study.sheet.timetable, minutes)]
    if study.sheet.minutes_apart >= minutes:
        said.append("Welcome and questionnaire take all the time there is; nothing is left for the cards.")
    over = [each for each in seats if each.over(minutes)]
    if over:
        cards = study.card_by_id
        stuck = [
            each
            for each in over
            if each.likely - sum(times[name, each.seat.chair].likely / 60 for name in each.drop) > minutes
        ]
        if stuck:
            kept = sum(cards[name].priority == 1 for name in stuck[0].seat.cards)
            said.append(
                f"{count_of(len(stuck), 'sitting')} would take too long even without every card of priority 2 and 3; "
                f"{count_of(kept, 'card')} of priority 1 left."
            )
    return said


def drop_cards(opened: OpenStudy, cards: list[str]) -> None:
    """Take these cards out of all sittings to come; sittings that were run stay. Raises as `change_plan`."""
    wanted = set(cards)
    changed = tuple(replace(card, dropped=True) if card.id in wanted else card for card in opened.study.cards)
    change_plan(opened, replaced(opened, cards=changed))


def write_timetable(opened: StudyReading, path: Path) -> Written:
    """Write the timetable of the sittings to come as iCalendar.

    Raises:
        InputError: Where nothing is to come, or the sheet says no days or times.
        OutsideError: Where the disk refuses.
    """
    from fresh_chair.tell.calendar import calendar_of

    slots = timing(opened).slots
    if not slots:
        raise InputError(
            "There is nothing to put into a timetable.",
            "Either every sitting was run, or the study sheet says no weekdays or times.",
        )
    data = calendar_of(opened.study, slots, made=opened.clock.now().wall)
    return write_file(path, data, f"timetable, {count_of(len(slots), 'sitting')}")


def ratio_spread_of(opened: StudyReading) -> tuple[float, int]:
    """How much the ratio of two chairs' times varies over people, and from how many pairs that is known.

    From the attempts there are, within cards and pairs of chairs; the usual value where they are fewer than ten.
    """
    from fresh_chair.core.figures.sample_size import TYPICAL_SPREAD

    times: dict[tuple[str, str], dict[str, float]] = defaultdict(dict)
    for fact in opened.facts():
        if fact.outcome.completed and fact.first_try and fact.hands_seconds > 0:
            times[fact.card, fact.participant][fact.chair] = fact.hands_seconds
    logs: dict[tuple[str, str, str], list[float]] = defaultdict(list)
    for (card, _), by_chair in times.items():
        letters = sorted(by_chair)
        for index, one in enumerate(letters):
            for other in letters[index + 1 :]:
                logs[card, one, other].append(log(by_chair[one] / by_chair[other]))
    usable = [values for values in logs.values() if len(values) >= 2]
    freedom = sum(len(values) - 1 for values in usable)
    if freedom < 10:
        return TYPICAL_SPREAD, 0
    squares = sum(sum((v - sum(values) / len(values)) ** 2 for v in values) for values in usable)
    return max((squares / freedom) ** 0.5, 0.05), sum(map(len, usable))
