"""What is put down of a chair by hand: claims, readings, the installation, defaults, looks."""

from itertools import pairwise

from textual.widgets import Input

from fresh_chair.core.chair.records import ConsentItem, Look, Reading
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.base.sheet import SheetScreen
from fresh_chair.tui.widgets.asking import WordLine
from tests.tui.conftest import WIDE, shows, until
from tests.tui.set.test_screen import answer, at_chair, choose, to_sheet


async def test_claims_are_put_down_answered_and_struck(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await at_chair(pilot, app, "A")
        await pilot.press("c", "a")
        await answer(pilot, app, "Ten hours on [bold]battery[/bold]")
        await until(pilot, shows(app, "Ten hours on [bold]battery[/bold]", "not looked at"))
        await pilot.press("v")
        await choose(pilot, app, "4")
        await until(pilot, shows(app, "not so", "1 claim, 0 not looked at"))
        await pilot.press("n")
        await answer(pilot, app, "three, at most")
        await until(pilot, shows(app, "three, at most"))
        await pilot.press("enter")
        await until(pilot, lambda: isinstance(app.screen, SheetScreen) and app.screen.sheet_name == "record")
        await pilot.press("escape")
        await until(pilot, lambda: isinstance(app.screen, SheetScreen) and app.screen.sheet_name == "claims")
        await pilot.press("x")
        await answer(pilot, app, "said of another edition")
        await until(pilot, shows(app, "no claim put down"))


async def test_a_field_of_a_record_is_changed_on_its_sheet(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await at_chair(pilot, app)
        await to_sheet(pilot, app, "warnings")
        await pilot.press("enter")
        await until(pilot, shows(app, "it said"))
        await pilot.press("down", "enter")
        await answer(pilot, app, "at the end of every start")
        await until(pilot, shows(app, "at the end of every start"))
        await pilot.press("escape")
        await until(pilot, lambda: isinstance(app.screen, SheetScreen) and app.screen.sheet_name == "warnings")
        await pilot.press("v")
        await choose(pilot, app, "4")
        await until(pilot, shows(app, "frightening"))


async def test_a_stopwatch_and_a_doubt(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await at_chair(pilot, app, "A")
        await pilot.press("g", "t")
        await until(pilot, shows(app, "t when it is there"))
        opened.clock.pass_seconds(4.2)  # type: ignore[attr-defined]
        await pilot.press("t")
        await until(pilot, shows(app, "4.2 s until:"))
        await answer(pilot, app, "the window of Quill")
        await until(pilot, lambda: app.screen.query_one(WordLine).query_one(Input).value == "4.2 s")
        await pilot.press("enter")
        await until(pilot, shows(app, "the window of Quill", "4.2 s"))
        await pilot.press("v")
        await choose(pilot, app, "2")
        await answer(pilot, app, "")
        await answer(pilot, app, "my hand was slow")
        await until(pilot, shows(app, "doubted: my hand was slow"))
        await pilot.press("a")
        await answer(pilot, app, "start of the machine")
        await answer(pilot, app, "quick")
        await until(pilot, shows(app, "is no reading"))
        await answer(pilot, app, "40 to 55 s")
        await until(pilot, shows(app, "40 to 55 s"))
        kept = [held.record for held in opened.known_chairs.of("A").held("reading")]
        assert [(r.low, r.high, r.trust) for r in kept if isinstance(r, Reading)] == [
            (4.2, None, "doubted"),
            (40.0, 55.0, "not looked at closely"),
        ]


async def test_an_installation_is_logged_at_the_moment_of_the_key(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await at_chair(pilot, app, "A")
        await pilot.press("i")
        await until(pilot, shows(app, "Enter puts a step down"))
        await pilot.press("enter")
        # The words come a minute later; the moment is that of the key.
        opened.clock.pass_seconds(60)  # type: ignore[attr-defined]
        await answer(pilot, app, "stick put in")
        await pilot.press("w", "escape")
        opened.clock.pass_seconds(300)  # type: ignore[attr-defined]
        await pilot.press("q")
        await answer(pilot, app, "which disk?")
        await answer(pilot, app, "all of it")
        await until(pilot, shows(app, "which disk? > all of it", "06:00"))
        await until(pilot, shows(app, "person 01:00, machine 05:00, 3 entries"))
        await pilot.press("s")
        await answer(pilot, app, "it ended at the picture")
        await until(pilot, shows(app, "it ended at the picture"))
        steps = [held.moment.wall_ns for held in opened.known_chairs.of("A").held("install")]
        assert [(b - a) // 1_000_000_000 for a, b in pairwise(steps)] == [60, 300, 0]


async def test_defaults_are_turned_by_keys_across_chairs(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await at_chair(pilot, app)
        await to_sheet(pilot, app, "consents")
        await pilot.press("down", "down", "right")
        await pilot.press("a", "a", "o", "w")
        await until(pilot, shows(app, "silent, on, honest"))
        await pilot.press("n")
        await answer(pilot, app, "Not now")
        await until(pilot, shows(app, "Not now"))
        held = [h.record for h in demo.known_chairs.of("C").held("consent") if isinstance(h.record, ConsentItem)]
        assert [(r.asked, r.switch, r.wording, r.refuse) for r in held if r.item == "sign-ups"] == [
            ("silent", "on", "honest", "Not now")
        ]
        await pilot.press("plus")
        await answer(pilot, app, "crash reports")
        await until(pilot, shows(app, "crash reports"))


async def test_looks_are_a_grid_that_is_filled_in(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await at_chair(pilot, app)
        await to_sheet(pilot, app, "looks")
        await pilot.press("a")
        await answer(pilot, app, "Daub")
        await until(pilot, shows(app, "Daub"))
        await pilot.press("space", "tab", "space", "space", "space")
        await until(pilot, lambda: any(h.record.program == "Daub" and h.record.dark == "does not fit"  # type: ignore[union-attr]
                                       for h in demo.known_chairs.of("B").held("look")))  # fmt: skip
        looks = [h.record for h in demo.known_chairs.of("B").held("look") if isinstance(h.record, Look)]
        assert [(r.theme, r.dark) for r in looks if r.program == "Daub"] == [("fits", "does not fit")]
