"""What a login may do is held by the server itself, against psql as well as against this program."""

import json
from collections.abc import Iterator
from contextlib import closing
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

import psycopg
import pytest

from fresh_chair.core.errors import FileProblem, NotSaved, Refused
from fresh_chair.core.plan.people import Participant
from fresh_chair.services.file.erasing import erase_person
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.file.moving import move_study
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.study.open_study import create_study, open_study
from fresh_chair.store.address import ServerAddress
from tests.builders import small_study
from tests.servers import KEEPER, TestServer

LEDGERS = ("entry", "sort_entry", "chair_entry", "evidence_entry", "baseline_state", "script", "change", "erasure")


@pytest.fixture
def place(server: TestServer, database: str, demo_path: Path) -> ServerAddress:
    """The demo on a server, for its planner."""
    address = server.address("harbour", login="owner", database=database)
    move_study(demo_path, address)
    return server.address("harbour", login="planner", database=database)


@pytest.fixture
def as_login(server: TestServer, place: ServerAddress, database: str) -> Iterator[dict[str, psycopg.Connection]]:
    """A session of psql for each login."""
    logins = ("reader", "logger", "planner", "owner", "stranger", KEEPER)
    found = {}
    for login in logins:
        found[login] = psycopg.connect(server.dsn(login, database), autocommit=True)
        found[login].execute("SET search_path = fresh_chair")
    yield found
    for connection in found.values():
        connection.close()


def count(connection: psycopg.Connection, table: str) -> int:
    row = connection.execute(f"SELECT count(*) FROM {table}").fetchone()
    assert row is not None
    return int(row[0])


@pytest.mark.parametrize("login", ["reader", "logger", "planner"])
def test_what_was_logged_cannot_be_changed(as_login: dict[str, psycopg.Connection], login: str) -> None:
    connection = as_login[login]
    for table in LEDGERS:
        for statement in (f"UPDATE {table} SET study = study", f"DELETE FROM {table}", f"TRUNCATE {table}"):
            with pytest.raises(psycopg.errors.InsufficientPrivilege):
                connection.execute(statement)
        with pytest.raises(psycopg.errors.InsufficientPrivilege):
            connection.execute(f"ALTER TABLE {table} DISABLE TRIGGER ALL")
    assert count(as_login["owner"], "entry") > 500


def test_the_state_a_sitting_was_held_in_stays(as_login: dict[str, psycopg.Connection]) -> None:
    change = "UPDATE seat SET state = NULL WHERE state IS NOT NULL"
    with pytest.raises(psycopg.errors.InsufficientPrivilege):
        as_login["logger"].execute(change)
    with pytest.raises(psycopg.errors.InsufficientPrivilege):
        as_login["planner"].execute(change)
    ((study,),) = as_login["planner"].execute("SELECT study FROM seat WHERE number = 1").fetchall()
    with pytest.raises(psycopg.errors.IntegrityConstraintViolation):
        as_login["planner"].execute("SELECT change_plan(%s, 'seat', '{\"state\": 2}', '{\"number\": 1}')", (study,))


# A sitting of the demo that has begun, and its next entry.
_NEXT = (
    "SELECT entry.study, entry.sitting, max(entry.number) + 1 AS number FROM entry JOIN seat ON seat.study = "
    "entry.study AND seat.id = entry.sitting WHERE seat.number = 1 GROUP BY entry.study, entry.sitting"
)
_APPEND = "SELECT append_to_sitting(%s, %s, %s::json, false, NULL, NULL)"


def a_note(number: int, **changed: object) -> str:
    """A note as a row that a station sends."""
    body = {"kind": "note_taken", "words": "as said", "card": None, "attempt": 0, "recording": None}
    now = datetime.now(UTC).timestamp()
    row = {
        "number": number, "id": f"x{number}", "kind": "note_taken", "version": 1, "ticks_ns": 5, "boot": "another",
        "wall_ns": int(now) * 10**9, "author": "ada", "body": json.dumps(body), **changed,
    }  # fmt: skip
    return json.dumps([row])


def test_an_entry_that_no_sitting_can_have_is_refused_with_a_sentence(as_login: dict[str, psycopg.Connection]) -> None:
    logger = as_login["logger"]
    ((study, sitting, number),) = logger.execute(_NEXT).fetchall()
    ten_days = int((datetime.now(UTC) + timedelta(days=10)).timestamp()) * 10**9
    refused: tuple[tuple[int, dict[str, object]], ...] = (
        (number + 1, {}), (0, {}), (2_000_001, {}), (2_000_000, {}), (number, {"wall_ns": ten_days}),
        (number, {"ticks_ns": 2**62}), (number, {"body": "{}"}), (number, {"body": "[1]"}), (number, {"body": "no"}),
        (number, {"kind": "Robert'; DROP"}), (number, {"id": ""}), (number, {"author": ""}),
        (number, {"author": "planner"}),
        (number, {"body": json.dumps({"kind": "note_taken", "words": "x" * 4_000_001})}),
    )  # fmt: skip
    for at, changed in refused:
        with pytest.raises(psycopg.Error) as problem:
            logger.execute(_APPEND, (study, sitting, a_note(at, **changed)))
        assert (problem.value.sqlstate, bool(problem.value.diag.message_primary)) == ("FC001", True), changed
    with pytest.raises(psycopg.errors.UniqueViolation):
        logger.execute(_APPEND, (study, sitting, a_note(number - 1, id="another")))
    with pytest.raises(psycopg.errors.ForeignKeyViolation):
        logger.execute(_APPEND, (study, "none", a_note(1)))
    for severity, words in ((999, "x"), (-1, "x"), (2, ""), (2, "x" * 2001)):
        with pytest.raises(psycopg.errors.CheckViolation):
            logger.execute("SELECT put_hunch(%s, 'far', 'x', 'x', %s, %s, 1, NULL, true)", (study, words, severity))


def test_an_entry_is_kept_once_with_its_login_and_the_servers_time(as_login: dict[str, psycopg.Connection]) -> None:
    logger = as_login["logger"]
    ((study, sitting, number),) = logger.execute(_NEXT).fetchall()
    for _ in range(3):
        logger.execute(_APPEND, (study, sitting, a_note(number)))
    kept = "SELECT login, kept_at > now() - interval '1 minute', author FROM entry WHERE sitting = %s AND number = %s"
    assert logger.execute(kept, (sitting, number)).fetchall() == [("logger", True, "ada")]
    beyond = a_note(number + 1, ticks_ns=5 + 2 * 86_400 * 10**9)
    with pytest.raises(psycopg.Error, match="more than a day beyond"):
        logger.execute(_APPEND, (study, sitting, beyond))


def test_marks_of_a_moderator_are_taken_for_the_newest_holder_alone(as_login: dict[str, psycopg.Connection]) -> None:
    logger = as_login["logger"]
    ((study, sitting, number),) = logger.execute(_NEXT).fetchall()
    append = "SELECT append_to_sitting(%s, %s, %s::json, false, %s, %s)"

    def held_by(station: str) -> object:
        logger.execute("SELECT release(%s, %s, NULL)", (study, sitting))
        return logger.execute("SELECT reserve(%s, %s, %s, true)", (study, sitting, station)).fetchall()[0][0]

    assert [held_by(each) for each in ("room-1", "room-1", "room-2", "room-1")] == [1, 1, 2, 3]
    for station, turn in (("room-2", 2), ("room-1", 1), ("room-2", 0)):
        with pytest.raises(psycopg.Error) as problem:
            logger.execute(append, (study, sitting, a_note(number), station, turn))
        assert problem.value.sqlstate == "FC002"
    # Whoever watches has no turn, and a station that could not ask yet has none either.
    for at, holder in enumerate((("room-1", 3), ("gallery", None), ("room-1", 0)), start=number):
        logger.execute(append, (study, sitting, a_note(at), *holder))
    kept = "SELECT station FROM entry WHERE sitting = %s AND number >= %s ORDER BY number"
    assert logger.execute(kept, (sitting, number)).fetchall() == [("room-1",), ("gallery",), ("room-1",)]


def test_no_login_locks_what_others_write(as_login: dict[str, psycopg.Connection]) -> None:
    for login in ("reader", "logger", "planner", "owner", "stranger", KEEPER):
        for table in (*LEDGERS, "seat", "study", "reservation", "commit_token"):
            with pytest.raises(psycopg.errors.InsufficientPrivilege), as_login[login].transaction():
                as_login[login].execute(f"LOCK TABLE fresh_chair.{table} IN ROW EXCLUSIVE MODE")


def test_not_even_the_owner_of_the_database_changes_or_empties_a_ledger(
    as_login: dict[str, psycopg.Connection],
) -> None:
    for table in ("entry", "sort_entry", "chair_entry", "evidence_entry", "baseline_state", "change"):
        for statement in ("UPDATE {0} SET study = study", "DELETE FROM {0}", "TRUNCATE {0} CASCADE"):
            with pytest.raises(psycopg.errors.InsufficientPrivilege):
                as_login[KEEPER].execute(statement.format(f"fresh_chair.{table}"))


def test_not_even_the_owner_of_the_tables_does(server: TestServer, database: str, place: ServerAddress) -> None:
    with psycopg.connect(server.dsn("postgres", database), autocommit=True) as connection:
        connection.execute("SET ROLE fresh_chair_tables")
        for table in ("entry", "sort_entry", "chair_entry", "evidence_entry", "baseline_state", "change"):
            for statement in ("UPDATE {0} SET study = study", "DELETE FROM {0}", "TRUNCATE {0} CASCADE"):
                with pytest.raises(psycopg.errors.IntegrityConstraintViolation, match="only ever appended"):
                    connection.execute(statement.format(f"fresh_chair.{table}"))


def test_an_owner_changes_entries_of_an_erased_person_alone_and_it_stands_on_record(
    as_login: dict[str, psycopg.Connection],
) -> None:
    owner = as_login["owner"]
    seats = "SELECT DISTINCT ON (participant) id, participant, study FROM seat ORDER BY participant LIMIT 2"
    (theirs, person, study), (others, another, _) = owner.execute(seats).fetchall()
    body = json.dumps({"kind": "sitting_began"})
    rewrite = "SELECT rewrite(%s, %s, 'entry', %s, %s, %s)"
    erase = "SELECT record_erasure(%s, %s, 1, 'owner', true)"
    with pytest.raises(psycopg.errors.InsufficientPrivilege):
        owner.execute("UPDATE entry SET body = '{}' WHERE number = 1")
    with pytest.raises(psycopg.errors.IntegrityConstraintViolation):
        owner.execute(rewrite, (study, person, theirs, 1, body))
    with pytest.raises(psycopg.Error, match="Nobody is called so"):
        owner.execute(erase, (study, "Nobody"))
    for login in ("logger", "planner"):
        with pytest.raises(psycopg.errors.InsufficientPrivilege):
            as_login[login].execute(erase, (study, person))
    owner.execute(erase, (study, person))
    owner.execute(rewrite, (study, person, theirs, 1, body))
    told = "SELECT participant, ledger, sitting, number, login FROM rewritten"
    assert owner.execute(told).fetchall() == [(person, "entry", theirs, 1, "owner")]
    for of, sitting, words in ((person, others, body), (another, others, body)):
        with pytest.raises(psycopg.errors.IntegrityConstraintViolation):
            owner.execute(rewrite, (study, of, sitting, 1, words))
    with pytest.raises(psycopg.Error, match="not of its kind"):
        owner.execute(rewrite, (study, person, theirs, 1, '{"kind": "note_taken"}'))
    with pytest.raises(psycopg.errors.IntegrityConstraintViolation):
        owner.execute("SELECT drop_sittings_of(%s, %s)", (study, person))


def test_other_words_stand_in_the_entry_alone_that_their_record_names(
    as_login: dict[str, psycopg.Connection],
) -> None:
    owner = as_login["owner"]
    ((study, kind),) = owner.execute("SELECT study, kind FROM evidence_entry WHERE number = 1").fetchall()
    owner.execute("SELECT record_erasure(%s, 'evidence:1 7', 7, 'owner', true)", (study,))
    rewrite = "SELECT rewrite(%s, 'evidence:1 7', %s, '', %s, %s)"
    body = json.dumps({"kind": kind})
    owner.execute(rewrite, (study, "evidence_entry", 1, body))
    for ledger, number in (("evidence_entry", 2), ("sort_entry", 1), ("chair_entry", 1), ("entry", 1), ("study", 1)):
        with pytest.raises(psycopg.errors.IntegrityConstraintViolation):
            owner.execute(rewrite, (study, ledger, number, body))


def test_an_erasure_of_somebody_who_was_not_erased_is_found_by_check(
    as_login: dict[str, psycopg.Connection], place: ServerAddress, server: TestServer, database: str
) -> None:
    assert not any(check.problems for check in check_file(place))
    # As it could be written before.
    server.admin(
        *(
            f"INSERT INTO fresh_chair.erasure SELECT id, '{name}', 1, 'owner', true FROM fresh_chair.study"
            for name in ("Nobody", "P01")
        ),
        database=database,
    )
    found = [problem for check in check_file(place) for problem in check.problems]
    assert ["Nobody" in each or "P01" in each for each in found] == [True, True]
    reader = server.address("harbour", login="reader", database=database)
    assert len([problem for check in check_file(reader) for problem in check.problems if "Nobody" in problem]) == 1


def test_people_are_seen_by_those_who_log_for_their_crew_alone(
    as_login: dict[str, psycopg.Connection], place: ServerAddress, server: TestServer, database: str
) -> None:
    assert count(as_login["logger"], "person") == 9
    with pytest.raises(psycopg.errors.InsufficientPrivilege):
        as_login["reader"].execute("SELECT body FROM person")
    for table in ("person", "study", "entry", "hunch", "erasure", "seat", "person_code"):
        assert count(as_login["stranger"], table) == 0
    with closing(open_study(server.address("harbour", login="reader", database=database))) as reads:
        codes = [person.code for person in reads.study.people]
        with closing(open_study(place)) as plans:
            assert codes == [person.code for person in plans.study.people]
            assert any(_known_of(person) for person in plans.study.people)
        assert not any(_known_of(person) for person in reads.study.people)
        assert reads.entries
        with pytest.raises(Refused):
            set_field(reads, "study.title", "another")
    with pytest.raises(FileProblem, match="no study harbour"):
        open_study(server.address("harbour", login="stranger", database=database))


def _known_of(person: Participant) -> bool:
    """Whether anything is known of a person beside their code and role."""
    return person != Participant(code=person.code, role=person.role)


def test_who_logs_does_not_plan_and_who_plans_does_not_erase(
    place: ServerAddress, server: TestServer, database: str
) -> None:
    with closing(open_study(server.address("harbour", login="logger", database=database))) as logs:
        with pytest.raises(NotSaved, match="may not do this"):
            set_field(logs, "study.title", "another")
        logs.read_on()
        assert logs.study.title != "another"
    with closing(open_study(place)) as plans:
        set_field(plans, "study.title", "another")
        code = next(p.code for p in plans.study.people if p.is_newcomer)
        with pytest.raises(NotSaved, match="may not do this"):
            erase_person(plans, code, keep_figures=True)
    with closing(open_study(server.address("harbour", login="owner", database=database))) as owns:
        erase_person(owns, code, keep_figures=True)
        assert owns.study.person_by_code[code].erased


def test_a_study_belongs_to_a_crew_one_plans_for(server: TestServer, database: str) -> None:
    with pytest.raises(NotSaved, match="may not make a study"):
        create_study(server.address("x", login="logger", database=database), small_study())
    create_study(server.address("x", login="planner", database=database), small_study())
    with pytest.raises(FileProblem, match="already"):
        create_study(server.address("x", login="planner", database=database), small_study())
    with pytest.raises(NotSaved, match="on the server already, under another name"):
        create_study(server.address("z", login="planner", database=database), small_study())
    server.admin("GRANT north_plans TO planner")
    try:
        both = server.address("y", login="planner", database=database)
        with pytest.raises(NotSaved, match=r"several crews: harbour, north"):
            create_study(both, replace(small_study(), id="y"))
        create_study(replace(both, crew="north"), replace(small_study(), id="y"))
    finally:
        server.admin("REVOKE north_plans FROM planner")
    with closing(open_study(server.address("y", login="stranger", database=database))) as theirs:
        assert theirs.study.id == "y"


def test_nothing_but_preparing_needs_a_superuser(server: TestServer) -> None:
    assert server.admin("SELECT rolname FROM pg_roles WHERE rolsuper") == [("postgres",)]
