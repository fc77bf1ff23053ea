"""Every pair on every task as dots and intervals on one axis, and each person's times. Pure drawing."""

from collections.abc import Iterator

from textual.content import Content

from fresh_chair.core.figures.course.typical import typical_times
from fresh_chair.core.figures.single.comparison import Comparison, Measure
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.text import legible
from fresh_chair.core.words.figures import time_words
from fresh_chair.tui.weigh.widgets.axis import Axis, interval_row, scale_row, time_label, time_ticks
from fresh_chair.tui.widgets.signs import Signs, chair_colour

_LEFT = 10
_RATIOS = (0.1, 0.25, 0.5, 1.0, 2.0, 4.0, 10.0)


def drawn_pairs(weighing: Weighing, signs: Signs, width: int) -> Iterator[Content]:
    """Completion of all tasks on one axis, then times on one, then each person's own times."""
    room = max(min(width, 110) - _LEFT - 2, 24)
    yield Content.styled("completed, the first less the second, points of 100", "bold $lamp")
    axis = Axis(-1.0, 1.0, room)
    yield from _tasks(weighing, Measure.COMPLETION, axis, signs)
    scale = scale_row(axis, [-1.0, -0.5, 0.0, 0.5, 1.0], lambda share: f"{100 * share:+.0f}")
    yield Content.assemble(" " * _LEFT, scale)
    yield Content("")
    time = time_words(weighing.choice.times)
    yield Content.styled(f"{time}, the first over the second", "bold $lamp")
    axis = Axis(_RATIOS[0], _RATIOS[-1], room, logarithmic=True)
    yield from _tasks(weighing, Measure.TIME, axis, signs)
    yield Content.assemble(" " * _LEFT, scale_row(axis, list(_RATIOS), lambda ratio: f"{ratio:g}"))
    yield Content("")
    yield from _people(weighing, time, room, signs)


def _tasks(weighing: Weighing, measure: Measure, axis: Axis, signs: Signs) -> Iterator[Content]:
    titles = {card.id: card.title for card in weighing.study.cards}
    for card, listed in weighing.comparisons.items():
        yield Content.styled(f"  {legible(titles[card])}", "$chalk")
        for each in listed:
            if each.measure is measure:
                yield _pair(weighing, each, axis, signs)


def _pair(weighing: Weighing, each: Comparison, axis: Axis, signs: Signs) -> Content:
    winner = {"first better": each.first, "second better": each.second}.get(each.verdict.value)
    colour = chair_colour(weighing.study.chair_by_letter[winner]) if winner else "$thread"
    label = (f"    {each.first} - {each.second}".ljust(_LEFT), "$thread")
    if each.estimate.value is None:
        return Content.assemble(label, ("nothing to compare", "$thread"))
    drawn = interval_row(each.estimate, axis, signs, colour)
    even = axis.column(1.0 if each.measure is Measure.TIME else 0.0)
    if drawn.plain[even] != signs.point:
        drawn = drawn[:even] + Content.styled("|", "$chalk") + drawn[even + 1 :]
    return Content.assemble(label, drawn)


def _people(weighing: Weighing, time: str, room: int, signs: Signs) -> Iterator[Content]:
    """Each person's chairs by their letters, where their typical times lie."""
    found = typical_times(weighing.facts)
    values = [seconds for times in found.values() for seconds in times.values()]
    yield Content.styled(f"{time} of each person, over the tasks they completed at all their chairs", "bold $lamp")
    if not values:
        yield Content.styled("  no task was completed by anyone at all of their chairs", "$thread")
        return
    axis = Axis(max(min(values) / 1.5, 0.5), max(values) * 1.5, room, logarithmic=True)
    for person, times in sorted(found.items()):
        cells: list[tuple[str, str]] = [(" ", "")] * room
        columns = {letter: axis.column(seconds) for letter, seconds in times.items()}
        for column in range(min(columns.values()), max(columns.values()) + 1):
            cells[column] = (signs.line, "$seam")
        for letter, column in columns.items():
            cells[column] = (letter, f"bold {chair_colour(weighing.study.chair_by_letter[letter])}")
        yield Content.assemble((f"  {legible(person)}".ljust(_LEFT), "$thread"), *cells)
    yield Content.assemble(" " * _LEFT, scale_row(axis, time_ticks(axis.low, axis.high), time_label))
