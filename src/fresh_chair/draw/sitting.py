"""One sitting over time: a row an attempt, its lanes, its marks, its limit and benchmark."""

from textwrap import wrap

from matplotlib.artist import Artist
from matplotlib.axes import Axes
from matplotlib.figure import Figure
from matplotlib.lines import Line2D
from matplotlib.patches import Patch

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.sitting.mark_letters import spoken, tick_letter
from fresh_chair.core.sitting.state.attempt import Attempt
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.text import clipped
from fresh_chair.draw.paper import INK, OUTCOME_FILL, QUIET, chair_ink, new_figure, plain_text, quiet_axes

LANE_FILL = {Lane.HANDS: "#d99a3c", Lane.WAIT: "#5f93a6", Lane.ASIDE: "#d5d0c6"}
# A letter is so wide, as a share of the whole axis; so many stand above each other; so many fit under the drawing.
_LETTER_WIDTH, _STOREYS, _LETTERS_A_LINE = 0.012, 3, 150
_LIMIT = OUTCOME_FILL[Outcome.GAVE_UP]


def sitting_chart(study: Study, seat: Seat, sitting: Sitting) -> Figure:
    """The sitting as a drawing over its own time, in minutes.

    Args:
        study: The plan.
        seat: Who sat where.
        sitting: What its journal tells.
    """
    attempts = [attempt for attempt in sitting.tried if attempt.stopped_ns is not None]
    figure = new_figure(10.0, 2.3 + 0.62 * max(len(attempts), 1))
    axes = figure.subplots()
    quiet_axes(axes)
    longest = max((attempt.stopped_ns or 0 for attempt in attempts), default=0) / SECOND / 60
    for row, attempt in enumerate(attempts):
        _attempt(axes, study, seat, attempt, row)
        _letters(axes, attempt, row, longest)
    cards = study.card_by_id
    titles = [cards[a.card].title if a.card in cards else a.card for a in attempts]
    axes.set_yticks(range(len(attempts)), [plain_text(clipped(title, 32)) for title in titles])
    axes.set_ylim(len(attempts) - 0.4, -0.85)
    axes.set_xlim(left=0)
    axes.set_xlabel("minutes since the sitting began", color=QUIET)
    chair = study.chair_by_letter[seat.chair]
    title = f"Sitting {seat.number}: {seat.participant} at {chair.title}"
    figure.suptitle(plain_text(title), fontsize=11, color=chair_ink(chair))
    handles: list[Artist] = [Patch(facecolor=LANE_FILL[lane], label=lane.value) for lane in Lane]
    handles.append(Line2D([], [], color=QUIET, marker="^", linestyle="none", label="expert"))
    handles.append(Line2D([], [], color=_LIMIT, marker="|", linestyle="none", label="limit"))
    words = {"title": "\n".join(wrap(spoken(), _LETTERS_A_LINE)), "title_fontsize": 7, "fontsize": 8}
    figure.legend(handles=handles, loc="outside lower center", ncols=5, frameon=False, **words)
    return figure


def _letters(axes: Axes, attempt: Attempt, row: int, longest: float) -> None:
    """The letters of an attempt's marks; those too near each other stand one above the other."""
    apart = max(longest, 1.0) * _LETTER_WIDTH
    ends = [-apart] * _STOREYS
    for tick in sorted(attempt.ticks, key=lambda tick: tick.at_ns):
        letter = tick_letter(tick)
        if not letter:
            continue
        at = tick.at_ns / SECOND / 60
        free = [storey for storey, end in enumerate(ends) if at - end >= apart]
        storey = free[0] if free else min(range(_STOREYS), key=lambda each: ends[each])
        at = max(at, ends[storey] + apart)
        ends[storey] = at
        axes.text(at, row - 0.27 - 0.15 * storey, letter, ha="center", va="center", fontsize=6.5, color=INK)


def _attempt(axes: Axes, study: Study, seat: Seat, attempt: Attempt, row: int) -> None:
    for span in attempt.spans:
        begin, end = span.begin_ns / SECOND / 60, span.end_ns / SECOND / 60
        axes.barh(row, end - begin, left=begin, height=0.36, color=LANE_FILL[span.lane])
    card = study.card_by_id.get(attempt.card)
    if card is not None:
        benchmark = card.benchmark_seconds.get(seat.chair)
        limit_ns = attempt.line_ns(card.limit_seconds * SECOND)
        if benchmark is not None:
            at = attempt.line_ns(round(benchmark * SECOND)) / SECOND / 60
            axes.plot([at], [row + 0.3], marker="^", color=QUIET, markersize=4)
        if limit_ns <= (attempt.stopped_ns or attempt.started_ns):
            axes.plot([limit_ns / SECOND / 60], [row], marker="|", color=_LIMIT, markersize=14)
    if attempt.outcome is not None:
        said = f" {attempt.outcome.sign} {clock_text(attempt.lane_ns(Lane.HANDS))}"
        axes.text((attempt.stopped_ns or 0) / SECOND / 60, row, said, va="center", fontsize=8, color=INK)
