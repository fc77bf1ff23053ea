"""The bench: every fixture the cards ask for, ready or missing, and the time of the last look."""

from typing import ClassVar

from textual import on
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.clock import SECOND
from fresh_chair.core.plan.fixtures import Fixture, Presence, bench_of
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.plan.preparation import look_at_all, look_at_fixture
from fresh_chair.services.system.clock import day_and_time
from fresh_chair.tui.base.sheet import ListSheet
from fresh_chair.tui.widgets.dialogue import asks


class Bench(ListSheet):
    """One list for the bench."""

    sheet_name = "bench"
    title_words = "the bench"
    about = "What the cards need around the chair. A missing fixture voids an attempt; it never fails the chair."
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("r", "look('ready')", "it is there", id="bench.ready", tooltip="Seen: it is on the bench"),
        Binding("m", "look('missing')", "missing", id="bench.missing", tooltip="It is not there, or does not work"),
        Binding("a", "all", "all there", id="bench.all", tooltip="Seen: everything is on the bench"),
        Binding("enter", "turn", "turn", id="bench.turn", show=False, tooltip="There, or missing"),
    ]

    def draw(self) -> None:
        """Show the list."""
        fixtures = self._fixtures()
        self.refill([self._line(each) for each in fixtures], [each.name.casefold() for each in fixtures])
        ready = sum(each.ready for each in fixtures)
        self.head("On the bench", f"{ready} of {len(fixtures)} there" if fixtures else "No card asks for anything.")
        self._draw_cards()
        self.refresh_bindings()

    def _fixtures(self) -> list[Fixture]:
        return bench_of(self.session.opened.study, self.session.opened.fixture_checks)

    def _line(self, fixture: Fixture) -> Content:
        states = self.signs.states
        if fixture.check is None:
            sign, colour, said = states["open"], "$lamp", "nobody has looked"
        else:
            when = day_and_time(fixture.check.wall_ns / SECOND)
            sign, colour = (states["ready"], "$moss") if fixture.ready else (states["wrong"], "$clay")
            note = f": {legible(fixture.check.note)}" if fixture.check.note else ""
            said = f"{'there' if fixture.ready else 'missing'}{note}, looked {when}"
        width = max(min(self.pile.size.width // 2, 50), 24)
        return Content.assemble(
            (f"{sign} ", colour), (clipped(legible(fixture.name), width - 1).ljust(width), "$chalk"), (said, colour)
        )

    @property
    def _here(self) -> Fixture | None:
        at, fixtures = self.at, self._fixtures()
        return fixtures[at] if at is not None and at < len(fixtures) else None

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_cards(self) -> None:
        fixture = self._here
        if fixture is None:
            self.query_one("#beside", Static).update("")
            return
        parts = [Content.styled(legible(fixture.name), "bold $chalk"), Content.styled("asked for by", "$thread")]
        parts += [Content(legible(title)) for title in fixture.cards]
        earlier = [c for c in self.session.opened.fixture_checks if c.name.casefold() == fixture.name.casefold()]
        if earlier:
            parts += [Content(""), Content.styled("looked at", "$thread")]
            parts += [
                Content(f"{day_and_time(check.wall_ns / SECOND)}  {check.presence}  {legible(check.note)}")
                for check in reversed(earlier)
            ]
        self.query_one("#beside", Static).update(Content("\n").join(parts))

    @asks
    async def action_look(self, presence: Presence) -> None:
        """Put down whether the fixture in hand is there."""
        fixture, opened = self._here, self.session.opened
        if fixture is None:
            return
        name = fixture.name

        def put(note: str) -> bool:
            done = self.attempt(lambda: look_at_fixture(opened, name, presence, note))
            if done:
                self.draw()
                self.pile.action_cursor_down()
            return done

        if presence == "ready":
            put("")
        else:
            await self.ask_until("what is wrong with it? (may stay empty)", put)

    @on(OptionList.OptionSelected, "#list")
    def action_turn(self) -> None:
        """There where it was not, missing where it was."""
        fixture = self._here
        if fixture is not None and not self.asking:
            self.action_look("missing" if fixture.ready else "ready")

    @asks
    async def action_all(self) -> None:
        """Everything is there."""
        sure = await self.ask_sure("have you seen every one of them?", "yes, all are there")
        if sure and self.attempt(lambda: look_at_all(self.session.opened)):
            self.draw()
