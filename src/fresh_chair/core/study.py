"""What a study consists of before anyone sits down: chairs, cards, people, seats."""

import re
from dataclasses import dataclass, field
from typing import Annotated, ClassVar, Literal

from annotated_types import Ge, Gt, Le, MaxLen, MinLen

from fresh_chair.core.errors import InputError
from fresh_chair.core.text import legible

# Plain dataclasses with notes on their fields: Pydantic reads them where an outline is checked, the codec where a study
# file is, so that the start of the program need not load Pydantic.
Words = Annotated[str, MaxLen(4000)]
Line = Annotated[str, MinLen(1), MaxLen(200)]
Spoken = Annotated[str, MinLen(1), MaxLen(1000)]
Count = Annotated[int, Ge(1)]
Seconds = Annotated[float, Gt(0)]
CODE_PATTERN = re.compile(r"[A-Za-z0-9][A-Za-z0-9_-]{0,15}")
CARD_PATTERN = re.compile(r"[a-z0-9]+(-[a-z0-9]+)*")
Stage = Literal["stable", "long-term", "beta", "candidate", "rolling snapshot"]


def participant_code(text: str) -> str:
    """The text as a participant's code, or an error that says what a code is: law 6.

    Raises:
        InputError: Where it is anything but 1 to 16 letters, digits, - or _.
    """
    if CODE_PATTERN.fullmatch(text):
        return text
    shown = legible(text[:24]) + ("…" if len(text) > 24 else "")
    raise InputError(
        f"“{shown}” cannot be a participant's code.",
        "A code is 1 to 16 letters, digits, - or _, and starts with a letter or digit, such as P07.",
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Chair:
    """One machine with one distribution on it, in one known state."""

    __pydantic_config__: ClassVar[dict[str, str]] = {"extra": "forbid"}

    letter: str
    name: Line
    release: Line
    edition: Words = ""
    stage: Stage = "stable"
    desktop: Line
    machine: Line
    virtual: bool = False
    installed: Words = ""
    known_faults: tuple[Words, ...] = ()
    alterations: tuple[Words, ...] = ()

    def __post_init__(self) -> None:
        if not re.fullmatch("[A-Z]", self.letter):
            raise ValueError(f"a chair's letter is one of A to Z, not {legible(self.letter[:12])!r}")

    @property
    def title(self) -> str:
        """Distribution and release, as it is spoken of."""
        return f"{self.name} {self.release}"


@dataclass(frozen=True, slots=True, kw_only=True)
class TaskCard:
    """One task as it is read aloud, with what counts as success.

    Attributes:
        limit_seconds: Time after which the moderator may end the attempt.
        benchmark_seconds: The expert's time on each chair, by the chair's letter.
        question: Asked at the end of a read-and-understood card; empty for all others.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = {"extra": "forbid"}

    id: Annotated[str, MaxLen(40)]
    title: Line
    area: Line
    goal: Spoken
    start: Words = ""
    success: Words
    question: Words = ""
    limit_seconds: Annotated[int, Ge(1), Le(24 * 3600)]
    benchmark_seconds: dict[str, Seconds] = field(default_factory=dict)
    fixtures: tuple[Words, ...] = ()
    put_back: Words = ""

    def __post_init__(self) -> None:
        if not CARD_PATTERN.fullmatch(self.id):
            raise ValueError(f"a card's id is small letters, digits and hyphens, not {legible(self.id[:40])!r}")


@dataclass(frozen=True, slots=True, kw_only=True)
class Participant:
    """A newcomer, known by a code and by nothing that identifies them."""

    __pydantic_config__: ClassVar[dict[str, str]] = {"extra": "forbid"}

    code: str
    profile: Words = ""

    def __post_init__(self) -> None:
        try:
            participant_code(self.code)
        except InputError as problem:
            raise ValueError(f"{problem.title} {problem.hint}") from None


@dataclass(frozen=True, slots=True, kw_only=True)
class Seat:
    """One planned sitting: who, at which chair, as which of their sittings, with the cards in which order."""

    number: Count
    participant: str
    chair: str
    position: Count
    cards: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Study:
    """Everything that was decided before the first sitting.

    Attributes:
        sample: True for made-up data, which every report then says.
        seed: What the orders of cards were shuffled with.
    """

    id: str
    title: Line
    question: Words = ""
    audience: Words = ""
    sample: bool = False
    seed: int = 1
    chairs: tuple[Chair, ...] = ()
    cards: tuple[TaskCard, ...] = ()
    people: tuple[Participant, ...] = ()
    seats: tuple[Seat, ...] = ()

    def __post_init__(self) -> None:
        problems = [
            *_repeated("chair", [chair.letter for chair in self.chairs]),
            *_repeated("task card", [card.id for card in self.cards]),
            *_repeated("participant", [person.code.casefold() for person in self.people]),
            *_repeated("seat", [str(seat.number) for seat in self.seats]),
            *_repeated("seat of", [f"{seat.participant} at {seat.chair}" for seat in self.seats]),
        ]
        letters, cards, codes = set(self.chair_by_letter), set(self.card_by_id), {p.code for p in self.people}
        for seat in self.seats:
            if seat.participant not in codes:
                problems.append(f"seat {seat.number} names nobody that is listed: {seat.participant}")
            if seat.chair not in letters:
                problems.append(f"seat {seat.number} names no chair that is listed: {seat.chair}")
            problems += [f"seat {seat.number} names no card that is listed: {card}" for card in set(seat.cards) - cards]
        for card in self.cards:
            unknown = set(card.benchmark_seconds) - letters
            problems += [f"card {card.id} has a benchmark for no chair that is listed: {letter}" for letter in unknown]
        if problems:
            raise ValueError("; ".join(problems))

    @property
    def chair_by_letter(self) -> dict[str, Chair]:
        """The chairs, by letter, in their order."""
        return {chair.letter: chair for chair in self.chairs}

    @property
    def card_by_id(self) -> dict[str, TaskCard]:
        """The task cards, by id, in their order."""
        return {card.id: card for card in self.cards}

    def seat(self, number: int) -> Seat:
        """The planned sitting with this number.

        Raises:
            InputError: Where no such sitting is planned.
        """
        for seat in self.seats:
            if seat.number == number:
                return seat
        raise InputError(f"No sitting {number} is planned in this study.")


def _repeated(what: str, names: list[str]) -> list[str]:
    return [f"the {what} {name} is listed twice" for name in sorted({n for n in names if names.count(n) > 1})]
