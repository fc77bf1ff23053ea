"""A server is made ready and brought up to date by command alone, and refuses programs that are too old or too new."""

from contextlib import closing

import psycopg
import pytest

from fresh_chair.core.errors import FileProblem, InputError, NotSaved
from fresh_chair.services.server.servers import prepare_server, studies_on, upgrade_server
from fresh_chair.services.study.open_study import create_study, open_study
from fresh_chair.store.postgres import preparing
from tests.builders import small_study
from tests.servers import KEEPER, TestServer


@pytest.fixture
def empty(server: TestServer) -> str:
    """A database that was not prepared."""
    name = f"empty_{server.port}"
    server.admin(f"DROP DATABASE IF EXISTS {name} WITH (FORCE)", f"CREATE DATABASE {name} OWNER {KEEPER}")
    return name


def test_the_versions_are_those_in_the_folder() -> None:
    from pathlib import Path

    folder = Path(preparing.__file__).parent / "migrations" / "versions"
    assert tuple(sorted(path.stem.partition("_")[0] for path in folder.glob("p*.py"))) == preparing.REVISIONS


def test_a_server_is_prepared_once_and_for_more_crews_again(server: TestServer, empty: str) -> None:
    keeper = server.address(login="postgres", database=empty)
    with pytest.raises(FileProblem, match="was not prepared"):
        studies_on(keeper)
    with pytest.raises(FileProblem, match="was not prepared"):
        open_study(server.address("x", database=empty))
    with pytest.raises(FileProblem, match="not prepared yet"):
        upgrade_server(keeper)
    assert prepare_server(keeper, "harbour").made
    again = prepare_server(keeper, "north")
    assert not again.made
    assert again.roles == ("north_reads", "north_logs", "north_plans", "north_owns")
    assert upgrade_server(keeper) == (preparing.HEAD, preparing.HEAD)
    create_study(server.address("x", database=empty), small_study())
    (found,) = studies_on(server.address(login="planner", database=empty))
    assert (found.name, found.crew, found.planned, found.begun) == ("x", "harbour", 4, 0)
    assert studies_on(server.address(login="stranger", database=empty)) == []


def test_names_of_crews_cannot_be_more_than_names(server: TestServer, empty: str) -> None:
    for name in ("", "a b", 'x"; DROP ROLE', "A", "ä", "x" * 41):
        with pytest.raises(InputError):
            prepare_server(server.address(login="postgres", database=empty), name)


def test_a_login_without_the_rights_is_told_so(server: TestServer, empty: str) -> None:
    for login in ("reader", "owner", KEEPER):
        with pytest.raises(NotSaved, match="a superuser's to make"):
            prepare_server(server.address(login=login, database=empty), "harbour")


def test_a_server_of_a_newer_program_is_refused(server: TestServer, database: str) -> None:
    address = server.address("x", database=database)
    create_study(address, small_study())
    with psycopg.connect(server.dsn("postgres", database), autocommit=True) as keeper:
        keeper.execute("UPDATE fresh_chair.alembic_version SET version_num = 'p0999'")
    superuser = server.address(login="postgres", database=database)
    for act in (lambda: open_study(address), lambda: upgrade_server(superuser)):
        with pytest.raises(FileProblem, match=r"newer Fresh Chair prepared \(p0999"):
            act()


def test_older_tables_are_used_by_no_program_before_the_command_was_given(
    server: TestServer, database: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    address = server.address("x", database=database)
    create_study(address, small_study())
    monkeypatch.setattr(preparing, "HEAD", "p0999")
    monkeypatch.setattr(preparing, "REVISIONS", (*preparing.REVISIONS, "p0999"))
    with pytest.raises(FileProblem, match="older tables") as refused:
        open_study(address)
    assert "server upgrade" in refused.value.hint
    monkeypatch.undo()
    with closing(open_study(address, write=False)) as still:
        assert still.study == small_study()


def test_a_server_that_is_not_there_is_said_in_one_sentence(server: TestServer) -> None:
    from fresh_chair.store.address import read_server_address

    with pytest.raises(FileProblem, match="cannot be reached") as refused:
        open_study(read_server_address("postgresql://127.0.0.1:1/none?study=x"))
    assert "Traceback" not in str(refused.value)
    with pytest.raises(FileProblem, match="no such database"):
        open_study(server.address("x", database="not_there"))
    with pytest.raises(FileProblem, match="a server and no study"):
        open_study(server.address())


def test_without_the_extra_package_one_sentence_says_which(monkeypatch: pytest.MonkeyPatch) -> None:
    from fresh_chair.store.address import read_server_address
    from fresh_chair.store.addresses import stores

    monkeypatch.setattr(stores, "find_spec", lambda name: None)
    address = read_server_address("postgresql://127.0.0.1:1/none?study=x")
    for act in (
        lambda: open_study(address),
        lambda: create_study(address, small_study()),
        lambda: studies_on(address),
        lambda: prepare_server(address, "harbour"),
    ):
        with pytest.raises(InputError, match="one more package") as refused:
            act()
        assert "fresh-chair[server]" in refused.value.hint
