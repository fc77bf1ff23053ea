"""Looking back: a sitting over time, stepped through, and corrected where one stands."""

import re
from pathlib import Path

import pytest
from textual.pilot import Pilot

from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.demo import sitting_kinds as kinds
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.plan.widgets.seating_board import SeatingBoard
from fresh_chair.tui.sit.look_back import LookBack
from fresh_chair.tui.widgets.asking import ChoiceLine, WordLine
from tests.tui.conftest import SIZES, WIDE, picture, shows, until

# Where the drawing begins in a wide window, right of the places and of the titles.
_BESIDE_TITLES = 39


async def looking_at(app: FreshChair, pilot: Pilot[None], number: int) -> LookBack:
    """Open the drawing of a sitting from the board."""
    await until(pilot, lambda: bool(app.screen.query(SeatingBoard)))
    seat = app.session.opened.study.seat(number)
    app.screen.query_one(SeatingBoard).choose(seat.participant, seat.chair)
    await pilot.press("enter")
    await until(pilot, shows(app, f"sitting {number}", "over time"))
    await pilot.press("l")
    await until(pilot, lambda: isinstance(app.screen, LookBack))
    await until(pilot, shows(app, "entries"))
    assert isinstance(app.screen, LookBack)
    return app.screen


async def typed(app: FreshChair, pilot: Pilot[None], words: str) -> None:
    await until(pilot, lambda: app.screen.query_one(WordLine).asking)
    await pilot.press(*words, "enter")


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_arrows_step_through_every_entry_from_the_first_to_the_last(
    demo: OpenStudy, size: tuple[int, int]
) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=size) as pilot:
        await looking_at(app, pilot, kinds.OVERLAPPED)
        await until(pilot, shows(app, "sat down", "1 of "))
        found = re.search(r"1 of (\d+)", picture(app))
        assert found is not None
        count = int(found[1])
        await pilot.press("left")
        assert "1 of" in picture(app)
        await pilot.press("right", "right")
        await until(pilot, shows(app, f"3 of {count}", "start: "))
        await pilot.press("end")
        await until(pilot, shows(app, f"{count} of {count}", "got up"))
        await pilot.press("home", "down", "down", "down")
        await until(pilot, shows(app, "A program", "start: A program to paint with"))
        await pilot.press("z")
        # The attempt alone: the axis begins where it does.
        await until(pilot, lambda: "00:00" not in picture(app).split("start: A program")[0].split("entries")[1])


async def test_a_mark_is_struck_moved_and_added_where_one_stands(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    number = kinds.WATCHED
    async with app.run_test(size=WIDE) as pilot:
        await looking_at(app, pilot, number)
        snags = [remark for remark in demo.sittings[number].remarks.values() if remark.kind == "snag"]
        while "snag:" not in picture(app):
            await pilot.press("right")
        before, words = snags[0].at_ns, snags[0].words
        assert words in picture(app)
        await pilot.press("m")
        await typed(app, pilot, "my hands were full")
        await until(pilot, shows(app, "moved 10 s earlier", "my hands were full"))
        assert demo.sittings[number].remarks[snags[0].entry].at_ns == before - 10_000_000_000
        # It still stands at the same entry, wherever that is now.
        await pilot.press("x")
        await typed(app, pilot, "not hers")
        await until(pilot, lambda: snags[0].entry not in demo.sittings[number].remarks)
        await until(pilot, shows(app, "struck", "not hers"))
    assert check_file(demo.beside)[2].problems == ()


async def test_an_attempt_is_parted_where_one_stands_and_joined_again(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    number = 9
    async with app.run_test(size=WIDE) as pilot:
        await looking_at(app, pilot, number)
        tried = demo.sittings[number].tried
        count = len(tried)
        while not re.search(r"wrong place|waiting|snag:", picture(app)):
            await pilot.press("right")
        await pilot.press("s")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press("g")
        await until(pilot, shows(app, "the second part was a go at"))
        await pilot.press("1")
        await typed(app, pilot, "two cards were done in one go")
        await until(pilot, lambda: len(demo.sittings[number].tried) == count + 1)
        parted = next(a for a in demo.sittings[number].tried if a.outcome is Outcome.GAVE_UP)
        assert parted.spans
        await pilot.press("t")
        await typed(app, pilot, "it was one after all")
        await until(pilot, lambda: len(demo.sittings[number].tried) == count)
    assert check_file(demo.beside)[2].problems == ()


async def test_the_drawing_goes_out_as_svg_and_pdf(
    demo: OpenStudy, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await looking_at(app, pilot, kinds.WATCHED)
        # A second observer's marks are capitals.
        rows = picture(app).splitlines()
        first = next(index for index, row in enumerate(rows) if "05:00" in row) + 1
        last = next(index for index, row in enumerate(rows) if "sat down" in row)
        assert any(re.search("[PZQ]", row[_BESIDE_TITLES:]) for row in rows[first:last])
        await pilot.press("d")
        await typed(app, pilot, "")
        await until(pilot, shows(app, "Drawn:"), most=3000)
        await pilot.press("d")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        await pilot.press(*["backspace"] * 3, *"pdf", "enter")
        await until(pilot, lambda: list(tmp_path.glob("*.pdf")) != [], most=3000)
    (svg,) = tmp_path.glob("*.svg")
    assert "<svg" in svg.read_text(encoding="utf-8")[:600]
    (pdf,) = tmp_path.glob("*.pdf")
    assert pdf.read_bytes().startswith(b"%PDF")


async def test_an_experts_run_is_refused_as_benchmark_and_a_newcomers_cannot_be(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await looking_at(app, pilot, 1)
        await pilot.press("down", "r")
        await typed(app, pilot, "I had seen it the day before")
        await until(pilot, lambda: demo.sittings[1].attempts[0].benchmark_refused != "")
    other = FreshChair(demo)
    async with other.run_test(size=WIDE) as pilot:
        await looking_at(other, pilot, 9)
        await pilot.press("down", "r")
        assert not other.screen.query_one(WordLine).asking
