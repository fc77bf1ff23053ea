"""Beside the moderator: a second observer in another program, and a sitting that is logged from a recording."""

from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import pytest
from textual import events
from textual.pilot import Pilot
from textual.widgets import Input

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.plan.people import Consent
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.recording import RecordedSitting, open_recording
from fresh_chair.services.study.open_study import OpenStudy, observer_name, open_study
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.plan.widgets.seating_board import SeatingBoard
from fresh_chair.tui.sit.screen import Sit
from fresh_chair.tui.widgets.asking import ChoiceLine, WordLine
from tests.builders import FakeClock
from tests.store.sqlite.test_study_file import begin
from tests.tui.conftest import SIZES, WIDE, picture, shows, typed, until


@pytest.fixture
def beside(opened: OpenStudy) -> Iterator[OpenStudy]:
    """The same study as a second observer has it."""
    opened = open_study(opened.beside, observe=True, author="Mo")
    opened.clock = opened.clock
    yield opened
    opened.close()


def in_hand(app: FreshChair) -> Callable[[], bool]:
    return lambda: app.session.live is not None and isinstance(app.screen, Sit)


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_an_observer_sees_what_is_logged_and_logs_beside_it(
    opened: OpenStudy, beside: OpenStudy, clock: FakeClock, size: tuple[int, int]
) -> None:
    app = FreshChair(beside)
    async with app.run_test(size=size) as pilot:
        await until(pilot, shows(app, "Mo watches", "You watch as Mo"))
        live = begin(opened)
        # As soon as somebody sits down, the observer is there; no key is pressed for it.
        await until(pilot, in_hand(app))
        clock.pass_seconds(5)
        live.log(j.WrongPlace(), clock.now())
        await until(pilot, shows(app, "wrong place"))
        clock.pass_seconds(5)
        await pilot.press("s", *"looked twice", "enter")
        await until(pilot, shows(app, "snag: looked twice · Mo"))
        # What only the moderator does is no key of the observer's.
        await pilot.press("enter", "w", "a", "backspace", "x")
        assert live.read_on()
        assert live.state.phase is Phase.RUNNING
        marks = [(entry.author, entry.content.kind) for entry in live.entries[3:]]
        assert marks == [
            ("Mo", "observer_joined"), ("moderator", "wrong_place"), ("Mo", "snag"), ("Mo", "worded"),
        ]  # fmt: skip
        assert [line.text for line in live.lines(1)] == ["snag: looked twice · Mo"]
        # An observer's marks stand apart from the counts.
        assert (live.state.attempts[0].snags, live.state.attempts[0].wrong_places) == (0, 1)
        await pilot.press("u")
        await until(pilot, lambda: live.read_on())
        assert [entry.content.kind for entry in live.entries[-1:]] == ["struck"]
        await pilot.press("u")
        assert live.state.attempts[0].wrong_places == 1
        live.break_off("it is late", clock.now())
        await until(pilot, shows(app, "broken off: it is late"))
    assert check_file(opened.beside)[2].problems == ()


async def test_the_moderator_sees_the_observers_marks(opened: OpenStudy, beside: OpenStudy, clock: FakeClock) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "seats this person"))
        await pilot.press("enter")
        await until(pilot, in_hand(app))
        await pilot.press("enter")
        live = app.session.live
        assert live is not None
        await until(pilot, lambda: live.state.phase is Phase.RUNNING)
        other = LiveSitting(beside, beside.study.seat(live.seat.number))
        other.read_on()
        other.join(clock.now())
        other.log(j.QuoteTaken("where has it gone"), clock.now())
        await until(pilot, shows(app, "Mo watches too", "quote: where has it gone"))
        await pilot.press("p")
        other.log(j.WrongPlace(), clock.now())
        await pilot.press("h")
        await until(pilot, lambda: len(live.entries) == 8)
    assert [entry.id for entry in opened.journals.all()[live.seat.number]] == [entry.id for entry in live.entries]


def test_an_observer_corrects_their_own_and_moderates_nothing(
    opened: OpenStudy, beside: OpenStudy, clock: FakeClock
) -> None:
    live = begin(opened)
    snag = live.log(j.SnagSeen("the moderator's"), clock.now())
    other = LiveSitting(beside, beside.study.seat(live.seat.number))
    other.read_on()
    other.join(clock.now())
    with pytest.raises(Refused, match="somebody else's"):
        other.log(j.Worded(snag.id, "not mine"), clock.now())
    with pytest.raises(Refused, match="Only the moderator"):
        other.log(j.AttemptStopped(), clock.now())
    with pytest.raises(Refused):
        beside.require_moderating()
    own = other.log(j.SnagSeen("mine"), clock.now())
    other.log(j.Worded(own.id, "mine, in other words"), clock.now())
    assert other.undo(clock.now()).content.kind == "worded"


@pytest.mark.parametrize("name", ["", "  ", "moderator", "x" * 41, "a\x1b[2J"])
def test_an_observers_name_is_one(name: str) -> None:
    with pytest.raises(InputError, match="name"):
        observer_name(name)


async def from_recording(app: FreshChair, pilot: Pilot[None], text: str) -> RecordedSitting:
    """Log the sitting in hand on the board from a recording."""
    await until(pilot, shows(app, "seats this person"))
    await pilot.press("r")
    await until(pilot, lambda: isinstance(app.focused, Input))
    await pilot.press(*text, "enter")
    await until(pilot, shows(app, f"There is no {text.split()[0]} here"))
    await pilot.press("l")
    await until(pilot, shows(app, "recorded when?"))
    await pilot.press("enter")
    await until(pilot, shows(app, "No file here tells when it was recorded"))
    await pilot.press(*"2026-11-09T10:00", "enter")
    await until(pilot, in_hand(app))
    assert isinstance(app.session.live, RecordedSitting)
    return app.session.live


async def test_a_recording_that_is_not_here_is_asked_about_and_nothing_begins_without_a_word(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "seats this person"))
        await typed(app, "r", *"gone.webm", "enter")
        await until(pilot, shows(app, "There is no gone.webm here"))
        await typed(app, "escape", "escape")
        assert not opened.entries
        (opened.beside.parent / "here.webm").write_bytes(b"")
        # What was typed stands there again, to be mended or taken away.
        await typed(app, "r")
        await until(pilot, lambda: app.screen.query_one(WordLine).query_one(Input).value == "gone.webm")
        await typed(app, "ctrl+u", *"here.webm", "enter")
        await until(pilot, shows(app, "empty: the file's own date"))


async def test_an_attempt_of_no_time_in_a_recording_is_asked_about(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await from_recording(app, pilot, "p01.webm")
        await until(pilot, shows(app, "start the clock"))
        await typed(app, "enter", "enter")
        await until(pilot, shows(app, "the recording has not moved since the start"))
        await typed(app, "escape")
        assert [entry.content.kind for entry in live.entries][-1:] == ["attempt_started"]
        await typed(app, "enter", "0")
        await until(pilot, shows(app, "how did it end?"))
        assert [entry.content.kind for entry in live.entries][-1:] == ["attempt_stopped"]


async def test_a_sitting_is_logged_from_a_recording_with_its_time_codes(opened: OpenStudy, tmp_path: Path) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await from_recording(app, pilot, "p01.webm 2:00")
        await until(pilot, shows(app, "p01.webm stands at 02:00"))
        await pilot.press("slash")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        await pilot.press(*"1:10", "enter")
        await until(pilot, shows(app, "The sitting begins at 02:00 of the recording."))
        await pilot.press("escape")
        app.screen.post_message(events.Paste("2:10"))
        await until(pilot, shows(app, "stands at 02:10"))
        await pilot.press("enter")
        await until(pilot, lambda: live.state.phase is Phase.RUNNING)
        await pilot.press("right", "right", "right")
        await pilot.press("p")
        await pilot.press("right", "enter")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press("u")
        await until(pilot, lambda: live.state.phase is Phase.EASE)
        await pilot.press("4")
        attempt = live.state.attempts[0]
        await until(pilot, lambda: attempt.ease == 4)
        assert (attempt.started_ns, attempt.elapsed_ns()) == (10 * SECOND, 20 * SECOND)
        assert [tick.at_ns for tick in attempt.ticks if tick.kind == "wrong_place"] == [25 * SECOND]
        # Gone back in it: a mark is put in late, where it belongs; a clock is not.
        await pilot.press("left", "left")
        await until(pilot, shows(app, "what is marked here is marked late"))
        await pilot.press("s", *"a small cross", "enter")
        await until(pilot, lambda: live.state.attempts[0].snags == 1)
        await pilot.press("enter")
        await until(pilot, shows(app, "The recording stands before the last mark"))
        assert live.state.attempts[0].outcome is Outcome.UNAIDED
        assert "p01.webm" in picture(app)
    again = open_study(opened.beside, write=False)
    sitting = again.sittings[live.seat.number]
    assert sitting.recording == ("p01.webm", 120.0)
    assert sitting.attempts[0].snags == 1
    again.close()


async def test_a_recorded_sitting_is_taken_up_where_it_stood_and_nothing_is_asked(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await from_recording(app, pilot, "p01.webm")
        await pilot.press("right", "enter")
        await until(pilot, lambda: live.state.phase is Phase.RUNNING)
    again = FreshChair(opened)
    async with again.run_test(size=WIDE) as pilot:
        await until(pilot, shows(again, "P01"))
        # It waits, and stops nobody from sitting down for real.
        assert opened.cut_short() == []
        again.screen.query_one(SeatingBoard).choose(live.seat.participant, live.seat.chair)
        await pilot.press("enter")
        await until(pilot, in_hand(again))
        await until(pilot, shows(again, "p01.webm stands at 00:05"))
        taken = again.session.live
        assert isinstance(taken, RecordedSitting)
        assert taken.state.phase is Phase.RUNNING
        await pilot.press("space")
        await until(pilot, shows(again, "p01.webm plays at"))
        await until(pilot, lambda: taken.player.position_ns > 5 * SECOND)
        await pilot.press("space")
        await until(pilot, shows(again, "p01.webm stands at"))


async def test_nobody_sits_in_a_second_sitting_while_the_first_is_open_be_it_a_recording(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await from_recording(app, pilot, "p01.webm")
        others = [s for s in opened.study.seats if s.participant == live.seat.participant and s != live.seat]
        second = LiveSitting(opened, others[0])
        with pytest.raises(Refused, match=f"sits in sitting {live.seat.number} already"):
            second.begin(opened.clock.now())
        with pytest.raises(Refused, match="already"):
            open_recording(opened, others[0].number, "again.webm")
        somebody_else = next(s for s in opened.study.seats if s.participant != live.seat.participant)
        LiveSitting(opened, somebody_else).begin(opened.clock.now())
        assert opened.phase(somebody_else.number) is Phase.READING


async def test_what_is_not_agreed_to_is_read_out_live_and_not_to_a_recording(opened: OpenStudy) -> None:
    consents = (Consent(id="quotes", words="to being quoted", needed=False),)
    opened.amend(replace(opened.study, sheet=replace(opened.study.sheet, consents=consents)))
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await from_recording(app, pilot, "p01.webm")
        await until(pilot, shows(app, "start the clock", "p01.webm stands at"))
        assert "min left" not in picture(app)
        await pilot.press("1")
        await until(pilot, shows(app, "is the plan ready"))
        await pilot.press("n", "enter")
        await until(pilot, shows(app, "do you agree to being quoted (as you like)?", "the first card"))
