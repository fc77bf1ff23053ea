"""A script is a text of its author's: what stands around the cards survives every change."""

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fresh_chair.core.errors import InputError
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.text.script import cards_of
from fresh_chair.core.plan.text.script_editing import brought_to, new_text, with_card, without_card
from tests.builders import card

WRITTEN = """# Our first script. Ask Ines before changing goals.
script = 1

[[cards]]  # the easy one
id = "dark"
title = "Dark"
area = "looks"
# tried on three people
goal = "Please make it dark."
success = "It is dark."
limit_seconds = 300   # generous
benchmark_seconds = { A = 14 }  # measured twice

# --- the hard one ---
[[cards]]
id = "online"
title = "Online"
area = "network and devices"
goal = "Please get online."
success = "A page is shown."
limit_seconds = 240
[cards.routes]
A = ["Nets", "choose"]   # as in the manual
"""
COMMENTS = [line.split("#", 1)[1] for line in WRITTEN.splitlines() if "#" in line]

_line = st.text(st.characters(codec="utf-8", exclude_categories=("Cs", "Cc")), min_size=1, max_size=30)
_letters = st.sampled_from("ABC")
made_cards = st.lists(
    st.builds(
        TaskCard,
        id=st.from_regex(r"[a-z][a-z0-9]{0,8}", fullmatch=True),
        title=_line,
        area=_line,
        goal=_line,
        start=_line,
        success=_line,
        partly=st.lists(_line, max_size=3).map(tuple),
        question=st.one_of(st.just(""), _line),
        limit_seconds=st.integers(1, 86400),
        benchmark_seconds=st.dictionaries(_letters, st.floats(0.1, 9999), max_size=3),
        routes=st.dictionaries(_letters, st.lists(_line, min_size=1, max_size=3).map(tuple), max_size=2),
        notes=st.dictionaries(_letters, _line, max_size=2),
        fixtures=st.lists(_line, max_size=2).map(tuple),
        once=st.booleans(),
        put_back=st.lists(_line, max_size=2).map(tuple),
        priority=st.integers(1, 3),
        dropped=st.booleans(),
        overruled=st.dictionaries(st.sampled_from(["jargon", "too-long"]), _line, max_size=2),
    ),
    max_size=4,
    unique_by=lambda each: each.id,
)


@given(made_cards)
@settings(max_examples=60, deadline=None)
def test_what_is_written_is_read_back(cards: list[TaskCard]) -> None:
    assert cards_of(new_text(cards, comment="a comment\nof two lines"), name="s") == tuple(cards)


@given(made_cards, made_cards)
@settings(max_examples=60, deadline=None)
def test_a_text_is_brought_to_any_other_cards(present: list[TaskCard], wanted: list[TaskCard]) -> None:
    text = brought_to(new_text(present), wanted, present)
    assert {each.id: each for each in cards_of(text, name="s")} == {each.id: each for each in wanted}


def with_field(text: str, name: str, field: str, value: Any) -> str:
    """The text with one field of one card changed."""
    present = cards_of(text, name="s")
    wanted = [replace(each, **{field: value}) if each.id == name else each for each in present]
    return brought_to(text, wanted, present)


def test_comments_and_order_survive_changed_fields_new_cards_and_removed_ones() -> None:
    text = with_field(WRITTEN, "dark", "goal", "Please make everything dark.")
    text = with_field(text, "dark", "benchmark_seconds", {"A": 14, "B": 19})
    text = with_field(text, "online", "routes", {"A": ("Nets", "choose"), "B": ("Wires",)})
    text = with_card(text, card("third"))
    for comment in COMMENTS:
        assert comment in text
    cards = cards_of(text, name="s")
    assert [each.id for each in cards] == ["dark", "online", "third"]
    assert cards[0].goal == "Please make everything dark."
    assert cards[0].benchmark_seconds == {"A": 14, "B": 19}
    assert cards[1].routes == {"A": ("Nets", "choose"), "B": ("Wires",)}
    fewer = without_card(text, "online")
    assert [each.id for each in cards_of(fewer, name="s")] == ["dark", "third"]
    assert "Ask Ines before changing goals" in fewer


def test_nothing_changes_in_a_text_whose_cards_are_what_they_should_be() -> None:
    cards = cards_of(WRITTEN, name="s")
    assert brought_to(WRITTEN, cards, cards) == WRITTEN


def test_cards_in_brackets_are_changed_too() -> None:
    text = """# ours
script = 1
cards = [{ id = "a", title = "A", area = "looks", goal = "Do it.", success = "Done.", limit_seconds = 5 }]
"""
    changed = with_card(with_field(text, "a", "goal", "Do that."), card("b"))
    assert [each.goal for each in cards_of(changed, name="s")] == ["Do that.", "Please do something."]
    assert "# ours" in changed


def test_a_field_that_goes_back_to_its_default_leaves_the_text() -> None:
    text = with_field(with_field(WRITTEN, "dark", "priority", 1), "dark", "priority", 2)
    assert "priority" not in text


def test_all_that_is_wrong_is_said_at_once_as_reason_at_place() -> None:
    broken = WRITTEN.replace('title = "Dark"', "title = 7").replace("limit_seconds = 240", "limit_seconds = 0")
    broken += 'colour = "red"\n'
    with pytest.raises(InputError) as caught:
        cards_of(broken, name="ours.toml")
    said = caught.value.title
    assert "ours.toml" in said
    for place in ("@ cards[1].title (dark)", "@ cards[2].limit_seconds (online)", "@ cards[2]"):
        assert place in said


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("script = 1\n[[cards", "not valid TOML"),
        ("cards = []", "script = None"),
        ("script = 2", "script = 2"),
        ("script = true", "script = True"),
        ("script = 1\ncards = " + "[" * 5000, "nested too deeply|not valid TOML"),
        ('script = 1\n"\\u001b[31m" = 1', "␛|x1b"),
    ],
)
def test_what_is_no_script_is_said_to_be_none_harmlessly(text: str, said: str) -> None:
    with pytest.raises(InputError, match=said) as caught:
        cards_of(text, name="s.toml")
    assert "\x1b" not in str(caught.value)


def test_a_circle_is_said_with_its_cards() -> None:
    text = new_text([card("a", needs=("b",)), card("b", needs=("a",))])
    with pytest.raises(InputError, match=r"circle: a > b > a @ a\.needs Nothing"):
        cards_of(text, name="s.toml")


def test_several_impossible_cards_are_a_line_each() -> None:
    text = new_text([card("a"), card("b", needs=("ghost",)), card("b")])
    with pytest.raises(InputError) as caught:
        cards_of(text, name="s.toml")
    assert [line.strip() for line in caught.value.title.splitlines()[1:]] == [
        "the task card b is listed twice @ the whole",
        "there is no card 'ghost' @ b.needs",
    ]
