"""Laws 1 to 3: a sitting is its journal replayed."""

import time
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import JournalError, Refused
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import CODEC, Entry
from fresh_chair.core.sitting.replay import advance, entry_times, replay
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.sitting.state.walk import StepEnding
from tests.builders import FakeClock, Script, one_attempt

CARDS = ("card-1", "card-2")


def test_time_is_charged_to_the_lane_that_was_live() -> None:
    attempt = replay(1, CARDS, one_attempt().entries).attempts[0]
    assert [attempt.lane_ns(lane) // SECOND for lane in Lane] == [25, 10, 5]
    assert attempt.elapsed_ns() == 40 * SECOND


def test_talk_during_a_wait_is_aside_and_the_wait_goes_on_after_it() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"), j.WaitBegan())
    script.at(10, j.AsideBegan())
    script.at(7, j.AsideEnded())
    script.at(3, j.WaitEnded())
    script.at(2, j.AttemptStopped())
    attempt = replay(1, CARDS, script.entries).attempts[0]
    assert [attempt.lane_ns(lane) // SECOND for lane in Lane] == [2, 13, 7]


KEYS = st.sampled_from(
    [
        *("wait", "aside", "helped", "wrong", "snag", "undo", "stop", "judge", "ease", "start"),
        *("told", "marked", "step", "place", "quote", "moved", "rated", "route", "witness"),
        *("leave", "ready", "take up", "again", "split", "join", "watch", "observed", "expect"),
    ]
)


def _last_help(state: Sitting) -> str:
    return next((entry for attempt in state.attempts for entry in attempt.helps), "none")


@given(st.lists(st.tuples(KEYS, st.integers(0, 10**11)), max_size=60))
def test_lanes_add_up_to_elapsed_time_whatever_keys_are_pressed(presses: list[tuple[str, int]]) -> None:
    cards = tuple(f"c{number}" for number in range(20))
    clock = FakeClock()
    entries: list[Entry] = []
    state = Sitting(1, cards)

    def press(content: j.Content, author: str = "m") -> None:
        nonlocal state
        entry = Entry(f"e{len(entries)}", len(entries) + 1, clock.now(), author, content)
        if isinstance(content, j.Struck | j.AttemptSplit | j.AttemptsJoined):
            try:
                state = replay(1, cards, [*entries, entry])
            except JournalError:
                return
            entries.append(entry)
            return
        try:
            advance(state, entry)
        except Refused:
            return
        entries.append(entry)

    press(j.SittingBegan())
    for key, nanoseconds in presses:
        clock.ticks_ns += nanoseconds
        running = state.latest
        tried = state.tried
        left = state.left[0] if state.left else 1
        if key == "observed":
            # A second person's key that was pressed a little earlier and came to the disk a little later.
            clock.ticks_ns -= nanoseconds // 2
            press(j.SnagSeen("seen too"), "other")
            clock.ticks_ns += nanoseconds // 2
            continue
        if key == "watch":
            press(j.ObserverJoined(), "other")
            continue
        if key == "undo":
            if state.undoable:
                press(j.Struck(state.undoable[-1], "undone"))
            continue
        moves: dict[str, j.Content] = {
            "start": j.AttemptStarted(state.card or "none"),
            "wait": j.WaitEnded() if running and running.waiting else j.WaitBegan(),
            "aside": j.AsideEnded() if running and running.set_aside else j.AsideBegan(),
            "helped": j.Helped(),
            "told": j.WaitTold("silent") if running and running.waiting else j.HelpTold(_last_help(state), "hinted"),
            "marked": j.Marked("tries again"),
            "step": j.StepReached(2),
            "place": j.SpotVisited("a place"),
            "quote": j.QuoteTaken(),
            "moved": j.MarkMoved(next(iter(state.remarks), "none"), 10),
            "rated": j.SnagRated(next(iter(state.remarks), "none"), 3),
            "route": j.OutcomeTold(route="another"),
            "witness": j.ChairWitnessed(
                running.number if running else 0, running.card if running else "c0", "after", "confirmed"
            ),
            "wrong": j.WrongPlace(),
            "snag": j.SnagSeen("words"),
            "stop": j.AttemptStopped(),
            "judge": j.OutcomeJudged(Outcome.HELPED),
            "ease": j.EaseRated(4),
            "leave": j.LeftRunning(),
            "ready": j.LeftReady(left),
            "take up": j.TakenUp(left),
            "again": j.CardReopened(tried[0].card if tried else "c0", "once more"),
            "split": j.AttemptSplit(
                tried[-1].number if tried else 1,
                (tried[-1].started_ns + nanoseconds // 3) / SECOND if tried else 1,
                Outcome.PARTLY,
                "c7",
                "two in one",
            ),
            "join": j.AttemptsJoined(
                tried[-2].number if len(tried) > 1 else 1, tried[-1].number if tried else 1, "one in two"
            ),
            "expect": j.ExpectationGiven(state.card or "none", 5),
        }
        press(moves[key])
    again = replay(1, cards, entries)
    assert again.attempts == state.attempts
    for attempt in again.attempts:
        now = again.time_at(clock.now())
        assert sum(attempt.lane_ns(lane, now) for lane in Lane) == attempt.elapsed_ns(now)
        spans = list(attempt.lanes(now))
        assert all(one.end_ns == other.begin_ns for one, other in pairwise(spans)), "no time is charged twice"


def test_taking_back_a_stop_lets_the_clock_run_on_as_though_it_had_not_been_pressed() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    stop = script.at(10, j.AttemptStopped())
    script.at(4, j.Struck(stop, "the attempt went on"))
    script.at(6, j.AttemptStopped())
    attempt = replay(1, CARDS, script.entries).attempts[0]
    assert attempt.lane_ns(Lane.HANDS) == 20 * SECOND


def test_a_struck_snag_takes_its_words_with_it_and_stays_in_the_journal() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    snag = script.at(3, j.SnagSeen())
    script.at(5, j.Worded(snag, "menu opens twice"))
    script.at(1, j.Struck(snag, "was no snag"))
    state = replay(1, CARDS, script.entries)
    assert state.remarks == {}
    assert state.attempts[0].snags == 0
    assert snag in {entry.id for entry in script.entries}


def test_words_may_follow_and_the_last_ones_hold() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    snag = script.at(3, j.SnagSeen())
    script.at(9, j.Worded(snag, "first"), j.Worded(snag, "better"))
    remark = replay(1, CARDS, script.entries).remarks[snag]
    assert (remark.words, remark.at_ns) == ("better", 3 * SECOND)


@pytest.mark.parametrize(
    ("gap", "hands", "aside"), [(j.Gap.COUNT, 30 + 100 + 5, 0), (j.Gap.ASIDE, 30 + 5, 100)], ids=["count", "aside"]
)
def test_dead_time_is_what_the_moderator_says_it_is(gap: j.Gap, hands: int, aside: int) -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    script.at(10, j.WrongPlace())
    script.clock.pass_seconds(20)
    alive = script.clock.now()
    script.at(100, j.SittingResumed(alive.ticks_ns, alive.boot, alive.wall_ns, gap))
    script.at(5, j.AttemptStopped())
    attempt = replay(1, CARDS, script.entries).attempts[0]
    assert attempt.lane_ns(Lane.HANDS) == hands * SECOND
    assert attempt.lane_ns(Lane.ASIDE) == aside * SECOND


def test_an_attempt_nobody_could_follow_is_void_and_the_next_card_comes() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    alive = script.clock.now()
    script.at(50, j.SittingResumed(alive.ticks_ns, alive.boot, alive.wall_ns, j.Gap.VOID))
    state = replay(1, CARDS, script.entries)
    assert state.attempts[0].outcome is Outcome.VOID
    assert (state.phase, state.card) == (Phase.READING, "card-2")


def test_after_a_restart_ticks_count_as_far_as_they_reach_and_the_wall_clock_bridges_the_rest() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    script.clock.pass_seconds(30)
    alive = script.clock.now()
    script.clock.pass_seconds(200)
    script.clock.boot, script.clock.ticks_ns = "boot-2", 4 * SECOND
    script.at(0, j.SittingResumed(alive.ticks_ns, alive.boot, alive.wall_ns, j.Gap.ASIDE))
    script.at(6, j.AttemptStopped())
    attempt = replay(1, CARDS, script.entries).attempts[0]
    assert attempt.lane_ns(Lane.HANDS) == 36 * SECOND
    assert attempt.lane_ns(Lane.ASIDE) == 200 * SECOND
    assert entry_times(script.entries)[-1] == 236 * SECOND


def test_a_whole_sitting_goes_through_its_phases() -> None:
    script = one_attempt()
    script.at(1, j.EaseRated(6), j.CardPassed("card-2", "no time"))
    assert replay(1, CARDS, script.entries).phase is Phase.USABILITY
    script.at(1, *(j.UsabilityAnswered(item, 3) for item in range(1, 11)))
    state = replay(1, CARDS, script.entries)
    assert (state.phase, state.answers) == (Phase.CLOSING, (3,) * 10)
    script.at(1, j.SittingEnded())
    assert replay(1, CARDS, script.entries).phase is Phase.ENDED


@pytest.mark.parametrize(
    "wrong",
    [
        j.SittingBegan(),
        j.AttemptStarted("card-2"),
        j.Helped(),
        j.AttemptStopped(),
        j.EaseRated(3),
        j.SittingEnded(),
        j.Worded("nothing", "words"),
    ],
    ids=lambda content: str(content.kind),
)
def test_an_entry_that_cannot_follow_is_named(wrong: j.Content) -> None:
    script = Script()
    script.at(0, j.SittingBegan(), wrong)
    with pytest.raises(JournalError, match="Sitting 7, entry 2"):
        replay(7, CARDS, script.entries)


@pytest.mark.parametrize("outcome", [Outcome.VOID, Outcome.BLOCKED])
def test_blaming_the_test_or_the_machine_needs_a_reason(outcome: Outcome) -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"), j.AttemptStopped(), j.OutcomeJudged(outcome, " "))
    with pytest.raises(JournalError, match="needs a reason"):
        replay(1, CARDS, script.entries)


def test_a_gap_in_the_numbers_or_a_stray_correction_is_found() -> None:
    entries = one_attempt().entries
    with pytest.raises(JournalError, match="entry 3 is missing"):
        replay(1, CARDS, entries[:2] + entries[3:])
    stray = Entry("x", len(entries) + 1, entries[-1].moment, "m", j.Struck("nobody", "why"))
    with pytest.raises(JournalError, match="strikes what is not there"):
        replay(1, CARDS, [*entries, stray])


def test_every_kind_of_entry_survives_the_disk() -> None:
    samples: list[j.Content] = [
        j.SittingBegan(),
        j.ChairFound("not fresh", ("the theme was changed",), 3),
        j.AttemptStarted("c"),
        j.CardPassed("c", "why"),
        j.WaitBegan(),
        j.WaitTold("believed frozen"),
        j.WaitEnded(),
        j.AsideBegan(),
        j.AsideEnded(),
        j.HelpTold("e1", "showed"),
        j.Marked("no reaction"),
        j.StepReached(3),
        j.SpotVisited("w"),
        j.QuoteTaken("w"),
        j.WarningSeen("w"),
        j.QuestionLeft("w"),
        j.SnagRated("e1", 4),
        j.MarkMoved("e1", 10),
        j.AddedLate("quote", 3.5, "w", "why"),
        j.OutcomeCorrected(1, Outcome.VOID, "why"),
        j.OutcomeTold(grade=2, route="only with a workaround", why="not there"),
        j.ChairWitnessed(1, "c", "after", "was so before", "w"),
        j.WalkBegan(),
        j.WalkDeclared("why"),
        j.StepOpened("the archives", "c"),
        j.StepSetAside(running=True),
        j.StepTakenUp("e1"),
        j.StepClosed("e1", StepEnding.NOTHING_FOR_IT, "why"),
        j.ItemsListed("e1", ("zip", "tar")),
        j.ItemJudged("e1", 2, "with trouble", "w"),
        j.TimeSaid("e1", 2.5),
        j.LineTyped("w"),
        j.LineMeant("e1", "delight"),
        j.EvidenceTold("e1", "read about"),
        j.RecordingCut(),
        j.RecordingUncut(),
        j.WalkTimeboxed(1800.0),
        j.StepMadeCard("e1", "c"),
        j.SideTold("e1", "taste"),
        j.OpinionRevised("e1", "delight", "w"),
        j.ChairAltered("a newer kernel", 2),
        j.WalkMoved("the older laptop", "why", 3),
        j.ContestJoined("spring", ("A", "B")),
        j.StepCompared("e1", "neither", "w"),
        j.OutcomeSeen(1, Outcome.HELPED, "w"),
        j.ObservedTaken("e1", True, "w"),
        j.Attached("e1", "menu.png", "0" * 64, 512, "pictures/menu.png", 1.5, 2.5),
        j.Helped(),
        j.WrongPlace(),
        j.SaidDone(),
        j.SnagSeen("w"),
        j.DelightSeen("w"),
        j.NoteTaken("w"),
        j.Worded("e1", "w"),
        j.AttemptStopped(),
        j.OutcomeJudged(Outcome.GAVE_UP),
        j.EaseRated(None),
        j.UsabilityAnswered(3, 5),
        j.UsabilityDeclined(),
        j.SittingEnded(),
        j.SittingBrokenOff("why"),
        j.SittingResumed(1, "b", 2, j.Gap.ASIDE),
        j.Struck("e1", "why"),
        *(j.LeftRunning(), j.LeftReady(1), j.TakenUp(1), j.CardReopened("c", "why")),
        *(j.AttemptSplit(1, 2.5, Outcome.PARTLY, "c", "why"), j.AttemptsJoined(1, 2, "why"), j.ObserverJoined()),
        *(j.BenchmarkRefused(1, "why"), j.RecordingOpened("a.webm", 12.5), j.ExpectationGiven("c", 3)),
        *(j.QuestionAnswered("q", 1, 3, "w"), j.PreferenceGiven(("B", "A"), "w")),
        *(j.SittingUnbegun("why"), j.RatingCorrected("ease", "why", 1, score=3), j.StopMoved(1, 2.5, "why")),
        j.AddedLate("snag", 3.5, "w", "why", 2),
    ]
    assert {content.kind for content in samples} == j.KINDS
    for content in samples:
        assert CODEC.content_from(CODEC.body_of(content), version=1, where="here") == content


@pytest.mark.parametrize(
    ("body", "version"),
    [('{"kind":"telepathy"}', 1), ('{"kind":"helped"}', 2), ('{"kind":"ease_rated","score":9}', 1), ("[]", 1)],
)
def test_an_unknown_entry_is_an_error_that_names_where(body: str, version: int) -> None:
    with pytest.raises(JournalError, match="Sitting 2, entry 5"):
        CODEC.content_from(body, version=version, where="Sitting 2, entry 5")


def test_ten_thousand_entries_replay_to_the_same_state_as_live_logging() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    for _ in range(9_998):
        script.at(0.5, j.WrongPlace())
    live = Sitting(1, CARDS)
    for entry in script.entries:
        advance(live, entry)
    begun = time.perf_counter()
    state = replay(1, CARDS, script.entries)
    print(f"replayed in {1000 * (time.perf_counter() - begun):.1f} ms")
    assert state == live
    assert state.attempts[0].wrong_places == 9_998
