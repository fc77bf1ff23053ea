"""Sentences on whole chairs: the verdict with its interval, what stands beside it, and what was decided when."""

import random
from dataclasses import replace
from math import exp

import pytest

from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.figures.overall.estimates import VerdictKind
from fresh_chair.core.figures.whole.study_figures import Weighing, weigh_facts
from fresh_chair.core.plan.sheet import Comparing, Primary
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.words.overall import OverallSentence, overall_lines, overall_words
from tests.builders import fact, small_study


def study_with(people: int, primary: Primary = "", *, chairs: int = 2) -> Study:
    study = small_study(people=people, chairs=chairs, cards=4)
    return replace(study, sheet=replace(study.sheet, comparing=Comparing(primary=primary)))


def attempts(study: Study, people: int, seconds: dict[str, float], *, spread: float = 0.1) -> list[AttemptFact]:
    """Everyone at every chair, in orders that take turns, times scattered about the chair's own."""
    noise = random.Random(7)
    letters = list(seconds)
    found = []
    for number in range(1, people + 1):
        turned = letters[number % len(letters) :] + letters[: number % len(letters)]
        for position, letter in enumerate(turned, start=1):
            for card in study.cards:
                time = seconds[letter] * exp(noise.gauss(0, spread))
                found.append(fact(f"P{number:02}", letter, time, card=card.id, position=position))
    return found


def sentence(weighing: Weighing, measure: str) -> OverallSentence:
    return next(each for each in overall_words(weighing).sentences if each.measure == measure)


def test_a_winner_is_named_with_its_margin_its_interval_its_people_and_its_completion() -> None:
    study = study_with(12, "time")
    said = sentence(weigh_facts(study, attempts(study, 12, {"A": 20.0, "B": 50.0})), "time")
    assert said.kind is VerdictKind.BETTER_BY_MARGIN
    assert said.verdict.startswith("ChairA 1 is better than ChairB 1, by more than the margin: from 2.")
    assert "times as long at ChairB 1 as at ChairA 1 (95 % interval)" in said.verdict
    assert "Of 12 at both, 12 were faster at ChairA 1, 0 at ChairB 1" in said.seen
    assert "Completed unaided: 48 of 48 at ChairA 1, 48 of 48 at ChairB 1; no difference." in said.seen
    assert "overstated" not in said.seen
    for part in ("n 12", "df", "standard error", "after Holm over 1", "alike p", "beyond the margin p"):
        assert part in said.figures


def test_chairs_that_are_alike_are_said_to_be_with_the_interval_of_that_test() -> None:
    study = study_with(24)
    said = sentence(weigh_facts(study, attempts(study, 24, {"A": 30.0, "B": 30.5})), "time")
    assert said.kind is VerdictKind.ALIKE
    assert "alike, any difference is smaller than the margin" in said.verdict
    assert "(90 % interval)" in said.verdict


def test_what_cannot_be_told_says_how_far_it_may_go_or_why() -> None:
    study = study_with(6)
    weighing = weigh_facts(study, attempts(study, 6, {"A": 30.0, "B": 33.0}, spread=0.9))
    said = sentence(weighing, "time")
    assert said.kind is VerdictKind.CANNOT_TELL
    assert "cannot tell; anything from 0." in said.verdict
    assert sentence(weighing, "completed").verdict == ("ChairA 1 and ChairB 1: cannot tell; on balance nobody differs.")
    assert "power" not in said.whole + said.figures


def test_a_first_lead_of_few_people_is_said_to_be_overstated() -> None:
    study = study_with(6)
    said = sentence(weigh_facts(study, attempts(study, 6, {"A": 20.0, "B": 60.0})), "time")
    assert said.kind is VerdictKind.BETTER_BY_MARGIN
    assert "With 6 people a first winner's lead is usually overstated." in said.seen


def test_a_time_that_nobody_finished_in_does_not_win_and_says_so() -> None:
    study = study_with(12)
    facts = [
        replace(each, outcome=Outcome.GAVE_UP) if each.chair == "B" and index % 3 == 0 else each
        for index, each in enumerate(attempts(study, 12, {"A": 60.0, "B": 20.0}))
    ]
    said = sentence(weigh_facts(study, facts), "time")
    assert said.kind is VerdictKind.CANNOT_TELL
    assert "faster among those who finished" in said.verdict
    assert "Completed unaided: 48 of 48 at ChairA 1, 32 of 48 at ChairB 1" in said.seen


def test_everybody_completing_less_at_one_chair_is_said_as_it_was_seen() -> None:
    study = study_with(10)
    facts = [
        replace(each, outcome=Outcome.GAVE_UP) if each.chair == "B" and each.card == study.cards[0].id else each
        for each in attempts(study, 10, {"A": 30.0, "B": 20.0})
    ]
    weighing = weigh_facts(study, facts)
    completed, time = sentence(weighing, "completed"), sentence(weighing, "time")
    assert "everybody differs in the same way" in completed.verdict
    assert "10 completed more at ChairA 1" in completed.seen
    assert "40 of 40 at ChairA 1, 30 of 40 at ChairB 1" in completed.seen
    assert "40 of 40 at ChairA 1, 30 of 40 at ChairB 1; 25 of 100 more at ChairA 1" in time.seen
    assert "nothing varies" not in completed.whole + time.whole


def test_mixed_is_said_with_both_differences() -> None:
    study = study_with(12)
    cards = [card.id for card in study.cards]
    facts = []
    for number, each in enumerate(attempts(study, 12, {"A": 60.0, "B": 30.0})):
        fails = (each.chair == "B" and each.card in cards[2:]) or (each.chair == "A" and number % 24 == 3)
        facts.append(replace(each, outcome=Outcome.GAVE_UP) if fails else each)
    said = sentence(weigh_facts(study, facts), "who fared better")
    assert said.kind is VerdictKind.MIXED
    assert "are mixed: even on balance by opposite differences" in said.verdict
    assert "of 100 more were completed unaided at ChairA 1 (95 %: " in said.verdict
    assert "net went faster at ChairB 1" in said.verdict
    assert "better" not in said.verdict


def test_nobody_differs_is_never_said_alone_where_tasks_differ_in_opposite_ways() -> None:
    study = study_with(12)
    half = [card.id for card in study.cards][2:]
    facts = [
        replace(each, outcome=Outcome.GAVE_UP) if each.chair == "B" and each.card in half else each
        for each in attempts(study, 12, {"A": 60.0, "B": 30.0})
    ]
    said = sentence(weigh_facts(study, facts), "who fared better")
    assert said.kind is VerdictKind.CANNOT_TELL
    assert "on balance nobody differs, by opposite differences" in said.verdict
    assert "Completed unaided: 48 of 48 at ChairA 1, 24 of 48 at ChairB 1" in said.seen
    assert "net for ChairA 1: +50 by how far people got, -50 by time" in said.seen.replace("−", "-")


@pytest.mark.parametrize("primary", ["time", "ease", "who fared better", "completed unaided", "satisfaction"])
def test_the_primary_measure_comes_first_and_the_others_are_secondary(primary: Primary) -> None:
    study = study_with(8, primary, chairs=3)
    said = overall_words(weigh_facts(study, attempts(study, 8, {"A": 20.0, "B": 40.0, "C": 30.0})))
    (note,) = said.notes
    assert "a winner on a secondary measure is a lead to follow" in note
    headings = [heading for heading, _ in overall_lines(said.sentences) if heading]
    assert len(headings) == 6
    assert "decided beforehand" in headings[0]
    assert all("secondary" in heading for heading in headings[1:])
    assert [(each.first, each.second) for each in said.sentences[:3]] == [("A", "B"), ("A", "C"), ("B", "C")]
    assert said.sentences[0].measure == primary


def test_without_a_primary_measure_all_is_secondary_and_a_late_choice_is_told_with_its_day() -> None:
    study = study_with(8)
    weighing = weigh_facts(study, attempts(study, 8, {"A": 20.0, "B": 40.0}))
    said = overall_words(weighing)
    assert "No primary measure was decided beforehand" in said.notes[0]
    assert {each.role for each in said.sentences} == {"secondary"}
    chosen = replace(study, sheet=replace(study.sheet, comparing=Comparing(primary="time")))
    late = overall_words(replace(weighing, study=chosen, decided_late=(1_795_000_000 * 10**9,)))
    assert "changed after the first sitting (2026-11-18)" in late.notes[0]
    assert late.sentences[0].role == "chosen after the first sitting"


def test_only_the_pairs_that_were_declared_are_compared_and_corrected_for() -> None:
    study = study_with(8, "time", chairs=3)
    declared = Comparing(primary="time", pairs=("A-C",), margin_time=1.5)
    study = replace(study, sheet=replace(study.sheet, comparing=declared))
    weighing = weigh_facts(study, attempts(study, 8, {"A": 20.0, "B": 40.0, "C": 30.0}))
    said = [each for each in overall_words(weighing).sentences if each.measure == "time"]
    assert [(each.first, each.second) for each in said] == [("A", "C")]
    assert "after Holm over 1" in said[0].figures
    assert "margin +0.405" in said[0].figures
