"""Connections to a server: as libpq makes them, with our search path, and never waited for without an end."""

from __future__ import annotations

import random
import time
from collections.abc import Callable, Generator, Iterator, Sequence
from typing import Any, TypeVar

import psycopg
from psycopg import Connection, Cursor
from psycopg.conninfo import conninfo_to_dict

from fresh_chair.store.address import ServerAddress
from fresh_chair.store.postgres.line import line_to, require_libpq

_Result = TypeVar("_Result")
# A server that says nothing is given up after a few seconds; what is written at a key is never waited for longer.
_PATIENCE = {
    "connect_timeout": 4,
    "keepalives_idle": 3,
    "keepalives_interval": 1,
    "keepalives_count": 3,
    "tcp_user_timeout": 4_000,
}
# A server that answered once and then says nothing for as long is left.
SILENT_SECONDS = 10.0
_FIRST_WAIT_SECONDS, _LONGEST_WAIT_SECONDS = 1.0, 60.0
_SETTINGS = (
    "SET search_path = pg_catalog, fresh_chair, pg_temp; "
    "SET statement_timeout = '60s'; SET lock_timeout = '8s'; SET timezone = 'UTC'"
)


class ServerRow:
    """One row of a query, by column or by position."""

    __slots__ = ("_names", "_values")

    def __init__(self, names: dict[str, int], values: Sequence[Any]) -> None:
        self._names = names
        self._values = values

    def __getitem__(self, key: int | str) -> Any:
        return self._values[key if isinstance(key, int) else self._names[key]]

    def __iter__(self) -> Iterator[Any]:
        return iter(self._values)

    def __len__(self) -> int:
        return len(self._values)

    def keys(self) -> list[str]:
        """The names of its columns."""
        return list(self._names)


class Tries:
    """When a server that could not be reached is tried again: after a longer wait each time, up to a minute."""

    def __init__(self) -> None:
        self._wait = _FIRST_WAIT_SECONDS
        self._until = 0.0

    @property
    def seconds(self) -> float:
        """How long it is until the next try; 0 where it may be tried now."""
        return max(self._until - time.monotonic(), 0.0)

    def failed(self) -> None:
        """Wait longer; several who fail at the same time count as one."""
        if not self.seconds:
            # Stations that were cut off together do not come back together.
            self._until = time.monotonic() + self._wait * random.uniform(0.8, 1.0)
            self._wait = min(self._wait * 1.5, _LONGEST_WAIT_SECONDS)

    def succeeded(self) -> None:
        """Begin anew."""
        self._wait, self._until = _FIRST_WAIT_SECONDS, 0.0


class _HeardConnection(Connection[ServerRow]):
    """A connection whose server is not waited for any longer once it says nothing."""

    def wait(self, gen: Generator[Any, Any, _Result], *args: Any, **more: Any) -> _Result:
        return super().wait(_heard(gen, self), *args, **more)


def _heard(gen: Generator[Any, Any, _Result], connection: Connection[Any]) -> Generator[Any, Any, _Result]:
    """The steps that psycopg waits for, given up after a while without a byte. Raises psycopg.OperationalError."""
    heard = time.monotonic()
    try:
        wanted = next(gen)
        while True:
            ready = yield wanted
            if ready:
                heard = time.monotonic()
            elif time.monotonic() - heard > SILENT_SECONDS:
                connection.close()
                raise psycopg.OperationalError(f"the server said nothing for {SILENT_SECONDS:g} s")
            wanted = gen.send(ready)
    except StopIteration as end:
        result: _Result = end.value
        return result


def _rows_of(cursor: Cursor[Any]) -> Callable[[Sequence[Any]], ServerRow]:
    names = {column.name: at for at, column in enumerate(cursor.description or ())}
    return lambda values: ServerRow(names, values)


def asked_of(address: ServerAddress, **more: str | int) -> dict[str, Any]:
    """The parameters for libpq: those of every line, of the one to this server, and those that the address says."""
    require_libpq()
    said = {name: value for name, value in conninfo_to_dict(address.server).items() if value is not None}
    return {**more, **said, **line_to(address).asked}


def connect(address: ServerAddress, *, station: str = "") -> Connection[ServerRow]:
    """A connection in which every statement is its own transaction unless one is begun.

    Args:
        address: The server; password and certificates come from libpq's usual places.
        station: What the server's list of connections is to call this one.

    Raises:
        psycopg.Error: Where it cannot be made.
        FileProblem: Where libpq cannot be held to keep a password to itself.
    """
    name = f"fresh-chair {station}".strip()[:60]
    connection: Connection[ServerRow] = _HeardConnection.connect(
        **asked_of(address, application_name=name, **_PATIENCE),
        autocommit=True,
        row_factory=_rows_of,
    )
    try:
        connection.execute(_SETTINGS)
    except BaseException:
        connection.close()
        raise
    return connection


def marked(query: str) -> str:
    """A query of the tables' SQL with the parameters as psycopg wants them.

    >>> marked("SELECT 1 FROM seat WHERE study = ?")
    'SELECT 1 FROM seat WHERE study = %s'
    """
    return query.replace("%", "%%").replace("?", "%s")
