"""A walk: steps in any order, each with its own clock; lines first, their kind afterwards; how a thing is known."""

import pytest

from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.errors import Refused
from fresh_chair.core.figures.facts import facts_of
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.contradictions import impossible
from fresh_chair.core.sitting.journal import Content, Entry
from fresh_chair.core.sitting.replay import advance, replay
from fresh_chair.core.sitting.rules import permit
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.sitting.state.walk import TIMES, Step, StepEnding, Walk
from fresh_chair.core.sitting.walked import line_in_hand
from fresh_chair.core.words.walks import list_words
from tests.builders import small_study


def entries(*timed: tuple[float, Content]) -> list[Entry]:
    return [
        Entry(f"e{n}", n, Moment(round(at * SECOND), "b", round(at * SECOND)), "moderator", content)
        for n, (at, content) in enumerate(timed, start=1)
    ]


def walked(*timed: tuple[float, Content]) -> Sitting:
    return replay(1, ("card-1", "card-2"), entries((0, j.SittingBegan()), (0, j.WalkBegan()), *timed))


def walk(sitting: Sitting) -> Walk:
    assert sitting.walk is not None
    return sitting.walk


def steps(sitting: Sitting) -> list[Step]:
    return walk(sitting).steps


def test_steps_come_in_any_order_and_each_has_its_own_clock() -> None:
    sitting = walked(
        (10, j.StepOpened("the archives")),
        (40, j.StepOpened("Make it dark", "card-2")),
        (55, j.StepClosed("e4", StepEnding.UNAIDED)),
        (60, j.StepTakenUp("e3")),
        (75, j.StepClosed("e3", StepEnding.PARTLY)),
    )
    assert [step.hands_ns() / SECOND for step in steps(sitting)] == [45, 15]
    assert [step.ending for step in steps(sitting)] == [StepEnding.PARTLY, StepEnding.UNAIDED]
    assert (sitting.phase, walk(sitting).hand) == (Phase.WALKING, 0)


def test_a_step_left_running_has_the_machines_time_apart() -> None:
    sitting = walked(
        (0, j.StepOpened("install it")),
        (30, j.StepSetAside(running=True)),
        (40, j.StepOpened("the menu meanwhile")),
        (130, j.StepTakenUp("e3")),
        (150, j.StepClosed("e3", StepEnding.UNAIDED)),
    )
    step = steps(sitting)[0]
    assert (step.hands_ns() / SECOND, step.machine_ns() / SECOND) == (50, 100)


def test_nothing_is_due_and_a_walk_ends_with_steps_still_open() -> None:
    sitting = walked((0, j.StepOpened("a")), (5, j.StepOpened("b")), (9, j.SittingEnded()))
    assert sitting.phase is Phase.ENDED
    assert [step.ending for step in steps(sitting)] == [None, None]
    assert [step.hands_ns() / SECOND for step in steps(sitting)] == [5, 4]


def test_closings_are_no_outcomes_and_some_endings_need_a_reason() -> None:
    looked = {each: each.outcome for each in StepEnding}
    assert [each for each, outcome in looked.items() if outcome is None] == [
        StepEnding.LOOKED_AT,
        StepEnding.NOT_TRIED,
        StepEnding.NOTHING_FOR_IT,
    ]
    assert {outcome for outcome in looked.values() if outcome} == set(Outcome)
    with pytest.raises(Exception, match="needs a reason"):
        walked((0, j.StepOpened("a")), (1, j.StepClosed("e3", StepEnding.BLOCKED)))


def test_a_line_typed_in_a_hurry_gets_its_kind_later_and_only_a_line_does() -> None:
    sitting = walked(
        (0, j.StepOpened("a")),
        (1, j.LineTyped("the pictures flicker")),
        (2, j.SnagSeen("slow")),
        (9, j.SittingEnded()),
        (99, j.LineMeant("e4", "delight")),
    )
    line = sitting.remarks["e4"]
    assert (line.kind, line.step, line.words) == ("delight", 1, "the pictures flicker")
    with pytest.raises(Exception, match="no line of that kind"):
        walked((0, j.StepOpened("a")), (2, j.SnagSeen("slow")), (3, j.LineMeant("e4", "delight")))


def test_how_a_thing_is_known_is_done_in_a_walk_and_seen_beside_a_newcomer() -> None:
    sitting = walked(
        (0, j.StepOpened("a")),
        (1, j.NoteTaken("x")),
        (2, j.NoteTaken("y")),
        (3, j.EvidenceTold("e5", "read about")),
        (4, j.EvidenceTold("e3", "shown by others")),
    )
    assert [remark.evidence for remark in sitting.remarks.values()] == ["done", "read about"]
    assert steps(sitting)[0].evidence == "shown by others"
    newcomer = replay(1, ("card-1",), entries((0, j.SittingBegan()), (1, j.NoteTaken("x"))))
    assert newcomer.remarks["e2"].evidence == "seen"


def test_a_list_is_counted_from_its_results() -> None:
    sitting = walked(
        (0, j.StepOpened("every kind of sound")),
        (1, j.ItemsListed("e3", ("ogg", "mp3", "flac", "wav"))),
        (2, j.ItemJudged("e3", 1, "works")),
        (3, j.ItemJudged("e3", 2, "fails", "no sound")),
        (4, j.ItemJudged("e3", 3, "works")),
        (5, j.ItemJudged("e3", 1, "with trouble", "late")),
    )
    said = list_words(steps(sitting)[0].items)
    assert said == "1 of 4 work; 1 with trouble: ogg (late); 1 fails: mp3 (no sound); 1 not looked at yet: wav"


def test_only_what_was_measured_live_or_in_an_uncut_recording_is_a_time() -> None:
    live = walked((0, j.StepOpened("a")), (9, j.StepClosed("e3", StepEnding.UNAIDED)))
    assert walk(live).trust(steps(live)[0], recorded=False) == "measured live"
    recorded = (0, j.RecordingOpened("r.webm"))
    two = ((0, j.StepOpened("a")), (5, j.RecordingCut()), (9, j.StepOpened("b")), (12, j.TimeSaid("e6", 40.0)))
    cut = walked(recorded, *two)
    assert [walk(cut).trust(step, recorded=True) for step in steps(cut)] == ["cut or sped up", "said by the reviewer"]
    unknown = walked(recorded, (0, j.StepOpened("a")), (9, j.StepSetAside()))
    assert walk(unknown).trust(steps(unknown)[0], recorded=True) == "not known"
    whole = walked(recorded, (0, j.RecordingUncut()), (0, j.StepOpened("a")), (9, j.StepSetAside()))
    trusted = walk(whole).trust(steps(whole)[0], recorded=True)
    assert trusted == "from an uncut recording"
    assert trusted in TIMES
    with pytest.raises(Exception, match="not logged from a recording"):
        walked((0, j.RecordingCut()))


def test_striking_a_step_takes_what_was_said_of_it_along_and_touches_no_other() -> None:
    sitting = walked(
        (0, j.StepOpened("a")),
        (5, j.StepOpened("b")),
        (9, j.StepOpened("c")),
        (12, j.StepClosed("e4", StepEnding.GAVE_UP)),
        (13, j.TimeSaid("e3", 30.0)),
        (14, j.Struck("e3", "opened by mistake")),
    )
    assert [(step.title, step.ending, step.said_seconds) for step in steps(sitting)] == [
        ("b", StepEnding.GAVE_UP, None),
        ("c", None, None),
    ]
    step = walk(sitting).step
    assert step is not None
    assert step.title == "c"


def test_nothing_of_a_newcomers_sitting_follows_in_a_walk_and_nothing_of_a_walk_in_one() -> None:
    with pytest.raises(Exception, match="walking"):
        walked((0, j.AttemptStarted("card-1")))
    with pytest.raises(Exception, match="reading"):
        replay(1, ("card-1",), entries((0, j.SittingBegan()), (1, j.StepOpened("a"))))


def test_a_sitting_declared_a_walk_is_in_no_newcomers_figure() -> None:
    study = small_study()
    seat = study.seats[0]
    told = entries(
        (0, j.SittingBegan()),
        (1, j.AttemptStarted(seat.cards[0])),
        (9, j.AttemptStopped()),
        (10, j.OutcomeJudged(Outcome.UNAIDED)),
        (11, j.SittingBrokenOff("enough")),
    )
    before = replay(seat.number, seat.cards, told)
    assert len(facts_of(study, {seat.number: before})) == 1
    declared = [*told, Entry("w", 6, told[-1].moment, "moderator", j.WalkDeclared("it was me"))]
    after = replay(seat.number, seat.cards, declared)
    assert facts_of(study, {seat.number: after}) == []
    assert after.tried == before.tried


def test_only_a_reviewer_walks_and_only_cards_of_the_study_are_cards() -> None:
    study = small_study()
    assert "no reviewer" in impossible(study, Sitting(1, ()), j.WalkBegan())
    assert "no card" in impossible(study, Sitting(1, ()), j.StepOpened("x", "nowhere"))
    assert impossible(study, Sitting(1, ()), j.StepOpened("x", study.cards[0].id)) == ""


def test_declaring_needs_a_reason() -> None:
    ended = walked((1, j.SittingEnded()))
    ended.walk = None
    with pytest.raises(Refused, match="reason"):
        permit(ended, j.WalkDeclared(" "))


def test_a_line_is_reworded_and_added_late_like_any_mark_but_to_a_walk_alone() -> None:
    sitting = walked(
        (0, j.StepOpened("a")),
        (1, j.LineTyped("it flikers")),
        (9, j.SittingEnded()),
        (20, j.Worded("e4", "it flickers")),
        (21, j.AddedLate("line", 3.0, "and hums", "seen in the recording")),
        (22, j.LineMeant("e7", "snag")),
    )
    assert [(each.words, each.kind, each.step) for each in sitting.remarks.values()] == [
        ("it flickers", "line", 1),
        ("and hums", "snag", 1),
    ]
    newcomers = replay(1, ("card-1",), entries((0, j.SittingBegan()), (5, j.SittingBrokenOff("late"))))
    with pytest.raises(Refused, match="walk's"):
        permit(newcomers, j.AddedLate("line", 3.0, "x", "why"))


def test_a_mark_added_late_belongs_to_the_step_of_its_moment_and_so_does_one_that_was_moved() -> None:
    sitting = walked(
        (0, j.StepOpened("a")),
        (20, j.StepOpened("b")),
        (30, j.NoteTaken("x")),
        (40, j.SittingEnded()),
        (90, j.AddedLate("snag", 12.0, "y", "seen in the recording")),
        (91, j.MarkMoved("e5", 15)),
    )
    late, moved = sitting.remarks["e7"], sitting.remarks["e5"]
    assert (late.step, late.evidence, moved.step) == (1, "done", 1)


def test_a_line_of_a_step_stays_as_it_was_when_its_list_goes_on() -> None:
    listed = ((0, j.StepOpened("every kind of sound")), (1, j.ItemsListed("e3", ("ogg", "mp3"))))
    sitting = walked(*listed)
    before = line_in_hand(sitting, 0)
    judged = entries((0, j.SittingBegan()), (0, j.WalkBegan()), *listed, (2, j.ItemJudged("e3", 1, "works")))[-1]
    advance(sitting, judged)
    after = line_in_hand(sitting, 0)
    assert before is not None
    assert after is not None
    assert [item.result for item in before.items] == [None, None]
    assert [item.result for item in after.items] == ["works", None]
