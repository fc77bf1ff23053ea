"""Ease, usability, Holm, order effects, cells and the sentences they allow: law 4."""

import random
from dataclasses import replace
from itertools import pairwise
from math import exp

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from fresh_chair.core.figures.cell import all_cells, cell_figures
from fresh_chair.core.figures.correction import holm
from fresh_chair.core.figures.facts import facts_of
from fresh_chair.core.figures.position import position_effects
from fresh_chair.core.figures.satisfaction import ease_mean, sus_mean, sus_score
from fresh_chair.core.figures.single.comparison import (
    Measure,
    Verdict,
    compare_all,
)
from fresh_chair.core.plan.chairs import Machine
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.replay import replay
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.words.comparisons import comparison_sentences, unlike_conditions
from tests.builders import Script, fact, one_attempt, small_study


def test_brookes_worked_example() -> None:
    # Brooke (1996), the filled-in example of the appendix: 4+1+1+4+1+2+1+1+4+3 = 22 points, times 2.5.
    assert sus_score([5, 4, 2, 1, 2, 3, 2, 4, 5, 2]).score == 55.0


@given(st.lists(st.integers(1, 5), min_size=10, max_size=10))
def test_sus_stays_between_0_and_100_and_a_mirrored_sheet_mirrors_it(answers: list[int]) -> None:
    score = sus_score(answers).score
    mirrored = sus_score([6 - answer for answer in answers]).score
    assert score is not None
    assert mirrored is not None
    assert 0 <= score <= 100
    assert score + mirrored == 100


def test_one_missing_answer_is_the_centre_and_two_are_too_many() -> None:
    full = sus_score([3] * 10).score
    one = sus_score([None, *[3] * 9])
    assert (one.score, bool(one.note)) == (full, True)
    assert sus_score([None, None, *[3] * 8]).score is None
    with pytest.raises(ValueError, match="ten answers"):
        sus_score([3] * 9)


@given(st.lists(st.integers(1, 7), min_size=3, max_size=20))
def test_ease_agrees_with_scipy_and_stays_on_its_scale(scores: list[int]) -> None:
    ours = ease_mean(scores)
    if len(set(scores)) == 1:
        assert (ours.value, ours.low, ours.high) == (scores[0], None, None)
        assert "no interval" in ours.note
        return
    assert ours.low is not None
    assert ours.high is not None
    assert 1 <= ours.low <= (ours.value or 0) <= ours.high <= 7
    oracle = stats.ttest_1samp(scores, 0).confidence_interval()
    assert ours.low == pytest.approx(max(oracle.low, 1))


def test_an_ease_off_the_scale_is_refused() -> None:
    with pytest.raises(ValueError, match="1 to 7"):
        ease_mean([8])
    assert sus_mean([90.0, 100.0]).high == 100


def test_holms_steps_by_hand() -> None:
    # 3 * 0.01 = 0.03; 2 * 0.03 = 0.06; 1 * 0.04 = 0.04, raised to 0.06 so that it stays monotone.
    assert holm([0.04, 0.01, 0.03]) == [pytest.approx(0.06), pytest.approx(0.03), pytest.approx(0.06)]


@given(st.lists(st.floats(0, 1), max_size=20))
def test_holm_never_lowers_a_p_and_keeps_their_order(raw: list[float]) -> None:
    adjusted = holm(raw)
    assert all(one >= other and one <= 1 for one, other in zip(adjusted, raw, strict=True))
    ranked = sorted(range(len(raw)), key=raw.__getitem__)
    assert all(adjusted[a] <= adjusted[b] for a, b in pairwise(ranked))


def test_a_void_attempt_counts_nowhere_and_is_listed() -> None:
    facts = [fact("P01", "A"), fact("P02", "A", outcome=Outcome.VOID), fact("P03", "A", outcome=Outcome.GAVE_UP)]
    cell = cell_figures("card-1", "A", facts)
    assert (cell.n, cell.lenient.x, cell.counts[Outcome.VOID]) == (2, 1, 1)
    assert cell.all_seconds.n == 2


def test_the_censored_time_is_the_default_wherever_anybody_did_not_complete() -> None:
    everyone = cell_figures("c", "A", [fact("P01", "A", 10), fact("P02", "A", 20)])
    assert everyone.default_seconds is everyone.completed_seconds
    not_all = cell_figures("c", "A", [fact("P01", "A", 10), fact("P02", "A", 20, Outcome.OUT_OF_TIME)])
    assert not_all.default_seconds is not_all.all_seconds


def test_blocked_counts_in_completion_and_is_no_slow_person() -> None:
    cell = cell_figures("c", "A", [fact("P01", "A", 10), fact("P02", "A", 12), fact("P03", "A", 400, Outcome.BLOCKED)])
    assert (cell.lenient.x, cell.n, cell.all_seconds.n) == (2, 3, 2)
    assert cell.all_seconds.value == 11


def test_said_done_was_not_is_counted_on_its_own_and_a_later_try_stays_apart() -> None:
    believed = replace(fact("P01", "A", outcome=Outcome.PARTLY), said_done=True)
    again = replace(fact("P01", "A"), first_try=False)
    cell = cell_figures("c", "A", [believed, again])
    assert (cell.said_done_was_not, cell.n, cell.later_tries, cell.lenient.x) == (1, 1, 1, 0)


def test_facts_come_from_journals_with_lanes_that_add_up() -> None:
    study = small_study(cards=1)
    seat = study.seats[0]
    sitting = replay(seat.number, seat.cards, one_attempt().entries)
    (only,) = facts_of(study, {seat.number: sitting})
    assert (only.hands_seconds, only.wait_seconds, only.aside_seconds) == (25, 10, 5)
    assert only.elapsed_seconds == 40
    assert all_cells(study, [only])["card-1", seat.chair].n == 1


def test_too_few_people_never_get_a_winner_however_clear_it_looks() -> None:
    study = small_study(people=4, cards=1)
    facts = [fact(f"P{n:02}", chair, 100.0 * n if chair == "A" else 10.0 * n) for n in (1, 2, 3, 4) for chair in "AB"]
    judged = compare_all(study, facts)["card-1"]
    assert {comparison.verdict for comparison in judged} == {Verdict.CANNOT_TELL}
    said = " ".join(comparison_sentences(study, judged))
    assert "4 people" in said
    assert "cannot tell" in said


def test_a_clear_difference_among_enough_people_is_named_with_its_interval() -> None:
    study = small_study(people=12, cards=1)
    noise = random.Random(4)
    facts = [
        fact(f"P{n:02}", chair, (60.0 if chair == "A" else 20.0) * exp(noise.gauss(0, 0.2)))
        for n in range(1, 13)
        for chair in "AB"
    ]
    time = next(c for c in compare_all(study, facts)["card-1"] if c.measure is Measure.TIME)
    assert time.verdict is Verdict.SECOND_BETTER
    assert time.estimate.low is not None
    assert time.estimate.low > 1
    assert "better at ChairB 1" in comparison_sentences(study, [time])[1]


def test_one_task_never_shows_that_two_chairs_are_alike() -> None:
    study = small_study(people=20, cards=1)
    noise = random.Random(8)
    facts = [fact(f"P{n:02}", chair, 30.0 * exp(noise.gauss(0, 0.15))) for n in range(1, 21) for chair in "AB"]
    judged = compare_all(study, facts)["card-1"]
    assert {each.verdict for each in judged} == {Verdict.CANNOT_TELL}
    said = " ".join(comparison_sentences(study, judged))
    assert "no difference" not in said
    assert "could only" not in said


def test_the_slow_chair_where_all_finish_loses_no_time_to_the_fast_one_where_half_give_up() -> None:
    study = small_study(people=24, cards=1)
    noise = random.Random(5)
    facts = [
        fact(
            f"P{n:02}",
            chair,
            (60.0 if chair == "A" else 20.0) * exp(noise.gauss(0, 0.2)),
            Outcome.GAVE_UP if chair == "B" and n % 2 else Outcome.UNAIDED,
        )
        for n in range(1, 25)
        for chair in "AB"
    ]
    time = next(c for c in compare_all(study, facts)["card-1"] if c.measure is Measure.TIME)
    assert time.p_adjusted is not None
    assert time.p_adjusted < 0.001
    assert time.verdict is Verdict.CANNOT_TELL
    assert "but fewer finished" in comparison_sentences(study, [time])[1]


def test_only_people_who_were_at_both_chairs_are_compared() -> None:
    study = small_study(people=8, cards=1)
    facts = [fact(f"P{n:02}", "A" if n < 5 else "B") for n in range(1, 9)] + [fact("P01", "B")]
    assert {comparison.estimate.n for comparison in compare_all(study, facts)["card-1"]} == {1}


@given(st.permutations(range(10)))
def test_relabelling_people_changes_no_comparison(order: list[int]) -> None:
    study = small_study(people=10, cards=1)
    noise = random.Random(2)
    times = [(noise.uniform(10, 60), noise.uniform(10, 60)) for _ in range(10)]
    renamed = [
        fact(f"P{order[index] + 1:02}", chair, pair[side])
        for index, pair in enumerate(times)
        for side, chair in enumerate("AB")
    ]
    plain = [
        fact(f"P{index + 1:02}", chair, pair[s]) for index, pair in enumerate(times) for s, chair in enumerate("AB")
    ]
    ours, theirs = compare_all(study, plain)["card-1"], compare_all(study, renamed)["card-1"]
    assert [c.p for c in ours] == [pytest.approx(c.p) for c in theirs]


def test_learning_from_chair_to_chair_is_found_where_it_is() -> None:
    noise = random.Random(6)
    facts = [
        fact(
            f"P{n:02}",
            "AB"[(n + position) % 2],
            40 * 0.7 ** (position - 1) * exp(noise.gauss(0, 0.1)),
            position=position,
        )
        for n in range(1, 21)
        for position in (1, 2)
    ]
    (effect,) = position_effects(facts)
    assert effect.ratio.low is not None
    assert effect.ratio.high is not None
    assert effect.ratio.low < 0.7 < effect.ratio.high < 1
    assert position_effects(facts[:2]) == ()


def test_what_differs_between_the_chairs_is_said() -> None:
    study = small_study()
    server = Machine(id="a-server", name="a server", virtual=True)
    unlike = replace(
        study,
        machines=(*study.machines, server),
        chairs=(study.chairs[0], replace(study.chairs[1], stage="beta", machine="a-server", state="live")),
    )
    said = " ".join(unlike_conditions(unlike))
    for part in ("virtual machine", "beta", "Not all on the same machine", "Not all in the same state"):
        assert part in said
    assert unlike_conditions(study) == []


def test_nothing_to_compare_is_said_too() -> None:
    study: Study = small_study(cards=1)
    said = comparison_sentences(study, compare_all(study, [])["card-1"])
    assert all("nobody" in sentence for sentence in said)


def test_how_many_people_a_time_stands_on_is_said() -> None:
    study = small_study(people=12, cards=1)
    noise = random.Random(3)
    facts = [fact(f"P{n:02}", chair, 40.0 * exp(noise.gauss(0, 0.7))) for n in range(1, 7) for chair in "AB"]
    comparison = next(c for c in compare_all(study, facts)["card-1"] if c.measure is Measure.TIME)
    assert comparison.verdict is Verdict.CANNOT_TELL
    assert "6 people took" in comparison_sentences(study, [comparison])[1]
    alone = [fact("P01", chair, 40.0) for chair in "AB"]
    one = next(c for c in compare_all(study, alone)["card-1"] if c.measure is Measure.TIME)
    assert "1 person" in comparison_sentences(study, [one])[1]


def test_a_card_that_was_tried_in_an_earlier_sitting_at_the_chair_is_no_first_try() -> None:
    study = small_study(people=1, chairs=1, cards=2)
    seat = study.seats[0]
    again = replace(seat, number=2)
    study = replace(study, seats=(seat, again))
    sittings = {}
    for number, cards in ((1, ["card-1"]), (2, ["card-1", "card-2"])):
        script = Script()
        script.at(0, j.SittingBegan())
        for card in cards:
            script.at(1, j.AttemptStarted(card))
            script.at(5, j.AttemptStopped())
            script.at(1, j.OutcomeJudged(Outcome.UNAIDED))
            script.at(1, j.EaseRated(5))
        sittings[number] = replay(number, ("card-1", "card-2"), script.entries)
    tries = [(fact.sitting, fact.card, fact.first_try) for fact in facts_of(study, sittings)]
    assert tries == [(1, "card-1", True), (2, "card-1", False), (2, "card-2", True)]
