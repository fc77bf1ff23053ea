"""Attacks with psql as every login, over all that the catalogue names; on the first tables some still succeed."""

from collections.abc import Iterator
from contextlib import closing

import psycopg
import pytest
from psycopg import sql

from fresh_chair.core.sitting.journal import CODEC, NoteTaken, SittingBegan
from fresh_chair.services.server.servers import check_server, upgrade_server
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import open_study
from fresh_chair.store.postgres import preparing
from tests.builders import small_study
from tests.servers import KEEPER, LOGINS, TestServer
from tests.store.postgres.attackers import ATTACKERS, refused, relations, session, studies
from tests.store.postgres.first_tables import FIRST_GRANTS

_OWNERS = ("fresh_chair_tables", "fresh_chair_acts")
_PINNED = "search_path=pg_catalog, fresh_chair, pg_temp"


@pytest.fixture
def first(server: TestServer, database: str, monkeypatch: pytest.MonkeyPatch) -> Iterator[str]:
    """A database with the first tables, as they were made and granted before, with two crews' studies."""
    name = f"first_{server.port}"
    server.admin(f"DROP DATABASE IF EXISTS {name} WITH (FORCE)", f"CREATE DATABASE {name} OWNER {KEEPER}")
    with monkeypatch.context() as before:
        before.setattr(preparing, "HEAD", "p0001")
        before.setattr(preparing, "_lock", lambda connection: None)
        before.setattr(preparing, "_GRANTS", FIRST_GRANTS)
        for crew in ("harbour", "north"):
            preparing.prepare(server.address(login="postgres", database=name), crew)
    studies(server, database)
    # What it wrote then is written no more by this program: rows of the plan, and two entries of a sitting.
    with psycopg.connect(server.dsn("postgres", database)) as now, psycopg.connect(server.dsn("postgres", name)) as old:
        for table in ("study", "machine", "chair", "card", "person", "carried", "chair_state", "seat"):
            columns = ", ".join(
                f'"{row[0]}"'
                for row in old.execute(
                    "SELECT column_name FROM information_schema.columns WHERE table_schema = 'fresh_chair' "
                    "AND table_name = %s AND is_identity = 'NO'",
                    (table,),
                )
            )
            for row in now.execute(f"SELECT {columns} FROM fresh_chair.{table}"):
                old.execute(f"INSERT INTO fresh_chair.{table} ({columns}) VALUES ({', '.join(['%s'] * len(row))})", row)
        for number, content in ((1, SittingBegan()), (2, NoteTaken("from before"))):
            old.execute(
                "INSERT INTO fresh_chair.entry SELECT study, id, %s, %s, %s, 1, %s, 'x', %s, 'ada', %s "
                "FROM fresh_chair.seat WHERE study = 'small' AND number = 8",
                (number, f"e{number}", content.kind, number, number, CODEC.body_to_keep(content)),
            )
    yield name
    server.admin(f"DROP DATABASE {name} WITH (FORCE)")


def functions(server: TestServer, database: str) -> list[tuple[str, int, bool]]:
    """Every function: its name, how many arguments it takes, whether it is a trigger's."""
    query = (
        "SELECT proname, pronargs, prorettype = 'trigger'::regtype FROM pg_proc "
        "WHERE pronamespace = 'fresh_chair'::regnamespace"
    )
    return [(str(name), int(str(takes)), bool(told)) for name, takes, told in server.admin(query, database=database)]


def ran_as(server: TestServer, database: str, login: str) -> set[str]:
    """Under which names code of a login's ran, from views before every table, as every function was called."""
    heard: set[str] = set()
    server.admin(f"GRANT TEMPORARY ON DATABASE {database} TO PUBLIC")
    with session(server, database, login) as connection:
        connection.add_notice_handler(lambda said: heard.add(str(said.message_primary)))
        connection.execute(
            "CREATE FUNCTION pg_temp.seen() RETURNS boolean LANGUAGE plpgsql AS "
            "$$ BEGIN RAISE NOTICE 'ran as %', current_user; RETURN true; END $$"
        )
        for name, _ in relations(server, database):
            refused(
                connection,
                f"CREATE TEMP VIEW {name} AS SELECT * FROM fresh_chair.{name} WHERE pg_temp.seen() "
                "UNION ALL SELECT * FROM fresh_chair." + name,
            )
        heard.clear()
        for name, takes, trigger in functions(server, database):
            if not trigger:
                refused(connection, f"SELECT fresh_chair.{name}({', '.join(['NULL'] * takes)})")
        refused(connection, "SELECT fresh_chair.seat_beside('small', (SELECT id FROM fresh_chair.seat LIMIT 1), 'x')")
        for name, kind in relations(server, database):
            if kind == "r":
                refused(connection, f"UPDATE fresh_chair.{name} SET study = study")
                refused(connection, f"DELETE FROM fresh_chair.{name}")
        refused(connection, "SELECT * FROM fresh_chair.person_code")
    return heard


def test_no_code_of_a_login_runs_in_a_function_of_ours_where_it_did(
    server: TestServer, first: str, locked: str
) -> None:
    assert {"ran as postgres"} <= ran_as(server, first, "logger")
    assert [(login, ran) for login in ATTACKERS if (ran := ran_as(server, locked, login))] == []


@pytest.mark.parametrize("made", ["first", "locked"])
def test_no_other_crews_study_is_seen_behind_a_table_of_ones_own(
    server: TestServer, made: str, request: pytest.FixtureRequest
) -> None:
    database = request.getfixturevalue(made)
    server.admin(f"GRANT TEMPORARY ON DATABASE {database} TO PUBLIC")
    seen = []
    for login in ("reader", "logger", "planner", "owner"):
        with session(server, database, login) as connection:
            connection.execute("CREATE TEMP TABLE study (id text, crew text, away text)")
            connection.execute("INSERT INTO pg_temp.study VALUES ('theirs', 'harbour', NULL)")
            connection.execute("CREATE TEMP TABLE crew AS SELECT 'harbour' AS name")
            connection.execute("GRANT ALL ON pg_temp.study, pg_temp.crew TO PUBLIC")
            seen += connection.execute("SELECT study FROM fresh_chair.seat WHERE study = 'theirs' LIMIT 1").fetchall()
    assert len(seen) == (4 if made == "first" else 0)


def test_every_function_is_pinned_owned_by_nobody_and_called_by_crews_alone(
    server: TestServer, first: str, locked: str
) -> None:
    query = (
        "SELECT proname FROM pg_proc WHERE pronamespace = 'fresh_chair'::regnamespace AND NOT ("
        f"proconfig @> ARRAY['{_PINNED}'] AND proacl IS NOT NULL "
        "AND NOT EXISTS (SELECT FROM aclexplode(proacl) WHERE grantee = 0) "
        "AND pg_get_userbyid(proowner) = CASE WHEN prosecdef THEN 'fresh_chair_acts' ELSE 'fresh_chair_tables' END)"
    )
    assert len(server.admin(query, database=first)) == len(functions(server, first))
    assert server.admin(query, database=locked) == []
    owners = "SELECT DISTINCT pg_get_userbyid(relowner) FROM pg_class WHERE relnamespace = 'fresh_chair'::regnamespace"
    assert server.admin(owners, database=locked) == [("fresh_chair_tables",)]


def test_nobody_becomes_an_owner_another_crew_or_the_superuser(server: TestServer, locked: str) -> None:
    rows = server.admin(
        "SELECT rolname, rolcanlogin OR rolsuper OR rolcreaterole OR rolcreatedb OR rolbypassrls OR rolreplication "
        "FROM pg_roles WHERE rolname LIKE 'fresh_chair_%'"
    )
    assert sorted(rows) == sorted((name, False) for name in _OWNERS)
    members = (
        "SELECT 1 FROM pg_auth_members AS held JOIN pg_roles AS role ON role.oid = held.roleid "
        "WHERE role.rolname LIKE 'fresh_chair_%'"
    )
    assert server.admin(members) == []
    for login in ATTACKERS:
        other = "harbour" if login == "stranger" else "north"
        with session(server, locked, login) as connection:
            for role in (*_OWNERS, *(f"{other}_{right}" for right in preparing.RIGHTS), "postgres", "pg_monitor"):
                for statement in (f"SET ROLE {role}", f"SET SESSION AUTHORIZATION {role}", f"GRANT {role} TO {login}"):
                    assert refused(connection, statement), (login, statement)


# What a server does for its superuser alone: programs, files, extensions, triggers and rights switched off.
_NEVER = (
    "COPY (SELECT 1) TO PROGRAM 'true'",
    "COPY fresh_chair.station FROM PROGRAM 'true'",
    "COPY (SELECT 1) TO '/tmp/never'",
    "COPY fresh_chair.station FROM '/etc/hostname'",
    "SELECT pg_read_file('/etc/hostname')",
    "SELECT pg_ls_dir('.')",
    "SELECT lo_import('/etc/hostname')",
    "SELECT lo_export(1, '/tmp/never')",
    "CREATE EXTENSION file_fdw",
    "CREATE EXTENSION dblink",
    "CREATE LANGUAGE plpython3u",
    "SET session_replication_role = replica",
    "ALTER SYSTEM SET fsync = off",
    "CREATE EVENT TRIGGER never ON ddl_command_start EXECUTE FUNCTION fresh_chair.only_appended()",
    "CREATE FUNCTION fresh_chair.never() RETURNS int LANGUAGE sql AS 'SELECT 1'",
    "CREATE TABLE fresh_chair.never (x int)",
    "ALTER SCHEMA fresh_chair OWNER TO CURRENT_USER",
    "DROP SCHEMA fresh_chair CASCADE",
)
# With the name of each table or view.
_OF_EACH_TABLE = (
    "ALTER TABLE {0} DISABLE TRIGGER ALL",
    "ALTER TABLE {0} DISABLE ROW LEVEL SECURITY",
    "ALTER TABLE {0} OWNER TO CURRENT_USER",
    "ALTER TABLE {0} ADD COLUMN never int",
    "CREATE TRIGGER never BEFORE INSERT ON {0} FOR EACH ROW EXECUTE FUNCTION fresh_chair.only_appended()",
    "CREATE RULE never AS ON INSERT TO {0} DO INSTEAD NOTHING",
    "CREATE POLICY never ON {0} USING (true)",
    "CREATE INDEX ON {0} ((1))",
    "TRUNCATE {0} CASCADE",
    "DROP TABLE {0} CASCADE",
    "DROP VIEW {0} CASCADE",
)


@pytest.mark.parametrize("login", ATTACKERS)
def test_nothing_of_the_server_or_the_schema_is_anybodys_to_change(server: TestServer, locked: str, login: str) -> None:
    with session(server, locked, login) as connection:
        allowed = [statement for statement in _NEVER if not refused(connection, statement)]
        for name, _ in relations(server, locked):
            statements = [each.format(f"fresh_chair.{name}") for each in _OF_EACH_TABLE]
            allowed += [statement for statement in statements if not refused(connection, statement)]
        for name, takes, trigger in functions(server, locked):
            of = f"fresh_chair.{name}({'' if trigger else ', '.join(['text'] * takes)})"
            for act in (
                "DROP FUNCTION {0}",
                "ALTER FUNCTION {0} RESET ALL",
                "ALTER FUNCTION {0} OWNER TO CURRENT_USER",
            ):
                allowed += [] if refused(connection, act.format(of)) else [act.format(of)]
    assert allowed == []
    # Who holds no right to pass on passes none on, and is only warned.
    with session(server, locked, login) as connection:
        for name, _ in relations(server, locked):
            refused(connection, f"GRANT ALL ON fresh_chair.{name} TO PUBLIC")
    passed = "SELECT 1 FROM pg_class, aclexplode(relacl) AS held WHERE relnamespace = 'fresh_chair'::regnamespace"
    assert server.admin(f"{passed} AND held.grantee = 0", database=locked) == []
    assert server.admin("SELECT count(*) FROM fresh_chair.seat", database=locked) == [(8,)]


@pytest.mark.parametrize("login", ATTACKERS)
def test_no_row_of_another_crew_is_seen_or_changed_by_its_id(server: TestServer, locked: str, login: str) -> None:
    of = "small" if login == "stranger" else "theirs"
    with session(server, locked, login) as connection:
        for name, _ in relations(server, locked):
            key = "id" if name == "study" else "study"
            if name in ("crew", "alembic_version", "commit_token"):
                continue
            for switch in ("SET row_security = on", "SET row_security = off"):
                connection.execute(switch)
                try:
                    found = connection.execute(
                        sql.SQL("SELECT 1 FROM fresh_chair.{} WHERE {} = {}").format(
                            sql.Identifier(name), sql.Identifier(key), sql.Literal(of)
                        )
                    ).fetchall()
                except psycopg.Error:
                    found = []
                assert found == [], (login, name, switch)
            connection.execute("SET row_security = on")
            of_theirs = f"WHERE {key} = '{of}'"
            for statement in (f"UPDATE {name} SET {key} = {key} {of_theirs}", f"DELETE FROM {name} {of_theirs}"):
                try:
                    assert connection.execute(statement).rowcount == 0, (login, statement)
                except psycopg.Error:
                    continue


def test_the_token_of_a_transaction_is_its_logins_own(server: TestServer, locked: str) -> None:
    name, mark, asked = "00000000000000aa", "SELECT mark_commit(%s, %s)", "SELECT marked_commit(%s)"
    with session(server, locked, "logger") as logger, session(server, locked, "reader") as reader:
        logger.execute(mark, (name, "abcd"))
        for statement in ("SELECT 1 FROM commit_token", "UPDATE commit_token SET token = 'f'"):
            assert refused(reader, statement)
        with pytest.raises(psycopg.errors.UniqueViolation):
            reader.execute(mark, (name, "f0f0"))
        assert reader.execute(asked, (name,)).fetchall() == [(None,)]
        assert logger.execute(asked, (name,)).fetchall() == [("abcd",)]


def test_tokens_of_sessions_left_long_ago_are_cleared(server: TestServer, locked: str) -> None:
    with session(server, locked, "logger") as logger:
        logger.execute("SELECT mark_commit('00000000000000aa', 'abcd')")
        server.admin("UPDATE fresh_chair.commit_token SET marked = now() - interval '2 days'", database=locked)
        logger.execute("SELECT mark_commit('00000000000000bb', 'abcd')")
    kept = server.admin("SELECT session FROM fresh_chair.commit_token WHERE login = 'logger'", database=locked)
    assert kept == [("00000000000000bb",)]


def test_no_login_makes_a_temporary_table_or_a_schema(server: TestServer, locked: str) -> None:
    for login in LOGINS:
        with session(server, locked, login) as connection:
            for statement in ("CREATE TEMP TABLE x (y int)", "CREATE SCHEMA mine", "CREATE TABLE public.x (y int)"):
                assert refused(connection, statement), (login, statement)


def test_first_tables_are_brought_here_and_their_studies_go_on(server: TestServer, first: str) -> None:
    assert upgrade_server(server.address(login="postgres", database=first)) == ("p0001", preparing.HEAD)
    with closing(open_study(server.address("ours", login="planner", database=first))) as opened:
        assert opened.study == small_study()
        live = LiveSitting(opened, opened.study.seats[0])
        live.begin(live.now())
        assert live.entries
    assert [(login, ran) for login in ATTACKERS if (ran := ran_as(server, first, login))] == []


def test_doors_that_were_opened_again_are_named_with_the_line_that_closes_each(server: TestServer, locked: str) -> None:
    address = server.address(login="reader", database=locked)
    assert check_server(address) == []
    opened = (
        f"ALTER ROLE {KEEPER} CREATEROLE",
        f"GRANT fresh_chair_tables TO {KEEPER}",
        f"GRANT TEMPORARY ON DATABASE {locked} TO PUBLIC",
        "ALTER ROLE fresh_chair_acts LOGIN",
        "ALTER TABLE fresh_chair.study OWNER TO postgres",
        "GRANT EXECUTE ON FUNCTION fresh_chair.crews(text) TO PUBLIC",
        "ALTER FUNCTION fresh_chair.confirmed(pg_lsn) SET search_path = public",
    )
    try:
        server.admin(*opened, database=locked)
        found = check_server(address)
        assert len(found) == len(opened)
        assert all(any(word in each.words for each in found) for word in (KEEPER, "crews(", "confirmed", "study"))
    finally:
        server.admin(*(each.line for each in found), database=locked)
    assert check_server(address) == []
