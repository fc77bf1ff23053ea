"""Charts: the data in them, and the same bytes every time."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest
from matplotlib.backends.backend_agg import FigureCanvasAgg
from matplotlib.figure import Figure
from matplotlib.patches import Rectangle
from matplotlib.text import Text

from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.draw.charts import outcomes_chart, times_chart
from fresh_chair.draw.comparisons import fared_chart, overall_chart, paired_times_chart, tasks_chart
from fresh_chair.draw.course import routes_chart, waits_chart
from fresh_chair.draw.paper import OUTCOME_FILL, chair_ink, saved
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.study.open_study import OpenStudy

CHARTS: tuple[Callable[[Weighing], Figure], ...] = (
    outcomes_chart,
    times_chart,
    overall_chart,
    tasks_chart,
    paired_times_chart,
    fared_chart,
    waits_chart,
    routes_chart,
)


@pytest.fixture
def weighing(demo: OpenStudy) -> Weighing:
    return weigh(demo)


def test_the_outcomes_chart_has_one_square_an_attempt_in_its_colour(weighing: Weighing) -> None:
    from matplotlib.colors import to_hex

    figure = outcomes_chart(weighing)
    drawn = [to_hex(p.get_facecolor()) for axes in figure.axes for p in axes.patches if isinstance(p, Rectangle)]
    for outcome in Outcome:
        expected = sum(fact.outcome is outcome for fact in weighing.facts)
        assert drawn.count(OUTCOME_FILL[outcome]) == expected, outcome


def test_the_times_chart_draws_each_median_where_it_is(weighing: Weighing) -> None:
    (axes,) = times_chart(weighing).axes
    dots = [
        (float(np.asarray(line.get_xdata())[0]), line.get_color()) for line in axes.lines if line.get_marker() == "o"
    ]
    expected = [
        (cell.all_seconds.value, chair_ink(weighing.study.chair_by_letter[cell.chair]))
        for cell in weighing.cells.values()
        if cell.all_seconds.value is not None
    ]
    assert sorted(dots) == sorted(expected)
    arrows = sum(line.get_marker() == ">" for line in axes.lines)
    open_ended = [c for c in weighing.cells.values() if c.all_seconds.low is not None and c.all_seconds.high is None]
    assert arrows == len(open_ended)


def test_text_in_the_svg_can_be_selected(weighing: Weighing) -> None:
    svg = saved(times_chart(weighing), "svg").decode()
    assert "The letter about the boiler</text>" in svg


@pytest.mark.filterwarnings("error")
@pytest.mark.parametrize("chart", CHARTS)
def test_everything_stays_on_the_paper_whatever_titles_are_called(
    demo: OpenStudy, chart: Callable[[Weighing], Figure]
) -> None:
    long = "A title $of_200$ letters that no paper was ever wide enough for, " * 3
    study = demo.study
    demo.amend(
        replace(
            study,
            title=long[:200],
            cards=tuple(replace(card, title=f"{n} {long}"[:200]) for n, card in enumerate(study.cards)),
            chairs=tuple(replace(each, name=f"{each.letter} {long}"[:80]) for each in study.chairs),
        )
    )
    figure = chart(weigh(demo))
    saved(figure, "pdf")
    canvas = FigureCanvasAgg(figure)
    canvas.draw()  # type: ignore[no-untyped-call]
    paper = figure.bbox
    for text in figure.findobj(Text):
        if text.get_text().strip() and text.get_visible():
            box = text.get_window_extent()
            assert paper.x0 - 1 <= box.x0, text.get_text()
            assert box.x1 <= paper.x1 + 1, text.get_text()


def test_the_comparison_over_all_tasks_is_drawn_in_margins(weighing: Weighing) -> None:
    (axes,) = overall_chart(weighing).axes
    dots = [float(np.asarray(line.get_xdata())[0]) for line in axes.lines if line.get_marker() == "o"]
    expected = [
        min(max((1 if found.measure == "time" else -1) * verdict.estimate.value / verdict.margin, -6), 6)
        for found in weighing.overall.values()
        for verdict in found.verdicts
        if verdict.estimate.value is not None
    ]
    assert dots == pytest.approx(expected)


def test_waits_add_up_to_what_was_waited(weighing: Weighing) -> None:
    (axes,) = waits_chart(weighing).axes
    drawn = sum(p.get_width() for p in axes.patches if isinstance(p, Rectangle))
    rows = [share for share in weighing.machine if share.card and share.attempts]
    # Talk within a wait is in its kind and not in the lane: each row is as long as the longer of both.
    expected = sum(
        max(share.wait_seconds, share.shown_seconds + share.silent_seconds + share.frozen_seconds) / share.attempts
        for share in rows
    )
    assert drawn == pytest.approx(expected)


def test_each_person_is_a_line_over_the_chairs_they_sat_at(weighing: Weighing) -> None:
    (axes,) = paired_times_chart(weighing).axes
    people = {text.get_text() for text in axes.texts}
    assert people <= {fact.participant for fact in weighing.facts}
    assert len([line for line in axes.lines if len(np.asarray(line.get_xdata())) > 1]) == len(people)
