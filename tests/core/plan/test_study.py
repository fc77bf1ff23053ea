"""What is decided before anyone sits down."""

from collections import Counter
from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.errors import InputError
from fresh_chair.core.plan.orders import planned_seats, williams_orders
from fresh_chair.core.plan.people import participant_code
from fresh_chair.core.plan.text.outline import study_from_outline
from fresh_chair.core.text import legible, legible_lines
from fresh_chair.demo.journals import scenario
from tests.builders import bare, small_study


@given(st.integers(2, 12))
def test_williams_orders_balance_positions_and_neighbours(count: int) -> None:
    orders = williams_orders(count)
    positions = Counter((index, thing) for order in orders for index, thing in enumerate(order))
    neighbours = Counter(pair for order in orders for pair in pairwise(order))
    assert len(set(positions.values())) == 1
    assert len(positions) == count * count
    assert len(set(neighbours.values())) == 1
    assert len(neighbours) == count * (count - 1)


def test_williams_square_of_four_is_the_one_of_1949() -> None:
    # Williams (1949), first row 1 2 4 3 for n = 4, the others by adding one modulo four.
    assert [tuple(thing + 1 for thing in order) for order in williams_orders(4)] == [
        (1, 2, 4, 3),
        (2, 3, 1, 4),
        (3, 4, 2, 1),
        (4, 1, 3, 2),
    ]


def test_everybody_sits_at_every_chair_once_and_first_sittings_come_first() -> None:
    study = small_study(people=6, chairs=3)
    assert Counter((seat.participant, seat.chair) for seat in study.seats).total() == 18
    assert len({(seat.participant, seat.chair) for seat in study.seats}) == 18
    assert [seat.position for seat in study.seats] == [1] * 6 + [2] * 6 + [3] * 6
    assert [seat.number for seat in study.seats] == list(range(1, 19))


def test_a_study_without_chairs_seats_nobody() -> None:
    study = small_study()
    assert planned_seats(replace(study, chairs=(), cards=bare(study), seats=())) == ()


@pytest.mark.parametrize("code", ["P01", "a", "x-1_y", "7"])
def test_codes_are_kept_as_typed(code: str) -> None:
    assert participant_code(code) == code


@pytest.mark.parametrize(
    "code", ["", " ", "[red]P1[/]", "P\x1b[31m", "P" * 300, "Anna Berg", "P\n1", "-x", "Ö1", "P1\u202e"]
)
def test_what_is_no_code_is_refused_in_one_harmless_sentence(code: str) -> None:
    with pytest.raises(InputError) as caught:
        participant_code(code)
    said = str(caught.value)
    assert "1 to 16 letters" in said
    assert not any(ord(letter) < 32 or letter == "\u202e" for letter in said)
    assert len(said) < 220


@given(st.text())
def test_legible_text_is_one_line_that_cannot_act(text: str) -> None:
    shown = legible(text)
    assert not any(ord(letter) < 32 or 0x7F <= ord(letter) < 0xA0 for letter in shown)
    assert "\x1b" not in legible_lines(text)


def test_an_outline_becomes_a_study() -> None:
    study = study_from_outline(scenario(), name="scenario.toml", study_id="x")
    assert (len(study.people), len(study.chairs), len(study.cards), len(study.seats)) == (8, 3, 8, 24)


def test_all_problems_of_an_outline_are_said_at_once_as_reason_at_place() -> None:
    broken = scenario().replace('letter = "B"', 'letter = "bee"').replace('code = "P03"', 'code = "P 03"')
    broken = broken.replace("limit_seconds = 480", "limit_seconds = -5")
    with pytest.raises(InputError) as caught:
        study_from_outline(broken, name="plan.toml", study_id="x")
    said = caught.value.title
    for reason, place in (
        ("letter is one of A to Z", "@ chairs[2]"),
        ("greater than or equal to 1", "@ cards[2].limit_seconds"),
        ("cannot be a participant's code", "@ people[3]"),
    ):
        assert any(reason in line and place in line for line in said.splitlines()), said


@pytest.mark.parametrize(
    ("text", "said"),
    [("outline = 1\ntitle = ", "not valid TOML"), ('title = "x"', "outline = None"), ("outline = 9", "outline = 9")],
)
def test_a_text_that_is_no_outline_is_said_to_be_none(text: str, said: str) -> None:
    with pytest.raises(InputError, match=said):
        study_from_outline(text, name="plan.toml", study_id="x")


def test_a_plan_that_does_not_hold_together_is_refused() -> None:
    study = small_study()
    seats = tuple(replace(seat, chair="Z") for seat in study.seats)
    with pytest.raises(ValueError, match=r"listed twice.*no chair that is listed"):
        replace(study, people=(*study.people, study.people[0]), seats=seats)
