"""A walk by keyboard: steps by typing, in any order; lines first, kinds afterwards; a list by single keys."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from textual.pilot import Pilot
from textual.widgets import Input

from fresh_chair.core.clock import SECOND
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.walk import StepEnding, Walk
from fresh_chair.services.file.new_walk import new_walk_demo
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.sit.walk.screen import Walking
from fresh_chair.tui.widgets.asking import WordLine
from tests.builders import FakeClock
from tests.tui.conftest import SIZES, WIDE, picture, shows, until


@pytest.fixture
def clock() -> FakeClock:
    return FakeClock()


@pytest.fixture
def opened(small_path: Path, clock: FakeClock) -> Iterator[OpenStudy]:
    study = open_study(small_path)
    study.clock = clock
    yield study
    study.close()


async def typed(pilot: Pilot[None], words: str) -> None:
    """Type a line and enter it; letters one by one only where the line is not there yet."""
    line = pilot.app.screen.query_one(WordLine)
    if line.asking:
        line.query_one(Input).insert_text_at_cursor(words)
    else:
        for letter in words:
            await pilot.press("space" if letter == " " else "vertical_line" if letter == "|" else letter)
    await pilot.press("enter")


async def walking(app: FreshChair, pilot: Pilot[None]) -> LiveSitting:
    await until(pilot, shows(app, "seats"))
    await pilot.press("v")
    await until(pilot, lambda: isinstance(app.screen, Walking) and app.session.in_hand is not None)
    await until(pilot, shows(app, "opens a step"))
    live = app.session.in_hand
    assert live is not None
    return live


def walk(live: LiveSitting) -> Walk:
    assert live.state.walk is not None
    return live.state.walk


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_a_walk_from_the_board_to_its_end(opened: OpenStudy, clock: FakeClock, size: tuple[int, int]) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=size) as pilot:
        live = await walking(app, pilot)
        await pilot.press("enter")
        await typed(pilot, "the archives")
        clock.pass_seconds(30)
        await pilot.press("enter")
        await typed(pilot, "the printer")
        clock.pass_seconds(12)
        await pilot.press("c", "h")
        await typed(pilot, "")
        # The one that was set aside is come back to without a question: it is the only one.
        await pilot.press("b")
        clock.pass_seconds(5)
        await until(pilot, shows(app, "the archives", "completed with help"))
        steps = walk(live).steps
        assert [step.hands_ns() // SECOND for step in steps] == [30, 12]
        assert [step.ending for step in steps] == [None, StepEnding.HELPED]
        assert walk(live).hand == 1
        await pilot.press("f", "y")
        await until(pilot, lambda: live.state.phase is Phase.ENDED)
        await until(pilot, shows(app, "The walk is over"))


async def test_a_card_is_opened_by_its_title_and_an_open_step_taken_up_by_its_own(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await walking(app, pilot)
        await pilot.press("enter")
        title = opened.study.cards[1].title
        await typed(pilot, title.lower())
        await pilot.press("enter")
        await typed(pilot, "in passing")
        await pilot.press("enter")
        await typed(pilot, title)
        steps = walk(live).steps
        assert [(step.title, step.card) for step in steps] == [(title, opened.study.cards[1].id), ("in passing", "")]
        assert walk(live).hand == 1


async def test_lines_come_first_and_their_kinds_in_a_row(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await walking(app, pilot)
        for words in ("it flickers", "so quiet"):
            await pilot.press("space")
            await typed(pilot, words)
        await pilot.press("m", "s", "d")
        assert [(each.words, each.kind) for each in live.state.remarks.values()] == [
            ("it flickers", "snag"),
            ("so quiet", "delight"),
        ]
        await until(pilot, shows(app, "snag: it flickers", "delight: so quiet"))


async def test_a_list_is_filled_by_single_keys(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await walking(app, pilot)
        await pilot.press("enter")
        await typed(pilot, "sound")
        await pilot.press("l")
        await typed(pilot, "ogg | mp3 | ogg")
        await pilot.press("w", "f")
        await typed(pilot, "no codec")
        items = walk(live).steps[0].items
        assert [(item.name, item.result, item.words) for item in items] == [
            ("ogg", "works", ""),
            ("mp3", "fails", "no codec"),
        ]


async def test_how_a_thing_is_known_and_a_time_that_is_said(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await walking(app, pilot)
        await pilot.press("enter")
        await typed(pilot, "the reviews")
        await pilot.press("v", "5")
        await pilot.press("t")
        await typed(pilot, "2:30")
        step = walk(live).steps[0]
        assert (step.evidence, step.said_seconds) == ("read about", 150.0)
        await pilot.press("n")
        await typed(pilot, "they like it")
        await pilot.press("v", "6")
        assert [each.evidence for each in live.state.remarks.values()] == ["heard"]
        await until(pilot, shows(app, "note (heard): they like it", "said by the reviewer"))


async def test_an_ending_that_needs_a_reason_keeps_what_was_typed(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await walking(app, pilot)
        await pilot.press("enter")
        await typed(pilot, "a share")
        await pilot.press("c", "b")
        await typed(pilot, "")
        await until(pilot, shows(app, "needs a reason"))
        assert app.screen.query_one(WordLine).asking
        await typed(pilot, "the other one slept")
        assert walk(live).steps[0].reason == "the other one slept"


async def test_the_demo_is_looked_back_at_as_a_walk(tmp_path: Path) -> None:
    new_walk_demo(tmp_path / "w.fresh")
    study = open_study(tmp_path / "w.fresh")
    app = FreshChair(study)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "R1"))
        # The board shows the newest walk of a cell: this one is the first.
        app.session.looking_at = 1
        await pilot.press("3")
        await until(pilot, lambda: isinstance(app.screen, Walking))
        await until(pilot, shows(app, "The walk is over", "without a kind", "whom it is for"))
        assert "not known" not in picture(app)
        await pilot.press("1")
        await until(pilot, shows(app, "Saltmarsh 9"))
    study.close()
