"""A server looked through for doors that stand open: read from its catalogue alone, by any login."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import TYPE_CHECKING

from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import legible
from fresh_chair.store.postgres.connecting import ServerRow, connect
from fresh_chair.store.postgres.preparing import one, require_current
from fresh_chair.store.postgres.troubles import reading

if TYPE_CHECKING:
    from psycopg import Connection

    from fresh_chair.store.address import ServerAddress

_OWNERS = ("fresh_chair_tables", "fresh_chair_acts")
_IN_SCHEMA = "'fresh_chair'::regnamespace"
_SIGNATURE = "format('fresh_chair.%I(%s)', proname, pg_get_function_identity_arguments(oid))"
_MAY_MAKE_ROLES = (
    "SELECT rolname FROM pg_roles WHERE rolcreaterole AND NOT rolsuper AND rolname NOT LIKE 'pg\\_%' ORDER BY 1"
)
_MEMBERS = (
    "SELECT role.rolname, taker.rolname FROM pg_auth_members AS held JOIN pg_roles AS role ON role.oid = held.roleid "
    "JOIN pg_roles AS taker ON taker.oid = held.member WHERE role.rolname = ANY (%s) ORDER BY 1, 2"
)
_SOMEBODY = (
    "SELECT rolname FROM pg_roles WHERE rolname = ANY (%s) "
    "AND (rolcanlogin OR rolsuper OR rolcreaterole OR rolcreatedb OR rolbypassrls OR rolreplication) ORDER BY 1"
)
_EVERYBODYS = (
    "SELECT datname, string_agg(held.privilege_type, ', ' ORDER BY held.privilege_type) FROM pg_database, "
    "aclexplode(COALESCE(datacl, acldefault('d', datdba))) AS held WHERE datname = current_database() "
    "AND held.grantee = 0 AND held.privilege_type IN ('TEMPORARY', 'CREATE') GROUP BY datname"
)
_STRANGE_OWNERS = (
    "SELECT format('%%s fresh_chair.%%I', CASE relkind WHEN 'v' THEN 'VIEW' ELSE 'TABLE' END, relname), "
    "pg_get_userbyid(relowner) FROM pg_class WHERE relkind IN ('r', 'v') "
    f"AND relnamespace = {_IN_SCHEMA} AND pg_get_userbyid(relowner) <> %s ORDER BY 1"
)
_OPEN_FUNCTIONS = (
    f"SELECT {_SIGNATURE} FROM pg_proc "
    f"WHERE pronamespace = {_IN_SCHEMA} AND (proacl IS NULL OR EXISTS "
    "(SELECT FROM aclexplode(proacl) WHERE grantee = 0)) ORDER BY 1"
)
_LETS_IN = (
    "SELECT count(*) FROM pg_hba_file_rules WHERE error IS NULL AND type IN ('hostssl', 'host') "
    "AND auth_method IN ('scram-sha-256', 'cert', 'gss') "
    "AND address NOT IN ('127.0.0.1', '::1', 'samehost', 'localhost') "
    "AND database && ARRAY['all', current_database()::text]"
)
_UNPINNED = (
    f"SELECT {_SIGNATURE} FROM pg_proc "
    f"WHERE pronamespace = {_IN_SCHEMA} AND proconfig IS DISTINCT FROM "
    "ARRAY['search_path=pg_catalog, fresh_chair, pg_temp'] ORDER BY 1"
)


@frozen
class OpenDoor:
    """Something on the server that lets a login do more than its role says.

    Attributes:
        words: What it is, in a sentence.
        line: The statement that closes it.
        open: False where nothing stands open, and something is missing for other machines to come in.
    """

    words: str
    line: str
    open: bool = True


def open_doors(address: ServerAddress) -> list[OpenDoor]:
    """The open doors of a server; none where it is as it was prepared.

    Raises:
        FileProblem: Where it cannot be reached, or was not prepared for this program.
    """
    with reading(address.name), connect(address) as connection:
        require_current(connection, address)
        return [door for look in _LOOKS for door in look(connection)]


def _makers_of_roles(connection: Connection[ServerRow]) -> Iterator[OpenDoor]:
    for (role,) in connection.execute(_MAY_MAKE_ROLES).fetchall():
        yield OpenDoor(
            f"{legible(role)} may make roles, and so give itself every right here.",
            f"ALTER ROLE {_quoted(role)} NOCREATEROLE;",
        )


def _owners(connection: Connection[ServerRow]) -> Iterator[OpenDoor]:
    for role, taker in connection.execute(_MEMBERS, (list(_OWNERS),)).fetchall():
        yield OpenDoor(f"{legible(taker)} can become {role}.", f"REVOKE {role} FROM {_quoted(taker)};")
    for (role,) in connection.execute(_SOMEBODY, (list(_OWNERS),)).fetchall():
        yield OpenDoor(
            f"{role} can log in, or may more than own tables.",
            f"ALTER ROLE {role} NOLOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE NOREPLICATION NOBYPASSRLS;",
        )


def _what_everybody_may(connection: Connection[ServerRow]) -> Iterator[OpenDoor]:
    for database, rights in connection.execute(_EVERYBODYS).fetchall():
        yield OpenDoor(
            "Every login may make tables or schemas of its own in this database (so it is after a dump was restored).",
            f"REVOKE {rights} ON DATABASE {_quoted(database)} FROM PUBLIC;",
        )


def _objects(connection: Connection[ServerRow]) -> Iterator[OpenDoor]:
    for what, owner in connection.execute(_STRANGE_OWNERS, (_OWNERS[0],)).fetchall():
        yield OpenDoor(f"{legible(owner)} owns {legible(what)}.", f"ALTER {what} OWNER TO {_OWNERS[0]};")
    for (function,) in connection.execute(_OPEN_FUNCTIONS).fetchall():
        yield OpenDoor(
            f"Every login may call {legible(function)}.", f"REVOKE EXECUTE ON FUNCTION {function} FROM PUBLIC;"
        )
    for (function,) in connection.execute(_UNPINNED).fetchall():
        yield OpenDoor(
            f"{legible(function)} looks for tables where its caller says.",
            f"ALTER FUNCTION {function} SET search_path = pg_catalog, fresh_chair, pg_temp;",
        )


_LOOKS: tuple[Callable[[Connection[ServerRow]], Iterator[OpenDoor]], ...] = (
    _makers_of_roles,
    _owners,
    _what_everybody_may,
    _objects,
)


def missing(address: ServerAddress) -> list[OpenDoor]:
    """The settings that other machines lack to come in, for a superuser; nothing for all other logins.

    Raises:
        FileProblem: Where it cannot be reached, or was not prepared for this program.
    """
    with reading(address.name), connect(address) as connection:
        if not one(connection, "SELECT rolsuper FROM pg_roles WHERE rolname = current_user"):
            return []
        return list(_missing(connection))


def _missing(connection: Connection[ServerRow]) -> Iterator[OpenDoor]:
    heard = str(one(connection, "SHOW listen_addresses"))
    if all(each.strip() in ("localhost", "127.0.0.1", "::1", "") for each in heard.split(",")):
        line = "ALTER SYSTEM SET listen_addresses = '*'; -- then restart it"
        yield OpenDoor("It listens to this machine alone.", line, open=False)
    if one(connection, "SHOW ssl") != "on":
        yield OpenDoor(
            "It offers no encrypted line, and other machines take no other.",
            "ALTER SYSTEM SET ssl = on; -- with a certificate: docs/stations.md",
            open=False,
        )
    if one(connection, "SHOW password_encryption") != "scram-sha-256":
        line = "ALTER SYSTEM SET password_encryption = 'scram-sha-256'; -- then set each password once more"
        yield OpenDoor("Passwords are kept in an older way than SCRAM.", line, open=False)
    if not one(connection, _LETS_IN):
        line = f"hostssl {connection.info.dbname} all YOUR-NETWORK/24 scram-sha-256"
        where = str(one(connection, "SHOW hba_file"))
        yield OpenDoor(f"No line of {legible(where)} lets another machine in.", line, open=False)


def _quoted(name: str) -> str:
    """A name as it stands in a statement.

    >>> _quoted('mo "the" keeper')
    '"mo ""the"" keeper"'
    """
    doubled = name.replace('"', '""')
    return f'"{doubled}"'
