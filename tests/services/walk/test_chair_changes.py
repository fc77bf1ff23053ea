"""A chair that is altered or left in the middle of a walk, and cards made of steps."""

from dataclasses import replace
from pathlib import Path

import pytest

from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.plan.study import Seat
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.walk import StepEnding
from fresh_chair.core.words.figures import figure_words, mixed_sentences
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.file.file_check import check_open
from fresh_chair.services.plan.people import add_person
from fresh_chair.services.plan.scripts import remove_card
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.recording import RecordedSitting
from fresh_chair.services.sitting.text.notes import sitting_lines, take_lines
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.walk.chair_changes import alter_chair, make_card, move_walk
from fresh_chair.services.walk.walks import begin_walk, walk_view
from tests.builders import FakeClock


def states(opened: OpenStudy, letter: str = "A") -> list[tuple[int, tuple[str, ...], str]]:
    return [(s.number, s.chair.alterations, s.machine.name) for s in opened.plans.chair_states()[letter]]


def test_each_alteration_is_a_state_of_the_chair_of_its_own(opened: OpenStudy, clock: FakeClock) -> None:
    live = begin_walk(opened, "A")
    before = states(opened)[-1]
    first = alter_chair(live, "a newer kernel", clock.now())
    clock.pass_seconds(60)
    second = alter_chair(live, "the driver mended", clock.now())
    assert (first, second) == (before[0] + 1, before[0] + 2)
    assert [alterations for _, alterations, _ in states(opened)[-3:]] == [
        before[1],
        (*before[1], "a newer kernel"),
        (*before[1], "a newer kernel", "the driver mended"),
    ]
    walk = live.state.walk
    assert walk is not None
    assert [turn.state for turn in walk.turns] == [first, second]
    # The sitting itself began in the state before.
    assert opened.chair_states()[live.seat.number].chair.alterations == before[1]


def test_a_walk_goes_on_at_a_machine_that_is_known_or_new(opened: OpenStudy, clock: FakeClock) -> None:
    live = begin_walk(opened, "A")
    was = states(opened)[-1][2]
    move_walk(live, "the older laptop", "the screen flickers", clock.now())
    assert states(opened)[-1][2] == "the older laptop"
    move_walk(live, was.upper(), "it was the cable", clock.now())
    assert states(opened)[-1][2] == was
    assert len(opened.study.machines) == len({machine.id for machine in opened.study.machines})
    with pytest.raises(InputError, match="already"):
        move_walk(live, was, "again", clock.now())


def test_nothing_is_changed_where_the_walk_cannot_say_it(opened: OpenStudy, clock: FakeClock) -> None:
    live = begin_walk(opened, "A")
    plan = opened.study
    with pytest.raises(Refused, match="needs a reason"):
        move_walk(live, "the older laptop", " ", clock.now())
    with pytest.raises(Refused, match="of something"):
        alter_chair(live, " ", clock.now())
    live.log(j.SittingEnded(), clock.now())
    with pytest.raises(Refused):
        alter_chair(live, "a newer kernel", clock.now())
    assert opened.study == plan


def test_in_a_recording_the_chair_changes_where_the_walk_has_come_to(opened: OpenStudy) -> None:
    live = begin_walk(opened, "A", recording="walk.webm", began="2026-11-09T10:00")
    assert isinstance(live, RecordedSitting)
    live.player.go_to(60)
    live.log(j.StepOpened("the menu"), live.now())
    live.player.go_to(30)
    plan = opened.study
    with pytest.raises(Refused, match="before the last mark"):
        alter_chair(live, "a newer kernel", live.now())
    assert opened.study == plan


def test_a_step_becomes_a_card_of_the_script_that_newcomers_can_be_given(opened: OpenStudy, clock: FakeClock) -> None:
    live = begin_walk(opened, "A")
    step = live.log(j.StepOpened("Open every kind of archive"), clock.now())
    card = make_card(opened, live.seat.number, step.id, clock.now())
    assert opened.study.card_by_id[card.id].title == "Open every kind of archive"
    walk = live.state.walk
    assert walk is not None
    assert walk.steps[0].card == card.id
    with pytest.raises(Refused, match="card already"):
        make_card(opened, live.seat.number, step.id, clock.now())


def test_a_step_of_a_walk_that_has_ended_becomes_the_card_of_its_title(opened: OpenStudy, clock: FakeClock) -> None:
    title = opened.study.cards[0].title
    live = begin_walk(opened, "A")
    step = live.log(j.StepOpened(title.upper()), clock.now())
    live.log(j.SittingEnded(), clock.now())
    cards = len(opened.study.cards)
    assert make_card(opened, live.seat.number, step.id).id == opened.study.cards[0].id
    assert len(opened.study.cards) == cards
    with pytest.raises(InputError, match="no such step"):
        make_card(opened, live.seat.number, "none")


def test_newcomers_sit_at_the_chair_as_it_was_left(opened: OpenStudy, clock: FakeClock) -> None:
    live = begin_walk(opened, "A")
    alter_chair(live, "a newer kernel", clock.now())
    live.log(j.SittingEnded(), clock.now())
    seat = next(seat for seat in opened.study.seats if seat.chair == "A" and seat.number != live.seat.number)
    LiveSitting(opened, seat).begin(clock.now())
    assert opened.chair_states()[seat.number].chair.alterations[-1] == "a newer kernel"
    # What a chair is called is no state of it.
    assert replace(opened.study.chair_by_letter["A"], hue=3).alterations == ("a newer kernel",)


def test_a_text_that_tells_of_an_altered_chair_makes_its_states(opened: OpenStudy, tmp_path: Path) -> None:
    text = tmp_path / "walk.txt"
    text.write_text(
        "0:00 sat down\n0:00 walk\n0:05 altered a newer kernel\n0:09 moved the older laptop | the screen flickers\n"
        "0:20 open the sound\n0:30 got up\n"
    )
    add_person(opened, "R1", role="reviewer")
    cards = tuple(card.id for card in opened.study.cards)
    seat = Seat(number=90, participant="R1", chair="A", position=1, cards=cards)
    opened.amend(replace(opened.study, seats=(*opened.study.seats, seat)))
    before = states(opened)[-1]
    take_lines(opened, 90, text, began="2026-11-09T10:00")
    walk = opened.sittings[90].walk
    assert walk is not None
    assert [turn.state for turn in walk.turns] == [before[0] + 1, before[0] + 2]
    assert states(opened)[-2:] == [
        (before[0] + 1, ("a newer kernel",), before[2]),
        (before[0] + 2, ("a newer kernel",), "the older laptop"),
    ]
    assert not any(check.problems for check in check_open(opened.store))


def test_newcomers_before_and_after_a_change_of_their_chair_are_compared_with_that_said(
    opened: OpenStudy, clock: FakeClock
) -> None:
    first, second = [seat for seat in opened.study.seats if seat.chair == "A"][:2]
    for seat in (first, second):
        live = LiveSitting(opened, seat)
        live.begin(clock.now())
        live.break_off("the lunch", clock.now())
        if seat is first:
            walk = begin_walk(opened, "A")
            alter_chair(walk, "a newer kernel", clock.now())
            walk.log(j.SittingEnded(), clock.now())
    weighing = weigh(opened)
    (mixed,) = weighing.mixed
    assert mixed.sittings == ((first.number,), (second.number,))
    (said,) = mixed_sentences(weighing)
    assert said.startswith(f"A changed between its sittings ({first.number} | {second.number}): alterations: ")
    assert said in figure_words(weighing).conditions


def test_what_was_put_off_is_said_at_the_beginning_of_the_next_part(opened: OpenStudy, clock: FakeClock) -> None:
    live = begin_walk(opened, "A")
    step = live.log(j.StepOpened("a second person"), clock.now())
    live.log(j.StepClosed(step.id, StepEnding.NOT_TRIED, "for part two"), clock.now())
    live.log(j.SittingEnded(), clock.now())
    later = begin_walk(opened, "A")
    assert walk_view(opened, later.seat.number).before == ("put off: a second person, for part two",)


def test_a_text_comes_back_into_its_own_study_without_changing_its_chair_twice(
    opened: OpenStudy, clock: FakeClock, tmp_path: Path
) -> None:
    live = begin_walk(opened, "A")
    alter_chair(live, "a newer kernel", clock.now())
    move_walk(live, "the older laptop", "the screen flickers", clock.now())
    live.log(j.SittingEnded(), clock.now())
    text = tmp_path / "walk.txt"
    text.write_text(sitting_lines(opened, live.seat.number))
    later = replace(live.seat, number=90, position=9)
    opened.amend(replace(opened.study, seats=(*opened.study.seats, later)))
    before = states(opened)
    take_lines(opened, 90, text, began="2026-11-09T10:00")
    assert states(opened) == before
    walk = opened.sittings[90].walk
    assert walk is not None
    assert {turn.state for turn in walk.turns} == {before[-1][0]}


def test_a_card_that_is_a_step_of_a_walk_stays_in_the_script(opened: OpenStudy, clock: FakeClock) -> None:
    live = begin_walk(opened, "A")
    step = live.log(j.StepOpened("every archive"), clock.now())
    card = make_card(opened, live.seat.number, step.id, clock.now())
    with pytest.raises(Refused, match="a step of the walk"):
        remove_card(opened, card.id)
    assert card.id in opened.study.card_by_id


@pytest.mark.parametrize(
    ("line", "said"),
    [("0:05 contest A,Q spring", "no chair Q"), ("0:05 open a\n0:06 is card #3 none", "no card “none”")],
)
def test_a_text_tells_of_chairs_and_cards_that_are_there(
    opened: OpenStudy, tmp_path: Path, line: str, said: str
) -> None:
    add_person(opened, "R1", role="reviewer")
    cards = tuple(card.id for card in opened.study.cards)
    seat = Seat(number=90, participant="R1", chair="A", position=1, cards=cards)
    opened.amend(replace(opened.study, seats=(*opened.study.seats, seat)))
    (tmp_path / "w.txt").write_text(f"0:00 sat down\n0:00 walk\n{line}\n")
    with pytest.raises(InputError, match=said):
        take_lines(opened, 90, tmp_path / "w.txt")
