"""Set on the screen: one chair as a sheet with three bands, its sheets, and reading beside the screen."""

import asyncio
from pathlib import Path

import pytest
from textual.pilot import Pilot
from textual.widgets import Input, OptionList

from fresh_chair.demo.machines import MadeUpMachine
from fresh_chair.probe.runner import Progress
from fresh_chair.services.chair import approvals
from fresh_chair.services.chair.asking import choose_reach
from fresh_chair.services.chair.kept_answers import keep
from fresh_chair.services.chair.reader import ChairReader
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.base.sheet import SheetScreen
from fresh_chair.tui.base.sheets import SHEET_CLASSES
from fresh_chair.tui.set.screen import SHEETS, Set
from fresh_chair.tui.widgets.asking import ChoiceLine, WordLine
from tests.services.chair.test_answers import answers_of
from tests.tui.conftest import SIZES, SMALL, WIDE, picture, shows, until

# From the sheet of chair B of the demo: the key, and what then stands there.
OPENED = {
    "facts": ("e", "os-release"),
    "claims": ("c", "The dark look reaches every program"),
    "readings": ("g", "idle memory"),
    "install": ("i", "the page of progress stayed"),
    "pages": ("p", "Lanternwood learns from you"),
    "consents": ("d", "automatic login"),
    "warnings": ("w", "The wood is resting"),
    "looks": ("o", "Skylark"),
    "checks": ("v", "Dark screen"),
    "drift": ("k", "lanternwood.clock"),
}


@pytest.fixture
def home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """This machine as a chair, with a home folder of its own."""
    folder = tmp_path / "home"
    folder.mkdir()
    monkeypatch.setenv("HOME", str(folder))
    return folder


async def at_chair(pilot: Pilot[None], app: FreshChair, letter: str = "B") -> None:
    """Go to the sheet of a chair."""
    await pilot.press("2")
    await until(pilot, lambda: isinstance(app.screen, Set))
    while not (isinstance(app.screen, Set) and app.screen.letter == letter):
        await pilot.press("right")
    await until(pilot, shows(app, "who it says it is", f"{letter}  "))


async def to_sheet(pilot: Pilot[None], app: FreshChair, name: str) -> None:
    """Open one of its sheets."""
    await pilot.press(OPENED[name][0])
    await until(pilot, lambda: isinstance(app.screen, SheetScreen) and app.screen.sheet_name == name)
    await until(pilot, shows(app, OPENED[name][1]))


async def answer(pilot: Pilot[None], app: FreshChair, text: str) -> None:
    """Put this into the open line at the bottom, and send it."""
    await until(pilot, lambda: app.screen.query_one(WordLine).asking)
    app.screen.query_one(WordLine).query_one(Input).value = text
    await pilot.press("enter")


async def choose(pilot: Pilot[None], app: FreshChair, key: str) -> None:
    """Answer a choice at the bottom."""
    await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
    await pilot.press(key)


def test_every_sheet_of_set_is_looked_at() -> None:
    of_set = {name for name, (module, _) in SHEET_CLASSES.items() if module.startswith("set.")} - {"record"}
    assert of_set == set(OPENED) == {sheet_name for _, sheet_name, _, _ in SHEETS}


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_the_three_bands_of_a_chair(demo: OpenStudy, size: tuple[int, int]) -> None:
    app = FreshChair(demo, light=size == SMALL)
    async with app.run_test(size=size) as pilot:
        await at_chair(pilot, app)
        await until(pilot, shows(app, "Lanternwood", "6.15.0-3-wood", "not checked"))
        for band in ("promised, and found", "is it fresh"):
            while band not in picture(app):
                await pilot.press("down")
        await until(pilot, shows(app, "newer through an update", "is it fresh"))
        await pilot.resize_terminal(40, 12)
        await pilot.resize_terminal(*size)
        await until(pilot, shows(app, "Lanternwood 2.1 beta", "not checked"))


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_every_sheet_opens_with_one_key_and_esc_leads_back(demo: OpenStudy, size: tuple[int, int]) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=size) as pilot:
        await at_chair(pilot, app)
        for name in OPENED:
            await to_sheet(pilot, app, name)
            await pilot.resize_terminal(40, 12)
            await pilot.resize_terminal(*size)
            await until(pilot, shows(app, OPENED[name][1]))
            await pilot.press("escape")
            await until(pilot, lambda: isinstance(app.screen, Set))
            assert isinstance(app.screen, Set)
            assert app.screen.letter == "B"


async def test_set_and_its_sheets_are_plain_ascii_where_wanted(demo: OpenStudy) -> None:
    app = FreshChair(demo, plain=True)
    async with app.run_test(size=WIDE) as pilot:
        for name in OPENED:
            await at_chair(pilot, app)
            await to_sheet(pilot, app, name)
            strange = {letter for letter in picture(app) if ord(letter) > 127}
            assert strange <= set("“”…←→↓↑·▁▂▃▄▅▆▇█"), (name, strange)
            await pilot.press("escape")
            await until(pilot, lambda: isinstance(app.screen, Set))


async def test_a_chair_is_reached_its_baseline_taken_and_proved_fresh_by_keys(opened: OpenStudy, home: Path) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await at_chair(pilot, app, "A")
        await pilot.press("f")
        # Nothing says yet how it is reached: that is asked first.
        await answer(pilot, app, "ssh no way")
        await until(pilot, shows(app, "no way to a chair"))
        await answer(pilot, app, "here")
        await until(pilot, shows(app, "has no baseline yet"))
        await pilot.press("b")
        await choose(pilot, app, "y")
        await until(pilot, shows(app, "The baseline holds"), most=6000)
        await pilot.press("f")
        await until(pilot, shows(app, "Chair A is fresh."), most=6000)
        (home / "left.txt").write_text("x")
        await pilot.press("f")
        await until(pilot, shows(app, "Chair A is not fresh.", "one file or folder was left behind"), most=6000)
        await pilot.press("b")
        await choose(pilot, app, "n")
        await until(pilot, shows(app, "One name moves by itself"), most=6000)
        await pilot.press("f")
        await until(pilot, shows(app, "Chair A is fresh."), most=6000)


async def test_one_key_on_the_board_proves_the_chair_in_hand_fresh(opened: OpenStudy, home: Path) -> None:
    from fresh_chair.services.chair.asking import run_enquiry

    choose_reach(opened, "A", "here")
    await asyncio.to_thread(run_enquiry, opened, "A", "baseline")
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "Enter seats"))
        await pilot.press("f")
        await until(pilot, shows(app, "Chair A is fresh."), most=6000)


async def test_reading_goes_on_while_one_is_elsewhere_and_can_be_stopped(opened: OpenStudy, home: Path) -> None:
    choose_reach(opened, "A", "here")
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await at_chair(pilot, app, "A")
        await pilot.press("r")
        await until(pilot, shows(app, "reading chair A"))
        await pilot.press("f")
        await until(pilot, shows(app, "is being read; this follows it. s stops both."))
        await pilot.press("1")
        await until(pilot, lambda: not isinstance(app.screen, Set))
        await at_chair(pilot, app, "A")
        reader = app.session.reader
        assert reader is not None
        await pilot.press("s")
        await until(pilot, lambda: not reader.running, most=6000)
        await until(pilot, shows(app, "Stopped."))


async def test_a_baseline_asked_for_while_a_reading_runs_is_taken_after_it(opened: OpenStudy, home: Path) -> None:
    choose_reach(opened, "A", "here")
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await at_chair(pilot, app, "A")
        assert isinstance(app.screen, Set)
        app.screen.action_ask("identity")
        await pilot.press("b")
        await until(pilot, shows(app, "is it as it was at first boot?"))
        await pilot.press("y")
        both = ("baseline", "noise")
        await until(pilot, lambda: app.session.reader is not None and app.session.reader.enquiries == both)
        await pilot.press("s")
        await until(pilot, lambda: app.session.reader is not None and not app.session.reader.running, most=6000)


def test_a_slow_question_says_how_long_it_has_been_waited_for(opened: OpenStudy) -> None:
    reader = ChairReader(opened, "A", ["readings"])
    reader.enquiry, reader._progress = "readings", Progress(asked=2, of=9, current="idle memory")
    assert reader.said() == "readings: idle memory, 2 of 9"
    reader._progress.since -= 12
    assert reader.said() == "readings: idle memory, 2 of 9, 12 s so far"


async def test_a_courier_is_sent_and_read_by_keys(opened: OpenStudy, home: Path, tmp_path: Path) -> None:
    import subprocess

    choose_reach(opened, "A", "courier")
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await at_chair(pilot, app, "A")
        await pilot.press("f")
        await until(pilot, shows(app, "reached by courier only"))
        await pilot.press("y")
        await choose(pilot, app, "s")
        await answer(pilot, app, str(tmp_path / "stick"))
        await until(pilot, shows(app, "ask-chair-A.sh is written"))
        subprocess.run(["sh", tmp_path / "stick" / "ask-chair-A.sh"], check=True, capture_output=True, timeout=120)
        await pilot.press("y")
        await choose(pilot, app, "r")
        await answer(pilot, app, str(tmp_path / "no-such-file"))
        await until(pilot, shows(app, "cannot be read"))
        await answer(pilot, app, str(next((tmp_path / "stick").glob("*.answers"))))
        await until(pilot, shows(app, "What the courier brought is on record", "Debian"))
        assert opened.known_chairs.of("A").baseline is not None


async def test_what_differs_leads_to_the_put_back_steps_and_can_be_left_out_with_a_reason(demo: OpenStudy) -> None:
    machine = MadeUpMachine("B")
    machine.sit_down()
    keep(demo, "B", "fresh", "test", answers_of(machine, demo, "B", "fresh"))
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await at_chair(pilot, app)
        await until(pilot, shows(app, "not fresh"))
        await pilot.press(*(["down"] * 8))
        await until(
            pilot,
            shows(app, "the theme was changed", "put back, Dark screen: Bring the bright look back; Close all windows"),
        )
        await to_sheet(pilot, app, "drift")
        await until(pilot, shows(app, "3 differ, 1 left out", "was  'day'", "is   'night'"))
        await pilot.press("n")
        await answer(pilot, app, "")
        await until(pilot, shows(app, "needs a reason"))
        await answer(pilot, app, "it follows the sun")
        await until(pilot, shows(app, "2 differ, 2 left out"))
        app.screen.query_one("#list", OptionList).highlighted = 2
        await pilot.press("x")
        await until(pilot, shows(app, "1 left out"))


async def test_commands_are_shown_before_they_are_approved(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await at_chair(pilot, app, "C")
        await pilot.press("v")
        await until(pilot, shows(app, "Not approved yet: a command"))
        await pilot.press("y")
        await until(pilot, shows(app, "run on chairs: cat /run/fathom/quiet?"))
        await choose(pilot, app, "n")
        assert approvals.approved(demo.study) == set()
        await pilot.press("y")
        await choose(pilot, app, "y")
        await until(pilot, lambda: len(approvals.approved(demo.study)) == 1)


async def test_checks_are_asked_of_a_real_chair(opened: OpenStudy, home: Path) -> None:
    from fresh_chair.services.plan.editing import set_field

    set_field(opened, f"card.{opened.study.cards[0].id}.checks", "file ~/left.txt is there")
    choose_reach(opened, "A", "here")
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await at_chair(pilot, app, "A")
        await pilot.press("v")
        await until(pilot, shows(app, "not asked yet"))
        await pilot.press("b")
        await until(pilot, shows(app, "has answered", "contradicted"), most=6000)
        (home / "left.txt").write_text("x")
        await pilot.press("r")
        await until(pilot, shows(app, "1 of 1 confirmed"), most=6000)


async def test_a_hostile_chair_cannot_act_on_the_screen(demo: OpenStudy) -> None:
    machine = MadeUpMachine("B")
    answers = answers_of(machine, demo, "B", "identity")
    evil = 'NAME="\x1b]0;owned\x07[bold red]Evil[/]\u202e"\nVERSION_ID="[@click=app.quit]1[/]"\n'
    answers["os-release"] = type(answers["os-release"])("os-release", evil)
    keep(demo, "B", "identity", "test", answers)
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await at_chair(pilot, app)
        await until(pilot, shows(app, "[bold red]Evil[/]", "[@click=app.quit]1[/]"))
        seen = picture(app)
        assert "\x1b" not in seen
        assert "\u202e" not in seen


async def test_a_study_without_chairs_says_where_to_begin(tmp_path: Path) -> None:
    from fresh_chair.services.file.new_study import new_study
    from fresh_chair.services.study.open_study import open_study

    new_study(tmp_path / "empty.fresh")
    empty = open_study(tmp_path / "empty.fresh")
    app = FreshChair(empty)
    async with app.run_test(size=WIDE) as pilot:
        await pilot.press("2")
        await until(pilot, shows(app, "No chair is planned yet"))
        await pilot.press("f", "r", "b", "h", "y", "c", "s", "left", "right")
        await until(pilot, shows(app, "No chair is planned yet"))
    empty.close()


async def test_a_chair_is_only_looked_at_where_a_study_may_only_be_read(demo: OpenStudy, demo_path: Path) -> None:
    from fresh_chair.services.study.open_study import open_study

    reading = open_study(demo_path, write=False)
    app = FreshChair(reading)
    async with app.run_test(size=WIDE) as pilot:
        await at_chair(pilot, app)
        await pilot.press("f")
        await until(pilot, shows(app, "open for reading only"))
        await pilot.press("c", "a")
        await answer(pilot, app, "x")
        await until(pilot, shows(app, "open for reading only"))
    reading.close()
