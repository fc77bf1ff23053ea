"""While nothing happens nothing is painted whole: on the board, before the first card, under a running clock."""

import asyncio
from typing import Any

import pytest
from textual._compositor import Compositor

from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.sit.screen import Sit
from tests.tui.conftest import WIDE, shows, typed, until
from tests.tui.sit.test_sitting import seated

pytestmark = pytest.mark.painted

# Five seconds over three states; there is no condition to wait for but the time itself.
_STILL_SECONDS = 5 / 3


async def _painted_whole(monkeypatch: pytest.MonkeyPatch) -> int:
    """How often the whole screen is painted while nothing happens."""
    count = 0
    painted = Compositor.render_full_update

    def counted(self: Compositor, *arguments: Any, **named: Any) -> Any:
        nonlocal count
        count += 1
        return painted(self, *arguments, **named)

    with monkeypatch.context() as patched:
        patched.setattr(Compositor, "render_full_update", counted)
        await asyncio.sleep(_STILL_SECONDS)
    return count


async def test_nothing_is_painted_whole_while_nothing_happens(
    opened: OpenStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "seats this person", "is the plan ready?"))
        await pilot.pause(0.3)
        assert await _painted_whole(monkeypatch) == 0
        await typed(app, "enter")
        await until(pilot, lambda: isinstance(app.screen, Sit))
        await pilot.pause(0.5)
        assert await _painted_whole(monkeypatch) == 0


async def test_a_running_clock_paints_its_digits_alone(opened: OpenStudy, monkeypatch: pytest.MonkeyPatch) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await seated(app, pilot)
        await pilot.pause(0.5)
        assert await _painted_whole(monkeypatch) == 0
