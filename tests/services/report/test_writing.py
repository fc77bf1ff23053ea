"""Documents of several files: whole, or not there at all."""

import os
from collections.abc import Iterator
from pathlib import Path
from subprocess import Popen
from threading import Event

import pytest

from fresh_chair.core.errors import OutsideError
from fresh_chair.services.report import writing
from fresh_chair.services.report.writing import WritingJob, staged
from fresh_chair.services.system.files import Written, make_folder


def three(folder: Path) -> Iterator[Written]:
    make_folder(folder)
    for name in ("a.csv", "b.csv", "c.csv"):
        (folder / name).write_text(f"new {name}")
        yield Written(folder / name, "a table")


def everything_in(folder: Path) -> dict[str, str]:
    return {str(path.relative_to(folder)): path.read_text() for path in folder.rglob("*") if path.is_file()}


def test_all_files_take_their_places_together_and_what_else_lies_there_stays(tmp_path: Path) -> None:
    out = tmp_path / "out"
    make_folder(out)
    (out / "a.csv").write_text("old")
    (out / "mine.txt").write_text("mine")
    seen = []
    for written in staged(out, three):
        seen.append(written.path)
        assert (out / "a.csv").read_text() == "old"
    assert seen == [out / name for name in ("a.csv", "b.csv", "c.csv")]
    assert everything_in(tmp_path) == {
        "out/mine.txt": "mine",
        **{f"out/{name}": f"new {name}" for name in ("a.csv", "b.csv", "c.csv")},
    }


def test_given_up_in_the_middle_nothing_of_it_is_left(tmp_path: Path) -> None:
    second = Event()
    first = Event()

    def slow(folder: Path) -> Iterator[Written]:
        for number, written in enumerate(three(folder)):
            yield written
            if number == 0:
                first.set()
                second.wait(20)

    job = WritingJob(tmp_path / "out", slow)
    job.start()
    assert first.wait(20)
    job.stop()
    second.set()
    assert job.wait(20)
    assert (job.done, job.stopped) == (False, True)
    assert everything_in(tmp_path) == {}
    assert list(tmp_path.iterdir()) == []


def test_a_folder_that_cannot_be_written_is_said_and_nothing_is_left_beside_it(tmp_path: Path) -> None:
    (tmp_path / "out").write_text("a file, and no folder")
    job = WritingJob(tmp_path / "out", three)
    job.start()
    assert job.wait(20)
    assert isinstance(job.problem, OutsideError)
    assert everything_in(tmp_path) == {"out": "a file, and no folder"}


def test_a_problem_is_told_of_the_folder_that_was_named_and_before_anything_is_made(tmp_path: Path) -> None:
    (tmp_path / "out").write_text("a file, and no folder")
    begun = []

    def counted(folder: Path) -> Iterator[Written]:
        begun.append(folder)
        yield from three(folder)

    with pytest.raises(OutsideError, match="out cannot be written: there is a file of that name"):
        list(staged(tmp_path / "out", counted))
    assert begun == []

    def refused(folder: Path) -> Iterator[Written]:
        yield from three(folder)
        raise OutsideError(f"{folder}/d.csv cannot be written: no space is left.")

    with pytest.raises(OutsideError) as told:
        list(staged(tmp_path / "other", refused))
    assert told.value.title == f"{tmp_path}/other/d.csv cannot be written: no space is left."
    assert sorted(path.name for path in tmp_path.iterdir()) == ["out"]


def test_drafts_of_killed_programs_are_taken_away_and_those_of_running_ones_are_not(tmp_path: Path) -> None:
    with Popen(["sleep", "60"]) as running, Popen(["true"]) as ended:
        ended.wait(10)
        left, theirs = (tmp_path / f".out.{each.pid}.part" for each in (ended, running))
        young = tmp_path / ".out.4194304.part"
        for each in (left, theirs, young):
            each.mkdir()
            (each / "half.csv").write_text("half")
        for each in (left, theirs):
            os.utime(each, (0, 0))
        (tmp_path / ".out.notes.part").mkdir()
        # One of this machine says so, and is known at once for what it is, whatever it was to become.
        killed, runs = (tmp_path / f".other.{writing._machine()}.{each.pid}.part" for each in (ended, running))
        elsewhere = tmp_path / f".other.00000000.{ended.pid}.part"
        for each in (killed, runs, elsewhere):
            each.mkdir()
        list(staged(tmp_path / "out", three))
        running.kill()
    assert not left.exists()
    assert (theirs / "half.csv").exists()
    assert young.exists()
    assert not killed.exists()
    assert runs.exists()
    assert elsewhere.exists()
    assert (tmp_path / ".out.notes.part").exists()


def test_what_nobody_foresaw_is_handed_on_and_not_swallowed(tmp_path: Path) -> None:
    def broken(folder: Path) -> Iterator[Written]:
        yield from three(folder)
        raise ZeroDivisionError

    job = WritingJob(tmp_path / "out", broken)
    job.start()
    assert job.wait(20)
    assert isinstance(job.bug, ZeroDivisionError)
    assert list(tmp_path.iterdir()) == []
    with pytest.raises(ZeroDivisionError):
        list(staged(tmp_path / "again", broken))
