"""Imports and corrections never move a sitting's clock; notes wait for their moment; typed times are told as typed."""

import wave
from pathlib import Path

import pytest

from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.errors import InputError
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.walked import step_lines
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.sitting import corrections as correcting
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.recording import RecordedSitting, absence_of, taken_up
from fresh_chair.services.sitting.text.notes import take_lines
from fresh_chair.services.sitting.text.timed_notes import NotesTaken, take_notes
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.walk.walks import begin_walk, walk_seat
from tests.builders import FakeClock


def cue(at: str, words: str) -> str:
    return f"{at}.000 --> {at}.500\n{words}\n"


@pytest.fixture
def walk(opened: OpenStudy) -> RecordedSitting:
    """A walk over a recording from 0:00, twenty seconds in."""
    live = begin_walk(opened, "A", recording="q.webm 0:00", began="2026-11-03T10:00")
    assert isinstance(live, RecordedSitting)
    live.log(j.StepOpened("the panel"), live.now())
    live.player.go_to(20)
    live.log(j.NoteTaken("here"), live.now())
    return live


def notes(tmp_path: Path, *cues: str) -> Path:
    path = tmp_path / "q.vtt"
    path.write_text("WEBVTT\n\n" + "\n".join(cues))
    return path


def test_notes_that_are_taken_in_do_not_move_a_recording(walk: RecordedSitting, tmp_path: Path) -> None:
    opened, number = walk.opened, walk.seat.number
    take_notes(opened, number, notes(tmp_path, cue("00:05", "snag a hum")))
    again = taken_up(opened, number)
    assert isinstance(again, RecordedSitting)
    assert again.player.position_ns == 20 * SECOND
    again.log(j.NoteTaken("on"), again.now())
    assert [remark.at_ns // SECOND for remark in again.state.remarks.values()] == [20, 5, 20]
    assert check_file(opened.beside)[2].problems == ()


def test_notes_taken_twice_stand_once(walk: RecordedSitting, tmp_path: Path) -> None:
    opened, number = walk.opened, walk.seat.number
    path = notes(tmp_path, cue("00:05", "snag a hum"))
    assert take_notes(opened, number, path) == NotesTaken(1)
    path.write_text(path.read_text() + "\n" + cue("00:09", "and a click"))
    taken = take_notes(opened, number, path)
    assert taken == NotesTaken(1, known=1)
    assert taken.words == "1 note taken; 1 was there already."
    assert [remark.words for remark in walk.state.remarks.values()] == ["here", "a hum", "and a click"]
    assert take_notes(opened, number, path).words == "0 notes taken; 2 were there already."


def test_notes_for_a_later_moment_wait_for_it(walk: RecordedSitting, tmp_path: Path) -> None:
    opened, number = walk.opened, walk.seat.number
    taken = take_notes(opened, number, notes(tmp_path, cue("00:30", "snag it flickers"), cue("09:00", "much later")))
    assert taken == NotesTaken(2, waiting=2)
    assert taken.words == "2 notes taken; 2 of them wait until the recording is there."
    assert len(walk.state.remarks) == 1
    shown = [line.text for line in walk.lines(10)]
    assert "snag: it flickers (waits for 00:30 of the recording, from q.vtt)" in shown
    walk.player.go_to(25)
    walk.log(j.StepOpened("the clock"), walk.now())
    assert len(walk.state.remarks) == 1
    walk.player.go_to(40)
    walk.log(j.NoteTaken("there"), walk.now())
    flicker = next(remark for remark in walk.state.remarks.values() if remark.words == "it flickers")
    assert (flicker.at_ns, flicker.kind, flicker.step) == (30 * SECOND, "snag", 2)
    opened.reload()
    assert len(opened.sittings[number].remarks) == 3
    walk.log(j.SittingEnded(), walk.now())
    assert any("1 note still waits for 09:00" in remark for remark in check_file(opened.beside)[2].remarks)


def test_notes_for_a_moment_that_cannot_come_are_refused(opened: OpenStudy, tmp_path: Path) -> None:
    live = begin_walk(opened, "A")
    with pytest.raises(InputError, match="had not come that far"):
        take_notes(opened, live.seat.number, notes(tmp_path, cue("59:00", "later")))


@pytest.fixture
def running(opened: OpenStudy, clock: FakeClock) -> LiveSitting:
    """A sitting whose first attempt has just begun."""
    live = LiveSitting(opened, opened.study.seats[0])
    live.begin(clock.now())
    card = live.state.card
    assert card is not None
    live.log(j.AttemptStarted(card), clock.now())
    return live


def test_a_correction_made_while_the_program_is_dead_is_no_sign_of_life(running: LiveSitting, clock: FakeClock) -> None:
    snag = running.log(j.SnagSeen("hums"), clock.now())
    dead = clock.now()
    clock.pass_seconds(600)
    correcting.reword(running, snag, "hums loudly")
    correcting.tell_evidence(running, snag, "seen")
    clock.pass_seconds(60)
    gap = running.interruption(clock.now())
    assert gap.dead_ns >= 659 * SECOND
    assert gap.alive.ticks_ns <= dead.ticks_ns
    running.resume(gap, j.Gap.ASIDE, clock.now())
    attempt = running.state.latest
    assert attempt is not None
    assert attempt.lane_ns(Lane.ASIDE) >= 659 * SECOND
    # Days later, by another boot: what is logged next stands where the moderator's clock is.
    far = Moment(5, "another boot", running.entries[-1].moment.wall_ns + 900_000 * SECOND)
    before = running.state.at_ns
    running.correct(j.Worded(snag.id, "hums all day"), far)
    assert running.state.at_ns == before


def test_times_of_a_text_are_told_as_typed(opened: OpenStudy, tmp_path: Path) -> None:
    live = begin_walk(opened, "A")
    live.log(j.SittingEnded(), live.now())
    assert not live.state.typed
    seat = walk_seat(opened, "B", opened.study.person_by_code[live.seat.participant])
    text = tmp_path / "notes.txt"
    text.write_text("0:00 sat down\n0:00 walk\n0:10 open the panel\n0:40 close #3 looked_at\n1:00 got up\n")
    take_lines(opened, seat.number, text)
    (step,) = step_lines(opened.sittings[seat.number])
    assert (step.trust, step.hands_seconds, step.timed) == ("as typed", 30, True)


def test_a_time_beyond_its_recording_and_an_attempt_of_no_time_are_found(opened: OpenStudy) -> None:
    with wave.open(str(opened.beside.parent / "room.wav"), "wb") as sound:
        sound.setnchannels(1)
        sound.setsampwidth(1)
        sound.setframerate(8000)
        sound.writeframes(b"\x80" * 8000 * 30)
    live = begin_walk(opened, "A", recording="room.wav 0:02", began="2026-11-03T10:00")
    assert isinstance(live, RecordedSitting)
    live.player.go_to(25)
    live.log(j.NoteTaken("within"), live.now())
    assert check_file(opened.beside)[2].problems == ()
    live.player.go_to(95)
    live.log(j.NoteTaken("beyond"), live.now())
    said = check_file(opened.beside)[2].problems
    assert said == (f"Sitting {live.seat.number}: its last time is 01:35, and room.wav is 00:30 long",)


def test_a_recording_that_is_not_here_is_known_and_one_beside_the_study_is_found(opened: OpenStudy) -> None:
    assert absence_of(opened, "gone.webm 1:00") == "There is no gone.webm here"
    (opened.beside.parent / "there.webm").write_bytes(b"")
    assert absence_of(opened, "there.webm 1:00") == ""
