"""What we write is its owner's alone, and what is followed is a file of ours."""

import stat
from pathlib import Path

import pytest

from fresh_chair.services.report.outputs import write_export
from fresh_chair.services.report.reports import write_report
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.services.system.crash_report import report_bug
from fresh_chair.services.system.files import write_file
from fresh_chair.store.recent import RecentStudies


def mode(path: Path) -> int:
    return stat.S_IMODE(path.stat().st_mode)


def test_a_study_its_exports_and_the_recent_list_are_for_their_owner_alone(demo: OpenStudy, tmp_path: Path) -> None:
    recent = RecentStudies()
    recent.remember(demo.beside)
    for written in (*write_export(demo, tmp_path / "a" / "data"), *write_report(demo, tmp_path / "report")):
        assert mode(written.path) == 0o600, written.path
    for folder in (tmp_path / "a", tmp_path / "a" / "data", tmp_path / "report", tmp_path / "state" / "fresh-chair"):
        assert mode(folder) == 0o700, folder
    assert mode(tmp_path / "state" / "fresh-chair" / "recent.json") == 0o600


def test_what_an_earlier_version_left_open_is_mended_where_it_is_opened(demo_path: Path, tmp_path: Path) -> None:
    demo_path.chmod(0o644)
    state = tmp_path / "state" / "fresh-chair"
    state.mkdir(parents=True, mode=0o755)
    state.chmod(0o755)
    opened = open_study(demo_path, recent=RecentStudies())
    opened.close()
    assert mode(demo_path) == 0o600
    assert mode(state) == 0o700


def test_reading_changes_nobody_s_rights(demo_path: Path) -> None:
    demo_path.chmod(0o644)
    open_study(demo_path, write=False).close()
    assert mode(demo_path) == 0o644


def test_a_report_of_a_bug_follows_no_link(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    victim = tmp_path / "victim"
    victim.write_text("dear boiler")
    state = tmp_path / "state" / "fresh-chair"
    state.mkdir(parents=True)
    (state / "last-failure.txt").symlink_to(victim)
    assert report_bug(ValueError("x")) == state / "last-failure.txt"
    assert victim.read_text() == "dear boiler"
    # Where the state's own folder takes nothing, the temporary one does, under a name nobody could prepare.
    blocked = tmp_path / "blocked"
    blocked.write_text("")
    monkeypatch.setenv("XDG_STATE_HOME", str(blocked))
    shared = tmp_path / "shared"
    shared.mkdir()
    (shared / "last-failure.txt").symlink_to(victim)
    monkeypatch.setattr("tempfile.tempdir", str(shared))
    file = report_bug(ValueError("x"))
    assert file is not None
    assert file.parent == shared
    assert not file.is_symlink()
    assert victim.read_text() == "dear boiler"


def test_a_draft_that_is_a_link_is_not_written_through(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    import os

    victim = tmp_path / "victim"
    victim.write_text("dear boiler")
    (tmp_path / f".out.txt.{os.getpid()}.part").symlink_to(victim)
    with pytest.raises(Exception, match="cannot be written"):
        write_file(tmp_path / "out.txt", b"x", "a file")
    assert victim.read_text() == "dear boiler"
