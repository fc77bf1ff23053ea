"""Marks that say more: kinds of wait, a ladder of help, moments that are corrected, and the chair as a witness."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import JournalError
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.entries.typed_marks import read_typed
from fresh_chair.core.sitting.replay import replay
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.sitting import Sitting
from tests.builders import Script

CARDS = ("card-1", "card-2")


def begun() -> Script:
    script = Script()
    script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
    return script


def of(script: Script) -> Sitting:
    return replay(1, CARDS, script.entries)


def test_a_wait_counts_as_what_it_looked_like_and_the_longest_silent_one_is_known() -> None:
    script = begun()
    script.at(5, j.WaitBegan())
    script.at(1, j.WaitTold("silent"))
    script.at(9, j.WaitEnded())
    script.at(2, j.WaitBegan(), j.WaitTold("shown progress"))
    script.at(40, j.WaitEnded())
    script.at(1, j.WaitBegan(), j.WaitTold("believed frozen"))
    script.at(3, j.AttemptStopped())
    attempt = of(script).attempts[0]
    assert [attempt.wait_ns(how) // SECOND for how in ("silent", "shown progress", "believed frozen", "")] == [
        10,
        40,
        3,
        0,
    ]
    assert attempt.longest_silent_ns == 10 * SECOND
    assert attempt.lane_ns(Lane.WAIT) == 53 * SECOND


def test_help_that_only_says_the_card_again_or_a_kind_word_is_no_assist() -> None:
    script = begun()
    for level in ("repeated the card", "encouraged", "hinted", "showed", None):
        help_entry = script.at(2, j.Helped())
        if level is not None:
            script.at(1, j.HelpTold(help_entry, level))
    attempt = of(script).attempts[0]
    assert len(attempt.helps) == 5
    # One of which nothing more was said counts as help: nobody is flattered by what was not typed.
    assert attempt.helped == 3


def test_a_mark_that_is_moved_stands_earlier_and_where_it_was_stays_in_the_journal() -> None:
    script = begun()
    snag = script.at(30, j.SnagSeen())
    script.at(2, j.MarkMoved(snag, 10))
    wrong = script.at(8, j.WrongPlace())
    script.at(1, j.MarkMoved(wrong, 3600))
    sitting = of(script)
    assert sitting.remarks[snag].at_ns == 20 * SECOND
    assert [(tick.kind, tick.at_ns // SECOND) for tick in sitting.attempts[0].ticks] == [
        ("snag", 20),
        ("wrong_place", 0),
    ]
    assert [entry.content.kind for entry in script.entries].count("mark_moved") == 2


@pytest.mark.parametrize("content", [j.WaitBegan(), j.AsideBegan()])
def test_a_clock_that_was_started_cannot_be_moved(content: j.Content) -> None:
    script = begun()
    lane = script.at(5, content)
    script.at(1, j.MarkMoved(lane, 3))
    with pytest.raises(JournalError, match="Only a mark can be moved"):
        of(script)


def test_what_tells_more_of_an_entry_falls_with_it() -> None:
    script = begun()
    helped = script.at(1, j.Helped())
    script.at(1, j.HelpTold(helped, "showed"))
    snag = script.at(1, j.SnagSeen())
    script.at(1, j.SnagRated(snag, 3), j.MarkMoved(snag, 1), j.Worded(snag, "w"))
    script.at(1, j.Struck(helped, "no"), j.Struck(snag, "no"))
    sitting = of(script)
    assert (sitting.attempts[0].helped, sitting.attempts[0].snags, sitting.remarks) == (0, 0, {})


@pytest.mark.parametrize(
    ("content", "why"),
    [
        (j.WaitTold("silent"), "Nothing is being waited for"),
        (j.HelpTold("nothing", "hinted"), "There is no help"),
        (j.SnagRated("nothing", 2), "There is no snag"),
        (j.OutcomeTold(route="another"), "No attempt was judged"),
        (j.ChairWitnessed(2, "card-1", "after", "confirmed"), "There is no such attempt"),
        (j.ChairWitnessed(0, "other", "before", "confirmed"), "not in this sitting"),
    ],
)
def test_what_cannot_follow_is_refused_with_why(content: j.Content, why: str) -> None:
    script = begun()
    script.at(1, content)
    with pytest.raises(JournalError, match=why):
        of(script)


def test_tries_places_steps_and_how_it_ended_are_kept_apart() -> None:
    script = begun()
    script.at(
        1, j.Marked("hesitates"), j.Marked("tries again"), j.Marked("tries again"), j.StepReached(1), j.StepReached(2)
    )
    script.at(1, j.SpotVisited("Clearing"), j.SpotVisited("Underwood"), j.SpotVisited("Clearing"))
    script.at(1, j.AttemptStopped(), j.OutcomeJudged(Outcome.GAVE_UP), j.OutcomeTold(why="not found"))
    script.at(1, j.ChairWitnessed(1, "card-1", "after", "confirmed", "it is there"))
    attempt = of(script).attempts[0]
    assert (attempt.tries, attempt.marks, attempt.steps) == (3, {"hesitates": 1, "tries again": 2}, {1, 2})
    assert attempt.spots == ["Clearing", "Underwood", "Clearing"]
    # Three facts, kept apart: what was judged, what giving up was about, and what the chair shows.
    assert (attempt.outcome, attempt.why, attempt.chair_says) == (Outcome.GAVE_UP, "not found", "confirmed")


@given(
    st.integers(1, 3600), st.integers(0, 4), st.text("abc !-", min_size=1, max_size=20).map(lambda w: "x" + w.strip())
)
def test_what_is_typed_before_the_words_moves_and_rates_in_any_order(back: int, severity: int, words: str) -> None:
    for text in (f"-{back} !{severity} {words}", f"!{severity} -{back} {words}"):
        typed = read_typed(text)
        assert (typed.seconds_earlier, typed.severity, typed.words) == (back, severity, words)
    assert read_typed(words).words == words


@pytest.mark.parametrize("text", ["-10wrong", "!9 wrong", "- 10", "10 wrong", "wrong -10", "!!3"])
def test_what_only_looks_like_it_is_words(text: str) -> None:
    assert read_typed(text) == read_typed("").__class__(text)
