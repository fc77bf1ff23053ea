"""Time on task against its sources and against SciPy."""

import math
import warnings

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from fresh_chair.core.figures.estimate import mean_with_t
from fresh_chair.core.figures.times import (
    censored_median,
    geometric_mean,
    paired_ratio,
    survival_steps,
)

# To a thousandth of a second, as times are shown: SciPy warns of nearly identical ones.
TIMES = st.lists(st.integers(500, 5_000_000).map(lambda thousandths: thousandths / 1000), min_size=2, max_size=30)
# Freireich et al. (1963), the treated arm of the leukaemia trial, as worked through in Kalbfleisch & Prentice and in
# Kleinbaum & Klein, Survival Analysis, chapter 2: weeks of remission, and whether it ended.
WEEKS = [6, 6, 6, 6, 7, 9, 10, 10, 11, 13, 16, 17, 19, 20, 22, 23, 25, 32, 32, 34, 35]
ENDED = [True, True, True, False, True, False, True, False, False, True, True, False, False, False, True, True] + [
    False
] * 5


@given(TIMES)
def test_the_geometric_mean_agrees_with_scipy(times: list[float]) -> None:
    ours = geometric_mean(times)
    assert ours.value == pytest.approx(stats.gmean(times))
    if len(set(times)) > 1:
        interval = stats.ttest_1samp([math.log(time) for time in times], 0).confidence_interval()
        assert ours.low == pytest.approx(math.exp(interval.low))
        assert ours.high == pytest.approx(math.exp(interval.high))


@given(TIMES, st.floats(0.01, 100))
def test_changing_the_unit_of_time_changes_nothing_else(times: list[float], scale: float) -> None:
    ours, scaled = geometric_mean(times), geometric_mean([time * scale for time in times])
    assert scaled.value == pytest.approx((ours.value or 0) * scale)
    assert (scaled.low is None) is (ours.low is None)
    assert (scaled.low or 0) == pytest.approx((ours.low or 0) * scale)


@given(st.lists(st.tuples(st.floats(0.5, 500), st.booleans()), min_size=1, max_size=25), st.randoms())
def test_the_order_of_attempts_does_not_matter(attempts: list[tuple[float, bool]], random: "object") -> None:
    shuffled = attempts[:]
    random.shuffle(shuffled)  # type: ignore[attr-defined]
    ours = censored_median([t for t, _ in attempts], [done for _, done in attempts])
    again = censored_median([t for t, _ in shuffled], [done for _, done in shuffled])
    assert ours == again


def test_kaplan_and_meiers_curve_on_the_remission_data() -> None:
    # Kleinbaum & Klein, chapter 2, table of the treated group.
    shares = {time: share for time, share, _ in survival_steps(WEEKS, ENDED)}
    expected = {6: 0.8571, 7: 0.8067, 10: 0.7529, 13: 0.6902, 16: 0.6275, 22: 0.5378, 23: 0.4482}
    assert shares == {time: pytest.approx(share, abs=1e-4) for time, share in expected.items()}
    assert censored_median(WEEKS, ENDED).value == 23


@given(st.lists(st.tuples(st.integers(1, 60), st.booleans()), min_size=3, max_size=30))
def test_the_curve_and_its_band_agree_with_scipys(attempts: list[tuple[int, bool]]) -> None:
    done = [time for time, completed in attempts if completed]
    if not done:
        assert censored_median([t for t, _ in attempts], [c for _, c in attempts]).value is None
        return
    data = stats.CensoredData(uncensored=done, right=[time for time, completed in attempts if not completed])
    curve = stats.ecdf(data).sf
    steps = survival_steps([float(t) for t, _ in attempts], [c for _, c in attempts])
    for time, share, _ in steps:
        assert share == pytest.approx(float(curve.evaluate(time)), abs=1e-12)
    ours = censored_median([float(t) for t, _ in attempts], [c for _, c in attempts])
    if len(done) < 2:
        assert (ours.low, ours.high) == (None, None)
        return
    # Where everyone is done there is no band: that step is left out, and the interval stays open there.
    with_band = [time for time, share, _ in steps if share > 0]
    with warnings.catch_warnings():
        # SciPy warns of the stretch before the first completion, where the band has no width.
        warnings.simplefilter("ignore", RuntimeWarning)
        band = curve.confidence_interval(method="log-log")
    low = next((t for t in with_band if band.low.evaluate(t) <= 0.5), None)
    high = next((t for t in with_band if band.high.evaluate(t) <= 0.5), None)
    assert (ours.low, ours.high) == (low, high)


def test_one_completed_time_among_others_makes_no_interval() -> None:
    one = censored_median([20.0, 90.0], [True, False])
    assert (one.low, one.high) == (None, None)
    assert "no interval" in one.note


def test_without_censoring_the_median_is_the_ordinary_one() -> None:
    assert censored_median([4, 1, 3, 2], [True] * 4).value == 2.5
    assert censored_median([5, 1, 3], [True] * 3).value == 3


def test_those_who_gave_up_pull_the_median_up_not_out() -> None:
    completed_only = geometric_mean([20, 22, 25])
    everybody = censored_median([20, 22, 25, 90, 95, 99], [True, True, True, False, False, False])
    assert completed_only.value is not None
    assert completed_only.value < 23
    assert everybody.value == 25
    assert everybody.high is None
    mostly = censored_median([20, 90, 95], [True, False, False])
    assert (mostly.value, mostly.note) == (None, "fewer than half were done: no median")


def test_one_time_has_no_interval_and_zero_is_no_time() -> None:
    assert geometric_mean([12.0]).low is None
    assert geometric_mean([12.0]).value == pytest.approx(12.0)
    assert geometric_mean([]).value is None
    with pytest.raises(ValueError, match="above 0"):
        geometric_mean([3.0, 0.0])


@given(st.lists(st.tuples(st.floats(1, 500), st.floats(1, 500)), min_size=3, max_size=20))
def test_the_paired_ratio_agrees_with_scipys_paired_t(pairs: list[tuple[float, float]]) -> None:
    differences = [math.log(a) - math.log(b) for a, b in pairs]
    if max(differences) - min(differences) < 1e-3:
        return
    ratio, p = paired_ratio(pairs)
    oracle = stats.ttest_rel([math.log(a) for a, _ in pairs], [math.log(b) for _, b in pairs])
    assert p == pytest.approx(oracle.pvalue)
    assert ratio.low == pytest.approx(math.exp(oracle.confidence_interval().low))


def test_a_mean_of_nothing_is_nothing() -> None:
    assert mean_with_t([]).value is None
