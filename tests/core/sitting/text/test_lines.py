"""A sitting as plain text: there and back without loss, and every wrong line said with its number."""

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import InputError
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.replay import entry_times
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.walk import StepEnding
from fresh_chair.core.sitting.text.lines import lines_of, time_text
from fresh_chair.core.sitting.text.typed_lines import read_lines, with_waits
from fresh_chair.demo import sitting_kinds as kinds
from fresh_chair.demo.journals import demo_journals, demo_study
from tests.builders import WALL, Script

WORDS = st.text(st.characters(exclude_categories=["Cs"]), min_size=1, max_size=40)
SIMPLE: st.SearchStrategy[j.Content] = st.sampled_from(
    [
        *(j.WaitBegan(), j.WaitTold("silent"), j.WaitEnded(), j.AsideBegan(), j.AsideEnded()),
        *(j.Helped(), j.WrongPlace(), j.SaidDone(), j.AttemptStopped(), j.UsabilityDeclined(), j.SittingEnded()),
        *(j.Marked("no reaction"), j.StepReached(3), j.EaseRated(None), j.EaseRated(6), j.SnagSeen(), j.NoteTaken()),
        *(j.UsabilityAnswered(3, None), j.AttemptStarted("card-1"), j.OutcomeTold(grade=2, route="another")),
        *(j.ChairFound("fresh", ("a",), 5), j.SittingResumed(1, "b", WALL, j.Gap.ASIDE)),
        *(j.LeftRunning(), j.LeftReady(1), j.TakenUp(2), j.Marked("restart"), j.ExpectationGiven("c", None)),
        *(j.CardReopened("c", "again then"), j.QuestionAnswered("q", 1, 3), j.PreferenceGiven(("B", "A"), "x y")),
        *(j.WalkBegan(), j.StepSetAside(), j.StepSetAside(running=True)),
        *(j.RecordingCut(), j.RecordingUncut(), j.LineTyped(), j.WalkTimeboxed(1800.5)),
        *(j.ContestJoined("spring, A and B", ("A", "B")), j.ChairAltered("=3 kernels", 2)),
        *(j.RecordingOpened("a b.webm", 61.5), j.AttemptsJoined(1, 2, "one"), j.BenchmarkRefused(1, "late")),
    ]
)
WORDY: st.SearchStrategy[j.Content] = st.one_of(
    WORDS.map(j.SnagSeen), WORDS.map(j.QuoteTaken), WORDS.map(j.SpotVisited), WORDS.map(j.SittingBrokenOff),
    WORDS.map(lambda words: j.OutcomeJudged(Outcome.BLOCKED, words)), WORDS.map(lambda words: j.CardPassed("c", words)),
    WORDS.map(lambda words: j.AddedLate("note", 3.5, words, words)),
    WORDS.map(j.LineTyped), WORDS.map(j.StepOpened), WORDS.map(j.WalkDeclared),
    WORDS.map(lambda words: j.StepOpened(words, "c")),
    WORDS.map(j.ChairAltered), WORDS.map(lambda words: j.ChairAltered(words, 3)),
    WORDS.map(lambda words: j.WalkMoved(words, words)), WORDS.map(lambda words: j.WalkMoved(words, words, 12)),
    WORDS.map(lambda words: j.ContestJoined(words, ("A", "C", "B"))),
    WORDS.map(lambda words: j.ChairWitnessed(1, "c", "after", "confirmed", words)),
)  # fmt: skip
ABOUT: st.SearchStrategy[j.Content] = st.one_of(
    WORDS.map(lambda words: j.Worded("e1", words)), WORDS.map(lambda words: j.Struck("e1", words)),
    WORDS.map(lambda words: j.MarkMoved("e1", -7, words)), st.just(j.SnagRated("e1", 3)),
    st.just(j.HelpTold("e1", "hinted")), st.just(j.LineMeant("e1", "delight")),
    st.just(j.EvidenceTold("e1", "shown by others")), st.just(j.StepTakenUp("e1")), st.just(j.TimeSaid("e1", 7.25)),
    st.just(j.StepClosed("e1", StepEnding.LOOKED_AT)), st.just(j.ItemJudged("e1", 3, "works")),
    WORDS.map(lambda words: j.StepClosed("e1", StepEnding.BLOCKED, words)),
    WORDS.map(lambda words: j.ItemJudged("e1", 2, "not there", words)),
    WORDS.map(lambda words: j.ItemsListed("e1", (words, "zip"))),
    st.just(j.StepMadeCard("e1", "c-2")), st.just(j.SideTold("e1", "praise and blame")),
    WORDS.map(lambda words: j.OpinionRevised("e1", "delight", words)),
    WORDS.map(lambda words: j.StepCompared("e1", "cannot say", words)), st.just(j.StepCompared("e1", "B")),
    WORDS.map(lambda words: j.Attached("e1", words, "0" * 64, 7, words, 1.5, 2.25)),
    WORDS.map(lambda words: j.Attached("e1", words, "f" * 64, 7)),
)  # fmt: skip


@given(ABOUT)
def test_an_entry_whose_target_is_gone_is_shown_and_not_read_back(content: j.Content) -> None:
    script = Script()
    script.at(0, j.SittingBegan())
    fields: dict[str, Any] = {"entry": "e99"}
    gone: j.Content = replace(content, **fields)
    script.at(3, gone)
    text = lines_of(script.entries)
    assert "# its entry is gone: 0:03" in text
    assert len(read_lines(text, name="t", cards={})) == 1


@given(st.lists(st.tuples(st.integers(0, 10**12), SIMPLE | WORDY | ABOUT), max_size=25))
def test_there_and_back_nothing_is_lost(happened: list[tuple[int, j.Content]]) -> None:
    script = Script()
    script.at(0, j.SittingBegan())
    for nanoseconds, content in happened:
        script.clock.ticks_ns += nanoseconds
        script.at(0, content)
    read = read_lines(lines_of(script.entries, title="a\nb"), name="x")
    assert [timed.at_ns for timed in read] == entry_times(script.entries)
    for timed, entry in zip(read, script.entries, strict=True):
        about = f"e{timed.about}" if timed.about else None
        assert getattr(entry.content, "entry", None) == about
        again = timed.content
        if about is not None:
            assert isinstance(again, j.About)
            again = replace(again, entry=about)
        assert again == entry.content


def test_notes_typed_by_hand_are_read_as_they_are_meant() -> None:
    text = """
# what I saw on the tape
0:05 start dark-screen
0:31 snag -10 !3 wrong menu
0:40 wait
0:41 silent
0:55 back
1:02:31.5 ended gave up
"""
    read = read_lines(text, name="x")
    assert [(t.at_ns / SECOND, t.content.kind, t.about) for t in read] == [
        (0, "sitting_began", 0),
        (5, "attempt_started", 0),
        (31, "snag", 0),
        (31, "snag_rated", -1),
        (31, "mark_moved", -2),
        (40, "wait_began", 0),
        (41, "wait_told", 0),
        (55, "wait_ended", 0),
        (3751.5, "outcome_judged", 0),
    ]
    assert read[2].content == j.SnagSeen("wrong menu")
    assert read[4].content == j.MarkMoved("", 10)


@pytest.mark.parametrize(
    ("line", "said"),
    [
        ("soon snag x", "“soon” is no time"),
        ("0:05 dances", "“dances” is nothing that can be noted"),
        ("0:05", "nothing is nothing that can be noted"),
        ("0:05 ended happily", "“happily” is no ending"),
        ("0:05 ease nine", "“nine” is no number"),
        ("0:05 ease 9", "out of range"),
        ("0:05 rate 3", "does not say of which entry"),
        ("0:05 move #1 later", "by how many seconds"),
        ("0:05 pass card-1", "needs a reason"),
        ('0:05 entry {"kind": "dream"}', "knows no “dream”"),
        ("0:05 entry [", "not JSON"),
        ("0:05 usability 3 9", "out of range"),
    ],
)
def test_a_wrong_line_is_said_with_its_number_and_all_at_once(line: str, said: str) -> None:
    with pytest.raises(InputError) as refused:
        read_lines(f"0:00 sat down\n\n{line}\n0:06 dances too\n", name="notes.txt")
    assert said in refused.value.title
    assert "@ line 3" in refused.value.title
    assert "@ line 4" in refused.value.title


def test_time_does_not_go_back() -> None:
    with pytest.raises(InputError, match=r"0:04 comes after 0:05 @ line 2"):
        read_lines("0:05 sat down\n0:04 snag\n", name="x")


@given(st.integers(0, 200_000 * SECOND))
def test_a_time_is_read_as_it_is_written(at_ns: int) -> None:
    assert read_lines(f"{time_text(at_ns)} sat down", name="x")[0].at_ns == at_ns


@pytest.mark.parametrize("who", ["@moderator", "@Moderator", '@"a\\u001b]0;x"', '@"\\u202e"', '@" Mo"', f"@{'x' * 41}"])
def test_no_observer_is_called_like_the_moderator_or_by_what_acts_on_a_terminal(who: str) -> None:
    with pytest.raises(InputError, match="is no observer's name"):
        read_lines(f"0:00 sat down\n0:01 {who} snag x\n", name="x")


def test_a_second_observers_lines_keep_their_name_and_their_own_time() -> None:
    study = demo_study()
    entries = demo_journals(study)[kinds.WATCHED]
    text = lines_of(entries)
    assert f'@"{kinds.OBSERVER}" watches too' in text
    read = read_lines(text, name="x")
    assert [timed.observer for timed in read] == ["" if e.author == "moderator" else e.author for e in entries]
    assert [timed.at_ns for timed in read] == entry_times(entries)
    typed = read_lines('0:00 sat down\n0:01 @Mo watches too\n0:09 wrong place\n0:07 @Mo quote "so"\n', name="x")
    assert [(timed.observer, timed.at_ns // SECOND) for timed in typed] == [("", 0), ("Mo", 1), ("", 9), ("Mo", 7)]


@pytest.mark.parametrize("line", ["0:01 @ snag", '0:01 @"" snag x', '0:01 @"Mo snag', "0:01 @Mo", '0:01 @"\\q" snag x'])
def test_a_line_of_nobody_is_said_with_its_number(line: str) -> None:
    with pytest.raises(InputError, match="@ line 1"):
        read_lines(line, name="x")


def test_answers_preference_route_and_levels_have_words_and_titles_work_as_names() -> None:
    text = """0:00 sat down
0:05 start "Use dark colours"
0:20 wait silent
0:29 back
0:40 helped hinted
1:10 stop
1:12 ended partly done
1:13 route only with a workaround
1:14 got as far as 2
1:20 ease 3
1:25 answer sure: 6
1:26 answer missed: the bin
1:30 prefers B A: it was calm
2:00 start dark-screen
2:30 stop
2:31 ended gave up
2:32 because not found
"""
    read = [timed.content for timed in read_lines(text, name="x", cards={"use dark colours": "dark-screen"})]
    assert [content for content in read if isinstance(content, j.AttemptStarted)] == [
        j.AttemptStarted("dark-screen"),
        j.AttemptStarted("dark-screen"),
    ]
    for expected in (
        *(j.WaitTold("silent"), j.HelpTold("", "hinted"), j.OutcomeTold(route="only with a workaround")),
        *(j.OutcomeTold(grade=2), j.QuestionAnswered("sure", 0, 6), j.QuestionAnswered("missed", 0, None, "the bin")),
        *(j.PreferenceGiven(("B", "A"), "it was calm"), j.OutcomeTold(why="not found")),
    ):
        assert expected in read


def test_a_restart_in_typed_notes_begins_a_wait_as_its_key_does() -> None:
    text = "0:00 start c\n0:10 restart\n0:40 back\n1:00 stop\n"
    kinds = [timed.content.kind for timed in with_waits(read_lines(text, name="x"))]
    assert sorted(kinds[2:4]) == ["marked", "wait_began"]
    assert kinds[4] == "wait_ended"
