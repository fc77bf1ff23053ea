"""Sheets of a place: they open from its screen, and Esc goes back to it."""

from collections.abc import Sequence
from pathlib import Path
from typing import ClassVar

from textual import on
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Vertical, VerticalScroll
from textual.content import Content
from textual.widget import Widget
from textual.widgets import OptionList, Static
from textual.widgets.option_list import Option

from fresh_chair.core.text import clipped, legible
from fresh_chair.services.plan.editing import FieldLine, set_field
from fresh_chair.services.plan.field_parts import is_listed
from fresh_chair.tui.base.drawing import DrawnPlace
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.field_list import FieldList
from fresh_chair.tui.widgets.selection import Selection


class SheetScreen(Place):
    """One sheet of Plan."""

    place = "plan"
    sheet_name = ""
    title_words = ""
    CSS_PATH = Path(__file__).with_name("sheet.tcss")
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("escape", "back", "back", id="leaf.back", key_display="Esc", tooltip="Back to where you came from"),
    ]

    @property
    def heading(self) -> str:
        """The title of the sheet."""
        return self.title_words

    def own_keys(self) -> list[Binding]:
        """The way back first, then Enter, then its own keys, then those of sheets like it."""
        found: list[Binding] = []
        for owner in (SheetScreen, *type(self).__mro__[: type(self).__mro__.index(SheetScreen)]):
            found += [binding for binding in vars(owner).get("BINDINGS", []) if isinstance(binding, Binding)]
        return sorted(found, key=lambda binding: (binding.key != "escape", binding.key != "enter"))

    def action_back(self) -> None:
        """Go back to the board."""
        self.action_go("plan")


class DrawnSheet(DrawnPlace, SheetScreen):
    """A sheet that is drawn whole."""


class FieldSheet(DrawnSheet):
    """A sheet whose middle is a list of fields, each changed by one line at the bottom."""

    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("enter", "edit", "change", id="sheet.edit", tooltip="Change the field in hand"),
    ]

    def lines(self) -> list[FieldLine]:
        """The fields."""
        raise NotImplementedError

    def head(self) -> Content:
        """The sheet's subject."""
        raise NotImplementedError

    def beside(self) -> Content:
        """Details at the right."""
        return Content("")

    def middle(self) -> ComposeResult:
        """Head, fields, the form of the value in hand; details at the right."""
        with Vertical(classes="main"):
            yield Static(id="head", markup=False)
            yield FieldList(self.signs)
            yield Static(id="note", markup=False)
        with VerticalScroll(classes="aside", can_focus=False):
            yield Static(id="beside", markup=False)

    def main(self) -> Widget | None:
        """The fields have the keys."""
        return self.query_one(FieldList)

    def draw(self) -> None:
        """Show everything as it is now."""
        self.query_one("#head", Static).update(self.head())
        self.query_one(FieldList).show(self.lines())
        self.query_one("#beside", Static).update(self.beside())
        self.follow()
        self.refresh_bindings()

    @on(OptionList.OptionHighlighted)
    def _note(self) -> None:
        line = self.query_one(FieldList).line
        words = "" if line is None else line.note or line.words
        self.query_one("#note", Static).update(Content.styled(legible(words), "$thread"))

    @on(OptionList.OptionSelected)
    @asks
    async def action_edit(self) -> None:
        """Ask for another value of the field in hand."""
        line = self.query_one(FieldList).line
        if line is None or self.asking:
            return
        if "." in line.path and is_listed(self.session.opened.study, line.path):
            self.open_sheet("parts", (line.path, line.words))
        elif line.choices:
            at = await self.ask_one_of(line.words, line.choices)
            if at is not None:
                self.put(line, line.choices[at])
        else:
            words = await self.ask_words(line.words, value=self.proposal(line))
            while words is not None and not self.put(line, words):
                there = next((each for each in self.lines() if each.path == line.path), line)
                if there.text == line.text:
                    self.said_while_asking()
                    words = await self.ask_words(line.words, value=words)
                    continue
                # Somebody else has changed it meanwhile: both stand side by side, and neither is mixed with the other.
                self.draw()
                line, yours = there, words
                said = f"{line.words} is now “{_shown(line.text)}”, changed elsewhere; you said “{_shown(yours)}”."
                self.tell(said, colour="$clay")
                self.said_while_asking()
                key = await self.ask_choice(
                    "which stands?",
                    [
                        Choice("p", "put yours there"),
                        Choice("e", "change theirs"),
                        Choice("n", "leave theirs", "$clay"),
                    ],
                )
                if key == "e":
                    words = await self.ask_words(line.words, value=self.proposal(line))
                else:
                    words = yours if key == "p" else None

    @property
    def in_hand(self) -> FieldLine | None:
        """The field in hand."""
        return self.query_one(FieldList).line

    def proposal(self, line: FieldLine) -> str:
        """The text the line at the bottom begins with."""
        return line.text

    def put(self, line: FieldLine, text: str) -> bool:
        """Change a field; say why where it cannot be."""
        done = self.attempt(lambda: set_field(self.session.opened, line.path, text))
        if done:
            self.clear_notice()
            self.draw()
        return done


def _shown(text: str) -> str:
    """A value as it may stand in a question."""
    return clipped(legible(text), 60)


class ListSheet(DrawnSheet):
    """A sheet whose middle is one list, with details of the line in hand at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.selection = Selection()

    def middle(self) -> ComposeResult:
        """Head, fields, the form of the value in hand; details at the right."""
        with Vertical(classes="main"):
            yield Static(id="head", markup=False)
            yield OptionList(id="list", markup=False)
            yield Static(id="note", markup=False)
        with VerticalScroll(classes="aside", can_focus=False):
            yield Static(id="beside", markup=False)

    def main(self) -> Widget | None:
        """The list has the keys."""
        return self.pile

    @property
    def pile(self) -> OptionList:
        """The list."""
        return self.query_one("#list", OptionList)

    def on_mount(self) -> None:
        """Follow the list: its line in hand is the model's. The bases' own are called besides."""
        self.watch(self.pile, "highlighted", self.selection.move, init=False)

    @property
    def at(self) -> int | None:
        """Which line is in hand, from 0; None where the list is empty."""
        return self.selection.at

    def head(self, words: str, more: str) -> None:
        """The sheet's subject."""
        self.query_one("#head", Static).update(Content.assemble((words, "bold $lamp"), (f"   {more}", "$thread")))

    def refill(self, lines: Sequence[Content], ids: Sequence[str] = ()) -> None:
        """Show these lines; the one in hand stays in hand, by its id where the lines have some."""
        at = self.selection.fill(list(ids) or [str(index) for index in range(len(lines))])
        self.pile.set_options([Option(line, id=str(index)) for index, line in enumerate(lines)])
        self.pile.highlighted = at
