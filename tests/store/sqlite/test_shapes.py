"""Only what the migrations make is accepted, and each is made anew here to be held against what is noted of it."""

import sqlite3
from contextlib import closing
from pathlib import Path

import pytest

from fresh_chair.core.errors import FileProblem
from fresh_chair.services.file.file_check import check_file, sound_copy
from fresh_chair.services.study.open_study import open_study
from fresh_chair.store.sqlite.form.schema import HEAD, REVISIONS, migrate
from fresh_chair.store.sqlite.form.shapes import SHAPES, shape_of
from fresh_chair.store.sqlite.study_file import connect_writer
from tests.damage import damaged, of_sitting


def made(revision: str, path: Path) -> None:
    """An empty file of a revision."""
    with closing(connect_writer(f"file:{path}?mode=rwc", write=True)) as writer:
        migrate(writer, revision)


@pytest.mark.parametrize("revision", REVISIONS)
def test_what_is_noted_of_a_revision_is_what_its_migrations_make(revision: str, tmp_path: Path) -> None:
    made(revision, tmp_path / "file")
    with closing(sqlite3.connect(tmp_path / "file")) as rows:
        found = {
            f"{kind} {name}": shape_of(table, sql)
            for kind, name, table, sql in rows.execute("SELECT type, name, tbl_name, sql FROM sqlite_master")
            if sql is not None or kind != "index"
        }
    assert SHAPES[revision] == found, f"store/sqlite/shapes.py, {revision}: {found}"


@pytest.mark.parametrize(
    "change",
    [
        ("DROP TRIGGER entry_no_update",),
        ("ALTER TABLE entry RENAME TO other", "CREATE VIEW entry AS SELECT * FROM other"),
        ("CREATE TRIGGER gone AFTER INSERT ON entry BEGIN DELETE FROM entry WHERE id = NEW.id; END",),
        (
            "DROP TABLE pulse",
            "CREATE VIEW pulse AS WITH RECURSIVE n(x) AS (SELECT 1 UNION ALL SELECT x + 1 FROM n) SELECT x FROM n",
        ),
        ("CREATE INDEX mine ON entry (kind)",),
        ("CREATE TABLE mine (x)",),
    ],
)
def test_anything_that_is_not_made_as_ours_is_refused_with_its_name(demo_path: Path, change: tuple[str, ...]) -> None:
    with closing(sqlite3.connect(demo_path)) as rows, rows:
        for statement in change:
            rows.execute(statement)
    before = demo_path.read_bytes()
    for write in (True, False):
        with pytest.raises(FileProblem, match="not made as Fresh Chair makes a study"):
            open_study(demo_path, write=write)
    with pytest.raises(FileProblem, match="not made as Fresh Chair makes a study"):
        check_file(demo_path)
    assert demo_path.read_bytes() == before


def test_a_dropped_trigger_is_put_right_in_a_sound_copy(demo_path: Path, tmp_path: Path) -> None:
    with closing(sqlite3.connect(demo_path)) as rows, rows:
        rows.execute("DROP TRIGGER entry_no_update")
    said = sound_copy(demo_path, tmp_path / "copy.fresh")
    assert said == ["trigger entry_no_update is missing; the copy has ours"]
    assert not any(check.problems for check in check_file(tmp_path / "copy.fresh"))


def test_a_sound_copy_has_all_but_what_cannot_be_read_and_says_what_that_was(demo_path: Path, tmp_path: Path) -> None:
    damaged(
        demo_path,
        f"""UPDATE entry SET body = '{{"kind": "snag", "words": 5}}' WHERE {of_sitting(1)} AND kind = 'snag'""",
        """UPDATE sort_entry SET body = '[' WHERE kind = 'finding_opened' AND number = 1""",
        """UPDATE chair_entry SET body = '{}' WHERE number = 3""",
    )
    opened = open_study(demo_path)
    left = sum(len(sitting.left_out) for sitting in opened.sittings.values()) + len(opened.findings.left_out) + 1
    total = sum(map(len, opened.entries.values()))
    gone = sum(len(sitting.left_out) for sitting in opened.sittings.values())
    opened.close()
    problems = [problem for check in check_file(demo_path) for problem in check.problems]
    said = sound_copy(demo_path, tmp_path / "copy.fresh")
    assert len(said) == left
    assert set(said) <= set(problems)
    copy = open_study(tmp_path / "copy.fresh")
    assert sum(map(len, copy.entries.values())) == total - gone
    assert not any(sitting.left_out for sitting in copy.sittings.values())
    copy.close()
    assert not [
        problem
        for check in check_file(tmp_path / "copy.fresh")
        for problem in check.problems
        if "a finding stands on a mark" not in problem
    ]


def test_a_copy_from_before_an_upgrade_is_kept_until_it_was_closed_cleanly(tmp_path: Path) -> None:
    path = tmp_path / "old.fresh"
    made("s0002", path)
    with closing(sqlite3.connect(path)) as rows, rows:
        rows.execute("INSERT INTO study VALUES ('id', 'An old study', '', 0, 1, 1, '{}')")
    copy = tmp_path / f".old.fresh.before-{HEAD}"
    opened = open_study(path)
    assert opened.study.title == "An old study"
    with closing(sqlite3.connect(copy)) as rows:
        assert rows.execute("SELECT version_num FROM alembic_version").fetchone() == ("s0002",)
    assert copy.stat().st_mode & 0o777 == 0o600
    opened.close(clean=False)
    assert copy.exists()
    open_study(path).close()
    assert not copy.exists()
