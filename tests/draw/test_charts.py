"""Charts: the data in them, and the same bytes every time."""

import numpy as np
import pytest
from matplotlib.patches import Rectangle

from fresh_chair.core.figures.weighing import Weighing
from fresh_chair.core.outcome import Outcome
from fresh_chair.draw.charts import outcomes_chart, times_chart
from fresh_chair.draw.paper import OUTCOME_FILL, chair_ink, saved
from fresh_chair.services.desk import Desk
from fresh_chair.services.weighing import weigh


@pytest.fixture
def weighing(demo: Desk) -> Weighing:
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


@pytest.mark.parametrize("kind", ["svg", "pdf"])
def test_the_same_study_gives_the_same_bytes(weighing: Weighing, kind: str) -> None:
    for chart in (outcomes_chart, times_chart):
        assert saved(chart(weighing), kind) == saved(chart(weighing), kind)


def test_text_in_the_svg_can_be_selected(weighing: Weighing) -> None:
    svg = saved(times_chart(weighing), "svg").decode()
    assert "The letter about the boiler</text>" in svg
