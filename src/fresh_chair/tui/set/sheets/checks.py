"""Checks of the cards at one chair: asked before and after, with the chair's answers."""

from textwrap import wrap
from typing import ClassVar

from textual import on
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.chair.ledger import ChecksAsked
from fresh_chair.core.checks.meaning import Found, Judged, Witnessed, judged
from fresh_chair.core.clock import SECOND
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.chair import approvals
from fresh_chair.services.chair.enquiries import AFTER, BEFORE, card_lines
from fresh_chair.services.chair.reader import ChairReader
from fresh_chair.services.system.clock import day_and_time
from fresh_chair.tui.set.sheets.records import SetSheet
from fresh_chair.tui.widgets.dialogue import asks

_SIGNS = {
    Witnessed.CONFIRMED: ("ready", "$moss"),
    Witnessed.CONTRADICTED: ("wrong", "$clay"),
    Witnessed.CANNOT_TELL: ("open", "$thread"),
    Witnessed.SO_BEFORE: ("open", "$lamp"),
}


class Checks(SetSheet):
    """One line a check."""

    sheet_name = "checks"
    title_words = "checks of the cards"
    about = (
        "Did it happen, as the chair itself sees it: confirmed, contradicted, cannot tell, was so before. b asks "
        "before an attempt, r after it. A command of the script's own is shown, and runs only once you approve it."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left", "chair(-1)", "before", id="checks.before", key_display="←", tooltip="The chair before"),
        Binding("right", "chair(1)", "after", id="checks.after", key_display="→", tooltip="The chair after"),
        Binding("b", "ask('before')", "ask before", id="checks.ask_before", tooltip="Is it so before anyone tries?"),
        Binding("r", "ask('after')", "ask now", id="checks.ask_after", tooltip="After an attempt: did it happen?"),
        Binding("y", "approve", "commands", id="checks.approve", tooltip="Approve the script's own commands"),
    ]
    _reader: ChairReader | None = None

    def arrived(self) -> None:
        """Follow a reading that is under way."""
        super().arrived()
        self.every(0.15, self._follow_reader)

    def draw(self) -> None:
        """Show every check that is for this chair."""
        results = self._results()
        self.refill([self._line(title, result) for title, result in results])
        count = sum(result.witnessed is Witnessed.CONFIRMED for _, result in results)
        waiting = self._unapproved()
        more = f"{count} of {len(results)} confirmed" if results else "no card has one here"
        self.chair_head(self.title_words, more + (f", {len(waiting)} to approve" if waiting else ""))
        some = "a command" if len(waiting) == 1 else f"{len(waiting)} commands"
        words = f"Not approved yet: {some} of the script's own; y shows them." if waiting else ""
        if not results:
            words = "Checks stand in the cards (Plan), a line each; docs/formats.md has the language."
        self.query_one("#note", Static).update(Content.styled(words, "$lamp" if waiting else "$thread"))
        self._draw_beside()
        self.follow()

    def _unapproved(self) -> list[tuple[str, str]]:
        opened = self.session.opened
        known = approvals.approved(opened.study)
        return [each for each in approvals.commands_in(opened) if not approvals.is_approved(each[1], known)]

    def _results(self) -> list[tuple[str, Judged]]:
        """Title of the card and the chair's last judgement, line by line."""
        opened = self.session.opened
        ledger = opened.known_chairs.of(self.letter)
        last = ledger.asked[-1][1] if ledger.asked else None
        before = ledger.before if last is not None and last.when == "after" else None
        found = {} if last is None else {a.ask: Found(a.value, a.why) for a in last.answers}
        results: list[tuple[str, Judged]] = []
        for _, title, line in card_lines(opened, self.letter):
            asked = any(check.ask.text in found for check in line.any_of)
            results.append(
                (title, judged(line, found, before) if asked else Judged(line.text, Witnessed.CANNOT_TELL, ""))
            )
        return results

    def _line(self, title: str, result: Judged) -> Content:
        width = max(self.pile.size.width, 40)
        if not result.evidence:
            sign, colour, said = self.signs.none, "$thread", "not asked yet"
        else:
            state, colour = _SIGNS[result.witnessed]
            sign, said = self.signs.states[state], result.witnessed.value
        room = max((width - 22) // 2, 14)
        return Content.assemble(
            (f"{sign} ", colour),
            (clipped(legible(title), room - 1).ljust(room), "$chalk"),
            (clipped(legible(result.line), room - 1).ljust(room), "$thread"),
            (said, colour),
        )

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_beside(self) -> None:
        results, at = self._results(), self.at
        if at is None or at >= len(results):
            self.detail(Content(""))
            return
        title, result = results[at]
        width = max(self.query_one("#beside").size.width, 30)
        parts = [Content.styled(legible(title), "bold $chalk")]
        parts += [Content.styled(part, "$thread") for part in wrap(legible(result.line), width)]
        parts += [Content(""), Content(result.witnessed.value if result.evidence else "not asked yet")]
        parts += [Content(part) for part in wrap(legible(result.evidence), width)]
        asked = self.session.opened.known_chairs.of(self.letter).asked
        if asked:
            parts += [Content(""), Content.styled("asked", "$thread")]
            parts += [self._asked(moment.wall_ns, each) for moment, each in reversed(asked[-8:])]
        self.detail(Content("\n").join(parts))

    def _asked(self, wall_ns: int, asked: ChecksAsked) -> Content:
        return Content(f"{day_and_time(wall_ns / SECOND)}  {asked.when}, {legible(asked.way)}")

    def action_ask(self, when: str) -> None:
        """Ask the chair."""
        session = self.session
        if session.reader is not None and session.reader.running:
            self.tell(f"Chair {session.reader.letter} is being read; wait for it, or stop it in Set.", colour="$clay")
            return
        reader = ChairReader(session.opened, self.letter, [BEFORE if when == "before" else AFTER])
        if self.attempt(reader.start):
            session.reader = self._reader = reader
            self.tell(f"Asking chair {self.letter}.", colour="$lamp")

    def _follow_reader(self) -> None:
        reader = self._reader
        if reader is None or reader.running or self.asking:
            return
        self._reader = None
        if reader.bug is not None:
            raise reader.bug
        if reader.problem is not None:
            self.tell_problem(reader.problem)
            return
        self.draw()
        self.tell(f"Chair {reader.letter} has answered.")

    @asks
    async def action_approve(self) -> None:
        """Show every command, then ask."""
        waiting = self._unapproved()
        if not waiting:
            self.tell("No command is waiting to be approved.")
            return
        parts = [Content.styled("commands that the script would run", "$lamp")]
        for where, command in waiting:
            parts += [Content(legible(command)), Content.styled(f"  {legible(where)}", "$thread")]
        self.detail(Content("\n").join(parts))
        shown = "; ".join(legible(clipped(command, 60)) for _, command in waiting[:3])
        more = f" and {len(waiting) - 3} more, at the right" if len(waiting) > 3 else ""
        sure = await self.ask_sure(f"run on chairs: {shown}{more}?", "approve them for this study")
        if sure and self.attempt(lambda: approvals.approve(self.session.opened.study, [c for _, c in waiting])):
            self.draw()
