"""Shared fixtures: one demo study is built a session, and copied for whoever changes it."""

import gc
import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings

from fresh_chair.services.file.new_study import new_demo
from fresh_chair.services.study.open_study import OpenStudy, create_study, open_study
from fresh_chair.store.address import ServerAddress
from tests.builders import FakeClock, small_study
from tests.relay import Relay
from tests.servers import TestServer, binaries

# How long an example takes is the machine's affair, not the code's; speed is measured in the bench.
settings.register_profile("here", deadline=None)
settings.load_profile("here")
# A screen makes much that lives as long as it; looking for garbage in it took a tenth of all tests' time.
gc.set_threshold(100_000, 20, 50)


@pytest.hookimpl(trylast=True)
def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """The longest tests come first, so that no worker is left alone with one at the end."""
    items.sort(key=lambda item: item.get_closest_marker("long") is None)


@pytest.fixture(autouse=True)
def _own_state(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """No test reads or writes the user's own recent studies, keys, cards, host keys or approved commands."""
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data-home"))
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config-home"))
    monkeypatch.setenv("HOME", str(tmp_path / "home"))
    for name in ("FRESH_CHAIR_CARDS", "EDITOR", "VISUAL"):
        monkeypatch.delenv(name, raising=False)
    monkeypatch.setenv("LANG", "C.UTF-8")
    monkeypatch.delenv("LC_ALL", raising=False)


@pytest.fixture(scope="session")
def _demo_master(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("demo") / "demo.fresh"
    new_demo(path)
    return path


@pytest.fixture(scope="session")
def server() -> Iterator[TestServer]:
    """A PostgreSQL server with a database that is prepared for two crews."""
    made = TestServer()
    try:
        made.make().start().prepared()
        yield made
    finally:
        made.remove()


@pytest.fixture
def database(server: TestServer) -> Iterator[str]:
    """A database of one's own on it."""
    name = server.database()
    yield name
    server.admin(f"DROP DATABASE {name} WITH (FORCE)")


@pytest.fixture
def place(server: TestServer, database: str) -> ServerAddress:
    """A small study on a server: four people at two chairs."""
    address = server.address("room", login="planner", database=database)
    create_study(address, small_study(people=4))
    return address


@pytest.fixture
def relay(server: TestServer) -> Iterator[Relay]:
    """A network that can be cut."""
    made = Relay(server.port)
    yield made
    made.close()


def pytest_terminal_summary(terminalreporter: pytest.TerminalReporter) -> None:
    """Say loudly that nothing of the shared database was tested."""
    if binaries() is None:
        terminalreporter.section("NO POSTGRESQL SERVER HERE", sep="!")
        terminalreporter.line("Nothing of the shared database was tested. On Debian: apt-get install postgresql")


@pytest.fixture
def demo_path(_demo_master: Path, tmp_path: Path) -> Path:
    """A demo study of one's own."""
    return Path(shutil.copy(_demo_master, tmp_path / "demo.fresh"))


@pytest.fixture(scope="session")
def _small_master(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("small") / "small.fresh"
    create_study(path, small_study())
    return path


@pytest.fixture
def small_path(_small_master: Path, tmp_path: Path) -> Path:
    """A small study nobody has sat for."""
    return Path(shutil.copy(_small_master, tmp_path / "small.fresh"))


@pytest.fixture
def clock() -> FakeClock:
    """A clock the test moves."""
    return FakeClock()


@pytest.fixture
def opened(small_path: Path, clock: FakeClock) -> Iterator[OpenStudy]:
    """A small study, open for writing."""
    opened = open_study(small_path)
    opened.clock = clock
    yield opened
    opened.close()


@pytest.fixture
def demo(demo_path: Path) -> Iterator[OpenStudy]:
    """The demo study, open for writing."""
    opened = open_study(demo_path)
    yield opened
    opened.close()
