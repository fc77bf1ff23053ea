"""A second, larger round of the demo: 24 people at the same chairs, so that every verdict of the comparison occurs.

Lanternwood, finished by now, is as quick to use as Saltmarsh, and lets people wait: by hands time the two are alike, by
elapsed time they are not. Oakum is slower to use, and fewer complete everything there.
"""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from math import exp
from random import Random

from fresh_chair.core.clock import SECOND
from fresh_chair.core.plan.orders import planned_seats
from fresh_chair.core.plan.people import Participant
from fresh_chair.core.plan.sheet import Comparing, Group
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.demo.journals import Pen, demo_study

PEOPLE = 24
_SEED = "second round"
_BEGAN = datetime(2027, 2, 1, 9, 30, tzinfo=UTC)
# By chair: how many times as long as at A, how much of it again is waiting, and who completes a task.
_SLOWER = {"A": 1.0, "B": 1.0, "C": 1.62}
_WAITING = {"A": 0.15, "B": 0.85, "C": 0.2}
_COMPLETING = {"A": 0.93, "B": 0.92, "C": 0.84}
_EASIER = {"A": 0.3, "B": 0.0, "C": -0.25}


def second_round() -> Study:
    """The plan: the demo's cards and chairs, new people in two groups of experience, hands time as the primary."""
    study = demo_study()
    groups = ("newcomers", "newcomers", "used to computers")
    people = tuple(Participant(code=f"M{n:02}", group=groups[(n - 1) // 6 % 3]) for n in range(1, PEOPLE + 1))
    letters = tuple(chair.letter for chair in study.chairs)
    named = tuple(Group(name=name, chairs=letters) for name in dict.fromkeys(groups))
    sheet = replace(study.sheet, comparing=Comparing(primary="time"), groups=named)
    bare = replace(
        study,
        id="tern-harbour-2",
        title="Tern Harbour tool library: the second round",
        people=people,
        seats=(),
        sheet=sheet,
        carried=(),
    )
    return replace(bare, seats=planned_seats(bare))


def second_journals(study: Study) -> dict[int, list[Entry]]:
    """The journal of every sitting."""
    paces = {person.code: Random(f"{_SEED} {person.code}").gauss(0, 0.3) for person in study.people}
    return {seat.number: _sitting(study, seat, paces[seat.participant]) for seat in study.seats}


def _sitting(study: Study, seat: Seat, pace: float) -> list[Entry]:
    dice = Random(f"{_SEED} {seat.participant} {seat.chair}")
    begun = _BEGAN + timedelta(days=(seat.number - 1) // 3, hours=2.5 * ((seat.number - 1) % 3))
    boot = f"{dice.getrandbits(128):032x}"
    pen = Pen(dice.randrange(200, 9000) * SECOND, boot, round(begun.timestamp() * SECOND), dice)
    pen.write(j.SittingBegan())
    pen.write(j.ChairFound("fresh", (), pen.wall_ns - 240 * SECOND))
    pen.later(dice.uniform(60, 140))
    suits = dice.gauss(0, 0.06)
    for card_id in seat.cards:
        card = study.card_by_id[card_id]
        typical = 2.2 * sum(card.benchmark_seconds.values()) / max(len(card.benchmark_seconds), 1)
        learning = -0.12 * (seat.position - 1)
        hands = typical * _SLOWER[seat.chair] * exp(pace + suits + learning + dice.gauss(0, 0.3))
        _attempt(pen, dice, seat.chair, card_id, min(hands, card.limit_seconds + 5.0), hands > card.limit_seconds)
        pen.later(dice.uniform(25, 70))
    for item in range(1, 11):
        agreement = 3.7 + 0.5 * _EASIER[seat.chair] + dice.gauss(0, 0.8)
        pen.write(j.UsabilityAnswered(item, min(max(round(agreement if item % 2 else 6 - agreement), 1), 5)))
        pen.later(dice.uniform(4, 14))
    pen.write(j.SittingEnded())
    return pen.entries


def _attempt(pen: Pen, dice: Random, chair: str, card: str, hands: float, cut: bool) -> None:
    """One attempt with one wait in its middle."""
    pen.write(j.AttemptStarted(card))
    pen.later(hands / 2)
    pen.write(j.WaitBegan())
    pen.write(j.WaitTold("silent" if chair == "B" else "shown progress"))
    pen.later(hands * _WAITING[chair] * dice.uniform(0.8, 1.2))
    pen.write(j.WaitEnded())
    pen.later(hands / 2)
    completing = dice.random() < _COMPLETING[chair]
    outcome = Outcome.OUT_OF_TIME if cut else Outcome.UNAIDED if completing else Outcome.GAVE_UP
    if outcome is Outcome.UNAIDED and dice.random() < 0.06:
        pen.write(j.Helped())
        outcome = Outcome.HELPED
    pen.write(j.AttemptStopped())
    pen.later(dice.uniform(2, 6))
    pen.write(j.OutcomeJudged(outcome, ""))
    pen.later(dice.uniform(4, 12))
    felt = 5.0 + _EASIER[chair] + dice.gauss(0, 0.9) - (1.5 if not outcome.completed else 0)
    pen.write(j.EaseRated(min(max(round(felt), 1), 7)))
