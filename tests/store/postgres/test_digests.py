"""The chain of digests over a server's ledgers, worked out again from the rows as they stand."""

import json
from collections.abc import Iterator, Sequence
from contextlib import closing
from hashlib import sha256
from pathlib import Path

import psycopg
import pytest

from fresh_chair.core.errors import InputError
from fresh_chair.services.file.earlier_export import held_against
from fresh_chair.services.file.erasing import erase_person
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.file.moving import move_study
from fresh_chair.services.file.new_study import new_demo
from fresh_chair.services.report.outputs import write_export
from fresh_chair.services.study.open_study import open_study
from fresh_chair.store.address import ServerAddress
from tests.servers import TestServer

NAMED = {"entry": "id", "sort_entry": "''", "evidence_entry": "''", "chair_entry": "chair"}
SIGNED = "number, {0}, kind, version, ticks_ns, boot, wall_ns, author, body, COALESCE(login, '')"
SINCE = "COALESCE((extract(epoch FROM kept_at) * 1000000)::bigint::text, '')"
FROM_WHERE = ", COALESCE(station, '')"


@pytest.fixture
def place(server: TestServer, database: str, demo_path: Path) -> ServerAddress:
    """The demo on a server, for its owner."""
    address = server.address("harbour", login="owner", database=database)
    move_study(demo_path, address)
    return address


def kept(
    server: TestServer, database: str
) -> Iterator[tuple[str, bytes | None, bytes, bytes | None, Sequence[object]]]:
    """Ledger, digest before, digest, salt and signed values of every entry."""
    with psycopg.connect(server.dsn("postgres", database)) as connection:
        for table, name in NAMED.items():
            within = "study, sitting" if table == "entry" else "study"
            rows = connection.execute(
                f"SELECT lag(digest) OVER (PARTITION BY {within} ORDER BY number), digest, salt, "
                f"{SIGNED.format(name)}, {SINCE}{FROM_WHERE if table == 'entry' else ''} FROM fresh_chair.{table}"
            )
            for before, digest, salt, *values in rows:
                yield table, before, digest, salt, values


def in_chain(before: bytes | None, digest: bytes, salt: bytes, values: Sequence[object]) -> bool:
    """Whether a digest is that of an entry behind the one before it."""
    signed = json.dumps([str(value) for value in values], ensure_ascii=False, separators=(",", ":"))
    return sha256((before or b"") + salt + signed.encode()).digest() == digest


def test_each_digest_holds_its_entry_and_the_digest_before_it(
    server: TestServer, database: str, place: ServerAddress
) -> None:
    found = list(kept(server, database))
    assert {table for table, *_ in found} == set(NAMED)
    assert all(salt is not None and in_chain(before, digest, salt, values) for _, before, digest, salt, values in found)
    server.admin(
        "SET session_replication_role = replica",
        "UPDATE fresh_chair.entry SET body = replace(body, '{', '{ ') WHERE number = 2",
        database=database,
    )
    changed = [values for _, before, digest, salt, values in kept(server, database) if salt is not None
               and not in_chain(before, digest, salt, values)]  # fmt: skip
    assert changed
    assert {values[0] for values in changed} == {2}


def test_an_erasure_takes_the_salt_of_what_it_changes_and_leaves_the_chain(
    server: TestServer, database: str, place: ServerAddress
) -> None:
    with closing(open_study(place)) as opened:
        code = next(person.code for person in opened.study.people if person.is_newcomer)
        erase_person(opened, code, keep_figures=True)
    found = list(kept(server, database))
    assert all(salt is None or in_chain(before, digest, salt, values) for _, before, digest, salt, values in found)
    ((recorded,),) = server.admin(
        "SELECT count(*) FROM fresh_chair.rewritten WHERE ledger <> 'baseline_state'", database=database
    )
    assert recorded == sum(salt is None for *_, salt, _ in found) > 0


def told(place: ServerAddress) -> tuple[str, tuple[str, ...]]:
    """What `check` says of the study on its server, with the problems."""
    first = check_file(place)[0]
    return first.found, first.problems


def test_check_finds_entries_that_a_superuser_has_changed_dropped_or_written(
    server: TestServer, database: str, place: ServerAddress
) -> None:
    found, problems = told(place)
    assert "entries in chains of digests" in found
    assert "no login" not in found
    assert problems == ()
    of_first = "WHERE sitting = (SELECT id FROM fresh_chair.seat WHERE number = 1)"
    server.admin(
        "SET session_replication_role = replica",
        f"UPDATE fresh_chair.entry SET body = replace(body, '{{', '{{ ') {of_first} AND number = 2",
        f"DELETE FROM fresh_chair.entry {of_first} AND number = 5",
        f"UPDATE fresh_chair.entry SET login = 'another' {of_first} AND number = 9",
        f"UPDATE fresh_chair.entry SET login = NULL {of_first} AND number = 11",
        "UPDATE fresh_chair.sort_entry SET salt = NULL WHERE number = 3",
        "UPDATE fresh_chair.chair_entry SET ticks_ns = ticks_ns + 1 WHERE number = 4",
        database=database,
    )
    found, problems = told(place)
    assert "1 of them by no login that was noted" in found
    assert [each.partition(":")[0] for each in problems] == [
        "Sitting 1, entry 2", "Sitting 1, entry 6", "Sitting 1, entry 9", "Sitting 1, entry 11", "Sorting, entry 3",
        "Chairs, entry 4",
    ]  # fmt: skip
    assert "no erasure on record" in problems[4]


def test_check_counts_what_an_erasure_has_changed_and_finds_nothing_wrong_with_it(place: ServerAddress) -> None:
    with closing(open_study(place)) as opened:
        code = next(person.code for person in opened.study.people if person.is_newcomer)
        erase_person(opened, code, keep_figures=True)
    found, problems = told(place)
    assert "changed by erasures" in found
    assert problems == ()


def test_an_earlier_export_shows_what_a_superuser_has_done_since(
    server: TestServer, database: str, place: ServerAddress, tmp_path: Path
) -> None:
    file = tmp_path / "data" / "study.json"
    with closing(open_study(place)) as opened:
        list(write_export(opened, tmp_path / "data"))
        assert held_against(opened, file).problems == ()
        code = next(person.code for person in opened.study.people if person.is_newcomer)
        erase_person(opened, code, keep_figures=False)
        # Somebody who asked for it is gone, and that stands on record.
        assert held_against(opened, file).problems == ()
    # A change from which the whole chain was worked out anew, and the end of a ledger cut off, are no break in it.
    server.admin(
        "SET session_replication_role = replica",
        "DELETE FROM fresh_chair.sort_entry WHERE number = (SELECT max(number) FROM fresh_chair.sort_entry)",
        "UPDATE fresh_chair.evidence_entry SET digest = sha256('x') WHERE number = 2",
        database=database,
    )
    with closing(open_study(place)) as opened:
        gone, changed = held_against(opened, file).problems
        other = tmp_path / "other.json"
        other.write_text(file.read_text().replace(opened.study.id, "another-study"))
        with pytest.raises(InputError, match="of another study"):
            held_against(opened, other)
    new_demo(tmp_path / "again.fresh")
    with (
        closing(open_study(tmp_path / "again.fresh")) as in_a_file,
        pytest.raises(InputError, match="Entries in a file"),
    ):
        held_against(in_a_file, file)
    assert gone.startswith("Sorting, entry")
    assert gone.endswith("is gone")
    assert changed == "Evidence, entry 2: it is another one than when the export was made"


def test_an_export_names_logins_and_a_redacted_one_their_numbers(place: ServerAddress, tmp_path: Path) -> None:
    with closing(open_study(place)) as opened:
        for redact in (False, True):
            list(write_export(opened, tmp_path / str(redact), redact=redact))
        assert held_against(opened, tmp_path / "True" / "study.json").problems == ()
    whole, redacted = (
        {each["login"] for each in json.loads((tmp_path / name / "study.json").read_text())["signatures"]}
        for name in ("False", "True")
    )
    assert (whole, redacted) == ({"owner"}, {"login 1"})
