"""The start screen: recent studies, a new one, the demo."""

import asyncio
import signal
from pathlib import Path
from typing import ClassVar

from textual import on, work
from textual.app import App, ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Vertical
from textual.content import Content
from textual.message import Message
from textual.widgets import OptionList, Static
from textual.widgets.option_list import Option

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import legible, legible_lines
from fresh_chair.services.file.new_study import new_demo, new_study
from fresh_chair.services.system.files import typed_path
from fresh_chair.store.recent import RecentStudies
from fresh_chair.tui.base.themes import DAYLIGHT_THEME, DUSK, DUSK_THEME
from fresh_chair.tui.widgets.asking import WordLine


@frozen
class Begun:
    """Which study to open next."""

    path: Path


class Made(Message):
    """A study file was made, or could not be."""

    def __init__(self, path: Path, problem: FreshChairError | None) -> None:
        super().__init__()
        self.path = path
        self.problem = problem


class Start(App[Begun]):
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
        Binding("o", "path", "open a file", id="start.path", tooltip="Open a study by its path"),
        Binding("ctrl+t", "light", "light", id="start.light", show=False, tooltip="Dusk or daylight"),
        Binding("q,ctrl+q", "quit", "leave", id="start.quit", tooltip="Leave"),
    ]

    def __init__(self, recent: RecentStudies, *, problem: FreshChairError | None = None, light: bool = False) -> None:
        super().__init__()
        self._recent = recent.paths()
        self._titles = recent.titles()
        self._problem = problem
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
                            (legible(self._titles.get(path, path.stem)), "$chalk"),
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
                    ("o", "bold $lamp"),
                    " open a file   ",
                    ("q", "bold $lamp"),
                    " leave",
                ),
                id="keys",
                markup=False,
            )
            yield Static(id="notice", markup=False)
            yield WordLine()

    def on_mount(self) -> None:
        """Give the keys to the list."""
        self.query_one(WordLine).display = False
        asyncio.get_running_loop().add_signal_handler(signal.SIGTERM, self.exit, None, 143)
        self._keys_to_list()
        if self._problem is not None:
            self._tell(self._problem)

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
        return not (lines and lines.first().asking and action in ("demo", "new", "path"))

    def _ask(self, prompt: str, value: str, make: str) -> None:
        def named(typed: str) -> bool:
            try:
                path = typed_path(typed)
            except FreshChairError as problem:
                self._tell(problem)
                return False
            if make == "open":
                self.exit(Begun(path))
            else:
                self.query_one("#notice", Static).update(Content.styled("making it ...", "$lamp"))
                self._make(path, make)
            self.call_after_refresh(self._keys_to_list)
            return True

        self.query_one(WordLine).ask(prompt, named, self._keys_to_list, value)

    def action_demo(self) -> None:
        """Ask where the demo goes."""
        self._ask("the demo goes to", str(_free(Path("tern-harbour.fresh"))), "demo")

    def action_new(self) -> None:
        """Ask where the new study goes."""
        self._ask("the new study's file", str(_free(Path("study.fresh"))), "new")

    def action_path(self) -> None:
        """Ask which file to open."""
        self._ask("which file?", "", "open")

    def action_light(self) -> None:
        """Change between dusk and daylight."""
        self.theme = "daylight" if self.theme == "dusk" else "dusk"

    @work(thread=True, exclusive=True)
    def _make(self, path: Path, make: str) -> None:
        try:
            new_demo(path) if make == "demo" else new_study(path)
        except FreshChairError as problem:
            self.post_message(Made(path, problem))
        else:
            self.post_message(Made(path, None))

    @on(Made)
    def _made(self, message: Made) -> None:
        if message.problem is None:
            self.exit(Begun(message.path))
        else:
            self._tell(message.problem)


def _free(path: Path) -> Path:
    """The path, or the first numbered one beside it that nothing has yet."""
    number = 2
    free = path.absolute()
    while free.exists():
        free = path.absolute().with_stem(f"{path.stem}-{number}")
        number += 1
    return free
