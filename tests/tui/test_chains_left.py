"""Chains of questions that are left late: their answers are a record where they are enough, else proposed again."""

from textual.pilot import Pilot
from textual.widgets import Input

from fresh_chair.core.chair.records import Reading
from fresh_chair.core.evidence.records import LaterItem
from fresh_chair.core.sitting.state.walk import StepEnding
from fresh_chair.demo import sitting_kinds as kinds
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.widgets.asking import WordLine
from tests.tui.conftest import WIDE, shows, typed, until
from tests.tui.plan.test_sheets import go_to_sheet
from tests.tui.set.test_screen import at_chair
from tests.tui.sit.test_look_back import looking_at
from tests.tui.sit.test_walking import walk, walking


async def line(app: FreshChair, pilot: Pilot[None], words: str) -> None:
    """Answer the open line with these words, in place of those that stand there."""
    await until(pilot, lambda: app.screen.query_one(WordLine).asking)
    app.screen.query_one(WordLine).query_one(Input).value = words
    await typed(app, "enter")


def proposed(app: FreshChair) -> str:
    return app.screen.query_one(WordLine).query_one(Input).value


async def test_the_title_of_a_card_waits_for_its_goal(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await go_to_sheet(pilot, app, "tasks")
        await typed(app, "n")
        await line(app, pilot, "The lamp")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        await typed(app, "escape")
        await until(pilot, shows(app, "kept for the next time; still to come: its goal"))
        await typed(app, "n")
        await until(pilot, lambda: proposed(app) == "The lamp")
        await typed(app, "enter")
        await line(app, pilot, "Please make the lamp on the wall warmer.")
        await until(pilot, lambda: "The lamp" in [card.title for card in demo.study.cards])


async def test_a_late_mark_waits_for_its_reason(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    number = kinds.WATCHED
    async with app.run_test(size=WIDE) as pilot:
        await looking_at(app, pilot, number)
        before = len(demo.entries[number])
        await typed(app, "a", "1")
        await line(app, pilot, "0:31 the wrong menu")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        await typed(app, "escape")
        await until(pilot, shows(app, "still to come: why it is late"))
        await typed(app, "a", "1")
        await until(pilot, lambda: proposed(app) == "0:31 the wrong menu")
        await typed(app, "enter")
        await line(app, pilot, "nobody looked")
        await until(pilot, lambda: len(demo.entries[number]) == before + 1)


async def test_a_time_that_was_taken_is_kept_until_it_is_put_down_or_left_twice(opened: OpenStudy) -> None:
    app = FreshChair(opened)

    def readings() -> list[float | None]:
        held = [each.record for each in opened.known_chairs.of("A").held("reading")]
        return [each.low for each in held if isinstance(each, Reading)]

    async with app.run_test(size=WIDE) as pilot:
        await at_chair(pilot, app, "A")
        await pilot.press("g", "t")
        await until(pilot, shows(app, "t when it is there"))
        opened.clock.pass_seconds(4.2)  # type: ignore[attr-defined]
        await pilot.press("t", "escape")
        await until(pilot, shows(app, "4.2 s is kept: t asks for it again."))
        await pilot.press("t")
        await line(app, pilot, "the window of Quill")
        await until(pilot, lambda: proposed(app) == "4.2 s")
        await pilot.press("enter")
        await until(pilot, lambda: readings() == [4.2])
        await pilot.press("t")
        await until(pilot, shows(app, "t when it is there"))
        await pilot.press("t", "escape", "t", "escape")
        await until(pilot, shows(app, "was let go."))
        await pilot.press("t")
        await until(pilot, shows(app, "t when it is there"))
        assert readings() == [4.2]


async def test_what_may_stay_empty_keeps_no_answer_from_counting(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await walking(app, pilot)
        await typed(app, "enter", *"share", "enter", "c", "u", "escape")
        await until(pilot, lambda: walk(live).steps[0].ending is StepEnding.UNAIDED)


async def test_a_thing_put_off_needs_no_day(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "seats"))
        await typed(app, "z")
        await until(pilot, shows(app, "Nothing was put off"))
        await typed(app, "a", *"scanner", "enter", "escape")
        await until(pilot, shows(app, "still to come: its sort"))
        await typed(app, "a", "enter", "l", "escape")
        held = [each.record for each in evidence_of_kind(opened, "later")]
        assert [each.what for each in held if isinstance(each, LaterItem)] == ["scanner"]
