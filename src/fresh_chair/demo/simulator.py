"""How made-up newcomers behave: seeded, so that the same study comes out every time.

People differ in pace and in how soon they give up, tasks and chairs differ in how hard they are, the second and third
chair go faster than the first, and waits belong to machines. None of it is known to the core.
"""

import tomllib
from functools import cache
from importlib.resources import files
from math import exp
from random import Random
from typing import Any

from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.study import Seat
from fresh_chair.core.sitting.state.outcome import Outcome

LEARNING = 0.88
EXPERT = "E1"
# Pace above 1 is slower; patience above 1 holds out longer.
PEOPLE = {
    "P01": (1.15, 1.0),
    "P02": (0.85, 1.2),
    "P03": (1.45, 0.9),
    "P04": (0.70, 0.8),
    "P05": (1.60, 1.3),
    "P06": (0.95, 0.6),
    "T1": (1.10, 1.0),
}
# How many times the expert's time a newcomer of middling pace needs.
HARDNESS = {
    "dark-screen": {"A": 2.6, "B": 5.4, "C": 3.4},
    "painting-program": {"A": 2.4, "B": 3.2, "C": 3.0},
    "get-online": {"A": 2.2, "B": 2.5, "C": 3.4},
    "boiler-letter": {"A": 3.4, "B": 3.0, "C": 5.2},
    "all-fixes": {"A": 2.9, "B": 4.0, "C": 3.6},
    "what-you-agree-to": {"A": 1.9, "B": 0.8, "C": 1.6},
    "larger-letters": {"A": 3.0, "B": 7.5, "C": 4.2},
    "peace-and-quiet": {"A": 3.0, "B": 4.2, "C": 4.4},
}
# Chance that someone of middling patience does not get there alone.
TROUBLE = {
    "dark-screen": {"A": 0.05, "B": 0.40, "C": 0.20},
    "painting-program": {"A": 0.15, "B": 0.35, "C": 0.30},
    "get-online": {"A": 0.10, "B": 0.15, "C": 0.30},
    "boiler-letter": {"A": 0.15, "B": 0.15, "C": 0.45},
    "all-fixes": {"A": 0.10, "B": 0.75, "C": 0.25},
    "what-you-agree-to": {"A": 0.10, "B": 0.55, "C": 0.40},
    "larger-letters": {"A": 0.05, "B": 0.70, "C": 0.25},
    "peace-and-quiet": {"A": 0.05, "B": 0.25, "C": 0.35},
}
# Seconds the machine keeps people waiting, in one or more goes.
WAITS: dict[str, dict[str, tuple[float, ...]]] = {
    "painting-program": {"A": (14, 48), "B": (22, 66), "C": (31, 95)},
    "get-online": {"A": (6,), "B": (9,), "C": (12,)},
    "boiler-letter": {"A": (11,), "C": (7,)},
    "all-fixes": {"A": (12,), "B": (17,), "C": (24,)},
    "dark-screen": {"B": (4,), "C": (6,)},
    "larger-letters": {"C": (3,)},
}
# How the machine looks meanwhile.
WAITS_LOOK = {"A": "shown progress", "B": "silent", "C": "shown progress"}
# Where people look first when they do not know the way, by chair.
ELSEWHERE = {
    "A": ("the picture behind, right button", "Hull and keel"),
    "B": ("Clearing, right button", "Roots"),
    "C": ("Ballast", "Rigging, Sails"),
}
SUS_LEVEL = {"A": 4.1, "B": 2.9, "C": 3.3}


@frozen
class MadeUpEvent:
    """Something at a share of the hands time: a wait of some seconds, a talk, help, a wrong place, words."""

    at: float
    kind: str
    seconds: float = 0.0
    words: str = ""


@frozen
class Behaviour:
    """One made-up attempt, before it is written down."""

    hands_seconds: float
    happenings: tuple[MadeUpEvent, ...]
    outcome: Outcome
    reason: str
    said_done: bool
    ease: int | None


@cache
def troubles() -> dict[str, list[dict[str, Any]]]:
    """The demo's troubles and delights."""
    return tomllib.loads(files(__package__).joinpath("troubles.toml").read_text(encoding="utf-8"))


def behave(seat: Seat, card: TaskCard, random: Random) -> Behaviour:
    """A person's behaviour with this card at this chair."""
    special = _special(seat, card)
    if special is not None:
        return special
    if seat.participant == EXPERT:
        return Behaviour(card.benchmark_seconds[seat.chair], (), Outcome.UNAIDED, "", False, None)
    pace, patience = PEOPLE[seat.participant]
    chair = seat.chair
    typical = card.benchmark_seconds[chair] * HARDNESS[card.id][chair]
    hands = typical * pace * LEARNING ** (seat.position - 1) * exp(random.gauss(0, 0.24))
    outcome = _outcome(card, chair, patience * random.uniform(0.7, 1.3), random)
    if outcome in (Outcome.GAVE_UP, Outcome.PARTLY):
        hands *= random.uniform(1.2, 1.9) * patience
    if hands >= card.limit_seconds and outcome is not Outcome.HELPED:
        outcome = Outcome.OUT_OF_TIME
    hands = min(hands, card.limit_seconds + random.uniform(2, 9))
    happenings = [*_waits(card, chair, random), *_words(card, chair, outcome, random)]
    wrong = sum(random.random() < TROUBLE[card.id][chair] for _ in range(4))
    happenings += [MadeUpEvent(random.uniform(0.1, 0.85), "wrong_place") for _ in range(wrong)]
    if outcome is Outcome.HELPED:
        happenings += [MadeUpEvent(random.uniform(0.5, 0.8), "helped") for _ in range(random.choice((1, 1, 2)))]
    if random.random() < 0.06:
        happenings.append(MadeUpEvent(random.uniform(0.2, 0.7), "aside", random.uniform(18, 70)))
    happenings += _way(seat, card, outcome)
    said = outcome.completed or (outcome is Outcome.PARTLY and random.random() < 0.8)
    return Behaviour(
        hands,
        tuple(sorted(happenings, key=lambda happening: happening.at)),
        outcome,
        "",
        said,
        _ease(outcome, hands / (card.benchmark_seconds[chair] * pace), random),
    )


def usability(seat: Seat, random: Random) -> tuple[int | None, ...]:
    """The ten answers this person gives about this chair."""
    level = SUS_LEVEL[seat.chair] + random.gauss(0, 0.35)
    answers: list[int | None] = []
    for index in range(10):
        agreement = level if index % 2 == 0 else 6 - level
        answers.append(min(max(round(agreement + random.gauss(0, 0.7)), 1), 5))
    if random.random() < 0.1:
        answers[random.randrange(10)] = None
    return tuple(answers)


def _special(seat: Seat, card: TaskCard) -> Behaviour | None:
    """Behaviour that the scenario fixes, not the dice."""
    if (seat.participant, seat.chair, card.id) == ("P02", "C", "get-online"):
        reason = "the wireless network Harbour-Guest was down: its box had been unplugged for the vacuum cleaner"
        note = MadeUpEvent(0.9, "note", words="box in the corridor has no light; nobody at any chair would get online")
        return Behaviour(74.0, (MadeUpEvent(0.5, "wrong_place"), note), Outcome.VOID, reason, False, None)
    if (seat.chair, card.id, seat.participant) == ("B", "painting-program", "P06"):
        snag = MadeUpEvent(0.8, "snag", words="program list closes itself the moment a name is typed, three times")
        reason = "the program list crashes on typing; nothing can be found or installed"
        return Behaviour(141.0, (MadeUpEvent(0.55, "wait", 38.0), snag), Outcome.BLOCKED, reason, False, 1)
    return None


def _outcome(card: TaskCard, chair: str, patience: float, random: Random) -> Outcome:
    if random.random() >= TROUBLE[card.id][chair] / max(patience, 0.5):
        return Outcome.UNAIDED
    if card.id in ("all-fixes", "what-you-agree-to"):
        return random.choices((Outcome.PARTLY, Outcome.HELPED, Outcome.GAVE_UP), (0.65, 0.2, 0.15))[0]
    return random.choices((Outcome.HELPED, Outcome.GAVE_UP, Outcome.PARTLY), (0.5, 0.35, 0.15))[0]


def _waits(card: TaskCard, chair: str, random: Random) -> list[MadeUpEvent]:
    seconds = WAITS.get(card.id, {}).get(chair, ())
    return [
        MadeUpEvent(
            (index + 1) / (len(seconds) + 1) + random.uniform(-0.1, 0.1),
            "wait",
            wait * exp(random.gauss(0, 0.2)),
            WAITS_LOOK[chair],
        )
        for index, wait in enumerate(seconds)
    ]


def _way(seat: Seat, card: TaskCard, outcome: Outcome) -> list[MadeUpEvent]:
    """The places a person went through, where the card has a route: some look elsewhere first, some come back."""
    route = card.routes.get(seat.chair, ())
    # Dice of their own: what else happens in the demo does not depend on them.
    dice = Random(f"{seat.participant} {seat.chair} {card.id}")
    places = list(route if outcome.completed else route[: dice.randrange(len(route) or 1)])
    for _ in range(dice.choices((0, 1, 2), (1 - TROUBLE[card.id][seat.chair], 0.4, 0.2))[0] if route else 0):
        places.insert(dice.randrange(max(len(places), 1)), dice.choice(ELSEWHERE[seat.chair]))
    return [MadeUpEvent((at + 0.5) / (len(places) + 0.7), "place", words=place) for at, place in enumerate(places)]


def _words(card: TaskCard, chair: str, outcome: Outcome, random: Random) -> list[MadeUpEvent]:
    more = 1.0 if outcome is Outcome.UNAIDED else 1.6
    said = []
    for kind, listed in (("snag", troubles()["trouble"]), ("delight", troubles()["delight"])):
        for item in listed:
            if item["card"] == card.id and random.random() < item["chances"][chair] * (more if kind == "snag" else 1):
                said.append(MadeUpEvent(random.uniform(0.15, 0.95), kind, words=random.choice(item["words"])))
    return said


def _ease(outcome: Outcome, slowness: float, random: Random) -> int | None:
    if random.random() < 0.03:
        return None
    middle = {Outcome.UNAIDED: 6.2, Outcome.HELPED: 3.9, Outcome.PARTLY: 4.4}.get(outcome, 2.2)
    return min(max(round(middle - 0.25 * (slowness - 2) + random.gauss(0, 0.7)), 1), 7)
