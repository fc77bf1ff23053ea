"""Two observers side by side: marks matched by kind and time, outcomes of both, marks of one alone taken or left."""

from typing import ClassVar

from textual import on
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.text import clipped, legible
from fresh_chair.services.findings.observers import (
    ObservedRow,
    ObserversSeen,
    decide,
    observed_sittings,
    observers_of,
    observers_words,
)
from fresh_chair.tui.base.sheet import ListSheet
from fresh_chair.tui.widgets.dialogue import asks


class ObserversSheet(ListSheet):
    """One line a thing that was marked; who saw it, and who did not."""

    place = "sort"
    sheet_name = "observers"
    title_words = "two observers"
    about = (
        "Marks of one kind within five seconds are one. What an observer alone saw can be taken, so that it counts as "
        "the moderator's, or left out; both with a reason. An observer's outcomes are held against the moderator's and "
        "never counted."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left", "sitting(-1)", "before", id="observers.before", key_display="←", tooltip="The sitting before"),
        Binding("right", "sitting(1)", "after", id="observers.after", key_display="→", tooltip="The next sitting"),
        Binding("t", "decide(True)", "take", id="observers.take", tooltip="This mark counts like the moderator's"),
        Binding("l", "decide(False)", "leave", id="observers.leave", tooltip="This mark is left out"),
    ]  # fmt: skip
    _which = 0

    def action_back(self) -> None:
        """Go back to the lists."""
        self.action_go("sort")

    @property
    def _seen(self) -> ObserversSeen | None:
        watched = observed_sittings(self.session.opened)
        return observers_of(self.session.opened, watched[self._which % len(watched)]) if watched else None

    @property
    def _here(self) -> ObservedRow | None:
        seen, at = self._seen, self.at
        return seen.rows[at] if seen is not None and at is not None and at < len(seen.rows) else None

    def draw(self) -> None:
        """Show the sitting in hand."""
        seen = self._seen
        if seen is None:
            self.head("two observers", "")
            self.refill([])
            said = "Nobody watched beside the moderator yet. fresh-chair open STUDY --observer NAME does."
            self.query_one("#note", Static).update(Content.styled(said, "$thread"))
            self.query_one("#beside", Static).update("")
            self.refresh_bindings()
            return
        self.refill(
            [self._row(row, seen) for row in seen.rows], [f"{row.at} {row.kind} {i}" for i, row in enumerate(seen.rows)]
        )
        seat = self.session.opened.study.seat(seen.sitting)
        self.head(
            f"sitting {seat.number}",
            f"{legible(seat.participant)} at {seat.chair}; moderator, {', '.join(map(legible, seen.observers))}",
        )
        self.query_one("#note", Static).update(Content.styled("", "$thread"))
        self._draw_beside()
        self.follow()
        self.refresh_bindings()

    def _row(self, row: ObservedRow, seen: ObserversSeen) -> Content:
        names = ("moderator", *seen.observers)
        ticks = "".join(f" {self.signs.point if name in row.seen_by else self.signs.none}" for name in names)
        decided = f"{row.decided} " if row.decided else ""
        room = max(self.pile.size.width - 30 - len(ticks), 12)
        return Content.assemble(
            (f"{row.at:>6} ", "$thread"),
            (f"{row.kind:<12}", "$chalk"),
            (f"{ticks}  ", "$moss" if len(row.seen_by) > 1 else "$lamp"),
            (decided, "$tide"),
            (clipped(legible(row.words), room), "$chalk"),
        )

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_beside(self) -> None:
        seen, row = self._seen, self._here
        parts: list[Content] = []
        if seen is not None:
            parts = [Content.styled(legible(line), "$lamp") for line in observers_words(seen)]
            titles = {card.id: card.title for card in self.session.opened.study.cards}
            for pair in seen.outcomes:
                colour = "$moss" if pair.moderator == pair.seen else "$clay"
                title = legible(titles.get(pair.card, pair.card))
                said = f"{title}: {pair.moderator}; {legible(pair.observer)}: {pair.seen}"
                parts.append(Content.styled(said, colour))
        if row is not None:
            parts += [
                Content(""),
                Content.styled(f"{row.at} {row.kind}: {', '.join(map(legible, row.seen_by))}", "$chalk"),
            ]
            parts.append(Content.styled(legible(row.words), "$chalk"))
        self.query_one("#beside", Static).update(Content("\n").join(parts))

    def action_sitting(self, step: int) -> None:
        """Show another watched sitting."""
        self._which += step
        self.draw()

    @asks
    async def action_decide(self, taken: bool) -> None:
        """Take or leave the mark in hand, with why."""
        row, seen = self._here, self._seen
        if row is None or seen is None or not row.entry:
            return

        def decided(why: str) -> bool:
            done = self.attempt(lambda: decide(self.session.opened, seen.sitting, row.entry, taken=taken, reason=why))
            if done:
                self.draw()
            return done

        await self.ask_until("taken, because" if taken else "left, because", decided)

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Only a mark of one observer alone, not decided yet, can be taken or left."""
        if self.is_mounted and action == "decide":
            row = self._here
            if row is None or not row.entry or row.decided:
                return False
        return super().check_action(action, parameters)
