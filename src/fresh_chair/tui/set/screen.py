"""Set: one chair at a time, as a sheet with three bands; reading it runs beside the screen."""

from typing import ClassVar

from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Vertical, VerticalScroll
from textual.widgets import Static

from fresh_chair.services.chair.enquiries import FRESH
from fresh_chair.services.chair.sheet import ChairView, chair_sheet
from fresh_chair.tui.set.chair_reading import ReadingChair
from fresh_chair.tui.set.widgets import chair_bands

_LOOK_SECONDS = 0.15
# Key, name of the sheet, kind of record, words.
SHEETS = (
    ("e", "facts", "", "every fact"),
    ("c", "claims", "claim", "claims"),
    ("g", "readings", "reading", "readings"),
    ("i", "install", "install", "installation"),
    ("p", "pages", "page", "first-boot pages"),
    ("d", "consents", "consent", "defaults and consent"),
    ("w", "warnings", "warning", "warnings met"),
    ("o", "looks", "look", "looks"),
    ("v", "checks", "", "checks of the cards"),
    ("k", "drift", "", "drift, key by key"),
)


class Set(ReadingChair):
    """A chair's sheet."""

    place = "set"
    CSS_PATH = "screen.tcss"
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left", "chair(-1)", "before", id="set.before", key_display="←", tooltip="The chair before"),
        Binding("right", "chair(1)", "after", id="set.after", key_display="→", tooltip="The chair after"),
        Binding("f", "ask('fresh')", "prove it fresh", id="set.fresh", tooltip="Hold it against its baseline, now"),
        Binding("r", "read", "read it", id="set.read", tooltip="Identity, defaults, claims with a check, readings"),
        Binding("b", "baseline", "baseline", id="set.baseline", tooltip="What it looks like when it is fresh"),
        Binding("s", "stop", "stop", id="set.stop", tooltip="Stop reading; what was read stays"),
        Binding("h", "reach", "how to reach it", id="set.reach", tooltip="This machine, SSH, or a courier"),
        Binding("y", "courier", "courier", id="set.courier", tooltip="Send a script, or read what one brought"),
        *(
            Binding(key, f"sheet('{sheet_name}')", words, id=f"set.{sheet_name}", show=False, tooltip=f"Open: {words}")
            for key, sheet_name, _, words in SHEETS
        ),
        Binding("up", "scroll_sheet(-4)", "up", id="set.up", show=False, tooltip="Scroll the sheet up"),
        Binding("down", "scroll_sheet(4)", "down", id="set.down", show=False, tooltip="Scroll the sheet down"),
        Binding("1", "go('plan')", "the board", id="set.plan", tooltip="Go to Plan"),
    ]

    def middle(self) -> ComposeResult:
        """The sheet, and its details."""
        with Vertical(classes="main"):
            yield Static(id="chair-head", markup=False)
            with VerticalScroll(id="sheet", can_focus=False):
                yield Static(classes="band", id="identity", markup=False)
                yield Static(classes="band", id="promised", markup=False)
                yield Static(classes="band", id="fresh", markup=False)
            yield Static(id="reading", markup=False)
        with VerticalScroll(classes="aside", can_focus=False):
            yield Static(id="beside", markup=False)

    def arrived(self) -> None:
        """Show the chair in hand, and follow a reading that is under way."""
        self.every(_LOOK_SECONDS, self.follow_reader)
        super().arrived()
        if self.session.to_prove:
            self.session.to_prove = False
            self.call_after_refresh(self.action_ask, FRESH)

    def draw(self) -> None:
        """Show everything as it is now."""
        opened, letter = self.session.opened, self.letter
        reading = self.query_one("#reading", Static)
        reading.display = False
        if not letter:
            self.query_one("#chair-head", Static).update("No chair is planned yet. Plan (1) says how to begin.")
            return
        sheet = chair_sheet(opened, letter, opened.clock.now())
        width = max(self.query_one("#sheet").scrollable_content_region.width - 1, 30)
        letters = list(opened.study.chair_by_letter)
        head = chair_bands.head(sheet, self.signs, width, place=letters.index(letter) + 1, of=len(letters))
        self.query_one("#chair-head", Static).update(head)
        self.query_one("#identity", Static).update(chair_bands.identity(sheet, width, self.signs))
        self.query_one("#promised", Static).update(chair_bands.promised(sheet, width, self.signs))
        self.query_one("#fresh", Static).update(chair_bands.freshness(sheet, width, self.signs))
        beside = self.query_one("#beside", Static)
        beside.update(chair_bands.beside(sheet, self._sheets(sheet), max(beside.size.width, 30), self.signs))
        self.follow()
        self.draw_reading()
        self.refresh_bindings()

    def _sheets(self, sheet: ChairView) -> list[tuple[str, str, str]]:
        found = []
        for key, sheet_name, kind, words in SHEETS:
            count = len(sheet.ledger.held(kind)) if kind else 0
            state = str(count) if count else ""
            if sheet_name == "consents":
                state = f"{sheet.consents_open} not looked at" if sheet.consents_open else "all looked at"
            if sheet_name == "drift" and sheet.ledger.noise:
                state = f"{len(sheet.ledger.noise)} left out"
            found.append((key, words, state))
        return found

    def action_sheet(self, sheet_name: str) -> None:
        """Open a sheet of this chair."""
        if self.letter:
            self.session.cell = (self.session.cell[0], self.letter)
            self.open_sheet(sheet_name)

    def show_freshness(self) -> None:
        """Bring the new comparison into sight."""
        self.query_one("#fresh").scroll_visible(animate=False, top=True)

    def action_scroll_sheet(self, lines: int) -> None:
        """Scroll the sheet."""
        self.query_one("#sheet", VerticalScroll).scroll_relative(y=lines, animate=False)

    def action_chair(self, step: int) -> None:
        """Show the next chair, or the one before."""
        letters = list(self.session.opened.study.chair_by_letter)
        if letters:
            letter = letters[(letters.index(self.letter) + step) % len(letters)]
            self.session.cell = (self.session.cell[0], letter)
            self.clear_notice()
            self.draw()

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Stopping works while something is read."""
        if action == "stop":
            reader = self.session.reader
            return reader is not None and reader.running
        return super().check_action(action, parameters)
