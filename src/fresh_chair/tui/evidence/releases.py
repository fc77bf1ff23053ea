"""Releases: one succession drawn as life lines, things down, releases across, oldest first."""

from typing import ClassVar

from textual import on
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Vertical, VerticalScroll
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.evidence.succession import LifeCell, LifeLine, Sign
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.evidence.succession import Release, Succession, successions_of
from fresh_chair.services.evidence.targets import target_words, targets
from fresh_chair.tui.base.linking import link_lines, tie
from fresh_chair.tui.base.sheet import ListSheet
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import chair_colour

_NARROWEST = 18
_TO_COME = 20
_COLOURS: dict[Sign, str] = {
    "": "$chalk",
    "came": "$moss",
    "went": "$clay",
    "changed": "$lamp",
    "better": "$moss",
    "worse": "$clay",
    "as it was": "$thread",
}


class Releases(ListSheet):
    """One line a thing, one column a release."""

    place = "plan"
    sheet_name = "releases"
    title_words = "releases"
    about = (
        "Chairs and references that are tied as one the earlier release of another, oldest at the left. Each line is "
        "a thing that came, went, changed, was better or worse: from changes, comparisons and the inventory. A line "
        "goes on as long as the thing is there; dots are where that is not known."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left", "release(-1)", "before", id="releases.before", key_display="←", tooltip="The release before"),
        Binding("right", "release(1)", "after", id="releases.after", key_display="→", tooltip="The release after"),
        Binding("s", "succession", "another", id="releases.succession", tooltip="Another succession of this study"),
        Binding(
            "ampersand", "tie", "tie", id="releases.tie", key_display="&", tooltip="Tie its first record to a thing"
        ),
    ]
    _which = 0
    _column = 0

    def middle(self) -> ComposeResult:
        """The lines as wide as the screen, and below them all that is known of the one in hand."""
        with Vertical(classes="main"):
            yield Static(id="head", markup=False)
            yield OptionList(id="list", markup=False)
            yield Static(id="note", markup=False)
            with VerticalScroll(id="below", can_focus=False):
                yield Static(id="beside", markup=False)

    def action_back(self) -> None:
        """Go back to the records."""
        self.open_sheet("evidence")

    def _all(self) -> list[Succession]:
        return successions_of(self.session.opened)

    @property
    def _shown(self) -> Succession | None:
        found = self._all()
        return found[self._which % len(found)] if found else None

    @property
    def _what(self) -> int:
        """Columns for the thing's name."""
        return 32 if self.pile.size.width >= 100 else 22

    @property
    def _line(self) -> LifeLine | None:
        shown, at = self._shown, self.at
        return shown.lines[at] if shown is not None and at is not None and at < len(shown.lines) else None

    def draw(self) -> None:
        """Show the succession in hand."""
        shown, count = self._shown, len(self._all())
        note = self.query_one("#note", Static)
        if shown is None:
            self.head("releases", "")
            self.refill([])
            note.update(Content.styled(_EMPTY, "$thread"))
            self.query_one("#beside", Static).update("")
            self.refresh_bindings()
            return
        roomy = self.pile.size.width >= 80
        coming = _TO_COME if roomy and any(line.to_come for line in shown.lines) else 0
        columns = self._columns(shown, coming)
        width = max((self.pile.size.width - self._what - coming - 2) // len(columns), _NARROWEST)
        self.refill([self._row(line, columns, width, coming) for line in shown.lines], [e.what for e in shown.lines])
        self.query_one("#head", Static).update(self._heads(shown, columns, width, coming))
        hidden = len(shown.releases) - len(columns)
        said = f"{count_of(len(shown.lines), 'thing')} along {count_of(len(shown.releases), 'release')}"
        said += f"; {hidden} more, by the arrows" if hidden else ""
        said += f"; succession {self._which % count + 1} of {count}, s shows another" if count > 1 else ""
        note.update(Content.styled(said if shown.lines else f"{said}. {_NOTHING}", "$thread"))
        self._draw_beside()
        self.refresh_bindings()

    def _columns(self, shown: Succession, coming: int) -> list[int]:
        """The releases there is room for, the one in hand among them."""
        count = len(shown.releases)
        fits = max(min((self.pile.size.width - self._what - coming - 2) // _NARROWEST, count), 1)
        here = min(self._column, count - 1)
        first = min(max(here - fits + 1, 0), max(count - fits, 0))
        return list(range(first, first + fits))

    def _heads(self, shown: Succession, columns: list[int], width: int, coming: int) -> Content:
        parts: list[tuple[str, str]] = [("releases".ljust(self._what), "bold $lamp")]
        for index in columns:
            release = shown.releases[index]
            mark = self.signs.here if index == min(self._column, len(shown.releases) - 1) else " "
            title = clipped(legible(_title(release)), width - 2).ljust(width - 1)
            parts.append((f"{mark}{title}", f"bold {self._colour(release)}"))
        if coming:
            parts.append((" still to come", "bold $thread"))
        return Content.assemble(*parts)

    def _colour(self, release: Release) -> str:
        chair = self.session.opened.study.chair_by_letter.get(release.letter)
        return "$chalk" if chair is None else chair_colour(chair)

    def _row(self, line: LifeLine, columns: list[int], width: int, coming: int) -> Content:
        parts: list[tuple[str, str]] = [(clipped(legible(line.what), self._what - 1).ljust(self._what), "$chalk")]
        for index in columns:
            parts += self._cell(line.cells[index], width)
        if coming:
            parts.append((clipped(f" {legible(line.to_come)}", _TO_COME), "$lamp"))
        return Content.assemble(*parts)

    def _cell(self, cell: LifeCell, width: int) -> list[tuple[str, str]]:
        fill = {True: self.signs.line, False: " ", None: self.signs.dot}[cell.there]
        sign = {
            "came": self.signs.states["ready"],
            "went": self.signs.closings["nothing_for_it"],
            "changed": self.signs.point,
            "better": self.signs.expert,
            "worse": self.signs.worse,
            "as it was": self.signs.closings["looked_at"],
        }.get(cell.sign, "")
        words = clipped(legible(cell.words), width - 5)
        said = " ".join(part for part in (sign, words) if part)
        rest = width - len(said) - (2 if said else 0)
        drawn = [(f" {said} ", _COLOURS[cell.sign])] if said else []
        return [*drawn, (fill * max(rest, 0), "$thread" if cell.there is None else "$tide")]

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_beside(self) -> None:
        line, shown = self._line, self._shown
        if line is None or shown is None:
            self.query_one("#beside", Static).update("")
            return
        parts = [Content.styled(legible(line.what), "bold $chalk")]
        for release, cell in zip(shown.releases, line.cells, strict=True):
            stands = {True: "there", False: "not there", None: "not known"}[cell.there]
            title = (f"  {legible(_title(release))}  ", self._colour(release))
            parts.append(Content.assemble(title, (legible(cell.words) or stands, _COLOURS[cell.sign])))
        if line.to_come:
            parts.append(Content.assemble(("  still to come  ", "$thread"), (legible(line.to_come), "$lamp")))
        known = targets(self.session.opened)
        for record in line.records:
            parts.append(
                Content.styled(f"  from {legible(target_words(self.session.opened, record, known))}", "$thread")
            )
            parts += link_lines(self, record)
        self.query_one("#beside", Static).update(Content("\n").join(parts))

    def action_release(self, step: int) -> None:
        """Take a neighbouring release in hand."""
        shown = self._shown
        if shown is not None:
            self._column = min(max(min(self._column, len(shown.releases) - 1) + step, 0), len(shown.releases) - 1)
            self.draw()

    def action_succession(self) -> None:
        """Show another succession."""
        self._which, self._column = (self._which + 1) % max(len(self._all()), 1), 0
        self.draw()

    @asks
    async def action_tie(self) -> None:
        """Tie the first record of the line in hand to another thing."""
        line = self._line
        if line is not None and await tie(self, line.records[0]):
            self._draw_beside()

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Keys about a thing need one; another succession needs two."""
        if self.is_mounted and action == "tie" and self._line is None:
            return False
        if self.is_mounted and action == "succession" and len(self._all()) < 2:
            return False
        return super().check_action(action, parameters)


_EMPTY = (
    "Nothing is tied into a succession yet. A reference says which chair it is the earlier release of (e, a); two "
    "chairs are tied by & with “earlier release of”."
)
_NOTHING = "Changes, comparisons with an earlier release, and the inventory fill it."


def _title(release: Release) -> str:
    return f"{release.letter} {release.title}".strip()
