"""A study before its first sitting: chairs, cards, people, seats."""

from dataclasses import field
from typing import ClassVar

from fresh_chair.core.errors import InputError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.cards import TaskCard, card_problems
from fresh_chair.core.plan.chairs import CarriedFinding, Chair, Machine
from fresh_chair.core.plan.fields import FORBID, Count, Line, Words, repeated
from fresh_chair.core.plan.people import Participant
from fresh_chair.core.plan.sheet import Sheet
from fresh_chair.core.text import with_article


@frozen(kw_only=True)
class Seat:
    """One planned sitting: who, at which chair, as which of their sittings, with the cards in which order."""

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    number: Count
    participant: str
    chair: str
    position: Count
    cards: tuple[str, ...]


@frozen(kw_only=True)
class Study:
    """Everything that was decided before the first sitting.

    Attributes:
        sample: True for made-up data, which every report then says.
        seed: What the orders were drawn with.
        carried: Findings of earlier studies, carried over with a chair.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: str
    title: Line
    question: Words = ""
    sample: bool = False
    seed: int = 1
    sheet: Sheet = field(default_factory=Sheet)
    machines: tuple[Machine, ...] = ()
    chairs: tuple[Chair, ...] = ()
    cards: tuple[TaskCard, ...] = ()
    people: tuple[Participant, ...] = ()
    seats: tuple[Seat, ...] = ()
    carried: tuple[CarriedFinding, ...] = ()

    def __post_init__(self) -> None:
        problems = [
            *repeated("machine", [machine.id for machine in self.machines]),
            *repeated("chair", [chair.letter for chair in self.chairs]),
            *card_problems(self.cards),
            *repeated("participant", [person.code.casefold() for person in self.people]),
            *repeated("seat", [str(seat.number) for seat in self.seats]),
            *repeated("carried finding", [finding.id for finding in self.carried]),
            *self.sheet.problems(set(self.chair_by_letter)),
            *self._strays(),
        ]
        if problems:
            raise ValueError("; ".join(problems))

    def _strays(self) -> list[str]:
        """Every name that names nothing."""
        letters, cards, codes = set(self.chair_by_letter), set(self.card_by_id), {p.code for p in self.people}
        machines = {machine.id for machine in self.machines}
        groups = {group.name for group in self.sheet.groups}
        problems = [
            f"chair {chair.letter} stands on no machine that is listed: {chair.machine}"
            for chair in self.chairs
            if chair.machine not in machines
        ]
        for seat in self.seats:
            if seat.participant not in codes:
                problems.append(f"seat {seat.number} names nobody that is listed: {seat.participant}")
            if seat.chair not in letters:
                problems.append(f"seat {seat.number} names no chair that is listed: {seat.chair}")
            problems += [f"seat {seat.number} names no card that is listed: {card}" for card in set(seat.cards) - cards]
        for card in self.cards:
            for what, of in (("benchmark", card.benchmark_seconds), ("route", card.routes), ("note", card.notes)):
                unknown = sorted(set(of) - letters)
                problems += [
                    f"card {card.id} has {with_article(what)} for no chair that is listed: {name}" for name in unknown
                ]
            named = {letter for line in card.check_lines for letter in line.chairs}
            strange = sorted(named - letters)
            problems += [f"card {card.id} has a check for no chair that is listed: {name}" for name in strange]
        for person in self.people:
            if person.group and person.group not in groups:
                problems.append(f"{person.code} is in no group that is listed: {person.group}")
        problems += [
            f"finding {f.id} is of no chair that is listed: {f.chair}" for f in self.carried if f.chair not in letters
        ]
        return problems

    @property
    def chair_by_letter(self) -> dict[str, Chair]:
        """The chairs, by letter, in their order."""
        return {chair.letter: chair for chair in self.chairs}

    @property
    def card_by_id(self) -> dict[str, TaskCard]:
        """The task cards, by id, in their order."""
        return {card.id: card for card in self.cards}

    @property
    def person_by_code(self) -> dict[str, Participant]:
        """The people, by code, in their order."""
        return {person.code: person for person in self.people}

    @property
    def audience(self) -> str:
        """For whom the study is made, in one line."""
        return "; ".join(audience.name for audience in self.sheet.audiences)

    def machine_of(self, chair: Chair) -> Machine:
        """The machine that a chair stands on."""
        return next(machine for machine in self.machines if machine.id == chair.machine)

    @property
    def machine_words(self) -> dict[str, str]:
        """The machine under each chair, by the chair's letter; a virtual one says so."""
        words = {m.id: f"{m.name}, virtual" if m.virtual else m.name for m in self.machines}
        return {chair.letter: words[chair.machine] for chair in self.chairs}

    def counted(self, code: str) -> bool:
        """Whether this person's sittings count: those of pilots and experts never do."""
        person = self.person_by_code.get(code)
        return person is not None and person.counts

    def seat(self, number: int) -> Seat:
        """The planned sitting with this number.

        Raises:
            InputError: Where no such sitting is planned.
        """
        for seat in self.seats:
            if seat.number == number:
                return seat
        raise InputError(f"No sitting {number} is planned in this study.")
