"""What makes a list of cards impossible, and what comes before what."""

from dataclasses import replace

import pytest

from fresh_chair.core.plan.cards import MOST_CARDS, TaskCard, all_before, card_problems, must_follow
from tests.builders import card


def test_a_card_comes_after_what_it_needs_and_after_what_it_uses_up() -> None:
    cards = [card("a"), card("b", needs=("a",)), card("once", once=True), card("spoiler", uses_up=("once",))]
    before = must_follow(cards)
    assert before["b"] == {"a"}
    assert before["spoiler"] == {"once"}
    assert before["a"] == frozenset()


def test_where_needing_and_using_up_contradict_each_other_the_prerequisite_holds() -> None:
    cards = [card("once", once=True, needs=("spoiler",)), card("spoiler", uses_up=("once",))]
    before = must_follow(cards)
    assert before["once"] == {"spoiler"}
    assert before["spoiler"] == frozenset()


def test_everything_before_a_card_includes_what_comes_before_that() -> None:
    cards = [card("a"), card("b", needs=("a",)), card("c", needs=("b",))]
    assert all_before("c", must_follow(cards)) == {"a", "b"}


@pytest.mark.parametrize(
    ("cards", "reason", "place"),
    [
        ([card("a"), card("a")], "the task card a is listed twice", ""),
        ([card("a", needs=("a",))], "cannot name itself", "@ a.needs"),
        ([card("a", needs=("ghost",))], "there is no card 'ghost'", "@ a.needs"),
        ([card("a", uses_up=("ghost",))], "there is no card 'ghost'", "@ a.uses_up"),
        (
            [card("a", needs=("c",)), card("b", needs=("a",)), card("c", needs=("b",))],
            "in a circle: a > c > b > a",
            "@ a",
        ),
    ],
)
def test_impossible_cards_are_said_as_reason_at_place(cards: list[TaskCard], reason: str, place: str) -> None:
    (said,) = card_problems(cards)
    assert reason in said
    assert place in said


def test_ten_thousand_cards_are_refused_in_one_sentence() -> None:
    one = card("a")
    (said,) = card_problems([replace(one, id=f"a-{n}", needs=(f"a-{n + 1}",)) for n in range(10_000)])
    assert "10000 cards" in said
    assert str(MOST_CARDS) in said


@pytest.mark.parametrize("name", ["", "Big", "with space", "ö", "a" * 41, "a--b", "-a", "\x1b[31m"])
def test_an_id_is_small_letters_digits_and_hyphens(name: str) -> None:
    with pytest.raises(ValueError, match="small letters"):
        card(name)
