"""Who sits where in which order."""

from collections import Counter
from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fresh_chair.core.plan.balance import balance_of, vacancies
from fresh_chair.core.plan.cards import must_follow
from fresh_chair.core.plan.orders import planned_seats, position_counts, unevenness
from fresh_chair.core.plan.people import Participant
from fresh_chair.core.plan.sheet import Group, Sheet
from fresh_chair.core.plan.study import Study
from tests.builders import card, small_study


def planned(study: Study) -> Study:
    return replace(study, seats=planned_seats(study))


def chair_orders(study: Study) -> dict[str, tuple[str, ...]]:
    found: dict[str, list[tuple[int, str]]] = {}
    for seat in study.seats:
        found.setdefault(seat.participant, []).append((seat.position, seat.chair))
    return {code: tuple(chair for _, chair in sorted(pairs)) for code, pairs in found.items()}


needing = st.lists(st.sets(st.integers(0, 9), max_size=2), min_size=2, max_size=10)


@given(needing, st.integers(1, 5), st.integers(1, 3), st.integers(0, 99))
@settings(max_examples=50, deadline=None)
def test_every_order_has_every_card_once_and_keeps_the_prerequisites(
    needs: list[set[int]], people: int, chairs: int, seed: int
) -> None:
    cards = tuple(
        card(f"c-{n}", needs=tuple(f"c-{other}" for other in sorted(before) if other < n))
        for n, before in enumerate(needs)
    )
    study = planned(replace(small_study(people=people, chairs=chairs), cards=cards, seats=(), seed=seed))
    before = must_follow(cards)
    for seat in study.seats:
        assert sorted(seat.cards) == sorted(each.id for each in cards)
        for index, name in enumerate(seat.cards):
            assert before[name] <= set(seat.cards[:index])


@given(st.integers(1, 4), st.integers(1, 6))
@settings(deadline=None)
def test_whole_williams_designs_put_every_chair_everywhere_and_after_every_other(chairs: int, times: int) -> None:
    whole = chairs if chairs % 2 == 0 or chairs == 1 else 2 * chairs
    study = small_study(people=whole * times, chairs=chairs, cards=1)
    orders = list(chair_orders(study).values())
    positions = position_counts(orders, [chair.letter for chair in study.chairs])
    assert {count for row in positions.values() for count in row} == {whole * times // chairs}
    pairs = Counter(pair for order in orders for pair in pairwise(order))
    assert len(set(pairs.values())) <= 1
    assert len(pairs) == chairs * (chairs - 1)


@pytest.mark.parametrize(("people", "cards"), [(8, 8), (5, 7), (12, 10), (20, 6)])
def test_cards_stand_in_every_position_equally_often_give_or_take_one(people: int, cards: int) -> None:
    study = small_study(people=people, chairs=2, cards=cards)
    counts = position_counts([seat.cards for seat in study.seats], [each.id for each in study.cards])
    assert max(max(row) - min(row) for row in counts.values()) <= 1


def test_bound_cards_are_spread_better_than_by_chance_alone() -> None:
    from random import Random

    cards = tuple(card(f"c-{n}", needs=(f"c-{n - 1}",) if n % 3 == 1 else ()) for n in range(12))
    study = planned(replace(small_study(people=12, chairs=3), cards=cards, seats=()))
    ids = [each.id for each in cards]
    before, dice, random_orders = must_follow(cards), Random(3), []
    for _ in study.seats:
        left, order = list(ids), list[str]()
        while left:
            free = [name for name in left if before[name] <= set(order)]
            order.append(dice.choice(free))
            left.remove(order[-1])
        random_orders.append(order)
    assert unevenness([seat.cards for seat in study.seats], ids) < 0.7 * unevenness(random_orders, ids)


def test_the_same_seed_gives_the_same_plan_and_another_seed_another() -> None:
    study = small_study(people=4, chairs=3, cards=9)
    assert planned_seats(study) == study.seats
    assert [s.cards for s in planned_seats(replace(study, seed=2))] != [s.cards for s in study.seats]


def test_what_was_run_never_changes_whatever_is_planned_anew() -> None:
    study = small_study(people=4, chairs=3, cards=6)
    begun = {1, 2, 6}
    kept = {seat for seat in study.seats if seat.number in begun}
    more = replace(
        study,
        seed=77,
        people=(*study.people, Participant(code="P05")),
        cards=(*study.cards, card("late-one")),
    )
    again = planned_seats(more, begun)
    assert kept <= set(again)
    assert all("late-one" in seat.cards for seat in again if seat.number not in begun)
    assert len({seat.number for seat in again}) == len(again) == 15


def test_groups_sit_at_their_chairs_only() -> None:
    study = small_study(people=4, chairs=3)
    groups = (Group(name="one", chairs=("A", "B")), Group(name="two", chairs=("C",)))
    people = tuple(replace(p, group="one" if n % 2 else "two") for n, p in enumerate(study.people))
    grouped = planned(replace(study, sheet=Sheet(groups=groups), people=people, seats=()))
    assert {seat.chair for seat in grouped.seats if grouped.person_by_code[seat.participant].group == "two"} == {"C"}
    assert set(chair_orders(grouped)["P02"]) == {"A", "B"}


def test_a_once_only_card_goes_to_the_first_participant_where_a_chair_is_put_back_by_hand() -> None:
    study = small_study(people=3, chairs=2, cards=2)
    chairs = (replace(study.chairs[0], put_back="by hand"), study.chairs[1])
    cards = (*study.cards, card("seen-once", once=True))
    people = (*study.people, Participant(code="T1", role="pilot"))
    made = planned(replace(study, chairs=chairs, cards=cards, people=people, seats=()))
    at_a = [seat for seat in made.seats if seat.chair == "A" and "seen-once" in seat.cards]
    assert [seat.participant for seat in at_a] == [
        next(seat.participant for seat in made.seats if seat.chair == "A" and seat.participant != "T1")
    ]
    assert all("seen-once" in seat.cards for seat in made.seats if seat.chair == "B")


def test_a_once_only_card_comes_before_what_uses_it_up() -> None:
    cards = (card("spoiler", uses_up=("seen-once",)), card("seen-once", once=True), card("other"))
    study = planned(replace(small_study(people=6), cards=cards, seats=()))
    assert all(seat.cards.index("seen-once") < seat.cards.index("spoiler") for seat in study.seats)


def test_dropped_cards_are_given_to_nobody() -> None:
    study = small_study(cards=3)
    dropped = replace(study.cards[1], dropped=True)
    again = planned(replace(study, cards=(study.cards[0], dropped, study.cards[2]), seats=()))
    assert all(dropped.id not in seat.cards for seat in again.seats)


def test_whoever_replaces_somebody_gets_their_order_of_chairs_at_every_chair() -> None:
    study = small_study(people=6, chairs=3)
    gone = study.people[2]
    first = min(seat.number for seat in study.seats if seat.participant == gone.code)
    people = tuple(replace(p, left="ill") if p is gone else p for p in study.people)
    people = (*people, Participant(code="P07", replaces=gone.code))
    again = replace(study, people=people, seats=planned_seats(replace(study, people=people), {first}))
    assert chair_orders(again)["P07"] == chair_orders(study)[gone.code]
    assert [seat.number for seat in again.seats if seat.participant == gone.code] == [first]
    (vacancy,) = vacancies(again, {first})
    assert (vacancy.code, vacancy.filled_by, len(vacancy.missing)) == (gone.code, "P07", 2)


def test_experts_and_pilots_sit_before_everybody_and_are_not_balanced_over() -> None:
    study = small_study(people=2, chairs=2)
    people = (*study.people, Participant(code="T1", role="pilot"), Participant(code="E1", role="expert"))
    made = planned(replace(study, people=people, seats=()))
    assert [seat.participant for seat in made.seats[:4]] == ["E1", "E1", "T1", "T1"]
    assert balance_of(made, made.seats).chairs[0].people == 2


@pytest.mark.parametrize(("people", "missing"), [(6, 0), (5, 1), (7, 5), (3, 3)])
def test_the_balance_says_in_words_how_many_people_more_even_it_out(people: int, missing: int) -> None:
    study = small_study(people=people, chairs=3, cards=1)
    balance = balance_of(study, study.seats)
    assert balance.chairs[0].missing == missing
    said = " ".join(balance.uneven)
    if missing:
        assert f"{missing} more p" in said
        assert f"({people + missing} in all)" in said
    else:
        assert said == ""
        assert any("every position equally often" in sentence for sentence in balance.sentences)


def test_cards_held_in_place_by_prerequisites_are_named() -> None:
    cards = (card("first", title="First one"), card("then", title="Then this", needs=("first",)), card("free"))
    study = planned(replace(small_study(people=6, chairs=1), cards=cards, seats=()))
    assert any("First one" in s and "Then this" in s for s in balance_of(study, study.seats).sentences)


def test_once_only_cards_that_nobody_else_gets_are_named() -> None:
    study = small_study(people=3, chairs=1)
    chairs = (replace(study.chairs[0], put_back="by hand"),)
    made = planned(replace(study, chairs=chairs, cards=(card("once", title="Seen once", once=True),), seats=()))
    assert any(
        "Seen once" in sentence and "only P01 gets it" in sentence for sentence in balance_of(made, made.seats).uneven
    )


def test_a_plan_without_anybody_or_anything_is_no_trouble() -> None:
    study = small_study()
    nothing = replace(study, people=(), chairs=(), cards=(), seats=())
    assert planned_seats(nothing) == ()
    assert balance_of(nothing, ()).uneven == ()


def test_cards_that_stand_unevenly_are_said_to_and_even_ones_are_not() -> None:
    study = small_study(people=4, chairs=1, cards=4)
    same = tuple(replace(seat, cards=tuple(card.id for card in study.cards)) for seat in study.seats)
    uneven = balance_of(study, same)
    assert any("“Card 1” stands 4 times in one position and never in another" in said for said in uneven.uneven)
    assert not any("equally often, give or take one" in said for said in uneven.sentences)
    assert any("equally often, give or take one" in said for said in balance_of(study, study.seats).sentences)
