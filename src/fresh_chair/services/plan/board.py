"""The seating board: people down, chairs across, and the open work in each place."""

from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.chairs import Chair
from fresh_chair.core.plan.people import Participant
from fresh_chair.core.plan.study import Seat
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.sitting import Phase, Sitting
from fresh_chair.services.study.open_study import OpenStudy


@frozen
class Cell:
    """One planned sitting as the board shows it.

    Attributes:
        strip: One outcome a task card, in the study's order; None where there is none yet.
    """

    seat: Seat
    phase: Phase
    strip: tuple[Outcome | None, ...]
    next_up: bool


@frozen
class Board:
    """The whole board; cells by participant and chair."""

    people: tuple[Participant, ...]
    virtual: frozenset[str]
    chairs: tuple[Chair, ...]
    cells: dict[tuple[str, str], Cell]


@frozen
class OpenCounts:
    """The open work in each place."""

    to_run: int
    open_claims: int
    wordless: int
    loose: int
    empty_cells: int


def board(opened: OpenStudy) -> Board:
    """The board of a study."""
    study = opened.study
    to_run = opened.to_run()
    following = min(to_run, key=lambda seat: seat.number).number if to_run else None
    cells = {
        (seat.participant, seat.chair): Cell(
            seat,
            opened.phase(seat.number),
            strip([card.id for card in study.cards], opened.sittings.get(seat.number)),
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


def open_counts(opened: OpenStudy) -> OpenCounts:
    """Counts of the open work in each place; a sitting that has not gone on since the last time is not counted anew."""
    counted = {person.code for person in opened.study.people if person.counts}
    loose, tried = 0, set[tuple[str, str]]()
    sorted_in = opened.findings.finding_of.keys()
    for seat in opened.study.seats:
        sitting = opened.sittings.get(seat.number)
        if sitting is None:
            continue
        tally = opened.tallies.of(sitting)
        loose += len(tally.snags - sorted_in)
        if seat.participant in counted:
            tried |= {(card, seat.chair) for card in tally.tried}
    return OpenCounts(
        to_run=len(opened.to_run()),
        # A start counts them once the board is on the screen.
        open_claims=sum(each.open_claims for each in opened.known_chairs.all.values()) if opened.knows_chairs else 0,
        wordless=sum(len(sitting.wordless) for sitting in opened.sittings.values()),
        loose=loose,
        empty_cells=len(opened.study.cards) * len(opened.study.chairs) - len(tried),
    )
