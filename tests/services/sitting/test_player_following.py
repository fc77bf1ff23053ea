"""A recording's clock follows a player of this machine: a stand-in on a bus of its own, and a real one."""

import os
import shutil
import subprocess
import sys
import time
import wave
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

import pytest

from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.errors import OutsideError
from fresh_chair.probe.players import Players, PlayerState
from fresh_chair.services.sitting.player_following import PlayerFollowing, players_here
from fresh_chair.services.sitting.recording import RecordingClock

ROOT = Path(__file__).parents[3]
PLUGIN = Path("/usr/lib/mpv-mpris/mpris.so")


@pytest.fixture
def bus() -> Iterator[str]:
    """The address of a session bus of its own."""
    if shutil.which("dbus-daemon") is None:
        pytest.fail("dbus-daemon is not here; .ci/run installs it")
    command = ["dbus-daemon", "--session", "--nofork", "--print-address=1"]
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True) as daemon:
        assert daemon.stdout is not None
        yield daemon.stdout.readline().strip()
        daemon.kill()


@contextmanager
def standing_in(bus: str) -> Iterator[Callable[[str], None]]:
    """The stand-in player; a call lets it stand otherwise."""
    with subprocess.Popen(
        [sys.executable, "-m", "tests.probe.standin_player"],
        cwd=ROOT,
        env={**os.environ, "DBUS_SESSION_BUS_ADDRESS": bus},
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
    ) as player:
        assert player.stdin is not None
        assert player.stdout is not None
        out, into = player.stdout, player.stdin
        assert out.readline() == "ready\n"

        def stand(state: str) -> None:
            print(state, file=into, flush=True)
            assert out.readline() == "ok\n"

        try:
            yield stand
        finally:
            player.kill()


def until(true: Callable[[], bool], seconds: float = 20.0) -> None:
    """Look until it is so."""
    end = time.monotonic() + seconds
    while not true():
        assert time.monotonic() < end, "it did not come to be so"
        with suppress(InterruptedError):
            time.sleep(0.01)


def clock_of(offset: float = 0.0) -> RecordingClock:
    return RecordingClock(Moment(0, "recording", 0), offset)


def test_play_pause_and_seek_in_the_player_move_the_clock_here(bus: str) -> None:
    with standing_in(bus) as stand:
        assert players_here(bus) == ["standin"]
        stand("Paused 61.5 1.0")
        following, clock = PlayerFollowing("standin", bus=bus), clock_of()
        following.start()
        try:
            until(lambda: following.lead(clock))
            assert clock.position_ns == round(61.5 * SECOND)
            assert not clock.playing
            stand("Playing 300.0 1.5")
            until(lambda: following.lead(clock) and clock.playing)
            assert clock.speed == 1.5
            assert 300 <= clock.position_ns / SECOND < 330
            stand("Paused 12.0 1.0")
            until(lambda: following.lead(clock) and not clock.playing)
            assert clock.position_ns == 12 * SECOND
        finally:
            following.stop()
            following.wait(5)


def test_a_player_that_is_gone_is_said_and_the_clock_stays_where_it_was(bus: str) -> None:
    clock = clock_of()
    with standing_in(bus) as stand:
        stand("Paused 61.5 1.0")
        following = PlayerFollowing("standin", bus=bus)
        following.start()
        until(lambda: following.lead(clock))
    until(lambda: following.problem is not None)
    assert following.problem is not None
    assert "does not answer" in following.problem.title
    assert clock.position_ns == round(61.5 * SECOND)


def test_before_the_sitting_the_clock_stands_at_its_beginning(bus: str) -> None:
    with standing_in(bus) as stand:
        stand("Paused 5.0 1.0")
        following, clock = PlayerFollowing("standin", bus=bus), clock_of(60.0)
        clock.go_to(90)
        following.start()
        try:
            until(lambda: following.lead(clock))
            assert clock.position_ns == 60 * SECOND
        finally:
            following.stop()
            following.wait(5)


def test_no_bus_and_no_player_are_said(bus: str) -> None:
    assert players_here(bus) == []
    with pytest.raises(OutsideError, match="no message bus"):
        players_here("unix:path=/nowhere/at/all")
    with Players(bus) as players, pytest.raises(OutsideError, match="does not answer"):
        players.state("nobody")


def test_a_player_goes_on_between_two_questions() -> None:
    state = PlayerState(playing=True, position_seconds=10.0, rate=2.0, asked_ns=1 * SECOND)
    assert state.at(3 * SECOND) == 14.0
    assert PlayerState(playing=False, position_seconds=10.0, rate=2.0, asked_ns=0).at(9 * SECOND) == 10.0
    assert PlayerState(playing=True, position_seconds=None, rate=1.0, asked_ns=0).at(9 * SECOND) is None


def test_a_real_player_is_followed(bus: str, tmp_path: Path) -> None:
    if shutil.which("mpv") is None or not PLUGIN.exists():
        if os.environ.get("FRESH_CHAIR_LOOPS") == "long":
            pytest.fail("mpv and its MPRIS plugin are not here; .ci/run installs them")
        pytest.skip("mpv and its MPRIS plugin are not here")
    silence = tmp_path / "silence.wav"
    with wave.open(str(silence), "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(8000)
        file.writeframes(bytes(2 * 8000 * 120))
    command = [
        "mpv",
        "--no-config",
        "--no-video",
        "--ao=null",
        f"--script={PLUGIN}",
        "--start=30",
        "--pause",
        str(silence),
    ]
    with subprocess.Popen(
        command,
        env={**os.environ, "DBUS_SESSION_BUS_ADDRESS": bus},
        stdin=subprocess.DEVNULL,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    ) as player:
        try:
            until(lambda: players_here(bus) == ["mpv"])
            following, clock = PlayerFollowing("mpv", bus=bus), clock_of()
            following.start()
            until(lambda: following.lead(clock) and abs(clock.position_ns / SECOND - 30) < 0.5)
            assert not clock.playing
            asked = ["gdbus", "call", "--address", bus, "--dest", "org.mpris.MediaPlayer2.mpv"]
            asked += ["--object-path", "/org/mpris/MediaPlayer2", "--method"]
            subprocess.run([*asked, "org.mpris.MediaPlayer2.Player.Seek", "20000000"], check=True, capture_output=True)
            until(lambda: following.lead(clock) and 49 < clock.position_ns / SECOND < 51)
            subprocess.run([*asked, "org.mpris.MediaPlayer2.Player.Play"], check=True, capture_output=True)
            until(lambda: following.lead(clock) and clock.playing)
            until(lambda: clock.position_ns > 51 * SECOND)
            following.stop()
            following.wait(5)
        finally:
            player.kill()
