"""Drift, key by key: the differences of the last comparison, and the noise left out of it."""

from collections.abc import Callable
from typing import ClassVar

from textual import on
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.text import clipped, legible
from fresh_chair.services.chair.freshness import count_again, leave_out
from fresh_chair.services.chair.sheet import last_differences
from fresh_chair.tui.set.sheets.records import SetSheet
from fresh_chair.tui.widgets.dialogue import asks


class DriftSheet(SetSheet):
    """The differences first, then the noise."""

    sheet_name = "drift"
    title_words = "drift, key by key"
    about = (
        "What differed when the chair was last held against its baseline, by its name. What moves by itself is left "
        "out, by name and with why; x takes that back."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left", "chair(-1)", "before", id="drift.before", key_display="←", tooltip="The chair before"),
        Binding("right", "chair(1)", "after", id="drift.after", key_display="→", tooltip="The chair after"),
        Binding("n", "leave_out", "moves by itself", id="drift.leave_out", tooltip="Leave it out, with why"),
        Binding("x", "take_back", "count it again", id="drift.take_back", tooltip="It is left out no more"),
    ]

    def _names(self) -> list[tuple[str, bool]]:
        """Names, and whether each is left out."""
        ledger = self.session.opened.known_chairs.of(self.letter)
        differing = [
            each.name for each in last_differences(self.session.opened, self.letter) if each.name not in ledger.noise
        ]
        return [*((name, False) for name in differing), *((name, True) for name in ledger.noise)]

    def draw(self) -> None:
        """Show the list."""
        names = self._names()
        width = max(self.pile.size.width - 22, 20)
        self.refill(
            [
                Content.assemble(
                    (clipped(legible(name), width - 1).ljust(width), "$thread" if out else "$chalk"),
                    ("left out", "$thread") if out else ("differs", "$clay"),
                )
                for name, out in names
            ],
            [name for name, _ in names],
        )
        out = sum(left for _, left in names)
        self.chair_head(self.title_words, f"{len(names) - out} differ, {out} left out")
        words = "" if names else "Nothing differed when it was last compared, and nothing is left out."
        self.query_one("#note", Static).update(Content.styled(words, "$thread"))
        self._draw_beside()
        self.refresh_bindings()

    @property
    def _here(self) -> tuple[str, bool] | None:
        at, names = self.at, self._names()
        return names[at] if at is not None and at < len(names) else None

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_beside(self) -> None:
        here = self._here
        if here is None:
            self.detail(Content(""))
            return
        name, out = here
        parts = [Content(legible(name)), Content("")]
        if out:
            why = self.session.opened.known_chairs.of(self.letter).noise.get(name, "")
            parts += [Content.styled("left out, because", "$thread"), Content(legible(why))]
        else:
            parts += self._was_and_is(name)
        self.detail(Content("\n").join(parts))

    def _was_and_is(self, name: str) -> list[Content]:
        for each in last_differences(self.session.opened, self.letter):
            if each.name == name:
                was, now = (legible(value) if value is not None else "not there" for value in (each.before, each.now))
                return [Content.assemble(("was  ", "$thread"), was), Content.assemble(("is   ", "$thread"), now)]
        return []

    @asks
    async def action_leave_out(self) -> None:
        """The name in hand moves by itself."""
        here = self._here
        if here is None or here[1]:
            return
        name = here[0]

        def reasoned(reason: str) -> bool:
            return self._done(lambda: leave_out(self.session.opened, self.letter, name, reason))

        await self.ask_until("it moves by itself, because:", reasoned)

    def action_take_back(self) -> None:
        """The name in hand counts again."""
        here = self._here
        if here is not None and here[1]:
            self._done(lambda: count_again(self.session.opened, self.letter, here[0]))

    def _done(self, act: Callable[[], None]) -> bool:
        done = self.attempt(act)
        if done:
            self.draw()
        return done
