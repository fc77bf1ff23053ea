"""The seating board: people down, chairs across, and the open work in each place."""

from __future__ import annotations

from typing import TYPE_CHECKING

from fresh_chair.core.clock import clock_text
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.chairs import Chair
from fresh_chair.core.plan.people import Participant, lacking_consents
from fresh_chair.core.plan.study import Seat
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.study.open_study import OpenStudy

if TYPE_CHECKING:
    from fresh_chair.core.sitting.state.sitting import Sitting
    from fresh_chair.core.sitting.state.walk import Walk


@frozen
class Cell:
    """One planned sitting as the board shows it.

    Attributes:
        phase: None while its journal is still to be read.
        strip: One outcome a task card, in the study's order; None where there is none yet.
        station: The other station where it goes on, or for which it is kept; empty where there is none.
    """

    seat: Seat
    phase: Phase | None
    strip: tuple[Outcome | None, ...]
    next_up: bool
    station: str = ""


@frozen
class Board:
    """The whole board; by participant and chair their sittings there, in their order."""

    people: tuple[Participant, ...]
    virtual: frozenset[str]
    chairs: tuple[Chair, ...]
    cells: dict[tuple[str, str], tuple[Cell, ...]]

    @property
    def next_up(self) -> Seat | None:
        """The sitting that comes next; None where none is to come."""
        return next((cell.seat for each in self.cells.values() for cell in each if cell.next_up), None)


@frozen
class CellLine:
    """One card of a sitting, with its outcome so far."""

    title: str
    outcome: Outcome | None = None
    passed: bool = False
    hands: str = ""


@frozen
class CellView:
    """The details of one sitting beside the board.

    Attributes:
        phase: None while its journal is still to be read.
        station: The other station that holds it; empty where none does.
        earlier: Numbers of the sittings of the same person at the same chair before it.
        lines: Its cards, in its order.
    """

    seat: Seat
    person: Participant
    chair: Chair
    phase: Phase | None
    broken_reason: str
    station: str
    earlier: tuple[int, ...]
    lacks_consents: bool
    lines: tuple[CellLine, ...]


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
    phases = _phases(opened)
    to_run = [seat.number for seat in study.seats if phases[seat.number] is Phase.EMPTY]
    following = min(to_run, default=None)
    elsewhere = stations_elsewhere(opened)
    cards = [card.id for card in study.cards]
    cells: dict[tuple[str, str], tuple[Cell, ...]] = {}
    for seat in study.seats:
        cell = Cell(
            seat,
            phases[seat.number],
            strip(cards, opened.sittings.get(seat.number) if opened.loaded else None),
            seat.number == following,
            elsewhere.get(seat.number, ""),
        )
        cells[seat.participant, seat.chair] = (*cells.get((seat.participant, seat.chair), ()), cell)
    virtual = frozenset(chair.letter for chair in study.chairs if study.machine_of(chair).virtual)
    return Board(people=study.people, virtual=virtual, chairs=study.chairs, cells=cells)


def stations_elsewhere(opened: OpenStudy) -> dict[int, str]:
    """The other station that holds each sitting, going on there or kept for it, as last heard."""
    link = opened.store.link
    known = () if link is None else [each for each in link.known if each.station != link.station]
    return {each.number: each.station for each in known}


def _phases(opened: OpenStudy) -> dict[int, Phase | None]:
    """The phase of every planned sitting; None for those whose journal is still to be read."""
    if opened.loaded:
        return {seat.number: opened.phase(seat.number) for seat in opened.study.seats}
    begun = opened.journals.lengths()
    return {seat.number: None if seat.number in begun else Phase.EMPTY for seat in opened.study.seats}


def cell_view(opened: OpenStudy, cell: Cell) -> CellView:
    """The details of a cell's sitting."""
    study, seat = opened.study, cell.seat
    cards, person = study.card_by_id, study.person_by_code[seat.participant]
    sitting = None if cell.phase in (None, Phase.EMPTY) else opened.sittings.get(seat.number)
    return CellView(
        seat=seat,
        person=person,
        chair=study.chair_by_letter[seat.chair],
        phase=cell.phase,
        broken_reason="" if sitting is None else sitting.broken_reason,
        station=cell.station,
        earlier=tuple(
            other.number
            for other in study.seats
            if (other.participant, other.chair) == (seat.participant, seat.chair) and other.number < seat.number
        ),
        lacks_consents=opened.sees_people
        and cell.phase is Phase.EMPTY
        and bool(lacking_consents(person, study.sheet.consents)),
        lines=_walk_lines(sitting.walk)
        if sitting is not None and sitting.walk is not None and sitting.walk.steps
        else tuple(_cell_line(cards[card], sitting) for card in seat.cards),
    )


def _walk_lines(walk: Walk) -> tuple[CellLine, ...]:
    """The steps of a walk, with their endings; one that ended without an outcome stands as passed."""
    return tuple(
        CellLine(
            step.title,
            step.ending.outcome if step.ending is not None else None,
            step.ending is not None and step.ending.outcome is None,
        )
        for step in walk.steps
    )


def _cell_line(card: TaskCard, sitting: Sitting | None) -> CellLine:
    attempt = None if sitting is None else sitting.last_try(card.id)
    if sitting is None or attempt is None:
        return CellLine(card.title, passed=sitting is not None and card.id in sitting.passed)
    hands = clock_text(attempt.lane_ns(Lane.HANDS)) if attempt.stopped_ns is not None else ""
    return CellLine(card.title, attempt.outcome, card.id in sitting.passed, hands)


def strip(cards: list[str], sitting: Sitting | None) -> tuple[Outcome | None, ...]:
    """The last outcome of each card in one sitting."""
    reached = {} if sitting is None else {attempt.card: attempt.outcome for attempt in sitting.tried}
    if sitting is not None and sitting.walk is not None:
        reached |= {step.card: step.ending.outcome for step in sitting.walk.steps if step.ending is not None}
    return tuple(reached.get(card) for card in cards)


def open_counts(opened: OpenStudy) -> OpenCounts:
    """Counts of the open work in each place; a sitting that has not gone on since the last time is not counted anew."""
    counted = {person.code for person in opened.study.people if person.counts}
    loose, tried = 0, set[tuple[str, str]]()
    sorted_in = {target.removeprefix("mark:") for target in opened.findings.findings_of}
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
        # Where no newcomer takes part, no cell waits for one.
        empty_cells=len(opened.study.cards) * len(opened.study.chairs) - len(tried) if counted else 0,
    )
