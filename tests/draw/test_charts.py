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
from fresh_chair.draw.paper import OUTCOME_FILL, chair_ink, saved
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.study.open_study import OpenStudy


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


@pytest.mark.parametrize("kind", ["svg", "pdf"])
def test_the_same_study_gives_the_same_bytes(weighing: Weighing, kind: str) -> None:
    for chart in (outcomes_chart, times_chart):
        assert saved(chart(weighing), kind) == saved(chart(weighing), kind)


def test_text_in_the_svg_can_be_selected(weighing: Weighing) -> None:
    svg = saved(times_chart(weighing), "svg").decode()
    assert "The letter about the boiler</text>" in svg


@pytest.mark.filterwarnings("error")
@pytest.mark.parametrize("chart", [outcomes_chart, times_chart])
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
