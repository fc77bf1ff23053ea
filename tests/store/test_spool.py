"""A disk that is full, a file that is moved or deleted: marks go on in a second place and come back from there."""

import os
from pathlib import Path

import pytest

from fresh_chair.core.errors import NotSaved
from fresh_chair.core.sitting import journal as j
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, create_study, open_study
from fresh_chair.store import spool as spool
from fresh_chair.store.home import HomeAddress
from tests.builders import FakeClock, small_study
from tests.disks import fill
from tests.store.sqlite.test_study_file import begin, small_disk

__all__ = ["small_disk"]


def ids(live: LiveSitting) -> list[str]:
    return [entry.id for entry in live.entries]


def log_until_elsewhere(live: LiveSitting) -> None:
    for _ in range(300):
        live.log(j.SnagSeen("words " * 100), live.opened.clock.now())
        if live.opened.spool.waiting > 2:
            return
    raise AssertionError("the disk was never full")


@pytest.fixture
def full(small_disk: Path) -> LiveSitting:
    """A sitting whose study file's disk has just become full, with three marks in the second place."""
    path = small_disk / "small.fresh"
    create_study(path, small_study())
    opened = open_study(path)
    opened.clock = FakeClock()
    live = begin(opened)
    fill(small_disk / "filler")
    log_until_elsewhere(live)
    return live


def test_on_a_full_disk_marks_go_on_in_a_second_place_and_the_screen_says_so(
    full: LiveSitting, small_disk: Path
) -> None:
    opened = full.opened
    # What emptying the write-ahead log gives back is taken as well.
    opened.store.home.make_room()
    fill(small_disk / "more")
    assert "full" in opened.spool.words
    assert "3 marks lie in a second place" in opened.spool.words
    assert not full.bring_back()
    assert opened.spool.waiting == 3
    opened.close()


def test_what_lay_in_the_second_place_is_merged_back_as_soon_as_there_is_room(
    full: LiveSitting, small_disk: Path
) -> None:
    opened, shown = full.opened, ids(full)
    (small_disk / "filler").unlink()
    assert full.bring_back()
    assert opened.spool.waiting == 0
    assert opened.spool.words == ""
    assert list(spool.leftovers(opened.study.id)) == []
    full.log(j.Helped(), opened.clock.now())
    opened.close()
    again = open_study(opened.beside)
    assert [entry.id for entry in again.entries[full.seat.number]][:-1] == shown
    assert check_file(opened.beside)[2].problems == ()
    again.close()


def test_a_program_that_died_with_a_full_disk_leaves_marks_that_the_next_one_merges(
    full: LiveSitting, small_disk: Path
) -> None:
    shown, path = ids(full), full.opened.beside
    full.opened.close()
    # Closing has made a little room; what does not fit there yet stays where it is, and is shown all the same.
    still_full = open_study(path)
    merged = still_full.replayed.merged
    assert [entry.id for entry in still_full.entries[full.seat.number]] == shown
    assert still_full.spool.waiting == 3 - merged
    still_full.close()
    (small_disk / "filler").unlink()
    again = open_study(path)
    assert merged + again.replayed.merged == 3
    assert [entry.id for entry in again.entries[full.seat.number]] == shown
    again.close()
    once_more = open_study(path)
    assert once_more.replayed.merged == 0
    once_more.close()


def test_a_mark_that_no_disk_takes_is_refused_and_nothing_is_shown(
    full: LiveSitting, monkeypatch: pytest.MonkeyPatch
) -> None:
    before = ids(full)

    def refuse(*_: object) -> int:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "write", refuse)
    with pytest.raises(NotSaved, match="full"):
        full.log(j.Helped(), full.opened.clock.now())
    monkeypatch.undo()
    assert ids(full) == before
    full.log(j.Helped(), full.opened.clock.now())
    assert full.opened.spool.waiting == 4
    full.opened.close()


@pytest.mark.parametrize("to", ["beside", "nowhere"])
def test_a_file_that_is_moved_or_deleted_under_a_sitting_loses_no_mark(
    opened: OpenStudy, tmp_path: Path, to: str
) -> None:
    live = begin(opened)
    path = opened.beside
    moved = tmp_path / "moved.fresh"
    if to == "beside":
        path.rename(moved)
    else:
        path.unlink()
    live.log(j.SnagSeen("after it was gone"), opened.clock.now())
    live.log(j.Helped(), opened.clock.now())
    assert opened.spool.waiting == 2
    assert "2 marks" in opened.spool.words
    assert not live.bring_back()
    shown = ids(live)
    opened.close()
    where = moved if to == "beside" else opened.spool.rescued
    assert where is not None
    again = open_study(where)
    assert [entry.id for entry in again.entries[live.seat.number]] == shown
    assert again.replayed.merged == 2
    again.close()
    assert check_file(where)[2].problems == ()


def test_a_file_that_is_put_back_where_it_was_takes_the_marks_again(opened: OpenStudy, tmp_path: Path) -> None:
    live = begin(opened)
    path, aside = opened.beside, tmp_path / "aside.fresh"
    path.rename(aside)
    live.log(j.Helped(), opened.clock.now())
    assert opened.spool.waiting == 1
    aside.rename(path)
    assert live.bring_back()
    live.log(j.WrongPlace(), opened.clock.now())
    shown = ids(live)
    opened.close()
    again = open_study(path)
    assert [entry.id for entry in again.entries[live.seat.number]] == shown
    again.close()


def test_where_no_folder_can_be_made_the_second_place_says_so(tmp_path: Path) -> None:
    spare = spool.Spool("small", HomeAddress(str(tmp_path / "s.fresh"), 1), [tmp_path / "file" / "in a file"])
    (tmp_path / "file").write_text("no folder")
    with pytest.raises(OSError, match="Not a directory"):
        spare.keep(1, "", [])


@pytest.mark.parametrize("line", ["", "{", '{"sitting": 1}', "[]", "null", '{"study": "small"}\nnonsense\n'])
def test_a_spare_file_that_is_spoilt_is_left_where_it_lies_and_opens_nothing(
    small_path: Path, tmp_path: Path, line: str
) -> None:
    folder = spool.places()[0]
    folder.mkdir(parents=True)
    spoilt = folder / "spoilt.marks"
    spoilt.write_text(line)
    opened = open_study(small_path)
    assert opened.replayed.merged == 0
    assert spoilt.is_file()
    opened.close()
