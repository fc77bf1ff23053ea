"""How many people, against published values and independent computations."""

from math import comb

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.figures.completion import adjusted_wald
from fresh_chair.core.figures.sample_size import (
    chance_to_see,
    half_width,
    people_for,
    people_for_half_width,
    people_to_see,
    reached,
)
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


@pytest.mark.parametrize("aim", AIMS, ids=lambda aim: aim.id)
def test_more_people_never_show_less_and_the_number_needed_reaches_the_aim(aim: object) -> None:
    (each,) = [one for one in AIMS if one is aim]
    values = [reached(each, people) for people in range(2, 60)]
    rising = each.id == "see"
    assert values == sorted(values, reverse=not rising)
    needed = people_for(each)
    limit = 0.8 if rising else each.target
    assert (reached(each, needed) >= limit) if rising else (reached(each, needed) <= limit)
