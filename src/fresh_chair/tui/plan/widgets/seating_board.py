"""The seating board: people down, chairs across, each cell one sitting."""

from textual import events
from textual.binding import Binding
from textual.content import Content
from textual.message import Message
from textual.widget import Widget

from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.plan.board import Board, Cell
from fresh_chair.services.plan.board_words import Readiness
from fresh_chair.tui.widgets.signs import OUTCOME_COLOUR, Signs, chair_colour

_STATE = {
    Phase.EMPTY: ("planned", "$thread"),
    Phase.ENDED: ("run", "$moss"),
    Phase.BROKEN_OFF: ("broken off", "$clay"),
}
_ORDINALS = ("", "1st", "2nd", "3rd")
_HEAD = 3
# A cell that still holds its number, its place and how it stands.
_NARROWEST = 16


def ordinal(number: int) -> str:
    """A position as it is spoken."""
    return _ORDINALS[number] if number < len(_ORDINALS) else f"{number}th"


class SeatingBoard(Widget, can_focus=True):
    """Draws a board and keeps the cell that is in hand."""

    BINDINGS = [
        Binding("up", "move(-1, 0)", "up", id="board.up", show=False, tooltip="The person above"),
        Binding("down", "move(1, 0)", "down", id="board.down", show=False, tooltip="The person below"),
        Binding("left", "move(0, -1)", "left", id="board.left", show=False, tooltip="The chair to the left"),
        Binding("right", "move(0, 1)", "right", id="board.right", show=False, tooltip="The chair to the right"),
    ]

    class Chosen(Message):
        """Another cell is in hand."""

    class Opened(Message):
        """The cell in hand was clicked once more."""

    def __init__(self, board: Board, signs: Signs, marks: Readiness, in_hand: tuple[str, str] = ("", "")) -> None:
        super().__init__()
        self._board = board
        self._signs = signs
        self._marks = marks
        self._row = self._column = self._left = self._top = 0
        # Which of several sittings in one cell is shown: its number, where one was turned to.
        self._turned: dict[tuple[str, str], int] = {}
        following = board.next_up
        codes, letters = [person.code for person in board.people], [chair.letter for chair in board.chairs]
        if in_hand[0] in codes and in_hand[1] in letters:
            self._row, self._column = codes.index(in_hand[0]), letters.index(in_hand[1])
        elif following is not None:
            self._row = codes.index(following.participant)
            self._column = letters.index(following.chair)

    @property
    def place(self) -> tuple[str, str]:
        """The person and the chair in hand, with or without a planned sitting."""
        return self._board.people[self._row].code, self._board.chairs[self._column].letter

    @property
    def cell(self) -> Cell | None:
        """The cell in hand, None where no sitting is planned."""
        if not self._board.people or not self._board.chairs:
            return None
        return self._shown(*self.place)

    @property
    def several(self) -> bool:
        """Whether the cell in hand holds more than one sitting."""
        return bool(self._board.people and self._board.chairs) and len(self._board.cells.get(self.place, ())) > 1

    def _shown(self, code: str, letter: str) -> Cell | None:
        """The sitting that a cell shows: the one turned to, else the one that comes next, else the last."""
        found = self._board.cells.get((code, letter), ())
        turned = self._turned.get((code, letter))
        wanted = [cell for cell in found if cell.seat.number == turned] or [cell for cell in found if cell.next_up]
        return wanted[0] if wanted else found[-1] if found else None

    def turn(self) -> None:
        """Show the next one of several sittings in the cell in hand."""
        found, shown = self._board.cells.get(self.place, ()), self.cell
        if shown is None or len(found) < 2:
            return
        at = (found.index(shown) + 1) % len(found)
        self._turned[self.place] = found[at].seat.number
        self._moved()

    def show(self, board: Board, marks: Readiness) -> None:
        """Draw another state of the board; the person and the chair in hand stay so where they are there still."""
        code, letter = self.place
        codes, letters = [person.code for person in board.people], [chair.letter for chair in board.chairs]
        self._board = board
        self._marks = marks
        self._row = codes.index(code) if code in codes else min(self._row, len(codes) - 1)
        self._column = letters.index(letter) if letter in letters else min(self._column, len(letters) - 1)
        self.refresh(layout=True)

    def choose_next(self) -> None:
        """Put who is next in hand, where anybody is."""
        following = self._board.next_up
        if following is not None:
            self.choose(following.participant, following.chair)

    def choose(self, participant: str, chair: str) -> None:
        """Put a cell in hand."""
        self._row = [person.code for person in self._board.people].index(participant)
        self._column = [each.letter for each in self._board.chairs].index(chair)
        self._turned.pop((participant, chair), None)
        self._moved()

    @property
    def _columns(self) -> range:
        """The chairs that are shown: those that fit, with the one in hand among them."""
        count = len(self._board.chairs)
        fits = max(min((self.size.width - self._people_width) // self._cell_width(), count), 1)
        self._left = min(max(self._left, self._column - fits + 1), self._column, max(count - fits, 0))
        return range(self._left, min(self._left + fits, count))

    @property
    def _rows(self) -> range:
        """The people that are shown, likewise."""
        count = len(self._board.people)
        fits = max(min((self.size.height - _HEAD) // 3, count), 1)
        self._top = min(max(self._top, self._row - fits + 1), self._row, max(count - fits, 0))
        return range(self._top, min(self._top + fits, count))

    def _more(self) -> Content:
        """How many chairs and people lie beyond the edges, in the corner that no head stands in."""
        columns, rows = self._columns, self._rows
        beyond = len(self._board.chairs) - len(columns), len(self._board.people) - len(rows)
        said = [f"{count}{sign}" for count, sign in zip(beyond, "→↓", strict=True) if count]
        return Content.styled(_fit(" ".join(said), self._people_width), "$thread")

    def render(self) -> Content:
        """As much of the board as there is room for; its heads stay in sight when it is scrolled."""
        width = self._cell_width()
        head = [Content(" " * self._people_width)]
        opened = [self._more()]
        for chair in (self._board.chairs[column] for column in self._columns):
            colour = chair_colour(chair)
            head.append(
                Content.styled(" " + _fit(f"{chair.letter} {legible(chair.title)}", width - 2) + " ", f"bold {colour}")
            )
            kind = "" if chair.stage in ("", "stable", "long-term") else f"{chair.stage}, "
            kind += "virtual, " if chair.letter in self._board.virtual else ""
            opened.append(Content.styled(_fit(f"   {kind}{legible(chair.desktop)}", width - 1) + " ", "$thread"))
        lines = [Content("").join(head), Content("").join(opened), self._gaps(width)]
        for row in self._rows:
            person = self._board.people[row]
            upper = [Content.styled(_fit(legible(person.code), self._people_width), "bold $chalk")]
            word = self._marks.people.get(person.code, "")
            lower = [Content.styled(_fit(word, self._people_width), "$lamp" if word.endswith("?") else "$thread")]
            for column in self._columns:
                chair = self._board.chairs[column]
                cell = self._shown(person.code, chair.letter)
                here = (row, column) == (self._row, self._column)
                first, second = self._cell(cell, width, here)
                upper.append(first)
                lower.append(second)
            lines += [Content("").join(upper), Content("").join(lower), Content("")]
        return Content("\n").join(lines)

    def _gaps(self, width: int) -> Content:
        """Under each chair, how many of its fields are still to say."""
        parts = [Content(" " * self._people_width)]
        for chair in (self._board.chairs[column] for column in self._columns):
            count = self._marks.chairs.get(chair.letter, 0)
            parts.append(Content.styled(_fit(f"   {count} to say" if count else "", width), "$lamp"))
        return Content("").join(parts)

    def on_click(self, event: events.Click) -> None:
        """A click puts a cell in hand; a second one opens it."""
        row = (event.y - _HEAD) // 3 + self._rows.start
        column = (event.x - self._people_width) // self._cell_width() + self._columns.start
        if event.y < _HEAD or event.x < self._people_width:
            return
        if row < len(self._board.people) and column < len(self._board.chairs):
            again = (row, column) == (self._row, self._column)
            self._row, self._column = row, column
            self._moved()
            if again:
                self.post_message(self.Opened())

    def action_move(self, down: int, right: int) -> None:
        """Move to a neighbouring cell."""
        self._row = min(max(self._row + down, 0), max(len(self._board.people) - 1, 0))
        self._column = min(max(self._column + right, 0), max(len(self._board.chairs) - 1, 0))
        self._moved()

    def _moved(self) -> None:
        self.refresh()
        self.post_message(self.Chosen())

    @property
    def _people_width(self) -> int:
        longest = max((len(person.code) for person in self._board.people), default=0)
        words = max((len(word) for word in self._marks.people.values()), default=0)
        return min(max(longest + 3, words + 2, 6), 18)

    def _cell_width(self) -> int:
        chairs = max(len(self._board.chairs), 1)
        return min(max((self.size.width - self._people_width) // chairs, _NARROWEST), 30)

    def _cell(self, cell: Cell | None, width: int, here: bool) -> tuple[Content, Content]:
        ground = " on $seam" if here else ""
        if cell is None:
            return Content.styled(" " * width, ground.strip()), Content.styled(" " * width, ground.strip())
        if cell.phase is None:
            state, colour = "reading", "$thread"
        elif cell.phase.open:
            state, colour = f"at {legible(cell.station)}" if cell.station else "sitting now", "bold $lamp"
        else:
            state, colour = _STATE[cell.phase]
        if cell.next_up:
            state, colour = "next", "bold $lamp"
        if cell.phase is Phase.EMPTY and cell.station:
            state, colour = f"for {legible(cell.station)}", "$thread"
        mark = self._signs.here if here else " "
        every = self._board.cells[cell.seat.participant, cell.seat.chair]
        if len(every) > 1:
            state = f"{state} {every.index(cell) + 1}/{len(every)}"
        place = f"{cell.seat.number}  {ordinal(cell.seat.position)}  "
        if len(place) + len(state) > width - 2:
            place = place.replace("  ", " ")
        if len(place) + len(state) > width - 2 and len(every) > 1:
            # Which of several it is says more than the person's how many-th; that stands at the right.
            place = f"{cell.seat.number} "
        upper = Content.assemble(
            (mark, f"$lamp{ground}"),
            (place, f"$thread{ground}"),
            (_fit(state, width - len(place) - 2), colour + ground),
            (" ", ""),
        )
        apart = " " if 2 * len(cell.strip) + 2 <= width else ""
        parts: list[tuple[str, str]] = [(mark, f"$lamp{ground}")]
        for outcome in cell.strip:
            if outcome is None:
                parts.append((self._signs.none + apart, f"$thread{ground}"))
            else:
                parts.append((self._signs.outcomes[outcome] + apart, OUTCOME_COLOUR[outcome] + ground))
        strip = Content.assemble(*parts)[: width - 1]
        rest = Content.styled(" " * (width - 1 - strip.cell_length), ground.strip())
        return upper, Content.assemble(strip, rest, " ")


def _fit(text: str, width: int) -> str:
    return clipped(text, max(width, 0)).ljust(max(width, 0))
