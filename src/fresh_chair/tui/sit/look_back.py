"""A sitting over time, stepped through entry by entry, and corrected where one stands."""

from pathlib import Path
from typing import ClassVar

from textual import events, on
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Vertical
from textual.content import Content
from textual.widgets import Static

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.text import count_of, legible
from fresh_chair.services.sitting.corrections import EntryLine
from fresh_chair.services.sitting.looking_back import SittingOverTime, TimedEntry, over_time
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.sit.correcting import Corrections, correction_keys
from fresh_chair.tui.sit.widgets.time_drawing import TimeDrawing
from fresh_chair.tui.widgets.signs import chair_colour


class LookBack(Corrections):
    """The drawing.

    Args:
        at: The planned sitting's number, or that and the entry to stand at.
    """

    CSS_PATH = Path(__file__).with_name("look_back.tcss")
    place = "sit"
    sheet_name = "look_back"
    title_words = "the sitting over time"
    about = (
        "Each row is an attempt: its lanes, and above them its marks, an observer's in capitals. The arrows step from "
        "entry to entry, up and down from attempt to attempt."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left", "step(-1)", "earlier", id="lookback.back", key_display="←", tooltip="The entry before"),
        Binding("right", "step(1)", "later", id="lookback.on", key_display="→", tooltip="The next entry"),
        Binding("up", "row(-1)", "attempt before", id="lookback.up", show=False, tooltip="The attempt before"),
        Binding("down", "row(1)", "next attempt", id="lookback.down", show=False, tooltip="The next attempt"),
        Binding("home", "end(0)", "first", id="lookback.first", show=False, tooltip="The first entry"),
        Binding("end", "end(-1)", "last", id="lookback.last", show=False, tooltip="The last entry"),
        Binding("z", "closer", "closer", id="lookback.closer", tooltip="The attempt in hand alone, or the whole again"),
        *correction_keys("lookback"),
    ]

    def __init__(self, session: Session, at: int | tuple[int, str]) -> None:
        number, self._entry_wanted = (at, "") if isinstance(at, int) else at
        super().__init__(session, number)
        self._at = 0
        self._closer = False
        self._sitting: SittingOverTime | None = None

    def middle(self) -> ComposeResult:
        """Head, drawing, and the entry one stands at."""
        with Vertical(classes="main"):
            yield Static(id="head", markup=False)
            yield TimeDrawing(self.signs)
            yield Static(id="entry", markup=False)

    def action_back(self) -> None:
        """Go back to the sitting, or to the finding it was opened from."""
        hand = self.session.sort
        if hand is not None and hand.came_from:
            finding, hand.came_from = hand.came_from, ""
            self.open_sheet("finding", finding)
        else:
            self.action_go("sit")

    def arrived(self) -> None:
        """Draw once the width is known."""
        self.call_after_refresh(self.draw)

    def read_on(self) -> None:
        """Show the entries that others have logged meanwhile."""
        self.follow()
        self.draw()

    @on(events.Resize)
    def _redraw(self) -> None:
        self.call_after_refresh(self._show)

    @property
    def _timed(self) -> TimedEntry | None:
        entries = self._sitting.entries if self._sitting is not None else ()
        return entries[min(self._at, len(entries) - 1)] if entries else None

    @property
    def _here(self) -> EntryLine | None:
        timed = self._timed
        return timed.line if timed is not None else None

    def draw(self) -> None:
        """Read the journal again, and stay at the entry one stood at."""
        stood = self._timed
        self._sitting = over_time(self.session.opened, self._number)
        wanted = self._entry_wanted if stood is None else stood.line.entry.id
        ids = [timed.line.entry.id for timed in self._sitting.entries]
        self._at = ids.index(wanted) if wanted in ids else max(min(self._at, len(ids) - 1), 0)
        self._show()

    def _show(self) -> None:
        sitting = self._sitting
        if sitting is None:
            return
        opened = self.session.opened
        seat = opened.study.seat(self._number)
        chair = opened.study.chair_by_letter[seat.chair]
        self.query_one("#head", Static).update(
            Content.assemble(
                (f"sitting {seat.number}  {legible(seat.participant)} at ", "bold $lamp"),
                (legible(chair.title), f"bold {chair_colour(chair)}"),
                (f"   {clock_text(sitting.end_ns)}, {count_of(len(sitting.entries), 'entry', 'entries')}", "$thread"),
            )
        )
        self.query_one(TimeDrawing).show(sitting, self._timed, self._window(sitting))
        self.query_one("#entry", Static).update(self._entry(sitting))
        self.follow()
        self.refresh_bindings()

    def _window(self, sitting: SittingOverTime) -> tuple[int, int]:
        timed = self._timed
        if self._closer and timed is not None and timed.row is not None:
            row = sitting.rows[timed.row]
            air = max((row.end_ns - row.begin_ns) // 30, SECOND)
            return row.begin_ns - air, row.end_ns + air
        return 0, max(sitting.end_ns, 1)

    def _entry(self, sitting: SittingOverTime) -> Content:
        timed = self._timed
        if timed is None:
            return Content.styled("Nothing is logged yet.", "$thread")
        line = timed.line
        after = ", after the sitting" if timed.at_ns > sitting.end_ns else ""
        parts = [
            Content.assemble(
                (f"{clock_text(timed.at_ns)}{after}  ", "bold $lamp"),
                (legible(line.text), "$thread strike" if line.struck else "$chalk"),
            ),
            Content.styled(
                f"entry {line.entry.number}, by {legible(line.entry.author)}; {self._at + 1} of {len(sitting.entries)}",
                "$thread",
            ),
            *(Content.styled(legible(words), "$thread") for words in line.corrected),
        ]
        return Content("\n").join(parts)

    def action_step(self, by: int) -> None:
        """Stand at another entry."""
        if self._sitting is not None and self._sitting.entries:
            self._at = min(max(self._at + by, 0), len(self._sitting.entries) - 1)
            self._show()

    def action_end(self, place: int) -> None:
        """Stand at the first or the last entry."""
        if self._sitting is not None and self._sitting.entries:
            self._at = range(len(self._sitting.entries))[place]
            self._show()

    def action_row(self, by: int) -> None:
        """Stand at the first entry of another attempt."""
        sitting, timed = self._sitting, self._timed
        if sitting is None or timed is None:
            return
        row = timed.row
        if row is None:
            rows = [each.row for each in sitting.entries[self._at :: by] if each.row is not None]
            wanted = rows[0] if rows else None
        else:
            wanted = row + by
        place = next((n for n, each in enumerate(sitting.entries) if wanted is not None and each.row == wanted), None)
        if place is not None:
            self._at = place
            self._show()

    def action_closer(self) -> None:
        """Look at the attempt in hand alone, or at the whole again."""
        self._closer = not self._closer
        self._show()
