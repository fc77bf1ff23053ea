"""Lists of records about a chair: one line a record, opened with Enter."""

from collections.abc import Sequence
from typing import Any, ClassVar

from textual import on
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.widget import Widget
from textual.widgets import OptionList, Static

from fresh_chair.core.chair.ledger import Held
from fresh_chair.core.chair.record_time import when_text
from fresh_chair.core.clock import SECOND
from fresh_chair.core.evidence.attachments import Attachment
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.chair import records
from fresh_chair.services.system.clock import day_and_time
from fresh_chair.tui.base.attaching import attach_file, show_file
from fresh_chair.tui.base.linking import link_lines, tie
from fresh_chair.tui.base.sheet import ListSheet
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import chair_colour


class SetSheet(ListSheet):
    """A sheet of Set, about the chair in hand."""

    place = "set"

    @property
    def letter(self) -> str:
        """The chair in hand."""
        letters = list(self.session.opened.study.chair_by_letter)
        wanted = self.session.cell[1]
        return wanted if wanted in letters else letters[0]

    def main(self) -> Widget | None:
        """The list has the keys as soon as there is something in it: an empty one would swallow Enter."""
        return self.pile if self.pile.option_count else None

    def refill(self, lines: Sequence[Content], ids: Sequence[str] = ()) -> None:
        """Show these lines, and give them the keys."""
        super().refill(lines, ids)
        if not self.asking:
            self.give_back_keys()

    def detail(self, content: Content) -> None:
        """Show the details of the line in hand: at the right, or below in a window that has no room there."""
        self.query_one("#beside", Static).update(content)
        if self.has_class("-narrow") and self.pile.option_count:
            self.query_one("#note", Static).update(Content.styled(" ".join(content.plain.split()), "$thread"))

    def action_back(self) -> None:
        """Go back to the chair's sheet."""
        self.action_go("set")

    def action_chair(self, step: int) -> None:
        """The same sheet of a neighbouring chair."""
        letters = list(self.session.opened.study.chair_by_letter)
        letter = letters[(letters.index(self.letter) + step) % len(letters)]
        self.session.cell = (self.session.cell[0], letter)
        self.clear_notice()
        self.draw()

    def chair_head(self, words: str, more: str, columns: Content | None = None) -> None:
        """Which sheet of which chair, and the names of its columns where it has some."""
        chair = self.session.opened.study.chair_by_letter[self.letter]
        title = f"{chair.letter}  {legible(chair.title)}"
        head = Content.assemble(
            (title, f"bold {chair_colour(chair)}"), (f"   {words}", "bold $lamp"), (f"   {more}", "$thread")
        )
        self.query_one("#head", Static).update(head if columns is None else Content("\n\n").join([head, columns]))


def files_of(sheet: "Records", held: Held | None) -> list[Attachment]:
    """The files that show a record of a sheet."""
    listed = sheet.session.opened.known_chairs.of(sheet.letter).attachments
    return [e.attachment for e in listed if held is not None and (e.record, e.id) == (sheet.kind, held.record.id)]


def target_of(sheet: "Records", held: Held) -> str:
    """A record of a sheet as the target that links name."""
    return f"record:{sheet.letter}/{sheet.kind}/{held.record.id}"


class Records(SetSheet):
    """The records of one kind about the chair in hand.

    Subclasses say which kind, how a line reads, and what is asked for a new one.
    """

    kind = ""
    # Field that a new record begins with, and what is asked for it.
    first = ""
    first_words = ""
    empty_words = ""
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left", "chair(-1)", "before", id="records.before", key_display="←", tooltip="The chair before"),
        Binding("right", "chair(1)", "after", id="records.after", key_display="→", tooltip="The chair after"),
        Binding("a", "add", "a new one", id="records.add", tooltip="Put another one down"),
        Binding("enter", "open", "all of it", id="records.open", tooltip="Every field of the one in hand"),
        Binding("x", "strike", "strike", id="records.strike", tooltip="It does not hold, with why"),
        Binding(
            "plus",
            "attach",
            "attach",
            id="records.attach",
            key_display="+",
            show=False,
            tooltip="A picture, a file, a stretch of a clip shows it",
        ),
        Binding("V", "show", "show", id="records.show", show=False, tooltip="Show an attached file"),
        Binding(
            "ampersand",
            "tie",
            "tie",
            id="records.tie",
            key_display="&",
            show=False,
            tooltip="Because of, speaks for, contradicts, ... another thing",
        ),
    ]

    def held(self) -> list[Held]:
        """The records."""
        return records.records_of(self.session.opened, self.letter, self.kind)

    @property
    def here(self) -> Held | None:
        """The record in hand."""
        at, held = self.at, self.held()
        return held[at] if at is not None and at < len(held) else None

    def draw(self) -> None:
        """Show the list."""
        held = self.held()
        self.refill([self.line(each) for each in held], [each.record.id for each in held])
        self.chair_head(self.title_words, self.more(held), self.columns() if held else None)
        note = Content.styled("" if held else self.empty_words, "$thread")
        self.query_one("#note", Static).update(note)
        self.draw_beside()
        self.follow()
        self.refresh_bindings()

    @asks
    async def action_attach(self) -> None:
        """Attach a file to the record in hand."""
        from fresh_chair.services.evidence.attachments import attach_to_record

        held, letter, kind = self.here, self.letter, self.kind
        if held is None:
            return
        record = held.record.id

        def put(found: Attachment) -> None:
            attach_to_record(self.session.opened, letter, kind, record, found)
            self.draw()

        await attach_file(self, legible(clipped(records.record_lines(held.record)[0].text, 32)), put)

    @asks
    async def action_show(self) -> None:
        """Show a file of the record in hand."""
        found = files_of(self, self.here)
        if found:
            await show_file(self, [(self.title_words, file) for file in found])
        else:
            self.tell("No file is attached to it; + attaches one.")

    @asks
    async def action_tie(self) -> None:
        """Tie the record in hand to another thing."""
        held = self.here
        if held is not None and await tie(self, target_of(self, held)):
            self.draw_beside()

    def columns(self) -> Content | None:
        """The names of the columns, where a line has some."""
        return None

    def more(self, held: list[Held]) -> str:
        """The text behind the title."""
        return f"{len(held)} put down" if held else "nothing put down"

    def line(self, held: Held) -> Content:
        """A record as one line."""
        lines = records.record_lines(held.record)
        rest = "; ".join(f"{line.words} {line.text}" for line in lines[1:] if line.text and line.text != "not judged")
        width = max(self.pile.size.width // 2, 20)
        return Content.assemble(
            (clipped(legible(lines[0].text), width - 1).ljust(width), "$chalk"),
            (clipped(legible(rest), max(self.pile.size.width - width - 2, 10)), "$thread"),
        )

    @on(OptionList.OptionHighlighted, "#list")
    def draw_beside(self) -> None:
        """Show the record in hand. A sheet overrides `told`: a handler is called for each class that has one."""
        held = self.here
        self.detail(Content("") if held is None else self.told(held))

    def told(self, held: Held) -> Content:
        """The record in hand, field by field."""
        was = f"carried from {legible(held.source)}, " if held.source else ""
        was += f"was so {when_text(held.when)}, " if held.record.at or held.source else ""
        parts = [Content.styled(f"{was}put down {day_and_time(held.moment.wall_ns / SECOND)}", "$thread")]
        for line in records.record_lines(held.record):
            if line.text:
                parts.append(Content.assemble((f"{line.words}\n", "$thread"), (f"  {legible(line.text)}", "$chalk")))
        for file in files_of(self, held):
            parts.append(Content.assemble(("shown by\n", "$thread"), (f"  {legible(file.name)}", "$tide")))
        return Content("\n").join([*parts, *link_lines(self, target_of(self, held))])

    @asks
    async def action_add(self) -> None:
        """Put another one down."""

        def put(text: str) -> bool:
            done = self.attempt(
                lambda: records.put_record(self.session.opened, self.letter, self.kind, **{self.first: text.strip()})
            )
            if done:
                self.draw()
                self.pile.highlighted = self.pile.option_count - 1
            return done

        await self.ask_until(self.first_words, put)

    @on(OptionList.OptionSelected, "#list")
    def _entered(self) -> None:
        if not self.asking:
            self.entered()

    def entered(self) -> None:
        """Open the line in hand."""
        self.action_open()

    def action_open(self) -> None:
        """Open the one in hand."""
        self.open_record()

    def open_record(self) -> None:
        """Open every field of the record in hand."""
        held = self.here
        if held is not None and not self.asking:
            self.session.cell = (self.session.cell[0], self.letter)
            self.open_sheet("record", (self.sheet_name, self.kind, held.record.id))

    @asks
    async def action_strike(self) -> None:
        """Strike the one in hand."""
        held = self.here
        if held is None:
            return
        record = held.record.id

        def struck(reason: str) -> bool:
            done = self.attempt(
                lambda: records.strike_record(self.session.opened, self.letter, self.kind, record, reason)
            )
            if done:
                self.draw()
            return done

        await self.ask_until("it does not hold, because:", struck)

    def change(self, field: str, text: str) -> bool:
        """Change one field of the record in hand."""
        held = self.here
        if held is None:
            return False
        done = self.attempt(
            lambda: records.change_record(self.session.opened, self.letter, self.kind, held.record.id, field, text)
        )
        if done:
            self.draw()
        return done

    async def choose(self, field: str, prompt: str) -> None:
        """Ask for another value of a field that allows some words only."""
        held = self.here
        if held is None:
            return
        line = next(line for line in records.record_lines(held.record) if line.path == field)
        at = await self.ask_one_of(prompt, line.choices)
        if at is not None:
            self.change(field, line.choices[at])

    def value(self, held: Held, field: str) -> Any:
        """A field of a record."""
        return getattr(held.record, field)


class Pages(Records):
    """The pages of the first boot."""

    sheet_name = "pages"
    title_words = "first-boot pages"
    kind = "page"
    first = "page"
    first_words = "what does the page ask or say?"
    empty_words = "Each page: what is preset, what a plain “next” leads to, how to refuse. a adds one."
    about = "Each page that the first boot shows. What can be seen only once belongs here while it is there."


class Warnings(Records):
    """Warnings met at the chair."""

    sheet_name = "warnings"
    title_words = "warnings met"
    kind = "warning"
    first = "words"
    first_words = "what did it say?"
    empty_words = "Warnings that the machine gave, or should have given, each with a verdict. a adds one."
    about = "A warning can be helpful, misleading, frightening, nagging, or absent where it was needed."
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("v", "verdict", "verdict", id="warnings.verdict", tooltip="Helpful, misleading, frightening, nagging"),
    ]

    @asks
    async def action_verdict(self) -> None:
        """Judge the warning in hand."""
        await self.choose("effect", "what did it do?")
