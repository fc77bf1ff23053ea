"""The line to another machine: closed and verified, or refused; a server that only says it is one learns nothing."""

import socket
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager

import psycopg
import pytest

from fresh_chair.core.errors import FileProblem
from fresh_chair.services.server.servers import studies_on
from fresh_chair.store.address import ServerAddress, read_server_address
from fresh_chair.store.postgres.connecting import connect
from fresh_chair.store.postgres.line import line_to, require_libpq

WORD = "a word that nobody is told"
Act = Callable[[socket.socket], object]


def line(address: str, **environment: str) -> tuple[str, str, str, str]:
    """The mode, the binding and the means that libpq is told beyond the address, and what is said all the time."""
    found = line_to(read_server_address(f"postgresql://{address}"), environment)
    asked = found.asked
    return asked.get("sslmode", ""), asked.get("channel_binding", ""), asked["require_auth"], found.words


@pytest.mark.parametrize("here", ["/db", "localhost/db", "127.0.0.1:5433/db", "%2Frun%2Fpostgresql/db", "[::1]/db"])
def test_on_this_machine_a_password_goes_by_scram_alone(here: str) -> None:
    assert line(here) == ("", "", "scram-sha-256,gss,none", "")


@pytest.mark.parametrize("there", ["server/db", "10.0.0.5/db", "localhost,server/db", "/db?service=harbour"])
def test_to_another_machine_it_is_bound_to_an_encrypted_line(there: str) -> None:
    assert line(there) == ("require", "require", "scram-sha-256", "")


def test_a_host_may_stand_in_the_environment() -> None:
    assert line("/db", PGHOST="server")[:2] == ("require", "require")
    assert line("/db", PGSERVICE="harbour")[:2] == ("require", "require")
    assert line("/db", PGHOST="/run/postgresql")[:2] == ("", "")


def test_what_the_address_says_otherwise_is_said_all_the_time() -> None:
    assert line("server/db?sslmode=verify-full") == ("", "", "scram-sha-256,gss,none", "")
    assert line("server/db?sslmode=verify-ca")[:2] == ("verify-ca", "require")
    for mode in ("disable", "allow", "prefer"):
        assert line(f"server/db?sslmode={mode}")[3] == "the line is open"
    assert line("server/db?sslmode=require&channel_binding=disable")[3] == "the server is not verified"


def test_an_older_libpq_is_refused() -> None:
    with pytest.raises(FileProblem, match="of PostgreSQL 15"):
        require_libpq(150007)
    require_libpq()


class FakeServer:
    """Answers on a port as it is told to, and keeps what it hears."""

    def __init__(self, act: Act) -> None:
        self._act = act
        self.heard = bytearray()
        self._listener = socket.create_server(("127.0.0.1", 0))
        self.port = self._listener.getsockname()[1]
        self._open: list[socket.socket] = []
        threading.Thread(target=self._run, daemon=True).start()

    def _run(self) -> None:
        while True:
            try:
                line, _ = self._listener.accept()
            except OSError:
                return
            self._open.append(line)
            threading.Thread(target=self._talk, args=(line,), daemon=True).start()

    def _talk(self, line: socket.socket) -> None:
        try:
            # It asks for encryption first, which is declined; then says who it is.
            asked = self.hear(line)
            if asked[4:8] in (b"\x04\xd2\x16\x2f", b"\x04\xd2\x16\x30"):
                line.sendall(b"N")
                self.hear(line)
            self._act(line)
            while self.hear(line):
                pass
        except OSError:
            pass

    def hear(self, line: socket.socket) -> bytes:
        found = line.recv(65536)
        self.heard += found
        return found

    def close(self) -> None:
        for each in (self._listener, *self._open):
            each.close()


def _message(kind: bytes, body: bytes) -> bytes:
    return kind + (len(body) + 4).to_bytes(4, "big") + body


_WELCOME = _message(b"R", b"\0\0\0\0") + _message(b"S", b"server_version\x0015.0\0") + _message(b"Z", b"I")
ACTS: dict[str, Act] = {
    "nothing": lambda line: None,
    "asks in the clear": lambda line: line.sendall(_message(b"R", b"\0\0\0\x03")),
    "asks by md5": lambda line: line.sendall(_message(b"R", b"\0\0\0\x05salt")),
    "an error": lambda line: line.sendall(_message(b"E", b"SFATAL\0C28000\0M\x1b[31mgo \x9baway\0\0")),
    "garbage": lambda line: line.sendall(bytes(range(256)) * 40),
    "a huge frame": lambda line: line.sendall(b"R\x7f\xff\xff\xff" + b"x" * 1000),
    "welcome, then nothing": lambda line: line.sendall(_WELCOME),
    "welcome, then junk": lambda line: line.sendall(_WELCOME + b"\xff" * 5000),
    "welcome, then odd rows": lambda line: line.sendall(
        _WELCOME + _message(b"T", b"\0\x01a\0" + b"\0" * 18) + _message(b"D", b"\0\x09\x7f") + _message(b"Z", b"I")
    ),
    "hangs up": lambda line: line.close(),
}


@contextmanager
def faking(act: Act) -> Iterator[tuple[FakeServer, ServerAddress]]:
    with closing(FakeServer(act)) as fake:
        yield fake, read_server_address(f"postgresql://ada@127.0.0.1:{fake.port}/harbour")


@pytest.mark.parametrize("act", ACTS)
def test_a_server_that_is_none_learns_nothing_and_hangs_nothing(act: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("PGPASSWORD", WORD)
    monkeypatch.setattr("fresh_chair.store.postgres.connecting.SILENT_SECONDS", 1.0)
    with faking(ACTS[act]) as (fake, address):
        begun = time.monotonic()
        with pytest.raises(FileProblem) as refused:
            studies_on(address)
        assert time.monotonic() - begun < 10
        assert WORD.encode() not in fake.heard
        assert refused.value.title.isprintable()
        assert WORD not in str(refused.value)
    if act.startswith("asks"):
        assert "told none" in refused.value.title


def test_a_server_elsewhere_without_encryption_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("PGPASSWORD", WORD)
    with faking(ACTS["welcome, then nothing"]) as (fake, _):
        # Known by another name than this machine's, at the same place.
        there = read_server_address(f"postgresql://ada@harbour.example:{fake.port}/harbour?hostaddr=127.0.0.1")
        with pytest.raises(psycopg.OperationalError, match="does not support SSL"):
            connect(there)
        with pytest.raises(FileProblem, match="offers no encrypted line"):
            studies_on(there)
        assert WORD.encode() not in fake.heard
