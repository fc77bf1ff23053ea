"""The course of a sitting by keyboard: left running, restarted, tried again, asked before and after, out of time."""

from collections.abc import Callable
from dataclasses import replace

import pytest
from textual.pilot import Pilot
from textual.widgets import Input

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import NotSaved
from fresh_chair.core.plan.sheet import StudyQuestion
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.system.clock import running_ns
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.sit import sitting_in_hand as keeping
from fresh_chair.tui.sit.resume import Resume
from fresh_chair.tui.widgets.asking import ChoiceLine, WordLine
from tests.builders import FakeClock
from tests.services.sitting.test_questions import through_cards
from tests.tui.conftest import SIZES, WIDE, picture, shows, until
from tests.tui.sit.test_sitting import seated


def asked(app: FreshChair) -> Callable[[], bool]:
    return lambda: app.screen.query_one(ChoiceLine).asking


def typing(app: FreshChair) -> Callable[[], bool]:
    return lambda: isinstance(app.focused, Input)


def at(live: LiveSitting, phase: Phase) -> Callable[[], bool]:
    return lambda: live.state.phase is phase


async def judged(app: FreshChair, pilot: Pilot[None], live: LiveSitting, key: str = "u", ease: str = "5") -> None:
    """Stop the clock, say how it ended and how easy it was."""
    await pilot.press("enter")
    await until(pilot, asked(app))
    await pilot.press(key)
    await until(pilot, lambda: live.state.phase is Phase.EASE and app.screen.query_one(ChoiceLine).asking)
    await pilot.press(ease)
    await until(pilot, lambda: live.state.phase is not Phase.EASE)


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_an_installation_goes_on_while_the_next_card_is_done(
    opened: OpenStudy, clock: FakeClock, size: tuple[int, int]
) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=size) as pilot:
        live = await seated(app, pilot)
        clock.pass_seconds(20)
        await pilot.press("i")
        await until(pilot, at(live, Phase.READING))
        first = opened.study.card_by_id[live.seat.cards[0]].title
        await until(pilot, shows(app, f"{first} runs on", "back to it"))
        clock.pass_seconds(5)
        await pilot.press("enter")
        await until(pilot, at(live, Phase.RUNNING))
        clock.pass_seconds(30)
        await pilot.press("minus")
        await until(pilot, shows(app, f"{first} ready"))
        clock.pass_seconds(10)
        await judged(app, pilot, live)
        await until(pilot, at(live, Phase.LEFT_RUNNING))
        await until(pilot, shows(app, "No card is left but what runs on."))
        clock.pass_seconds(7)
        await pilot.press("i")
        await until(pilot, at(live, Phase.RUNNING))
        clock.pass_seconds(3)
        await judged(app, pilot, live)
        await until(pilot, at(live, Phase.USABILITY))
        one, other = live.state.tried
        # The machine worked for 35 seconds, then it was ready and nobody was back for 17.
        assert [one.lane_ns(lane) // SECOND for lane in (Lane.HANDS, Lane.WAIT, Lane.ASIDE)] == [23, 35, 17]
        assert one.elapsed_ns() == 75 * SECOND
        assert (other.lane_ns(Lane.HANDS), other.elapsed_ns()) == (40 * SECOND, 40 * SECOND)
        await until(pilot, shows(app, "statement 1 of 10"))
        await pilot.press("escape", "j")
        await until(pilot, shows(app, "left running; the next card meanwhile", f"back to: {first}", f"ready: {first}"))


async def test_a_restart_is_counted_inside_the_card_and_is_the_machines_time(
    opened: OpenStudy, clock: FakeClock
) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        clock.pass_seconds(4)
        await pilot.press("comma")
        clock.pass_seconds(50)
        await pilot.press("w")
        clock.pass_seconds(2)
        await pilot.press("full_stop")
        clock.pass_seconds(8)
        attempt = live.state.attempts[0]
        assert attempt.marks == {"restart": 1, "new login": 1}
        await judged(app, pilot, live)
        assert [attempt.lane_ns(lane) // SECOND for lane in (Lane.HANDS, Lane.WAIT)] == [6, 58]
        fact = next(fact for fact in opened.facts() if fact.sitting == live.seat.number)
        assert (fact.restarts, fact.new_logins) == (1, 1)


async def test_a_card_is_tried_again_and_the_tries_stay_apart(opened: OpenStudy, clock: FakeClock) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        clock.pass_seconds(9)
        await judged(app, pilot, live, "g")
        await pilot.press("t")
        await until(pilot, asked(app))
        await pilot.press("1")
        await until(pilot, typing(app))
        await pilot.press("enter")
        await until(pilot, shows(app, "needs a reason"))
        await pilot.press(*"after a break", "enter")
        await until(pilot, lambda: live.state.card == live.seat.cards[0])
        await pilot.press("enter")
        await until(pilot, at(live, Phase.RUNNING))
        clock.pass_seconds(4)
        await judged(app, pilot, live)
        assert [(a.card, a.outcome) for a in live.state.tried] == [
            (live.seat.cards[0], Outcome.GAVE_UP),
            (live.seat.cards[0], Outcome.UNAIDED),
        ]
        facts = [fact for fact in opened.facts() if fact.sitting == live.seat.number]
        assert [fact.first_try for fact in facts] == [True, False]
        assert live.state.card == live.seat.cards[1]


async def test_breaking_off_ends_what_was_left_running_too(opened: OpenStudy, clock: FakeClock) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        await pilot.press("i")
        await until(pilot, at(live, Phase.READING))
        await pilot.press("backspace", *"called away", "enter")
        await until(pilot, at(live, Phase.BROKEN_OFF))
        assert [attempt.outcome for attempt in live.state.attempts] == [Outcome.VOID]


def with_questions(opened: OpenStudy) -> None:
    questions = (
        StudyQuestion(id="sure", ask="How sure are you?", when="after each card", low="not", high="very"),
        StudyQuestion(id="lend", ask="Would you take it home?", kind="choice", choices=("yes", "no")),
        StudyQuestion(id="missed", ask="What did you miss?", kind="words"),
    )
    sheet = replace(
        opened.study.sheet, greeting="Thank you.\nSay aloud what you look for.", ask_expectation=True,
        ask_preference=True, questions=questions,
    )  # fmt: skip
    opened.amend(replace(opened.study, sheet=sheet))


async def test_what_the_study_asks_is_asked_before_after_and_at_the_end(opened: OpenStudy, clock: FakeClock) -> None:
    with_questions(opened)
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "seats this person"))
        await pilot.press("enter")
        await until(pilot, shows(app, "say first", "Say aloud what you look for.", "the first card"))
        await pilot.press("enter")
        await until(pilot, shows(app, "start the clock"))
        live = app.session.live
        assert live is not None
        for number in (1, 2):
            await pilot.press("enter")
            await until(pilot, shows(app, "expected ease"))
            await pilot.press("6" if number == 1 else "-")
            await until(pilot, lambda: not app.screen.query_one(ChoiceLine).asking)
            await pilot.press("enter")
            await until(pilot, at(live, Phase.RUNNING))
            clock.pass_seconds(3)
            await judged(app, pilot, live)
            await until(pilot, shows(app, "How sure are you?"))
            await pilot.press("7")
            await until(pilot, lambda number=number: ("sure", number) in live.state.asked)  # type: ignore[misc]
        await until(pilot, asked(app))
        await pilot.press("x")
        # Whole on the screen, with its answers, and once more in the line that takes the key.
        await until(pilot, lambda: picture(app).count("Would you take it home?") == 2)
        await pilot.press("escape")
        # Nobody gets up before the last question was asked or left out.
        await pilot.press("enter")
        await until(pilot, asked(app))
        await pilot.press("2")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        await pilot.press(*"the bin", "enter")
        await until(pilot, lambda: ("missed", 0) in live.state.asked)
        await until(pilot, lambda: not app.screen.query_one(WordLine).asking)
        await pilot.press("enter")
        await until(pilot, at(live, Phase.ENDED))
        assert live.state.asked["lend", 0].words == "no"
        assert live.state.asked["missed", 0].words == "the bin"
        # Not yet: this person still has another chair to sit at.
        assert live.state.preference is None
        assert [a.expectation for a in live.state.tried] == [6, None]


async def test_the_promised_time_is_counted_down_and_what_to_leave_out_is_named(
    opened: OpenStudy, clock: FakeClock
) -> None:
    second, first = opened.study.cards
    opened.amend(replace(
        opened.study, cards=(replace(second, priority=3, limit_seconds=900), replace(first, priority=1)),
        sheet=replace(opened.study.sheet, minutes_per_sitting=10, minutes_apart=2),
    ))  # fmt: skip
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await seated(app, pilot)
        await until(pilot, shows(app, "10 min left"))
        assert "leave out" not in picture(app)
        clock.pass_seconds(8 * 60)
        await until(pilot, shows(app, "2 min left", "to end in time leave out Card 1"))
        clock.pass_seconds(4 * 60)
        await until(pilot, shows(app, "2 min past the promised end"))


async def test_after_the_machine_has_slept_it_asks_what_that_time_was(
    opened: OpenStudy, clock: FakeClock, monkeypatch: pytest.MonkeyPatch
) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        clock.pass_seconds(10)
        live.beat(clock.now())
        awake = running_ns()
        clock.pass_seconds(3600)
        monkeypatch.setattr(keeping, "running_ns", lambda: awake + 3600 * SECOND)
        await until(pilot, lambda: isinstance(app.screen, Resume))
        await until(pilot, shows(app, "Nothing was logged for 1:00:00"))
        await pilot.press("a")
        await until(pilot, shows(app, "resumed; the time between"))
        attempt = live.state.attempts[0]
        assert attempt.lane_ns(Lane.ASIDE) == 3600 * SECOND
        assert attempt.lane_ns(Lane.HANDS) == 10 * SECOND


async def test_the_wall_clock_set_back_a_day_moves_no_time(opened: OpenStudy, clock: FakeClock) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        clock.pass_seconds(10)
        clock.wall_ns -= 86_400 * SECOND
        await pilot.press("p")
        clock.pass_seconds(5)
        await judged(app, pilot, live)
        assert live.state.attempts[0].elapsed_ns() == 15 * SECOND


async def test_a_window_of_forty_by_twelve_and_back_loses_nothing(opened: OpenStudy, clock: FakeClock) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        await pilot.press("s", *"half a wor")
        await pilot.resize_terminal(40, 12)
        await until(pilot, shows(app, "Window too small", "hands"))
        await pilot.press("d")
        await pilot.resize_terminal(*WIDE)
        await pilot.press("enter")
        await until(pilot, shows(app, "snag: half a word"))
        assert [remark.words for remark in live.state.remarks.values()] == ["half a word"]


async def test_that_marks_lie_elsewhere_stays_said_until_they_are_back(
    opened: OpenStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        append = opened.journals.append
        monkeypatch.setattr(opened.journals, "append", _full)
        await pilot.press("p", "h")
        await until(pilot, shows(app, "wrong place", "The disk is full. 2 marks lie in a second place"))
        await pilot.press("z")
        await until(pilot, shows(app, "3 marks lie in a second place"))
        monkeypatch.setattr(opened.journals, "append", append)
        await until(pilot, shows(app, "are in the study file"))
        assert opened.spool.waiting == 0
        assert [e.id for e in opened.journals.all()[live.seat.number]] == [e.id for e in live.entries]


def _full(*_: object) -> None:
    raise NotSaved("The disk is full.", "")


async def test_an_experts_accepted_runs_are_the_benchmarks_and_are_counted(opened: OpenStudy, clock: FakeClock) -> None:
    people = tuple(replace(person, role="expert") for person in opened.study.people[:1])
    opened.amend(replace(opened.study, people=(*people, *opened.study.people[1:])))
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        clock.pass_seconds(12.5)
        await judged(app, pilot, live)
        await pilot.press("enter")
        await until(pilot, at(live, Phase.RUNNING))
        clock.pass_seconds(7)
        await judged(app, pilot, live, "h")
        await until(pilot, asked(app))
        await pilot.press("x")
        await until(pilot, at(live, Phase.CLOSING))
        await pilot.press("enter")
        await until(pilot, at(live, Phase.ENDED))
        await until(pilot, shows(app, "The expert's times are the benchmarks at A now; 1 of them changed."))
        # The second one was helped, and so is no benchmark.
        times = {card.id: card.benchmark_seconds["A"] for card in opened.study.cards}
        assert [times[card] for card in live.seat.cards] == [12.5, 10]
        newcomer = next(seat for seat in opened.study.seats if seat.participant == "P02" and seat.chair == "A")
        second = LiveSitting(opened, newcomer)
        second.begin(clock.now())
        second.log(j.AttemptStarted(newcomer.cards[0]), clock.now())
        face = second.face(clock.now())
        assert face is not None
        assert face.benchmark_ns == round(times[newcomer.cards[0]] * SECOND)
        # One that was typed in is from no run.
        assert face.benchmark_runs == (1 if newcomer.cards[0] == live.seat.cards[0] else 0)


async def test_the_chairs_are_put_in_order_one_after_another_and_left_half_said_is_nothing(
    opened: OpenStudy, clock: FakeClock
) -> None:
    opened.amend(replace(opened.study, sheet=replace(opened.study.sheet, ask_preference=True)))
    first, second = (seat for seat in opened.study.seats if seat.participant == "P01")
    through_cards(opened, clock, first).log(j.SittingEnded(), clock.now())
    through_cards(opened, clock, second).beat(clock.now())
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "was cut short"))
        await pilot.press("enter")
        await until(pilot, shows(app, "rather have?", "1  A ChairA 1", "2  B ChairB 1"))
        await pilot.press("2")
        await until(pilot, shows(app, "In a few words: why that one?"))
        await pilot.press("escape")
        await until(pilot, lambda: not app.screen.query_one(WordLine).asking)
        assert opened.sittings[second.number].preference is None
        await pilot.press("enter")
        await until(pilot, shows(app, "rather have?", "1  A ChairA 1"))
        await pilot.press("1")
        await until(pilot, shows(app, "In a few words: why that one?"))
        await pilot.press(*"calm", "enter")
        await until(pilot, lambda: opened.sittings[second.number].preference == ("A", "B"))
        await until(pilot, shows(app, "all cards done; Enter ends the sitting"))
        assert "In a few words" not in picture(app)


async def test_a_question_that_lost_the_keys_is_left_by_escape_all_the_same(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        for _ in range(2):
            # Left, the clock goes on.
            await pilot.press("enter")
            await until(pilot, asked(app))
            app.screen.set_focus(None)
            await pilot.press("escape")
            await until(pilot, lambda: not app.screen.query_one(ChoiceLine).asking and at(live, Phase.RUNNING)())
