"""Keys in Weigh while its figures are being computed: each waits for them, or is left by Esc."""

import threading
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest

from fresh_chair.core.errors import Refused
from fresh_chair.core.plan.study import Study
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.study.open_study import OpenStudy, create_study, open_study
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.plan.screen import Plan
from fresh_chair.tui.weigh import computing
from fresh_chair.tui.weigh.screen import Weigh
from fresh_chair.tui.weigh.sheets.verdicts import VerdictsSheet
from tests.tui.conftest import WIDE, burst, shows, until


class Late:
    """Figures that come when they are told to, or fail."""

    def __init__(self, problem: Refused | None = None) -> None:
        self.asked = threading.Event()
        self.problem = problem

    def __call__(self, *arguments: Any, **named: Any) -> Any:
        self.asked.wait(60)
        if self.problem is not None:
            raise self.problem
        return weigh(*arguments, **named)


async def test_a_sheet_asked_for_before_the_figures_are_there_opens_and_takes_what_was_typed_for_it(
    demo: OpenStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    late = Late()
    monkeypatch.setattr(computing, "weigh", late)
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        burst(app, "5", "v", "a", "1", "1")
        await until(pilot, shows(app, "as soon as the figures are there"))
        late.asked.set()
        await until(pilot, lambda: isinstance(app.screen, VerdictsSheet))
        await until(pilot, shows(app, "the verdict?"))


async def test_esc_leaves_what_waits_for_the_figures(demo: OpenStudy, monkeypatch: pytest.MonkeyPatch) -> None:
    late = Late()
    monkeypatch.setattr(computing, "weigh", late)
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        burst(app, "5", "v", "a")
        burst(app, "escape", "1", after=1.0)
        await until(pilot, lambda: isinstance(app.screen, Plan))
        late.asked.set()
        burst(app, "5")
        await until(pilot, shows(app, "Over all tasks"))
        assert isinstance(app.screen, Weigh)


async def test_figures_that_fail_take_the_keys_with_them_that_were_typed_for_a_sheet(
    demo: OpenStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    late = Late(Refused("These figures cannot be worked out.", "Try again."))
    monkeypatch.setattr(computing, "weigh", late)
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        burst(app, "5", "v", "1", "s")
        await until(pilot, shows(app, "as soon as the figures are there"))
        late.asked.set()
        await until(pilot, shows(app, "cannot be worked out"))
        assert isinstance(app.screen, Weigh)
        assert not app.screen.waits


async def test_no_key_computes_anything_where_no_task_is_planned(tmp_path: Path) -> None:
    path = tmp_path / "empty.fresh"
    create_study(path, Study(id="empty", title="Empty"))
    with closing(open_study(path)) as opened:
        app = FreshChair(opened)
        async with app.run_test(size=WIDE) as pilot:
            await pilot.press("5")
            await until(pilot, shows(app, "No task has been planned yet"))
            await pilot.press("o", "t", "i", "v", "f", "a")
            await until(pilot, shows(app, "No task has been planned yet"))
            assert isinstance(app.screen, Weigh)
            assert not app.screen.working
