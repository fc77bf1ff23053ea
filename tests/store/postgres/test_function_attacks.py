"""Attacks by the functions and the news of a server, as every login."""

from contextlib import closing

import psycopg
import pytest
from psycopg import sql

from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import open_study
from tests.servers import TestServer
from tests.stations import comes
from tests.store.postgres.attackers import ATTACKERS, refused, relations, session


def test_news_of_a_study_is_heard_by_its_crew_alone(server: TestServer, locked: str) -> None:
    with session(server, locked, "stranger") as stranger, session(server, locked, "reader") as reader:
        assert stranger.execute("SELECT channel FROM study WHERE id = 'small'").fetchall() == []
        ((channel,),) = reader.execute("SELECT channel FROM study WHERE id = 'small'").fetchall()
        assert len(channel) > 40
        reader.execute(sql.SQL("LISTEN {}").format(sql.Identifier(channel)))
        for known in ("fresh_chair", "small", "fresh_chair_small"):
            stranger.execute(f"LISTEN {known}")
        with closing(open_study(server.address("ours", login="planner", database=locked))) as opened:
            LiveSitting(opened, opened.study.seats[0]).begin(opened.clock.now())
            assert list(reader.notifies(timeout=10, stop_after=1))
        assert list(stranger.notifies(timeout=0.2)) == []


def test_who_only_reads_is_heard_and_speaks_for_nobody_else(server: TestServer, locked: str) -> None:
    say = "SELECT announce('{0}', '{1}', 'x', 'x', 1, 1)"
    with session(server, locked, "reader") as reader, session(server, locked, "planner") as planner:
        planner.execute(say.format("small", "at-the-window"))
        reader.execute(say.format("small", "at-the-door"))
        for of, name in (("small", "at-the-window"), ("theirs", "at-the-door")):
            assert refused(reader, say.format(of, name))
        reader.execute("SELECT be_seen('small', 'at-the-window', true)")
    logins = server.admin(
        "SELECT name, login, seen > now() - interval '30 s' FROM fresh_chair.station", database=locked
    )
    assert sorted(logins) == [("at-the-door", "reader", True), ("at-the-window", "planner", True)]


# A value of each kind that a function takes; most of them would do something where its caller may.
_ARGUMENTS = {
    "text": "'x'", "json": "'[]'", "boolean": "false", "bigint": "1", "bytea": "'x'", "text[]": "ARRAY['id']",
}  # fmt: skip
_OF_A_STUDY = (
    "SELECT proname, string_agg(format_type(kind, NULL), ',' ORDER BY place) FROM pg_proc, "
    "unnest(proargtypes::oid[]) WITH ORDINALITY AS taken (kind, place) "
    "WHERE pronamespace = 'fresh_chair'::regnamespace AND prosecdef AND proargnames[1] = 'of_study' "
    "GROUP BY pg_proc.oid, proname"
)


def whole(server: TestServer, database: str) -> dict[str, object]:
    """The contents of every table, but for what comes and goes with a connection."""
    names = (f"fresh_chair.{name}" for name, kind in relations(server, database) if kind == "r")
    query = "SELECT md5(string_agg(one::text, '' ORDER BY one::text)) FROM {} AS one"
    return {name: server.admin(query.format(name), database=database) for name in names}


def answer(connection: psycopg.Connection, statement: str) -> str | None:
    """How the server refuses a statement; empty where it does not."""
    try:
        connection.execute(statement)
    except psycopg.Error as problem:
        return problem.sqlstate
    return ""


@pytest.mark.parametrize("login", [*ATTACKERS, "reader of the same crew"])
def test_no_function_does_anything_in_a_study_its_caller_may_not_change(
    server: TestServer, locked: str, login: str
) -> None:
    own = login.partition(" ")[0]
    of = "small" if own == "stranger" or " " in login else "theirs"
    before, said = whole(server, locked), dict[str, str | None]()
    found = server.admin(_OF_A_STUDY, database=locked)
    assert len(found) > 25
    with session(server, locked, own) as connection:
        for name, kinds in found:
            if " " in login and name in ("announce", "be_seen"):
                continue
            values = ", ".join([f"'{of}'", *(_ARGUMENTS[kind] for kind in str(kinds).split(",")[1:])])
            said[str(name)] = answer(connection, f"SELECT fresh_chair.{name}({values})")
    # One speaks of the caller's own station alone, and finds none.
    assert {name for name, code in said.items() if code not in ("42501", "FC001", "23514")} <= {"be_seen"}
    assert whole(server, locked) == before


def test_news_that_somebody_of_the_crew_made_up_change_nothing(server: TestServer, locked: str) -> None:
    with session(server, locked, "reader") as reader:
        ((channel,),) = reader.execute("SELECT channel FROM study WHERE id = 'small'").fetchall()
        with closing(open_study(server.address("ours", login="planner", database=locked))) as opened:
            link = opened.store.link
            assert link is not None
            link.join("ada")
            comes(lambda: getattr(link, "_listening", False))
            heard = link.news()
            for said in ("", "small", "'; DROP TABLE entry; --", "\x1b[2J" * 100):
                reader.execute(sql.SQL("NOTIFY {}, {}").format(sql.Identifier(channel), sql.Literal(said)))
            comes(lambda: link.news() != heard)
            assert opened.unread().journals == {}
            live = LiveSitting(opened, opened.study.seats[0])
            live.begin(live.now())
            comes(lambda: live.bring_back() or not opened.spool.waiting)


def test_nothing_waits_for_a_lock_that_strangers_can_take(server: TestServer, locked: str) -> None:
    query = "SELECT proname FROM pg_proc WHERE pronamespace = 'fresh_chair'::regnamespace AND prosrc ILIKE '%advisory%'"
    assert server.admin(query, database=locked) == []
    with session(server, locked, "stranger") as stranger:
        for name in ("small", "small-8", "seat", "study"):
            stranger.execute(
                "SELECT pg_advisory_lock(hashtext(%s)), pg_advisory_lock(hashtextextended(%s, 0))", (name, name)
            )
        with closing(open_study(server.address("ours", login="planner", database=locked))) as opened:
            live = LiveSitting(opened, opened.study.seats[0])
            live.begin(live.now())
            comes(lambda: live.bring_back() or not opened.spool.waiting, within=5)
