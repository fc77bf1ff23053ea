"""Anything found by typing; an empty Sit; keys that do nothing; leaving while a document is written."""

from collections.abc import Iterator
from pathlib import Path
from threading import Event

import pytest
from textual.widgets import Input

from fresh_chair.core.errors import OutsideError
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.report.writing import WritingJob
from fresh_chair.services.study.open_study import OpenStudy, create_study, open_study
from fresh_chair.services.system.files import Written, make_folder
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.base.sheet import SheetScreen
from fresh_chair.tui.plan.screen import Plan
from fresh_chair.tui.sit.screen import Sit
from fresh_chair.tui.widgets.asking import ChoiceLine, WordLine
from tests.builders import small_study
from tests.tui.conftest import SIZES, WIDE, picture, shows, until
from tests.tui.sit.test_sitting import seated


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_a_card_a_person_and_an_action_are_found_by_typing_and_opened(
    demo: OpenStudy, size: tuple[int, int]
) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=size) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Plan))
        await pilot.press("ctrl+p", *"dark screen")
        await until(pilot, shows(app, "task: Dark screen", "1 t"))
        assert "green sign" not in picture(app), "whose letters only lie scattered"
        await pilot.press("enter")
        await until(pilot, lambda: isinstance(app.screen, SheetScreen) and app.session.task == "dark-screen")
        await pilot.press("escape")
        await until(pilot, lambda: isinstance(app.screen, Plan))
        await pilot.press("ctrl+p", *"person: p05")
        await until(pilot, shows(app, "person: P05"))
        await pilot.press("enter")
        await until(
            pilot,
            lambda: isinstance(app.screen, SheetScreen) and app.screen.sheet_name == "person" and "P05" in picture(app),
        )


async def test_nothing_is_found_by_typing_while_a_question_is_open(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Plan))
        await pilot.press("a")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press("ctrl+p")
        assert isinstance(app.screen, Plan)


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_an_empty_sit_says_who_is_next_and_seats_them_with_one_key(
    demo: OpenStudy, size: tuple[int, int]
) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=size) as pilot:
        await pilot.press("3")
        await until(pilot, shows(app, "Nobody is sitting", "P04", "Saltmarsh 9"))
        await pilot.press("enter")
        await until(pilot, lambda: app.session.live is not None and app.session.live.seat.participant == "P04")
        assert isinstance(app.screen, Sit)


async def test_a_beginning_is_taken_back_with_two_keys_and_why(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await pilot.press("3")
        await until(pilot, shows(app, "Nobody is sitting"))
        await pilot.press("enter")
        await until(pilot, lambda: app.session.live is not None)
        await pilot.press("backspace")
        await until(pilot, shows(app, "nobody should have sat down"))
        await pilot.press("t")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        app.screen.query_one(WordLine).query_one(Input).value = "a slip of the hand"
        await pilot.press("enter")
        await until(pilot, lambda: demo.phase(22) is Phase.EMPTY and app.session.live is None)


async def test_completed_unaided_after_help_is_asked_about(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        await pilot.press("h", "enter")
        await until(pilot, shows(app, "how did it end?"))
        await pilot.press("u")
        await until(pilot, shows(app, "1 help counted in it"))
        assert live.state.attempts[0].outcome is None


async def test_a_key_that_does_nothing_says_so_once_and_one_that_works_never(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Plan))
        await pilot.press("a")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        assert "does nothing" not in picture(app)
        await pilot.press("escape")
        await pilot.press("u")
        await until(pilot, shows(app, "u does nothing here now"))
        app.screen.query_one("#notice").display = False
        await pilot.press("u")
        await pilot.pause(0.05)
        assert "u does nothing" not in picture(app), "it was said once"
        await pilot.press("x")
        await until(pilot, shows(app, "x does nothing here now"))


@pytest.mark.parametrize("size", [(142, 38), (200, 50), (80, 24)], ids=["142", "200", "80"])
async def test_seven_chairs_stand_under_their_heads_at_every_width(tmp_path: Path, size: tuple[int, int]) -> None:
    path = tmp_path / "seven.fresh"
    create_study(path, small_study(people=9, chairs=7, cards=8))
    opened = open_study(path)
    app = FreshChair(opened)
    async with app.run_test(size=size) as pilot:
        await until(pilot, shows(app, "P01", "A ChairA"))
        for letter in "BCDEFG":
            await pilot.press("right")
            await until(pilot, shows(app, f"{letter} Chair{letter}"))
        await pilot.press(*["down"] * 8)
        await until(pilot, shows(app, "P09", "G ChairG"))
        head = next(line for line in picture(app).split("\n") if "G ChairG" in line)
        assert app.session.cell == ("P09", "G")
        number = next(seat.number for seat in opened.study.seats if (seat.participant, seat.chair) == ("P09", "G"))
        column = head.index("G ChairG")
        assert any("P09" in line and line[column:].startswith(f"{number} ") for line in picture(app).split("\n"))
    opened.close()


@pytest.mark.parametrize(("key", "whole"), [("w", True), ("l", False)], ids=["finished", "given up"])
async def test_leaving_while_a_document_is_written_asks_and_leaves_it_whole_or_not_at_all(
    demo: OpenStudy, tmp_path: Path, key: str, *, whole: bool
) -> None:
    go = Event()

    def three(folder: Path) -> Iterator[Written]:
        make_folder(folder)
        for name in ("a", "b"):
            (folder / name).write_text(name)
            yield Written(folder / name, "a part")
            go.wait(20)

    app = FreshChair(demo)
    out = tmp_path / "document"
    async with app.run_test(size=WIDE) as pilot:
        await pilot.press("6")
        await until(pilot, shows(app, "For those who decide"))
        app.session.writing = WritingJob(out, three)
        app.session.writing.start()
        await until(pilot, lambda: app.session.writing is not None and bool(app.session.writing.written))
        await pilot.press("ctrl+q")
        await until(pilot, shows(app, "A document is being written"))
        await pilot.press("escape", "ctrl+q")
        await until(pilot, shows(app, "A document is being written"))
        await pilot.press(key)
        go.set()
        await until(pilot, lambda: app._exit)
    assert sorted(path.name for path in out.glob("*")) == (["a", "b"] if whole else [])
    assert list(tmp_path.glob(".*.part")) == []


async def test_whoever_waits_for_a_document_that_cannot_be_written_is_told_and_stays(
    demo: OpenStudy, tmp_path: Path
) -> None:
    go = Event()

    def refused(folder: Path) -> Iterator[Written]:
        go.wait(20)
        raise OutsideError("The folder cannot be written.", "Choose another one.")
        yield Written(folder, "nothing")

    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Plan))
        app.session.writing = WritingJob(tmp_path / "document", refused)
        app.session.writing.start()
        await pilot.press("ctrl+q")
        await until(pilot, shows(app, "A document is being written"))
        await pilot.press("w")
        go.set()
        await until(pilot, shows(app, "The folder cannot be written."))
        assert not app._exit


async def test_a_field_of_several_things_opens_as_a_form(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Plan))
        await pilot.press("s")
        await until(pilot, lambda: isinstance(app.screen, SheetScreen) and app.screen.sheet_name == "study")
        assert isinstance(app.screen, SheetScreen)
        app.screen.open_sheet("parts", ("sheet.thresholds", "thresholds"))
        await until(pilot, shows(app, "thresholds", "measure", "value"))
        await pilot.press("a")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        app.screen.query_one(WordLine).query_one(Input).value = "so that most manage"
        await pilot.press("enter")
        await until(pilot, lambda: demo.study.sheet.thresholds[-1].why == "so that most manage")
        count = len(demo.study.sheet.thresholds)
        await pilot.press("x")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press("n")
        assert len(demo.study.sheet.thresholds) == count
        await pilot.press("escape")
        await until(pilot, lambda: isinstance(app.screen, SheetScreen) and app.screen.sheet_name == "study")
