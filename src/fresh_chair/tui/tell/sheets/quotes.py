"""Quotes: which words of people, and which pictures, documents show first or leave out."""

from typing import Any, ClassVar

from textual import on
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.evidence.telling import QuoteChoice
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.evidence.records import drop_evidence, evidence_of_kind, put_evidence
from fresh_chair.services.report.telling.quotes import QuoteLine, quote_lines
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.sheet import ListSheet

_COLOURS = {"shown first": "$moss", "left out": "$clay", "": "$thread"}


class QuotesSheet(ListSheet):
    """One line a mark that documents may show: its words, whose they are, and the choice."""

    place = "tell"
    sheet_name = "quotes"
    title_words = "quotes"
    about = (
        "Documents show people's own words with a finding. What is shown first, and what is left out, is kept in the "
        "study and holds in every document; who did not agree to being quoted is left out anyway."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("f", "choose('shown first')", "shown first", id="quotes.first", tooltip="Show it before others"),
        Binding("o", "choose('left out')", "left out", id="quotes.out", tooltip="Show it in no document"),
        Binding("u", "choose('')", "undecided", id="quotes.neither", tooltip="Let the program choose"),
    ]

    def __init__(self, session: Session, argument: Any = None) -> None:
        super().__init__(session)
        self._found: list[QuoteLine] = []

    def action_back(self) -> None:
        """Go back to the documents."""
        self.action_go("tell")

    def draw(self) -> None:
        """Show all of them."""
        self._found = found = quote_lines(self.session.opened)
        width = max(self.pile.size.width - 2, 40)
        self.refill([_line(each, width) for each in found], [each.target for each in found])
        chosen = sum(bool(each.says) for each in found)
        self.head(self.title_words, f"{count_of(len(found), 'mark')} with words, {chosen} chosen")
        said = "" if found else "Nobody's words were written down yet."
        self.query_one("#note", Static).update(Content.styled(said, "$thread"))
        self._draw_beside()

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_beside(self) -> None:
        each = self._here
        parts = []
        if each is not None:
            parts += [
                Content.styled(f"“{legible(each.words)}”", "$plum"),
                Content(""),
                Content.styled(legible(each.whose), "$chalk"),
                Content.styled(legible(each.findings or "in no finding"), "$thread"),
                Content.styled("agreed to being quoted" if each.agreed else "did not agree to being quoted", "$thread"),
            ]
        self.query_one("#beside", Static).update(Content("\n").join(parts))

    @property
    def _here(self) -> QuoteLine | None:
        at = self.at
        return self._found[at] if at is not None and at < len(self._found) else None

    def action_choose(self, says: str) -> None:
        """Choose it, or leave it to the program again."""
        each, opened = self._here, self.session.opened
        if each is None:
            return
        held = [h.record for h in evidence_of_kind(opened, "choice")]
        before = next((r.id for r in held if isinstance(r, QuoteChoice) and r.of == each.target and not r.reader), "")
        if says:
            given = {"of": each.target, "says": says}
            done = self.attempt(lambda: put_evidence(opened, "choice", given, record_id=before))
        elif before:
            done = self.attempt(lambda: drop_evidence(opened, "choice", before, "left to the program again"))
        else:
            return
        if done:
            self.draw()


def _line(each: QuoteLine, width: int) -> Content:
    said = f"{each.says or 'undecided'}".ljust(13)
    room = max(width - 32, 20)
    return Content.assemble(
        (said, _COLOURS[each.says]),
        (f"{each.kind:<9}", "$thread"),
        (f"{clipped(legible(each.words), room):<{room}} ", "$plum" if each.kind == "quote" else "$chalk"),
        (each.code, "$thread"),
    )
