"""A sitting by keyboard: each key one mark, every question answered or put off."""

import re
from functools import partial

import pytest
from textual import events
from textual.pilot import Pilot
from textual.widgets import Input

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import NotSaved
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.store import spool as spool
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.base.frame import BottomLine
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.sit.resume import Resume
from fresh_chair.tui.sit.screen import Sit
from fresh_chair.tui.widgets.asking import ChoiceLine, WordLine
from tests.builders import FakeClock
from tests.tui.conftest import SIZES, WIDE, picture, shows, until


def _answered(live: LiveSitting, count: int) -> bool:
    return len(live.state.usability) == count


async def nothing_more_agreed(app: FreshChair, pilot: Pilot[None]) -> None:
    """Say what is said first, and put down no to what is asked as the person likes."""
    while "start the clock" not in picture(app):
        await pilot.press("n" if app.screen.query_one(ChoiceLine).asking else "enter")
        await pilot.pause()


async def seated(app: FreshChair, pilot: Pilot[None]) -> LiveSitting:
    """Seat whoever is next, and start the first card."""
    await until(pilot, lambda: isinstance(app.screen, Place))
    await pilot.press("enter")
    await until(pilot, lambda: isinstance(app.screen, Sit))
    if isinstance(app.screen, Sit) and app.screen.before:
        await pilot.press("enter")
        await until(pilot, lambda: app.session.live is not None)
        await nothing_more_agreed(app, pilot)
    await pilot.press("enter")
    await until(pilot, lambda: app.session.live is not None and app.session.live.state.phase is Phase.RUNNING)
    assert app.session.live is not None
    return app.session.live


async def test_keys_typed_ahead_of_a_question_answer_it_and_lead_nowhere(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        await pilot.press("f", "enter")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        # Two keys at once: the second is there before its question, and 5 would lead to Weigh.
        for key in ("h", "5"):
            app.post_message(events.Key(key, key))
        await until(pilot, lambda: live.state.phase is not Phase.EASE and bool(live.state.done))
        assert isinstance(app.screen, Sit)
        assert live.state.attempts[0].ease == 5


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_a_whole_sitting_by_keyboard(opened: OpenStudy, clock: FakeClock, size: tuple[int, int]) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=size) as pilot:
        live = await seated(app, pilot)
        clock.pass_seconds(10)
        await pilot.press("w")
        clock.pass_seconds(7)
        await pilot.press("w", "p", "h")
        clock.pass_seconds(3)
        await pilot.press("s", *"menu opens twice", "enter")
        clock.pass_seconds(2)
        await pilot.press("f", "enter")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press("h")
        await until(pilot, lambda: live.state.phase is Phase.EASE and app.screen.query_one(ChoiceLine).asking)
        await pilot.press("4")
        await until(pilot, lambda: live.state.phase is Phase.READING)
        attempt = live.state.attempts[0]
        assert [attempt.lane_ns(lane) // SECOND for lane in Lane] == [15, 7, 0]
        assert (attempt.outcome, attempt.ease, attempt.helped, attempt.wrong_places) == (Outcome.HELPED, 4, 1, 1)
        assert [remark.words for remark in live.state.remarks.values()] == ["menu opens twice"]
        await pilot.press("x", *"no time left", "enter")
        await until(pilot, lambda: live.state.phase is Phase.USABILITY and app.screen.query_one(ChoiceLine).asking)
        for item in range(1, 11):
            await pilot.press("3" if item != 4 else "-")
            await until(pilot, partial(_answered, live, item))
            await pilot.pause()
        await until(pilot, lambda: live.state.phase is Phase.CLOSING and not app.screen.query_one(ChoiceLine).asking)
        await pilot.press("enter")
        await until(pilot, lambda: live.state.phase is Phase.ENDED)
        assert "System Usability Scale  50.0 of 100 (one answer missing" in picture(app)


async def test_the_moment_is_that_of_the_key_and_words_may_wait(opened: OpenStudy, clock: FakeClock) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        clock.pass_seconds(31)
        await pilot.press("s")
        clock.pass_seconds(20)
        await pilot.press("escape")
        (remark,) = live.state.remarks.values()
        assert (remark.at_ns, remark.words) == (31 * SECOND, "")
        assert "words to come: 1" in picture(app)
        await pilot.press("e", *"later words", "enter")
        await until(pilot, lambda: remark.words == "later words")
        assert remark.at_ns == 31 * SECOND


async def test_while_words_are_typed_digits_and_letters_are_words_and_the_clock_is_seen(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=(80, 24)) as pilot:
        live = await seated(app, pilot)
        before = len(live.entries)
        await pilot.press("s", *"1w6 q?")
        await pilot.pause()
        assert app.screen.query_one(Input).value == "1w6 q?"
        assert isinstance(app.screen, Sit)
        assert len(live.entries) == before + 1
        assert "hands" in picture(app)
        assert "limit" in picture(app)


async def test_escape_after_a_stop_lets_the_clock_run_on(opened: OpenStudy, clock: FakeClock) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        clock.pass_seconds(10)
        await pilot.press("enter")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        clock.pass_seconds(5)
        await pilot.press("escape")
        await until(pilot, lambda: live.state.phase is Phase.RUNNING)
        assert live.state.attempts[0].lane_ns(Lane.HANDS, live.state.time_at(clock.now())) == 15 * SECOND


async def test_void_asks_for_a_reason_and_takes_no_empty_one(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        await pilot.press("enter")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press("v")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        await pilot.press("enter")
        await pilot.pause()
        assert live.state.phase is Phase.JUDGING
        assert "needs a reason" in picture(app)
        await pilot.press(*"power cut", "enter")
        await until(pilot, lambda: live.state.phase is Phase.READING)
        assert (live.state.attempts[0].outcome, live.state.attempts[0].reason) == (Outcome.VOID, "power cut")


async def test_what_was_said_done_and_was_not_is_pointed_at_calmly(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await seated(app, pilot)
        await pilot.press("f", "enter")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press("p")
        await until(pilot, lambda: "Said done, was not" in picture(app))


async def test_take_back_strikes_the_last_entry_and_an_unknown_key_does_nothing(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        await pilot.press("p", "u")
        await until(pilot, lambda: live.state.attempts[0].wrong_places == 0)
        before = len(live.entries)
        await pilot.press("ö", "Q", "f9", "8")
        await pilot.pause()
        assert len(live.entries) == before
        assert isinstance(app.screen, Sit)


async def test_the_clock_runs_in_every_place_and_the_limit_ends_nothing(opened: OpenStudy, clock: FakeClock) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        clock.pass_seconds(75)
        await until(pilot, lambda: "past the limit by 00:15" in picture(app))
        assert live.state.phase is Phase.RUNNING
        for digit in "12456":
            await pilot.press(digit)
            await until(pilot, lambda: "01:15 of 01:00 hands" in picture(app))
        await pilot.press("3")
        await until(pilot, lambda: isinstance(app.screen, Sit) and "past the limit" in picture(app))


async def test_a_mark_the_disk_refuses_is_not_shown(opened: OpenStudy, monkeypatch: pytest.MonkeyPatch) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)

        def refuse(*_: object) -> None:
            raise NotSaved("The disk that holds small.fresh is full.", "This was not saved.")

        before = list(live.entries)
        monkeypatch.setattr(opened.journals, "append", refuse)
        monkeypatch.setattr(spool, "places", list)
        await pilot.press("p")
        await until(pilot, lambda: "is full" in picture(app))
        # The bottom line names the key in the same words; a line of the journal begins with a time.
        assert not re.search(r"\d\d:\d\d  wrong place", picture(app))
        assert live.entries == before
        assert live.state.attempts[0].wrong_places == 0
        monkeypatch.undo()
        await pilot.press("p")
        await until(pilot, lambda: re.search(r"\d\d:\d\d  wrong place", picture(app)))
        assert live.state.attempts[0].wrong_places == 1


async def test_breaking_off_needs_a_reason_and_keeps_what_was_done(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        await pilot.press("backspace", *"called away", "enter")
        await until(pilot, lambda: live.state.phase is Phase.BROKEN_OFF)
        assert "broken off: called away" in picture(app)


@pytest.mark.parametrize(
    ("key", "aside", "void"), [("a", 100, False), ("c", 0, False), ("v", 100, True)], ids=["aside", "count", "void"]
)
async def test_a_sitting_cut_short_is_offered_and_the_gap_asked_about(
    opened: OpenStudy, clock: FakeClock, key: str, aside: int, void: bool
) -> None:
    live = LiveSitting(opened, opened.study.seats[0])
    live.begin(clock.now())
    live.log(j.AttemptStarted(live.seat.cards[0]), clock.now())
    clock.pass_seconds(20)
    live.beat(clock.now())
    clock.pass_seconds(100)
    app = FreshChair(opened)
    async with app.run_test(size=(80, 24)) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Resume))
        await until(pilot, shows(app, "Nothing was logged for 01:40"))
        await pilot.press(key)
        await until(pilot, lambda: isinstance(app.screen, Sit))
        attempt = app.session.opened.sittings[live.seat.number].attempts[0]
        assert (attempt.outcome is Outcome.VOID) is void
        assert attempt.lane_ns(Lane.ASIDE) == aside * SECOND


async def test_a_sitting_left_for_later_stays_open_and_is_offered_from_the_board(
    opened: OpenStudy, clock: FakeClock
) -> None:
    live = LiveSitting(opened, opened.study.seats[0])
    live.begin(clock.now())
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Resume))
        await pilot.press("l")
        await until(pilot, lambda: isinstance(app.screen, Place))
        await until(pilot, shows(app, "sitting now"))
        await pilot.press("left", "left", "up", "up", "enter")
        await until(pilot, lambda: isinstance(app.screen, Resume))
        await pilot.press("enter")
        await until(pilot, lambda: isinstance(app.screen, Sit))


async def test_every_shown_key_is_one_of_eight_and_ends_comes_first_while_running(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=(80, 24)) as pilot:
        await seated(app, pilot)
        shown = app.screen.query_one(BottomLine).shown()
        assert len(shown) <= 8
        assert shown[0].id == "sit.stop"
