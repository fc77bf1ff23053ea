"""One task with different people, and the order of preference, against published values and SciPy."""

import warnings

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from fresh_chair.core.figures.single.comparison import Measure, compare_all
from fresh_chair.core.figures.single.different_people import (
    fisher_p,
    independent_difference,
    independent_ratio,
    log_rank_p,
    mann_whitney_p,
)
from fresh_chair.core.figures.single.preference import preference, sign_test_p
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.words.comparisons import comparison_sentences
from tests.builders import fact, small_study

SECONDS = st.lists(st.integers(500, 500_000).map(lambda ms: ms / 1000), min_size=2, max_size=20)


@pytest.mark.parametrize(
    ("counts", "low", "high"),
    # Newcombe (1998), Statistics in Medicine 17, 873-890, table II, method 10: contrasts (a) and (d).
    [((56, 70, 48, 80), 0.0524, 0.3339), ((5, 56, 0, 29), -0.0381, 0.1926)],
)
def test_newcombes_worked_contrasts(counts: tuple[int, int, int, int], low: float, high: float) -> None:
    found = independent_difference(*counts)
    assert (found.low, found.high) == pytest.approx((low, high), abs=1e-4)


def test_fishers_tea() -> None:
    # The lady tasting tea (Fisher 1935): three of four right and one of four; two-sided 34/70.
    assert fisher_p(3, 4, 1, 4) == pytest.approx(34 / 70)


@given(SECONDS, SECONDS)
def test_welch_and_mann_whitney_agree_with_scipy(first: list[float], second: list[float]) -> None:
    import numpy as np

    ratio, p = independent_ratio(first, second)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        welch = stats.ttest_ind(np.log(first), np.log(second), equal_var=False)
    if p is not None and np.var(np.log(first)) + np.var(np.log(second)) > 1e-12:
        assert p == pytest.approx(welch.pvalue, rel=1e-6)
        ends = np.exp(welch.confidence_interval())
        assert (ratio.low, ratio.high) == pytest.approx(tuple(ends), rel=1e-6)
    assert mann_whitney_p(first, second) == stats.mannwhitneyu(first, second).pvalue


CUT = st.lists(st.tuples(st.integers(1, 400).map(float), st.booleans()), min_size=2, max_size=15)


@given(CUT, CUT)
@settings(max_examples=60)
def test_the_log_rank_test_agrees_with_scipy(first: list[tuple[float, bool]], second: list[tuple[float, bool]]) -> None:
    ours = log_rank_p(first, second)

    def censored(group: list[tuple[float, bool]]) -> stats.CensoredData:
        return stats.CensoredData(
            uncensored=[t for t, done in group if done], right=[t for t, done in group if not done]
        )

    if ours is None:
        return
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        theirs = stats.logrank(censored(first), censored(second)).pvalue
    assert ours == pytest.approx(theirs, rel=1e-6)


def test_freireichs_trial() -> None:
    # Freireich et al. (1963) as worked through by Kleinbaum & Klein, Survival Analysis: log-rank chi-square 16.79.
    treated = "6 6 6 7 10 13 16 22 23 6+ 9+ 10+ 11+ 17+ 19+ 20+ 25+ 32+ 32+ 34+ 35+".split()
    placebo = "1 1 2 2 3 4 4 5 5 8 8 8 8 11 11 12 12 15 17 22 23".split()
    groups = [[(float(each.rstrip("+")), not each.endswith("+")) for each in arm] for arm in (treated, placebo)]
    found = log_rank_p(*groups)
    assert found is not None
    assert found == pytest.approx(stats.chi2.sf(16.79, 1), rel=0.01)


@given(st.lists(st.permutations(["A", "B", "C"]), min_size=2, max_size=12))
def test_friedman_agrees_with_scipy(orders: list[list[str]]) -> None:
    found = preference(["A", "B", "C"], orders)
    ranks = [[order.index(letter) + 1 for order in orders] for letter in "ABC"]
    theirs = stats.friedmanchisquare(*ranks).pvalue
    assert found.p == pytest.approx(theirs)
    assert sum(found.mean_ranks.values()) == pytest.approx(6)


def test_pairs_of_preference_are_sign_tests_after_holm() -> None:
    found = preference(["A", "B", "C"], [["A", "B", "C"]] * 6)
    assert [(pair.for_first, pair.for_second) for pair in found.pairs] == [(6, 0)] * 3
    assert [pair.p for pair in found.pairs] == [stats.binomtest(6, 6).pvalue] * 3
    assert [pair.p_adjusted for pair in found.pairs] == [3 * 0.03125] * 3
    assert sign_test_p(0, 0) is None
    # Who left a chair out counts in the pair they ranked, and in no whole order.
    part = preference(["A", "B", "C"], [["B", "A"]])
    assert (part.people, part.pairs[0].for_second, part.p) == (0, 1, None)


def test_different_people_are_compared_where_nobody_sat_at_both() -> None:
    study = small_study(people=12, chairs=2, cards=1)
    facts = [fact(f"P{n:02}", "A", 20.0 + n, Outcome.UNAIDED) for n in range(1, 7)]
    facts += [fact(f"P{n:02}", "B", 200.0, Outcome.OUT_OF_TIME if n > 9 else Outcome.HELPED) for n in range(7, 13)]
    (listed,) = compare_all(study, facts).values()
    by_measure = {each.measure: each for each in listed}
    assert not any(each.same_people for each in listed)
    assert by_measure[Measure.COMPLETION].p == pytest.approx(fisher_p(6, 6, 3, 6))
    assert by_measure[Measure.UNAIDED].p == pytest.approx(fisher_p(6, 6, 0, 6))
    time = by_measure[Measure.TIME]
    assert time.censored_p is not None
    assert time.left_out == 3
    said = " ".join(comparison_sentences(study, listed))
    assert "others at each" in said
    assert "at both," not in said


def test_the_same_people_are_compared_strictly_as_well() -> None:
    study = small_study(people=6, chairs=2, cards=1)
    facts = [fact(f"P{n:02}", "A", 20.0, Outcome.UNAIDED) for n in range(1, 7)]
    facts += [fact(f"P{n:02}", "B", 20.0, Outcome.HELPED) for n in range(1, 7)]
    (listed,) = compare_all(study, facts).values()
    by_measure = {each.measure: each for each in listed}
    assert by_measure[Measure.COMPLETION].estimate.value == 0
    assert (by_measure[Measure.UNAIDED].estimate.value, by_measure[Measure.UNAIDED].p) == (1.0, 0.03125)
