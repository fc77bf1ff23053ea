"""Whatever keys are pressed, in whatever order, nothing breaks and the file stays whole."""

from pathlib import Path
from random import Random

import pytest

from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.file.new_study import new_study
from fresh_chair.services.study.open_study import open_study
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.plan.screen import RecordingRequested
from fresh_chair.tui.sit.screen import Sit
from tests.tui.conftest import SIZES, until

pytestmark = pytest.mark.long

_OTHERS = ["space", "plus", "question_mark", "tab", "ctrl+t", "pageup", "home", "minus", "comma", "full_stop", "slash"]
_KEYS = [*"stcpohbmlwanuydegrxifzvkqj0123456", *_OTHERS, *["enter"] * 8, *["escape"] * 5]
_KEYS += ["up", "down", "left", "right"] * 3


@pytest.mark.parametrize("seed", [2])
async def test_any_keys_in_any_order_leave_a_whole_file(
    seed: int, demo_path: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    monkeypatch.setenv("EDITOR", "true")
    dice = Random(seed)
    path = demo_path
    if seed == 3:
        path = tmp_path / "empty.fresh"
        new_study(path)
    opened = open_study(path)
    app = FreshChair(opened)
    async with app.run_test(size=SIZES[seed % 2]) as pilot:
        for _ in range(80):
            await pilot.press(dice.choice(_KEYS))
    entries = {number: list(listed) for number, listed in opened.entries.items()}
    opened.close()
    assert [problem for check in check_file(path) for problem in check.problems] == []
    again = open_study(path)
    assert again.study == opened.study
    assert again.entries == entries
    again.close()


@pytest.mark.parametrize("seed", [4])
async def test_any_keys_at_a_recording_leave_a_whole_file(seed: int, demo_path: Path) -> None:
    dice = Random(seed)
    opened = open_study(demo_path)
    app = FreshChair(opened)
    number = min(seat.number for seat in opened.to_run())
    keys = [key for key in _KEYS if key not in "0123456"] + ["backspace", "1", "3", "u", "i", "i"]
    async with app.run_test(size=SIZES[seed % 2]) as pilot:
        app.post_message(RecordingRequested(number, "a.webm 0:30", "2026-11-20T10:00"))
        await until(pilot, lambda: isinstance(app.screen, Sit))
        for _ in range(100):
            await pilot.press(dice.choice(keys))
    assert len(opened.entries[number]) > 3
    opened.close()
    assert [problem for check in check_file(demo_path) for problem in check.problems] == []
