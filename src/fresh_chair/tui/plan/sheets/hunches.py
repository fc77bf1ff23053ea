"""Hunches: predicted troubles of people, card by card and chair by chair, sealed before the first sitting."""

from collections.abc import Callable
from typing import ClassVar

from textual import events, on
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import ScrollableContainer, Vertical, VerticalScroll
from textual.content import Content
from textual.widget import Widget
from textual.widgets import Static

from fresh_chair.core.clock import SECOND
from fresh_chair.core.evidence.hunches import Hunch, chairs_sat_at, hunches_by_cell
from fresh_chair.core.findings.ledger import SEVERITY_WORDS
from fresh_chair.core.text import count_of, legible
from fresh_chair.services.plan import preparation as preparing
from fresh_chair.services.system.clock import day_and_time
from fresh_chair.tui.base.sheet import SheetScreen
from fresh_chair.tui.plan.widgets.hunch_grid import HunchGrid
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import SEVERITY_COLOUR


class Hunches(SheetScreen):
    """Cards down, chairs across, the worst hunch of each cell in it."""

    sheet_name = "hunches"
    title_words = "hunches"
    about = (
        "What you predict will trip people, and how badly. Sealed hunches cannot change; after the first sitting at a "
        "chair they can only be added to, as late ones."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("enter", "write", "predict", id="hunches.write", tooltip="Write a hunch for this card and chair"),
        Binding("e", "reword", "reword", id="hunches.reword", tooltip="Change the open hunch here, or take it back"),
        Binding("s", "seal", "seal", id="hunches.seal", tooltip="Seal every open hunch, with today's date"),
    ]

    def middle(self) -> ComposeResult:
        """The grid, and the hunches of the cell in hand."""
        study = self.session.opened.study
        with Vertical(classes="main"):
            yield Static(id="head", markup=False)
            if study.cards and study.chairs:
                with ScrollableContainer(can_focus=False, id="grid-scroll"):
                    yield HunchGrid(study, self.signs)
            else:
                yield Static("Hunches need cards and chairs first: t and c on the board.", markup=False)
            yield Static(id="below", markup=False)
        with VerticalScroll(classes="aside", can_focus=False):
            yield Static(id="beside", markup=False)

    def main(self) -> Widget | None:
        """The grid has the keys."""
        found = self.query(HunchGrid)
        return found.first() if found else None

    def arrived(self) -> None:
        """Show the hunches."""
        self._draw()

    @on(events.Resize)
    def _rewrap(self) -> None:
        self.call_after_refresh(self._draw)

    @property
    def _grid(self) -> HunchGrid | None:
        found = self.query(HunchGrid)
        return found.first() if found else None

    def _draw(self) -> None:
        opened = self.session.opened
        unsealed = sum(hunch.sealed_wall_ns is None for hunch in opened.hunches)
        words = f"   {len(opened.hunches)} written, {unsealed} not sealed yet" if opened.hunches else "   none yet"
        head = Content.assemble(
            ("Hunches: what will trip people here, and how badly?", "bold $lamp"), (words, "$thread")
        )
        self.query_one("#head", Static).update(head)
        if self._grid is not None:
            self._grid.show(hunches_by_cell(opened.hunches), chairs_sat_at(opened.study, opened.begun))
            self._draw_cell()
        self.refresh_bindings()

    def _here(self) -> list[Hunch]:
        if self._grid is None:
            return []
        return list(hunches_by_cell(self.session.opened.hunches).get(self._grid.cell, []))

    @on(HunchGrid.HunchChosen)
    def _draw_cell(self) -> None:
        if self._grid is None:
            return
        card, letter = self._grid.cell
        study = self.session.opened.study
        parts = [
            Content.styled(legible(study.card_by_id[card].title), "bold $chalk"),
            Content.styled(f"at {letter} {legible(study.chair_by_letter[letter].title)}", "$thread"),
            Content(""),
        ]
        parts += [self._hunch(hunch) for hunch in self._here()]
        if not self._here():
            parts.append(Content("Nothing is predicted here. Enter does."))
        drawn = Content("\n").join(parts)
        self.query_one("#beside", Static).update(drawn)
        self.query_one("#below", Static).update(drawn if self.has_class("-narrow") else "")
        self.refresh_bindings()

    def _hunch(self, hunch: Hunch) -> Content:
        if hunch.late:
            state, colour = f"added late, {day_and_time(hunch.written_wall_ns / SECOND)}", "$clay"
        elif hunch.sealed_wall_ns is not None:
            state, colour = f"sealed {day_and_time(hunch.sealed_wall_ns / SECOND)}", "$moss"
        else:
            state, colour = "open", "$lamp"
        return Content.assemble(
            (f"{self.signs.severities[hunch.severity]} ", SEVERITY_COLOUR[hunch.severity]),
            (legible(hunch.words), "$chalk"),
            (f"\n  {state}", colour),
        )

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """A key that means nothing now is not shown."""
        if self.is_mounted and action == "reword" and not any(h.sealed_wall_ns is None for h in self._here()):
            return False
        if self.is_mounted and action == "write" and self._grid is None:
            return False
        return super().check_action(action, parameters)

    @on(HunchGrid.HunchOpened)
    @asks
    async def action_write(self) -> None:
        """Ask how badly, then in which words."""
        if self._grid is not None and not self.asking:
            card, letter = self._grid.cell
            await self._ask(
                lambda words, severity: preparing.write_hunch(self.session.opened, card, letter, words, severity)
            )

    @asks
    async def action_reword(self) -> None:
        """Change the last open hunch of this cell."""
        still_open = [hunch for hunch in self._here() if hunch.sealed_wall_ns is None]
        if still_open:
            hunch = still_open[-1]
            await self._ask(
                lambda words, severity: preparing.reword_hunch(self.session.opened, hunch, words, severity), hunch.words
            )

    async def _ask(self, put: Callable[[str, int], object], value: str = "") -> None:
        choices = [
            Choice(str(n), f"{self.signs.severities[n]} {words}", SEVERITY_COLOUR[n])
            for n, words in enumerate(SEVERITY_WORDS)
        ]
        key = await self.ask_choice("how badly?", choices)
        if key is None:
            return
        severity = int(key)

        def worded(words: str) -> bool:
            done = self.attempt(lambda: put(words, severity))
            if done:
                self._draw()
            return done

        await self.ask_until("what will trip people?", worded, value=value)

    @asks
    async def action_seal(self) -> None:
        """Seal every open hunch."""
        opened = self.session.opened
        still_open = sum(hunch.sealed_wall_ns is None for hunch in opened.hunches)
        if not still_open:
            self.tell("There is nothing to seal.")
            return
        sure = await self.ask_sure(
            f"seal {count_of(still_open, 'hunch', 'hunches')}? Nothing sealed can change afterwards:", "yes, seal them"
        )
        if sure and self.attempt(lambda: preparing.seal_hunches(opened, list(opened.study.chair_by_letter))):
            self._draw()
            self.tell("Sealed. They stay as they are; others can be added.")
