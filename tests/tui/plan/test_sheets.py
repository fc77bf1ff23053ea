"""Plan's sheets: every one opens from the board, does what its keys say, and goes back."""

from pathlib import Path

import pytest
from textual.pilot import Pilot
from textual.widgets import Input, OptionList

from fresh_chair.services.study.open_study import OpenStudy, create_study, open_study
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.base.help import Help
from fresh_chair.tui.base.sheet import FieldSheet, SheetScreen
from fresh_chair.tui.base.sheets import SHEET_CLASSES
from fresh_chair.tui.plan.screen import Plan
from fresh_chair.tui.widgets.asking import ChoiceLine, WordLine
from fresh_chair.tui.widgets.field_list import FieldList
from tests.builders import small_study
from tests.tui.conftest import SIZES, WIDE, picture, shows, until

# From the board: the keys, and what then stands on the screen.
OPENED = {
    "study": (("s",), "The study sheet"),
    "tasks": (("t",), "Dark screen"),
    "card": (("t", "enter"), "what is asked"),
    "library": (("t", "l"), "109 of 109 cards"),
    "chair": (("c",), "chair 1 of 3"),
    "person": (("p",), "person 4 of 9"),
    "orders": (("o",), "The orders, drawn from seed 9"),
    "hunches": (("h",), "what will trip people here"),
    "bench": (("b",), "5 of 6 there"),
    "many": (("m",), "question 1 of 3"),
    "time": (("l",), "How long each sitting takes"),
    "paper": (("w",), "one PDF, A4"),
    "check": (("k",), "nothing is wrong with it"),
}


def sheet_of(app: FreshChair) -> str:
    return app.screen.sheet_name if isinstance(app.screen, SheetScreen) else ""


async def go_to_sheet(pilot: Pilot[None], app: FreshChair, name: str) -> None:
    """Go from the board to a sheet."""
    await until(pilot, lambda: isinstance(app.screen, Plan))
    keys, mark = OPENED[name]
    await pilot.pause()
    for index, key in enumerate(keys):
        await pilot.press(key)
        if index + 1 < len(keys):
            await until(
                pilot,
                lambda: sheet_of(app) == "tasks" and bool(app.screen.query_one("#cards", OptionList).option_count),
            )
    await until(pilot, lambda: sheet_of(app) == name and mark in picture(app))


async def answer(pilot: Pilot[None], app: FreshChair, text: str) -> None:
    """Put this into the open line at the bottom, in place of what stands there, and send it."""
    await until(pilot, lambda: app.screen.query_one(WordLine).asking)
    app.screen.query_one(WordLine).query_one(Input).value = text
    await pilot.press("enter")


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_every_sheet_opens_in_one_or_two_keys_and_esc_leads_back(demo: OpenStudy, size: tuple[int, int]) -> None:
    app = FreshChair(demo, light=size == WIDE)
    async with app.run_test(size=size) as pilot:
        for name, (keys, shown) in OPENED.items():
            await go_to_sheet(pilot, app, name)
            assert len(keys) <= 2
            await pilot.resize_terminal(40, 12)
            await pilot.resize_terminal(*size)
            await until(pilot, shows(app, shown))
            await pilot.press("escape")
            if name in ("card", "library"):
                await until(pilot, lambda: sheet_of(app) == "tasks")
                await pilot.press("escape")
            await until(pilot, lambda: isinstance(app.screen, Plan))


def test_every_sheet_there_is_is_looked_at() -> None:
    of_plan = {name for name, (module, _) in SHEET_CLASSES.items() if module.startswith("plan.")}
    # These two open from another sheet, with what they are about.
    assert {*OPENED, "import", "parts"} == of_plan


async def test_sheets_are_plain_ascii_where_wanted_and_help_says_their_keys(demo: OpenStudy) -> None:
    app = FreshChair(demo, plain=True)
    async with app.run_test(size=WIDE) as pilot:
        for name in OPENED:
            await go_to_sheet(pilot, app, name)
            strange = {letter for letter in picture(app) if ord(letter) > 127}
            assert strange <= set("“”…←→↓↑·▁▂▃▄▅▆▇█"), (name, strange)
            await pilot.press("escape", "escape") if name in ("card", "library") else await pilot.press("escape")
        await until(pilot, lambda: isinstance(app.screen, Plan))
        await pilot.press("o")
        await until(pilot, lambda: sheet_of(app) == "orders")
        await pilot.press("question_mark")
        await until(pilot, lambda: isinstance(app.screen, Help) and "Draw all that has not begun" in picture(app))


async def test_the_digits_lead_from_a_sheet_to_every_place(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "orders")
        await pilot.press("2")
        await until(pilot, shows(app, "who it says it is"))
        await pilot.press("1")
        await go_to_sheet(pilot, app, "orders")
        await pilot.press("1")
        await until(pilot, lambda: isinstance(app.screen, Plan))


async def test_the_board_says_what_is_not_ready_on_a_small_window_too(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "is the plan ready?", "1 without", "consent?", "pilot"))
        await pilot.resize_terminal(80, 24)
        await until(pilot, shows(app, "not ready:", "b ◇ bench"))


async def test_a_field_is_changed_in_the_line_at_the_bottom_and_a_wrong_value_stays_there(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "chair")
        sheet = app.screen
        assert isinstance(sheet, FieldSheet)
        fields = sheet.query_one(FieldList)
        await pilot.press(*["down"] * 13)
        assert fields.line is not None
        assert fields.line.path == "chair.A.put_back"
        await pilot.press("enter")
        await until(pilot, lambda: sheet.query_one(ChoiceLine).asking)
        await pilot.press("2")
        await until(pilot, lambda: demo.study.chair_by_letter["A"].put_back == "by hand")
        await until(pilot, lambda: fields.line is not None and fields.line.path == "chair.A.put_back")
        await pilot.press("down", "down", "down", "enter", "ctrl+u", "9", "9", "enter")
        await until(pilot, shows(app, "The hue of chair A cannot be so"))
        assert sheet.query_one(WordLine).asking
        await pilot.press("ctrl+u", "3", "enter")
        await until(pilot, lambda: demo.study.chair_by_letter["A"].hue == 3)
        await pilot.press("right")
        await until(pilot, shows(app, "chair 2 of 3"))


async def test_an_audience_is_added_with_two_keys(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "study")
        before = len(demo.study.sheet.audiences)
        await pilot.press("plus", "1")
        await until(pilot, lambda: len(demo.study.sheet.audiences) == before + 1)
        assert app.screen.query_one(FieldList).option_count > 10


async def test_typing_finds_cards_and_enter_takes_one(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "library")
        await pilot.press(*"headphones")
        await until(pilot, shows(app, "1 of 109 cards", "Connect wireless headphones"))
        await pilot.press("enter")
        await until(pilot, lambda: "headset" in demo.study.card_by_id)
        await pilot.press("enter")
        await until(pilot, shows(app, "is in the script already"))
        await pilot.press("ctrl+u", "tab", "tab", "tab")
        await until(pilot, shows(app, "10 of 109 cards", "looks"))
        await pilot.press("ctrl+b")
        await until(pilot, shows(app, "only what"))
        await pilot.press("escape")
        await until(pilot, lambda: sheet_of(app) == "tasks" and app.session.task == "headset")


async def test_a_card_is_written_overruled_dropped_and_taken_out(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "tasks")
        await pilot.press("n")
        await answer(pilot, app, "Themes")
        await answer(pilot, app, "Please change the theme.")
        await until(pilot, lambda: "themes" in demo.study.card_by_id)
        await until(pilot, shows(app, "“theme”", "Nothing says"))
        await pilot.press("o")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press("1")
        await answer(pilot, app, "said so")
        await until(pilot, lambda: list(demo.study.card_by_id["themes"].overruled.values()) == ["said so"])
        await pilot.press("d")
        await until(pilot, lambda: demo.study.card_by_id["themes"].dropped)
        await pilot.press("d")
        await until(pilot, lambda: not demo.study.card_by_id["themes"].dropped)
        await pilot.press("x", "y")
        await until(pilot, lambda: "themes" not in demo.study.card_by_id)


async def test_hunches_are_written_and_sealed_and_stay_sealed(tmp_path: Path) -> None:
    create_study(tmp_path / "s.fresh", small_study())
    opened = open_study(tmp_path / "s.fresh")
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Plan))
        await pilot.press("h")
        await until(pilot, lambda: sheet_of(app) == "hunches")
        await pilot.press("right", "down", "enter", "3")
        await answer(pilot, app, "looks elsewhere")
        await until(pilot, lambda: len(opened.hunches) == 1)
        assert (opened.hunches[0].card, opened.hunches[0].chair, opened.hunches[0].severity) == ("card-2", "B", 3)
        await pilot.press("e", "2")
        await answer(pilot, app, "looks there")
        await until(pilot, lambda: [hunch.words for hunch in opened.hunches] == ["looks there"])
        await pilot.press("s", "y")
        await until(pilot, lambda: opened.hunches[0].sealed_wall_ns is not None)
        await until(pilot, shows(app, "sealed"))
        await pilot.press("e")
        assert not app.screen.query_one(ChoiceLine).asking
    opened.close()


async def test_orders_are_drawn_again_and_a_place_is_filled(demo: OpenStudy) -> None:
    from fresh_chair.services.plan.people import let_go

    let_go(demo, "P07", "ill")
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "orders")
        await until(pilot, shows(app, "Nobody takes"))
        await pilot.press("g")
        await answer(pilot, app, "42")
        await until(pilot, lambda: demo.study.seed == 42)
        await pilot.press("g")
        await answer(pilot, app, "x")
        await until(pilot, shows(app, "A seed is a number"))
        await pilot.press("escape", "r", "enter")
        await until(pilot, lambda: "P08" in demo.study.person_by_code)


async def test_the_bench_is_ticked_off(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "bench")
        await pilot.press("m")
        await answer(pilot, app, "flat")
        await until(pilot, shows(app, "missing: flat", "4 of 6 there"))
        await pilot.press("a", "y")
        await until(pilot, shows(app, "6 of 6 there"))


async def test_other_numbers_of_people_are_tried_and_other_questions(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "many")
        await pilot.press("down")
        assert "6 people at each chair, as planned" in picture(app)
        await pilot.press("right", "right", "down")
        await until(pilot, shows(app, "8 people at each chair", "question 3 of 3", "hold a completion rate"))
        await pilot.press("0")
        await until(pilot, shows(app, "as planned"))


async def test_the_plan_is_drawn_beside_the_screen_and_can_be_stopped(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "many")
        await until(pilot, shows(app, "6 people are to sit at both chairs", "takes 1.5 times as long"))
        await until(pilot, shows(app, "of 400 so far"), most=3000)
        await pilot.press("x")
        await until(pilot, shows(app, "stopped"))
        stood = picture(app).count("of 400 so far")
        await pilot.press("d")
        await until(pilot, shows(app, "takes 2 times as long", "studies are being drawn"))
        assert stood == 1


async def test_what_does_not_fit_is_dropped_and_the_timetable_written(demo: OpenStudy, tmp_path: Path) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "time")
        await pilot.press("m")
        await answer(pilot, app, "26")
        await until(pilot, shows(app, "are likely to overrun", "Peace and quiet"))
        await pilot.press("d", "y")
        await until(pilot, lambda: demo.study.card_by_id["peace-and-quiet"].dropped)
        await pilot.press("c")
        await answer(pilot, app, str(tmp_path / "t.ics"))
        await until(pilot, lambda: (tmp_path / "t.ics").exists())


async def test_the_pdf_is_written_from_the_parts_that_are_marked(demo: OpenStudy, tmp_path: Path) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "paper")
        await pilot.press("down", "space", "z")
        await until(pilot, shows(app, "one PDF, Letter"))
        await pilot.press("w")
        await answer(pilot, app, str(tmp_path / "p.pdf"))
        await until(pilot, shows(app, "Written:"), most=3000)
        assert (tmp_path / "p.pdf").exists()
        (tmp_path / "f").write_text("x")
        await pilot.press("w")
        await answer(pilot, app, str(tmp_path / "f" / "p.pdf"))
        await until(pilot, shows(app, "cannot be written"), most=3000)


async def test_a_chair_is_copied_carried_over_and_taken_out(opened: OpenStudy, demo_path: Path) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Plan))
        await pilot.press("c")
        await until(pilot, lambda: sheet_of(app) == "chair")
        await pilot.press("y")
        await until(pilot, shows(app, "chair 3 of 3"))
        await pilot.press("o")
        await answer(pilot, app, str(demo_path))
        await pilot.press("b")
        await until(pilot, shows(app, "Lanternwood 2.1 beta", "chair 4 of 4", "carried over:"))
        await pilot.press("x", "y")
        await until(pilot, lambda: list(opened.study.chair_by_letter) == ["A", "B", "C"])
        await pilot.press("o")
        await answer(pilot, app, str(opened.beside))
        await until(pilot, shows(app, "own file"))


async def test_a_study_is_planned_from_nothing_by_keyboard(tmp_path: Path) -> None:
    create_study(tmp_path / "new.fresh", small_study(people=0, chairs=0, cards=0))
    opened = open_study(tmp_path / "new.fresh")
    app = FreshChair(opened)
    async with app.run_test(size=(80, 24)) as pilot:
        await until(pilot, shows(app, "Nobody sits here yet"))
        await pilot.press("t")
        await until(pilot, shows(app, "No card yet"))
        await pilot.press("l")
        await until(pilot, lambda: sheet_of(app) == "library" and "of 109" in picture(app))
        await pilot.press("enter", "down", "enter")
        await until(pilot, lambda: len(opened.study.cards) == 2)
        await pilot.press("escape")
        await until(pilot, lambda: sheet_of(app) == "tasks")
        await pilot.press("escape")
        await until(pilot, lambda: isinstance(app.screen, Plan))
        await pilot.press("a", "c")
        await answer(pilot, app, "Saltmarsh 9")
        await until(pilot, shows(app, "Three parts"))
        await answer(pilot, app, "Saltmarsh | 9 | Samphire 3")
        await until(pilot, lambda: len(opened.study.chairs) == 1)
        await pilot.press("a", "m", "4", "enter")
        await until(pilot, lambda: len(opened.study.seats) == 4)
        await until(pilot, shows(app, "P04"))
        await pilot.press("a", "e", "enter")
        await until(pilot, lambda: "E1" in opened.study.person_by_code)
        await until(pilot, shows(app, "expert"))
    opened.close()


async def test_a_reader_is_refused_in_words_and_nothing_is_written(demo: OpenStudy, tmp_path: Path) -> None:
    reader = open_study(demo.beside, write=False)
    app = FreshChair(reader)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "bench")
        await pilot.press("r")
        await until(pilot, shows(app, "open for reading only"))
        await pilot.press("escape", "t")
        await until(pilot, lambda: sheet_of(app) == "tasks")
        await pilot.press("d")
        await until(pilot, shows(app, "open for reading only"))
    reader.close()


async def test_the_line_keeps_what_is_typed_until_it_is_answered(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "study")
        await pilot.press("enter")
        await answer(pilot, app, "")
        await until(pilot, shows(app, "The title of the study cannot be so"))
        assert app.screen.query_one(Input).value == ""
        await pilot.press("2", "escape")
        await until(pilot, lambda: not app.screen.query_one(WordLine).asking)
        assert demo.study.title.startswith("Tern Harbour")
