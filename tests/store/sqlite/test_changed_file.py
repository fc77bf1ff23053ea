"""A study file that another hand changes under a sitting: noticed before the next mark, and nothing shown is lost."""

import gc
import json
import shutil
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.sitting import journal as j
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import create_study, new_id, open_study
from fresh_chair.store.spool import leftovers
from tests.builders import small_study
from tests.cli.forked import run


def cut(study: Path) -> None:
    with study.open("r+b") as file:
        file.truncate(study.stat().st_size // 2)


def emptied(study: Path) -> None:
    with study.open("r+b") as file:
        file.truncate(0)


def garbage(study: Path) -> None:
    size = study.stat().st_size
    with study.open("r+b") as file:
        file.write(b"\xa5" * size)


def another(study: Path) -> None:
    other = study.with_name("other.fresh")
    create_study(other, replace(small_study(), id=new_id()))
    shutil.copyfile(other, study)


def without_log(study: Path) -> None:
    study.with_name(f"{study.name}-wal").unlink()


@pytest.fixture
def study(tmp_path: Path) -> Path:
    """A small study with an id that no other one has."""
    path = tmp_path / "small.fresh"
    create_study(path, replace(small_study(), id=new_id()))
    return path


HANDS: list[tuple[Callable[[Path], None], str]] = [
    (cut, "its end was cut off"),
    (emptied, "it was emptied"),
    (garbage, "other bytes were written over it"),
    (another, "another study was copied over it"),
    (without_log, "its log (-wal) was taken away"),
]


@pytest.mark.parametrize(("hand", "said"), HANDS, ids=[hand.__name__ for hand, _ in HANDS])
def test_a_file_that_is_changed_under_a_sitting_takes_no_mark_and_loses_none(
    study: Path, tmp_path: Path, hand: Callable[[Path], None], said: str
) -> None:
    backup = Path(shutil.copy(study, tmp_path / "backup.fresh"))
    opened = open_study(study)
    identity = opened.study.id
    live = LiveSitting(opened, opened.study.seats[0])
    live.begin(opened.clock.now())
    shown = [live.log(j.NoteTaken(f"before {n}"), opened.clock.now()).id for n in range(3)]
    assert opened.spool.words == ""
    hand(study)
    left = study.read_bytes()
    shown += [live.log(j.NoteTaken(f"after {n}"), opened.clock.now()).id for n in range(3)]
    assert said in opened.spool.words
    assert "All that was shown of this sitting lies in" in opened.spool.words
    with pytest.raises(FreshChairError, match="was changed by something else"):
        set_field(opened, "study.title", "another title")
    opened.close()
    del live, opened
    gc.collect()
    # Nothing was brought into it, and no log lies beside it that SQLite would bring in.
    assert study.read_bytes() == left
    assert not study.with_name(f"{study.name}-wal").exists()
    (kept,) = leftovers(identity)
    assert [entry.id for _, _, entry in kept.marks if entry.content.kind == "note"] == shown
    kept.let_go()
    # A good copy in its place takes them in.
    shutil.copyfile(backup, study)
    done = run("sitting", "list", study, 1, "--json")
    assert done.stderr == "", done.stderr
    listed = json.loads(done.stdout)
    assert [line["text"] for line in listed if line["kind"] == "note"] == []
    assert run("sitting", "strike", study, 1, 3, "--reason", "to see").returncode == 0
    listed = json.loads(run("sitting", "list", study, 1, "--json").stdout)
    assert len([line for line in listed if line["kind"] == "note"]) == len(shown)


def test_where_the_log_alone_is_gone_a_copy_holds_all_of_the_study(study: Path) -> None:
    opened = open_study(study)
    set_field(opened, "study.title", "a title of today")
    live = LiveSitting(opened, opened.study.seats[0])
    live.begin(opened.clock.now())
    without_log(study)
    live.log(j.NoteTaken("after"), opened.clock.now())
    assert "A copy of all of it is" in opened.spool.words
    copy = opened.spool.rescued
    assert copy is not None
    opened.close()
    again = open_study(copy, write=False)
    assert again.study.title == "a title of today"
    again.close()


def test_programs_of_ours_that_write_beside_are_no_other_hand(study: Path) -> None:
    opened = open_study(study)
    live = LiveSitting(opened, opened.study.seats[0])
    live.begin(opened.clock.now())
    for number in range(30):
        done = run("plan", "set", study, "study.title", f"title {number}")
        assert done.returncode == 0, done.stderr
        for _ in range(10):
            live.log(j.NoteTaken("x" * 2_000), opened.clock.now())
    opened.store.home.make_room()
    live.log(j.NoteTaken("on"), opened.clock.now())
    assert opened.spool.words == ""
    assert not opened.store.home.changed
    opened.close()
