"""The journal of one sitting, and its corrections: struck, moved, reworded, added late, judged otherwise."""

from typing import ClassVar

from textual import on
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.clock import SECOND
from fresh_chair.core.evidence.attachments import Attachment
from fresh_chair.core.evidence.kinds import KINDS
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.evidence.attachments import attach, attachments_of
from fresh_chair.services.sitting import corrections as correcting
from fresh_chair.services.sitting.corrections import EntryLine
from fresh_chair.services.system.clock import day_and_time
from fresh_chair.tui.base.attaching import attach_file, show_file
from fresh_chair.tui.base.linking import link_lines, tie
from fresh_chair.tui.base.sheet import ListSheet
from fresh_chair.tui.sit.correcting import Corrections, correction_keys
from fresh_chair.tui.widgets.dialogue import asks


class Journal(Corrections, ListSheet):
    """One line an entry.

    Args:
        number: The planned sitting's number.
    """

    place = "sit"
    sheet_name = "journal"
    title_words = "the journal"
    about = (
        "Nothing is overwritten: a correction is an entry that says what it corrects, when, by whom and why. Lanes of "
        "the clock can be struck, not moved."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        *correction_keys("journal"),
        Binding("v", "known", "how known", id="journal.known", tooltip="Of a mark, step or outcome: done, seen, ..."),
        Binding(
            "plus",
            "attach",
            "attach",
            id="journal.attach",
            key_display="+",
            show=False,
            tooltip="A picture, a file, a stretch of a clip shows this mark",
        ),
        Binding(
            "ampersand",
            "tie",
            "tie",
            id="journal.tie",
            key_display="&",
            show=False,
            tooltip="Because of, speaks for, contradicts, ... another thing",
        ),
        Binding("V", "show", "show", id="journal.show", show=False, tooltip="Show an attached file"),
        Binding("l", "look_back", "over time", id="journal.look", tooltip="The sitting as a drawing, step by step"),
    ]

    def action_look_back(self) -> None:
        """Open the drawing."""
        self.open_sheet("look_back", self._number)

    @asks
    async def action_known(self) -> None:
        """Say how the mark, the step or the outcome in hand is known."""
        line = self._here
        if line is None or line.struck:
            return
        at = await self.ask_one_of(f"{legible(clipped(line.text, 40))} is", KINDS)
        if at is not None:
            self._do(lambda live: correcting.tell_evidence(live, line.entry, KINDS[at]))

    @asks
    async def action_attach(self) -> None:
        """Attach a file to the mark or step in hand."""
        line = self._here
        if line is None or line.struck:
            return
        entry = line.entry.id

        def put(found: Attachment) -> None:
            live = self._writer()
            attach(live, entry, found, live.now())
            self.draw()

        await attach_file(self, legible(clipped(line.text, 32)), put)

    @property
    def _target(self) -> str:
        """The mark or the step in hand, as evidence speaks of it; empty for other entries."""
        line, sitting = self._here, self.session.opened.sittings[self._number]
        if line is None:
            return ""
        if line.entry.id in sitting.remarks:
            return f"mark:{line.entry.id}"
        step = sitting.walk.opened_by(line.entry.id) if sitting.walk is not None else None
        return "" if step is None else f"step:{line.entry.id}"

    @asks
    async def action_tie(self) -> None:
        """Tie the mark or step in hand to another thing."""
        if not self._target:
            self.tell("Only a mark or a step is tied to something.", colour="$clay")
        elif await tie(self, self._target):
            self._draw_beside()

    @asks
    async def action_show(self) -> None:
        """Show a file that is attached to the mark in hand, or any of the sitting where none is."""
        line, every = self._here, attachments_of(self.session.opened, self._number)
        own = [each for each in every if line is not None and line.entry.id in (each.about, each.entry)]
        found = [(each.words, each.attachment) for each in own or every]
        if found:
            await show_file(self, found)
        else:
            self.tell("No file is attached in this sitting; + attaches one.")

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
        return correcting.entry_lines(self.session.opened, self._number)

    @property
    def _here(self) -> EntryLine | None:
        at, lines = self.at, self._lines()
        return lines[at] if at is not None and at < len(lines) else None

    def draw(self) -> None:
        """Show the list."""
        lines = self._lines()
        width = max(self.pile.size.width - 12, 20)
        self.refill([self._line(line, width) for line in lines], [line.entry.id for line in lines])
        seat = self.session.opened.study.seat(self._number)
        struck = sum(line.struck for line in lines)
        corrected = sum(bool(line.corrected) for line in lines)
        more = f"{count_of(len(lines), 'entry', 'entries')}, {corrected} with more said of them, {struck} struck"
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
        if self._target:
            parts += link_lines(self, self._target)
        content = Content("\n").join(parts)
        self.query_one("#beside", Static).update(content)
        if self.has_class("-narrow"):
            self.query_one("#note", Static).update(Content.styled("; ".join(map(legible, line.corrected)), "$thread"))
