"""Large made-up studies and journals to measure with."""

import sys
from dataclasses import replace
from pathlib import Path
from random import Random

from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.plan.cards import TaskCard, must_follow
from fresh_chair.core.plan.chairs import Chair, Machine
from fresh_chair.core.plan.orders import planned_seats
from fresh_chair.core.plan.people import Participant
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.services.study.open_study import create_study
from fresh_chair.services.system.clock import SystemClock
from fresh_chair.store.ports import StudyStore

PROGRAM = [sys.executable, "-m", "fresh_chair"]


def large_study(*, cards: int = 40, chairs: int = 6, people: int = 40) -> Study:
    """A study of that size."""
    standing = tuple(
        Chair(letter=letter, name=f"Made-up {letter}", release="1", desktop="None", machine="laptop")
        for letter in "ABCDEFGH"[:chairs]
    )
    tasks = tuple(
        TaskCard(
            id=f"card-{number}",
            title=f"Card {number}",
            area="looks",
            goal="Do it.",
            success="Done.",
            limit_seconds=300,
            benchmark_seconds={chair.letter: 12 for chair in standing},
        )
        for number in range(1, cards + 1)
    )
    seated = tuple(Participant(code=f"P{number:02}") for number in range(1, people + 1))
    laptop = Machine(id="laptop", name="laptop")
    study = Study(id="large", title="A large study", machines=(laptop,), chairs=standing, cards=tasks, people=seated)
    return replace(study, seats=planned_seats(study))


def study_to_plan() -> Study:
    """60 people, 8 chairs, 40 cards of which a third need an earlier one; nobody is seated yet."""
    dice = Random(3)
    study = large_study(cards=40, chairs=8, people=60)
    cards = tuple(
        replace(card, needs=(study.cards[dice.randrange(index)].id,) if index and dice.random() < 0.35 else ())
        for index, card in enumerate(study.cards)
    )
    return replace(study, cards=cards, seats=())


def random_orders(study: Study) -> list[list[str]]:
    """As many orders as the study has sittings, each drawn by chance among what the prerequisites allow."""
    dice, before = Random(11), must_follow(study.cards)
    orders = []
    for _ in range(len(study.people) * len(study.chairs)):
        left, order = [card.id for card in study.cards], list[str]()
        while left:
            order.append(dice.choice([name for name in left if before[name] <= set(order)]))
            left.remove(order[-1])
        orders.append(order)
    return orders


def large_facts(study: Study) -> list[AttemptFact]:
    """One attempt for each person, card and chair, of all outcomes."""
    dice = Random(5)
    outcomes = [Outcome.UNAIDED] * 6 + [Outcome.HELPED, Outcome.PARTLY, Outcome.GAVE_UP, Outcome.OUT_OF_TIME]
    facts = []
    for seat in study.seats:
        for index, card in enumerate(seat.cards, start=1):
            seconds = dice.lognormvariate(3.6, 0.6)
            facts.append(
                AttemptFact(
                    sitting=seat.number,
                    participant=seat.participant,
                    chair=seat.chair,
                    position=seat.position,
                    card=card,
                    attempt=index,
                    first_try=True,
                    outcome=dice.choice(outcomes),
                    reason="",
                    hands_seconds=seconds,
                    wait_seconds=0.0,
                    aside_seconds=0.0,
                    elapsed_seconds=seconds,
                    ease=dice.randint(1, 7),
                    helped=0,
                    wrong_places=0,
                    snags=0,
                    said_done=True,
                )
            )
    return facts


def long_journal(card: str, length: int) -> list[Entry]:
    """A sitting's journal of that many entries, its last attempt still running."""
    clock = SystemClock()
    now = clock.now()
    begin = now.ticks_ns - length * SECOND // 4
    contents: list[j.Content] = [j.SittingBegan(), j.AttemptStarted(card)]
    while len(contents) < length:
        contents.append(
            j.WrongPlace() if len(contents) % 3 else j.SnagSeen("words of a usual length, as typed in haste")
        )
    return [
        Entry(f"e{number}", number, Moment(begin + number * SECOND // 5, now.boot, now.wall_ns), "moderator", content)
        for number, content in enumerate(contents[:length], start=1)
    ]


def study_with_journal(path: Path, length: int) -> None:
    """A study file whose first sitting is running, with a journal of that length."""
    study = large_study(cards=8, chairs=3, people=6)
    first = study.seats[0]

    create_study(path, study, lambda store: store.journals.append(first.number, long_journal(first.cards[0], length)))


def busy_study(path: Path, entries: int) -> None:
    """A study of that many entries in all: every sitting but the last ten run, one of them still running."""
    study = large_study(cards=8, chairs=3, people=50)
    seats = study.seats[:-10]
    length = entries // len(seats)

    def fill(store: StudyStore) -> None:
        journals = store.journals
        for seat in seats[:-1]:
            journal = _over(seat.cards[0], seat.number, length)
            journals.append(seat.number, journal)
        running = [replace(e, id=f"r{e.number}") for e in long_journal(seats[-1].cards[0], length)]
        journals.append(seats[-1].number, running)

    create_study(path, study, fill)


def study_that_is_over(path: Path, length: int) -> None:
    """A study file whose first sitting has a journal of that length, and is over."""
    study = large_study(cards=8, chairs=3, people=6)
    first = study.seats[0]
    create_study(
        path, study, lambda store: store.journals.append(first.number, _over(first.cards[0], first.number, length))
    )


def _over(card: str, number: int, length: int) -> list[Entry]:
    """A journal of that many entries that was broken off an hour ago."""
    entries = [replace(entry, id=f"s{number}-{entry.number}") for entry in long_journal(card, length - 4)]
    last = entries[-1].moment
    end: list[j.Content] = [
        j.AttemptStopped(), j.OutcomeJudged(Outcome.GAVE_UP), j.EaseRated(3), j.SittingBrokenOff("the day was over"),
    ]  # fmt: skip
    for step, content in enumerate(end, start=1):
        moment = Moment(last.ticks_ns + step * SECOND, last.boot, last.wall_ns)
        entries.append(Entry(f"s{number}-e{step}", len(entries) + 1, moment, "moderator", content))
    return entries
