"""A lab from two machines and a server, in networks of their own, by the lines of the guide as they stand there."""

import os
import re
import shlex
import shutil
import subprocess
import sys
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest

from fresh_chair.services.study.open_study import create_study, open_study
from fresh_chair.store.address import read_server_address
from tests.builders import small_study
from tests.servers import TestServer
from tests.terminal.tmux import Terminal

GUIDE = Path(__file__).parents[2] / "docs" / "stations.md"
# Lines that install or start services are not run here; every other line of the lab's blocks is.
NOT_RUN = ("sudo systemctl ",)
SPACES = {"server": "192.168.7.1", "room-1": "192.168.7.11", "room-2": "192.168.7.12"}


def block(name: str) -> list[str]:
    """The lines of a block of the guide."""
    found = re.search(rf"<!-- lab: {name} -->\n\n((?:    .*\n)+)", GUIDE.read_text())
    assert found, name
    return [line.strip() for line in found[1].splitlines()]


class Machine:
    """A network namespace with a home of its own."""

    def __init__(self, name: str, folder: Path) -> None:
        self.name, self.home = f"fc-{name}-{os.getpid()}", folder / name
        self.home.mkdir()
        self.environment = {"HOME": str(self.home), "FRESH_CHAIR_STATION": name}

    def command(self, *command: str) -> list[str]:
        """A command as it runs in this machine."""
        said = [f"{name}={value}" for name, value in self.environment.items()]
        path = f"PATH={self.home}/bin:{Path(sys.executable).parent}:{os.environ['PATH']}"
        # `ip` would give a namespace a /sys of its own, which few containers let it mount.
        space = ["nsenter", f"--net=/run/netns/{self.name}"]
        return [*space, "env", "-u", "PYTHONDONTWRITEBYTECODE", path, *said, *command]

    def run(self, *lines: str, code: int = 0) -> str:
        """Run lines of a shell; returns what they print."""
        script = "set -euo pipefail\n" + "\n".join(line for line in lines if not line.startswith(NOT_RUN))
        command = self.command("bash", "-c", script)
        done = subprocess.run(command, capture_output=True, text=True, cwd=self.home, timeout=120)
        assert done.returncode == code, (script, done.stdout, done.stderr)
        return done.stdout + done.stderr


class LabServer(TestServer):
    """A server as Debian starts it, with nothing said but where it lies."""

    def __init__(self, machine: Machine) -> None:
        super().__init__()
        self.machine, self.port = machine, 5432

    def start_without_waiting(self) -> None:
        command = ["postgres", "-D", str(self.data), "-k", str(self.folder)]
        inner = ["setpriv", f"--reuid={self.user}", f"--regid={self.user}", "--init-groups"] if self.user else []
        line = self.machine.command(*inner, str(self._bin / command[0]), *command[1:])
        with (self.folder / "log").open("ab") as log:
            self.process = subprocess.Popen(line, stdout=log, stderr=log, start_new_session=True, cwd=self.folder)

    def dsn(self, login: str, database: str) -> str:
        return f"host={self.folder} port=5432 user={login} dbname={database}"


def _ip(*words: str) -> None:
    subprocess.run(["ip", *words], check=True, capture_output=True)


@pytest.fixture
def machines(tmp_path: Path) -> Iterator[dict[str, Machine]]:
    """Three machines at one switch."""
    found = {name: Machine(name, tmp_path) for name in SPACES}
    switch = f"fcsw{os.getpid()}"[:15]
    try:
        try:
            _ip("netns", "add", switch)
            _ip("-n", switch, "link", "add", "sw", "type", "bridge")
            _ip("-n", switch, "link", "set", "sw", "up")
        except (OSError, subprocess.CalledProcessError) as problem:
            said = f"NO NETWORK NAMESPACES HERE: the lab of the guide was not tried ({problem})"
            if os.environ.get("FRESH_CHAIR_SERVER") == "required":
                pytest.fail(said)
            pytest.skip(said)
        for number, (name, machine) in enumerate(found.items()):
            _ip("netns", "add", machine.name)
            pair = ("type", "veth", "peer", "name", "eth0", "netns", machine.name)
            _ip("-n", switch, "link", "add", f"p{number}", *pair)
            _ip("-n", switch, "link", "set", f"p{number}", "master", "sw", "up")
            for words in (("addr", "add", f"{SPACES[name]}/24", "dev", "eth0"), ("link", "set", "eth0", "up"),
                          ("link", "set", "lo", "up")):  # fmt: skip
                _ip("-n", machine.name, *words)
        yield found
    finally:
        for name in (switch, *(each.name for each in found.values())):
            subprocess.run(["ip", "netns", "del", name], capture_output=True)


@pytest.fixture
def lab(machines: dict[str, Machine]) -> Iterator[LabServer]:
    """The server's machine, with a server as Debian installs it."""
    machine = machines["server"]
    server = LabServer(machine)
    try:
        server._run("initdb", "-D", str(server.data), "-U", "postgres", "--auth-local=trust",
                    "--auth-host=scram-sha-256", "-E", "UTF8", "--locale=C.UTF-8")  # fmt: skip
        machine.environment |= {"PGHOST": str(server.folder), "PGUSER": "postgres"}
        # Nobody has to be another user here; what is made in the server's folder is the server's.
        sudo = machine.home / "bin" / "sudo"
        sudo.parent.mkdir()
        own = f"chown -R {server.user} {shlex.quote(str(server.data))}" if server.user else ":"
        sudo.write_text(f'#!/bin/sh\n[ "$1" = -u ] && shift 2\n"$@"\ncode=$?\n{own}\nexit $code\n')
        sudo.chmod(0o755)
        for tool in ("psql", "createdb", "pg_dump", "pg_restore"):
            found = shutil.which(tool) or str(server._bin / tool)
            (machine.home / "bin" / tool).symlink_to(found)
        server.start()
        yield server
    finally:
        server.remove()


def test_a_lab_of_two_rooms_and_a_server_by_the_lines_of_the_guide(
    machines: dict[str, Machine], lab: LabServer, tmp_path: Path
) -> None:
    here, rooms = machines["server"], [machines["room-1"], machines["room-2"]]
    there = "postgresql://room@192.168.7.1/harbour"
    # Before anything is said to it, each machine tells what is missing.
    assert "nothing listens there" in rooms[0].run(f"fresh-chair server check {there}", code=1)
    here.run("createdb first", "fresh-chair server prepare postgresql:///first --crew first")
    missing = here.run("fresh-chair server check postgresql:///first")
    for words in ("listens to this machine alone", "no encrypted line", "lets another machine in"):
        assert words in missing
    here.run(*block("server"))
    lab.stop()
    lab.start()
    said = here.run(*block("database"))
    assert said.splitlines()[-1] == "No door stands open: no login may do more than its role says."
    for room in rooms:
        assert "No door stands open" in room.run(*block("station"))
    create_study(rooms[0].home / "harbour.fresh", small_study())
    rooms[0].run(*block("move"))
    (line,) = block("open")
    terminals = []
    try:
        for room in rooms:
            terminal = Terminal(room.home)
            terminals.append(terminal)
            terminal.run(*room.command(*shlex.split(line)))
            terminal.wait_for("1st")
        terminals[0].keys("Enter")
        terminals[0].wait_for("start the clock")
        terminals[0].keys("Enter")
        terminals[0].keys("s")
        terminals[0].type("seen from both")
        terminals[0].keys("Enter")
        terminals[0].wait_for("seen from both")
        terminals[1].wait_for("at room-1")
    finally:
        for terminal in terminals:
            terminal.close()
    # The dump of that night, restored into another database.
    assert "Nothing is wrong with it." in here.run(*block("restore"))
    with closing(open_study(read_server_address(f"postgresql:///harbour2?study=loan-laptops&user=postgres&host="
                                                f"{lab.folder}"), write=False)) as opened:  # fmt: skip
        assert any(getattr(entry.content, "words", "") == "seen from both" for entry in opened.entries[1])
