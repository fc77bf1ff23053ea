"""Chairs compared over all tasks: a verdict a pair, drawn between its two chairs. Pure drawing."""

from collections.abc import Callable, Iterator, Sequence
from math import exp
from textwrap import wrap

from textual.content import Content

from fresh_chair.core.figures.estimate import Estimate
from fresh_chair.core.figures.overall.estimates import MeasureOverall, OverallMeasure, OverallVerdict, VerdictKind
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.text import legible
from fresh_chair.core.words.overall import OverallSentence, OverallWords, overall_lines
from fresh_chair.tui.weigh.widgets.axis import Axis, interval_row
from fresh_chair.tui.widgets.signs import Signs, chair_colour

# How far the axis of a measure goes at least, in its margins; intervals beyond it point outwards.
_REACH, _WIDEST = 2.0, 6.0


def overall_panel(
    weighing: Weighing,
    words: OverallWords,
    signs: Signs,
    width: int,
    *,
    first: Sequence[Content],
    brief: str,
    figures: bool,
) -> Content:
    """All measures, the primary first.

    Args:
        weighing: The figures.
        words: Their sentences.
        signs: How points and lines are drawn.
        width: Of the panel, in cells.
        first: The chairs across, and how sure one can be of it.
        brief: What differs between the chairs besides, and whose evidence counts; empty for nothing.
        figures: Whether every number stands below its sentence.
    """
    parts: list[Content] = [Content.styled(legible(note), "$lamp") for note in words.notes]
    if not words.sentences:
        parts.append(Content.styled("It takes two chairs to compare.", "$thread"))
    parts += [*first, Content("")]
    if brief:
        parts.append(Content.styled(legible(brief), "$thread"))
    parts.append(Content.styled("A point lies nearer to the chair that is better; | is even, : the margin.", "$thread"))
    for heading, sentence in overall_lines(words.sentences):
        found = weighing.overall[sentence.measure]
        axis = _axis(found, max(min(width, 100) - 8, 20))
        if heading:
            margin = _LABELS[found.measure](found.verdicts[0].margin)
            parts += [Content(""), Content.assemble((heading, "bold $chalk"), (f"  margin {margin}", "$thread"))]
        parts += _pair(weighing, found, sentence, axis, signs, width)
        if figures:
            parts += _wrapped(sentence.figures, width, "$thread")
    return Content("\n").join(parts)


def _pair(
    weighing: Weighing, found: MeasureOverall, sentence: OverallSentence, axis: Axis, signs: Signs, width: int
) -> Iterator[Content]:
    verdict = next(
        v for v in found.verdicts if (v.estimate.first, v.estimate.second) == (sentence.first, sentence.second)
    )
    first, second = (weighing.study.chair_by_letter[letter] for letter in (sentence.first, sentence.second))
    colour = chair_colour(weighing.study.chair_by_letter[verdict.winner]) if verdict.winner else "$chalk"
    yield Content.assemble(
        (f"{first.letter:>3} ", f"bold {chair_colour(first)}"),
        _guided(interval_row(_drawn(found.measure, verdict), axis, signs, colour), verdict.margin, axis, signs.point),
        (f" {second.letter}", f"bold {chair_colour(second)}"),
    )
    clear = sentence.kind is not VerdictKind.CANNOT_TELL
    yield from _wrapped(sentence.verdict, width, "bold $lamp" if clear else "$chalk")
    yield from _wrapped(sentence.seen, width, "$thread")


def _wrapped(words: str, width: int, style: str) -> Iterator[Content]:
    """Words below the letters of their chairs, as many lines as they take."""
    for line in wrap(legible(words), max(width - 6, 20)):
        yield Content.styled(f"    {line}", style)


def _drawn(measure: OverallMeasure, verdict: OverallVerdict) -> Estimate:
    """The difference with its better side turned to that chair: the first chair's is the left one."""
    pair = verdict.estimate
    value, low, high = pair.value, verdict.low, verdict.high
    if measure != "time":
        value = None if value is None else -value
        low, high = (None if verdict.high is None else -verdict.high), (None if verdict.low is None else -verdict.low)
    return Estimate(value, low, high, pair.people, "")


def _axis(found: MeasureOverall, width: int) -> Axis:
    margin = found.verdicts[0].margin if found.verdicts else 1.0
    ends = [abs(end) for v in found.verdicts for end in (v.low, v.high) if end is not None]
    reach = min(max([_REACH * margin, *ends]), _WIDEST * margin)
    return Axis(-reach, reach, width)


def _guided(drawn: Content, margin: float, axis: Axis, point: str) -> Content:
    """The row with even and both margins marked; the point itself stands before them."""
    for value, sign in ((-margin, ":"), (0.0, "|"), (margin, ":")):
        column = axis.column(value)
        if drawn.plain[column] != point:
            drawn = drawn[:column] + Content.styled(sign, "$thread") + drawn[column + 1 :]
    return drawn


def _points(margin: float) -> str:
    return f"{margin:g} {'point' if margin == 1 else 'points'}"


_LABELS: dict[OverallMeasure, Callable[[float], str]] = {
    "who fared better": lambda margin: f"{100 * margin:.0f} net",
    "completed unaided": lambda margin: _points(round(100 * margin)),
    "completed": lambda margin: _points(round(100 * margin)),
    "time": lambda margin: f"{exp(margin):.2f}-fold",
    "ease": lambda margin: _points(margin),
    "satisfaction": lambda margin: _points(margin),
}
