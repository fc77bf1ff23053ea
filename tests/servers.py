"""A real PostgreSQL server for tests: on a port and in a folder of its own, by a user who is not root."""

import os
import shutil
import signal
import socket
import subprocess
import tempfile
import time
from collections.abc import Sequence
from functools import cache
from itertools import count
from pathlib import Path

import psycopg
import pytest

from fresh_chair.store.address import ServerAddress, read_server_address
from fresh_chair.store.postgres.preparing import prepare

# Not a superuser: the login of whoever administers the database.
KEEPER = "keeper"
# Logins and the role each is a member of; a stranger logs for another crew.
LOGINS = {
    "reader": "harbour_reads",
    "logger": "harbour_logs",
    "planner": "harbour_plans",
    "owner": "harbour_owns",
    "stranger": "north_owns",
}
_FAST = ("fsync=on", "max_connections=60", "shared_buffers=32MB", "log_min_messages=warning", "jit=off")


@cache
def binaries() -> Path | None:
    """The folder of the server's programs; None where there is none on this machine."""
    found = [Path(each).resolve().parent for each in (shutil.which("postgres"),) if each]
    listed = [*sorted(Path("/usr/lib/postgresql").glob("*/bin"), reverse=True), *found]
    return next((folder for folder in listed if (folder / "initdb").exists()), None)


def require_server() -> Path:
    """The server's programs. Where there are none a test is skipped, and fails where one is required."""
    found = binaries()
    if found is None:
        said = "NO POSTGRESQL SERVER HERE: nothing of the shared database was tested (Debian: postgresql)"
        if os.environ.get("FRESH_CHAIR_SERVER") == "required":
            pytest.fail(said)
        pytest.skip(said)
    return found


class TestServer:
    """One server process with its folder.

    Args:
        settings: More of postgresql.conf, `name=value` each.
    """

    __test__ = False

    def __init__(self, settings: Sequence[str] = (), *, folder: Path | None = None) -> None:
        self._bin = require_server()
        self.user = "postgres" if os.getuid() == 0 else None
        self.folder = folder or Path(tempfile.mkdtemp(prefix="fresh-chair-server-"))
        self.data = self.folder / "data"
        self.port = _free_port()
        self.settings = [*_FAST, *settings]
        self._numbers = count(1)
        self.process: subprocess.Popen[bytes] | None = None
        if self.user is not None:
            shutil.chown(self.folder, self.user)

    def make(self) -> "TestServer":
        """Make its folder."""
        self._run("initdb", "-D", str(self.data), "-U", "postgres", "--auth=trust", "-E", "UTF8", "--locale=C.UTF-8")
        return self

    def copy_of(self, other: "TestServer") -> "TestServer":
        """Make its folder as a standby of another server."""
        self._run(
            "pg_basebackup", "-D", str(self.data), "-R", "-X", "stream", "-c", "fast",
            "-d", f"host=127.0.0.1 port={other.port} user=postgres application_name=standby",
        )  # fmt: skip
        return self

    def start(self) -> "TestServer":
        """Start it, and wait until it answers."""
        self.start_without_waiting()
        return self.wait()

    def start_without_waiting(self) -> None:
        """Start it."""
        asked = [word for each in self.settings for word in ("-c", each)]
        command = [str(self._bin / "postgres"), "-D", str(self.data), "-p", str(self.port), "-k", str(self.folder)]
        with (self.folder / "log").open("ab") as log:
            self.process = subprocess.Popen(
                [*command, "-c", "listen_addresses=127.0.0.1", *asked],
                stdout=log, stderr=log, user=self.user, start_new_session=True, cwd=self.folder,
            )  # fmt: skip

    def wait(self) -> "TestServer":
        """Wait until it answers."""
        end = time.monotonic() + 60
        while not self.answers():
            if time.monotonic() > end or self.process is None or self.process.poll() is not None:
                raise AssertionError((self.folder / "log").read_text()[-3000:])
            time.sleep(0.05)
        return self

    def answers(self) -> bool:
        """Whether it takes connections."""
        try:
            self.admin("SELECT 1")
        except psycopg.OperationalError:
            return False
        return True

    def stop(self) -> None:
        """Stop it at once, but in order."""
        self._end(signal.SIGINT)

    def kill(self) -> None:
        """Kill all of its processes."""
        assert self.process is not None
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()
        self.process = None

    def _end(self, how: signal.Signals) -> None:
        if self.process is not None:
            self.process.send_signal(how)
            self.process.wait(30)
            self.process = None

    def promote(self) -> None:
        """Make a standby the server that writes."""
        self.admin("SELECT pg_promote(true, 30)")

    def admin(self, *statements: str, database: str = "postgres") -> list[tuple[object, ...]]:
        """Run statements as the superuser; returns the rows of the last."""
        with psycopg.connect(self.dsn("postgres", database), autocommit=True, connect_timeout=5) as connection:
            for statement in statements:
                found = connection.execute(statement)
            return found.fetchall() if found.description else []

    def dsn(self, login: str, database: str) -> str:
        """How libpq gets there."""
        return f"host=127.0.0.1 port={self.port} user={login} dbname={database}"

    def address(self, study: str = "", *, login: str = "planner", database: str = "harbour") -> ServerAddress:
        """The address of a study on it."""
        more = f"?study={study}" if study else ""
        return read_server_address(f"postgresql://{login}@127.0.0.1:{self.port}/{database}{more}")

    def prepared(self, database: str = "harbour") -> "TestServer":
        """Make a database with the logins of two crews, and a login that owns the database."""
        self.admin(
            f"CREATE ROLE {KEEPER} LOGIN",
            f"CREATE DATABASE {database} OWNER {KEEPER}",
            *(f"CREATE ROLE {login} LOGIN" for login in LOGINS),
        )
        for crew in ("harbour", "north"):
            prepare(self.address(login="postgres", database=database), crew)
        self.admin(*(f"GRANT {role} TO {login}" for login, role in LOGINS.items()))
        return self

    def database(self) -> str:
        """A prepared database of one's own, empty."""
        name = f"harbour_{next(self._numbers)}"
        # The rights in a database are no part of its copy.
        self.admin(
            f"CREATE DATABASE {name} TEMPLATE harbour OWNER {KEEPER}",
            f"REVOKE TEMPORARY, CREATE ON DATABASE {name} FROM PUBLIC",
        )
        return name

    def remove(self) -> None:
        """Stop it and take its folder away."""
        if self.process is not None:
            self._end(signal.SIGQUIT)
        shutil.rmtree(self.folder, ignore_errors=True)

    def _run(self, *command: str) -> None:
        done = subprocess.run(
            [str(self._bin / command[0]), *command[1:]], capture_output=True, text=True, user=self.user, cwd=self.folder
        )
        assert done.returncode == 0, done.stderr


def _free_port() -> int:
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        return int(found.getsockname()[1])
