"""Files attached to marks, steps and records: hashed, copied where wished, told only on request, gone when erased."""

import csv
import hashlib
import json
import os
from io import StringIO
from pathlib import Path

import pytest

from fresh_chair.core.errors import FileProblem, FreshChairError, InputError, NotSaved, OutsideError
from fresh_chair.core.sitting import journal as j
from fresh_chair.services.chair.records import put_record
from fresh_chair.services.evidence import attachments as a
from fresh_chair.services.file.carrying import carry_over
from fresh_chair.services.file.erasing import erase_person
from fresh_chair.services.file.file_check import check_file, check_open, sound_copy
from fresh_chair.services.report.outputs import write_export
from fresh_chair.services.study.open_study import OpenStudy, create_study, open_study
from fresh_chair.services.walk.walks import begin_walk
from tests.builders import FakeClock, small_study


@pytest.fixture
def menu(tmp_path: Path) -> Path:
    path = tmp_path / "P01's menu.png"
    path.write_bytes(b"a picture")
    return path


def with_file(opened: OpenStudy, clock: FakeClock, file: Path, *, copy: bool) -> int:
    """A walk with a snag that a file shows; returns its sitting."""
    live = begin_walk(opened, "A")
    live.log(j.StepOpened("the menu"), clock.now())
    snag = live.log(j.SnagSeen("cut off"), clock.now())
    found = a.read_attachment(a.NamedFile(file), opened.beside, copy=copy)
    a.attach(live, snag.id, found, clock.now())
    live.log(j.SittingEnded(), clock.now())
    return live.seat.number


def test_a_copy_lies_beside_the_study_under_its_hash(opened: OpenStudy, clock: FakeClock, menu: Path) -> None:
    number = with_file(opened, clock, menu, copy=True)
    (shown,) = a.attachments_of(opened, number)
    assert shown.words == "snag cut off"
    assert shown.attachment.sha256 == hashlib.sha256(b"a picture").hexdigest()
    copy = a.path_of(shown.attachment, opened.beside)
    assert copy.parent == a.folder_beside(opened.beside)
    assert copy.read_bytes() == b"a picture"
    assert copy.stat().st_mode & 0o077 == 0
    menu.unlink()
    assert not any(check.problems for check in check_open(opened.store))


def test_where_it_lies_is_kept_from_the_studys_own_folder(opened: OpenStudy, clock: FakeClock, menu: Path) -> None:
    number = with_file(opened, clock, menu, copy=False)
    (shown,) = a.attachments_of(opened, number)
    assert shown.attachment.location == menu.name
    assert a.path_of(shown.attachment, opened.beside) == menu
    assert not a.folder_beside(opened.beside).exists()


def test_a_copy_that_is_gone_or_changed_is_a_problem_of_the_check(
    opened: OpenStudy, clock: FakeClock, menu: Path
) -> None:
    number = with_file(opened, clock, menu, copy=True)
    copy = a.path_of(a.attachments_of(opened, number)[0].attachment, opened.beside)
    copy.write_bytes(b"another one")
    said = [problem for check in check_open(opened.store) for problem in check.problems]
    assert said == [f"the copy of {menu.name} is not the file that was attached"]
    copy.unlink()
    said = [problem for check in check_open(opened.store) for problem in check.problems]
    assert len(said) == 1
    assert "any more" in said[0]


@pytest.mark.parametrize("copy", [True, False])
def test_names_and_files_leave_the_study_only_on_request(
    opened: OpenStudy, clock: FakeClock, menu: Path, tmp_path: Path, copy: bool
) -> None:
    with_file(opened, clock, menu, copy=copy)
    list(write_export(opened, tmp_path / "bare"))
    for path in (tmp_path / "bare").iterdir():
        assert b"menu" not in path.read_bytes() or path.name in ("walk_steps.csv", "study.json", "marks.csv")
        assert b"P01's" not in path.read_bytes()
    (row,) = csv.DictReader(StringIO((tmp_path / "bare" / "attachments.csv").read_text()))
    assert (row["name"], row["size"]) == ("", "9")
    list(write_export(opened, tmp_path / "whole", with_attachments=opened.beside))
    (row,) = csv.DictReader(StringIO((tmp_path / "whole" / "attachments.csv").read_text()))
    assert row["name"] == menu.name
    assert (tmp_path / "whole" / row["file"]).read_bytes() == b"a picture"
    told = json.loads((tmp_path / "whole" / "study.json").read_text())
    assert any(e["content"].get("name") == menu.name for s in told["sittings"] for e in s["entries"])


@pytest.mark.parametrize("keep_figures", [True, False])
def test_an_erased_persons_files_go_with_their_names(
    opened: OpenStudy, clock: FakeClock, menu: Path, keep_figures: bool
) -> None:
    number = with_file(opened, clock, menu, copy=True)
    code = opened.study.seat(number).participant
    path = opened.beside
    erase_person(opened, code, keep_figures=keep_figures)
    assert not list(a.folder_beside(path).iterdir())
    opened.close()
    assert b"menu.png" not in path.read_bytes()
    assert not any(check.problems for check in check_file(path))


def test_a_copy_that_another_ones_sitting_shows_too_stays(opened: OpenStudy, clock: FakeClock, menu: Path) -> None:
    number = with_file(opened, clock, menu, copy=True)
    claim = put_record(opened, "A", "claim", promised="a menu for everybody")
    found = a.read_attachment(a.NamedFile(menu), opened.beside, copy=True)
    a.attach_to_record(opened, "A", "claim", claim.id, found)
    erase_person(opened, opened.study.seat(number).participant, keep_figures=False)
    assert [path.read_bytes() for path in a.folder_beside(opened.beside).iterdir()] == [b"a picture"]


def test_a_file_of_a_record_falls_with_it(opened: OpenStudy, menu: Path) -> None:
    from fresh_chair.services.chair.records import strike_record

    claim = put_record(opened, "A", "claim", promised="a menu for everybody")
    found = a.read_attachment(a.NamedFile(menu), opened.beside, copy=False)
    a.attach_to_record(opened, "A", "claim", claim.id, found)
    assert len(opened.known_chairs.of("A").attachments) == 1
    with pytest.raises(InputError):
        a.attach_to_record(opened, "A", "claim", "none", found)
    strike_record(opened, "A", "claim", claim.id, "not so")
    assert opened.known_chairs.of("A").attachments == []


def test_what_is_no_file_is_said_and_nothing_is_left(opened: OpenStudy, tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe")
    for path, said in ((tmp_path / "none.png", "cannot be read"), (tmp_path / "pipe", "something else")):
        with pytest.raises(FileProblem, match=said):
            a.read_attachment(a.NamedFile(path), opened.beside, copy=True)
    with pytest.raises(FileProblem, match="something else"):
        a.read_attachment(a.NamedFile(tmp_path), opened.beside, copy=True)
    assert not a.folder_beside(opened.beside).exists()


def test_a_refused_attachment_leaves_no_copy_and_the_mark_is_looked_for_first(
    opened: OpenStudy, tmp_path: Path
) -> None:
    live = begin_walk(opened, "A")
    picture = tmp_path / "menu.png"
    picture.write_bytes(b"picture")
    found = a.read_attachment(a.NamedFile(picture), opened.beside, copy=True)
    folder = a.folder_beside(opened.beside)
    assert list(folder.iterdir())
    with pytest.raises(InputError, match="has no mark nothing"):
        a.attach_to(opened, live.seat.number, "nothing", found)
    mark = live.log(j.NoteTaken("here"), live.now())
    live.log(j.SittingEnded(), live.now())
    with pytest.raises(InputError, match="has no step 3"):
        a.entry_shown(opened, live.seat.number, "step 3")
    with pytest.raises(FreshChairError), a.leaving_nothing(opened, found):
        a.attach(live, "nothing", found, live.now())
    assert not list(folder.iterdir())
    # What something else shows stays.
    found = a.read_attachment(a.NamedFile(picture), opened.beside, copy=True)
    a.attach_to(opened, live.seat.number, mark.id, found)
    with pytest.raises(FreshChairError), a.leaving_nothing(opened, found):
        a.attach(live, "nothing", found, live.now())
    assert [path.name for path in folder.iterdir()] == [found.copy_name]


def test_a_stray_beside_the_study_is_named_and_taken_when_somebody_is_erased(opened: OpenStudy, tmp_path: Path) -> None:
    folder = a.folder_beside(opened.beside)
    folder.mkdir()
    (folder / "left.png").write_bytes(b"a face")
    (problem,) = next(check for check in check_file(opened.beside) if check.what == "files").problems
    assert "nothing refers to" in problem
    assert "left.png" in problem
    erase_person(opened, opened.study.people[0].code, keep_figures=False)
    assert not list(folder.iterdir())


def test_reading_a_large_file_can_be_stopped_and_leaves_no_part(opened: OpenStudy, tmp_path: Path) -> None:
    clip = tmp_path / "walk.webm"
    clip.write_bytes(bytes(3 * 2**20))
    seen = []

    def going_on(size: int) -> bool:
        seen.append(size)
        return size < 2 * 2**20

    with pytest.raises(FileProblem, match="stopped"):
        a.read_attachment(a.NamedFile(clip), opened.beside, copy=True, going_on=going_on)
    assert seen == [2**20, 2 * 2**20]
    assert not list(a.folder_beside(opened.beside).iterdir())


@pytest.mark.parametrize(
    ("typed", "stretch"),
    [("walk.webm 1:01-1:10", (61.0, 70.0)), ("walk.webm 2:31", (151.0, None)), ("a walk.webm", (None, None))],
)
def test_a_stretch_of_a_clip_is_typed_after_its_path(typed: str, stretch: tuple[float | None, float | None]) -> None:
    named = a.named_file(typed)
    assert (named.begin_seconds, named.end_seconds) == stretch
    assert named.path.name.endswith("walk.webm")


def test_a_file_whose_name_ends_in_a_time_is_that_file(tmp_path: Path) -> None:
    path = tmp_path / "shot 12"
    path.touch()
    assert a.named_file(str(path)) == a.NamedFile(path)
    with pytest.raises(InputError, match="ends after it begins"):
        a.named_file("walk.webm 1:10-1:01")


def test_a_viewer_gets_the_file_and_the_moment(
    opened: OpenStudy, clock: FakeClock, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    clip, told = tmp_path / "-walk.webm", tmp_path / "told"
    clip.write_bytes(b"a clip")
    viewer = tmp_path / "bin" / "mpv"
    viewer.parent.mkdir()
    viewer.write_text(f'#!/bin/sh\nprintf "%s\\n" "$@" > {told}.part && mv {told}.part {told}\n')
    viewer.chmod(0o700)
    monkeypatch.setenv("PATH", f"{viewer.parent}:/usr/bin:/bin")
    found = a.read_attachment(a.NamedFile(clip, 61.0, 70.0), opened.beside, copy=False)
    assert a.show(found, opened.beside) == "from 01:01"
    while not told.exists():
        os.sched_yield()
    assert told.read_text().splitlines()[1:] == ["--start=61.000", "--end=70.000", "--", str(clip)]
    clip.unlink()
    with pytest.raises(OutsideError, match="any more"):
        a.show(found, opened.beside)


def test_where_no_viewer_is_the_place_of_the_file_is_said(
    opened: OpenStudy, menu: Path, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    monkeypatch.setenv("PATH", str(tmp_path / "nothing"))
    found = a.read_attachment(a.NamedFile(menu), opened.beside, copy=True)
    with pytest.raises(OutsideError, match="no viewer") as said:
        a.show(found, opened.beside)
    assert "It lies at" in said.value.hint


def test_a_step_and_a_mark_are_named_from_the_command_line(opened: OpenStudy, clock: FakeClock, menu: Path) -> None:
    number = with_file(opened, clock, menu, copy=False)
    found = a.read_attachment(a.NamedFile(menu), opened.beside, copy=False)
    a.attach_to(opened, number, "step 1", found)
    assert [shown.words for shown in a.attachments_of(opened, number)] == ["snag cut off", "the menu"]
    with pytest.raises(InputError, match="no step 7"):
        a.attach_to(opened, number, "7", found)


def test_a_disk_that_refuses_a_copy_attaches_nothing(opened: OpenStudy, menu: Path) -> None:
    a.folder_beside(opened.beside).write_text("a file where the folder should be")
    with pytest.raises((OutsideError, NotSaved), match="cannot be copied"):
        a.read_attachment(a.NamedFile(menu), opened.beside, copy=True)


def test_a_sound_copy_of_a_study_has_copies_of_its_own(
    opened: OpenStudy, clock: FakeClock, menu: Path, tmp_path: Path
) -> None:
    with_file(opened, clock, menu, copy=True)
    path = opened.beside
    opened.close()
    assert sound_copy(path, tmp_path / "sound.fresh") == []
    assert [each.read_bytes() for each in a.folder_beside(tmp_path / "sound.fresh").iterdir()] == [b"a picture"]
    assert not any(check.problems for check in check_file(tmp_path / "sound.fresh"))


@pytest.mark.parametrize("copy", [True, False])
def test_a_chair_that_is_carried_over_brings_the_files_of_its_records(
    opened: OpenStudy, menu: Path, tmp_path: Path, copy: bool
) -> None:
    claim = put_record(opened, "A", "claim", promised="a menu for everybody")
    a.attach_to_record(opened, "A", "claim", claim.id, a.read_attachment(a.NamedFile(menu), opened.beside, copy=copy))
    path = tmp_path / "elsewhere" / "next.fresh"
    path.parent.mkdir()
    create_study(path, small_study())
    later = open_study(path)
    chair, _ = carry_over(later, opened.beside, "A")
    ledger = later.known_chairs.of(chair.letter)
    (attached,) = ledger.attachments
    assert [held.record.id for held in ledger.held("claim")] == [attached.id]
    assert a.path_of(attached.attachment, path).read_bytes() == b"a picture"
    later.close()
    assert not any(check.problems for check in check_file(path))
