"""Discovery of problems, and agreement of raters and observers, against worked values."""

from itertools import permutations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.figures.agreement import any_two_agreement, cohens_kappa, ordinal_alpha
from fresh_chair.core.figures.discovery import adjusted_rate, discovery

PEOPLE = ["P1", "P2", "P3", "P4"]
MET = [{"P1", "P2", "P3"}, {"P1"}, {"P2", "P4"}, {"P4"}]


def test_the_curve_is_the_average_over_all_orders() -> None:
    found = discovery(PEOPLE, MET)
    orders = list(permutations(PEOPLE))
    for people in range(1, 5):
        seen = [sum(bool(met & set(order[:people])) for met in MET) for order in orders]
        assert found.curve[people - 1] == pytest.approx(sum(seen) / len(orders))


def test_the_rate_is_adjusted_by_the_mean_of_both_estimates() -> None:
    # By hand: p = 7 of 16; normalised (7/16 - 1/4)(3/4) = 9/64; Turing-Good (7/16) / (1 + 2/4) = 7/24.
    found = discovery(PEOPLE, MET)
    assert found.raw == 7 / 16
    assert found.adjusted == pytest.approx((9 / 64 + 7 / 24) / 2)
    assert found.once == 2
    assert found.adjusted is not None
    assert found.total == pytest.approx(4 / (1 - (1 - found.adjusted) ** 4))


def test_more_people_are_those_it_takes_to_find_85_percent() -> None:
    # 1 - (1 - p)^n: with p = 0.31, 5 people find 84.4 % and 6 find 89.2 %.
    found = discovery(PEOPLE, MET)
    assert found.adjusted is not None
    assert found.more is not None
    needed = 4 + found.more
    assert 1 - (1 - found.adjusted) ** needed >= 0.85 > 1 - (1 - found.adjusted) ** (needed - 1)


def test_too_few_are_said_to_be_too_few() -> None:
    assert discovery(["P1"], [{"P1"}]).adjusted is None
    assert discovery(PEOPLE, []).total is None
    # A problem that no newcomer met is none of theirs.
    assert discovery(PEOPLE, [{"E1"}]).problems == 0


@given(st.lists(st.sets(st.sampled_from(PEOPLE), min_size=1), min_size=1, max_size=12))
def test_the_likely_total_is_no_less_than_what_was_found_and_the_curve_never_falls(met: list[set[str]]) -> None:
    found = discovery(PEOPLE, met)
    assert found.total is not None
    assert found.total >= found.problems
    assert all(a <= b + 1e-12 for a, b in zip(found.curve, found.curve[1:], strict=False))
    assert found.curve[-1] == pytest.approx(found.problems)
    again = discovery(PEOPLE, list(reversed(met)))
    assert again.curve == pytest.approx(found.curve)
    assert (again.adjusted, again.once, again.more) == (found.adjusted, found.once, found.more)


def test_an_adjusted_rate_stays_a_rate() -> None:
    assert adjusted_rate(0.25, participants=4, once=1.0) == pytest.approx(0.0625)
    assert adjusted_rate(0.2, participants=2, once=1.0) == 0.001


# Krippendorff (2011), Computing Krippendorff's Alpha-Reliability: four observers, twelve units, some missing; the
# ordinal alpha that is worked out there is 0.815.
WORKED = [
    "1 2 3 3 2 1 4 1 2 . . .",
    "1 2 3 3 2 2 4 1 2 5 . 3",
    ". 3 3 3 2 3 4 2 2 5 1 .",
    "1 2 3 3 2 4 4 1 2 5 1 .",
]


def test_alpha_is_that_of_the_source() -> None:
    rows = [line.split() for line in WORKED]
    units = [[int(row[unit]) for row in rows if row[unit] != "."] for unit in range(12)]
    found = ordinal_alpha(units)
    assert found.value == pytest.approx(0.815, abs=0.0005)
    # The last unit has one rating, and says nothing.
    assert (found.units, found.ratings) == (11, 40)


def test_alpha_is_undefined_where_all_are_equal_or_nothing_was_rated_twice() -> None:
    assert ordinal_alpha([[2, 2], [2, 2]]).why.startswith("all ratings are equal")
    assert ordinal_alpha([[2], [3]]).why == "no finding was rated by two"
    assert ordinal_alpha([]).value is None


@given(st.lists(st.lists(st.integers(0, 4), min_size=2, max_size=4), min_size=2, max_size=8), st.randoms())
def test_alpha_does_not_hang_on_the_order_of_units_or_raters(units: list[list[int]], random: object) -> None:
    shuffled = [random.sample(unit, len(unit)) for unit in reversed(units)]  # type: ignore[attr-defined]
    one, other = ordinal_alpha(units).value, ordinal_alpha(shuffled).value
    assert (one is None) == (other is None)
    assert one is None or other is None or one == pytest.approx(other)
    assert one is None or one <= 1 + 1e-12


def test_kappa_is_that_of_a_table_worked_by_hand() -> None:
    # 50 judged by two: 20 yes by both, 15 no by both; observed 0.7, chance 0.5: kappa 0.4.
    pairs = [("y", "y")] * 20 + [("y", "n")] * 5 + [("n", "y")] * 10 + [("n", "n")] * 15
    assert cohens_kappa(pairs) == pytest.approx(0.4)
    assert cohens_kappa([]) is None
    assert cohens_kappa([("y", "y"), ("y", "y")]) is None
    assert cohens_kappa([("y", "n"), ("n", "y")]) == pytest.approx(-1.0)


def test_any_two_agreement_is_the_mean_over_pairs() -> None:
    # Pairs: 1 of 3, 0 of 4, 1 of 3.
    found = [frozenset("ab"), frozenset("bc"), frozenset("ad")]
    assert any_two_agreement(found) == pytest.approx((1 / 3 + 0 + 1 / 3) / 3)
    assert any_two_agreement([frozenset("a")]) is None
    assert any_two_agreement([frozenset(), frozenset()]) is None
