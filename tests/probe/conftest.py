"""Real parts to ask: an OpenSSH server on loopback, and a home folder of one's own."""

import getpass
import os
import shutil
import socket
import subprocess
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest

SSHD = shutil.which("sshd") or "/usr/sbin/sshd"


@dataclass(slots=True)
class Server:
    """A running OpenSSH server that lets one key in."""

    folder: Path
    port: int
    process: "subprocess.Popen[bytes]"

    @property
    def way(self) -> str:
        """How it is reached."""
        return f"ssh {getpass.getuser()}@127.0.0.1:{self.port}"

    @property
    def identity(self) -> tuple[Path, ...]:
        """The key that it lets in."""
        return (self.folder / "id",)

    @property
    def fingerprint(self) -> str:
        """What a person would compare on the chair itself, as OpenSSH says it."""
        said = subprocess.run(
            ["ssh-keygen", "-lf", str(self.folder / "host.pub")], capture_output=True, text=True, check=True
        )
        return said.stdout.split()[1]


def make_key(path: Path) -> None:
    path.unlink(missing_ok=True)
    subprocess.run(["ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-f", str(path)], check=True)


def free_port() -> int:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        return int(taken.getsockname()[1])


def start_server(folder: Path, port: int, *, force: str = "") -> Server:
    """Start one with the host key that lies in the folder.

    Args:
        force: A command that is run in place of whatever is asked for, as a strange login shell would.
    """
    (folder / "authorized").write_text((folder / "id.pub").read_text())
    config = [
        f"Port {port}",
        "ListenAddress 127.0.0.1",
        f"HostKey {folder / 'host'}",
        f"AuthorizedKeysFile {folder / 'authorized'}",
        "StrictModes no",
        "UsePAM no",
        "PermitRootLogin prohibit-password",
        "PasswordAuthentication no",
        f"PidFile {folder / 'pid'}",
        f"SetEnv HOME={folder / 'home'} XDG_RUNTIME_DIR={folder / 'run'}",
        *([f"ForceCommand {force}"] if force else []),
    ]
    (folder / "config").write_text("\n".join(config) + "\n")
    with (folder / "log").open("ab") as log:
        process = subprocess.Popen([SSHD, "-D", "-e", "-f", str(folder / "config")], stderr=log, stdout=log)
    deadline = time.monotonic() + 30
    while time.monotonic() < deadline:
        with socket.socket() as trial:
            if trial.connect_ex(("127.0.0.1", port)) == 0:
                return Server(folder, port, process)
        if process.poll() is not None:
            raise AssertionError((folder / "log").read_text())
        time.sleep(0.02)
    raise AssertionError("the SSH server never came up")


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
    bus = subprocess.Popen(
        ["dbus-run-session", "--", "sh", "-c", 'echo "$DBUS_SESSION_BUS_ADDRESS"; exec sleep 600'],
        env=environment,
        stdout=subprocess.PIPE,
        text=True,
        start_new_session=True,
    )
    assert bus.stdout is not None
    environment["DBUS_SESSION_BUS_ADDRESS"] = bus.stdout.readline().strip()
    yield Session(home, environment)
    os.killpg(bus.pid, 15)
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
