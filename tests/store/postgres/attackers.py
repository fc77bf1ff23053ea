"""Sessions of psql as every login, and what they find: for attacks on a server."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace

import psycopg

from fresh_chair.services.study.open_study import create_study
from tests.builders import small_study
from tests.servers import KEEPER, LOGINS, TestServer

ATTACKERS = (*LOGINS, KEEPER)


@contextmanager
def session(server: TestServer, database: str, login: str) -> Iterator[psycopg.Connection]:
    """A session of psql."""
    with psycopg.connect(server.dsn(login, database), autocommit=True) as connection:
        connection.execute("SET search_path = fresh_chair")
        yield connection


def studies(server: TestServer, database: str) -> None:
    """One study of each crew, once."""
    if server.admin("SELECT 1 FROM fresh_chair.study", database=database):
        return
    create_study(server.address("ours", login="planner", database=database), small_study())
    create_study(
        server.address("theirs", login="stranger", database=database),
        replace(small_study(), id="theirs", title="Another crew's"),
    )


def relations(server: TestServer, database: str) -> list[tuple[str, str]]:
    """The tables and views, with which of them each is."""
    query = (
        "SELECT relname, relkind FROM pg_class "
        "WHERE relnamespace = 'fresh_chair'::regnamespace AND relkind IN ('r', 'v')"
    )
    return [(str(name), str(kind)) for name, kind in server.admin(query, database=database)]


def refused(connection: psycopg.Connection, statement: str) -> bool:
    """Whether the server refuses a statement."""
    try:
        with connection.transaction():
            connection.execute(statement)
    except psycopg.Error:
        return True
    return False
