"""A study goes to a server and back without loss; a working copy comes home to one that went on."""

import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

import pytest

from fresh_chair.core.errors import FileProblem, Refused
from fresh_chair.core.ledger import EntryStruck
from fresh_chair.core.sitting import journal as j
from fresh_chair.services.evidence.attachments import NamedFile, attach_to_record, path_of, read_attachment
from fresh_chair.services.evidence.server_files import carry_files
from fresh_chair.services.file.erasing import erase_person
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.file.moving import move_study, moved_sentences
from fresh_chair.services.findings.sorting import open_finding, strike
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.store.address import Address
from fresh_chair.store.tables.copying import TABLES, rows_of
from fresh_chair.store.tables.store import TableStore
from tests.servers import TestServer


@contextmanager
def at(address: Address) -> Iterator[OpenStudy]:
    with closing(open_study(address)) as opened:
        yield opened


def all_rows(address: Address) -> dict[str, list[dict[str, object]]]:
    with at(address) as opened:
        assert isinstance(opened.store, TableStore)
        return {table: rows_of(opened.store.database, table) for table in TABLES}


def sound(address: Address) -> bool:
    return not any(check.problems for check in check_file(address))


def sit(address: Address, number: int, words: str) -> None:
    """Seat somebody, log a snag with words, and break off."""
    with at(address) as opened:
        live = LiveSitting(opened, opened.study.seat(number))
        live.begin(live.now())
        live.log(j.AttemptStarted(live.state.card or "none"), live.now())
        live.log(j.SnagSeen(words), live.now())
        live.break_off("enough", live.now())
    assert not opened.spool.left_words()


def remarks_of(address: Address) -> list[str]:
    with at(address) as opened:
        return sorted(r.words for sitting in opened.sittings.values() for r in sitting.remarks.values())


def snag_of(opened: OpenStudy, words: str) -> str:
    return next(
        f"mark:{r.entry}" for sitting in opened.sittings.values() for r in sitting.remarks.values() if r.words == words
    )


@pytest.fixture
def place(server: TestServer, database: str) -> Address:
    """An address on a server where nothing is yet."""
    return server.address("harbour", login="owner", database=database)


def test_a_study_goes_to_a_server_and_back_without_loss(demo_path: Path, place: Address, tmp_path: Path) -> None:
    before = all_rows(demo_path)
    assert len(before["entry"]) > 500
    assert all(before[table] for table in ("sort_entry", "chair_entry", "evidence_entry", "baseline_state", "change"))
    moved = move_study(demo_path, place)
    assert moved.rows == sum(map(len, before.values()))
    assert all_rows(place) == before
    assert sound(place)
    assert not demo_path.exists()
    assert (tmp_path / "demo.moved.fresh").exists()
    back = tmp_path / "back.fresh"
    move_study(place, back)
    assert all_rows(back) == before
    assert sound(back)


def test_what_was_moved_away_takes_nothing_until_it_is_moved_back(
    demo_path: Path, place: Address, tmp_path: Path
) -> None:
    move_study(demo_path, place)
    back = tmp_path / "back.fresh"
    move_study(place, back)
    with at(place) as opened, pytest.raises(Refused, match=r"was moved to .*back\.fresh"):
        set_field(opened, "study.title", "another")
    sit(back, first_free(back), "said on the train")
    said = moved_sentences(move_study(back, place), place)
    assert "entries of sittings" in said[0]
    with at(place) as opened:
        set_field(opened, "study.title", "another")
    assert "said on the train" in remarks_of(place)


def first_free(address: Address, skip: int = 0) -> int:
    with at(address) as opened:
        return [seat.number for seat in opened.study.seats if seat.number not in opened.begun][skip]


def test_a_working_copy_comes_home_to_a_study_that_went_on(demo_path: Path, place: Address, tmp_path: Path) -> None:
    copy = tmp_path / "train.fresh"
    move_study(demo_path, place)
    move_study(place, copy, copy=True)
    here, there = first_free(place), first_free(place, 1)
    sit(place, here, "in the room")
    sit(copy, there, "on the train")
    with at(place) as opened:
        open_finding(opened, "found in the room", [snag_of(opened, "in the room")])
    with at(copy) as opened:
        open_finding(opened, "found on the train", [snag_of(opened, "on the train")])
        strike(opened, len(opened.sorting.entries), "not that one")
        set_field(opened, "study.question", "which of the three?")
    merged = move_study(copy, place, copy=True).merged
    assert merged is not None
    assert merged.plan
    assert merged.clashes == []
    assert merged.added["sort_entry"] == 3
    with at(place) as opened:
        struck = opened.sorting.entries[-1].content
        assert isinstance(struck, EntryStruck)
        # It named the entry before it by the number that had in the copy.
        assert struck.entry == opened.sorting.entries[-2].id
    assert {"in the room", "on the train"} <= set(remarks_of(place))
    with at(place) as opened:
        titles = {finding.title for finding in opened.findings.by_id.values()}
        assert {"found in the room", "found on the train"} <= titles
        assert opened.study.question == "which of the three?"
        assert not opened.findings.left_out
    assert sound(place)
    again = move_study(copy, place, copy=True).merged
    assert again is not None
    assert again.added == {}


def test_a_sitting_that_began_in_both_is_kept_twice(demo_path: Path, place: Address, tmp_path: Path) -> None:
    copy = tmp_path / "train.fresh"
    move_study(demo_path, place)
    move_study(place, copy, copy=True)
    number = first_free(place)
    sit(place, number, "in the room")
    sit(copy, number, "on the train")
    moved = move_study(copy, place, copy=True)
    assert moved.merged is not None
    ((clashed, beside),) = moved.merged.clashes
    assert clashed == number
    assert f"kept beside it, as sitting {beside}" in " ".join(moved_sentences(moved, place))
    with at(place) as opened:
        both = [opened.sittings[each] for each in (number, beside)]
        assert [next(iter(sitting.remarks.values())).words for sitting in both] == ["in the room", "on the train"]
        assert opened.study.seat(beside).participant == opened.study.seat(number).participant
    assert sound(place)
    again = move_study(copy, place, copy=True).merged
    assert again is not None
    assert (again.added, again.clashes) == ({}, [])


def test_a_plan_that_was_changed_in_both_is_refused_with_its_places(
    demo_path: Path, place: Address, tmp_path: Path
) -> None:
    copy = tmp_path / "train.fresh"
    move_study(demo_path, place)
    move_study(place, copy, copy=True)
    with at(place) as opened:
        set_field(opened, "study.title", "in the room")
    with at(copy) as opened:
        set_field(opened, "study.question", "on the train")
    before = all_rows(place)
    with pytest.raises(Refused, match=r"study\.question in the copy, study\.title in the study"):
        move_study(copy, place, copy=True)
    assert all_rows(place) == before


def test_a_person_who_was_erased_meanwhile_does_not_come_back(demo_path: Path, place: Address, tmp_path: Path) -> None:
    copy = tmp_path / "train.fresh"
    move_study(demo_path, place)
    move_study(place, copy, copy=True)
    number = first_free(copy)
    with at(copy) as opened:
        code = opened.study.seat(number).participant
    sit(copy, number, "words of theirs")
    with at(place) as opened:
        erase_person(opened, code, keep_figures=False)
    moved = move_study(copy, place, copy=True)
    assert f"{code} was erased meanwhile" in " ".join(moved_sentences(moved, place))
    assert "words of theirs" not in remarks_of(place)


def test_copied_files_go_along_and_to_every_station(
    demo_path: Path,
    place: Address,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    server: TestServer,
    database: str,
) -> None:
    page = tmp_path / "page.txt"
    page.write_text("a page")
    with at(demo_path) as opened:
        found = read_attachment(NamedFile(page), opened.beside, copy=True)
        letter = opened.study.chairs[0].letter
        record = opened.known_chairs.of(letter).held("reading")[0].record
        attach_to_record(opened, letter, "reading", record.id, found)
    move_study(demo_path, place)
    back = tmp_path / "back.fresh"
    move_study(place, back, copy=True)
    with at(back) as opened:
        assert path_of(found, opened.beside).read_text() == "a page"
    # Another machine, which never saw the file.
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "another machine"))
    with at(place) as opened:
        assert not path_of(found, opened.beside).exists()
        assert carry_files(opened) == 1
        assert path_of(found, opened.beside).read_text() == "a page"
        assert carry_files(opened) == 0
        assert opened.store.link is not None
        # Nothing takes a file away but an erasure.
        opened.store.link.shelf.drop(found.copy_name)
        assert found.copy_name in opened.store.link.shelf.names()
        server.admin("DELETE FROM fresh_chair.attached_file", database=database)
        path_of(found, opened.beside).unlink()
        opened.store.link.shelf.put(found.copy_name, b"another page")
        with pytest.raises(FileProblem, match="not what was attached"):
            carry_files(opened)
        assert not path_of(found, opened.beside).exists()


def test_an_entry_that_cannot_be_read_goes_along_as_it_is(demo_path: Path, place: Address, tmp_path: Path) -> None:
    with closing(sqlite3.connect(demo_path)) as connection, connection:
        connection.execute(
            "INSERT INTO sort_entry (study, number, kind, version, ticks_ns, boot, wall_ns, author, body) "
            "SELECT study, MAX(number) + 1, 'No Kind', 1, 1, 'x', 1, '', 'no JSON' FROM sort_entry"
        )
    before = all_rows(demo_path)
    move_study(demo_path, place)
    back = tmp_path / "back.fresh"
    move_study(place, back, copy=True)
    assert all_rows(back) == before


def test_only_the_same_study_is_brought_into_one(demo_path: Path, small_path: Path, tmp_path: Path) -> None:
    with pytest.raises(Refused, match="another study"):
        move_study(demo_path, small_path)
    assert demo_path.exists()
    with pytest.raises(Refused, match="to where it is"):
        move_study(demo_path, demo_path)
