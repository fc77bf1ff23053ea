"""Handed over: the participant answers, sees nothing of the study, and cannot leave without the moderator's key."""

from dataclasses import replace
from functools import partial

import pytest
from textual.pilot import Pilot
from textual.widgets import Input

from fresh_chair.core.errors import NotSaved
from fresh_chair.core.plan.sheet import StudyQuestion
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.store import spool as spool
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.sit.live.hand_over import HandOver
from fresh_chair.tui.sit.screen import Sit
from fresh_chair.tui.widgets.asking import ChoiceLine, WordLine
from tests.builders import FakeClock
from tests.services.sitting.test_questions import through_cards
from tests.tui.conftest import SIZES, WIDE, picture, shows, until
from tests.tui.sit.test_sitting import seated


def _longer(live: LiveSitting, count: int) -> bool:
    return len(live.entries) > count


def _answered(live: LiveSitting, item: int) -> bool:
    return item in live.state.usability


async def at_ease(app: FreshChair, pilot: Pilot[None]) -> LiveSitting:
    live = await seated(app, pilot)
    await pilot.press("enter")
    await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
    await pilot.press("u")
    await until(pilot, lambda: live.state.phase is Phase.EASE and app.screen.query_one(ChoiceLine).asking)
    return live


async def hand_over(app: FreshChair, pilot: Pilot[None], key: str = "ü") -> None:
    await pilot.press("h")
    await until(pilot, lambda: app.screen.query_one(WordLine).asking)
    app.screen.query_one(WordLine).query_one(Input).value = key
    await pilot.press("enter")
    await until(pilot, lambda: isinstance(app.screen, HandOver))


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_ease_is_answered_and_only_the_moderators_key_leads_back(
    opened: OpenStudy, size: tuple[int, int]
) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=size) as pilot:
        live = await at_ease(app, pilot)
        await hand_over(app, pilot)
        await until(pilot, shows(app, "how difficult or easy", "very easy"))
        seen = picture(app)
        for secret in (opened.study.title, live.seat.participant, "journal", "unaided", "Plan", "00:"):
            assert secret not in seen
        await pilot.press("escape", "ctrl+q", "ctrl+c", "q", "9", "0", "enter", "tab", "f1")
        assert isinstance(app.screen, HandOver)
        assert live.state.phase is Phase.EASE
        await pilot.press("6")
        await until(pilot, shows(app, "Please give the keyboard back"))
        await pilot.press("2", "3", "escape")
        assert isinstance(app.screen, HandOver)
        await pilot.press("ü")
        await until(pilot, lambda: isinstance(app.screen, Sit))
        assert live.state.attempts[0].ease == 6
        assert [e.content for e in live.entries if isinstance(e.content, j.EaseRated)] == [j.EaseRated(6)]


async def test_the_usability_scale_is_answered_one_by_one_and_can_be_taken_back_half_way(
    opened: OpenStudy,
) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await at_ease(app, pilot)
        await pilot.press("5")
        await until(pilot, lambda: live.state.phase is Phase.READING)
        while live.state.phase is Phase.READING:
            count = len(live.entries)
            await pilot.press("x", "t", "enter")
            await until(pilot, partial(_longer, live, count))
        await until(pilot, lambda: live.state.phase is Phase.USABILITY and app.screen.query_one(ChoiceLine).asking)
        await hand_over(app, pilot, "ü")
        await until(pilot, shows(app, "like to use this computer frequently"))
        await pilot.press("4", "2", "-", "7")
        await until(pilot, shows(app, "support of a technical person"))
        await pilot.press("ü")
        await until(pilot, lambda: isinstance(app.screen, Sit) and app.screen.query_one(ChoiceLine).asking)
        assert live.state.usability == {1: 4, 2: 2, 3: None}
        await hand_over(app, pilot, "ü")
        for item in range(4, 11):
            await pilot.press("3")
            await until(pilot, partial(_answered, live, item))
        await until(pilot, shows(app, "Please give the keyboard back"))
        await pilot.press("ü")
        await until(pilot, lambda: isinstance(app.screen, Sit))
        assert live.state.answers == (4, 2, None, 3, 3, 3, 3, 3, 3, 3)


async def test_a_number_cannot_be_the_way_back(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await at_ease(app, pilot)
        await pilot.press("h")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        await pilot.press("3", "enter")
        await until(pilot, shows(app, "One letter or sign, and no number"))
        await pilot.press("escape")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)


async def test_an_answer_that_cannot_be_kept_is_not_shown_as_kept(
    opened: OpenStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await at_ease(app, pilot)
        await hand_over(app, pilot)

        def full(*_: object) -> None:
            raise NotSaved("The disk is full.", "")

        monkeypatch.setattr(opened.journals, "append", full)
        monkeypatch.setattr(spool, "places", list)
        await pilot.press("5")
        await until(pilot, shows(app, "give the keyboard back for a moment", "how difficult"))
        assert "disk" not in picture(app)
        monkeypatch.undo()
        await pilot.press("5")
        await until(pilot, lambda: live.state.attempts[0].ease == 5)


async def test_free_words_are_typed_by_the_participant_and_no_key_of_theirs_leads_back(
    opened: OpenStudy, clock: FakeClock
) -> None:
    questions = (
        StudyQuestion(id="lend", ask="Would you take it home?", kind="choice", choices=("yes", "no")),
        StudyQuestion(id="missed", ask="What did you miss?", kind="words"),
    )
    opened.amend(replace(opened.study, sheet=replace(opened.study.sheet, questions=questions)))
    live = through_cards(opened, clock, opened.study.seats[0])
    live.beat(clock.now())
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "was cut short"))
        await pilot.press("enter")
        await until(pilot, shows(app, "Would you take it home?"))
        await hand_over(app, pilot, "ü")
        await until(pilot, shows(app, "1  yes", "2  no"))
        await pilot.press("x", "1")
        await until(pilot, shows(app, "What did you miss?", "Enter alone leaves it out"))
        # Their words may hold the moderator's key as well.
        await pilot.press(*"a biün", "backspace", "backspace", *"n", "escape", "enter")
        await until(pilot, shows(app, "Thank you."))
        assert live.opened.sittings[live.seat.number].asked["missed", 0].words == "a bin"
        await pilot.press("q", "1", "escape")
        await until(pilot, shows(app, "Thank you."))
        await pilot.press("ü")
        await until(pilot, shows(app, "ends the sitting"))
