"""The seating board: people down, chairs across, and what is open in each place."""

from dataclasses import dataclass

from fresh_chair.core.chairs import Chair
from fresh_chair.core.outcome import Outcome
from fresh_chair.core.people import Participant
from fresh_chair.core.sitting import Phase, Sitting
from fresh_chair.core.study import Seat
from fresh_chair.services.desk import Desk


@dataclass(frozen=True, slots=True)
class Cell:
    """One planned sitting as the board shows it.

    Attributes:
        strip: One outcome a task card, in the study's order; None where there is none yet.
    """

    seat: Seat
    phase: Phase
    strip: tuple[Outcome | None, ...]
    next_up: bool


@dataclass(frozen=True, slots=True)
class Board:
    """The whole board; cells by participant and chair."""

    people: tuple[Participant, ...]
    virtual: frozenset[str]
    chairs: tuple[Chair, ...]
    cells: dict[tuple[str, str], Cell]


@dataclass(frozen=True, slots=True)
class OpenCounts:
    """What is still open in each place."""

    to_run: int
    open_claims: int
    wordless: int
    loose: int
    empty_cells: int


def board(desk: Desk) -> Board:
    """The board of a study."""
    study = desk.study
    to_run = desk.to_run()
    following = min(to_run, key=lambda seat: seat.number).number if to_run else None
    cells = {
        (seat.participant, seat.chair): Cell(
            seat,
            desk.phase(seat.number),
            strip([card.id for card in study.cards], desk.sittings.get(seat.number)),
            seat.number == following,
        )
        for seat in study.seats
    }
    virtual = frozenset(chair.letter for chair in study.chairs if study.machine_of(chair).virtual)
    return Board(people=study.people, virtual=virtual, chairs=study.chairs, cells=cells)


def strip(cards: list[str], sitting: Sitting | None) -> tuple[Outcome | None, ...]:
    """The last outcome of each card in one sitting."""
    reached = {} if sitting is None else {attempt.card: attempt.outcome for attempt in sitting.tried}
    return tuple(reached.get(card) for card in cards)


def open_counts(desk: Desk) -> OpenCounts:
    """What each place still waits for."""
    remarks = [remark for sitting in desk.sittings.values() for remark in sitting.remarks.values()]
    snags = [remark.entry for remark in remarks if remark.kind == "snag"]
    # Straight from the attempts: this is counted after every key press.
    counted = {person.code for person in desk.study.people if person.counts}
    tried = {
        (attempt.card, seat.chair)
        for seat in desk.study.seats
        if seat.participant in counted and (sitting := desk.sittings.get(seat.number)) is not None
        for attempt in sitting.attempts
        if attempt.judged and attempt.outcome is not None and attempt.outcome.counts
    }
    return OpenCounts(
        to_run=len(desk.to_run()),
        open_claims=sum(book.open_claims for book in desk.books.all.values()),
        wordless=sum(len(sitting.wordless) for sitting in desk.sittings.values()),
        loose=sum(snag not in desk.ledger.finding_of for snag in snags),
        empty_cells=len(desk.study.cards) * len(desk.study.chairs) - len(tried),
    )
