"""The later list: everything put off, by the day or event that brings it back."""

from collections.abc import Callable
from datetime import date
from typing import ClassVar

from textual import on
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.evidence.later import Group, LaterLine, grouped
from fresh_chair.core.evidence.records import LaterSort
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.evidence.later import bring_back, close_later, later_of
from fresh_chair.services.evidence.records import drop_evidence, put_evidence
from fresh_chair.services.evidence.targets import target_words
from fresh_chair.tui.base.linking import link_lines, tie
from fresh_chair.tui.base.session import QuestionChain
from fresh_chair.tui.base.sheet import ListSheet
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks

_SORTS: dict[str, LaterSort] = {"p": "put off", "l": "look again", "q": "without an answer", "o": "promised"}
_COLOURS: dict[Group, str] = {
    "due": "$clay",
    "on a day": "$lamp",
    "with something else": "$tide",
    "at a chair": "$chalk",
    "nothing brings it back yet": "$thread",
}


class Later(ListSheet):
    """One line a thing that was put off."""

    place = "plan"
    sheet_name = "later"
    title_words = "the later list"
    about = (
        "Checks to come back to, questions without an answer, promises to look again; each with what brings it back: a "
        "day, a release, another chair. Questions logged in sittings are on it by themselves."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("a", "add", "a new one", id="later.add", tooltip="Put something off"),
        Binding("t", "due", "a day", id="later.due", tooltip="The day that brings it back"),
        Binding("w", "when", "or when", id="later.when", tooltip="A release, when it is final, the headset"),
        Binding("c", "chair", "a chair", id="later.chair", tooltip="The chair at which it is looked at again"),
        Binding("o", "whom", "for whom", id="later.whom", tooltip="Whom it was promised"),
        Binding("f", "done", "done", id="later.done", tooltip="It was looked at, and what came of it"),
        Binding(
            "ampersand",
            "tie",
            "tie",
            id="later.tie",
            key_display="&",
            show=False,
            tooltip="Because of, speaks for, contradicts, ... another thing",
        ),
        Binding("x", "drop", "drop", id="later.drop", tooltip="It does not hold, with why"),
    ]

    def action_back(self) -> None:
        """Go back to the board."""
        self.action_go("plan")

    def _lines(self) -> list[tuple[Group, LaterLine]]:
        today = date.today()
        return [(group, line) for group, listed in grouped(later_of(self.session.opened), today) for line in listed]

    @property
    def _here(self) -> LaterLine | None:
        at, lines = self.at, self._lines()
        return lines[at][1] if at is not None and at < len(lines) else None

    def draw(self) -> None:
        """Show the list, due things first."""
        lines = self._lines()
        width = max(self.pile.size.width - 2, 30)
        drawn, before = [], ""
        beside = min(max((len(_back(line)) for _, line in lines), default=0), width // 3)
        for group, line in lines:
            drawn.append(self._line(group, line, width - beside - 24, beside, first=group != before))
            before = group
        self.refill(drawn, [line.record or line.mark for _, line in lines])
        due = sum(group == "due" for group, _ in lines)
        self.head("The later list", f"{count_of(len(lines), 'thing')} put off, {due} due" if lines else "")
        empty = "Nothing was put off. a puts something off; questions from sittings come by themselves."
        self.query_one("#note", Static).update(Content.styled("" if lines else empty, "$thread"))
        self._draw_beside()
        self.refresh_bindings()

    def _line(self, group: Group, line: LaterLine, room: int, beside: int, *, first: bool) -> Content:
        head = [Content.styled(f"{group}", f"bold {_COLOURS[group]}")] if first else []
        return Content("\n").join(
            [
                *head,
                Content.assemble(
                    (f"  {line.sort:<18}", "$thread"),
                    (clipped(legible(line.what), room).ljust(room), "$chalk"),
                    (f"  {clipped(legible(_back(line)), beside)}", _COLOURS[group]),
                ),
            ]
        )

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_beside(self) -> None:
        line = self._here
        if line is None:
            self.query_one("#beside", Static).update("")
            return
        parts = [Content(legible(line.what)), Content.styled(line.sort, "$thread"), Content("")]
        source = line.source if not line.record else target_words(self.session.opened, line.source)
        for words, text in (
            ("due", line.due),
            ("or when", line.when),
            ("at chair", line.chair),
            ("for whom", line.whom),
            ("comes from", source),
        ):
            if text:
                parts.append(Content.assemble((f"{words}\n", "$thread"), (f"  {legible(text)}", "$chalk")))
        parts += link_lines(self, _target(line))
        self.query_one("#beside", Static).update(Content("\n").join(parts))

    @asks
    async def action_add(self) -> None:
        """Put something off: its words, its sort, and the day that brings it back."""

        def named(text: str) -> bool:
            if not text.strip():
                self.tell("Something is put off; Esc closes the line.", colour="$clay")
            return bool(text.strip())

        draft = QuestionChain(self, "put off")
        what = await draft.ask("what", "put off:", named)
        if what is None:
            return
        key = await self.ask_choice("it is", [Choice(key, sort) for key, sort in _SORTS.items()])
        if key is None:
            draft.left("its sort")
            return
        texts = {"what": what, "sort": _SORTS[key]}

        def put(due: str) -> bool:
            return self._do(lambda: put_evidence(self.session.opened, "later", {**texts, "due": due.strip()}))

        # A day may come later: left here, it is put off without one.
        if not await self.ask_until("due on (2027-04-01; may stay empty)", put):
            put("")

    @asks
    async def action_due(self) -> None:
        """Say the day that brings it back."""
        await self._change("due on (2027-04-01; empty for none)", "due")

    @asks
    async def action_when(self) -> None:
        """Say which event brings it back."""
        await self._change("it comes back with (the final, release 10, the headset)", "when")

    @asks
    async def action_whom(self) -> None:
        """Say for whom it is."""
        await self._change("for whom?", "whom")

    @asks
    async def action_chair(self) -> None:
        """Say at which chair it is looked at again."""
        line, chairs = self._here, self.session.opened.study.chairs
        if line is None or not chairs:
            return
        at = await self.ask_one_of("at which chair?", [f"{chair.letter} {legible(chair.title)}" for chair in chairs])
        if at is not None:
            self._do(lambda: bring_back(self.session.opened, line, chair=chairs[at].letter))

    async def _change(self, prompt: str, field: str) -> None:
        line = self._here
        if line is not None:
            await self.ask_until(
                prompt,
                lambda text: self._do(lambda: bring_back(self.session.opened, line, **{field: text.strip()})),
                value=str(getattr(line, field)),
            )

    @asks
    async def action_done(self) -> None:
        """Say that it is done, with its result."""
        line = self._here
        if line is not None:
            await self.ask_until(
                "what came of it?", lambda became: self._do(lambda: close_later(self.session.opened, line, became))
            )

    @asks
    async def action_tie(self) -> None:
        """Tie it to another thing."""
        line = self._here
        if line is not None and await tie(self, _target(line)):
            self._draw_beside()

    @asks
    async def action_drop(self) -> None:
        """Say that it does not hold; a logged question is struck in its journal."""
        line = self._here
        if line is None:
            return
        if not line.record:
            self.tell("It is a question of a sitting: strike it in that journal, or say that it is done.")
            return
        await self.ask_until(
            "it does not hold, because:",
            lambda reason: self._do(lambda: drop_evidence(self.session.opened, "later", line.record, reason)),
        )

    def _do(self, act: Callable[[], object]) -> bool:
        done = self.attempt(act)
        if done:
            self.draw()
        return done

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Keys about the line in hand need one."""
        about = ("due", "when", "chair", "whom", "done", "drop", "tie")
        if self.is_mounted and action in about and self._here is None:
            return False
        return super().check_action(action, parameters)


def _back(line: LaterLine) -> str:
    """Everything that brings a thing back, and for whom."""
    return ", ".join(filter(None, (line.due, line.when, line.chair and f"at {line.chair}", line.whom)))


def _target(line: LaterLine) -> str:
    """A thing of the list, as evidence speaks of it: its record, or the mark it was logged with."""
    return f"later:{line.record}" if line.record else f"mark:{line.mark}"
