"""Plan: who sits where, in which order, and how far it has come."""

from typing import ClassVar

from textual import on
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import ScrollableContainer
from textual.content import Content
from textual.message import Message
from textual.widget import Widget
from textual.widgets import Static

from fresh_chair.core.sitting import Phase
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.board import board
from fresh_chair.services.people import add_person
from fresh_chair.services.sitting_view import sitting_view
from fresh_chair.tui.place import Place
from fresh_chair.tui.signs import OUTCOME_COLOUR, chair_colour
from fresh_chair.tui.widgets.seating_board import SeatingBoard, ordinal

_EMPTY = """Nobody and nothing is planned yet.

A study starts from an outline: chairs, task cards and people, in one text file.
docs/formats.md shows one. Make a study from it with

    fresh-chair new FILE --outline OUTLINE.toml
"""


class SeatRequested(Message):
    """Somebody is to sit down, or a sitting is to be looked at."""

    def __init__(self, number: int) -> None:
        super().__init__()
        self.number = number


class Plan(Place):
    """The seating board."""

    place = "plan"
    CSS_PATH = "plan.tcss"
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("enter", "open", "seats this person", id="plan.open", tooltip="Seat, resume or look back"),
        Binding("n", "next", "who is next", id="plan.next", tooltip="Go to the next sitting to run"),
        Binding("a", "add", "add a person", id="plan.add", tooltip="Invite one more person"),
        Binding("2", "go('set')", "the chairs", id="plan.chairs", tooltip="Go to Set"),
        Binding("5", "go('weigh')", "weigh", id="plan.weigh", tooltip="Go to Weigh"),
        Binding("question_mark", "help", "help", id="plan.help", tooltip="What works in this place"),
    ]

    def middle(self) -> ComposeResult:
        """Board, and what belongs to the cell in hand."""
        if not self.session.desk.study.chairs:
            yield Static(_EMPTY, markup=False, classes="main")
            return
        with ScrollableContainer(classes="main", can_focus=False):
            yield SeatingBoard(board(self.session.desk), self.signs)
        yield Static(classes="aside", id="about", markup=False)

    def main(self) -> Widget | None:
        """The board has the keys."""
        return self._board

    def arrived(self) -> None:
        """Show what belongs to the cell in hand."""
        self._tell_about()

    @property
    def _board(self) -> SeatingBoard | None:
        found = self.query(SeatingBoard)
        return found.first() if found else None

    @on(SeatingBoard.Chosen)
    def _tell_about(self) -> None:
        seats = self._board
        if seats is None or seats.cell is None:
            return
        cell, desk = seats.cell, self.session.desk
        view = sitting_view(desk, cell.seat.number)
        person = next(person for person in desk.study.people if person.code == cell.seat.participant)
        parts: list[Content] = [
            Content.assemble(
                (legible(person.code), "bold $chalk"),
                "  at  ",
                (f"{view.chair.letter} {legible(view.chair.title)}", f"bold {chair_colour(view.chair.letter)}"),
            ),
            Content.styled(legible(person.profile), "$plum"),
            Content(""),
            Content.styled(
                f"sitting {cell.seat.number}, {ordinal(cell.seat.position)} of {len(desk.study.chairs)}", "$thread"
            ),
            self._state_line(view.phase, view.broken_reason),
            Content(""),
            Content.styled("cards, in the order of this sitting", "$thread"),
        ]
        for line in view.lines:
            if line.outcome is None:
                sign, colour = ("-" if line.passed else self.signs.none), "$thread"
            else:
                sign, colour = self.signs.outcomes[line.outcome], OUTCOME_COLOUR[line.outcome]
            parts.append(
                Content.assemble(
                    (f"{sign} ", colour),
                    (clipped(legible(line.card.title), 28).ljust(29), "$chalk"),
                    (f"{line.hands:>7}", "$lamp"),
                )
            )
        self.query_one("#about", Static).update(Content("\n").join(parts))
        self.refresh_bindings()

    def _state_line(self, phase: Phase, reason: str) -> Content:
        if phase is Phase.EMPTY:
            return Content.styled("Nobody has sat here yet. Enter seats.", "$chalk")
        if phase is Phase.ENDED:
            return Content.styled("Run. Enter looks back at it.", "$moss")
        if phase is Phase.BROKEN_OFF:
            return Content.styled(f"Broken off: {legible(reason)}", "$clay")
        return Content.styled("Still open. Enter goes on.", "$lamp")

    @on(SeatingBoard.Opened)
    def action_open(self) -> None:
        """Seat the person, go on, or look back."""
        if self._board is not None and self._board.cell is not None and not self.asking:
            self.post_message(SeatRequested(self._board.cell.seat.number))

    def action_next(self) -> None:
        """Put the next sitting to run in hand."""
        to_run = self.session.desk.to_run()
        if not to_run or self._board is None:
            self.tell("Every planned sitting has been run.")
            return
        seat = min(to_run, key=lambda seat: seat.number)
        self._board.choose(seat.participant, seat.chair)

    def action_add(self) -> None:
        """Invite one more person."""

        def add(code: str) -> bool:
            done = self.attempt(lambda: add_person(self.session.desk, code))
            if done and self._board is not None:
                self._board.show(board(self.session.desk))
                person = self.session.desk.study.people[-1]
                if self.session.desk.study.chairs:
                    first = next(s for s in self.session.desk.study.seats if s.participant == person.code)
                    self._board.choose(person.code, first.chair)
                self.follow()
                self.tell(f"{person.code} has a seat at every chair.")
            return done

        if self.session.desk.study.chairs:
            self.ask_words("code of the new person, such as P07:", add)
        else:
            self.tell("There is no chair to sit at yet; a study starts from an outline.", colour="$clay")
