"""Verdicts: audiences against chairs, empty cells loud; below it every verdict, those that were revised too."""

from collections.abc import Iterator
from typing import ClassVar, get_args

from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Vertical, VerticalScroll
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.evidence.judged import VerdictSays
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.evidence.records import put_evidence
from fresh_chair.services.judgement.verdicts import EVERYONE, VerdictLine, verdict_matrix
from fresh_chair.tui.base.session import QuestionChain
from fresh_chair.tui.weigh.sheets.judgements import JudgementSheet
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import chair_colour

_SAYS: tuple[VerdictSays, ...] = get_args(VerdictSays)
_COLOUR: dict[VerdictSays, str] = {
    "recommended": "bold $moss",
    "recommended if": "$moss",
    "wait for": "$lamp",
    "not for them": "$clay",
    "not for me to judge": "$thread",
    "no clear winner": "$tide",
}
_LABEL = 22


class VerdictsSheet(JudgementSheet):
    """For whom each chair is recommended, or not."""

    sheet_name = "verdicts"
    title_words = "verdicts"
    about = (
        "A verdict is for an audience and a chair, with its condition, relative to something, on a day. A later one "
        "revises it; a condition that is met opens it again. & ties it to what it rests on."
    )
    kinds = ("verdict",)
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("v", "revise", "revise", id="verdicts.revise", tooltip="A later verdict in the place of this one"),
        Binding("m", "met", "condition met", id="verdicts.met", tooltip="Its condition is met: it is open again"),
    ]

    def middle(self) -> ComposeResult:
        """The matrix, and the list of all verdicts below it."""
        with Vertical(classes="main"):
            yield Static(id="head", markup=False)
            yield Static(id="matrix", markup=False)
            yield OptionList(id="list", markup=False)
            yield Static(id="note", markup=False)
        with VerticalScroll(classes="aside", can_focus=False):
            yield Static(id="beside", markup=False)

    def draw(self) -> None:
        """Show the matrix and the list."""
        super().draw()
        width = max(self.pile.size.width - 2, 40)
        self.query_one("#matrix", Static).update(Content("\n").join(self._matrix(width)))

    def _matrix(self, width: int) -> Iterator[Content]:
        found, chairs = verdict_matrix(self.session.opened), self.session.opened.study.chairs
        column = max((width - _LABEL) // max(len(chairs), 1), 10)
        names = [
            (clipped(f"{chair.letter} {legible(chair.title)}", column - 1).ljust(column), f"bold {chair_colour(chair)}")
            for chair in chairs
        ]
        yield Content.assemble((" " * _LABEL, ""), *names)
        for audience in found.audiences:
            parts = [(clipped(legible(audience), _LABEL - 1).ljust(_LABEL), "$chalk")]
            for chair in chairs:
                line = found.cells.get((audience, chair.letter))
                general = found.cells.get((EVERYONE, chair.letter))
                parts.append(_cell(line, general, column))
            yield Content.assemble(*parts)
        for line in found.whole:
            whom = line.verdict.audience or EVERYONE
            yield Content.styled(f"{legible(whom)}: {legible(line.words)}", _COLOUR[line.verdict.says])
        if found.missing:
            yield Content.styled(f"{found.missing} without a verdict", "bold $clay")
        yield Content("")

    @asks
    async def action_add(self) -> None:
        """Ask for chair, audience, verdict, its condition and why."""
        await self._ask_verdict({})

    @asks
    async def action_revise(self) -> None:
        """A later verdict in the place of the one in hand."""
        held = self._here
        if held is not None:
            record = held.record
            kept = {"chair": getattr(record, "chair", ""), "audience": getattr(record, "audience", "")}
            await self._ask_verdict({"revises": f"verdict:{record.id}", **kept})

    async def _ask_verdict(self, texts: dict[str, str]) -> None:
        study = self.session.opened.study
        if "chair" not in texts:
            named = [f"{chair.letter} {legible(chair.title)}" for chair in study.chairs]
            at = await self.ask_one_of("which chair?", [*named, "none of them alone"])
            if at is None:
                return
            texts["chair"] = study.chairs[at].letter if at < len(study.chairs) else ""
            audiences = [audience.name for audience in study.sheet.audiences]
            whom = await self.ask_one_of("for whom?", [EVERYONE, *map(legible, audiences)])
            if whom is None:
                return
            texts["audience"] = audiences[whom - 1] if whom else ""
        says = _SAYS if texts["chair"] else ("no clear winner",)
        at = await self.ask_one_of("the verdict?", says) if len(says) > 1 else 0
        if at is None:
            return
        texts["says"] = says[at]
        draft = QuestionChain(self, f"verdict {texts['chair']} {texts['audience']}")
        if says[at] in ("recommended if", "wait for"):
            asked = "on what condition?" if says[at] == "recommended if" else "for which release?"

            condition = await draft.ask("condition", asked)
            if condition is None:
                return
            texts["condition"] = condition
        day = f"{self.session.opened.clock.now().wall:%Y-%m-%d}"

        def put(text: str) -> bool:
            given = {**texts, "why": text.strip(), "on": day}
            return self._do(lambda: put_evidence(self.session.opened, "verdict", given))

        await draft.end("because:", put, to_come="why")

    def action_met(self) -> None:
        """Say that the condition of the verdict in hand is met from today on."""
        held = self._here
        if held is not None:
            day = f"{self.session.opened.clock.now().wall:%Y-%m-%d}"
            self._do(lambda: put_evidence(self.session.opened, "verdict", {"met": day}, record_id=held.record.id))

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """A verdict in hand is revised; only one with a condition has it met."""
        if self.is_mounted and action in ("revise", "met"):
            held = self._here
            if held is None or (action == "met" and not getattr(held.record, "condition", "")):
                return False
        return super().check_action(action, parameters)


def _cell(line: VerdictLine | None, general: VerdictLine | None, width: int) -> tuple[str, str]:
    shown = line or general
    if shown is None:
        return "no verdict".ljust(width), "reverse $clay"
    verdict = shown.verdict
    words = verdict.says if line is not None else f"{verdict.says} (as all)"
    if verdict.condition:
        words += f" {verdict.condition}"
    if shown.state == "open again":
        words = f"open again: {verdict.condition}"
    elif verdict.firm == "provisional":
        words += " ?"
    return clipped(legible(words), width - 1).ljust(width), _COLOUR[verdict.says]
