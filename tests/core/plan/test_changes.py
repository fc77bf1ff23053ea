"""What changes in a plan is said; what was run holds its part of the plan in place."""

from dataclasses import replace

import pytest

from fresh_chair.core.errors import Refused
from fresh_chair.core.evidence.hunches import Hunch, chairs_sat_at, hunches_by_cell, require_open
from fresh_chair.core.plan.changes import differences, require_allowed
from fresh_chair.core.plan.fixtures import FixtureCheck, bench_of, lacking
from fresh_chair.core.plan.people import Participant, Role
from fresh_chair.core.plan.sheet import Audience, Sheet, Threshold
from tests.builders import card, small_study

STUDY = small_study(people=2, chairs=2, cards=2)


def test_every_part_of_a_plan_that_differs_is_named_with_what_it_was() -> None:
    changed = replace(
        STUDY,
        title="Another title",
        sheet=Sheet(paid_by="nobody", audiences=(Audience(name="school"),)),
        chairs=(replace(STUDY.chairs[0], kernel="6.12"), STUDY.chairs[1]),
        cards=(*STUDY.cards, card("new-one")),
    )
    found = {each.path: (each.before, each.after) for each in differences(STUDY, changed)}
    assert found["study.title"] == ("A small study", "Another title")
    assert found["sheet.paid_by"] == ("", "nobody")
    assert found["sheet.audiences"] == ("", "school")
    assert found["chair.A.kernel"] == ("", "6.12")
    assert found["card.new-one"] == ("", "added")
    assert len(found) == 5
    assert differences(STUDY, STUDY) == []


def test_what_is_changed_of_a_person_is_named_and_never_kept() -> None:
    people = (replace(STUDY.people[0], profile="told in confidence"), STUDY.people[1])
    (found,) = differences(STUDY, replace(STUDY, people=people))
    assert found.path == "person.P01.profile"
    assert "confidence" not in repr(found)


def test_what_was_run_holds_its_chair_cards_person_and_orders() -> None:
    begun = {1}
    seat = STUDY.seat(1)
    others = tuple(each for each in STUDY.seats if each.number != 1)
    moved = replace(STUDY, seats=(replace(seat, cards=tuple(reversed(seat.cards))), *others))
    without_card = replace(
        STUDY, cards=STUDY.cards[:1], seats=tuple(replace(s, cards=("card-1",)) for s in STUDY.seats)
    )
    piloted = replace(STUDY, people=(replace(STUDY.people[0], role="pilot"), *STUDY.people[1:]))
    for new in (moved, without_card, piloted):
        with pytest.raises(Refused):
            require_allowed(STUDY, new, begun)
        require_allowed(STUDY, new, ())
    require_allowed(STUDY, replace(STUDY, people=(*STUDY.people, Participant(code="P03"))), begun)


def test_thresholds_keep_within_their_scale() -> None:
    assert Threshold(measure="completion", value=0.8).words.startswith("at least 80% of attempts")
    for measure, value in (("completion", 80), ("ease", 0), ("time", 0.5), ("satisfaction", 101), ("severity", 5)):
        with pytest.raises(ValueError, match="lies between"):
            Threshold(measure=measure, value=value)  # type: ignore[arg-type]


def hunch(name: str, **parts: object) -> Hunch:
    values = {"card": "card-1", "chair": "A", "words": "w", "severity": 2, "written_wall_ns": 1, **parts}
    return Hunch(id=name, **values)  # type: ignore[arg-type]


def test_a_hunch_is_open_until_it_is_sealed_or_somebody_sat_there() -> None:
    require_open(hunch("a"), {"B"})
    with pytest.raises(Refused, match="sealed"):
        require_open(hunch("a", sealed_wall_ns=5), ())
    with pytest.raises(Refused, match="has sat"):
        require_open(hunch("a"), {"A"})


def test_the_expert_predicts_nothing_by_knowing_the_way_but_a_pilot_tells() -> None:
    roles: list[tuple[Role, set[str]]] = [("expert", set()), ("pilot", {"A"}), ("participant", {"A"})]
    assert STUDY.seat(1).chair == "A"
    for role, expected in roles:
        people = tuple(replace(person, role=role) for person in STUDY.people)
        assert chairs_sat_at(replace(STUDY, people=people), {1}) == expected


def test_hunches_lie_by_cell_in_the_order_they_were_written() -> None:
    cells = hunches_by_cell([hunch("late", written_wall_ns=9), hunch("early"), hunch("else", chair="B")])
    assert [each.id for each in cells["card-1", "A"]] == ["early", "late"]
    assert [each.id for each in cells["card-1", "B"]] == ["else"]


def test_the_bench_has_each_fixture_once_and_the_last_look_holds() -> None:
    cards = (
        card("a", fixtures=("A headset", "a share")),
        card("b", fixtures=("a Headset",)),
        card("c", fixtures=("never asked",), dropped=True),
    )
    study = replace(STUDY, cards=cards, seats=())
    looks = [
        FixtureCheck(name="A headset", presence="ready", wall_ns=1),
        FixtureCheck(name="a headset", presence="missing", wall_ns=2, note="flat"),
    ]
    bench = bench_of(study, looks)
    assert [each.name for each in bench] == ["A headset", "a share"]
    assert bench[0].cards == ("a", "b")
    assert bench[0].check == looks[1]
    assert [each.name for each in lacking(bench)] == ["A headset", "a share"]
