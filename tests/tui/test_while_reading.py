"""Keys on the board while the journals are still being read: each waits and says so, or is left by Esc."""

import threading
from collections.abc import Iterator
from pathlib import Path

import pytest

from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.plan.screen import Plan
from fresh_chair.tui.sit.resume import Resume
from fresh_chair.tui.sort.screen import Sort
from tests.tui.conftest import WIDE, burst, picture, shows, until
from tests.tui.sit.test_sitting import seated


class Held:
    """A study whose journals are read when they are let go."""

    def __init__(self, path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
        self.let_go = threading.Event()
        load = OpenStudy.load

        def late(opened: OpenStudy) -> None:
            self.let_go.wait(60)
            load(opened)

        monkeypatch.setattr(OpenStudy, "load", late)
        self.opened = open_study(path, later=True)


@pytest.fixture
def held(demo_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Held]:
    """The demo, still unread."""
    made = Held(demo_path, monkeypatch)
    yield made
    made.let_go.set()
    made.opened.close()


async def test_a_place_asked_for_while_the_study_is_read_says_so_and_comes_with_what_was_typed_for_it(
    held: Held,
) -> None:
    app = FreshChair(held.opened)
    async with app.run_test(size=WIDE) as pilot:
        burst(app, "4", "slash", *"boiler")
        await until(pilot, shows(app, "the study is read first"))
        assert isinstance(app.screen, Plan)
        held.let_go.set()
        await until(pilot, lambda: isinstance(app.screen, Sort))
        await until(pilot, shows(app, "boiler"))


async def test_an_esc_typed_on_belongs_to_the_line_it_was_typed_into(held: Held) -> None:
    app = FreshChair(held.opened)
    async with app.run_test(size=WIDE) as pilot:
        burst(app, "4", "slash", *"boiler", "escape", "5")
        await until(pilot, shows(app, "the study is read first"))
        held.let_go.set()
        await until(pilot, shows(app, "Over all tasks"))


async def test_esc_leaves_a_key_that_waits_for_the_study_and_arrows_do_not_wait(held: Held) -> None:
    app = FreshChair(held.opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "P01"))
        before = picture(app)
        burst(app, "up")
        await until(pilot, lambda: picture(app) != before)
        burst(app, "4", "5")
        burst(app, "escape", after=1.0)
        await until(pilot, lambda: not app.keys_waiting)
        held.let_go.set()
        await until(pilot, lambda: held.opened.loaded and "loose" in picture(app))
        assert isinstance(app.screen, Plan)


async def test_what_was_typed_before_a_sitting_that_was_cut_short_is_asked_about_answers_nothing(
    demo_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    opened = open_study(demo_path)
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await seated(app, pilot)
    opened.close()
    held = Held(demo_path, monkeypatch)
    app = FreshChair(held.opened)
    try:
        async with app.run_test(size=WIDE) as pilot:
            burst(app, "4", "enter")
            await until(pilot, shows(app, "the study is read first"))
            held.let_go.set()
            await until(pilot, lambda: isinstance(app.screen, Resume))
            await until(pilot, lambda: not app.keys_waiting)
            assert isinstance(app.screen, Resume)
            await pilot.press("escape")
            await until(pilot, shows(app, "What was typed while the study was read was not taken"))
    finally:
        held.let_go.set()
        held.opened.close()
