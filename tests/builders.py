"""Small studies and made-up time for tests."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.chairs import Chair, Machine
from fresh_chair.core.plan.orders import planned_seats
from fresh_chair.core.plan.people import Participant
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Content, Entry
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.store.sqlite.study_file import StudyFile
from fresh_chair.store.sqlite.tables import FileTables
from fresh_chair.store.tables.store import TableStore

WALL = 1_760_000_000 * SECOND


def small_study(*, people: int = 2, chairs: int = 2, cards: int = 2) -> Study:
    """A study with seats for everybody."""
    seated = tuple(Participant(code=f"P{number:02}") for number in range(1, people + 1))
    standing = tuple(
        Chair(letter=letter, name=f"Chair{letter}", release="1", desktop="Made Up", machine="one-laptop")
        for letter in "ABCDEFGH"[:chairs]
    )
    tasks = tuple(
        TaskCard(
            id=f"card-{number}",
            title=f"Card {number}",
            area="looks",
            goal="Please do something.",
            success="It is done.",
            limit_seconds=60,
            benchmark_seconds={chair.letter: 10 for chair in standing},
        )
        for number in range(1, cards + 1)
    )
    laptop = Machine(id="one-laptop", name="one laptop")
    study = Study(id="small", title="A small study", machines=(laptop,), chairs=standing, cards=tasks, people=seated)
    return replace(study, seats=planned_seats(study))


def bare(study: Study) -> tuple[TaskCard, ...]:
    """The cards without anything that names a chair."""
    return tuple(replace(card, benchmark_seconds={}, routes={}, notes={}) for card in study.cards)


@dataclass
class FakeClock:
    """A clock that a test moves."""

    ticks_ns: int = 1000 * SECOND
    boot: str = "boot-1"
    wall_ns: int = WALL

    def now(self) -> Moment:
        return Moment(self.ticks_ns, self.boot, self.wall_ns)

    def pass_seconds(self, seconds: float) -> None:
        self.ticks_ns += round(seconds * SECOND)
        self.wall_ns += round(seconds * SECOND)


@dataclass
class Script:
    """Writes a journal entry by entry."""

    clock: FakeClock = field(default_factory=FakeClock)
    entries: list[Entry] = field(default_factory=list)

    def at(self, seconds: float, *contents: Content) -> str:
        """Let time pass, then write; returns the last entry's id."""
        self.clock.pass_seconds(seconds)
        for content in contents:
            number = len(self.entries) + 1
            self.entries.append(Entry(f"e{number}", number, self.clock.now(), "moderator", content))
        return self.entries[-1].id


def one_attempt(outcome: Outcome = Outcome.UNAIDED, *, card: str = "card-1") -> Script:
    """A sitting with one attempt of 40 s: 25 hands, 10 wait, 5 aside."""
    script = Script()
    script.at(0, j.SittingBegan())
    script.at(5, j.AttemptStarted(card))
    script.at(10, j.WaitBegan())
    script.at(10, j.WaitEnded())
    script.at(5, j.AsideBegan())
    script.at(5, j.AsideEnded())
    script.at(10, j.AttemptStopped(), j.OutcomeJudged(outcome, "a reason"))
    return script


def fact(
    participant: str,
    chair: str,
    seconds: float = 20.0,
    outcome: Outcome = Outcome.UNAIDED,
    *,
    card: str = "card-1",
    position: int = 1,
    ease: int | None = 5,
) -> AttemptFact:
    """One attempt as a fact."""
    return AttemptFact(
        sitting=1,
        participant=participant,
        chair=chair,
        position=position,
        card=card,
        attempt=1,
        first_try=True,
        outcome=outcome,
        reason="",
        hands_seconds=seconds,
        wait_seconds=0.0,
        aside_seconds=0.0,
        elapsed_seconds=seconds,
        ease=ease,
        helped=0,
        wrong_places=0,
        snags=0,
        said_done=False,
    )


def contents(entries: Sequence[Entry]) -> list[Content]:
    """What the entries say."""
    return [entry.content for entry in entries]


def card(name: str, **parts: Any) -> TaskCard:
    """A card with what it must have, and these parts."""
    values: dict[str, Any] = {
        "title": name or "x",
        "area": "looks",
        "goal": "Please do something.",
        "start": "Nothing is done.",
        "success": "It is done.",
        "limit_seconds": 60,
        **parts,
    }
    return TaskCard(id=name, **values)


def file_of(opened: OpenStudy) -> StudyFile:
    """The file under an open study."""
    store = opened.store
    assert isinstance(store, TableStore)
    assert isinstance(store.database, FileTables)
    return store.database.home
