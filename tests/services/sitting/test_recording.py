"""The clock of a recording, and where a mark goes that is made on going back in it."""

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.sitting import journal as j
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.sitting.recording import (
    RecordedSitting,
    RecordingClock,
    open_recording,
    read_code,
    recording_named,
)
from fresh_chair.services.sitting.text.notes import sitting_cues, sitting_lines, take_lines
from fresh_chair.services.study.open_study import OpenStudy


class Ticks:
    """Nanoseconds that a test moves."""

    def __init__(self) -> None:
        self.now = 5 * SECOND

    def __call__(self) -> int:
        return self.now


def clock(ticks: Ticks, offset: float = 60.0) -> RecordingClock:
    return RecordingClock(Moment(0, "tape", 1_000 * SECOND), offset, ticks=ticks)


def test_the_clock_stands_until_it_plays_and_plays_at_the_players_speed() -> None:
    ticks = Ticks()
    player = clock(ticks)
    ticks.now += 9 * SECOND
    assert player.position_ns == 60 * SECOND
    assert player.now() == Moment(0, "tape", 1_000 * SECOND)
    player.toggle()
    ticks.now += 4 * SECOND
    assert player.position_ns == 64 * SECOND
    player.go_to(100, 1.5)
    ticks.now += 10 * SECOND
    assert player.position_ns == 115 * SECOND
    assert player.now().ticks_ns == 55 * SECOND
    player.toggle()
    ticks.now += 10 * SECOND
    assert player.position_ns == 115 * SECOND
    player.nudge(-200)
    assert player.position_ns == 60 * SECOND


@pytest.mark.parametrize(("seconds", "speed"), [(59.9, None), (70, 0.1), (70, 9.0)])
def test_a_place_before_the_sitting_and_a_speed_no_player_has_are_refused(seconds: float, speed: float | None) -> None:
    player = clock(Ticks())
    with pytest.raises(InputError):
        player.go_to(seconds, speed)
    assert (player.position_ns, player.speed) == (60 * SECOND, 1.0)


@given(st.integers(0, 99), st.integers(0, 59), st.integers(0, 59), st.integers(0, 999))
def test_a_time_code_is_read_as_players_write_it(hours: int, minutes: int, seconds: int, thousandths: int) -> None:
    whole = hours * 3600 + minutes * 60 + seconds
    for mark in ".,":
        read, speed = read_code(f" {hours}:{minutes:02}:{seconds:02}{mark}{thousandths:03} ")
        assert read == pytest.approx(whole + thousandths / 1000)
        assert speed is None


@pytest.mark.parametrize("text", ["", "soon", "1:2:3:4", "-5", "12:31 x", "12:31 x99", "1e9", "\x1b[2J"])
def test_what_is_no_time_code_is_refused_in_a_sentence(text: str) -> None:
    with pytest.raises(InputError, match="A time code is such as"):
        read_code(text)


def test_a_recording_is_named_with_or_without_its_offset() -> None:
    assert recording_named("my tapes/p 04.webm 2:31") == ("my tapes/p 04.webm", 151.0)
    assert recording_named("p04.webm") == ("p04.webm", 0.0)
    with pytest.raises(InputError):
        recording_named("   ")


@pytest.fixture
def taped(opened: OpenStudy) -> RecordedSitting:
    """A recorded sitting with one attempt from 10 to 40 seconds in it."""
    live = open_recording(opened, opened.study.seats[0].number, "p01.webm 1:00", "2026-11-09T10:00")
    live.player.go_to(70)
    live.log(j.AttemptStarted(live.seat.cards[0]), live.now())
    live.player.go_to(100)
    live.log(j.AttemptStopped(), live.now())
    return live


def test_marks_made_on_going_back_are_late_where_they_belong_and_clocks_are_refused(taped: RecordedSitting) -> None:
    live = taped
    live.player.go_to(85)
    assert live.behind
    for mark in (j.SnagSeen("a cross"), j.Helped(), j.WrongPlace(), j.Marked("hesitates"), j.SaidDone()):
        live.log(mark, live.now())
    attempt = live.state.attempts[0]
    assert (attempt.snags, attempt.wrong_places, attempt.marks, attempt.said_done) == (1, 1, {"hesitates": 1}, True)
    assert len(attempt.helps) == 1
    assert {tick.at_ns for tick in attempt.ticks if tick.entry} == {25 * SECOND}
    for content in (j.AttemptStarted(live.seat.cards[1]), j.WaitBegan(), j.SittingEnded()):
        before = list(live.entries)
        with pytest.raises(Refused):
            live.log(content, live.now())
        assert live.entries == before
    assert attempt.elapsed_ns() == 30 * SECOND
    assert check_file(live.opened.beside)[2].problems == ()


def test_marks_stay_tied_to_the_recordings_own_time(taped: RecordedSitting) -> None:
    taped.log(j.QuoteTaken("so that is it"), taped.now())
    cues = sitting_cues(taped.opened, taped.seat.number, offset_seconds=taped.offset_seconds)
    assert "00:01:10.000 --> 00:01:40.000\nCard" in cues
    assert "00:01:40.000 --> 00:01:43.000\nquote: so that is it" in cues


def test_a_day_that_is_none_and_a_sitting_that_has_begun_are_refused(opened: OpenStudy, taped: RecordedSitting) -> None:
    number = next(seat.number for seat in opened.study.seats if seat.participant == "P02")
    with pytest.raises(InputError, match="no day and time"):
        open_recording(opened, number, "p02.webm", "yesterday")
    with pytest.raises(Refused, match="was logged already"):
        open_recording(opened, taped.seat.number, "p01.webm")
    assert opened.phase(number).value == "empty"


def test_times_of_a_recording_count_from_where_the_sitting_begins_in_it_and_cues_lie_over_it(
    opened: OpenStudy, tmp_path: Path
) -> None:
    seat = opened.study.seats[0]
    typed = f"""2:31 sat down
2:40 start {seat.cards[0]}
3:20 snag wrong menu
4:00 stop
4:01 ended gave up
4:02 broken off the tape ends
"""
    file = tmp_path / "typed.txt"
    file.write_text(typed)
    for wrong in (150.0, 0.0, 200.0):
        with pytest.raises(InputError, match="begins at"):
            take_lines(opened, seat.number, file, recording="p01.webm", offset_seconds=wrong)
    assert not opened.entries.get(seat.number)
    take_lines(opened, seat.number, file, recording="p01.webm", offset_seconds=151.0)
    lines = sitting_lines(opened, seat.number)
    assert "0:49 snag wrong menu" in lines
    cues = sitting_cues(opened, seat.number)
    assert "00:03:20.000 -->" in cues
