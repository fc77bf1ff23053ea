"""The study sheet: the question, audiences, the sponsor, thresholds, and dates."""

from itertools import groupby
from typing import ClassVar

from textual.binding import Binding, BindingType
from textual.content import Content

from fresh_chair.core.clock import SECOND
from fresh_chair.core.plan.changes import Change
from fresh_chair.core.plan.field_syntax import line_of
from fresh_chair.core.plan.sheet import AUDIENCES
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.plan.editing import FieldLine, field_lines, set_field
from fresh_chair.services.system.clock import day_and_time
from fresh_chair.tui.base.sheet import FieldSheet
from fresh_chair.tui.widgets.dialogue import asks

_MOST_CHANGES = 30


def _owner_and_minute(change: Change) -> tuple[list[str], int]:
    return change.path.split(".")[:2], change.wall_ns // (60 * SECOND)


class StudySheet(FieldSheet):
    """The decisions about the study as a whole."""

    sheet_name = "study"
    title_words = "the study sheet"
    about = "What is decided before anyone sits down. After the first sitting each change is kept with its date."
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("plus", "audience", "an audience", id="study.audience", key_display="+", tooltip="Add an audience"),
    ]

    def lines(self) -> list[FieldLine]:
        """The sheet's fields."""
        return field_lines(self.session.opened.study, "study")

    def head(self) -> Content:
        """The study's title."""
        return Content.styled("The study sheet", "bold $lamp")

    def beside(self) -> Content:
        """The thresholds in words, and the changes since."""
        opened = self.session.opened
        parts = [Content.styled("good enough is", "$thread")]
        parts += [
            Content.assemble((threshold.words, "$chalk"), (f"  {legible(threshold.why)}", "$thread"))
            for threshold in opened.study.sheet.thresholds
        ] or [Content.styled("Nothing was decided yet; afterwards is too late.", "$lamp")]
        parts += [Content(""), Content.styled("changed since the first sitting", "$thread")]
        late = [change for change in opened.plans.changes() if change.sittings]
        together = [list(group) for _, group in groupby(late, key=_owner_and_minute)]
        parts += [self._change(group) for group in reversed(together[-_MOST_CHANGES:])]
        if not late:
            parts.append(Content("Nothing." if opened.begun else "Nobody has sat yet; changes are free."))
        return Content("\n").join(parts)

    def _change(self, group: list[Change]) -> Content:
        """The changes of one thing at one time."""
        when = day_and_time(group[0].wall_ns / SECOND)
        if len(group) == 1:
            path, after = group[0].path, clipped(legible(group[0].after), 60)
        else:
            path, after = ".".join(group[0].path.split(".")[:2]), f"{len(group)} fields"
        return Content.assemble(
            (f"{when}  ", "$thread"), (legible(path), "$chalk"), (f"\n  now: {after}" if after else "", "$thread")
        )

    @asks
    async def action_audience(self) -> None:
        """Add one of the usual audiences."""
        there = {audience.name for audience in self.session.opened.study.sheet.audiences}
        free = [audience for audience in AUDIENCES if audience.name not in there]
        if not free:
            self.tell("All the usual audiences are there; Enter on the field adds one of your own.")
            return
        at = await self.ask_one_of("for whom?", [audience.name for audience in free])
        if at is not None:
            listed = (*self.session.opened.study.sheet.audiences, free[at])
            if self.attempt(lambda: set_field(self.session.opened, "sheet.audiences", line_of(listed))):
                self.draw()
