"""Set: one chair at a time, who it says it is."""

from typing import ClassVar

from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import VerticalScroll
from textual.content import Content
from textual.widgets import Static

from fresh_chair.core.chairs import Chair
from fresh_chair.core.sitting import Phase
from fresh_chair.core.text import legible
from fresh_chair.tui.place import Place
from fresh_chair.tui.session import Session
from fresh_chair.tui.signs import chair_colour


class Set(Place):
    """A chair's sheet, as the plan holds it."""

    place = "set"
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left,k", "chair(-1)", "chair before", id="set.before", key_display="←", tooltip="The chair before"),
        Binding("right,j", "chair(1)", "next chair", id="set.after", key_display="→", tooltip="The chair after"),
        Binding("1", "go('plan')", "the board", id="set.plan", tooltip="Go to Plan"),
        Binding("question_mark", "help", "help", id="set.help", tooltip="What works in this place"),
    ]

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._place = 0

    def middle(self) -> ComposeResult:
        """The sheet, and the fixtures the cards ask for."""
        with VerticalScroll(classes="main", can_focus=False):
            yield Static(id="sheet", markup=False)
        yield Static(classes="aside", id="bench", markup=False)

    def arrived(self) -> None:
        """Show the first chair."""
        self._draw()

    def _draw(self) -> None:
        study = self.session.desk.study
        sheet = self.query_one("#sheet", Static)
        if not study.chairs:
            sheet.update("No chair is planned yet. Plan (1) says how to begin.")
            return
        sheet.update(self._sheet(study.chairs[self._place]))
        fixtures: dict[str, list[str]] = {}
        for card in study.cards:
            for fixture in card.fixtures:
                fixtures.setdefault(fixture, []).append(card.title)
        parts = [Content.styled("on the bench, for every chair", "$thread"), Content("")]
        for fixture, cards in fixtures.items():
            parts.append(Content.styled(legible(fixture), "$chalk"))
            parts.append(Content.styled("  for " + legible(", ".join(cards)), "$thread"))
        self.query_one("#bench", Static).update(Content("\n").join(parts))

    def _sheet(self, chair: Chair) -> Content:
        desk = self.session.desk
        machine = desk.study.machine_of(chair)
        seats = [seat for seat in desk.study.seats if seat.chair == chair.letter]
        run = sum(desk.phase(seat.number) is Phase.ENDED for seat in seats)
        rows = [
            ("edition", chair.edition),
            ("stage", chair.stage),
            ("desktop", chair.desktop),
            ("machine", machine.name + (", virtual" if machine.virtual else "")),
            ("installed", chair.installed),
            *(("known fault", fault.what) for fault in machine.faults),
            *(("altered", alteration) for alteration in chair.alterations),
            ("sittings", f"{run} run of {len(seats)} planned"),
        ]
        parts = [
            Content.assemble(
                (f"{chair.letter}  {legible(chair.title)}", f"bold {chair_colour(chair)}"),
                (f"   chair {self._place + 1} of {len(desk.study.chairs)}", "$thread"),
            ),
            Content(""),
            Content.styled("who it says it is, as planned", "$thread"),
            Content(""),
        ]
        for name, value in rows:
            if value:
                colour = "$clay" if name in ("known fault", "altered") else "$chalk"
                parts.append(Content.assemble((f"{name:<14}", "$thread"), (legible(value), colour)))
        return Content("\n").join(parts)

    def action_chair(self, step: int) -> None:
        """Show the next chair, or the one before."""
        chairs = self.session.desk.study.chairs
        if chairs:
            self._place = (self._place + step) % len(chairs)
            self._draw()
