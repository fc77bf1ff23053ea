"""People on their sheet: consents one by one, who leaves, who takes a place, and tables of them."""

from pathlib import Path

import pytest

from fresh_chair.core.plan.people import Participant
from fresh_chair.services.evidence.records import evidence_of_kind, put_evidence
from fresh_chair.services.plan.plan_changes import sit_again
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.plan.screen import Plan
from fresh_chair.tui.plan.widgets.seating_board import SeatingBoard
from fresh_chair.tui.widgets.asking import ChoiceLine
from tests.tui.conftest import SIZES, WIDE, picture, shows, typed, until
from tests.tui.plan.test_sheets import answer, go_to_sheet, sheet_of


async def test_people_agree_leave_are_replaced_and_erased(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "person")
        await pilot.press("left", "left", "left", "left")
        await until(pilot, shows(app, "P07", "person 9 of 9", "not yet"))
        await pilot.press("y", "y")
        await until(pilot, shows(app, "sentences of mine"))
        await pilot.press("n")
        await until(pilot, shows(app, "being asked again"))
        await pilot.press("n")
        await until(pilot, lambda: list(demo.study.person_by_code["P07"].consents) == ["taking-part"])
        assert "does nothing here" not in picture(app)
        await pilot.press("r")
        await until(pilot, shows(app, "still takes part"))
        await pilot.press("g")
        await answer(pilot, app, "moved away")
        await until(pilot, lambda: demo.study.person_by_code["P07"].left == "moved away")
        await pilot.press("r", "enter")
        await until(pilot, lambda: demo.study.person_by_code.get("P08") == Participant(code="P08", replaces="P07"))
        await pilot.press("x", "n")
        await pilot.press("x", "d")
        await until(pilot, lambda: bool(demo.study.person_by_code["P08"].erased))


async def test_a_table_is_mapped_column_by_column_and_its_people_are_added(demo: OpenStudy, tmp_path: Path) -> None:
    table = tmp_path / "p.csv"
    table.write_text("who,name,comfort,spoken\nQ1,Ada,3,Welsh\nQ2,Eva,9,Welsh\n", encoding="utf-8")
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "person")
        await pilot.press("i")
        await answer(pilot, app, "~nobody-of-that-name/p.csv")
        await until(pilot, shows(app, "is no path to a file"))
        await answer(pilot, app, str(tmp_path / "none.csv"))
        await until(pilot, shows(app, "none.csv cannot be read"))
        await answer(pilot, app, str(table))
        await until(pilot, lambda: sheet_of(app) == "import" and "no column is mapped" in picture(app))
        await pilot.press("enter")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press("1")
        await until(pilot, shows(app, "1 can be added; 1 row cannot", "out of range", "says who they are"))
        await pilot.press("down", "down", "down", "enter", "9")
        await until(pilot, shows(app, "language"))
        await pilot.press("up", "space")
        await until(pilot, shows(app, "2 can be added"))
        await pilot.press("i")
        await until(pilot, lambda: sheet_of(app) == "person" and "Q1" in picture(app))
        assert demo.study.person_by_code["Q1"].language == "Welsh"
        assert demo.study.person_by_code["Q2"].comfort is None


async def test_words_about_somebody_who_is_erased_are_gone_through_one_by_one(demo: OpenStudy) -> None:
    for what in ("seat P07 first", "P07 again in spring", "the lamp for P07"):
        put_evidence(demo, "advice", {"what": what})
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "person")
        await typed(app, "left", "left", "left", "left")
        await until(pilot, shows(app, "P07", "person 9 of 9"))
        await typed(app, "x", "d")
        await until(pilot, shows(app, "“seat P07 first”"))
        await typed(app, "t")
        await until(pilot, shows(app, "“P07 again in spring”"))
        await typed(app, "w", *["backspace"] * 30, *"again", "enter")
        await until(pilot, shows(app, "“the lamp for P07”"))
        await typed(app, "escape")
        await until(pilot, shows(app, "1 text of reviewers stays"))
    words = {str(getattr(held.record, "what", "")) for held in evidence_of_kind(demo, "advice")}
    assert {"erased", "again", "the lamp for P07"} <= words


@pytest.mark.parametrize("size", SIZES)
async def test_every_sitting_of_a_cell_is_reached(demo: OpenStudy, size: tuple[int, int]) -> None:
    seat = next(s for s in demo.study.seats if (found := demo.sittings.get(s.number)) is not None and found.over)
    again = sit_again(demo, seat.number)
    app = FreshChair(demo)
    async with app.run_test(size=size) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Plan) and demo.loaded)
        board = app.screen.query_one(SeatingBoard)
        board.choose(seat.participant, seat.chair)
        await until(pilot, shows(app, "planned 2/2"))
        assert board.cell is not None
        assert board.cell.seat.number == again.number
        await typed(app, "comma")
        await until(pilot, shows(app, "1/2"))
        assert board.cell.seat.number == seat.number
        await typed(app, "comma")
        assert board.cell.seat.number == again.number
