"""The list of recent studies: a convenience that never stands in the way."""

from pathlib import Path

import pytest

from fresh_chair.store.recent import RecentStudies


def test_the_last_opened_comes_first_and_what_is_gone_is_left_out(tmp_path: Path) -> None:
    recent = RecentStudies(tmp_path / "state")
    one, other = tmp_path / "one.fresh", tmp_path / "other.fresh"
    for path in (one, other, one):
        path.touch()
        recent.remember(path)
    assert recent.addresses() == [one, other]
    one.unlink()
    assert recent.addresses() == [other]


@pytest.mark.parametrize("content", ["", "{}", "[1, null]", "nonsense", '["\\u0000"]'])
def test_a_damaged_list_is_an_empty_one(tmp_path: Path, content: str) -> None:
    (tmp_path / "recent.json").write_text(content)
    assert RecentStudies(tmp_path).addresses() == []


def test_a_list_that_cannot_be_written_stops_nobody(tmp_path: Path) -> None:
    (tmp_path / "file").touch()
    study = tmp_path / "a.fresh"
    study.touch()
    recent = RecentStudies(tmp_path / "file")
    recent.remember(study)
    assert recent.addresses() == []
