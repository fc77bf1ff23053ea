"""Thresholds over tasks: met and not met only where the whole interval says so."""

from dataclasses import replace
from math import exp, log, sqrt

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from fresh_chair.core.figures.estimate import Estimate
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.figures.thresholds import (
    completion_over_tasks,
    ease_over_tasks,
    held,
    held_thresholds,
    time_over_tasks,
)
from fresh_chair.core.figures.whole.study_figures import weigh_facts
from fresh_chair.core.plan.sheet import Measure, Threshold
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.words.thresholds import threshold_lines
from tests.builders import fact, small_study


def people_completing(*counts: int, of: int = 4) -> list[AttemptFact]:
    """For each person how many of their tasks they complete."""
    return [
        fact(f"P{number:02}", "A", card=f"card-{task}", outcome=Outcome.UNAIDED if task < count else Outcome.GAVE_UP)
        for number, count in enumerate(counts, start=1)
        for task in range(of)
    ]


def test_completion_over_tasks_by_hand() -> None:
    # Shares 1, 0.5, 0.75, 0.25: mean 0.625, sd 0.3227, sd/2 0.16137; x 10 of 16, q 12/20, its error 0.12247.
    found = completion_over_tasks(people_completing(4, 2, 3, 1))
    half = stats.t.ppf(0.975, 3) * sqrt(5 / 48) / 2
    assert found.value == 0.625
    assert found.low == pytest.approx(0.625 - half)
    assert found.high == 1.0
    assert found.n == 4


def test_people_who_are_all_alike_do_not_make_it_surer_than_their_attempts_would() -> None:
    # Nobody differs, so that only the attempts are left: q = (12 + 2) / (16 + 4).
    found = completion_over_tasks(people_completing(3, 3, 3, 3))
    half = stats.t.ppf(0.975, 3) * sqrt(0.7 * 0.3 / 16)
    assert found.low == pytest.approx(0.75 - half)
    assert found.high == 1.0
    everyone = completion_over_tasks(people_completing(4, 4, 4))
    assert everyone.low is not None
    assert everyone.low < 0.75
    assert completion_over_tasks(people_completing(4)).low is None


def test_times_and_ease_are_taken_over_people_and_not_over_attempts() -> None:
    facts = [
        fact("P01", "A", 20.0, card="card-1", ease=7),
        fact("P01", "A", 40.0, card="card-2", ease=5),
        fact("P02", "A", 80.0, card="card-1", ease=4),
        fact("P02", "A", 300.0, Outcome.GAVE_UP, card="card-2", ease=1),
        fact("P02", "A", 50.0, card="card-3", ease=None),
    ]
    time = time_over_tasks(facts, {"card-1": 10.0, "card-2": 10.0})
    assert time.n == 2
    assert time.value == pytest.approx(exp(((log(2) + log(4)) / 2 + log(8)) / 2))
    ease = ease_over_tasks(facts)
    assert (ease.n, ease.value) == (2, (6 + 2.5) / 2)
    assert ease.low == 1.0


@pytest.mark.parametrize(
    ("measure", "level", "low", "high", "said"),
    [
        ("completion", 0.8, 0.8, 0.95, "met"),
        ("completion", 0.8, 0.5, 0.79, "not met"),
        ("completion", 0.8, 0.7, 0.9, "open"),
        ("time", 4, 2.0, 4.0, "met"),
        ("time", 4, 4.1, 6.0, "not met"),
        ("time", 4, 3.0, 5.0, "open"),
        ("ease", 5, 5.2, 6.0, "met"),
        ("satisfaction", 68, 40.0, 60.0, "not met"),
        ("ease", 5, None, None, "open"),
    ],
)
def test_it_is_met_or_not_only_where_the_whole_interval_lies_on_one_side(
    measure: Measure, level: float, low: float | None, high: float | None, said: str
) -> None:
    assert held(Threshold(measure=measure, value=level), Estimate(None, low, high, 5, "")) == said


@given(st.lists(st.integers(0, 4), min_size=2, max_size=12))
def test_the_interval_holds_its_mean_and_stays_between_none_and_all(counts: list[int]) -> None:
    found = completion_over_tasks(people_completing(*counts))
    assert found.low is not None
    assert found.high is not None
    assert 0 <= found.low <= (found.value or 0) <= found.high <= 1
    again = completion_over_tasks(people_completing(*reversed(counts)))
    assert again.low == pytest.approx(found.low)
    assert again.high == pytest.approx(found.high)


def test_every_threshold_stands_at_every_chair_and_is_told_with_its_figure() -> None:
    study = small_study(people=4, chairs=2, cards=2)
    thresholds = (Threshold(measure="completion", value=0.5), Threshold(measure="ease", value=6))
    study = replace(study, sheet=replace(study.sheet, thresholds=thresholds))
    facts = [
        fact(f"P{n:02}", chair, 20.0 + n, card=f"card-{task}", ease=3 if chair == "A" else 5 + n % 3)
        for n in range(1, 5)
        for chair in "AB"
        for task in (1, 2)
    ]
    voided = [replace(facts[0], outcome=Outcome.VOID), replace(facts[1], first_try=False)]
    assert held_thresholds(study, [*facts, *voided], {}) == held_thresholds(study, facts, {})
    completion, ease = threshold_lines(weigh_facts(study, facts))
    assert [(letter, said) for letter, _, said, _ in completion.chairs] == [("A", "met"), ("B", "met")]
    assert completion.chairs[0][3].startswith("100 % (")
    assert completion.chairs[0][3].endswith("n 4")
    assert ease.chairs[0][1:] == ("open", "open", "3.0, n 4, no interval")
