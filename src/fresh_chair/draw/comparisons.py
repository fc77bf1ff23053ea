"""Charts of comparisons: over all tasks, task by task, and each person's own times."""

from collections.abc import Sequence
from math import log

from matplotlib.axes import Axes
from matplotlib.figure import Figure
from matplotlib.lines import Line2D
from matplotlib.ticker import FuncFormatter, MaxNLocator

from fresh_chair.core.figures.course.typical import typical_times
from fresh_chair.core.figures.overall.estimates import MeasureOverall, OverallVerdict, VerdictKind
from fresh_chair.core.figures.single.comparison import Comparison, Measure
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.plan.study import Study
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.core.words.figures import time_words
from fresh_chair.core.words.overall import measure_words
from fresh_chair.draw.paper import (
    INK,
    QUIET,
    RULE,
    chair_ink,
    inside,
    new_figure,
    quiet_axes,
    ticks_within,
    wrapped_text,
)

_ROW = 0.26


def overall_chart(weighing: Weighing, words: Words = ENGLISH) -> Figure:
    """Each pair on each measure over all tasks, in margins: 0 is even, 1 and -1 are the smallest that matters."""
    rows = [(found, verdict) for found in weighing.overall.values() for verdict in found.verdicts]
    figure = new_figure(8.2, 1.6 + _ROW * 1.5 * max(len(rows), 1))
    axes = figure.subplots()
    quiet_axes(axes)
    labels = []
    for at, (found, verdict) in enumerate(rows):
        _overall_row(axes, weighing.study, found, verdict, at, words)
        pair = f"{verdict.estimate.first} - {verdict.estimate.second}"
        labels.append(f"{measure_words(found.measure, words, weighing.choice.times)}, {pair}")
    if rows:
        axes.set_yticks(range(len(rows)), [wrapped_text(label, 44) for label in labels])
        axes.invert_yaxis()
    for margin in (-1, 1):
        axes.axvline(margin, color=QUIET, linewidth=0.8, linestyle=(0, (2, 2)))
    axes.axvline(0, color=INK, linewidth=0.8)
    axes.set_xlim(-6, 6)
    axes.set_xlabel(words.say("in margins; left: better at the first chair, right: at the second"), color=QUIET)
    figure.suptitle(words.say("Chairs compared over all tasks"), fontsize=11, color=INK)
    return figure


def _overall_row(
    axes: Axes, study: Study, found: MeasureOverall, verdict: OverallVerdict, at: int, words: Words
) -> None:
    pair = verdict.estimate
    if pair.value is None or verdict.low is None or verdict.high is None:
        axes.text(0.1, at, "?", va="center", color=QUIET)
        return
    sign = 1 if found.measure == "time" else -1
    ends = sorted(sign * end / verdict.margin for end in (verdict.low, verdict.high))
    ink = chair_ink(study.chair_by_letter[verdict.winner]) if verdict.winner else QUIET
    _interval(axes, at, sign * pair.value / verdict.margin, ends, ink, (-6, 6))
    if verdict.said is VerdictKind.MIXED:
        axes.text(5.9, at, words.say("mixed"), va="center", ha="right", color=INK, fontsize=8)


def _interval(axes: Axes, at: float, value: float, ends: Sequence[float], ink: str, most: tuple[float, float]) -> None:
    """A dot on its interval; an end beyond the axis points outwards."""
    low, high = max(ends[0], most[0]), min(ends[1], most[1])
    inside(*axes.plot([low, high], [at, at], color=ink, linewidth=1.6, solid_capstyle="butt"))
    if ends[0] < most[0]:
        inside(*axes.plot([low], [at], marker="<", color=ink, markersize=4))
    if ends[1] > most[1]:
        inside(*axes.plot([high], [at], marker=">", color=ink, markersize=4))
    inside(*axes.plot([min(max(value, most[0]), most[1])], [at], marker="o", color=ink, markersize=5))


def tasks_chart(weighing: Weighing, words: Words = ENGLISH) -> Figure:
    """All comparisons of single tasks as dots and intervals over tasks on one axis: completion left, times right."""
    listed = [(card, weighing.comparisons[card.id]) for card in weighing.study.cards]
    pairs = max((sum(c.measure is Measure.TIME for c in each) for _, each in listed), default=1)
    figure = new_figure(9.4, 1.7 + _ROW * max(len(listed) * (pairs + 0.6), 1))
    left, right = figure.subplots(1, 2, sharey=True)
    labels: list[tuple[float, str]] = []
    for index, (card, comparisons) in enumerate(listed):
        base = index * (pairs + 0.6)
        labels.append((base + (pairs - 1) / 2, wrapped_text(card.title)))
        for axes, measure in ((left, Measure.COMPLETION), (right, Measure.TIME)):
            for step, each in enumerate(c for c in comparisons if c.measure is measure):
                _task_row(axes, weighing.study, each, base + step)
    for axes, words_of, limits in (
        (left, words.say("completed, first less second, points of 100"), (-100, 100)),
        (right, words.say("{time}, first over second", time=time_words(weighing.choice.times, words)), (-2.3, 2.3)),
    ):
        quiet_axes(axes)
        axes.axvline(0, color=INK, linewidth=0.8)
        axes.set_xlim(*limits)
        axes.set_xlabel(words_of, color=QUIET)
    ratios = (0.1, 0.25, 0.5, 1, 2, 4, 10)
    right.set_xticks([log(ratio) for ratio in ratios], [f"{ratio:g}" for ratio in ratios])
    if labels:
        left.set_yticks([at for at, _ in labels], [label for _, label in labels])
        left.invert_yaxis()
    figure.suptitle(words.say("Every pair on every task, with 95 % intervals"), fontsize=11, color=INK)
    return figure


def _task_row(axes: Axes, study: Study, each: Comparison, at: float) -> None:
    estimate = each.estimate
    if each.measure is Measure.TIME:
        # Beside the right one of both panels; they share their rows.
        name, place = f"{each.first}{each.second}", axes.get_yaxis_transform()
        label = axes.text(1.01, at, name, transform=place, fontsize=6, va="center")
        # One of them is as wide as the others, and keeps the room for all.
        if at:
            inside(label)
    if estimate.value is None or estimate.low is None or estimate.high is None:
        return
    time = each.measure is Measure.TIME
    shown = [log(v) if time else 100 * v for v in (estimate.low, estimate.value, estimate.high)]
    winner = {"first better": each.first, "second better": each.second}.get(each.verdict.value)
    ink = chair_ink(study.chair_by_letter[winner]) if winner else QUIET
    _interval(axes, at, shown[1], (shown[0], shown[2]), ink, (-2.3, 2.3) if time else (-100, 100))


def paired_times_chart(weighing: Weighing, words: Words = ENGLISH) -> Figure:
    """Each person's typical time at each chair, joined by a line: over the tasks they completed at every one."""
    chairs, by_person = weighing.study.chairs, typical_times(weighing.facts)
    figure = new_figure(6.4, 4.4)
    axes = figure.subplots()
    quiet_axes(axes)
    axes.set_yscale("log")
    for axis_part in (axes.yaxis.set_major_formatter, axes.yaxis.set_minor_formatter):
        axis_part(FuncFormatter(lambda value, _: f"{value:g}"))
    axes.grid(axis="y", color=RULE, linewidth=0.6)
    for person, times in sorted(by_person.items()):
        at = [index for index, chair in enumerate(chairs) if chair.letter in times]
        values = [times[chairs[index].letter] for index in at]
        axes.plot(at, values, color=QUIET, linewidth=1)
        for index, value in zip(at, values, strict=True):
            axes.plot([index], [value], marker="o", color=chair_ink(chairs[index]), markersize=5)
        if at:
            axes.annotate(
                wrapped_text(person), (at[-1], values[-1]), xytext=(6, 0), textcoords="offset points", fontsize=7
            )
    axes.set_xticks(range(len(chairs)), [wrapped_text(chair.title, 22) for chair in chairs])
    axes.set_xlim(-0.3, max(len(chairs) - 0.6, 0.7))
    time = time_words(weighing.choice.times, words)
    axes.set_ylabel(words.say("{time} in seconds, geometric mean", time=time), color=QUIET)
    figure.suptitle(words.say("Each person's times, over the tasks they completed everywhere"), fontsize=11, color=INK)
    return figure


def fared_chart(weighing: Weighing, words: Words = ENGLISH) -> Figure:
    """Who fared better: of the people at both chairs of a pair, how many at which, and how many alike."""
    found = weighing.overall.get("who fared better")
    rows = list(zip(found.verdicts, found.flips, strict=True)) if found is not None else []
    figure = new_figure(7.4, 1.6 + 0.42 * max(len(rows), 1))
    axes = figure.subplots()
    quiet_axes(axes)
    study, labels = weighing.study, []
    for at, (verdict, flip) in enumerate(rows):
        first, second = (study.chair_by_letter[c] for c in (verdict.estimate.first, verdict.estimate.second))
        left = 0
        for count, ink, said in (
            (flip.first, chair_ink(first), first.letter),
            (flip.even, RULE, "="),
            (flip.second, chair_ink(second), second.letter),
        ):
            axes.barh([at], [count], left=[left], color=ink, height=0.6)
            if count:
                shade = INK if ink == RULE else "white"
                axes.text(left + count / 2, at, f"{said} {count}", ha="center", va="center", fontsize=8, color=shade)
            left += count
        labels.append(wrapped_text(f"{first.title} against {second.title}", 38))
    if rows:
        axes.set_yticks(range(len(rows)), labels)
        axes.invert_yaxis()
    handles = [Line2D([], [], color=chair_ink(c), linewidth=6, label=wrapped_text(c.title, 26)) for c in study.chairs]
    figure.legend(handles=handles, loc="outside lower center", ncols=3, frameon=False, fontsize=8)
    axes.xaxis.set_major_locator(MaxNLocator(integer=True))
    ticks_within(axes)
    axes.set_xlabel(words.say("people who were at both"), color=QUIET)
    figure.suptitle(words.say("Who fared better where; it describes, and decides nothing"), fontsize=11, color=INK)
    return figure
