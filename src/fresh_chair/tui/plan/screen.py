"""Plan: the seating board, its progress, and the plan's readiness."""

from textwrap import wrap
from typing import ClassVar

from textual import on, work
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Vertical, VerticalScroll
from textual.content import Content
from textual.message import Message
from textual.widget import Widget
from textual.widgets import Static

from fresh_chair.core.plan.study import Seat
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.text import count_of, legible
from fresh_chair.services.plan.board import board, cell_view
from fresh_chair.services.plan.board_words import Readiness, people_marks
from fresh_chair.services.study.snapshot import StudyReading, StudySnapshot
from fresh_chair.tui.base.frame import Go
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.base.sheets import OpenSheet
from fresh_chair.tui.plan.recording import ask_recording
from fresh_chair.tui.plan.widgets.cell_details import CellDetails
from fresh_chair.tui.plan.widgets.seating_board import SeatingBoard
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import STATE_COLOUR

_EMPTY = """Nobody sits here yet: a board has people down and chairs across.

  a   adds a person, several, or a table of them; and a chair
  t   opens the tasks, with a library to take cards from
  s   opens the study sheet: what is asked, for whom, who pays

A whole plan can also be written as one text file: docs/formats.md shows it.
"""
# The key of each part's sheet; the parts come from the service in this order.
_PART_KEYS = {
    "study": "s",
    "tasks": "t",
    "chair": "c",
    "person": "p",
    "orders": "o",
    "hunches": "h",
    "bench": "b",
    "time": "l",
}


class SeatRequested(Message):
    """A request to begin a sitting, or to look back at one."""

    def __init__(self, number: int) -> None:
        super().__init__()
        self.number = number


class RecordingRequested(Message):
    """A sitting is to be logged from a recording."""

    def __init__(self, number: int, file: str, began: str) -> None:
        super().__init__()
        self.number, self.file, self.began = number, file, began


class LookedThrough(Message):
    """The plan's readiness is known."""

    def __init__(self, ready: Readiness) -> None:
        super().__init__()
        self.ready = ready


def _marks(opened: StudyReading) -> Readiness:
    """The words beside people, before the rest of the plan is looked through."""
    return Readiness((), people_marks(opened.study, seen=opened.sees_people), {})


class Plan(Place):
    """The seating board."""

    place = "plan"
    CSS_PATH = "screen.tcss"
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("enter", "open", "seats this person", id="plan.open", tooltip="Seat, resume or look back"),
        Binding("a", "add", "add", id="plan.add", tooltip="Add people or a chair"),
        Binding(
            "t", "open_sheet('tasks')", "tasks", id="plan.tasks", tooltip="The task cards, and what is wrong with them"
        ),
        Binding("c", "open_sheet('chair')", "chair", id="plan.chair", tooltip="The sheet of the chair in hand"),
        Binding("p", "open_sheet('person')", "person", id="plan.person", tooltip="The sheet of the person in hand"),
        Binding("s", "open_sheet('study')", "study", id="plan.study", tooltip="What is asked, for whom, who pays"),
        Binding(
            "w", "open_sheet('paper')", "on paper", id="plan.paper", tooltip="Cards, running sheets, forms as a PDF"
        ),
        Binding("question_mark", "help", "all keys", id="plan.help", tooltip="What works in this place"),
        Binding("n", "next", "next", id="plan.next", show=False, tooltip="Go to the next sitting to run"),
        Binding(
            "o", "open_sheet('orders')", "orders", id="plan.orders", show=False, tooltip="Who does what in which order"
        ),
        Binding("h", "open_sheet('hunches')", "hunches", id="plan.hunches", show=False, tooltip="What you predict"),
        Binding("b", "open_sheet('bench')", "bench", id="plan.bench", show=False, tooltip="The fixtures"),
        Binding("m", "open_sheet('many')", "how many", id="plan.many", show=False, tooltip="How many people it takes"),
        Binding(
            "e",
            "open_sheet('evidence')",
            "evidence",
            id="plan.evidence",
            show=False,
            tooltip="References, links, advice",
        ),
        Binding("i", "open_sheet('inventory')", "inventory", id="plan.inventory", show=False, tooltip="What is there"),
        Binding("z", "open_sheet('later')", "later", id="plan.later", show=False, tooltip="What was put off"),
        Binding("v", "app.walk", "a walk", id="plan.walk", show=False, tooltip="Walk through this chair yourself"),
        Binding("V", "app.contest", "a contest", id="plan.contest", show=False, tooltip="Two chairs on the same steps"),
        Binding("r", "record", "a recording", id="plan.record", show=False, tooltip="Log a sitting from a recording"),
        Binding("f", "prove", "prove it fresh", id="plan.prove", show=False, tooltip="The chair in hand, in Set"),
        Binding("y", "notes", "typed notes", id="plan.notes", show=False, tooltip="A sitting from typed notes"),
        Binding("g", "again", "once more", id="plan.again", show=False, tooltip="Seat this person here once more"),
        Binding("comma", "turn", "its others", id="plan.turn", key_display=",", tooltip="Other sittings in this cell"),
        Binding("k", "open_sheet('check')", "check", id="plan.check", show=False, tooltip="Check the study file"),
        Binding(
            "l", "open_sheet('time')", "how long", id="plan.time", show=False, tooltip="Minutes, and the timetable"
        ),
    ]

    def middle(self) -> ComposeResult:
        """The board, and its details."""
        study = self.session.opened.study
        with Vertical(classes="main"):
            if study.chairs and study.people:
                yield SeatingBoard(
                    board(self.session.opened), self.signs, _marks(self.session.opened), self.session.cell
                )
            else:
                yield Static(_EMPTY, markup=False, id="empty")
            yield Static(id="ready-line", markup=False)
        with VerticalScroll(classes="aside", can_focus=False):
            yield Static(id="ready", markup=False)
            yield CellDetails(self.signs)

    def main(self) -> Widget | None:
        """The board has the keys."""
        return self._board

    def arrived(self) -> None:
        """Show the plan's readiness, and the details of the cell in hand."""
        # Once the board is on the screen: what is ready may take longer to find out than the board to draw.
        if self.session.opened.loaded:
            self.set_timer(0.05, lambda: self._look_through(self.session.opened.snapshot()))
        self._tell_about()

    def loaded(self) -> None:
        """Show the sittings, which are read after the first paint."""
        super().loaded()
        if self._board is not None:
            self._board.show(board(self.session.opened), _marks(self.session.opened))
            self._tell_about()
            self._look_through(self.session.opened.snapshot())

    @property
    def _board(self) -> SeatingBoard | None:
        found = self.query(SeatingBoard)
        return found.first() if found else None

    @work(thread=True, exclusive=True, group="ready", description="look through")
    def _look_through(self, study: StudySnapshot) -> None:
        """Look through the whole plan beside the screen; of a large one that takes a tenth of a second."""
        from fresh_chair.services.plan.readiness import readiness

        self.post_message(LookedThrough(readiness(study)))

    @on(LookedThrough)
    def _draw_ready(self, message: LookedThrough) -> None:
        signs, ready = self.signs, message.ready
        if self._board is not None:
            self._board.show(board(self.session.opened), ready)
            if self.session.next_in_hand:
                self.session.next_in_hand = False
                self._board.choose_next()
        parts = [Content.styled("is the plan ready?", "$thread")]
        short: list[Content] = []
        for part in ready.parts:
            colour = STATE_COLOUR[part.state]
            sign = signs.states[part.state]
            key = _PART_KEYS[part.id]
            # The words hang under themselves, after key, sign and title.
            rows = wrap(f"{part.title} {legible(part.words)}", 35)
            words = "\n       ".join(rows).removeprefix(part.title)
            parts.append(
                Content.assemble(
                    (f" {key} ", "bold $lamp on $board"),
                    (f" {sign} ", colour),
                    (part.title, "$chalk"),
                    (words, "$thread" if part.state == "ready" else colour),
                )
            )
            if part.state != "ready":
                short.append(Content.assemble((f"{key} ", "bold $lamp"), (f"{sign} {part.title}", colour)))
        parts.append(Content.assemble((" m ", "bold $lamp on $board"), ("   how many people that takes", "$chalk")))
        parts.append(Content(""))
        self.query_one("#ready", Static).update(Content("\n").join(parts))
        line = Content("  ").join(short) if short else Content.styled("The plan is ready.", "$moss")
        self.query_one("#ready-line", Static).update(
            Content.assemble(("not ready: ", "$thread"), line) if short else line
        )

    @on(SeatingBoard.Chosen)
    def _tell_about(self) -> None:
        seats, about = self._board, self.query_one(CellDetails)
        if seats is None:
            return
        self.session.cell = seats.place
        cell = seats.cell
        if cell is None:
            code, letter = seats.place
            about.update(Content.styled(f"{code} does not sit at {letter}.", "$thread"))
        else:
            about.show(cell_view(self.session.opened, cell))
        self.refresh_bindings()

    def read_on(self) -> None:
        """Show other programs' changes: people and chairs may have come or gone."""
        study = self.session.opened.study
        if self._board is not None and not (study.people and study.chairs):
            self.post_message(Go("plan", anew=True))
            return
        self._added("", "")

    @on(SeatingBoard.Opened)
    def action_open(self) -> None:
        """Seat the person, go on, or look back."""
        if self._board is not None and self._board.cell is not None and not self.asking:
            self.post_message(SeatRequested(self._board.cell.seat.number))

    def action_again(self) -> None:
        """Plan one more sitting of the person at the chair in hand, after one that has ended."""
        cell = None if self._board is None else self._board.cell
        if cell is None:
            return
        from fresh_chair.services.plan.plan_changes import sit_again

        opened = self.session.opened
        planned: list[Seat] = []
        if self.attempt(lambda: planned.append(sit_again(opened, cell.seat.number))):
            self.tell(f"Sitting {planned[0].number} is planned: {cell.seat.participant} here once more. Enter seats.")
            self._added(cell.seat.participant, cell.seat.chair)

    def action_next(self) -> None:
        """Put the next sitting to run in hand."""
        to_run = self.session.opened.to_run()
        if not to_run or self._board is None:
            self.tell("Every planned sitting has been run.")
            return
        seat = min(to_run, key=lambda seat: seat.number)
        self._board.choose(seat.participant, seat.chair)

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Refuse to seat at a cell without a planned sitting, and to turn where there is one sitting at most."""
        if action == "turn":
            return self.is_mounted and self._board is not None and self._board.several
        if (
            action in ("open", "next", "record", "again")
            and self.is_mounted
            and (self._board is None or self._board.cell is None)
        ):
            return False
        return super().check_action(action, parameters)

    def action_open_sheet(self, name: str) -> None:
        """Open a sheet at the person and the chair in hand."""
        study = self.session.opened.study
        if (name == "chair" and not study.chairs) or (name == "person" and not study.people):
            self.action_add()
            return
        self.post_message(OpenSheet(name))

    @asks
    async def action_notes(self) -> None:
        """Take notes that were typed, or made in a player, into the sitting in hand."""
        cell = self._board.cell if self._board is not None else None
        if cell is None:
            return
        number, begun = cell.seat.number, cell.phase is not Phase.EMPTY

        def named(text: str) -> bool:
            from fresh_chair.services.sitting.text.notes import take_lines
            from fresh_chair.services.sitting.text.timed_notes import take_notes
            from fresh_chair.services.system.files import typed_path

            opened = self.session.opened
            said: list[str] = []

            def take() -> None:
                path = typed_path(text)
                if begun:
                    said.append(take_notes(opened, number, path).words)
                else:
                    said.append(f"{count_of(take_lines(opened, number, path), 'entry', 'entries')} taken.")

            if not self.attempt(take):
                return False
            self.tell(said[0])
            self._look_through(self.session.opened.snapshot())
            return True

        what = "notes of a player (.srt, .vtt)" if begun else "a text, a line an entry"
        await self.ask_until(f"sitting {number} from which file? {what}", named)

    @asks
    async def action_record(self) -> None:
        """Log the sitting in hand from a recording: which one, where in it the sitting begins, and when it was."""
        cell = self._board.cell if self._board is not None else None
        if cell is None or self.session.opened.phase(cell.seat.number) is not Phase.EMPTY:
            self.tell("A recording is logged where nobody has sat yet; Enter goes on with one.", colour="$clay")
            return
        asked = await ask_recording(self)
        if asked is not None:
            self.post_message(RecordingRequested(cell.seat.number, *asked))

    def action_turn(self) -> None:
        """Show the next one of several sittings of this person at this chair."""
        if self._board is not None:
            self._board.turn()

    def action_prove(self) -> None:
        """Go to the chair in hand in Set, and hold it against its baseline."""
        if self.session.opened.study.chairs:
            self.session.to_prove = True
            self.action_go("set")

    @asks
    async def action_add(self) -> None:
        """Add people or a chair."""
        from fresh_chair.tui.plan.adding import ask_what_to_add

        await ask_what_to_add(self, self._board.place[1] if self._board is not None else "", self._added)

    def _added(self, code: str, letter: str) -> None:
        study = self.session.opened.study
        self._look_through(self.session.opened.snapshot())
        if self._board is None:
            if study.chairs and study.people:
                self.call_after_refresh(self.post_message, Go("plan", anew=True))
            return
        self._board.show(board(self.session.opened), _marks(self.session.opened))
        old_code, old_letter = self._board.place
        chairs = [seat.chair for seat in study.seats if seat.participant == code]
        self._board.choose(code or old_code, letter or (chairs[0] if chairs else old_letter))
        self.follow()
