"""The two charts of a short report: outcomes by task and chair, and time on task by chair."""

from matplotlib.axes import Axes
from matplotlib.figure import Figure
from matplotlib.patches import Patch
from matplotlib.ticker import FuncFormatter, NullFormatter, NullLocator

from fresh_chair.core.figures.cell import CellFigures
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.plan.chairs import Chair
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.core.words.figures import time_words
from fresh_chair.draw.paper import INK, OUTCOME_FILL, QUIET, chair_ink, inside, new_figure, plain_text, quiet_axes

_DARK = (Outcome.UNAIDED, Outcome.BLOCKED, Outcome.GAVE_UP)
# More attempts than this in a cell are bars, not squares.
MOST_SQUARES = 24
_ROUND_TIMES = (1, 2, 5, 10, 20, 30, 60, 120, 300, 600, 1200, 1800, 3600, 7200)


def outcomes_chart(weighing: Weighing, words: Words = ENGLISH) -> Figure:
    """Every attempt as one square: tasks down, chairs across, best outcomes first, void ones last and pale."""
    study = weighing.study
    figure = new_figure(3.0 + 2.3 * max(len(study.chairs), 1), 1.6 + 0.36 * max(len(study.cards), 1))
    columns = figure.subplots(1, max(len(study.chairs), 1), sharey=True, squeeze=False)[0]
    most = max([sum(cell.counts.values()) for cell in weighing.cells.values()] or [1]) or 1
    for axes, chair in zip(columns, study.chairs, strict=False):
        _outcome_column(axes, weighing, chair, most, words)
    squares = most <= MOST_SQUARES
    if study.cards:
        columns[0].set_yticks(range(len(study.cards)), [plain_text(card.title) for card in study.cards])
        columns[0].invert_yaxis()
    handles = [
        Patch(facecolor=OUTCOME_FILL[outcome], label=f"{outcome.sign} {words.say(outcome.words)}")
        for outcome in Outcome
    ]
    figure.legend(handles=handles, loc="outside lower center", ncols=4, frameon=False, fontsize=8)
    one = words.say("Outcomes by task and chair: one square an attempt")
    many = words.say("Outcomes by task and chair: a bar an outcome, as long as its attempts are many")
    figure.suptitle(one if squares else many, fontsize=11, color=INK)
    return figure


def times_chart(weighing: Weighing, words: Words = ENGLISH) -> Figure:
    """Hands time by task and chair: the median of all attempts with its interval, the expert's time beside it."""
    study = weighing.study
    rows = len(study.cards) * max(len(study.chairs), 1)
    figure = new_figure(8.2, 1.85 + 0.24 * max(rows, 1) + 0.12 * len(study.cards))
    axes = figure.subplots()
    quiet_axes(axes)
    axes.set_xscale("log")
    labels: list[tuple[float, str]] = []
    for index, card in enumerate(study.cards):
        base = index * (len(study.chairs) + 0.6)
        for step, chair in enumerate(study.chairs):
            _time_row(axes, weighing.cells[card.id, chair.letter], chair, base + step, words)
        labels.append((base + (len(study.chairs) - 1) / 2, plain_text(card.title)))
    if labels:
        axes.set_yticks([at for at, _ in labels], [label for _, label in labels])
        axes.invert_yaxis()
    # On two lines from the right edge: long titles leave little room beside them.
    said = words.say(
        "{time} in seconds, log scale\nbars: 95 % interval, arrow: open upper end",
        time=time_words(weighing.choice.times, words),
    )
    axes.set_xlabel(said, color=QUIET, loc="right")
    _time_axis(axes)
    _time_legend(figure, study, words)
    figure.suptitle(words.say("Time on task by chair: median of all attempts (Kaplan-Meier)"), fontsize=11, color=INK)
    return figure


def _outcome_column(axes: Axes, weighing: Weighing, chair: Chair, most: int, words: Words) -> None:
    quiet_axes(axes)
    axes.grid(visible=False)
    axes.set_title(plain_text(chair.title, 26), color=chair_ink(chair), fontsize=9, loc="left")
    for row, card in enumerate(weighing.study.cards):
        _outcome_row(axes, weighing.cells[card.id, chair.letter], row, most, words)
    axes.set_xlim(-0.1, most + 1.6)
    axes.set_ylim(-0.6, len(weighing.study.cards) - 0.4)
    axes.set_xticks([])
    axes.spines["bottom"].set_visible(False)


def _outcome_row(axes: Axes, cell: CellFigures, row: int, most: int, words: Words) -> None:
    at = 0
    for outcome in Outcome:
        count = cell.counts[outcome]
        if count and most > MOST_SQUARES:
            _outcome_bar(axes, outcome, row, at, count, most)
        elif count:
            lefts = [at + step for step in range(count)]
            axes.barh([row] * count, [0.86] * count, left=lefts, height=0.66, color=OUTCOME_FILL[outcome])
            ink = "white" if outcome in _DARK else INK
            for left in lefts:
                # Never colour alone: each square carries its sign as well.
                inside(axes.text(left + 0.43, row, outcome.sign, ha="center", va="center", fontsize=7, color=ink))
        at += count
    said = words.say("{x} of {n}", x=cell.lenient.x, n=cell.n) if cell.n else words.say("none")
    if cell.by_workaround:
        said += words.say(" ({count} by a workaround)", count=cell.by_workaround)
    none = OUTCOME_FILL[Outcome.GAVE_UP]
    inside(axes.text(most + 0.25, row, said, va="center", fontsize=8, color=INK if cell.n else none))


def _outcome_bar(axes: Axes, outcome: Outcome, row: int, at: int, count: int, most: int) -> None:
    """So many attempts of one outcome as one bar, with its sign and, where there is room, their number."""
    axes.barh([row], [count - 0.14], left=[at], height=0.66, color=OUTCOME_FILL[outcome])
    ink = "white" if outcome in _DARK else INK
    said = f"{outcome.sign} {count}" if count > most / 6 else outcome.sign
    inside(axes.text(at + count / 2, row, said, ha="center", va="center", fontsize=7, color=ink))


def _time_row(axes: Axes, cell: CellFigures, chair: Chair, row: float, words: Words) -> None:
    ink = chair_ink(chair)
    estimate = cell.all_seconds
    if cell.benchmark_seconds is not None:
        axes.plot([cell.benchmark_seconds], [row], marker="|", color=QUIET, markersize=8)
    if estimate.low is not None:
        end = estimate.high if estimate.high is not None else max(estimate.value or estimate.low, estimate.low) * 1.6
        axes.plot([estimate.low, end], [row, row], color=ink, linewidth=1.6, solid_capstyle="butt")
        if estimate.high is None:
            axes.plot([end], [row], marker=">", color=ink, markersize=4)
    if estimate.value is not None:
        axes.plot([estimate.value], [row], marker="o", color=ink, markersize=5)
    elif cell.n:
        said = "   " + words.say("fewer than half done")
        axes.text(cell.benchmark_seconds or 10, row, said, va="center", fontsize=7, color=ink)


def _time_axis(axes: Axes) -> None:
    low, high = axes.get_xlim()
    ticks = [tick for tick in _ROUND_TIMES if low <= tick <= high]
    axes.set_xticks(ticks)
    # Room to the right of the last label, which stands half beyond its tick.
    axes.set_xlim(low, max(high, (ticks[-1] if ticks else high) * 1.12))
    axes.xaxis.set_major_formatter(FuncFormatter(lambda value, _: f"{value:g}"))
    axes.xaxis.set_minor_locator(NullLocator())
    axes.xaxis.set_minor_formatter(NullFormatter())


def _time_legend(figure: Figure, study: Study, words: Words) -> None:
    handles = [Patch(facecolor=chair_ink(chair), label=plain_text(chair.title, 26)) for chair in study.chairs]
    handles.append(Patch(facecolor=QUIET, label=words.say("expert (upright stroke)")))
    figure.legend(handles=handles, loc="outside lower center", ncols=4, frameon=False, fontsize=8)
