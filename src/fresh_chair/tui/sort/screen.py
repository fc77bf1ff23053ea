"""Sort: two piles, loose snags and findings."""

from collections.abc import Callable, Sequence
from typing import ClassVar

from textual import events, on
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Horizontal, Vertical, VerticalScroll
from textual.content import Content
from textual.widget import Widget
from textual.widgets import OptionList, Static
from textual.widgets.option_list import Option

from fresh_chair.core.findings.ledger import SEVERITY_WORDS
from fresh_chair.core.findings.sorted_snags import FindingView, Snag, SortedSnags
from fresh_chair.core.text import count_of, legible
from fresh_chair.services.findings import sorting
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.sort.widgets.sort_lines import carried_line, finding_detail, finding_line, snag_line
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.selection import Selection
from fresh_chair.tui.widgets.signs import SEVERITY_COLOUR


class Sort(Place):
    """Loose snags at the left, findings at the right."""

    place = "sort"
    CSS_PATH = "screen.tcss"
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("space", "take", "take up", id="sort.take", tooltip="Take this snag up, or put it back"),
        Binding("o", "open", "new finding", id="sort.open", tooltip="Make a finding of what is taken up"),
        Binding("enter", "put", "put in here", id="sort.put", tooltip="Put what is taken up into this finding"),
        Binding("v", "severity", "severity", id="sort.severity", tooltip="Say how bad this finding is, and why"),
        Binding("i", "inside", "look inside", id="sort.inside", tooltip="Show the snags of this finding at the left"),
        Binding("x", "part", "take out", id="sort.part", tooltip="Make this snag loose again"),
        Binding("r", "retitle", "rename", id="sort.retitle", tooltip="Give this finding a better name"),
        Binding("e", "words", "words", id="sort.words", tooltip="Write this snag's words, or better ones"),
        Binding("u", "undo", "take back", id="sort.undo", show=False, tooltip="Strike your last change here"),
        Binding("tab", "other", "other pile", id="sort.other", tooltip="Go to the other pile"),
        Binding("left", "pile('loose')", "snags", id="sort.left", show=False, tooltip="Go to the snags"),
        Binding("right", "pile('findings')", "findings", id="sort.right", show=False, tooltip="Go to the findings"),
        Binding("escape", "back", "all loose snags", id="sort.back", show=False, tooltip="Back to the loose snags"),
    ]

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._sorted = SortedSnags((), ())
        self._taken: set[str] = set()
        self._inside: str | None = None
        self._pile = "loose"
        self._selections = {"loose": Selection(), "findings": Selection()}

    def middle(self) -> ComposeResult:
        """Two piles and the details of the finding in hand."""
        with Horizontal(classes="main"):
            with Vertical(id="left"):
                yield Static(id="left-head", markup=False)
                yield OptionList(id="loose", markup=False)
            with Vertical(id="right"):
                yield Static(id="right-head", markup=False)
                yield OptionList(id="findings", markup=False)
                with VerticalScroll(id="detail-scroll", can_focus=False):
                    yield Static(id="detail", markup=False)

    def main(self) -> Widget | None:
        """Whichever pile had the keys last; the snags at first."""
        return self.query_one(f"#{self._pile}", OptionList)

    def arrived(self) -> None:
        """Show both piles, and follow which of their lines is in hand."""
        for name, selection in self._selections.items():
            self.watch(self.query_one(f"#{name}", OptionList), "highlighted", selection.move, init=False)
        self.call_after_refresh(self._draw)

    @on(events.Resize)
    def _rewrap(self) -> None:
        self.call_after_refresh(self._draw)

    def _draw(self) -> None:
        self._sorted = sorting.sorted_snags_of(self.session.opened)
        self._draw_loose()
        self._draw_findings()
        self._draw_detail()
        self.follow()
        self.refresh_bindings()

    def _shown_snags(self) -> tuple[Snag, ...]:
        if self._inside is None:
            return self._sorted.loose
        return next((finding.snags for finding in self._sorted.findings if finding.id == self._inside), ())

    def _draw_loose(self) -> None:
        pile = self.query_one("#loose", OptionList)
        snags = self._shown_snags()
        self._taken &= {snag.id for snag in snags}
        options: list[Option] = []
        card = None
        titles = {each.id: each.title for each in self.session.opened.study.cards}
        for snag in snags:
            if snag.card != card:
                card = snag.card
                head = legible(titles.get(card, "between cards"))
                options.append(Option(Content.styled(head, "$thread"), disabled=True))
            taken_up = snag.id in self._taken
            drawn = snag_line(snag, self.signs, self.session.opened.study, self._width("loose"), taken_up=taken_up)
            options.append(Option(drawn, id=snag.id))
        self._refill(pile, options)
        taken = f", {len(self._taken)} taken up" if self._taken else ""
        head = f"loose snags: {len(snags)}{taken}" if self._inside is None else f"in this finding: {len(snags)}{taken}"
        if not snags and self._inside is None:
            head = "Every snag is in a finding." if self._sorted.findings else "No snags yet. They come from sittings."
        self.query_one("#left-head", Static).update(Content.styled(head, "bold $chalk"))

    def _width(self, pile: str) -> int:
        return self.query_one(f"#{pile}", OptionList).scrollable_content_region.width

    def _refill(self, pile: OptionList, options: Sequence[Option]) -> None:
        """Show these; the one in hand stays in hand, wherever it lies now."""
        at = self._selections[pile.id or ""].fill([None if option.disabled else option.id for option in options])
        pile.clear_options()
        pile.add_options(options)
        pile.highlighted = at

    def _draw_findings(self) -> None:
        pile = self.query_one("#findings", OptionList)
        width, study = self._width("findings"), self.session.opened.study
        options = [Option(finding_line(each, self.signs, width), id=each.id) for each in self._sorted.findings]
        if self._sorted.carried:
            options.append(Option(Content.styled("carried from earlier studies", "$thread"), disabled=True))
            options += [
                Option(carried_line(each, self.signs, study, width), disabled=True) for each in self._sorted.carried
            ]
        self._refill(pile, options)
        unjudged = sum(finding.severity is None for finding in self._sorted.findings)
        head = f"findings: {len(self._sorted.findings)}, with people who met each" + (
            f"; {unjudged} unjudged" if unjudged else ""
        )
        if not self._sorted.findings:
            head = "No findings yet. Take up snags that belong together, then o."
        self.query_one("#right-head", Static).update(Content.styled(head, "bold $chalk"))

    @on(OptionList.OptionHighlighted, "#findings")
    def _draw_detail(self) -> None:
        finding = self._finding_in_hand()
        detail = self.query_one("#detail", Static)
        if finding is None:
            detail.update("")
            return
        detail.update(finding_detail(finding, self.signs, self.session.opened.study))

    def _finding_in_hand(self) -> FindingView | None:
        wanted = self._selections["findings"].id
        return next((finding for finding in self._sorted.findings if finding.id == wanted), None)

    def _snag_in_hand(self) -> Snag | None:
        wanted = self._selections["loose"].id
        return next((snag for snag in self._shown_snags() if snag.id == wanted), None)

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """A key that means nothing now is not shown."""
        if self.is_mounted and action in ("take", "words", "part", "put", "open", "severity", "retitle", "inside"):
            at_snags = self.focused is not None and self.focused.id == "loose"
            allowed = {
                "take": at_snags,
                "words": at_snags,
                "part": at_snags and self._inside is not None,
                "put": bool(self._taken) and not at_snags,
                "open": bool(self._taken) or at_snags,
                "severity": not at_snags,
                "retitle": not at_snags,
                "inside": not at_snags,
            }
            if not allowed[action]:
                return False
        return super().check_action(action, parameters)

    @on(events.DescendantFocus)
    def _focus_moved(self) -> None:
        if isinstance(self.focused, OptionList) and self.focused.id is not None and not self.asking:
            self._pile = self.focused.id
        self.refresh_bindings()

    @on(OptionList.OptionSelected)
    def _entered(self, event: OptionList.OptionSelected) -> None:
        """Enter or a click: it takes up a snag, or puts the taken ones into a finding."""
        if self.asking:
            return
        if event.option_list.id == "findings":
            if self._taken:
                self.action_put()
            else:
                self.action_inside()
        else:
            self.action_take()

    def action_pile(self, which: str) -> None:
        """Give the keys to one of the piles."""
        self.query_one(f"#{which}", OptionList).focus()

    def action_other(self) -> None:
        """Give the keys to the other pile."""
        at_snags = self.focused is not None and self.focused.id == "loose"
        self.action_pile("findings" if at_snags else "loose")

    def action_back(self) -> None:
        """Show all loose snags again, nothing taken up."""
        self._inside = None
        self._taken.clear()
        self._draw()
        self.action_pile("loose")

    def action_take(self) -> None:
        """Take the snag in hand up, or put it back."""
        snag = self._snag_in_hand()
        if snag is None:
            return
        self._taken ^= {snag.id}
        self._draw_loose()
        self.refresh_bindings()

    def _chosen(self) -> list[str]:
        if self._taken:
            return [snag.id for snag in self._shown_snags() if snag.id in self._taken]
        snag = self._snag_in_hand()
        return [] if snag is None else [snag.id]

    @asks
    async def action_open(self) -> None:
        """Make a finding of the snags taken up."""
        chosen = self._chosen()

        def titled(title: str) -> bool:
            done = self.attempt(lambda: sorting.open_finding(self.session.opened, title, chosen))
            if done:
                self._taken.clear()
                self._draw()
                self.tell(f"A new finding with {count_of(len(chosen), 'snag')}.")
            return done

        if chosen:
            await self.ask_until("what have they in common?", titled)

    def action_put(self) -> None:
        """Put the snags taken up into the finding in hand."""
        finding = self._finding_in_hand()
        if finding is None or not self._taken:
            return
        chosen = self._chosen()
        if self.attempt(lambda: sorting.join(self.session.opened, finding.id, chosen)):
            self._taken.clear()
            self._draw()
            self.tell(f"Put into “{legible(finding.title)}”: {len(chosen)}.")

    def action_inside(self) -> None:
        """Show the snags of the finding in hand at the left."""
        finding = self._finding_in_hand()
        if finding is not None:
            self._inside = finding.id
            self._taken.clear()
            self._draw()
            self.action_pile("loose")
            self.tell("The snags of this finding. x takes one out, Esc goes back to the loose ones.")

    def action_part(self) -> None:
        """Make the snag in hand loose again."""
        snag = self._snag_in_hand()
        if snag is not None and self.attempt(lambda: sorting.part(self.session.opened, snag.id)):
            self._draw()

    def action_undo(self) -> None:
        """Take one's own last change back."""
        done: list[str] = []
        if self.attempt(lambda: done.append(sorting.take_back(self.session.opened))):
            self._draw()
            self.tell(f"Taken back: {done[0]}. It stays on record, struck.")

    @asks
    async def action_retitle(self) -> None:
        """Give the finding in hand a better name."""
        finding = self._finding_in_hand()
        if finding is not None:
            name = finding.id
            await self.ask_until(
                "a better name",
                lambda title: self._change(lambda: sorting.retitle(self.session.opened, name, title)),
                value=finding.title,
            )

    def _change(self, act: Callable[[], object]) -> bool:
        done = self.attempt(act)
        if done:
            self._draw()
        return done

    @asks
    async def action_severity(self) -> None:
        """Say how bad the finding in hand is, then why."""
        finding = self._finding_in_hand()
        if finding is None:
            return
        name = finding.id
        choices = [
            Choice(str(severity), f"{self.signs.severities[severity]} {words}", SEVERITY_COLOUR[severity])
            for severity, words in enumerate(SEVERITY_WORDS)
        ]
        typed = f" (typed at once: {', '.join(map(str, finding.typed))})" if finding.typed else ""
        key = await self.ask_choice(f"how bad is it?{typed}", choices)
        if key is not None:
            severity = int(key)
            await self.ask_until(
                f"severity {key}, because",
                lambda why: self._change(lambda: sorting.judge_severity(self.session.opened, name, severity, why)),
                value=finding.reason,
            )

    @asks
    async def action_words(self) -> None:
        """Write the words of the snag in hand."""
        snag = self._snag_in_hand()
        if snag is not None:
            await self.ask_until(
                f"snag of {legible(snag.participant)} at {snag.at}",
                lambda words: self._change(lambda: sorting.word_snag(self.session.opened, snag, words)),
                value=snag.words,
            )
