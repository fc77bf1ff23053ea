"""Over time: each reading, opinion and finding with two moments or more, its points under each other."""

from textwrap import wrap
from typing import ClassVar

from textual import on
from textual.binding import BindingType
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.figures.over_time import TimeCourse, TimePoint, courses_of
from fresh_chair.tui.base.sheet import ListSheet
from fresh_chair.tui.widgets.signs import chair_colour

_BAR = 18


class OverTime(ListSheet):
    """One line a thing; beside it, its points with a bar each, on one scale."""

    place = "plan"
    sheet_name = "over_time"
    title_words = "over time"
    about = (
        "What was read, thought or met more than once: at one chair, or along a succession of releases. Readings that "
        "were taken in other studies, are doubted or borrowed stand beside, hollow, and enter no sentence."
    )
    BINDINGS: ClassVar[list[BindingType]] = []
    _courses: list[TimeCourse]

    def arrived(self) -> None:
        """Compute the courses once for this state of the study."""
        self._courses = courses_of(self.session.opened)
        super().arrived()

    def action_back(self) -> None:
        """Go back to the records."""
        self.open_sheet("evidence")

    @property
    def _here(self) -> TimeCourse | None:
        at = self.at
        return self._courses[at] if at is not None and at < len(self._courses) else None

    def draw(self) -> None:
        """Show the courses."""
        width = max(self.pile.size.width - 2, 30)
        self.refill([self._row(course, width) for course in self._courses])
        self.head("over time", count_of(len(self._courses), "thing") if self._courses else "")
        empty = "Nothing was read, thought or met at two moments yet, or at two releases of one succession."
        self.query_one("#note", Static).update(Content.styled("" if self._courses else empty, "$thread"))
        self._draw_beside()
        self.refresh_bindings()

    def _row(self, course: TimeCourse, width: int) -> Content:
        room = max(width - 46, 16)
        first, last = course.points[0], course.points[-1]
        span = f"{_short(first)} {self.signs.line}{self.signs.open_high} {_short(last)}"
        return Content.assemble(
            (f"{course.sort:<9}", "$thread"),
            (clipped(legible(course.what), room - 1).ljust(room), "$chalk"),
            (f"{count_of(len(course.points), 'point')}  ", "$thread"),
            (clipped(legible(span), 26), "$lamp"),
        )

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_beside(self) -> None:
        course = self._here
        if course is None:
            self.query_one("#beside", Static).update("")
            return
        width = max(self.query_one("#beside").size.width, 24)
        parts = [Content.styled(legible(course.what), "bold $chalk")]
        numbers = [point.number for point in course.points if point.number is not None]
        top = max((abs(number) for number in numbers), default=0.0)
        for point in course.points:
            parts += self._point(point, top, width)
        for told in course.told:
            parts += [Content.styled(line, "$lamp") for line in wrap(legible(told), width)]
        self.query_one("#beside", Static).update(Content("\n").join(parts))

    def _point(self, point: TimePoint, top: float, width: int) -> list[Content]:
        chair = self.session.opened.study.chair_by_letter.get(point.chair)
        colour = "$chalk" if chair is None else chair_colour(chair)
        sign = self.signs.point if point.counts else self.signs.hollow
        parts = [Content.assemble((f"{point.chair} {sign} ", colour), (legible(point.when), "$thread"))]
        if point.number is not None and top:
            bar = self.signs.lanes[Lane.HANDS] * max(round(abs(point.number) / top * min(_BAR, width - 4)), 0)
            parts.append(Content.styled(f"    {bar}", colour))
        parts += [Content.styled(f"    {line}", "$chalk") for line in wrap(legible(point.words), max(width - 4, 16))]
        parts += [Content.styled(f"    {line}", "$clay") for line in wrap(legible(point.note), max(width - 4, 16))]
        return parts


def _short(point: TimePoint) -> str:
    return f"{point.chair} {clipped(point.words, 9)}"
