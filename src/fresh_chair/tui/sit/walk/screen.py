"""Walk: a reviewer alone at a chair. One key opens a step, one closes it; nothing is due, and nothing is lost."""

from pathlib import Path
from typing import ClassVar

from textual.app import ComposeResult
from textual.binding import BindingType
from textual.containers import Vertical, VerticalScroll
from textual.content import Content
from textual.widgets import Static

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.sitting.rules import may_follow
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.sitting.walked import StepLine, line_in_hand
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.timebox import Timebox
from fresh_chair.services.sitting.view import SittingView
from fresh_chair.services.walk.walks import WalkView, walk_view
from fresh_chair.tui.base.parts import Parts
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.sit.live.base import SitBase
from fresh_chair.tui.sit.live.player import Player
from fresh_chair.tui.sit.live.remarks import Remarks
from fresh_chair.tui.sit.walk.contest import ContestKeys
from fresh_chair.tui.sit.walk.contest_panel import contest_panel
from fresh_chair.tui.sit.walk.files import Files
from fresh_chair.tui.sit.walk.keys import KEYS, LOGS
from fresh_chair.tui.sit.walk.lines import Lines
from fresh_chair.tui.sit.walk.motion import Motion
from fresh_chair.tui.sit.walk.opinions import Opinions
from fresh_chair.tui.sit.walk.panel import clock_panel, step_panel, steps_panel
from fresh_chair.tui.sit.walk.recorded import Recorded
from fresh_chair.tui.sit.walk.steps import Steps
from fresh_chair.tui.sit.widgets.journal_view import JournalView


class Walking(SitBase):
    """A walk, live or looked back at; holds the parts whose acts its keys name."""

    place = "sit"
    about = (
        "A walk: you alone at the chair. Steps come in any order, by typing; nothing is due. Words first, their kind "
        "afterwards. How a thing is known (done, seen, read about) stands on every mark."
    )
    CSS_PATH = Path(__file__).with_name("screen.tcss")
    BINDINGS: ClassVar[list[BindingType]] = [*KEYS]

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._viewed: tuple[tuple[Sitting, int], WalkView] | None = None
        self._player = Player(self)
        self._steps = Steps(self, self.walk_view, self._take_up)
        self._parts = Parts(
            {
                "steps": self._steps,
                "lines": Lines(self, self.walk_view),
                "opinions": Opinions(self, self.walk_view),
                "motion": Motion(self),
                "contest": ContestKeys(self, self.walk_view, self._take_up),
                "files": Files(self, self.walk_view),
                "recorded": Recorded(self),
                "remarks": Remarks(self),
                "player": self._player,
            }
        )

    @property
    def heading(self) -> str:
        """A walk, and which part of a series it is."""
        view = self.walk_view()
        if view is not None and view.contest is not None:
            return f"contest, {view.seat.chair} of {', '.join(view.contest.chairs)}"
        return "walk" if view is None or view.part == 1 else f"walk, part {view.part}"

    def middle(self) -> ComposeResult:
        """The step in hand and its clock, the steps under it; the journal at the right."""
        with Vertical(classes="main", id="walk"):
            yield Static(id="step", markup=False)
            yield Static(id="step-clock", markup=False)
            with VerticalScroll(id="steps-scroll", can_focus=False):
                yield Static(id="steps", markup=False)
            yield Static(id="beside-clock", markup=False)
        yield JournalView(id="journal")

    def walk_view(self) -> WalkView | None:
        """The walk in hand, or the one that is looked back at; without the time that runs now."""
        live = self.live
        number = live.seat.number if live is not None else self.session.looking_at
        sitting = self.session.opened.sittings.get(number) if number is not None else None
        if number is None or sitting is None:
            return None
        # Every key asks for it many times, and a walk may have thousands of marks.
        if self._viewed is None or self._viewed[0][0] is not sitting or self._viewed[0][1] != sitting.entries:
            self._viewed = ((sitting, sitting.entries), walk_view(self.session.opened, number))
        return self._viewed[1]

    def _take_up(self, live: LiveSitting) -> None:
        """Take the walk at another chair of a contest in hand."""
        self.session.live, self.session.looking_at = live, live.seat.number
        self._drawn = self._viewed = None
        self.draw()

    def _step_now(self) -> StepLine | None:
        """The step in hand with its clock."""
        live = self.live
        return None if live is None else line_in_hand(live.state, live.state.time_at(self.now()))

    def draw(self) -> None:
        """Show the walk as it stands."""
        view = self.walk_view()
        if view is None:
            return
        room = self.query_one("#walk")
        width = max(room.content_size.width - 2, 30)
        rows = self.query_one("#steps-scroll").size.height
        # A mark changes none of these, and is made more often than a step.
        shown = (view.steps, view.untold, view.phase, view.turns, view.contest, width, rows)
        if shown != self._drawn:
            self._drawn = shown
            self.query_one("#step", Static).update(step_panel(view, width))
            self.query_one("#steps", Static).update(self._steps_panel(view, width, rows))
            self.refresh_bindings()
        self.follow()
        self.tick()
        self._draw_journal()

    def _steps_panel(self, view: WalkView, width: int, rows: int) -> Content:
        """The steps of the walk; those of all chairs where it is one side of a contest."""
        if view.contest is None:
            return steps_panel(view, self.signs, width, rows)
        chairs = self.session.opened.study.chair_by_letter
        return contest_panel(view.contest, chairs, view.seat.chair, self.signs, width, rows)

    def tick(self) -> None:
        """Bring the clock up to now."""
        width = max(self.query_one("#walk").content_size.width - 2, 30)
        clock = clock_panel(self._step_now(), self.signs, width)
        self._player.led()
        said = (clock.plain, " ".join(filter(None, (self._player.beside(), self._promised()))))
        if said != self._strip:
            self._strip = said
            self.query_one("#step-clock", Static).update(clock)
            self.query_one("#beside-clock", Static).update(Content.styled(said[1], "$thread"))

    def _promised(self) -> str:
        """How much of the promised time is gone, and by how much it is over."""
        view, live = self.walk_view(), self.live
        if view is None or live is None or view.promised_seconds is None:
            return ""
        gone, promised = live.state.time_at(self.now()), round(view.promised_seconds * SECOND)
        over = f", over by {clock_text(gone - promised)}" if gone > promised else ""
        return f"{self.signs.dot} {clock_text(gone)} of {clock_text(promised)}{over}"

    def action_do(self, act: str, *arguments: object) -> None:
        """Let a part do an act, named as `part.act`."""
        self._parts.do(act, *arguments)

    def action_journal(self) -> None:
        """Open the journal, to correct it."""
        number = self.live.seat.number if self.live is not None else self.session.looking_at
        if number is not None:
            self.open_sheet("journal", number)

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """A key that means nothing now does nothing, and is not shown."""
        if self.is_mounted and action == "do" and not self._may_do(str(parameters[0]), *parameters[1:]):
            return False
        return super().check_action(action, parameters)

    def _may_do(self, act: str, *arguments: object) -> bool:
        verb, live = act.partition(".")[2], self.live
        if live is None:
            return False
        if verb == "words" and not live.words_waiting():
            return False
        kind = LOGS.get(verb)
        may = kind is None or may_follow(kind, live.state.phase, observed=live.opened.observes)
        return may and self._parts.may(act, *arguments)

    def stage(self, view: SittingView | None) -> Content:
        """Drawn by `draw`."""
        return Content("")

    def stage_key(self) -> object:
        """Drawn by `draw`."""
        return None

    def tellable(self) -> str:
        """Nothing waits to be told more of."""
        return ""

    def strip_words(self, live: LiveSitting) -> tuple[str, Timebox | None, str]:
        """Drawn by `tick`."""
        return "", None, ""

    def follow_chair(self) -> None:
        """The chair is not asked in a walk."""

    def ask_on(self) -> None:
        """A walk waits for nothing."""
