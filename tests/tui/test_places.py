"""The six places and the frame around them."""

import re
from dataclasses import replace
from pathlib import Path

import pytest
from textual.widgets import Input

from fresh_chair.services.plan.people import add_person
from fresh_chair.services.study.open_study import OpenStudy, create_study, open_study
from fresh_chair.store.recent import RecentStudies
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.base.help import Help
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.plan.screen import Plan
from fresh_chair.tui.plan.widgets.seating_board import SeatingBoard
from fresh_chair.tui.sit.screen import Sit
from fresh_chair.tui.sort.screen import Sort
from fresh_chair.tui.start import Begun, Start
from fresh_chair.tui.weigh.screen import Weigh
from fresh_chair.tui.widgets.asking import ChoiceLine, WordLine
from fresh_chair.tui.widgets.line_list import LineList
from tests.builders import small_study
from tests.tui.conftest import SIZES, WIDE, picture, shows, until
from tests.tui.sit.test_sitting import seated

MARKS = {
    "1": "Saltmarsh 9",
    "2": "who it says it is",
    "3": "Nobody is sitting",
    "4": "findings:",
    "5": "who fared better",
    "6": "open before it goes out",
}


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
@pytest.mark.parametrize("light", [False, True], ids=["dusk", "light"])
async def test_every_place_opens_by_its_digit_and_shows_its_picture(
    demo: OpenStudy, size: tuple[int, int], light: bool
) -> None:
    app = FreshChair(demo, light=light)
    async with app.run_test(size=size) as pilot:
        for digit, mark in MARKS.items():
            await pilot.press(digit)
            await until(pilot, shows(app, mark))


async def test_plain_signs_are_ascii(demo: OpenStudy) -> None:
    app = FreshChair(demo, plain=True)
    async with app.run_test(size=(120, 34)) as pilot:
        for digit, mark in MARKS.items():
            await pilot.press(digit)
            await until(pilot, shows(app, mark))
            strange = {letter for letter in picture(app) if ord(letter) > 127}
            # The curly quotes are the study's own words; the blocks are scroll bars, which `run` makes plain.
            assert strange <= set("“”…←→▁▂▃▄▅▆▇█·–"), (digit, strange)


async def test_the_board_shows_where_everybody_stands(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: "P06" in picture(app))
        shown = picture(app)
        assert len(re.findall(r"(?:1st|2nd|3rd) +run\b", shown)) == 20
        assert "broken off" in shown
        assert "next" in shown
        assert "Nobody has sat here yet. Enter seats." in shown


async def test_eight_chairs_are_scrolled_to_on_a_small_window(tmp_path: Path) -> None:
    path = tmp_path / "wide.fresh"
    create_study(path, small_study(people=12, chairs=8, cards=3))
    opened = open_study(path)
    app = FreshChair(opened)
    async with app.run_test(size=(80, 24)) as pilot:
        await until(pilot, shows(app, "P01"))
        assert "ChairH" not in picture(app)
        await pilot.press(*["right"] * 8, *["down"] * 12)
        await until(pilot, lambda: app.screen.query_one(SeatingBoard).cell is not None)
        cell = app.screen.query_one(SeatingBoard).cell
        assert cell is not None
        assert (cell.seat.participant, cell.seat.chair) == ("P12", "H")
        await until(pilot, shows(app, f"{cell.seat.number}  "))
    opened.close()


async def test_enter_on_a_run_sitting_looks_back_at_it(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Plan))
        await pilot.press("up", "up", "up", "enter")
        await until(pilot, lambda: isinstance(app.screen, Sit) and "System Usability Scale" in picture(app))
        before = picture(app)
        await pilot.press("up", "up")
        await until(pilot, lambda: picture(app) != before)
        assert sum(map(len, demo.entries.values())) == sum(len(e) for e in demo.journals.all().values())


async def test_a_hostile_code_is_refused_and_what_was_typed_stays(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=(80, 24)) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Plan))
        await pilot.press("a", "p", "ctrl+u", *"[red]x", "enter")
        await until(pilot, lambda: "cannot be a participant's code" in picture(app))
        assert app.screen.query_one(WordLine).asking
        await pilot.press("escape", "a", "p", "enter")
        await until(pilot, lambda: "P08 has a seat at every chair" in picture(app))
        assert len(demo.study.people) == 10


async def test_a_question_keeps_the_keys_whatever_tab_or_a_click_does(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await pilot.press("4")
        await until(pilot, lambda: isinstance(app.screen, Sort) and "loose snags: " in picture(app))
        await pilot.press("o", *"ab", "tab", "c")
        await pilot.click("#findings")
        await until(pilot, lambda: isinstance(app.focused, Input))
        await pilot.press("d")
        await until(pilot, lambda: app.screen.query_one(Input).value == "abcd")
        await pilot.press("escape")
        await until(pilot, lambda: app.focused is app.screen.query_one("#observations"))
        await pilot.press("tab", "v", "tab", "shift+tab")
        await until(pilot, lambda: app.focused is app.screen.query_one(ChoiceLine))
        await pilot.press("2")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)


async def test_the_figures_change_when_a_sitting_is_run(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await pilot.press("5")
        await until(pilot, lambda: isinstance(app.screen, Weigh) and "who fared better" in picture(app))
        before = picture(app)
        await pilot.press("1")
        await until(pilot, lambda: isinstance(app.screen, Plan))
        await seated(app, pilot)
        await pilot.press("enter")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press("g")
        await until(pilot, lambda: app.session.live is not None and app.session.live.state.attempts[0].outcome)
        await pilot.press("escape", "5")
        await until(pilot, lambda: isinstance(app.screen, Weigh) and "who fared better" in picture(app))
        assert picture(app) != before


async def test_weigh_begins_with_all_tasks_opens_their_figures_and_leads_to_each_task(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=(80, 24)) as pilot:
        await pilot.press("5")
        await until(pilot, lambda: isinstance(app.screen, Weigh) and "who fared better" in picture(app))
        assert re.search(r"enough: completion +open 88 % \(", picture(app))
        assert re.search(r"enough: ease +met 5\.6", picture(app))
        for _ in range(40):
            await pilot.press("down")
            await pilot.pause(0.05)
            if "decided beforehand" in picture(app):
                break
        await until(pilot, lambda: "decided beforehand" in picture(app))
        assert "standard error" not in picture(app)
        await pilot.press("f")
        for _ in range(40):
            await pilot.press("down")
            await pilot.pause(0.05)
            if "standard error" in picture(app):
                break
        await until(pilot, lambda: "standard error" in picture(app))
        await pilot.press("right")
        await until(pilot, lambda: "task 1 of 8" in picture(app))
        await pilot.press("right")
        await until(pilot, lambda: "task 2 of 8" in picture(app))
        await pilot.press("a")
        await until(pilot, lambda: "Over all tasks" in picture(app))


async def test_the_report_is_written_from_the_screen(demo: OpenStudy, tmp_path: Path) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await pilot.press("6")
        await until(pilot, shows(app, "The answer"))
        await pilot.press("o", "enter")
        await until(pilot, shows(app, "study.json", "files in"))
        await pilot.press("f", *["backspace"] * 18, *"md, odt", "enter")
        await until(pilot, shows(app, "md, odt"))
        await until(pilot, shows(app, "The answer"))
        await pilot.press("w", "enter")
        await until(pilot, lambda: list(tmp_path.glob("demo-decider/*")), most=3000)
    written = {path.name for path in tmp_path.glob("demo-*/*")}
    assert {"decider.md", "decider.odt", "attempts.csv", "study.json"} <= written


async def test_help_says_what_works_here_and_closes(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Place))
        await pilot.press("question_mark")
        await until(pilot, lambda: isinstance(app.screen, Help))
        await until(pilot, shows(app, "Add people or a chair"))
        await pilot.press("end")
        await until(pilot, shows(app, "completed unaided"))
        await pilot.press("escape")
        await until(pilot, lambda: isinstance(app.screen, Plan))


async def test_everything_in_the_frame_can_be_clicked(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Plan))
        await pilot.click(offset=(3, 8))
        await until(pilot, lambda: isinstance(app.screen, Sort))
        await pilot.click(offset=(3, 2))
        await until(pilot, lambda: isinstance(app.screen, Plan))
        line = picture(app).split("\n")[-1]
        await pilot.click(offset=(line.index("add") + 1, 37))
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)


async def test_a_window_of_twenty_columns_says_so_and_loses_nothing(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await seated(app, pilot)
        await pilot.resize_terminal(20, 10)
        await until(pilot, lambda: "Window too small" in picture(app))
        assert "hands" in picture(app)
        await pilot.press("p")
        await pilot.resize_terminal(*WIDE)
        await until(pilot, lambda: "wrong place" in picture(app))


async def test_in_sort_what_was_in_hand_stays_in_hand_when_the_list_sorts_itself_anew(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await pilot.press("4")
        await until(pilot, lambda: isinstance(app.screen, Sort) and app.screen.query_one("#findings", LineList).here)
        findings = app.screen.query_one("#findings", LineList)
        await pilot.press("tab", "home", *["down"] * 11)
        mine, at = findings.here or "", findings.selection.at
        assert demo.findings.by_id[mine].severity != 4
        # Worse than all others now, it moves to the top of the list.
        await pilot.press("v")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press("4", *"nobody got past it", "enter")
        await until(pilot, lambda: demo.findings.by_id[mine].severity == 4)
        await until(pilot, lambda: findings.here == mine and findings.selection.at != at)


async def test_in_sort_the_last_change_is_taken_back_by_a_key(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await pilot.press("4")
        await until(pilot, lambda: isinstance(app.screen, Sort) and "loose snags: 41" in picture(app))
        await pilot.press("f", "2", "2", "o")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        await pilot.press(*"too soon", "enter")
        await until(pilot, lambda: "loose snags: 40" in picture(app))
        await pilot.press("u")
        await until(pilot, lambda: "loose snags: 41" in picture(app) and "Taken back: finding opened" in picture(app))


async def test_a_reader_sees_what_the_writer_adds_and_is_told_it_only_reads(demo: OpenStudy) -> None:
    reader = open_study(demo.beside, write=False)
    app = FreshChair(reader)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: "reading only" in picture(app))
        await pilot.press("enter")
        await until(pilot, lambda: "open for reading only" in picture(app))
        add_person(demo, "Q18")
        await pilot.press("2")
        await pilot.press("1")
        await until(pilot, lambda: "Q18" in picture(app))
    reader.close()


async def test_hostile_text_from_a_file_is_shown_and_does_nothing(tmp_path: Path) -> None:
    study = small_study()
    hostile = "[bold red]x[/] \x1b[2J\u202e $lamp"
    chairs = tuple(replace(chair, name=hostile, desktop=hostile) for chair in study.chairs)
    cards = tuple(replace(card, goal=hostile, title=hostile) for card in study.cards)
    people = tuple(replace(person, profile=hostile) for person in study.people)
    path = tmp_path / "hostile.fresh"
    create_study(path, replace(study, chairs=chairs, cards=cards, people=people, title=hostile))
    opened = open_study(path)
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Plan))
        await until(pilot, shows(app, "[bold red]x[/] ␛[2J"))
        for digit in "24561":
            await pilot.press(digit)
            await pilot.pause(0.05)
            assert "\x1b" not in picture(app)
        await until(pilot, lambda: isinstance(app.screen, Plan))
        await pilot.press("enter")
        await until(pilot, lambda: isinstance(app.screen, Sit) and "[bold red]x[/]" in picture(app))
    opened.close()


async def test_an_empty_study_says_how_to_begin_in_every_place(tmp_path: Path) -> None:
    path = tmp_path / "empty.fresh"
    create_study(path, small_study(people=0, chairs=0, cards=0))
    opened = open_study(path)
    app = FreshChair(opened)
    async with app.run_test(size=(80, 24)) as pilot:
        await until(pilot, lambda: "Nobody sits here yet" in picture(app))
        for digit, said in (
            ("2", "No chair is planned"),
            ("4", "No snags yet"),
            ("5", "No task"),
            ("6", "no answer"),
        ):
            await pilot.press(digit)
            await until(pilot, shows(app, said))
        await pilot.press("1", "enter", "n")
        await pilot.press("a", "c", *"Saltmarsh | 9 | Samphire 3", "enter")
        await until(pilot, lambda: [chair.title for chair in opened.study.chairs] == ["Saltmarsh 9"])
        await pilot.press("a", "p", "enter")
        await until(pilot, lambda: bool(app.screen.query(SeatingBoard)))
        assert [(seat.participant, seat.chair) for seat in opened.study.seats] == [("P01", "A")]
    opened.close()


async def test_the_start_screen_opens_recent_studies_and_makes_the_demo(demo_path: Path, tmp_path: Path) -> None:
    recent = RecentStudies(tmp_path / "state")
    recent.remember(demo_path)
    start = Start(recent)
    async with start.run_test(size=(80, 24)) as pilot:
        await pilot.press("enter")
    assert start.return_value == Begun(demo_path)
    made = tmp_path / "made.fresh"
    again = Start(RecentStudies(tmp_path / "none"))
    async with again.run_test(size=(80, 24)) as pilot:
        await pilot.press("d", "ctrl+a", "ctrl+k", *str(made), "enter")
        for _ in range(600):
            if again.return_value is not None:
                break
            await pilot.pause(0.01)
    assert again.return_value == Begun(made)
    opened = open_study(made)
    assert len(opened.entries) == 21
    opened.close()


async def test_a_person_is_seated_once_more_at_a_chair(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "Enter seats"))
        await pilot.press("up", "up", "up")
        await until(pilot, shows(app, "sitting 7, their 1st"))
        await pilot.press("g")
        await until(pilot, shows(app, "Sitting 28 is planned: P01 here once more", "once more, after sitting 7"))
        await pilot.press("g")
        await until(pilot, shows(app, "Sitting 28 is still to be run"))
        await pilot.press("enter")
        await until(pilot, lambda: app.session.in_hand is not None)
    first, again = demo.study.seat(7), demo.study.seat(28)
    assert (again.participant, again.chair, again.cards) == (first.participant, first.chair, first.cards)


async def test_what_another_program_plans_appears_on_the_board(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "Enter seats"))
        beside = open_study(demo.beside, author="Ada")
        add_person(beside, "P77")
        beside.close()
        await until(pilot, shows(app, "P77"))


async def test_the_board_keeps_who_is_in_hand_when_another_program_takes_people_and_chairs_out(
    opened: OpenStudy,
) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "Enter seats"))
        await pilot.press("down", "right")
        board = app.screen.query_one(SeatingBoard)
        await until(pilot, lambda: board.place == ("P02", "B"))
        study = opened.study
        beside = open_study(opened.beside, author="Ada")
        beside.amend(
            replace(
                study,
                people=study.people[1:],
                chairs=study.chairs[1:],
                seats=tuple(s for s in study.seats if (s.participant, s.chair) == ("P02", "B")),
                cards=tuple(replace(card, benchmark_seconds={}) for card in study.cards),
            )
        )
        await until(pilot, lambda: len(opened.study.people) == 1)
        await until(pilot, lambda: board.place == ("P02", "B"))
        beside.amend(replace(beside.study, people=(), seats=()))
        beside.close()
        await until(pilot, shows(app, "Nobody sits here yet"))
