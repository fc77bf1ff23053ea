"""The journal of one sitting, and its corrections: struck, moved, reworded, added late, judged otherwise."""

from collections.abc import Callable
from typing import ClassVar

from textual import on
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.clock import SECOND
from fresh_chair.core.outcome import Outcome
from fresh_chair.core.text import clipped, legible
from fresh_chair.services import correcting
from fresh_chair.services.correcting import LATE_MARKS, EntryLine
from fresh_chair.services.live import LiveSitting
from fresh_chair.tui.leaf import ListSheet
from fresh_chair.tui.session import Session
from fresh_chair.tui.wall import day_and_time


class Journal(ListSheet):
    """One line an entry.

    Args:
        number: The planned sitting's number.
    """

    place = "sit"
    leaf = "journal"
    title_words = "the journal"
    about = (
        "Nothing is overwritten: a correction is an entry that says what it corrects, when, by whom and why. Lanes of "
        "the clock can be struck, not moved."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("x", "strike", "strike", id="journal.strike", tooltip="It does not hold, with why"),
        Binding("m", "move", "move", id="journal.move", tooltip="It belongs earlier or later, with why"),
        Binding("w", "reword", "reword", id="journal.reword", tooltip="Other words"),
        Binding("a", "add", "add late", id="journal.add", tooltip="A mark that nobody made at the time, with why"),
        Binding("d", "draw", "draw it", id="journal.draw", tooltip="Over time, as SVG or PDF"),
        Binding("o", "judge", "judge otherwise", id="journal.judge", tooltip="The attempt ended otherwise, with why"),
    ]

    def __init__(self, session: Session, number: int) -> None:
        super().__init__(session)
        self._number = number

    def action_back(self) -> None:
        """Go back to the sitting."""
        self.action_go("sit")

    def arrived(self) -> None:
        """Begin at the newest entry."""
        super().arrived()
        self.call_after_refresh(self._newest)

    def _newest(self) -> None:
        if self.pile.option_count:
            self.pile.highlighted = self.pile.option_count - 1

    def _lines(self) -> list[EntryLine]:
        return correcting.entry_lines(self.session.desk, self._number)

    @property
    def _here(self) -> EntryLine | None:
        at, lines = self.at, self._lines()
        return lines[at] if at is not None and at < len(lines) else None

    def draw(self) -> None:
        """Show the list."""
        lines = self._lines()
        width = max(self.pile.size.width - 12, 20)
        self.refill([self._line(line, width) for line in lines])
        seat = self.session.desk.study.seat(self._number)
        struck = sum(line.struck for line in lines)
        corrected = sum(bool(line.corrected) for line in lines)
        more = f"{len(lines)} entries, {corrected} with more said of them, {struck} struck"
        self.head(f"Sitting {self._number}, {legible(seat.participant)} at {seat.chair}", more)
        self._draw_beside()
        self.refresh_bindings()

    def _line(self, line: EntryLine, width: int) -> Content:
        style = "$thread strike" if line.struck else "$chalk"
        mark = self.signs.states["open"] if line.corrected else " "
        return Content.assemble(
            (f"{line.at:>8} ", "$thread"), (f"{mark} ", "$lamp"), (clipped(legible(line.text), width), style)
        )

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_beside(self) -> None:
        line = self._here
        if line is None:
            self.query_one("#beside", Static).update("")
            return
        moment = line.entry.moment
        parts = [
            Content(legible(line.text)),
            Content.styled(f"entry {line.entry.number}, by {legible(line.entry.author)}", "$thread"),
            Content.styled(f"pressed {day_and_time(moment.wall_ns / SECOND)}", "$thread"),
        ]
        if line.corrected:
            parts += [Content(""), Content.styled("said of it since", "$thread")]
            parts += [Content(legible(words)) for words in line.corrected]
        content = Content("\n").join(parts)
        self.query_one("#beside", Static).update(content)
        if self.has_class("-narrow"):
            self.query_one("#note", Static).update(Content.styled("; ".join(map(legible, line.corrected)), "$thread"))

    def _writer(self) -> LiveSitting:
        live = self.session.live
        if live is not None and live.seat.number == self._number:
            return live
        return LiveSitting(self.session.desk, self.session.desk.study.seat(self._number))

    def _do(self, act: Callable[[LiveSitting], None]) -> bool:
        done = self.attempt(lambda: act(self._writer()))
        if done:
            self.draw()
        return done

    def action_strike(self) -> None:
        """The entry in hand does not hold."""
        line = self._here
        if line is not None and not line.struck:
            desk = self.session.desk
            self.ask_words(
                "it does not hold, because:",
                lambda reason: self._do(lambda live: correcting.strike(desk, live, line.entry, reason)),
            )

    def action_move(self) -> None:
        """The entry in hand belongs elsewhere in time."""
        line = self._here
        if line is not None:
            desk = self.session.desk
            self.ask_words(
                "by how many seconds, and why (-10 pressed late)",
                lambda text: self._do(lambda live: correcting.move(desk, live, line.entry, text)),
                value="-10 ",
            )

    def action_reword(self) -> None:
        """Other words for the entry in hand."""
        line = self._here
        if line is None:
            return
        desk = self.session.desk
        remark = desk.sittings[self._number].remarks.get(line.entry.id)
        self.ask_words(
            "in words:",
            lambda words: self._do(lambda live: correcting.reword(desk, live, line.entry, words)),
            value=remark.words if remark is not None else "",
        )

    def action_add(self) -> None:
        """A mark that nobody made at the time."""
        desk, line = self.session.desk, self._here
        at = line.at if line is not None else "0:00"

        def kind(place: int) -> None:
            mark = LATE_MARKS[place]

            def timed(text: str) -> bool:
                when, _, words = text.strip().partition(" ")

                def reasoned(reason: str) -> bool:
                    return self._do(lambda live: correcting.add_late(desk, live, mark, when, words, reason))

                if not self.attempt(lambda: correcting.seconds_of(when)):
                    return False
                self.ask_words("nobody marked it then, because:", reasoned)
                return True

            self.ask_words(f"{mark.replace('_', ' ')}: when, and in words (2:31 wrong menu)", timed, value=f"{at} ")

        self.ask_one_of("what is added late?", [mark.replace("_", " ") for mark in LATE_MARKS], kind)

    def action_draw(self) -> None:
        """Draw the sitting over time."""
        from fresh_chair.services.files import typed_path
        from fresh_chair.services.notes import draw_sitting

        def put(text: str) -> bool:
            written = []
            desk = self.session.desk
            done = self.attempt(lambda: written.append(draw_sitting(desk, self._number, typed_path(text))))
            if done:
                self.tell(f"Drawn: {legible(written[0].path.name)}")
            return done

        self.ask_words("into which file (.svg or .pdf)?", put, value=f"sitting-{self._number}.svg")

    def action_judge(self) -> None:
        """The attempt of the entry in hand ended otherwise."""
        line = self._here
        if line is None:
            return
        desk = self.session.desk
        attempt = correcting.attempt_of(desk, self._number, line.entry)
        if attempt is None:
            self.tell("No attempt ran at that moment.", colour="$clay")
            return

        def chosen(place: int) -> None:
            outcome = list(Outcome)[place]
            self.ask_words(
                f"attempt {attempt} was “{outcome.words}”, because:",
                lambda reason: self._do(lambda live: correcting.judge_again(desk, live, attempt, outcome, reason)),
            )

        self.ask_one_of("how did it end?", [outcome.words for outcome in Outcome], chosen)
