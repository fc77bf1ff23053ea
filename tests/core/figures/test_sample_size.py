"""How many people, against published values and independent computations."""

from math import comb, exp, sqrt

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from fresh_chair.core.figures.completion import adjusted_wald
from fresh_chair.core.figures.sample_size import (
    chance_to_see,
    half_width,
    people_for,
    people_for_half_width,
    people_for_ratio,
    people_to_see,
    reached,
)
from fresh_chair.core.figures.times import ratio_shown
from fresh_chair.core.plan.aims import AIMS


@pytest.mark.parametrize(
    ("share", "people", "chance"),
    # Nielsen & Landauer (1993), INTERCHI, p = 0.31: five people find about 85 %; Virzi (1992), p = 0.32 to 0.42: 80 %
    # with four or five.
    [(0.31, 5, 0.84), (0.32, 4, 0.79), (0.42, 5, 0.93)],
)
def test_the_chance_to_see_a_problem_is_the_published_one(share: float, people: int, chance: float) -> None:
    assert chance_to_see(share, people) == pytest.approx(chance, abs=0.005)


@given(st.floats(0.01, 0.99), st.integers(0, 60))
def test_the_chance_to_see_is_one_less_the_binomial_chance_of_never(share: float, people: int) -> None:
    never = comb(people, 0) * (1 - share) ** people
    assert chance_to_see(share, people) == pytest.approx(1 - never)


@given(st.floats(0.02, 0.9), st.floats(0.1, 0.99))
def test_the_people_it_takes_to_see_are_the_fewest(share: float, chance: float) -> None:
    people = people_to_see(share, chance)
    assert chance_to_see(share, people) >= chance - 1e-9
    assert people == 0 or chance_to_see(share, people - 1) < chance


def test_a_share_or_chance_of_none_or_all_is_refused() -> None:
    for share, chance in ((0, 0.8), (1, 0.8), (0.3, 0), (0.3, 1)):
        with pytest.raises(ValueError, match="between 0 and 1"):
            people_to_see(share, chance)


@pytest.mark.parametrize("people", [2, 6, 10, 20, 40])
def test_half_a_width_is_that_of_the_interval_with_half_completed(people: int) -> None:
    interval = adjusted_wald(people // 2, people)
    assert interval.low is not None
    assert interval.high is not None
    assert half_width(people) == pytest.approx((interval.high - interval.low) / 2, abs=1e-6)


def test_twenty_one_people_hold_a_rate_within_twenty_points() -> None:
    # z = 1.96: 1.96 sqrt(0.25 / (n + 3.84)) <= 0.20 from n = 20.2 on.
    assert pytest.approx(20.17, abs=0.01) == 1.959964**2 * 0.25 / 0.2**2 - 1.959964**2
    assert people_for_half_width(0.20) == 21
    with pytest.raises(ValueError, match="500"):
        people_for_half_width(0.001)


def test_the_ratio_that_n_people_show_has_eighty_percent_power_in_simulation() -> None:
    # Held against a simulation of the paired t test itself: at the ratio that is said to be shown, it is found in 80 %.
    people, spread = 12, 0.5
    ratio = ratio_shown(people, spread)
    dice = np.random.default_rng(7)
    logs = dice.normal(np.log(ratio), spread, size=(20_000, people))
    t = logs.mean(axis=1) / (logs.std(axis=1, ddof=1) / sqrt(people))
    found = np.mean(np.abs(t) > stats.t.ppf(0.975, people - 1))
    assert found == pytest.approx(0.80, abs=0.012)


@given(st.floats(1.1, 4), st.floats(0.1, 1.2))
@settings(max_examples=25)
def test_the_people_it_takes_to_show_a_ratio_are_the_fewest(ratio: float, spread: float) -> None:
    try:
        people = people_for_ratio(ratio, spread)
    except ValueError:
        assert ratio_shown(500, spread) > ratio
        return
    assert ratio_shown(people, spread) <= ratio
    assert people == 2 or ratio_shown(people - 1, spread) > ratio


@pytest.mark.parametrize("people", [5, 8, 20, 60])
def test_the_ratio_shown_is_that_of_the_noncentral_t(people: int) -> None:
    # scipy.stats.nct as the independent implementation, where it is defined.
    shift = np.log(ratio_shown(people, 0.5)) * sqrt(people) / 0.5
    power = stats.nct.sf(stats.t.ppf(0.975, people - 1), people - 1, shift)
    assert power == pytest.approx(0.8, abs=1e-4)


def test_a_ratio_of_one_or_less_is_refused() -> None:
    with pytest.raises(ValueError, match="above 1"):
        people_for_ratio(1.0)


@pytest.mark.parametrize("aim", AIMS, ids=lambda aim: aim.id)
def test_more_people_never_show_less_and_the_number_needed_reaches_the_aim(aim: object) -> None:
    (each,) = [one for one in AIMS if one is aim]
    values = [reached(each, people) for people in range(2, 60)]
    rising = each.id == "see"
    assert values == sorted(values, reverse=not rising)
    needed = people_for(each)
    limit = 0.8 if rising else each.target
    assert (reached(each, needed) >= limit) if rising else (reached(each, needed) <= limit)


def test_a_larger_spread_of_times_takes_more_people() -> None:
    assert people_for_ratio(1.5, 0.3) < people_for_ratio(1.5, 0.6) < people_for_ratio(1.5, 0.9)
    assert exp(0.5) == pytest.approx(1.65, abs=0.01)
