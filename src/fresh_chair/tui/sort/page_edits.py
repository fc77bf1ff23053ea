"""Changing a finding where it stands: severity, factors, causes, trials, ways round, excuses."""

from typing import get_args, get_type_hints

from fresh_chair.core.findings.entries.judgements import FACTOR_VALUES
from fresh_chair.core.findings.part_labels import PART_LABELS, PART_NEEDED
from fresh_chair.core.findings.state.finding import EVERYWHERE, Scope
from fresh_chair.core.findings.state.parts import PARTS, How
from fresh_chair.core.plan.field_syntax import choices_of, line_of
from fresh_chair.core.text import legible
from fresh_chair.services.findings import judging, sorting
from fresh_chair.services.findings.page import scope_of
from fresh_chair.services.findings.ratings import rate
from fresh_chair.tui.base.linking import ask_target, tie
from fresh_chair.tui.base.parts import ScreenPart
from fresh_chair.tui.sort.judging import severity_choices
from fresh_chair.tui.sort.page_base import PageBase
from fresh_chair.tui.widgets.dialogue import asks

_HOW: tuple[str, ...] = get_args(How)
# Which kind of part stands in which section.
_KIND = {"cause": "cause", "trials": "trial", "way round": "workaround", "excuses": "excuse"}


# The fields that are asked for when a part is put down.
_ASKED = {
    "cause": ("words", "lies", "sure", "reason"),
    "trial": ("tried", "result", "by"),
    "workaround": ("steps", "skill", "helped"),
    "excuse": ("sort", "severity", "reason", "again"),
}


class PageEdits(ScreenPart[PageBase]):
    """The acts that change the finding."""

    def may(self, act: str, *arguments: object) -> bool:
        """A rater rates, and changes nothing else; only a part can be dropped."""
        if self.screen.hand.rater and act not in ("severity", "change", "undo"):
            return False
        if act == "drop":
            here = self.screen.in_hand
            droppable = here is not None and bool(here[1].part) and here[0].name in (*_KIND, "severity")
            return droppable and here is not None and here[1].part not in ("everywhere", "suggested", "occurrence")
        return True

    def change(self) -> None:
        """Change the line in hand, or open its subject."""
        page, here = self.screen, self.screen.in_hand
        if here is None:
            return
        section, line = here
        if line.target:
            page.open_moment()
        elif section.name == "may belong to" and line.part:
            page.open_sheet("finding", line.part)
        elif page.hand.rater:
            self.severity()
        elif line.part.startswith("factor:"):
            self._correct_factor(line.part.removeprefix("factor:"))
        elif line.part == "occurrence":
            self.occurrence()
        elif section.name == "severity" and line.part:
            scope = EVERYWHERE if line.part == "suggested" else scope_of(line.part)
            self._judge(scope, suggested=line.part == "suggested")
        elif section.name in _KIND and line.part:
            self._revise(_KIND[section.name], line.part)

    def severity(self) -> None:
        """Say how bad it is as met, everywhere; a rater says it for themselves."""
        self._judge(EVERYWHERE)

    @asks
    async def _judge(self, scope: Scope, *, suggested: bool = False) -> None:
        await self._judged(scope, suggested=suggested)

    async def _judged_value(self, scope: Scope, *, suggested: bool) -> tuple[str | None, str]:
        page, view = self.screen, self.screen.page.view
        proposal = view.suggestion
        if suggested and proposal.severity is not None:
            return str(proposal.severity), "; ".join(proposal.steps)
        held = view.finding.severities.get(scope)
        told = f"suggested: {proposal.severity}" if proposal.severity is not None else ""
        words = "" if scope == EVERYWHERE else f" {scope.words}"
        prompt = f"how bad is it{words}?{f' ({told})' if told else ''}"
        key = await page.ask_choice(prompt, severity_choices(page.signs))
        return key, "" if held is None or page.hand.rater else held.reason

    async def _judged(self, scope: Scope, *, suggested: bool) -> None:
        page, opened, rater = self.screen, self.screen.session.opened, self.screen.hand.rater
        key, value = await self._judged_value(scope, suggested=suggested)
        if key is None:
            return

        def judged(why: str) -> bool:
            if rater:
                return page.change(lambda: rate(opened, page.finding, int(key), why, rater))
            return page.change(lambda: judging.judge_severity(opened, page.finding, int(key), why, scope=scope))

        await page.ask_until(f"severity {key}, because", judged, value=value)

    @asks
    async def narrower(self) -> None:
        """Say how bad it is at a chair, for an audience, or once the workaround is known."""
        page, study = self.screen, self.screen.session.opened.study
        chairs = [f"at {letter} {legible(chair.title)}" for letter, chair in study.chair_by_letter.items()]
        audiences = [f"for {legible(audience.name)}" for audience in study.sheet.audiences]
        at = await page.ask_one_of("for whom?", [*chairs, *audiences, "once the workaround is known"])
        if at is None:
            return
        if at < len(chairs):
            scope = Scope(chair=list(study.chair_by_letter)[at])
        elif at < len(chairs) + len(audiences):
            scope = Scope(audience=study.sheet.audiences[at - len(chairs)].name)
        else:
            scope = Scope(workaround_known=True)
        await self._judged(scope, suggested=False)

    @asks
    async def _correct_factor(self, factor: str) -> None:
        page, opened = self.screen, self.screen.session.opened
        values = FACTOR_VALUES[factor]
        at = await page.ask_one_of(factor, values)
        if at is not None:
            await page.ask_until(
                f"{factor} is {values[at]}, because",
                lambda why: page.change(lambda: judging.correct_factor(opened, page.finding, factor, values[at], why)),
            )

    @asks
    async def occurrence(self) -> None:
        """Say whether it comes and goes, and in how many of how many tries."""
        page, opened = self.screen, self.screen.session.opened
        at = await page.ask_one_of("it comes", _HOW)
        if at is None:
            return
        if _HOW[at] == "sometimes":
            await page.ask_until("in how many of how many tries (2 of 5; empty: not counted)?", self._tries)
        elif page.change(lambda: judging.say_occurrence(opened, page.finding, how=_HOW[at], met=None, tries=None)):
            await page.ask_until("how often in all (a recurring notice; empty: not counted)?", self._count)

    def _tries(self, text: str) -> bool:
        page, opened = self.screen, self.screen.session.opened
        met, _, tries = (part.strip() for part in text.partition("of"))
        if text.strip() and not (met.isdecimal() and tries.isdecimal()):
            page.tell("So many of so many, such as 2 of 5; Esc leaves it.", colour="$clay")
            return False
        numbers = (int(met), int(tries)) if met.isdecimal() and tries.isdecimal() else (None, None)
        return page.change(
            lambda: judging.say_occurrence(opened, page.finding, how="sometimes", met=numbers[0], tries=numbers[1])
        )

    def _count(self, text: str) -> bool:
        page, opened = self.screen, self.screen.session.opened
        if not text.strip():
            return True
        if not text.strip().isdecimal():
            page.tell("A number, such as 14; Esc leaves it.", colour="$clay")
            return False
        return page.change(lambda: judging.say_occurrence(opened, page.finding, count=int(text)))

    @asks
    async def add(self, kind: str) -> None:
        """Put a cause, a trial, a way round or an excuse down: its first field, then those it cannot be without.

        Left early it is kept with what was answered; where that is too little for one, until it is taken up again.
        """
        page = self.screen
        draft = f"{kind} of {page.finding}"
        texts = page.session.drafts.pop(draft, {})
        labels = {label.field: label for label in PART_LABELS[kind]}
        for field in _ASKED[kind]:
            if field == "severity" and texts.get("sort") == "habit":
                # A habit, or taste, forgives without a number.
                continue
            text = await self._ask_field(kind, field, labels[field].words, texts.get(field, ""))
            if text is None:
                break
            texts.pop(field, None)
            if text:
                texts[field] = text
        if not texts:
            return
        missing = [labels[field].words for field, _ in PART_NEEDED[kind] if not texts.get(field)]
        if missing:
            page.session.drafts[draft] = texts
            page.tell(f"What was said is kept for the next time; still to come: {', '.join(missing)}.", colour="$lamp")
            return
        made: list[str] = []
        if page.change(lambda: made.append(judging.put_part(page.session.opened, page.finding, kind, texts).id)):
            page.show_part(made[0])

    async def _ask_field(self, kind: str, field: str, words: str, value: str) -> str | None:
        """One field of a part: one of its choices, a thing by its name, or words; None where it is left."""
        page = self.screen
        if kind == "excuse" and field == "severity":
            return await page.ask_choice("how bad is it, excused?", severity_choices(page.signs))
        choices = choices_of(get_type_hints(PARTS[kind], include_extras=True)[field])
        if choices:
            at = await page.ask_one_of(words, choices)
            return None if at is None else choices[at]
        typed: list[str] = []

        def taken(text: str) -> bool:
            typed.append(text)
            return True

        return typed[-1] if await page.ask_until(words, taken, value=value) else None

    @asks
    async def _revise(self, kind: str, part: str) -> None:
        """Change a field of the part in hand; a cause is revised with its reason."""
        page, opened = self.screen, self.screen.session.opened
        held = judging.find_part(page.of, kind, part)
        labels = [label for label in PART_LABELS[kind] if kind != "cause" or label.field != "reason"]
        at = await page.ask_one_of(f"change of this {kind}", [label.words for label in labels])
        if at is None:
            return
        field = labels[at].field
        if field == "by" and kind == "excuse":
            from fresh_chair.services.evidence.targets import targets

            await ask_target(
                page,
                "excused by what?",
                lambda target: page.change(
                    lambda: judging.put_part(opened, page.finding, kind, {field: target}, part=part)
                ),
                known=targets(opened),
            )
            return
        text = await self._ask_field(kind, field, labels[at].words, line_of(getattr(held, field)))
        if text is None:
            return
        if kind != "cause":
            page.change(lambda: judging.put_part(opened, page.finding, kind, {field: text}, part=part))
            return
        await page.ask_until(
            "because",
            lambda why: page.change(
                lambda: judging.put_part(opened, page.finding, kind, {field: text, "reason": why}, part=part)
            ),
        )

    @asks
    async def drop(self) -> None:
        """Say that the part in hand does not hold, with why."""
        page, here = self.screen, self.screen.in_hand
        if here is None:
            return
        section, line = here
        opened = page.session.opened

        def dropped(why: str) -> bool:
            if section.name == "severity":
                scope = scope_of(line.part)
                return page.change(lambda: judging.withdraw_severity(opened, page.finding, scope, why))
            kind = _KIND[section.name]
            return page.change(lambda: judging.drop_part(opened, page.finding, kind, line.part, why))

        await page.ask_until("it does not hold, because", dropped)

    @asks
    async def tie(self) -> None:
        """Tie the part in hand, the observation in hand, or the finding to another thing."""
        page, here = self.screen, self.screen.in_hand
        target = f"finding:{page.finding}"
        if here is not None:
            section, line = here
            if section.name in _KIND and line.part:
                target = f"{_KIND[section.name]}:{page.finding}/{line.part}"
            target = line.target or target
        if await tie(page, target):
            page.draw()

    def undo(self) -> None:
        """Take one's own last change back."""
        page = self.screen
        done: list[sorting.SortingTakenBack] = []
        if page.change(lambda: done.append(sorting.take_back(page.session.opened))):
            page.tell(f"Taken back: {done[0].words}. It stays on record, struck.")
