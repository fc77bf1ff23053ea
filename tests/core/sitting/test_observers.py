"""A second observer's marks: apart from the counts, and where their keys were pressed, however late they come."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import JournalError, Refused
from fresh_chair.core.figures.facts import facts_of
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.sitting.replay import entry_times, replay
from fresh_chair.core.sitting.rules import permit
from fresh_chair.core.sitting.state.attempt import Attempt
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.sitting import Sitting
from tests.builders import FakeClock, Script, small_study

CARDS = ("card-1", "card-2")


def lanes(attempt: Attempt) -> list[int]:
    """Hands, wait and aside in seconds."""
    return [attempt.lane_ns(lane) // SECOND for lane in Lane]


def observed() -> tuple[Script, Sitting]:
    """A moderator's sitting in which somebody else marks too."""
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    script.at(5, j.Helped())
    clock = script.clock
    for content in (j.ObserverJoined(), j.Helped(), j.SnagSeen("seen from the side"), j.Marked("hesitates")):
        script.entries.append(Entry(f"o{len(script.entries)}", len(script.entries) + 1, clock.now(), "second", content))
    script.at(5, j.AttemptStopped(), j.OutcomeJudged(Outcome.HELPED))
    return script, replay(1, CARDS, script.entries)


def test_an_observers_marks_are_kept_and_shown_and_counted_nowhere() -> None:
    _, sitting = observed()
    attempt = sitting.attempts[0]
    assert (attempt.helped, attempt.snags, attempt.marks) == (1, 0, {})
    assert [tick.kind for tick in attempt.ticks if tick.observer == "second"] == ["helped", "snag", "marked"]
    assert [(remark.author, remark.words) for remark in sitting.remarks.values()] == [("second", "seen from the side")]


def test_an_observer_cannot_stop_the_clock() -> None:
    script, _ = observed()
    entry = Entry("late", 8, script.clock.now(), "second", j.AttemptStopped())
    with pytest.raises(JournalError, match="Only the moderator"):
        replay(1, CARDS, [*script.entries[:7], entry])


def test_keys_that_reach_the_disk_in_another_order_stand_where_they_were_pressed() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    script.clock.pass_seconds(10)
    early = script.clock.now()
    script.entries.append(Entry("o1", 3, script.clock.now(), "second", j.ObserverJoined()))
    script.at(2, j.WaitBegan())
    script.entries.append(Entry("o2", 5, early, "second", j.SnagSeen("pressed before the wait")))
    script.at(3, j.WaitEnded())
    script.at(5, j.AttemptStopped())
    sitting = replay(1, CARDS, script.entries)
    assert lanes(sitting.attempts[0]) == [17, 3, 0]
    assert [at // SECOND for at in entry_times(script.entries)] == [0, 0, 10, 12, 10, 15, 20]
    assert sitting.remarks["o2"].at_ns == 10 * SECOND


@pytest.mark.parametrize("skew", [30, -30, 0, 3 * 3600, -3 * 3600])
@pytest.mark.parametrize("told", [False, True])
def test_another_machines_clock_never_bends_the_moderators_time(skew: int, told: bool) -> None:
    """Two marks of an observer whose machine's clock is off, between the moderator's keys."""
    script = Script()
    other = FakeClock(ticks_ns=77 * SECOND, boot="another boot", wall_ns=script.clock.wall_ns + skew * SECOND)

    def watches(seconds: int, content: j.Content) -> None:
        script.at(seconds)
        other.pass_seconds(seconds)
        number = len(script.entries) + 1
        script.entries.append(Entry(f"o{number}", number, other.now(), "second", content))

    def logs(seconds: int, *contents: j.Content) -> None:
        other.pass_seconds(seconds)
        script.at(seconds, *contents)

    logs(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    watches(5, j.ObserverJoined(skew * SECOND if told else 0))
    logs(3, j.WaitBegan())
    watches(2, j.SnagSeen("one"))
    logs(2, j.WaitEnded())
    watches(4, j.SnagSeen("two"))
    logs(8, j.AttemptStopped())
    sitting = replay(1, CARDS, script.entries)
    assert lanes(sitting.attempts[0]) == [20, 4, 0]
    assert sitting.attempts[0].elapsed_ns() == 24 * SECOND
    times = [at // SECOND for at in entry_times(script.entries)]
    assert [times[at] for at in (0, 1, 3, 5, 7)] == [0, 0, 8, 12, 24]
    if told or skew == 0:
        assert times == [0, 0, 5, 8, 10, 12, 16, 24]
    # Their own ticks count between their own marks, wherever the first of them was laid.
    if skew >= 0:
        assert (times[6] - times[4], times[4] - times[2]) == (6, 5)


def two_tries(other: FakeClock) -> tuple[list[Entry], list[Entry]]:
    """The moderator's entries of two attempts and an end, and an observer's marks in them, in the order of time."""
    script, marks = Script(), list[Entry]()

    def goes_on(seconds: float, *contents: j.Content) -> None:
        other.pass_seconds(seconds)
        script.at(seconds, *contents)

    def watches(*contents: j.Content) -> None:
        for content in contents:
            number = len(script.entries) + len(marks) + 1
            marks.append(Entry(f"o{number}", number, other.now(), "second", content))

    goes_on(0, j.SittingBegan())
    goes_on(1)
    watches(j.ObserverJoined())
    goes_on(1, j.AttemptStarted("card-1"))
    goes_on(5)
    watches(j.WrongPlace(), j.SnagSeen("in the first"))
    goes_on(5, j.AttemptStopped())
    goes_on(2)
    watches(j.DelightSeen("before it was rated"))
    goes_on(1, j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(5))
    goes_on(3)
    watches(j.NoteTaken("between the two"), j.OutcomeSeen(1, Outcome.HELPED))
    goes_on(3, j.AttemptStarted("card-2"))
    goes_on(4)
    watches(j.Helped(), j.Marked("hesitates"))
    goes_on(6, j.AttemptStopped())
    goes_on(1, j.OutcomeJudged(Outcome.GAVE_UP), j.EaseRated(2), j.UsabilityDeclined(), j.SittingEnded())
    return script.entries, marks


def numbered(entries: list[Entry]) -> list[Entry]:
    return [
        Entry(entry.id, number, entry.moment, entry.author, entry.content)
        for number, entry in enumerate(entries, start=1)
    ]


def seen(sitting: Sitting) -> object:
    """What there is of an observer in a sitting: marks by attempt, remarks, outcomes."""
    return (
        [[(tick.entry, tick.kind, tick.at_ns) for tick in attempt.ticks] for attempt in sitting.attempts],
        {remark.entry: (remark.attempt, remark.at_ns, remark.words) for remark in sitting.remarks.values()},
        [attempt.seen_as for attempt in sitting.attempts],
    )


@given(st.lists(st.integers(0, 40), min_size=8, max_size=8), st.sampled_from(["boot-1", "elsewhere"]))
def test_marks_that_come_late_stand_in_the_attempt_they_were_made_in(later: list[int], boot: str) -> None:
    own, marks = two_tries(FakeClock(boot=boot))
    order = sorted([*own, *marks], key=lambda entry: (entry.moment.wall_ns, entry.author == "second"))
    at_once = replay(1, CARDS, numbered(order))
    # Each of the observer's marks comes so many places later than it was made, and none before an earlier one.
    places, last = {entry.id: float(at) for at, entry in enumerate(order)}, 0.0
    for entry, so_many in zip(marks, later, strict=True):
        last = places[entry.id] = max(places[entry.id] + so_many + 0.5, last + 0.001)
    mixed = numbered(sorted(order, key=lambda entry: places[entry.id]))
    sitting = replay(1, CARDS, mixed)
    assert sitting.left_out == {}
    assert seen(sitting) == seen(at_once)
    study = small_study()
    assert facts_of(study, {1: sitting}) == facts_of(study, {1: at_once})


def test_what_is_said_late_of_an_attempt_that_was_taken_up_again_belongs_to_it() -> None:
    script = Script()
    script.at(0, j.SittingBegan())
    joined = Entry("o1", 2, script.clock.now(), "second", j.ObserverJoined())
    script.entries.append(joined)
    script.at(1, j.AttemptStarted("card-1"))
    script.at(10, j.LeftRunning(), j.AttemptStarted("card-2"))
    script.at(20, j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(6))
    script.at(5, j.LeftReady(1), j.TakenUp(1))
    script.at(7, j.AttemptStopped())
    script.at(1)
    moment = script.clock.now()
    script.at(1, j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(5))
    late = Entry("o2", len(script.entries) + 1, moment, "second", j.SnagSeen("of the first card"))
    sitting = replay(1, CARDS, [*script.entries, late])
    assert sitting.remarks["o2"].attempt == 1


def test_a_key_just_after_the_moderators_stop_belongs_to_what_was_stopped() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    script.entries.append(Entry("o1", 3, script.clock.now(), "second", j.ObserverJoined()))
    script.at(5, j.AttemptStopped())
    script.clock.pass_seconds(0.3)
    late = Entry("o2", 5, script.clock.now(), "second", j.WrongPlace())
    sitting = replay(1, CARDS, [*script.entries, late])
    assert [tick.kind for tick in sitting.attempts[0].ticks if tick.observer] == ["wrong_place"]
    # Where it is known already that the clock stands still, the key is refused.
    with pytest.raises(Refused, match="cannot follow now"):
        permit(sitting, j.WrongPlace(), observed=True)


def test_before_any_attempt_a_mark_has_nowhere_to_stand() -> None:
    script = Script()
    script.at(0, j.SittingBegan())
    clock = script.clock
    marks = [Entry(f"o{n}", n, clock.now(), "second", c) for n, c in ((2, j.ObserverJoined()), (3, j.Helped()))]
    sitting = replay(1, CARDS, [*script.entries, *marks], lenient=True)
    assert list(sitting.left_out) == ["o3"]
    assert sitting.observers == {"second"}
