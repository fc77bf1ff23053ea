"""Asking at the bottom of the same screen: a line for words, a row of choices. Neither covers the clock."""

from collections.abc import Callable, Sequence

from textual import events
from textual.app import ComposeResult
from textual.binding import Binding
from textual.containers import Horizontal
from textual.content import Content
from textual.geometry import Size
from textual.reactive import Reactive
from textual.suggester import SuggestFromList
from textual.widget import Widget
from textual.widgets import Input, Static

from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped, harmless, legible
from fresh_chair.tui.widgets.dialogue import Prompt


@frozen
class Choice:
    """One thing that can be chosen with one key."""

    key: str
    words: str
    colour: str = "$chalk"


# Columns that words need beside their prompt.
_LEAST_FIELD = 30


class WordField(Input):
    """A field as wide as its line for any text: a letter does not lay the screen out anew."""

    virtual_size = Reactive(Size(0, 0))

    def on_paste(self, event: events.Paste) -> None:
        """Take all lines of a paste, cleaned as they are kept; the field's own way takes the first one alone."""
        event.prevent_default()
        event.stop()
        self.insert_text_at_cursor(_typed(event.text.replace("\r\n", "\n").replace("\r", "\n").strip("\n")))


class WordLine(Horizontal):
    """A line to type in; empty and hidden until something is asked."""

    BINDINGS = [
        Binding("escape", "cancel", "leave it", id="line.cancel", show=False, tooltip="Close the line"),
        Binding("tab,shift+tab", "stay", "stay", id="line.stay", show=False, tooltip="Stay in the line"),
    ]

    def __init__(self) -> None:
        super().__init__()
        self._then: Callable[[str | None], object] | None = None
        self._asked = Content("")
        self._known: list[str] = []

    def compose(self) -> ComposeResult:
        """A prompt and an input."""
        yield Static(id="prompt", markup=False)
        yield WordField(id="words", max_length=2000, select_on_focus=False)

    def question(self, prompt: str, *, value: str = "", suggestions: Sequence[str] = ()) -> Prompt[str | None]:
        """The question for words; the answer is None where the line is left."""

        def pose(answered: Callable[[str | None], object]) -> None:
            self._ask(prompt, answered, value, suggestions)

        return Prompt(pose)

    def _ask(self, prompt: str, then: Callable[[str | None], object], value: str, suggestions: Sequence[str]) -> None:
        self._then = then
        self._asked = Content.assemble((f" {legible(prompt)} ", "bold $lamp"))
        self.query_one("#prompt", Static).update(self._asked)
        self._make_room(self.container_size.width)
        field = self.query_one(Input)
        self._known = list(map(_typed, suggestions))
        field.suggester = SuggestFromList(self._known, case_sensitive=False) if self._known else None
        field.value = _typed(value)
        field.cursor_position = len(field.value)
        self.display = True
        # At once, not a message later: the next key may have been pressed already.
        self.screen.set_focus(field)

    def _make_room(self, width: int) -> None:
        """A prompt that leaves the field too little stands whole above it."""
        self.set_class(self._asked.cell_length > width - _LEAST_FIELD, "-above")

    def on_resize(self, event: events.Resize) -> None:
        """The same prompt may need another row now."""
        if self.asking:
            self._make_room(event.size.width)

    @property
    def asking(self) -> bool:
        """True while the line is open."""
        return self._then is not None

    def close(self) -> None:
        """Hide the line."""
        self._then = None
        self.display = False

    def on_input_submitted(self, event: Input.Submitted) -> None:
        """Hand the words over, with the completion that is shown behind them."""
        event.stop()
        self._answer(_meant(self._completed(event.value)))

    def _completed(self, typed: str) -> str:
        """The first known name that begins with the letters, as it is shown; the letters themselves where none does."""
        if not typed.strip():
            return typed
        begins = typed.casefold()
        return next((name for name in self._known if name.casefold().startswith(begins)), typed)

    @property
    def completes(self) -> bool:
        """True while there are known names to complete the typed letters to."""
        return bool(self._known)

    def action_stay(self) -> None:
        """Keep the letters as they are typed, where a completion is shown; else Tab leads nowhere."""
        if self._known:
            self._answer(_meant(self.query_one(Input).value))

    def action_cancel(self) -> None:
        """Leave without words."""
        self._answer(None)

    def _answer(self, words: str | None) -> None:
        then, self._then = self._then, None
        if then is not None:
            then(words)
        # Where the next question is asked already, the line stays.
        if self._then is None:
            self.close()


# Stands for the end of a line in a field that has one line only.
_LINE_END = "¶"


def _typed(text: str) -> str:
    """A text as it may stand in a line that is edited: nothing in it acts on the terminal."""
    return harmless(text.replace("\r\n", "\n")).replace("\n", _LINE_END).replace("\t", " ")


def _meant(text: str) -> str:
    """The typed or pasted text, made harmless, with its line ends."""
    return harmless(text).replace(_LINE_END, "\n")


class ChoiceLine(Widget, can_focus=True):
    """A row of choices, one key each; an unknown key does nothing, and the row says so."""

    BINDINGS = [
        Binding("tab,shift+tab", "stay", "stay", id="choice.stay", show=False, tooltip="Stay with the question")
    ]

    def __init__(self) -> None:
        super().__init__()
        self._prompt = self._missed = ""
        self._choices: Sequence[Choice] = ()
        self._then: Callable[[str | None], object] | None = None
        self._spots: list[tuple[int, int, int, str]] = []

    @property
    def asking(self) -> bool:
        """True while a choice is open."""
        return self._then is not None

    def question(self, prompt: str, choices: Sequence[Choice]) -> Prompt[str | None]:
        """The question for one of these; the answer is its key, or None where the row is left."""

        def pose(answered: Callable[[str | None], object]) -> None:
            self._ask(prompt, choices, answered)

        return Prompt(pose)

    def _ask(self, prompt: str, choices: Sequence[Choice], then: Callable[[str | None], object]) -> None:
        self._prompt, self._choices, self._then = prompt, choices, then
        self._missed = ""
        self.display = True
        self.refresh(layout=True)
        self.screen.set_focus(self)

    def close(self) -> None:
        """Hide the row."""
        self._then = None
        self.display = False

    def action_stay(self) -> None:
        """Tab leads nowhere while a choice is asked for."""

    def action_cancel(self) -> None:
        """Leave without a choice."""
        self._answered(None)

    def check_consume_key(self, key: str, character: str | None) -> bool:
        """Every key belongs to the question while it is open."""
        return True

    def on_key(self, event: events.Key) -> None:
        """Choose, or leave."""
        if event.key.startswith("ctrl+") or not self.asking:
            return
        event.stop()
        event.prevent_default()
        if event.key == "escape":
            self.action_cancel()
            return
        self.answer(event.character or "")

    def on_click(self, event: events.Click) -> None:
        """Do the same as the clicked choice's key."""
        for row, begin, end, key in self._spots:
            if row == event.y and begin <= event.x < end:
                self.answer(key)
                return

    def get_content_height(self, container: object, viewport: object, width: int) -> int:
        """As many rows as the choices need."""
        self._lay_out(max(width, 20))
        return self._spots[-1][0] + 1 if self._spots else 1

    def render(self) -> Content:
        """The prompt, then key and words of each choice."""
        return self._lay_out(max(self.size.width, 20))

    def _lay_out(self, width: int) -> Content:
        rows = [Content.assemble((f" {legible(self._prompt)} ", "bold $lamp"))]
        if self._missed:
            rows[0] = rows[0] + Content.assemble((f"{legible(self._missed)} is none of these: ", "$clay"))
        self._spots = []
        for choice in self._choices:
            # A key stays with its words: what is longer than a row is cut, never wrapped.
            words = clipped(legible(choice.words), max(width - len(choice.key) - 6, 8))
            part = Content.assemble((f" {choice.key} ", f"bold {choice.colour} on $seam"), (f" {words}  ", "$chalk"))
            if rows[-1].cell_length + part.cell_length > width:
                rows.append(Content(" "))
            begin = rows[-1].cell_length
            rows[-1] = rows[-1] + part
            self._spots.append((len(rows) - 1, begin, begin + part.cell_length, choice.key))
        return Content("\n").join(rows)

    def answer(self, key: str) -> None:
        """Choose the one with this key; an unknown key is said to be none of these."""
        if self._then is None:
            return
        if key not in {choice.key for choice in self._choices}:
            self._missed = key if key.isprintable() else ""
            self.refresh(layout=True)
            return
        self._answered(key)

    def _answered(self, key: str | None) -> None:
        then = self._then
        self.close()
        if then is not None:
            then(key)
