"""Scorecards and how firm they are, against cases whose answer can be worked out by hand."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from fresh_chair.core.evidence.judged import ChairVerdict, Criterion
from fresh_chair.core.judgement.firmness import DRAWS, DrawnRule, one_measure, over_weights, several
from fresh_chair.core.judgement.scorecard import (
    ScoreCell,
    ScoreRow,
    fed_twice,
    mapped,
    ranks,
    score_words,
    totals,
    weighted_parts,
)
from fresh_chair.core.words.scorecards import rule_words


def row(name: str, scores: dict[str, float | None], *, weight: float = 1, figure: str = "") -> ScoreRow:
    worst, best = (0.0, 1.0) if figure else (None, None)
    criterion = Criterion(id=name, name=name, weight=weight, figure=figure, worst=worst, best=best)  # type: ignore[arg-type]
    return ScoreRow(criterion, tuple(ScoreCell(chair, value) for chair, value in scores.items()))


def test_a_figure_is_mapped_in_proportion_and_never_beyond_the_scale() -> None:
    times = Criterion(id="t", name="quick", figure="time", worst=6.0, best=2.0, low=0, high=5)
    assert [mapped(times, value) for value in (8.0, 6.0, 4.0, 2.0, 1.0)] == [0, 0, 2.5, 5, 5]
    assert rule_words(times) == "time: 6 gives 0, 2 gives 5, in between in proportion"


def test_a_scale_in_words_says_the_nearest_of_them() -> None:
    told = Criterion(id="w", name="w", high=3, names=("many", "some", "few", "none"))
    assert [score_words(told, value) for value in (0, 1.4, 1.6, 3, None)] == ["many", "some", "few", "none", "-"]


def test_sums_are_weighted_parts_of_the_scales() -> None:
    rows = [row("x", {"A": 10, "B": 5}, weight=3), row("y", {"A": 0, "B": 10}, weight=1)]
    first, second = totals(rows, ["A", "B"])
    # A: (3 * 1 + 1 * 0) / 4; B: (3 * 0.5 + 1 * 1) / 4.
    assert (first.weighted, second.weighted) == (75.0, 62.5)
    assert (first.plain, second.plain) == (10, 15)
    assert (first.rank, second.rank) == (1, 2)


def test_what_is_missing_is_never_nought_and_takes_its_criterion_out_of_every_sum() -> None:
    rows = [row("x", {"A": 2, "B": 4}), row("y", {"A": 10, "B": None})]
    first, second = totals(rows, ["A", "B"])
    assert (first.weighted, second.weighted) == (20.0, 40.0)
    assert second.missing == ("y",)
    assert second.rank == 1


def test_a_chair_without_any_score_does_not_stand_on_the_card() -> None:
    rows = [row("x", {"A": 2, "B": 4, "C": None})]
    assert [each.rank for each in totals(rows, ["A", "B", "C"])] == [2, 1, None]
    assert "C" not in weighted_parts(rows, ["A", "B", "C"])


def test_equal_sums_share_a_rank() -> None:
    assert ranks({"A": 50.0, "B": 50.0 + 1e-12, "C": 10.0, "D": None}) == {"A": 1, "B": 1, "C": 3}


def test_a_fact_under_two_criteria_is_pointed_at() -> None:
    twice = [row("x", {"A": 1}, figure="ease"), row("y", {"A": 2}, figure="ease"), row("z", {"A": 3}, figure="time")]
    assert fed_twice(twice) == ("x and y are both mapped from ease",)
    own = [
        ScoreRow(Criterion(id=n, name=n), (ScoreCell("A", 1.0, rests_on=("finding:F1", "attempt:1/1")),)) for n in "pq"
    ]
    assert fed_twice(own) == ("p and q both rest on finding:F1",)


@given(st.floats(-2, 2), st.floats(0.05, 2), st.integers(3, 40))
def test_two_chairs_of_one_measure_are_ranked_as_the_t_distribution_says(
    effect: float, error: float, degrees: int
) -> None:
    covariance = np.array([[0.0, 0.0], [0.0, error**2]])
    found = one_measure(["A", "B"], np.array([0.0, effect]), covariance, degrees, higher_wins=True)
    # B is first where effect + error t > 0; four standard errors of a share of 1,000 draws.
    chance = stats.t.cdf(effect / error, degrees)
    assert found.chances["B"][0] == pytest.approx(chance, abs=4 * 0.5 / DRAWS**0.5)
    assert found.chances["A"][0] + found.chances["B"][0] == pytest.approx(1)


def test_lower_times_win() -> None:
    covariance = np.array([[0.0, 0.0], [0.0, 0.01]])
    found = one_measure(["A", "B"], np.array([0.0, 2.0]), covariance, 20, higher_wins=False)
    assert found.firm("A", 1)


def people(count: int, at: dict[str, float], spread: float) -> list[dict[tuple[int, str], tuple[float, float]]]:
    noise = np.random.default_rng(4)
    return [
        {(0, chair): (value + spread * float(noise.normal()), 1.0) for chair, value in at.items()} for _ in range(count)
    ]


def test_people_drawn_again_tell_clear_chairs_apart_and_leave_equal_ones_open() -> None:
    score = {0: DrawnRule(0.0, 1.0, 1.0)}
    clear = several(["A", "B"], people(12, {"A": 0.8, "B": 0.3}, 0.1), score, {}, sittings=24, degrees=10)
    assert clear.firm("A", 1)
    open_ = several(["A", "B"], people(12, {"A": 0.5, "B": 0.5}, 0.1), score, {}, sittings=24, degrees=10)
    assert not open_.firm("A", 1)
    assert not open_.firm("B", 1)


def test_draws_are_widened_for_the_design_about_the_estimate() -> None:
    score = {0: DrawnRule(-10.0, 10.0, 1.0)}
    drawn = people(8, {"A": 0.3, "B": 0.0}, 0.6)
    narrow = several(["A", "B"], drawn, score, {}, sittings=16, degrees=1000)
    wide = several(["A", "B"], drawn, score, {}, sittings=16, degrees=3)
    assert max(wide.chances["A"]) < max(narrow.chances["A"])


def test_scores_of_ones_own_move_every_draw_alike() -> None:
    score = {0: DrawnRule(0.0, 1.0, 1.0)}
    found = several(["A", "B"], people(12, {"A": 0.8, "B": 0.3}, 0.1), score, {(1, "B"): 5.0}, sittings=24, degrees=10)
    assert found.firm("B", 1)


def test_over_all_weights_each_wins_where_it_is_better() -> None:
    shares = over_weights(["A", "B"], {"A": [1.0, 0.0], "B": [0.0, 1.0]})
    assert shares["A"] == pytest.approx(0.5, abs=4 * 0.5 / DRAWS**0.5)
    assert over_weights(["A", "B"], {"A": [1.0, 1.0], "B": [0.0, 0.5]}) == {"A": 1.0, "B": 0.0}
    # A tie is no win, and one criterion has one weight only.
    assert over_weights(["A", "B"], {"A": [0.4, 0.4], "B": [0.4, 0.4]}) == {"A": 0.0, "B": 0.0}
    assert over_weights(["A", "B"], {"A": [0.4], "B": [0.5]}) == {}


@pytest.mark.parametrize(
    ("given", "why"),
    [
        ({"says": "recommended if", "chair": "A"}, "needs the condition"),
        ({"says": "wait for", "chair": "A"}, "needs the condition"),
        ({"says": "recommended"}, "only “no clear winner” is of no chair"),
        ({"says": "recommended", "chair": "A", "on": "soon"}, "the day of the verdict"),
    ],
)
def test_a_verdict_that_says_nothing_is_refused(given: dict[str, str], why: str) -> None:
    with pytest.raises(ValueError, match=why):
        ChairVerdict(id="v", **given)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("given", "why"),
    [
        ({"low": 3.0, "high": 3.0}, "from a lower to a higher"),
        ({"figure": "ease"}, "lowest and the highest"),
        ({"figure": "ease", "worst": 2.0, "best": 2.0}, "lowest and the highest"),
        ({"names": ("good",)}, "two steps"),
    ],
)
def test_a_criterion_without_a_rule_or_a_scale_is_refused(given: dict[str, object], why: str) -> None:
    with pytest.raises(ValueError, match=why):
        Criterion(id="c", name="c", **given)  # type: ignore[arg-type]
