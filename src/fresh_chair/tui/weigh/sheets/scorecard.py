"""Scorecards: criteria down, chairs across, sums and ranks with how firm they are; opens down to the evidence."""

from collections.abc import Iterator, Sequence
from contextlib import suppress
from typing import Any, ClassVar

from textual import on, work
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.message import Message
from textual.worker import get_current_worker

from fresh_chair.core.judgement.firmness import Firmness
from fresh_chair.core.judgement.scorecard import Scorecard, ScoreRow, score_words
from fresh_chair.core.text import clipped, legible
from fresh_chair.core.words.scorecards import firmness_sentences, rule_words
from fresh_chair.services.evidence.records import put_evidence
from fresh_chair.services.evidence.targets import target_words, targets
from fresh_chair.services.judgement.firmness import firmness
from fresh_chair.services.judgement.scorecards import scorecards
from fresh_chair.services.system.child import Stopped
from fresh_chair.tui.base.session import QuestionChain, Session
from fresh_chair.tui.weigh.sheets.base import WeighSheet
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import chair_colour

_LABEL, _MOST_EVIDENCE = 30, 6


class RanksDrawn(Message):
    """How firm a scorecard is."""

    def __init__(self, at: int, found: Firmness | None) -> None:
        super().__init__()
        self.at, self.found = at, found


class ScorecardSheet(WeighSheet):
    """One scorecard at a time, for its audience."""

    sheet_name = "scorecard"
    title_words = "scorecard"
    about = (
        "Each criterion is a figure mapped by the rule beside it, or your own score with a reason. What is missing "
        "stays missing, and only criteria on which every chair has a score are summed. Enter opens the evidence."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("right", "card(1)", "next", id="scorecard.next", key_display="→", tooltip="The next scorecard"),
        Binding("left", "card(-1)", "before", id="scorecard.before", key_display="←", tooltip="The one before"),
        Binding("enter", "open", "evidence", id="scorecard.open", tooltip="Down to the marks, or back"),
        Binding("s", "score", "score", id="scorecard.score", tooltip="Your own score of a chair, with why"),
        Binding("c", "criteria", "criteria", id="scorecard.criteria", tooltip="Criteria, weights and scales"),
    ]

    def __init__(self, session: Session, argument: Any = None) -> None:
        super().__init__(session, argument)
        self._at = 0
        self._opened = False
        self._firm: dict[int, Firmness | None] = {}
        self._cards: list[Scorecard] = []

    def arrived(self) -> None:
        """Draw, and work out how firm it is beside the screen."""
        self._read()
        super().arrived()

    def _read(self) -> None:
        self._cards = scorecards(self.session.opened, self.weighing)
        self._firm.clear()
        self._work_out()

    def _work_out(self) -> None:
        cards = self._cards
        if cards and self._at not in self._firm:
            self._draw_ranks(self._at, cards[self._at], apart=self.session.in_hand is not None)

    @work(thread=True, exclusive=True, description="draw ranks")
    def _draw_ranks(self, at: int, card: Scorecard, *, apart: bool) -> None:
        worker = get_current_worker()
        with suppress(Stopped):
            found = firmness(self.weighing, card, apart=apart, stopped=lambda: worker.is_cancelled)
            self.post_message(RanksDrawn(at, found))

    @on(RanksDrawn)
    def _known(self, message: RanksDrawn) -> None:
        self._firm[message.at] = message.found
        self.draw()

    def about_words(self) -> str:
        """Which one it is, and for whom."""
        cards = self._cards
        if not cards:
            return "none yet"
        card = cards[self._at % len(cards)]
        whom = f"for {legible(card.audience)}" if card.audience else "for everyone"
        return f"{legible(card.name)} {whom}, {self._at + 1} of {len(cards)}".strip()

    def lines(self, width: int) -> Sequence[Content]:
        """The table, its sums, and how firm the ranks are."""
        cards = self._cards
        if not cards:
            return [Content.styled("No criterion yet. c puts the first one down.", "$thread")]
        card = cards[self._at % len(cards)]
        chairs = self.weighing.study.chairs
        column = max((width - _LABEL) // max(len(chairs), 1), 9)
        names = [
            (clipped(f"{chair.letter} {legible(chair.title)}", column - 1).ljust(column), f"bold {chair_colour(chair)}")
            for chair in chairs
        ]
        parts: list[Content] = [Content.assemble((" " * _LABEL, ""), *names)]
        for row in card.rows:
            parts += self._row(row, card, column)
        parts += [Content(""), *_sums(card, column)]
        parts += [Content.styled(f"counts twice: {legible(said)}", "$lamp") for said in card.twice]
        return [*parts, Content(""), *self._firmness(card)]

    def _row(self, row: ScoreRow, card: Scorecard, column: int) -> Iterator[Content]:
        criterion = row.criterion
        left_out = criterion.name not in card.summed
        label = clipped(f"{legible(criterion.name)}, weight {criterion.weight:g}", _LABEL - 1).ljust(_LABEL)
        cells = [
            (
                clipped(legible(score_words(criterion, cell.value)), column - 1).ljust(column),
                "$clay" if cell.value is None else "$chalk",
            )
            for cell in row.cells
        ]
        yield Content.assemble((label, "$thread" if left_out else "$chalk"), *cells)
        if left_out:
            yield Content.styled("  not summed: a score is missing", "$clay")
        if not self._opened:
            return
        yield Content.styled(f"  {legible(rule_words(criterion))}", "$thread")
        known = targets(self.session.opened)
        for cell in row.cells:
            said = legible(cell.said) or "no reason given"
            yield Content.styled(f"  {cell.chair}: {said}", "$chalk")
            for target in cell.rests_on[:_MOST_EVIDENCE]:
                yield Content.styled(f"     {legible(target_words(self.session.opened, target, known))}", "$thread")
            more = len(cell.rests_on) - _MOST_EVIDENCE
            if more > 0:
                yield Content.styled(f"     and {more} more", "$thread")

    def _firmness(self, card: Scorecard) -> Iterator[Content]:
        at = self._at
        if at not in self._firm:
            yield Content.styled("how firm it is, is being drawn ...", "$thread")
            return
        titles = {chair.letter: chair.title for chair in self.weighing.study.chairs}
        for said in firmness_sentences(card, self._firm[at], titles):
            yield Content.styled(legible(said), "$chalk")

    def action_card(self, step: int) -> None:
        """Show another scorecard."""
        cards = self._cards
        if cards:
            self._at = (self._at + step) % len(cards)
            self.draw()
            self._work_out()

    def action_open(self) -> None:
        """Show each score's rule and evidence, or hide them."""
        self._opened = not self._opened
        self.draw()

    def action_criteria(self) -> None:
        """Open the criteria and the scores."""
        self.open_sheet("criteria", self.weighing)

    @asks
    async def action_score(self) -> None:
        """Ask for a criterion, a chair, a score and why."""
        cards = self._cards
        own = [row.criterion for row in cards[self._at].rows if not row.criterion.figure] if cards else []
        chairs = self.weighing.study.chairs
        if not own:
            self.tell("All criteria here are mapped from figures; c has the others.", colour="$clay")
            return
        at = await self.ask_one_of("which criterion?", [legible(each.name) for each in own])
        which = None if at is None else await self.ask_one_of("which chair?", [c.letter for c in chairs])
        if at is None or which is None:
            return
        texts = {"criterion": f"criterion:{own[at].id}", "chair": chairs[which].letter}
        scale = f"{own[at].low:g} to {own[at].high:g}"
        draft = QuestionChain(self, f"score {texts['criterion']} {texts['chair']}")
        value = await draft.ask("value", f"score, {scale}:")
        if value is None:
            return

        def put(text: str) -> bool:
            given = {**texts, "value": value, "why": text.strip()}
            done = self.attempt(lambda: put_evidence(self.session.opened, "score", given))
            if done:
                self._read()
                self.draw()
            return done

        await draft.end("because:", put, to_come="why")


def _sums(card: Scorecard, column: int) -> Iterator[Content]:
    plain = "".join(("-" if t.plain is None else f"{t.plain:.1f}").ljust(column) for t in card.totals)
    weighted = "".join(("-" if t.weighted is None else f"{t.weighted:.0f} of 100").ljust(column) for t in card.totals)
    ranks = "".join(("-" if t.rank is None else f"{t.rank}").ljust(column) for t in card.totals)
    yield Content.assemble((f"{'sum':<{_LABEL}}", "$thread"), (plain, "$chalk"))
    yield Content.assemble((f"{'weighted':<{_LABEL}}", "$thread"), (weighted, "$chalk"))
    yield Content.assemble((f"{'rank':<{_LABEL}}", "$thread"), (ranks, "bold $lamp"))
