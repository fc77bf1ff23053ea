"""The base of every place: the frame, asking at the bottom, and problems said in one sentence."""

from collections.abc import Callable, Sequence
from typing import Any, ClassVar

from textual import events, on
from textual.actions import parse
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Container, Horizontal, Vertical
from textual.content import Content
from textual.screen import Screen
from textual.widget import Widget
from textual.widgets import Input, Static

from fresh_chair.core.clock import clock_text
from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.text import legible, legible_lines
from fresh_chair.services.plan.board import open_counts
from fresh_chair.tui.base.frame import PLACES, BottomLine, Go, HelpRequested, Spine, TopLine
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.sheets import OpenSheet
from fresh_chair.tui.widgets.asking import Choice, ChoiceLine, WordLine
from fresh_chair.tui.widgets.dialogue import Conversation, Dialogue, Prompt
from fresh_chair.tui.widgets.signs import Signs

SMALLEST = (60, 18)
_KEYS = "123456789abcdefghijklmnopqrstuvwxyz"


class TooSmall(Static):
    """The notice of a window without room for the place: one sentence, and the clock if one runs."""

    def __init__(self, session: Session) -> None:
        super().__init__(markup=False)
        self._session = session

    def on_mount(self) -> None:
        """Keep the clock going while this is shown."""
        self.set_interval(0.5, lambda: self.refresh() if self.display else None)

    def render(self) -> Content:
        """The sentence."""
        live = self._session.in_hand
        face = None if live is None else live.face(live.now())
        clock = "" if face is None else f"{clock_text(face.hands_ns)} {face.lane or 'stopped'}\n"
        return Content.assemble(
            (clock, "bold $lamp"), f"Window too small: needs {SMALLEST[0]}x{SMALLEST[1]}. Nothing is lost."
        )


class Place(Screen[None]):
    """One of the six places.

    Subclasses yield their middle from `middle()` and say what has the keys in `main()`.
    """

    place = ""
    # What the help says of a sheet within a place; empty for the place itself.
    about = ""
    # For a place that is worked out once and then read: what is said when others have gone on, after which its own key
    # works it out again.
    older_words = ""
    older = False
    AUTO_FOCUS = ""
    HORIZONTAL_BREAKPOINTS = [(0, "-tiny"), (SMALLEST[0], "-narrow"), (110, "-wide")]
    VERTICAL_BREAKPOINTS = [(0, "-flat"), (SMALLEST[1], "-low"), (30, "-high")]
    BINDINGS: ClassVar[list[BindingType]] = [
        *(
            Binding(
                str(number),
                f"go('{place}')",
                place,
                id=f"frame.{place}",
                show=False,
                tooltip=f"Go to {place.capitalize()}",
            )
            for number, place in enumerate(PLACES, start=1)
        ),
        Binding("question_mark", "help", "help", id="frame.help", show=False, tooltip="What works in this place"),
        Binding("ctrl+t", "light", "light", id="frame.light", show=False, tooltip="Dusk or daylight"),
        Binding(
            "ctrl+p", "app.command_palette", "find", id="frame.find", show=False, tooltip="Find anything by typing"
        ),
        Binding("ctrl+q", "app.quit", "quit", id="frame.quit", show=False, tooltip="Leave; an open sitting stays open"),
    ]

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._dead_keys: set[str] = set()
        self._said_while_asking = False
        self._asking_soon = False
        self._conversation = Conversation(self._asked_enough)

    @property
    def heading(self) -> str:
        """The subject of the screen, in a word or two."""
        return self.place

    @property
    def signs(self) -> Signs:
        """The glyphs to draw with."""
        return self.session.signs

    def compose(self) -> ComposeResult:
        """The frame around the middle."""
        # Before anything is laid out: the library finds the window's size out afterwards, and lays all out once more.
        both = zip(self.app.size, (self.HORIZONTAL_BREAKPOINTS, self.VERTICAL_BREAKPOINTS), strict=True)
        self.add_class(*[max(each for each in points if each[0] <= length)[1] for length, points in both])
        yield TopLine(self.session)
        with Horizontal(id="row"):
            yield Spine(self.place, self.session)
            with Vertical(id="room"):
                with Container(id="middle"):
                    yield from self.middle()
                yield Static(id="notice", markup=False)
                yield WordLine()
                yield ChoiceLine()
        yield BottomLine(self.session, self)
        yield TooSmall(self.session)

    def middle(self) -> ComposeResult:
        """The one thing in the middle, and its details at the right."""
        raise NotImplementedError

    def main(self) -> Widget | None:
        """The widget that has the keys when nothing is asked."""
        return None

    @property
    def stands(self) -> bool:
        """Whether its widgets are there to be spoken to: not before they are made, nor once they go."""
        return self.is_mounted and self.is_attached and self.app.is_running

    def every(self, seconds: float, act: Callable[[], object]) -> None:
        """Do something again and again, as long as this place stands in front."""
        self.set_interval(seconds, lambda: act() if self.stands and self.app.screen is self else None)

    def on_mount(self) -> None:
        """Show the open work, give the keys to the middle, and open the requested sheet."""
        if not self.is_attached or not self.query(Spine):
            # The program leaves meanwhile, and nothing was made to be shown.
            return
        self.follow()
        self.give_back_keys()
        self.arrived()

    def arrived(self) -> None:
        """Called once the place is on the screen."""

    def follow(self) -> None:
        """Show the counts of open work."""
        if not self.session.opened.loaded:
            return
        counts = open_counts(self.session.opened)
        shown = [counts.to_run, counts.open_claims, counts.wordless, counts.loose, counts.empty_cells, 0]
        self.query_one(Spine).counts = tuple(str(count) if count else "" for count in shown)

    def give_back_keys(self) -> None:
        """Return the keys to the middle."""
        target = self.main()
        if target is None:
            self.set_focus(None)
        else:
            target.focus()
        self.refresh_bindings()

    @property
    def asking(self) -> bool:
        """True while a line or a choice is open at the bottom."""
        return self.query_one(WordLine).asking or self.query_one(ChoiceLine).asking

    @property
    def ready_for_keys(self) -> bool:
        """False from an answer until the next question is drawn: the next key belongs to that one."""
        return not self._asking_soon

    def converse(self, dialogue: Dialogue) -> None:
        """Run a dialogue, whose questions are asked at the bottom."""
        self._conversation.begin(dialogue)

    def _asked_enough(self) -> None:
        if self.is_attached and not self.asking and not self._asking_soon:
            self.give_back_keys()

    def ask_words(self, prompt: str, *, value: str = "", suggestions: tuple[str, ...] = ()) -> Prompt[str | None]:
        """Ask for words. The answer is None where the question is left."""

        question = self.query_one(WordLine).question(prompt, value=value, suggestions=suggestions)

        def pose(answered: Callable[[str | None], object]) -> None:
            def taken(words: str | None) -> None:
                if words is None:
                    self._forget_what_was_said()
                answered(words)

            self.query_one(ChoiceLine).close()
            question.pose(taken)
            self.refresh_bindings()

        return Prompt(pose)

    async def ask_until(
        self, prompt: str, put: Callable[[str], bool], *, value: str = "", suggestions: tuple[str, ...] = ()
    ) -> bool:
        """Ask for words until `put` takes them, with the typed text kept; False where the question is left."""
        words = await self.ask_words(prompt, value=value, suggestions=suggestions)
        while words is not None and not put(words):
            self.said_while_asking()
            words = await self.ask_words(prompt, value=words, suggestions=suggestions)
        return words is not None

    def ask_choice(self, prompt: str, choices: Sequence[Choice]) -> Prompt[str | None]:
        """Ask for one of several things, each with a key. The answer is that key; None where the question is left."""

        question = self.query_one(ChoiceLine).question(prompt, choices)

        def pose(answered: Callable[[str | None], object]) -> None:
            self.query_one(WordLine).close()
            question.pose(answered)
            self.refresh_bindings()

        return Prompt(pose)

    async def ask_one_of(self, prompt: str, words: Sequence[str]) -> int | None:
        """Ask for one of some words, each with a key. The answer is its index; None where the question is left."""
        choices = [Choice(key, word or "nothing") for key, word in zip(_KEYS, words, strict=False)]
        key = await self.ask_choice(prompt, choices)
        return None if key is None else _KEYS.index(key)

    async def ask_sure(self, prompt: str, yes: str) -> bool:
        """Ask once before something that cannot be taken back."""
        return await self.ask_choice(prompt, [Choice("y", yes, "$clay"), Choice("n", "no, leave it")]) == "y"

    def drawn(self) -> Prompt[None]:
        """Wait until the screen has been drawn, as a line that closes has to; keys pressed until then are answers."""

        def pose(answered: Callable[[None], object]) -> None:
            def now() -> None:
                self._asking_soon = False
                answered(None)

            self._asking_soon = True
            self.call_after_refresh(now)

        return Prompt(pose)

    def open_sheet(self, name: str, argument: Any = None) -> None:
        """Open another sheet."""
        self.post_message(OpenSheet(name, argument))

    def attempt(self, act: Callable[[], object]) -> bool:
        """Do something that can be refused; say so in one sentence where it is. True where it was done."""
        try:
            act()
        except FreshChairError as problem:
            self.tell_problem(problem)
            return False
        self.clear_notice()
        return True

    def tell_problem(self, problem: FreshChairError) -> None:
        """Say the problem and its hint, above the bottom line."""
        self.tell(legible_lines(f"{problem.title} {problem.hint}".strip()), colour="$clay")

    def said_while_asking(self) -> None:
        """Let the notice that stands go with the question that is asked next."""
        self._said_while_asking = True

    def _forget_what_was_said(self) -> None:
        """Clear the notice about an answer together with its question."""
        if self._said_while_asking:
            self._said_while_asking = False
            self.clear_notice()

    def tell(self, words: str, *, colour: str = "$moss") -> None:
        """Say something above the bottom line until the next thing is done."""
        self._said_while_asking = self.asking
        notice = self.query_one("#notice", Static)
        notice.update(Content.styled(f" {words}", colour))
        notice.display = True

    @property
    def says_something(self) -> bool:
        """A sentence stands above the bottom line."""
        return bool(self.query_one("#notice").display)

    def clear_notice(self) -> None:
        """Take the last sentence away; that marks lie elsewhere stays said until they are back."""
        opened = self.session.opened
        words = opened.spool.words if opened.loaded else ""
        if words:
            self.tell(words, colour="$thread" if opened.spool.quiet else "$clay")
        else:
            self.query_one("#notice").display = False

    def loaded(self) -> None:
        """Show the journals, which are read after the first paint."""
        self.follow()

    def read_on(self) -> None:
        """Show the entries of other programs."""
        self.follow()
        if self.older_words:
            self.older = True
            self.tell(self.older_words, colour="$thread")

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Nothing but the question works while one is open."""
        return not (self.is_mounted and (self.asking or self._asking_soon)) or action in ("light", "quit")

    def takes_as_answer(self, event: events.Key) -> bool:
        """Answer the open question with a key that was pressed before it had the keys; False where it is no answer."""
        choice, words = self.query_one(ChoiceLine), self.query_one(WordLine)
        asked = choice if choice.asking else words.query_one(Input) if words.asking else None
        if asked is not None and self.focused is not asked:
            # On a busy machine a line that is hidden and shown again at once may have lost the keys.
            self.set_focus(asked)
            if event.key == "escape":
                (choice if choice.asking else words).action_cancel()
                return True
        if not event.is_printable or not event.character:
            return False
        if choice.asking:
            choice.answer(event.character)
            return True
        if words.asking:
            words.query_one(Input).insert_text_at_cursor(event.character)
            return True
        return False

    def say_nothing_happens(self, event: events.Key) -> None:
        """Say once of a key that it does nothing now; a clock that runs is not disturbed twice."""
        key = event.character if event.is_printable else None
        if not key or key in self._dead_keys or self.asking:
            return
        self._dead_keys.add(key)
        self.tell(f"{legible(key)} does nothing here now; ? shows the keys.", colour="$thread")

    @on(events.DescendantFocus)
    def _keep_asking(self) -> None:
        """A question keeps the keys until it is answered or left, wherever Tab or a click would take them."""
        if not self.asking:
            return
        choice = self.query_one(ChoiceLine)
        asked = choice if choice.asking else self.query_one(WordLine).query_one(Input)
        if self.focused is not asked:
            asked.focus()

    def own_keys(self) -> list[Binding]:
        """The keys of this place, without those of every place, in the order they were declared."""
        return [binding for binding in type(self).BINDINGS if isinstance(binding, Binding)]

    def works(self, binding: Binding) -> bool:
        """Whether a key of this place does something at this very moment."""
        _, name, parameters = parse(binding.action)
        return bool(self.check_action(name, parameters))

    def key_of(self, binding: Binding) -> str:
        """A key as it is shown: one's own where there is one."""
        own = self.session.keys.get(binding.id or "")
        shown = own or binding.key_display or binding.key.split(",")[0]
        named = {"enter": self.signs.enter, "question_mark": "?", "escape": "Esc", "space": "Space"}
        return named.get(shown, shown)

    def shows(self, binding: Binding) -> bool:
        """Whether a key that works is worth its room in the bottom line."""
        return True

    def action_go(self, place: str) -> None:
        """Go to another place."""
        self.post_message(Go(place))

    def action_help(self) -> None:
        """Show the help."""
        self.post_message(HelpRequested())

    def action_light(self) -> None:
        """Change between dusk and daylight."""
        self.app.theme = "daylight" if self.app.theme == "dusk" else "dusk"

    @on(events.ScreenSuspend)
    def _let_go(self) -> None:
        """Free the drawing caches: Textual keeps those of a thousand widgets that are gone."""
        for widget in self.walk_children(Widget):
            widget.refresh()

    @on(events.Resize)
    def _resized(self) -> None:
        self.call_after_refresh(self.refresh_bindings)
