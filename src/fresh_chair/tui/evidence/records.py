"""Evidence records of the study, one kind at a time: references, comparisons, changes, links, forecasts, advice."""

from collections.abc import Callable
from typing import ClassVar, get_type_hints

from textual import on
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.evidence.labels import EVIDENCE_LABELS, NEEDED, EvidenceLabel
from fresh_chair.core.evidence.ledger import HeldEvidence
from fresh_chair.core.evidence.records import KINDS, Forecast, evidence_of, is_own
from fresh_chair.core.evidence.targets import target_parts
from fresh_chair.core.plan.field_syntax import choices_of, line_of
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.evidence.records import drop_evidence, evidence_lines, evidence_of_kind, put_evidence
from fresh_chair.services.evidence.targets import TARGET_FIELDS, target_words, targets
from fresh_chair.services.findings.forecasts import ForecastLine, forecast_lines
from fresh_chair.tui.base.linking import ask_target, link_lines, tie
from fresh_chair.tui.base.sheet import ListSheet
from fresh_chair.tui.widgets.dialogue import asks

# The later list has a sheet of its own, and judgements have theirs in Weigh.
_SHOWN = tuple(kind for kind in KINDS if kind not in ("later", "verdict", "criterion", "score", "answer", "final"))
# The title of each kind, and its records in words.
_TITLES = {
    "reference": ("references", "things that chairs are compared with and nobody sits at"),
    "against": ("against what", "better, worse, gone, moved, renamed than a reference or a chair"),
    "change": ("changes", "what a release brings, announced or found"),
    "inventory": ("inventory", "what is there for a purpose, and what is not"),
    "link": ("links", "what is tied to what, and how"),
    "forecast": ("forecasts", "what will happen, and what came of it"),
    "advice": ("advice", "told to people, to makers, to oneself"),
    "disclosure": ("disclosures", "on which terms each chair was had"),
    "verdict": ("verdicts", "for whom a chair is recommended, or not, and on what condition"),
    "criterion": ("criteria", "what a scorecard counts, with weights and scales"),
    "score": ("scores", "your own scores, each with a reason and links"),
    "answer": ("answers to contradictions", "changed, or stands because"),
    "paragraph": ("own paragraphs", "words of your own that stand in documents"),
    "choice": ("choices", "quotes and pictures that are shown first, or left out"),
    "reply": ("replies", "what the makers of a chair answered"),
}
# A kind that is shown and has no title would end the program at a key.
assert _TITLES.keys() >= set(_SHOWN), set(_SHOWN) - _TITLES.keys()


class EvidenceSheet(ListSheet):
    """One line a record of the kind in hand."""

    place = "plan"
    sheet_name = "evidence"
    title_words = "evidence"
    about = (
        "Nearly everything a reviewer says is said against something, because of something, or for later: each is a "
        "record here. A change keeps what was there before; what is dropped leaves its links behind."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left", "kind(-1)", "before", id="evidence.before", key_display="←", tooltip="The kind before"),
        Binding("right", "kind(1)", "after", id="evidence.after", key_display="→", tooltip="The kind after"),
        Binding("a", "add", "a new one", id="evidence.add", tooltip="Put another one down"),
        Binding("e", "change", "change", id="evidence.change", tooltip="One of its fields"),
        Binding("r", "sheet('releases')", "releases", id="evidence.releases", tooltip="What came and went"),
        Binding(
            "t",
            "sheet('over_time')",
            "over time",
            id="evidence.over_time",
            show=False,
            tooltip="Readings, opinions, findings",
        ),
        Binding("s", "seal", "seal", id="evidence.seal", tooltip="From here on only how it came out can be said"),
        Binding("x", "drop", "drop", id="evidence.drop", tooltip="It does not hold, with why"),
        Binding(
            "ampersand",
            "tie",
            "tie",
            id="evidence.tie",
            key_display="&",
            tooltip="Because of, speaks for, contradicts, ... another thing",
        ),
    ]
    kind = "reference"
    kinds: ClassVar[tuple[str, ...]] = _SHOWN

    def action_back(self) -> None:
        """Go back to the board."""
        self.action_go("plan")

    def action_kind(self, step: int) -> None:
        """Show the records of a neighbouring kind."""
        self.kind = self.kinds[(self.kinds.index(self.kind) + step) % len(self.kinds)]
        self.clear_notice()
        self.draw()

    def action_sheet(self, name: str) -> None:
        """Open a sheet that draws these records."""
        self.open_sheet(name)

    def _held(self) -> list[HeldEvidence]:
        return evidence_of_kind(self.session.opened, self.kind)

    @property
    def _here(self) -> HeldEvidence | None:
        at, held = self.at, self._held()
        return held[at] if at is not None and at < len(held) else None

    def draw(self) -> None:
        """Show the records of the kind in hand."""
        held, hunches = self._held(), self._hunches()
        known = targets(self.session.opened)
        width = max(self.pile.size.width - 2, 30)
        lines = [self._line(each, known, width) for each in held] + [_hunch_line(each, width) for each in hunches]
        self.refill(lines, [each.record.id for each in held] + [each.id for each in hunches])
        several = len(self.kinds) > 1
        at = f", {self.kinds.index(self.kind) + 1} of {len(self.kinds)} kinds" if several else ""
        title, words = _TITLES[self.kind]
        beside = f" and {count_of(len(hunches), 'hunch', 'hunches')}" if hunches else ""
        self.head(title, f"{count_of(len(held), 'record')}{beside}{at}")
        empty = f"Nothing of this kind yet: {words}. a puts one down, the arrows go to other kinds."
        self.query_one("#note", Static).update(Content.styled("" if lines else empty, "$thread"))
        self._draw_beside()
        self.refresh_bindings()

    def _hunches(self) -> list[ForecastLine]:
        """The hunches, which are forecasts too; they are written on a sheet of their own."""
        if self.kind != "forecast":
            return []
        return [line for line in forecast_lines(self.session.opened) if line.sort == "hunch"]

    def _line(self, held: HeldEvidence, known: dict[str, str], width: int) -> Content:
        """A record on one line: its first field, then the others as far as they fit."""
        lines = [text for _, text in evidence_lines(held.record)]
        shown = [legible(known.get(text, text) if target_parts(text)[0] else text) for text in lines]
        room = max(width // 2, 16)
        borrowed = "" if is_own(held.record) else f" ({evidence_of(held.record)})"
        rest = clipped("; ".join(shown[1:]), max(width - room - len(borrowed), 8))
        return Content.assemble(
            (clipped(shown[0] if shown else held.record.id, room - 1).ljust(room), "$chalk"),
            (rest, "$thread"),
            (borrowed, "$clay"),
        )

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_beside(self) -> None:
        held = self._here
        if held is None:
            at, count = self.at, len(self._held())
            hunches = self._hunches()
            inside = at is not None and 0 <= at - count < len(hunches)
            told = _hunch_beside(hunches[at - count]) if inside and at is not None else Content("")
            self.query_one("#beside", Static).update(told)
            return
        parts = []
        for label, text in evidence_lines(held.record):
            shown = target_words(self.session.opened, text) if target_parts(text)[0] else text
            parts.append(Content.assemble((f"{label}\n", "$thread"), (f"  {legible(shown)}", "$chalk")))
        parts += link_lines(self, f"{self.kind}:{held.record.id}")
        self.query_one("#beside", Static).update(Content("\n").join(parts))

    @asks
    async def action_add(self) -> None:
        """Put another one down: its needed fields are asked for, one after another."""
        kind = self.kind
        texts = self.session.drafts.pop(f"record {kind}", {})
        needed = [field for field, _ in NEEDED[kind]]
        if kind == "change":
            place = await self._ask_release()
            if place is None:
                return
            texts |= place
        for label in EVIDENCE_LABELS[kind]:
            if label.field not in needed:
                continue
            last = label.field == needed[-1]

            def put(text: str, label: EvidenceLabel = label, last: bool = last) -> bool:
                if not text.strip():
                    self.tell(f"{label.words}: it cannot be without; Esc closes the line.", colour="$clay")
                    return False
                texts[label.field] = text.strip()
                return not last or self._do(lambda: put_evidence(self.session.opened, kind, texts))

            if not await self._ask_field(kind, label, put, value=texts.get(label.field, "")):
                if texts:
                    self.session.drafts[f"record {kind}"] = texts
                    self.tell(f"What was said is kept for the next time; still to come: {label.words}.", colour="$lamp")
                return

    async def _ask_release(self) -> dict[str, str] | None:
        """Ask for the chair or the reference a change is of; None where the question is left."""
        chairs = self.session.opened.study.chairs
        references = evidence_of_kind(self.session.opened, "reference")
        named = [f"{chair.letter} {legible(chair.title)}" for chair in chairs]
        named += [legible(getattr(held.record, "name", held.record.id)) for held in references]
        if not named:
            self.tell("A change is of a chair or a reference, and there is neither.", colour="$clay")
            return None
        at = await self.ask_one_of("at which chair, or of which release?", named)
        if at is None:
            return None
        if at < len(chairs):
            return {"chair": chairs[at].letter}
        return {"release": f"reference:{references[at - len(chairs)].record.id}"}

    async def _ask_field(self, kind: str, label: EvidenceLabel, put: Callable[[str], bool], *, value: str = "") -> bool:
        """Ask for one field: one of its choices, a thing by its words, or a line."""
        choices = choices_of(get_type_hints(KINDS[kind], include_extras=True)[label.field])
        if choices:
            at = await self.ask_one_of(label.words, choices)
            return at is not None and put(choices[at])
        if label.field in TARGET_FIELDS:
            return await ask_target(self, f"{label.words}", put, known=targets(self.session.opened))
        if label.field == "chair":
            chairs = self.session.opened.study.chairs
            at = await self.ask_one_of(label.words, [f"{chair.letter} {legible(chair.title)}" for chair in chairs])
            return at is not None and put(chairs[at].letter)
        return await self.ask_until(label.words, put, value=value)

    @asks
    async def action_change(self) -> None:
        """Change one of its fields."""
        held, kind = self._here, self.kind
        if held is None:
            return
        labels = EVIDENCE_LABELS[kind]
        at = await self.ask_one_of("which field?", [label.words for label in labels])
        if at is None:
            return
        field, name = labels[at].field, held.record.id
        await self._ask_field(
            kind,
            labels[at],
            lambda text: self._do(lambda: put_evidence(self.session.opened, kind, {field: text}, record_id=name)),
            value=line_of(getattr(held.record, field)),
        )

    @asks
    async def action_seal(self) -> None:
        """Seal the forecast in hand."""
        held = self._here
        if held is not None and await self.ask_sure("seal it? It cannot be changed then.", "it is sealed"):
            name = held.record.id
            self._do(lambda: put_evidence(self.session.opened, "forecast", {"sealed": "yes"}, record_id=name))

    @asks
    async def action_drop(self) -> None:
        """Say that it does not hold; the links to it stay, shown as such."""
        held, kind = self._here, self.kind
        if held is not None:
            name = held.record.id
            await self.ask_until(
                "it does not hold, because:",
                lambda reason: self._do(lambda: drop_evidence(self.session.opened, kind, name, reason)),
            )

    @asks
    async def action_tie(self) -> None:
        """Tie it to another thing."""
        held = self._here
        if held is not None and await tie(self, f"{self.kind}:{held.record.id}"):
            self.draw()

    def _do(self, act: Callable[[], object]) -> bool:
        done = self.attempt(act)
        if done:
            self.draw()
        return done

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Keys about the record in hand need one; only an open forecast is sealed."""
        if self.is_mounted and action in ("change", "drop", "tie", "seal"):
            held = self._here
            if held is None or (action == "seal" and not _open_forecast(held)):
                return False
        return super().check_action(action, parameters)


def _hunch_line(line: ForecastLine, width: int) -> Content:
    room = max(width // 2, 16)
    said = f"hunch, {line.about}: {line.outcome}"
    return Content.assemble(
        (clipped(legible(line.what), room - 1).ljust(room), "$chalk"), (clipped(legible(said), width - room), "$thread")
    )


def _hunch_beside(line: ForecastLine) -> Content:
    state = "late: no prediction" if line.late else "sealed" if line.sealed else "open"
    told = (("hunch", line.what), ("about", line.about), ("how sure", line.sure), ("state", state))
    outcome = (("came true", line.outcome), ("because", line.note))
    parts = [
        Content.assemble((f"{name}\n", "$thread"), (f"  {legible(text)}", "$chalk")) for name, text in told + outcome
    ]
    return Content("\n").join(
        [*parts, Content.styled("It is written on the sheet of hunches: h on the board.", "$thread")]
    )


def _open_forecast(held: HeldEvidence) -> bool:
    return isinstance(held.record, Forecast) and not held.record.sealed
