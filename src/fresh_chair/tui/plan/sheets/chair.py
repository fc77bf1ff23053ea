"""A chair's sheet in Plan: its identity, its making, its machine, and its carried records."""

from typing import ClassVar

from textual.binding import Binding, BindingType
from textual.content import Content

from fresh_chair.core.text import count_of, legible
from fresh_chair.services.plan import chairs
from fresh_chair.services.plan.editing import FieldLine, field_lines
from fresh_chair.tui.base.sheet import FieldSheet
from fresh_chair.tui.plan.adding import ask_carried, ask_chair, copy_chair
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import SEVERITY_COLOUR, chair_colour


class ChairSheet(FieldSheet):
    """One chair at a time."""

    sheet_name = "chair"
    title_words = "a chair"
    about = "Who a chair is, by hand; Set reads it off the machine. What was altered there is said in every report."
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left", "step(-1)", "before", id="chair.before", key_display="←", tooltip="The chair before"),
        Binding("right", "step(1)", "after", id="chair.after", key_display="→", tooltip="The chair after"),
        Binding("a", "add", "a new one", id="chair.add", tooltip="Add a chair"),
        Binding("y", "copy", "copy", id="chair.copy", tooltip="A chair like this one, under another letter"),
        Binding("o", "carry", "carry over", id="chair.carry", tooltip="A chair from another study, with its findings"),
        Binding(
            "x", "remove", "take out", id="chair.remove", tooltip="Take this chair out; only before anyone sat there"
        ),
    ]

    @property
    def letter(self) -> str:
        """The chair in hand."""
        letters = list(self.session.opened.study.chair_by_letter)
        wanted = self.session.cell[1]
        return wanted if wanted in letters else letters[0]

    def lines(self) -> list[FieldLine]:
        """The chair's fields, and its machine's."""
        return field_lines(self.session.opened.study, "chair", self.letter)

    def head(self) -> Content:
        """Which chair it is."""
        study = self.session.opened.study
        chair = study.chair_by_letter[self.letter]
        place = study.chairs.index(chair) + 1
        return Content.assemble(
            (f"{chair.letter}  {legible(chair.title)}", f"bold {chair_colour(chair)}"),
            (f"   chair {place} of {len(study.chairs)}", "$thread"),
        )

    def beside(self) -> Content:
        """The chairs on the same machine, its people, and earlier findings at it."""
        study, letter = self.session.opened.study, self.letter
        chair = study.chair_by_letter[letter]
        sharing = [c.letter for c in study.chairs if c.machine == chair.machine and c.letter != letter]
        seats = [seat for seat in study.seats if seat.chair == letter]
        run = sum(seat.number in self.session.opened.begun for seat in seats)
        parts = [
            Content.styled("on the board", "$thread"),
            Content(f"{count_of(run, 'sitting')} begun of {len(seats)} planned"),
            Content(f"machine shared with {', '.join(sharing)}" if sharing else "a machine of its own"),
        ]
        if chair.put_back == "by hand":
            parts.append(Content("Put back by hand: what can be seen once, only the first person there sees."))
        carried = [finding for finding in study.carried if finding.chair == letter]
        if carried:
            parts += [Content(""), Content.styled(f"carried over: {count_of(len(carried), 'finding')}", "$thread")]
        for finding in carried:
            if finding.severity is None:
                severity = ("? ", "$thread")
            else:
                severity = (f"{self.signs.severities[finding.severity]} ", SEVERITY_COLOUR[finding.severity])
            told = f"\n  {finding.seen_by} of {finding.tried} in “{legible(finding.source)}”"
            parts.append(Content.assemble(severity, legible(finding.title), (told, "$thread")))
        return Content("\n").join(parts)

    def action_step(self, step: int) -> None:
        """Go to a neighbouring chair."""
        letters = list(self.session.opened.study.chair_by_letter)
        self._show(letters[(letters.index(self.letter) + step) % len(letters)])

    def _show(self, letter: str) -> None:
        self.session.cell = (self.session.cell[0], letter)
        self.draw()

    def _added(self, code: str, letter: str) -> None:
        self._show(letter)

    @asks
    async def action_add(self) -> None:
        """Add a chair."""
        await ask_chair(self, self._added)

    def action_copy(self) -> None:
        """Copy this chair."""
        copy_chair(self, self.letter, self._added)

    @asks
    async def action_carry(self) -> None:
        """Carry a chair over from another study."""
        await ask_carried(self, self._added)

    @asks
    async def action_remove(self) -> None:
        """Take this chair out."""
        letter = self.letter
        if not await self.ask_sure(
            f"take {letter} out of the study?", "yes, with its hunches' place and seats to come"
        ):
            return
        if self.attempt(lambda: chairs.remove_chair(self.session.opened, letter)):
            if not self.session.opened.study.chairs:
                self.action_back()
                return
            self.draw()
            self.tell(f"Chair {letter} is no part of the study any more.")
