"""A server made ready: its tables, its crews' roles and the rights of each; and brought up to date when asked."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

import psycopg
from psycopg import Connection, sql

from fresh_chair.core.errors import FileProblem, NotSaved
from fresh_chair.core.frozen import frozen
from fresh_chair.store.address import ServerAddress, require_crew
from fresh_chair.store.postgres.connecting import ServerRow, asked_of, connect
from fresh_chair.store.postgres.troubles import reading, writing

if TYPE_CHECKING:
    from collections.abc import Sequence

# The newest version and all that led there; a test holds this against the versions in the folder.
REVISIONS = ("p0001", "p0002", "p0003")
HEAD = REVISIONS[-1]
# What each version closes, in words for whoever brings a server up to date.
CLOSES: dict[str, tuple[str, ...]] = {
    "p0002": (
        "Nobody can put tables of their own in the place of the study's before a function that may more than they may.",
        "Tables and functions belong to two roles without login, which nobody but a superuser can become.",
        "Functions are called by the roles of crews alone, and no login makes temporary tables here.",
        "The token by which a lost answer is found out is its login's own.",
        "Stations are told of news on a channel that strangers do not know; who only reads is heard as well.",
    ),
    "p0003": (
        "All is written by functions, an act each; no login inserts, changes or locks rows itself.",
        "Each entry is kept with its login, the server's time, and a digest that holds the one before it.",
        "An entry is changed for an erasure on record alone, and which ones were is on record.",
        "A moderator's marks are taken for the station that holds the seat, and for nobody who held it before.",
    ),
}
RIGHTS = ("reads", "logs", "plans", "owns")
# What the roles of a crew may do; each may do all that the ones before it may. All is written by functions.
_GRANTS = {
    "reads": (
        "USAGE ON SCHEMA fresh_chair",
        "SELECT ON crew, study, machine, chair, card, carried, chair_state, seat, script, change, hunch, erasure, "
        "pulse, station, reservation, alembic_version, person_code, entry, sort_entry, chair_entry, evidence_entry, "
        "baseline_state, fixture_check, attached_file, rewritten, holder",
        "EXECUTE ON FUNCTION crews(text), studies_for(text), confirmed(pg_lsn), be_seen(text, text, boolean), "
        "announce(text, text, text, text, bigint, bigint), mark_commit(text, text), marked_commit(text)",
    ),
    "logs": (
        "SELECT ON person",
        "EXECUTE ON FUNCTION append_to_sitting(text, text, json, boolean, text, bigint), "
        "append_to_sorting(text, json, boolean), append_to_evidence(text, json, boolean), "
        "append_to_chairs(text, json, boolean), "
        "keep_baseline(text, bigint, bytea), keep_file(text, text, bytea), note_bench(text, json), "
        "put_hunch(text, text, text, text, text, bigint, bigint, bigint, boolean), drop_hunch(text, text), "
        "seal_hunches(text, text, bigint), beat(text, text, bigint, text, bigint), take_turn(text, text), "
        "take_turn_to_reserve(text), reserve(text, text, text, boolean), release(text, text, text), "
        "seat_beside(text, text, text, text)",
    ),
    "plans": (
        "EXECUTE ON FUNCTION add_changes(text, json), add_script(text, bigint, bigint, text, text), "
        "make_study(text, json), put_plan(text, text, json, text[]), change_plan(text, text, json, json), "
        "drop_plan(text, text, json), change_head(text, json, bigint), send_away(text, text)",
    ),
    "owns": (
        "EXECUTE ON FUNCTION record_erasure(text, text, bigint, text, boolean), "
        "rewrite(text, text, text, text, bigint, text), rewrite_baseline(text, text, bigint, bytea), "
        "drop_sittings_of(text, text), drop_file(text, text)",
    ),
}


@frozen
class PreparedServer:
    """The result of preparing a server.

    Attributes:
        made: Whether its tables were made just now.
        crew: The crew whose roles are there now.
        roles: Their names, from the one that may least.
    """

    made: bool
    crew: str
    roles: tuple[str, ...]


def prepare(address: ServerAddress, crew: str) -> PreparedServer:
    """Make the tables where there are none, then the roles of a crew with the rights of each; it can be said again.

    Args:
        address: The server and its database.
        crew: Whose roles are made.

    Raises:
        FileProblem: Where the server cannot be reached, is older than 15, or holds other versions.
        NotSaved: Where this login is no superuser's.
    """
    crew = require_crew(crew)
    with reading(address.name):
        connection = connect(address)
    with connection, writing(address.name):
        _require_superuser(connection, address, "prepare")
        _require_fit(connection, address)
        made = _revision(connection) is None
        if made:
            connection.execute("CREATE SCHEMA IF NOT EXISTS fresh_chair")
            _migrate(address)
        _require_head(connection, address)
        with connection.transaction():
            connection.execute("INSERT INTO crew (name) VALUES (%s) ON CONFLICT DO NOTHING", (crew,))
            roles = _grant(connection, crew)
            _lock(connection)
    return PreparedServer(made, crew, roles)


def upgrade(address: ServerAddress) -> tuple[str, str]:
    """Bring a server's tables up to date, in one transaction; returns the versions before and after.

    Raises:
        FileProblem: Where the server cannot be reached, or holds a newer version.
        NotSaved: Where this login is no superuser's; everything is as it was.
    """
    with reading(address.name):
        connection = connect(address)
    with connection, writing(address.name):
        _require_superuser(connection, address, "upgrade")
        before = _revision(connection)
        if before is None:
            raise FileProblem(f"{address.name} was not prepared yet.", "Say: fresh-chair server prepare ADDRESS")
        _require_known(before, address)
        _migrate(address)
        with connection.transaction():
            for (crew,) in connection.execute("SELECT name FROM crew").fetchall():
                _grant(connection, crew)
            _lock(connection)
    return before, HEAD


def require_current(connection: Connection[ServerRow], address: ServerAddress) -> None:
    """Do nothing where the server's tables are those of this program. Raises FileProblem."""
    if _revision(connection) is None:
        raise FileProblem(
            f"{address.name} is on a server that was not prepared, or not for you.",
            "Its administrator runs: fresh-chair server prepare ADDRESS",
        )
    _require_head(connection, address)


def _require_head(connection: Connection[ServerRow], address: ServerAddress) -> None:
    found = _revision(connection)
    _require_known(found, address)
    if found != HEAD:
        raise FileProblem(
            f"{address.name} is on a server with older tables ({found}; this program has {HEAD}).",
            "Nothing was changed. Its administrator runs: fresh-chair server upgrade ADDRESS",
        )


def _require_known(found: str | None, address: ServerAddress) -> None:
    if found not in REVISIONS:
        raise FileProblem(
            f"{address.name} is on a server that a newer Fresh Chair prepared ({found}; this one knows up to {HEAD}).",
            "Nothing was changed. Update Fresh Chair to use it.",
        )


def _revision(connection: Connection[ServerRow]) -> str | None:
    """The version of the server's tables; None where there are none that this login may see."""
    query = (
        "SELECT to_regclass('fresh_chair.alembic_version') IS NOT NULL AND has_schema_privilege('fresh_chair', 'USAGE')"
    )
    there = "SELECT EXISTS (SELECT FROM pg_namespace WHERE nspname = 'fresh_chair')"
    if not one(connection, there) or not one(connection, query):
        return None
    return str(one(connection, "SELECT version_num FROM fresh_chair.alembic_version"))


def one(connection: Connection[ServerRow], query: str, values: Sequence[Any] = ()) -> Any:
    """The one value of a query; None where it finds nothing. Raises psycopg.Error."""
    row = connection.execute(query, values).fetchone()
    return None if row is None else row[0]


def _require_fit(connection: Connection[ServerRow], address: ServerAddress) -> None:
    if connection.info.server_version < 150000:
        raise FileProblem(f"{address.name} runs PostgreSQL {connection.info.server_version // 10000}.", "15 or newer.")
    if one(connection, "SHOW server_encoding") != "UTF8":
        raise FileProblem(f"{address.name} does not keep text as UTF-8.", "Create a database with ENCODING 'UTF8'.")


def _require_superuser(connection: Connection[ServerRow], address: ServerAddress, act: str) -> None:
    if not one(connection, "SELECT rolsuper FROM pg_roles WHERE rolname = current_user"):
        raise NotSaved(
            f"Tables and roles of {address.name} are a superuser's to make, and this login is none.",
            f"On the server: sudo -u postgres fresh-chair server {act} 'postgresql:///DATABASE'",
        )


def _grant(connection: Connection[ServerRow], crew: str) -> tuple[str, ...]:
    """Make the roles of a crew that are missing, and give each its rights; returns their names."""
    roles = tuple(f"{crew}_{right}" for right in RIGHTS)
    _make_roles(connection, roles)
    for role, right in zip(roles, RIGHTS, strict=True):
        # What an earlier version granted goes first.
        for every in ("TABLES", "FUNCTIONS"):
            revoke = sql.SQL("REVOKE ALL ON ALL {} IN SCHEMA fresh_chair FROM {}")
            connection.execute(revoke.format(sql.SQL(every), sql.Identifier(role)))
        for grant in _GRANTS[right]:
            connection.execute(sql.SQL("GRANT {} TO {}").format(sql.SQL(grant), sql.Identifier(role)))
    return roles


def _lock(connection: Connection[ServerRow]) -> None:
    """Take the right to temporary tables, and to schemas and objects of their own, from everybody."""
    database = sql.Identifier(connection.info.dbname)
    connection.execute(sql.SQL("REVOKE TEMPORARY, CREATE ON DATABASE {} FROM PUBLIC").format(database))
    if one(connection, "SELECT 1 FROM pg_namespace WHERE nspname = 'public'"):
        connection.execute("REVOKE CREATE ON SCHEMA public FROM PUBLIC")


def _make_roles(connection: Connection[ServerRow], roles: Sequence[str]) -> None:
    """Make the roles that are missing, each with all that the one before it may."""
    before = ""
    for role in roles:
        if one(connection, "SELECT 1 FROM pg_roles WHERE rolname = %s", (role,)) is None:
            connection.execute(sql.SQL("CREATE ROLE {} NOLOGIN").format(sql.Identifier(role)))
        if before:
            grant = sql.SQL("GRANT {} TO {}").format(sql.Identifier(before), sql.Identifier(role))
            connection.execute(grant)
        before = role


def _migrate(address: ServerAddress) -> None:
    """Run the versions that are missing, all in one transaction. Raises psycopg.Error."""
    from alembic import command
    from alembic.config import Config
    from sqlalchemy import create_engine
    from sqlalchemy.exc import DBAPIError
    from sqlalchemy.pool import NullPool

    engine = create_engine(
        "postgresql+psycopg://", creator=lambda: psycopg.connect(**asked_of(address)), poolclass=NullPool
    )
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    try:
        with engine.begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, HEAD)
    except DBAPIError as problem:
        raise problem.orig or problem from problem
