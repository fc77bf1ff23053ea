"""Real parts to ask: an OpenSSH server on loopback, and a home folder of one's own."""

import os
import shutil
import subprocess
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest

from tests.probe.openssh import Server, free_port, make_key, start_server

ServerMaker = Callable[..., Server]


@pytest.fixture
def make_server(tmp_path: Path) -> Iterator[ServerMaker]:
    """Starts OpenSSH servers, and ends them afterwards."""
    started: list[Server] = []

    def make(force: str = "", *, like: Server | None = None) -> Server:
        folder = tmp_path / f"server-{len(started)}"
        for part in ("home", "run"):
            (folder / part).mkdir(parents=True, exist_ok=True)
        Path("/run/sshd").mkdir(parents=True, exist_ok=True)
        make_key(folder / "host")
        if like is None:
            make_key(folder / "id")
        else:
            for name in ("id", "id.pub"):
                shutil.copy(like.folder / name, folder / name)
        server = start_server(folder, like.port if like is not None else free_port(), force=force)
        started.append(server)
        return server

    yield make
    for server in started:
        server.process.kill()
        server.process.wait()


@dataclass(slots=True)
class Session:
    """A desktop session as far as settings need one: a home folder, and a message bus that starts what is asked for."""

    home: Path
    environment: dict[str, str]

    def run(self, *command: str) -> str:
        """Run a program in the session."""
        ran = subprocess.run(command, env=self.environment, capture_output=True, text=True, check=True, timeout=60)
        return ran.stdout.strip()


@pytest.fixture
def session(home: Path, surroundings: dict[str, str]) -> Iterator[Session]:
    """A real session bus, under dbus-run-session."""
    environment = {**surroundings, "XDG_CONFIG_HOME": str(home / ".config"), "XDG_CACHE_HOME": str(home / ".cache")}
    for folder in (home / ".config", home / ".cache", home.parent / "run"):
        folder.mkdir(mode=0o700)
    # The shell that says the address waits itself: no process of the session changes once it was said.
    bus = subprocess.Popen(
        ["dbus-run-session", "--", "sh", "-c", 'echo "$DBUS_SESSION_BUS_ADDRESS"; read -r _'],
        env=environment,
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
        start_new_session=True,
    )
    assert bus.stdin is not None
    assert bus.stdout is not None
    environment["DBUS_SESSION_BUS_ADDRESS"] = bus.stdout.readline().strip()
    yield Session(home, environment)
    os.killpg(bus.pid, 15)
    bus.stdin.close()
    bus.stdout.close()
    bus.wait()


@pytest.fixture
def home(tmp_path: Path) -> Path:
    """An empty home folder."""
    folder = tmp_path / "chair-home"
    folder.mkdir()
    return folder


@pytest.fixture
def surroundings(home: Path) -> dict[str, str]:
    """What a shell on the chair finds around it: the real commands, and a home of its own."""
    kept = {name: value for name, value in os.environ.items() if name in ("PATH", "TMPDIR")}
    return {**kept, "HOME": str(home), "XDG_RUNTIME_DIR": str(home.parent / "run")}
