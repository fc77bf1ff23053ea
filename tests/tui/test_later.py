"""The later list by keys, and what is due on the start screen."""

from datetime import date, timedelta

import pytest
from textual.widgets import Static

from fresh_chair.core.sitting import journal as j
from fresh_chair.services.evidence.later import later_of, remember_later
from fresh_chair.services.evidence.records import put_evidence
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.walk.walks import begin_walk
from fresh_chair.store.recent import RecentStudies
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.start import Start
from tests.builders import FakeClock
from tests.tui.conftest import SIZES, WIDE, shows, until
from tests.tui.sit.test_walking import typed


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_a_thing_is_put_off_brought_back_and_done_by_keys(opened: OpenStudy, size: tuple[int, int]) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=size) as pilot:
        await until(pilot, shows(app, "seats"))
        await pilot.press("z")
        await until(pilot, shows(app, "Nothing was put off"))
        await pilot.press("a")
        await typed(pilot, "the scanner")
        await pilot.press("l")
        await typed(pilot, "soon")
        await until(pilot, shows(app, "is a date such as"))
        await pilot.press(*["backspace"] * 4)
        await typed(pilot, "2026-01-31")
        await until(pilot, shows(app, "1 thing put off, 1 due"))
        await pilot.press("t", *["backspace"] * 10)
        await pilot.press("enter")
        await pilot.press("w")
        await typed(pilot, "release 10")
        await pilot.press("o")
        await typed(pilot, "the library")
        await until(pilot, shows(app, "with something else"))
        (line,) = later_of(opened)
        assert (line.due, line.when, line.whom) == ("", "release 10", "the library")
        await pilot.press("f")
        await typed(pilot, "it scans")
        await until(pilot, shows(app, "Nothing was put off"))


async def test_a_question_of_a_sitting_is_tied_to_a_chair_by_typing(opened: OpenStudy, clock: FakeClock) -> None:
    live = begin_walk(opened, "A")
    mark = live.log(j.QuestionLeft("is there a help"), clock.now())
    live.log(j.SittingEnded(), clock.now())
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "seats"))
        await pilot.press("z")
        await until(pilot, shows(app, "is there a help"))
        await pilot.press("ampersand", "5")
        await until(pilot, shows(app, "speaks against what"))
        await typed(pilot, "nothing of that name")
        await until(pilot, shows(app, "Nothing here is called that"))
        await pilot.press(*["backspace"] * 24)
        await typed(pilot, "ChairB")
        await until(pilot, shows(app, "B ChairB 1"))
        (link,) = opened.evidence.state.links()
        assert (link.first, link.relation, link.second) == (f"mark:{mark.id}", "speaks against", "chair:B")
        app.session.looking_at = live.seat.number
        await pilot.press("escape")
        await until(pilot, shows(app, "seats"))
        await pilot.press("3", "j")
        await until(pilot, shows(app, "got up"))
        await pilot.press("up")
        await until(pilot, shows(app, "speaks against"))


async def test_what_is_due_stands_on_the_start_screen_and_nothing_else(opened: OpenStudy) -> None:
    today = date.today()
    put_evidence(opened, "later", {"what": "the scanner", "due": (today - timedelta(1)).isoformat()})
    put_evidence(opened, "later", {"what": "the printer", "due": (today + timedelta(2)).isoformat()})
    remember_later(opened)
    app = Start(RecentStudies())
    async with app.run_test(size=WIDE) as pilot:
        due = app.query_one("#due", Static)
        while "the scanner" not in str(due.render()):
            await pilot.pause()
        assert "the printer" not in str(due.render())
