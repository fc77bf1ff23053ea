"""The start screen: recent studies, a new one, the demo."""

import gc
import signal
from collections.abc import Callable
from datetime import date
from functools import partial
from pathlib import Path
from typing import ClassVar

from textual import on, work
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Vertical
from textual.content import Content
from textual.message import Message
from textual.widgets import OptionList, Static
from textual.widgets.option_list import Option

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped, legible, legible_lines
from fresh_chair.services.system.files import typed_address
from fresh_chair.store.address import Address, name_of_address
from fresh_chair.store.recent import RecentStudies
from fresh_chair.tui.base.application.keys_in_turn import KeysInTurn
from fresh_chair.tui.base.application.signals import answer_from_loop
from fresh_chair.tui.base.application.themes import DAYLIGHT_THEME, DUSK, DUSK_THEME
from fresh_chair.tui.widgets.asking import WordLine
from fresh_chair.tui.widgets.dialogue import Conversation, Dialogue, asks

# So many things that are due stand on the start screen.
_MOST_DUE = 5


@frozen
class Begun:
    """Which study to open next; with the code of a reviewer who begins to walk in it."""

    path: Address
    reviewer: str = ""


class Made(Message):
    """A study file was made, or could not be."""

    def __init__(self, path: Address, problem: FreshChairError | None, reviewer: str = "") -> None:
        super().__init__()
        self.path, self.reviewer = path, reviewer
        self.problem = problem


class Start(KeysInTurn[Begun]):
    """Chooses a study to open.

    Args:
        recent: The studies that were open lately.
        problem: What went wrong with the last one that was tried.
        light: Start in daylight.
    """

    TITLE = "Fresh Chair"
    CSS_PATH = [Path(__file__).parent / "app.tcss", Path(__file__).parent / "start.tcss"]
    ENABLE_COMMAND_PALETTE = False
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("d", "demo", "the demo", id="start.demo", tooltip="Make the demo study and open it"),
        Binding("n", "new", "a new study", id="start.new", tooltip="Make an empty study"),
        Binding("w", "walk", "a walk", id="start.walk", tooltip="Walk through a desktop yourself, from three answers"),
        Binding("o", "path", "open a file", id="start.path", tooltip="Open a study by its path"),
        Binding("ctrl+t", "light", "light", id="start.light", show=False, tooltip="Dusk or daylight"),
        Binding("q,ctrl+q", "quit", "leave", id="start.quit", tooltip="Leave"),
    ]

    def __init__(self, recent: RecentStudies, *, problem: FreshChairError | None = None, light: bool = False) -> None:
        super().__init__()
        self._recent = recent.addresses()
        self._titles = recent.titles()
        self._problem = problem
        self._conversation = Conversation(self._asked_enough)
        self.register_theme(DUSK_THEME)
        self.register_theme(DAYLIGHT_THEME)
        self.theme = "daylight" if light else "dusk"

    def get_theme_variable_defaults(self) -> dict[str, str]:
        """Names the styles use, before a theme is set."""
        return {**DUSK, **{name: value for name, value in DUSK_THEME.variables.items() if name not in DUSK}}

    def compose(self) -> ComposeResult:
        """Title, recent studies, keys."""
        with Vertical(id="start"):
            yield Static(
                Content.assemble(
                    ("Fresh Chair\n", "bold $lamp"),
                    (
                        "What trips a newcomer at a freshly booted machine, how badly, and how sure one can be.",
                        "$thread",
                    ),
                ),
                markup=False,
            )
            head = "recent studies" if self._recent else "No study has been opened here yet."
            yield Static(Content.styled(head, "$thread"), id="head", markup=False)
            yield OptionList(
                *(
                    Option(
                        Content.assemble(
                            (legible(self._titles.get(path) or name_of_address(path)), "$chalk"),
                            (f"   {legible(str(path))}", "$thread"),
                        ),
                        id=str(index),
                    )
                    for index, path in enumerate(self._recent)
                ),
                markup=False,
            )
            yield Static(
                Content.assemble(
                    ("Enter" if self._recent else "", "bold $lamp"),
                    " opens   " if self._recent else "",
                    ("d", "bold $lamp"),
                    " the demo   ",
                    ("n", "bold $lamp"),
                    " a new study   ",
                    ("w", "bold $lamp"),
                    " a walk   ",
                    ("o", "bold $lamp"),
                    " open a file   ",
                    ("q", "bold $lamp"),
                    " leave",
                ),
                id="keys",
                markup=False,
            )
            yield Static(id="due", markup=False)
            yield Static(id="notice", markup=False)
            yield WordLine()

    def on_mount(self) -> None:
        """Give the keys to the list."""
        self.query_one(WordLine).display = False
        answer_from_loop(signal.SIGTERM, lambda: self.exit(None, 143))
        self._keys_to_list()
        # Nothing is collected before the first paint: what is loaded stays.
        self.call_after_refresh(gc.enable)
        # What is due is read once the screen is there: a start waits for no list.
        self.call_after_refresh(lambda: self.run_worker(partial(_show_due, self), thread=True, group="due"))
        if self._problem is not None:
            self._tell(self._problem)

    def _asked_enough(self) -> None:
        self.call_after_refresh(self._keys_to_list)

    def _keys_to_list(self) -> None:
        pile = self.query_one(OptionList)
        pile.display = bool(self._recent)
        if self._recent:
            pile.focus()

    def _tell(self, problem: FreshChairError) -> None:
        words = legible_lines(f"{problem.title} {problem.hint}".strip())
        self.query_one("#notice", Static).update(Content.styled(words, "$clay"))

    @on(OptionList.OptionSelected)
    def _chosen(self, event: OptionList.OptionSelected) -> None:
        self.exit(Begun(self._recent[int(event.option_id or 0)]))

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Letters are letters while a line is open."""
        lines = self.query(WordLine)
        return not (lines and lines.first().asking and action in ("demo", "new", "path", "walk"))

    def converse(self, dialogue: Dialogue) -> None:
        """Run a dialogue, whose questions are asked at the bottom."""
        self._conversation.begin(dialogue)

    @asks
    async def _ask_where(self, prompt: str, value: str, make: str) -> None:
        typed = await self._answer(prompt, value, typed_address)
        if typed is None:
            return
        path = typed_address(typed)
        if make == "open":
            self.exit(Begun(path))
        else:
            self._make(path, partial(_new_study, path, demo=make == "demo"))

    def action_demo(self) -> None:
        """Ask where the demo goes."""
        self._ask_where("the demo goes to", _free_name("tern-harbour"), "demo")

    def action_new(self) -> None:
        """Ask where the new study goes."""
        self._ask_where("the new study's file", _free_name("study"), "new")

    @asks
    async def action_walk(self) -> None:
        """Ask who walks, through which desktop, and on which machine; then where the study goes."""
        from fresh_chair.core.plan.chairs import chair_parts
        from fresh_chair.core.plan.people import participant_code

        reviewer = await self._answer("who walks? a code, no name", "R1", lambda said: participant_code(said.strip()))
        if reviewer is None:
            return
        through = await self._answer("through what? distribution | release | desktop", "", chair_parts)
        if through is None:
            return
        machine = await self._answer("on which machine?", "my laptop", str)
        typed = None if machine is None else await self._answer("the walk goes to", _free_name("walk"), typed_address)
        if machine is not None and typed is not None:
            path = typed_address(typed)
            self._make(path, partial(_new_walk, path, reviewer, through, machine), reviewer.strip())

    async def _answer(self, prompt: str, value: str, check: Callable[[str], object]) -> str | None:
        """An answer that a check lets through, asked for again with its words until it does; None where it is left."""
        while (said := await self.query_one(WordLine).question(prompt, value=value)) is not None:
            try:
                check(said)
            except FreshChairError as problem:
                self._tell(problem)
                value = said
            else:
                self.query_one("#notice", Static).update("")
                return said
        return None

    def action_path(self) -> None:
        """Ask which file to open."""
        self._ask_where("which file?", "", "open")

    def action_light(self) -> None:
        """Change between dusk and daylight."""
        self.theme = "daylight" if self.theme == "dusk" else "dusk"

    def _make(self, path: Address, make: Callable[[], object], reviewer: str = "") -> None:
        self.query_one("#notice", Static).update(Content.styled("making it ...", "$lamp"))
        self._make_beside(path, make, reviewer)

    @work(thread=True, exclusive=True, description="make beside")
    def _make_beside(self, path: Address, make: Callable[[], object], reviewer: str) -> None:
        try:
            make()
        except FreshChairError as problem:
            self.post_message(Made(path, problem))
        else:
            self.post_message(Made(path, None, reviewer))

    @on(Made)
    def _made(self, message: Made) -> None:
        if message.problem is None:
            self.exit(Begun(message.path, message.reviewer))
        else:
            self._tell(message.problem)


# What makes studies is loaded by the thread that makes one: no key waits for it.


def _new_study(path: Address, *, demo: bool) -> None:
    from fresh_chair.services.file.new_study import new_demo, new_study

    new_demo(path) if demo else new_study(path)


def _new_walk(path: Address, reviewer: str, through: str, machine: str) -> None:
    from fresh_chair.services.file.new_walk import new_walk

    new_walk(path, reviewer=reviewer, through=through, machine=machine)


def _free_name(stem: str) -> str:
    """The path of a new study here, or the first numbered one beside it that nothing has yet."""
    path = Path(f"{stem}.fresh").absolute()
    number, free = 2, path
    while free.exists():
        free = path.with_stem(f"{path.stem}-{number}")
        number += 1
    return str(free)


def _show_due(start: Start) -> None:
    """Show the things that are due in the studies known here; in a thread."""
    from fresh_chair.services.evidence.later import due_everywhere

    found = due_everywhere(date.today())
    lines = [
        Content.assemble(
            (f"due   {legible(clipped(line.what, 60))}", "$lamp"),
            (f"   {line.due}, {legible(clipped(of.title, 40))}", "$thread"),
        )
        for of, line in found[:_MOST_DUE]
    ]
    if len(found) > _MOST_DUE:
        lines.append(Content.styled(f"      and {len(found) - _MOST_DUE} more: fresh-chair later", "$thread"))
    if lines:
        # Not waited for: the program may be leaving.
        start.call_later(start.query_one("#due", Static).update, Content("\n").join(lines))
