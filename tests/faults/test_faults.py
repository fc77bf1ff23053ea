"""Law 1 with a server in between: four sittings with two people logging each, while everything fails at random."""

import os
import signal
import subprocess
import sys
import time
from collections.abc import Iterator, Mapping, Sequence
from contextlib import closing
from dataclasses import dataclass, field
from pathlib import Path
from random import Random

import pytest

from fresh_chair.core.sitting.journal import Entry
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.study.open_study import create_study, open_study
from fresh_chair.store.address import ServerAddress
from tests.builders import small_study
from tests.disks import fill, server_disk
from tests.faults.station import MODERATOR
from tests.relay import Relay
from tests.servers import TestServer, require_server
from tests.stations import through

# One of each kind in every run; any number by FRESH_CHAIR_FAULTS.
ROUNDS = int(os.environ.get("FRESH_CHAIR_FAULTS", "1"))
SECONDS = 12.0
_SYNCHRONOUS = ("synchronous_commit=on", "synchronous_standby_names=standby")


@dataclass
class Station:
    """One program that logs, and what it showed."""

    command: list[str]
    environment: dict[str, str]
    shown: Path
    process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        with self.shown.with_suffix(".err").open("ab") as errors:
            self.process = subprocess.Popen(
                self.command, env=self.environment, stdout=subprocess.DEVNULL, stderr=errors
            )

    def kill(self) -> None:
        """Kill it without a word, and let the next program go on where it was."""
        assert self.process is not None
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()
        self.start()

    @property
    def marks(self) -> list[str]:
        lines = self.shown.read_text(encoding="ascii").split("\n") if self.shown.exists() else []
        # What comes after the last end of a line was cut off while it was written down.
        return lines[:-1]


@dataclass
class Scene:
    """A server with its standby, a network, and the stations."""

    dice: Random
    server: TestServer
    standby: TestServer
    relay: Relay
    disk: Path | None = None
    stations: list[Station] = field(default_factory=list)
    failed_over: bool = False
    done: list[str] = field(default_factory=list)

    def kill_server(self) -> None:
        if not self.failed_over:
            self.server.kill()
            time.sleep(self.dice.uniform(0, 1))
            self.server.start()

    def fill_the_disk(self) -> None:
        """Leave the server no room for a while; it may end itself over that, and is started again."""
        if self.failed_over or self.disk is None:
            return
        filler = self.disk / "filler"
        fill(filler)
        time.sleep(self.dice.uniform(0.3, 1.5))
        filler.unlink()
        time.sleep(0.3)
        if self.server.process is None or self.server.process.poll() is not None:
            self.server.start()
        self.server.wait()

    def fail_over(self) -> None:
        if not self.failed_over:
            self.failed_over = True
            self.server.kill()
            self.standby.promote()
            self.relay.target = self.standby.port

    def break_connections(self) -> None:
        for _ in range(self.dice.randint(1, 5)):
            self.relay.break_once()
            time.sleep(self.dice.uniform(0, 0.1))

    def pull_the_cable(self) -> None:
        self.relay.cut()
        time.sleep(self.dice.uniform(0.2, 2))
        self.relay.restore()

    def stall(self) -> None:
        self.relay.stall()
        time.sleep(self.dice.uniform(0.2, 1.5))
        self.relay.restore()

    def slow_down(self) -> None:
        self.relay.delay_seconds = self.dice.choice((0, 0.005, 0.02, 0.05))

    def kill_a_station(self) -> None:
        self.dice.choice(self.stations).kill()


FAULTS = (
    Scene.kill_server, Scene.fail_over, Scene.fill_the_disk, Scene.break_connections, Scene.pull_the_cable,
    Scene.stall, Scene.slow_down, Scene.kill_a_station,
)  # fmt: skip


@pytest.fixture
def small_disk() -> Iterator[Path]:
    """A file system on which there is room for one server, and little more."""
    yield from server_disk(260)


@pytest.fixture
def two_servers(request: pytest.FixtureRequest, small_disk: Path) -> Iterator[tuple[TestServer, TestServer]]:
    """A server on a small disk and its standby, which confirms every commit or only follows."""
    require_server()
    settings = ["max_wal_size=64MB", *(_SYNCHRONOUS if request.param else ("synchronous_commit=local",))]
    (small_disk / "server").mkdir()
    first = TestServer(settings, folder=small_disk / "server").make()
    first.settings.remove(settings[-1])
    first.start().prepared()
    second = TestServer(["hot_standby=on"]).copy_of(first)
    try:
        first.stop()
        first.settings.append(settings[-1])
        first.start_without_waiting()
        second.start()
        first.wait()
        yield first, second
    finally:
        first.remove()
        second.remove()


def planned(address: ServerAddress) -> None:
    """Four people, each at a chair of their own first."""
    create_study(address, small_study(people=4, chairs=4, cards=8))


@pytest.mark.long
@pytest.mark.timeout(600)
@pytest.mark.parametrize("seed", range(ROUNDS))
@pytest.mark.parametrize("two_servers", [True, False], ids=["synchronous", "behind"], indirect=True)
def test_nothing_shown_is_missing_doubled_or_out_of_order(
    two_servers: tuple[TestServer, TestServer], seed: int, tmp_path: Path, small_disk: Path
) -> None:
    dice, (server, standby) = Random(seed), two_servers
    place = server.address("room", login="planner")
    planned(place)
    relay = Relay(server.port)
    scene = Scene(dice, server, standby, relay, small_disk)
    with closing(open_study(place, write=False)) as opened:
        numbers = {seat.chair: seat.number for seat in opened.study.seats if seat.position == 1}
    assert len(numbers) == 4
    try:
        for number in numbers.values():
            for author in (MODERATOR, "Ada"):
                scene.stations.append(_station(through(place, relay), number, author, dice, tmp_path))
        for station in scene.stations:
            station.start()
        end = time.monotonic() + SECONDS
        while time.monotonic() < end:
            time.sleep(dice.uniform(0.3, 1.5))
            fault = dice.choice(FAULTS)
            scene.done.append(fault.__name__)
            fault(scene)
        relay.delay_seconds = 0
        relay.restore()
        for station in scene.stations:
            assert station.process is not None
            assert _ended(station), (scene.done, station.shown.with_suffix(".err").read_text())
        _require_all(standby if scene.failed_over else server, scene, numbers)
    finally:
        for station in scene.stations:
            if station.process is not None and station.process.poll() is None:
                station.process.kill()
                station.process.wait()
        relay.close()


def _ended(station: Station) -> bool:
    """Whether a station could send everything and leave; one that could not says how it stands."""
    assert station.process is not None
    try:
        return station.process.wait(60) == 0
    except subprocess.TimeoutExpired:
        station.process.send_signal(signal.SIGUSR1)
        time.sleep(1)
        return False


def _station(address: ServerAddress, number: int, author: str, dice: Random, folder: Path) -> Station:
    shown = folder / f"{number}-{author}.shown"
    command = [
        sys.executable, "-m", "tests.faults.station", str(address), str(number), author, str(SECONDS),
        str(dice.random()), str(shown),
    ]  # fmt: skip
    name = f"room-{number}" if author == MODERATOR else f"gallery-{number}"
    environment = {**os.environ, "FRESH_CHAIR_STATION": name, "XDG_STATE_HOME": str(folder / name)}
    return Station(command, environment, shown)


def _whereabouts(station: Station, entries: Mapping[int, Sequence[Entry]], found: list[str]) -> object:
    """Where the marks lie that are not where they belong: in which sitting, in which file of the station."""
    missing = [each for each in station.marks if each not in set(found)]
    elsewhere = {number: sum(entry.id in set(missing) for entry in listed) for number, listed in entries.items()}
    files = Path(station.environment["XDG_STATE_HOME"]).rglob("*.marks")
    lying = {path.name: sum(each in path.read_text() for each in missing) for path in files}
    return len(missing), elsewhere, lying, missing[:3], station.shown.with_suffix(".err").read_text()[-1000:]


def _require_all(server: TestServer, scene: Scene, numbers: dict[str, int]) -> None:
    """Everything that was shown is on the server that is left: once, and each author's in their order."""
    place = server.address("room", login="planner")
    with closing(open_study(place, write=False)) as after:
        for station in scene.stations:
            number, author = int(station.command[4]), station.command[5]
            there = [entry.id for entry in after.entries[number] if entry.author == author]
            shown = station.marks
            assert len(shown) > 5, (scene.done, station.command)
            known = set(shown)
            found = [each for each in there if each in known]
            assert found == shown, (scene.done, author, number, _whereabouts(station, after.entries, found))
            assert len(set(there)) == len(there), scene.done
            assert not after.sittings[number].left_out, scene.done
    problems = [problem for check in check_file(place) for problem in check.problems]
    assert problems == [], scene.done
