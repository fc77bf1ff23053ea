"""Completion rates against their sources and against SciPy."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import binomtest

from fresh_chair.core.figures.completion import (
    adjusted_wald,
    clopper_pearson,
    mcnemar_exact,
    paired_difference,
    wilson,
)

COUNTS = st.integers(1, 60).flatmap(lambda n: st.tuples(st.integers(0, n), st.just(n)))


@given(COUNTS)
def test_adjusted_wald_has_wilsons_midpoint_and_contains_his_interval(count: tuple[int, int]) -> None:
    # Agresti & Coull (1998), section 2: same midpoint as the score interval, never shorter.
    x, n = count
    interval = binomtest(x, n).proportion_ci(method="wilson")
    ours = adjusted_wald(x, n)
    assert ours.low is not None
    assert ours.high is not None
    assert ours.low <= interval.low + 1e-9
    assert ours.high >= interval.high - 1e-9
    if ours.low > 0 and ours.high < 1:
        assert (ours.low + ours.high) / 2 == pytest.approx((interval.low + interval.high) / 2)


def test_adjusted_wald_by_hand() -> None:
    # n = 10, x = 7, z = 1.96: centre (7 + 1.9208) / 13.8416 = 0.64449; half 1.96 sqrt(0.64449 * 0.35551 / 13.8416).
    ours = adjusted_wald(7, 10)
    assert ours.value == 0.7
    assert ours.low == pytest.approx(0.3923, abs=2e-4)
    assert ours.high == pytest.approx(0.8967, abs=2e-4)


@given(COUNTS)
def test_clopper_pearson_agrees_with_scipy(count: tuple[int, int]) -> None:
    x, n = count
    oracle = binomtest(x, n).proportion_ci(method="exact")
    ours = clopper_pearson(x, n)
    assert ours.low == pytest.approx(oracle.low)
    assert ours.high == pytest.approx(oracle.high)


@given(COUNTS)
def test_wilson_agrees_with_scipy(count: tuple[int, int]) -> None:
    oracle = binomtest(*count).proportion_ci(method="wilson")
    low, high = wilson(*count)
    assert low == pytest.approx(oracle.low)
    assert high == pytest.approx(oracle.high)


def test_no_attempts_give_no_rate_and_nonsense_is_refused() -> None:
    for interval in (adjusted_wald, clopper_pearson):
        nothing = interval(0, 0)
        assert (nothing.value, nothing.low, nothing.high) == (None, None, None)
        with pytest.raises(ValueError, match="no proportion"):
            interval(3, 2)


@given(st.integers(0, 30), st.integers(0, 30))
def test_mcnemar_is_the_exact_sign_test(first: int, second: int) -> None:
    oracle = binomtest(first, first + second).pvalue if first + second else 1.0
    assert mcnemar_exact(first, second) == pytest.approx(oracle)


def test_newcombes_worked_example_for_pairs() -> None:
    # Newcombe (1998), Statistics in Medicine 17, 2635-2650, table of examples: 20, 12, 2, 16 of 50; method 10.
    pairs = [(True, True)] * 20 + [(True, False)] * 12 + [(False, True)] * 2 + [(False, False)] * 16
    ours = paired_difference(pairs)
    assert ours.value == pytest.approx(0.20)
    assert ours.low == pytest.approx(0.0562, abs=5e-4)
    assert ours.high == pytest.approx(0.329, abs=5e-4)


PAIRS = st.lists(st.tuples(st.booleans(), st.booleans()), min_size=1, max_size=40)


@given(PAIRS)
def test_swapping_the_chairs_mirrors_the_difference(pairs: list[tuple[bool, bool]]) -> None:
    ours = paired_difference(pairs)
    mirrored = paired_difference([(b, a) for a, b in pairs])
    assert ours.low is not None
    assert ours.high is not None
    assert mirrored.value == pytest.approx(-(ours.value or 0.0))
    assert mirrored.low == pytest.approx(-ours.high)
    assert mirrored.high == pytest.approx(-ours.low)
    assert -1 <= ours.low <= (ours.value or 0.0) <= ours.high <= 1
