"""Raters: who has rated, and from the settling view on every rating side by side, settled with a reason."""

from collections.abc import Sequence
from typing import ClassVar

from textual import on
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.findings.page import judged_words
from fresh_chair.services.findings.ratings import RatedFinding, Ratings, open_settling, ratings_of, settle
from fresh_chair.tui.base.sheet import ListSheet
from fresh_chair.tui.sort.judging import severity_choices
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import SEVERITY_COLOUR


class RatersSheet(ListSheet):
    """One line a finding, one column a rater, the most disputed first."""

    place = "sort"
    sheet_name = "raters"
    title_words = "raters"
    about = (
        "Each rater opens the study with --rater NAME, or fills in a form (finding form, finding rate), and sees no "
        "other's severity. Once the settling view is open all are side by side; ratings given unseen stay as given."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding(
            "enter", "settle", "settle", id="raters.settle", tooltip="Settle the ratings into one, with the reason"
        ),
        Binding("o", "open", "settling view", id="raters.open", tooltip="Let all ratings be seen from here on"),
        Binding("p", "page", "page", id="raters.page", tooltip="Everything about this finding"),
    ]

    def action_back(self) -> None:
        """Go back to the lists."""
        self.action_go("sort")

    @property
    def _ratings(self) -> Ratings:
        hand = self.session.sort
        return ratings_of(self.session.opened, rater=hand.rater if hand is not None else "")

    @property
    def _here(self) -> RatedFinding | None:
        at, rows = self.at, self._ratings.findings
        return rows[at] if at is not None and at < len(rows) else None

    def draw(self) -> None:
        """Show the ratings that can be seen."""
        ratings = self._ratings
        self.refill([self._row(row, ratings) for row in ratings.findings], [r.finding.id for r in ratings.findings])
        self.head("raters", _alpha_words(ratings))
        said = "" if ratings.findings else "No finding yet."
        if ratings.findings and not ratings.seen:
            names = ", ".join(legible(name) for name in ratings.raters) or "nobody yet"
            said = f"Rated by {names}; the severities are seen once the settling view is open."
        elif ratings.seen:
            said = f"columns: {', '.join(legible(name) for name in ratings.raters)}; then the spread, then as settled"
        self.query_one("#note", Static).update(Content.styled(said, "$thread"))
        self._draw_beside()
        self.follow()
        self.refresh_bindings()

    def _row(self, row: RatedFinding, ratings: Ratings) -> Content:
        given = {each.rater: each for each in row.ratings}
        parts: list[tuple[str, str]] = [(f"F{row.finding.number:<4}", "$thread")]
        for name in ratings.raters if ratings.seen else ():
            each = given.get(name)
            sign = self.signs.none if each is None else f"{self.signs.severities[each.severity]}{each.severity}"
            parts.append((f"{sign:<4}", "$thread" if each is None else SEVERITY_COLOUR[each.severity]))
        if ratings.seen:
            parts.append(
                (f"{'' if row.spread is None else row.spread:<4}", "$clay" if (row.spread or 0) > 1 else "$thread")
            )
            parts.append((f"{'' if row.settled is None else row.settled.severity:<4}", "$moss"))
        used = sum(len(words) for words, _ in parts)
        parts.append((clipped(legible(row.finding.title), max(self.pile.size.width - used - 2, 12)), "$chalk"))
        return Content.assemble(*parts)

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_beside(self) -> None:
        row = self._here
        parts: list[Content] = []
        if row is not None:
            parts = [Content.styled(f"F{row.finding.number} {legible(row.finding.title)}", "bold $chalk")]
            for each in row.ratings:
                late = "" if each.blind else " (having seen the others)"
                parts.append(Content.styled(f"{legible(each.rater)}: {each.severity}{late}", "$lamp"))
                parts.append(Content.styled(f"  {legible(each.reason)}", "$chalk"))
            if row.settled is not None:
                parts.append(Content.styled(f"settled: {judged_words(row.settled)}", "$moss"))
                parts.append(Content.styled(f"  {legible(row.settled.reason)}", "$chalk"))
        self.query_one("#beside", Static).update(Content("\n").join(parts))

    @asks
    async def action_open(self) -> None:
        """Open the settling view; that is said before."""
        if await self.ask_sure(
            "from here on all ratings can be seen by all", "open the settling view"
        ) and self.attempt(lambda: open_settling(self.session.opened)):
            self.draw()

    @asks
    async def action_settle(self) -> None:
        """Settle the ratings of the finding in hand."""
        row = self._here
        if row is None:
            return
        said = ", ".join(str(each.severity) for each in row.ratings)
        key = await self.ask_choice(f"settled at (rated {said or 'by nobody'})", severity_choices(self.signs))
        if key is None:
            return

        def settled(why: str) -> bool:
            done = self.attempt(lambda: settle(self.session.opened, row.finding.id, int(key), why))
            if done:
                self.draw()
            return done

        await self.ask_until(f"settled at {key}, because", settled)

    def action_page(self) -> None:
        """Open the page of the finding in hand."""
        row = self._here
        if row is not None:
            self.open_sheet("finding", row.finding.id)

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Settling needs the settling view; a rater opens none."""
        if self.is_mounted:
            seen = self.session.opened.findings.settling
            rates = self.session.sort is not None and bool(self.session.sort.rater)
            if (action == "settle" and (not seen or rates or self._here is None)) or (
                action == "open" and (seen or rates)
            ):
                return False
        return super().check_action(action, parameters)

    @on(OptionList.OptionSelected)
    def _entered(self) -> None:
        if not self.asking and self.check_action("settle", ()):
            self.action_settle()


def _alpha_words(ratings: Ratings) -> str:
    """How far the raters agree, in words."""
    if not ratings.seen:
        return count_of(len(ratings.raters), "rater")
    alpha: Sequence[str] = (
        f"Krippendorff's alpha {ratings.alpha.value:.2f}"
        if ratings.alpha.value is not None
        else f"no alpha: {ratings.alpha.why}",
        count_of(ratings.alpha.units, "finding") + " rated by two or more",
    )
    return ", ".join(alpha)
