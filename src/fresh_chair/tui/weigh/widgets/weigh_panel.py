"""One task across chairs: completion, time and ease, each on an axis of its own. Pure drawing."""

from textual.content import Content

from fresh_chair.core.figures.cell import CellFigures
from fresh_chair.core.figures.estimate import Estimate, interval_words
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.chairs import Chair
from fresh_chair.core.text import clipped, legible
from fresh_chair.core.words.figures import FigureWords, interval_name, time_words
from fresh_chair.tui.weigh.widgets.axis import Axis, interval_row, scale_row, time_label, time_ticks
from fresh_chair.tui.widgets.signs import Signs, chair_colour

_RIGHT = 26


def weigh_panel(weighing: Weighing, words: FigureWords, card: TaskCard, signs: Signs, width: int) -> Content:
    """Everything about one task, sentences first."""
    name_width = 18 if width >= 74 else 4
    axis_width = max(width - name_width - _RIGHT - 2, 16)
    cells = [(chair, weighing.cells[card.id, chair.letter]) for chair in weighing.study.chairs]
    parts: list[Content] = []
    parts.append(Content.styled(legible(words.positions), "$thread"))
    for sentence in words.said.get(card.id, ()):
        verdict, _, rest = legible(sentence).partition(". ")
        parts.append(Content.assemble((f"{verdict}. ", "bold $lamp"), (rest, "$chalk")))
    if words.brief:
        parts.append(Content.styled(words.brief, "$thread"))
    choice = weighing.choice
    parts += [Content(""), *_completion(cells, signs, name_width, axis_width, interval_name(choice.interval))]
    parts += [Content(""), *_times(cells, signs, name_width, axis_width, time_words(choice.times))]
    parts += [Content(""), *_ease(cells, signs, name_width, axis_width)]
    return Content("\n").join(parts)


def _name(chair: Chair, width: int) -> tuple[str, str]:
    text = f"{chair.letter} {legible(chair.title)}" if width > 6 else chair.letter
    return clipped(text, width - 1).ljust(width), chair_colour(chair)


def _row(chair: Chair, name_width: int, drawn: Content, said: str, *, first: bool = True) -> Content:
    name = _name(chair, name_width) if first else (" " * name_width, "")
    return Content.assemble(name, drawn, "  ", (said, "$chalk" if first else "$thread"))


def _completion(
    cells: list[tuple[Chair, CellFigures]], signs: Signs, name_width: int, width: int, interval: str
) -> list[Content]:
    axis = Axis(0.0, 1.0, width)
    title = f"completed: {signs.point} unaided or with help, {signs.hollow} unaided ({interval}, 95 %)"
    rows = [Content.styled(title, "bold $chalk")]
    for chair, cell in cells:
        rate, strict, colour = cell.lenient, cell.strict, chair_colour(chair)
        missed = f", {cell.not_reached} not reached" if cell.not_reached else ""
        said = f"{rate.x} of {rate.n}{missed}" if rate.n else f"nobody yet{missed}"
        rows.append(_row(chair, name_width, interval_row(rate, axis, signs, colour), said))
        if rate.n and strict.x != rate.x:
            drawn = interval_row(strict, axis, signs, colour, point=signs.hollow)
            rows.append(_row(chair, name_width, drawn, f"{strict.x} of {strict.n} alone", first=False))
        if cell.by_workaround:
            said = f"{cell.by_workaround} by a workaround"
            rows.append(Content.styled(f"{'':{name_width + width + 2}}{said}", "$thread"))
    scale = scale_row(axis, [0.0, 0.25, 0.5, 0.75, 1.0], lambda share: f"{100 * share:.0f}%")
    return [*rows, Content.assemble(" " * name_width, scale)]


def _times(
    cells: list[tuple[Chair, CellFigures]], signs: Signs, name_width: int, width: int, time: str
) -> list[Content]:
    values = [e.value for _, cell in cells for e in (cell.all_seconds, cell.completed_seconds) if e.value is not None]
    values += [cell.benchmark_seconds for _, cell in cells if cell.benchmark_seconds is not None]
    expert = f", {signs.expert} expert" if any(cell.benchmark_seconds is not None for _, cell in cells) else ""
    title = f"{time}: {signs.point} median of all but blocked, {signs.hollow} geometric mean of completed{expert}"
    rows = [Content.styled(title, "bold $chalk")]
    if not values:
        return [*rows, Content.styled("no times yet", "$thread")]
    # An interval from two people can reach from nothing to hours; the axis keeps to where the times are.
    axis = Axis(max(min(values) / 2, 0.5), max(values) * 3, width, logarithmic=True)
    for chair, cell in cells:
        colour = chair_colour(chair)
        rows.append(
            _row(chair, name_width, interval_row(cell.all_seconds, axis, signs, colour), _seconds(cell.all_seconds))
        )
        drawn = interval_row(cell.completed_seconds, axis, signs, colour, point=signs.hollow)
        if cell.benchmark_seconds is not None:
            drawn = _with_expert(drawn, axis.column(cell.benchmark_seconds), signs)
        rows.append(_row(chair, name_width, drawn, _seconds(cell.completed_seconds), first=False))
    scale = scale_row(axis, time_ticks(axis.low, axis.high), time_label)
    return [*rows, Content.assemble(" " * name_width, scale)]


def _with_expert(drawn: Content, column: int, signs: Signs) -> Content:
    mark = Content.styled(signs.expert, "$thread")
    return drawn[:column] + mark + drawn[column + 1 :]


def _ease(cells: list[tuple[Chair, CellFigures]], signs: Signs, name_width: int, width: int) -> list[Content]:
    axis = Axis(1.0, 7.0, width)
    rows = [Content.styled("ease, 1 very difficult to 7 very easy (mean, t interval)", "bold $chalk")]
    for chair, cell in cells:
        counts = "".join(str(count) if count else "." for count in cell.ease_counts)
        said = "no ratings" if cell.ease.value is None else f"mean {cell.ease.value:.1f}, n {cell.ease.n}  {counts}"
        rows.append(_row(chair, name_width, interval_row(cell.ease, axis, signs, chair_colour(chair)), said))
    scale = scale_row(axis, [float(score) for score in range(1, 8)], lambda score: f"{score:.0f}")
    return [*rows, Content.assemble(" " * name_width, scale, ("  how often 1 to 7", "$thread"))]


def _seconds(estimate: Estimate) -> str:
    if estimate.value is None:
        return estimate.note.split(":")[-1].strip()
    if estimate.low is None:
        return f"{estimate.value:.0f} s, n {estimate.n}"
    return f"{estimate.value:.0f} s ({interval_words(estimate.low, estimate.high, most=9999)}) n {estimate.n}"
