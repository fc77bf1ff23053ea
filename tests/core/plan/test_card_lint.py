"""What gives the answer away: every rule speaks where it should, and is silent where it should be."""

from dataclasses import replace

import pytest

from fresh_chair.core.plan.card_lint import RULES, card_remarks, script_remarks
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.chairs import Chair
from tests.builders import card, small_study

GOOD = card(
    "good",
    goal="You will be working late tonight. Please make everything on the screen dark instead of bright.",
    start="Everything is bright.",
    success="Everything is dark.",
)
CHAIR = small_study(chairs=1, cards=1).chairs[0]


def rules(one: TaskCard, *others: TaskCard, chairs: tuple[Chair, ...] = ()) -> set[str]:
    return {remark.rule for remark in card_remarks(one, [one, *others], chairs)}


def test_a_good_card_gets_no_remark() -> None:
    assert card_remarks(GOOD, [GOOD], [CHAIR]) == []


@pytest.mark.parametrize(
    ("changes", "rule"),
    [
        ({"goal": "Please make the settings dark.", "routes": {"A": ("Settings", "Colours")}}, "on-the-way"),
        ({"goal": "Please click the button that makes it dark."}, "names-means"),
        ({"goal": "Please change the theme."}, "jargon"),
        ({"goal": "Please make it dark and install a game."}, "two-goals"),
        ({"goal": "Please make it dark. Find the letter."}, "two-goals"),
        ({"goal": "Please make it dark as before."}, "order-hint"),
        ({"goal": "Please make it dark. " + "It should be really dark everywhere you look. " * 9}, "too-long"),
        (
            {"goal": "Please reconfigure organisational accessibility characteristics accordingly immediately."},
            "hard-to-follow",
        ),
        ({"success": " "}, "no-success"),
        ({"start": ""}, "no-start"),
        ({"limit_seconds": 60, "benchmark_seconds": {"A": 60}}, "limit-below-benchmark"),
        ({"goal": "Please get music into the headphones."}, "fixture-unlisted"),
        ({"goal": "Please print the letter on the printer."}, "fixture-unlisted"),
        ({"goal": "Please print the letter on both printers."}, "fixture-unlisted"),
    ],
)
def test_each_rule_speaks_where_it_should(changes: dict[str, object], rule: str) -> None:
    found = card_remarks(replace(GOOD, **changes))  # type: ignore[arg-type]
    remark = next(each for each in found if each.rule == rule)
    assert remark.why
    assert remark.advice
    assert remark.path in {"goal", "success", "start", "limit_seconds", "fixtures", "needs"}


@pytest.mark.parametrize(
    "goal",
    [
        "Before you take this home, find out whether it is dark.",
        "Please make it dark for the next hour.",
        "Please make it dark for the first of your guests.",
        "Your nephew asks how many pictures a second it shows. Please tell him.",
    ],
)
def test_innocent_words_are_left_alone(goal: str) -> None:
    assert not {"two-goals", "order-hint", "names-means"} & rules(replace(GOOD, goal=goal))


def test_what_a_chair_calls_things_gives_the_answer_away_once_it_is_known() -> None:
    labelled = replace(CHAIR, labels=("Darkroom of screens",))
    assert "on-the-way" not in rules(GOOD, chairs=(CHAIR,))
    (remark,) = card_remarks(GOOD, [GOOD], [labelled])
    assert remark.rule == "on-the-way"
    assert CHAIR.title in remark.why


def test_what_lies_on_the_bench_has_to_be_named() -> None:
    named = replace(GOOD, goal="The word is on this slip of paper. Please make it dark.", fixtures=("a slip of paper",))
    assert card_remarks(named, [named], [replace(CHAIR, labels=("Paper slips",))]) == []


def test_a_prerequisite_that_can_never_be_met_is_grave() -> None:
    dropped = replace(GOOD, id="dropped", dropped=True)
    needing = replace(GOOD, id="needing", needs=("dropped",))
    assert next(r for r in card_remarks(needing, [dropped, needing]) if r.rule == "never-met").grave
    once = replace(GOOD, id="once", once=True)
    wanting = replace(GOOD, id="wanting", needs=("once",))
    by_hand = replace(CHAIR, put_back="by hand")
    assert "never-met" in rules(wanting, once, chairs=(by_hand,))
    assert "never-met" not in rules(wanting, once, chairs=(CHAIR,))


def test_a_once_only_card_after_what_uses_it_up_is_grave() -> None:
    spoiler = replace(GOOD, id="spoiler", uses_up=("once",))
    once = replace(GOOD, id="once", once=True, needs=("spoiler",))
    found = card_remarks(once, [spoiler, once])
    assert [remark.rule for remark in found if remark.grave] == ["used-up-before"]


def test_an_overruled_remark_stays_with_its_reason_and_comes_last() -> None:
    wrong = replace(
        GOOD, goal="Please click here. Please change the theme.", overruled={"jargon": "they are designers"}
    )
    found = card_remarks(wrong)
    assert found[-1].rule == "jargon"
    assert found[-1].overruled == "they are designers"
    assert not found[0].overruled


def test_nothing_is_said_of_cards_that_nobody_gets() -> None:
    assert script_remarks([replace(GOOD, goal="Click the theme.", dropped=True)]) == []


def test_every_rule_that_can_speak_can_be_overruled_by_its_name() -> None:
    seen: set[str] = set()
    for changes in (
        {"goal": "Please click the theme, then find it and change it as before. " * 9, "start": "", "success": ""},
        {"goal": "Please see to organisational accessibility characteristics.", "limit_seconds": 1},
    ):
        seen |= rules(replace(GOOD, **changes))
    assert seen
    assert seen <= set(RULES)


@pytest.mark.parametrize(
    ("changes", "rule"),
    [
        ({"goal": "Please make the settings dark."}, "on-the-way"),
        ({"goal": "Please get music into the headphones."}, "fixture-unlisted"),
    ],
)
def test_what_may_well_be_meant_is_advice_and_no_grave_fault(changes: dict[str, str], rule: str) -> None:
    labelled = replace(CHAIR, labels=("Settings",))
    found = {remark.rule: remark.grave for remark in card_remarks(replace(GOOD, **changes), [GOOD], [labelled])}  # type: ignore[arg-type]
    assert found[rule] is False
