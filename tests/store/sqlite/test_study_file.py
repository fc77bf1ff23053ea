"""The study on disk: one file, recognised, written by one program, never overwritten."""

import sqlite3
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from fresh_chair.core.codec import Unreadable
from fresh_chair.core.errors import FileProblem, NotSaved, Refused
from fresh_chair.core.sitting import journal as j
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.plan.people import add_person
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, create_study, open_study
from fresh_chair.store import spool as spool
from fresh_chair.store.sqlite.form.schema import APPLICATION_ID, HEAD, REVISIONS
from fresh_chair.store.sqlite.opening import create_file, open_file
from fresh_chair.store.sqlite.tables import FileTables
from fresh_chair.store.tables.store import TableStore
from tests.builders import FakeClock, file_of, small_study
from tests.damage import damaged
from tests.disks import fill, mounted


def begin(opened: OpenStudy) -> LiveSitting:
    live = LiveSitting(opened, opened.study.seats[0])
    live.begin(opened.clock.now())
    live.log(j.AttemptStarted(live.seat.cards[0]), opened.clock.now())
    return live


def test_what_goes_in_comes_out(small_path: Path) -> None:
    with open_file(small_path) as file:
        assert TableStore(FileTables(file)).plans.read() == small_study()


def test_an_entry_is_on_the_disk_when_the_call_returns(opened: OpenStudy, small_path: Path) -> None:
    live = begin(opened)
    # Another process sees it without this one closing or flushing anything.
    program = (
        f"import sqlite3; c = sqlite3.connect({str(small_path)!r});"
        "print(c.execute('select count(*) from entry').fetchone()[0])"
    )
    counted = subprocess.run(
        [sys.executable, "-c", program],
        capture_output=True,
        text=True,
        check=True,
    )
    assert int(counted.stdout) == len(live.entries) == 3


def test_every_writing_connection_waits_for_the_disk(opened: OpenStudy) -> None:
    wanted = {"journal_mode": "wal", "synchronous": 2, "application_id": APPLICATION_ID, "foreign_keys": 1}
    writer = file_of(opened).writer()
    assert {name: writer.execute(f"PRAGMA {name}").fetchone()[0] for name in wanted} == wanted


@pytest.mark.parametrize("verb", ["UPDATE entry SET author = 'x'", "DELETE FROM entry"])
def test_the_file_itself_refuses_to_change_an_entry(opened: OpenStudy, small_path: Path, verb: str) -> None:
    begin(opened)
    with sqlite3.connect(small_path) as connection, pytest.raises(sqlite3.IntegrityError, match="only ever appended"):
        connection.execute(verb)


def test_a_second_process_opens_for_reading_and_sees_what_is_written(opened: OpenStudy, small_path: Path) -> None:
    begin(opened)
    program = (
        "from pathlib import Path; from fresh_chair.services.study.open_study import open_study;"
        f"d = open_study(Path({str(small_path)!r})); print(d.writable, sum(map(len, d.entries.values())))"
    )
    seen = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=True)
    assert seen.stdout.split() == ["False", "3"]


def test_a_killed_writer_locks_nobody_out(small_path: Path) -> None:
    program = (
        "import os, signal; from pathlib import Path; from fresh_chair.services.study.open_study import open_study;"
        f"d = open_study(Path({str(small_path)!r})); assert d.writable; os.kill(os.getpid(), signal.SIGKILL)"
    )
    assert subprocess.run([sys.executable, "-c", program], check=False).returncode == -9
    again = open_study(small_path)
    assert again.writable
    again.close()


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "is not a study file"),
        (b"hello, I am a letter about a boiler\n" * 20, "is not a study file"),
        (b"SQLite format 3\x00" + b"\x00" * 20, "breaks off after 36 bytes"),
    ],
    ids=["empty", "text", "head only"],
)
def test_a_file_that_is_no_study_is_left_as_it_was(tmp_path: Path, content: bytes, said: str) -> None:
    path = tmp_path / "wrong.fresh"
    path.write_bytes(content)
    with pytest.raises(FileProblem, match=said):
        open_study(path)
    assert path.read_bytes() == content


def test_another_programs_database_is_recognised_as_none_of_ours(tmp_path: Path) -> None:
    path = tmp_path / "other.db"
    with sqlite3.connect(path) as connection:
        connection.execute("CREATE TABLE study (id)")
    before = path.read_bytes()
    with pytest.raises(FileProblem, match="a database, but not a study"):
        open_study(path)
    assert path.read_bytes() == before


@pytest.mark.parametrize("share", [0.2, 0.5, 0.97])
def test_a_truncated_file_is_said_to_be_damaged(demo_path: Path, share: float) -> None:
    whole = demo_path.read_bytes()
    demo_path.write_bytes(whole[: int(len(whole) * share)])
    with pytest.raises(FileProblem, match="damaged"):
        open_study(demo_path)


def test_a_file_from_a_newer_version_is_left_alone(small_path: Path) -> None:
    with sqlite3.connect(small_path) as connection:
        connection.execute("UPDATE alembic_version SET version_num = 's9999'")
    before = small_path.read_bytes()
    with pytest.raises(FileProblem, match="newer Fresh Chair"):
        open_study(small_path)
    assert small_path.read_bytes() == before


def test_a_missing_file_is_said_to_be_missing(tmp_path: Path) -> None:
    with pytest.raises(FileProblem, match=r"There is no file nowhere\.fresh"):
        open_study(tmp_path / "nowhere.fresh")


def test_nothing_is_ever_created_over_something(tmp_path: Path) -> None:
    path = tmp_path / "letter.txt"
    path.write_text("dear boiler")
    with pytest.raises(FileProblem, match=r"something at letter\.txt already"):
        create_study(path, small_study())
    assert path.read_text() == "dear boiler"


def test_a_study_that_cannot_be_filled_leaves_no_half_of_itself(tmp_path: Path) -> None:
    def fail(_: object) -> None:
        raise NotSaved("the disk went away")

    with pytest.raises(NotSaved):
        create_file(tmp_path / "new.fresh", fail)
    assert list(tmp_path.glob("*fresh*")) + list(tmp_path.glob(".*fresh*")) == []


@pytest.fixture
def small_disk(tmp_path: Path) -> Iterator[Path]:
    """A file system of one megabyte."""
    yield from mounted(tmp_path / "disk", 1)


@pytest.fixture
def larger_disk(tmp_path: Path) -> Iterator[Path]:
    """One that holds a study together with the longest write-ahead log that SQLite leaves."""
    yield from mounted(tmp_path / "disk", 12)


def test_a_study_on_a_read_only_disk_is_opened_for_reading(small_disk: Path, demo_path: Path) -> None:
    path = small_disk / "demo.fresh"
    path.write_bytes(demo_path.read_bytes())
    subprocess.run(["mount", "-o", "remount,ro", small_disk], check=True)
    opened = open_study(path)
    assert not opened.writable
    assert len(opened.entries) == 21
    with pytest.raises(Refused, match="reading only"):
        LiveSitting(opened, opened.to_run()[0])
    with pytest.raises(Refused, match="reading only"):
        add_person(opened, "P09")
    opened.close()


def test_on_a_full_disk_a_change_of_the_plan_is_refused_in_words_and_nothing_is_changed(small_disk: Path) -> None:
    path = small_disk / "small.fresh"
    create_study(path, small_study())
    opened = open_study(path)
    opened.clock = FakeClock()
    set_field(opened, "chair.A.kernel", "6.12")
    fill(small_disk / "filler")
    before = opened.study

    def change_until_refused() -> None:
        nonlocal before
        for number in range(200):
            before = opened.study
            set_field(opened, "study.question", f"{number} " + "words " * 600)

    with pytest.raises(NotSaved, match="full"):
        change_until_refused()
    assert opened.study == before
    opened.close()
    (small_disk / "filler").unlink()
    again = open_study(path)
    assert again.study == before
    again.close()


def test_on_a_full_disk_without_a_second_place_a_mark_is_refused_and_nothing_shown_is_lost(
    small_disk: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(spool, "places", list)
    path = small_disk / "small.fresh"
    create_study(path, small_study())
    opened = open_study(path)
    opened.clock = FakeClock()
    live = begin(opened)
    filler = small_disk / "filler"
    fill(filler)

    def log_until_refused() -> None:
        for _ in range(200):
            live.log(j.SnagSeen("words " * 100), opened.clock.now())

    with pytest.raises(NotSaved, match="full"):
        log_until_refused()
    shown = [entry.id for entry in live.entries]
    filler.unlink()
    live.log(j.Helped(), opened.clock.now())
    opened.close()
    again = open_study(path)
    assert [entry.id for entry in again.entries[live.seat.number]][:-1] == shown
    again.close()


def test_the_newest_revision_is_the_one_alembic_ends_at() -> None:
    from alembic.config import Config
    from alembic.script import ScriptDirectory

    import fresh_chair.store as store

    config = Config()
    config.set_main_option("script_location", str(Path(store.__file__).parent / "migrations"))
    script = ScriptDirectory.from_config(config)
    assert script.get_current_head() == HEAD
    assert {revision.revision for revision in script.walk_revisions()} == set(REVISIONS)


def test_marks_left_over_from_a_file_that_is_gone_are_never_taken_for_a_new_one_s(tmp_path: Path) -> None:
    path = tmp_path / "study.fresh"
    leftover = tmp_path / "study.fresh-wal"
    leftover.write_bytes(b"what another study wrote last")
    with pytest.raises(FileProblem, match="left over from another study"):
        create_study(path, small_study())
    assert not path.exists()
    assert leftover.read_bytes() == b"what another study wrote last"


def test_an_entry_about_a_chair_that_cannot_be_read_keeps_nothing_else_from_opening(demo_path: Path) -> None:
    damaged(demo_path, """UPDATE chair_entry SET body = '{"kind": "dream"}' WHERE number = 7""")
    opened = open_study(demo_path)
    unreadable = opened.known_chairs.entries()[6].content
    opened.close()
    assert isinstance(unreadable, Unreadable)
    assert unreadable.why == "Chairs, entry 7 cannot be read: this program knows no “dream”."
    problems = " ".join(problem for check in check_file(demo_path) for problem in check.problems)
    assert unreadable.why in problems
