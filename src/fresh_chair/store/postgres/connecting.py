"""Connections to a server: as libpq makes them, with our search path, and never waited for without an end."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import Any

import psycopg
from psycopg import Connection, Cursor
from psycopg.conninfo import conninfo_to_dict

from fresh_chair.store.address import ServerAddress

# A server that says nothing is given up after a few seconds; what is written at a key is never waited for longer.
_PATIENCE = {
    "connect_timeout": 4,
    "keepalives_idle": 3,
    "keepalives_interval": 1,
    "keepalives_count": 3,
    "tcp_user_timeout": 4_000,
}
_SETTINGS = (
    "SET search_path = pg_catalog, fresh_chair, pg_temp; "
    "SET statement_timeout = '60s'; SET lock_timeout = '10s'; SET timezone = 'UTC'"
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


def _rows_of(cursor: Cursor[Any]) -> Callable[[Sequence[Any]], ServerRow]:
    names = {column.name: at for at, column in enumerate(cursor.description or ())}
    return lambda values: ServerRow(names, values)


def connect(address: ServerAddress, *, station: str = "") -> Connection[ServerRow]:
    """A connection in which every statement is its own transaction unless one is begun.

    Args:
        address: The server; password and certificates come from libpq's usual places.
        station: What the server's list of connections is to call this one.

    Raises:
        psycopg.Error: Where it cannot be made.
    """
    asked = {**_PATIENCE, "application_name": f"fresh-chair {station}".strip()[:60], **conninfo_to_dict(address.server)}
    connection: Connection[ServerRow] = psycopg.connect(
        **{str(name): value for name, value in asked.items() if value is not None},  # type: ignore[arg-type]
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
