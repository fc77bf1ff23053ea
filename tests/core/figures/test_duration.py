"""How long sittings take, and when they are held."""

from dataclasses import replace
from datetime import datetime
from math import sqrt

import pytest

from fresh_chair.core.figures.duration import (
    BETWEEN_SECONDS,
    card_times,
    measured_minutes,
    overlaps,
    seat_time,
    timetable,
)
from fresh_chair.core.plan.readability import aloud_seconds
from fresh_chair.core.plan.sheet import Sheet, Timetable
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.replay import replay
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Sitting
from tests.builders import Script, card, small_study

NOW = datetime(2026, 11, 11, 12, 0)  # a Wednesday


def sat(seconds: float, card_id: str = "card-1", *, outcome: Outcome = Outcome.UNAIDED) -> Sitting:
    """A sitting with one attempt of that length."""
    script = Script()
    script.at(0, j.SittingBegan())
    script.at(10, j.AttemptStarted(card_id))
    script.at(seconds, j.AttemptStopped(), j.OutcomeJudged(outcome, "a reason"))
    if outcome.counts:
        script.at(5, j.EaseRated(4))
    script.at(5, j.UsabilityDeclined(), j.SittingEnded())
    return replay(1, (card_id,), script.entries)


def test_before_anyone_sat_a_card_takes_between_the_experts_time_and_its_limit() -> None:
    study = small_study(cards=1)
    apart = aloud_seconds(study.cards[0].goal) + BETWEEN_SECONDS
    time = card_times(study, {})["card-1", "A"]
    assert (time.low, time.likely, time.high) == pytest.approx((10 + apart, sqrt(10 * 60) + apart, 60 + apart))
    assert time.attempts == 0
    unknown = replace(study, cards=(replace(study.cards[0], benchmark_seconds={}),))
    assert card_times(unknown, {})["card-1", "A"].likely == pytest.approx(30 + apart)


def test_from_three_attempts_on_their_median_replaces_the_guess() -> None:
    study = small_study(people=4, chairs=1, cards=1)
    sittings = {number: sat(seconds) for number, seconds in ((1, 20), (2, 50), (3, 30))}
    time = card_times(study, sittings)["card-1", "A"]
    apart = aloud_seconds(study.cards[0].goal) + BETWEEN_SECONDS
    assert time.likely - apart == pytest.approx(30)
    assert time.attempts == 3
    two = card_times(study, {1: sittings[1], 2: sittings[2]})["card-1", "A"]
    assert two.attempts == 0


def test_void_attempts_and_pilots_say_nothing_about_how_long_it_takes() -> None:
    study = small_study(people=3, chairs=1, cards=1)
    void = {number: sat(500, outcome=Outcome.VOID) for number in (1, 2, 3)}
    assert card_times(study, void)["card-1", "A"].attempts == 0
    pilots = replace(study, people=tuple(replace(person, role="pilot") for person in study.people))
    assert card_times(pilots, {n: sat(500) for n in (1, 2, 3)})["card-1", "A"].attempts == 0


def test_what_does_not_fit_is_dropped_lowest_priority_and_longest_first_never_priority_one() -> None:
    cards = (
        card("stays", limit_seconds=1200, priority=1),
        card("short-third", limit_seconds=200, priority=3),
        card("long-third", limit_seconds=900, priority=3),
        card("second", limit_seconds=600, priority=2),
    )
    study = replace(small_study(chairs=1), cards=cards, seats=())
    from fresh_chair.core.plan.orders import planned_seats

    study = replace(study, seats=planned_seats(study), sheet=Sheet(minutes_per_sitting=26, minutes_apart=5))
    found = seat_time(study, study.seats[0], card_times(study, {}))
    assert found.over(26)
    assert found.drop == ("long-third",)
    tight = replace(study, sheet=Sheet(minutes_per_sitting=10, minutes_apart=5))
    assert set(seat_time(tight, tight.seats[0], card_times(tight, {})).drop) == {"long-third", "short-third", "second"}


def test_the_timetable_keeps_its_weekdays_and_times_and_begins_no_earlier_than_now() -> None:
    study = small_study(people=3, chairs=2)
    sheet = Sheet(minutes_per_sitting=45, timetable=Timetable(days=("mon", "wed"), starts=("14:00", "09:30")))
    study = replace(study, sheet=sheet)
    slots = timetable(study, {1: Phase.ENDED}, now=NOW)
    assert [slot.seat.number for slot in slots] == [2, 3, 4, 5, 6]
    assert [slot.begins.strftime("%a %d %H:%M") for slot in slots] == [
        "Wed 11 14:00",
        "Mon 16 09:30",
        "Mon 16 14:00",
        "Wed 18 09:30",
        "Wed 18 14:00",
    ]
    assert all((slot.ends - slot.begins).total_seconds() == 45 * 60 for slot in slots)
    later = replace(sheet, timetable=replace(sheet.timetable, first_day="2026-12-01"))
    assert timetable(replace(study, sheet=later), {}, now=NOW)[0].begins == datetime(2026, 12, 2, 9, 30)
    nothing = replace(sheet, timetable=Timetable(days=()))
    assert timetable(replace(study, sheet=nothing), {}, now=NOW) == []


def test_starts_that_come_too_soon_are_said() -> None:
    (said,) = overlaps(Timetable(starts=("09:30", "10:00", "12:00")), 60)
    assert "10:00" in said
    assert "30 minutes" in said


def test_only_sittings_that_ended_are_measured() -> None:
    ended = sat(45)
    running = replay(2, ("card-1",), Script().entries or [])
    assert measured_minutes({1: ended, 2: running}) == {1: pytest.approx(65 / 60)}
