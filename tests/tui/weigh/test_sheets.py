"""Weigh's first page and its sheets: each opens from the answer, does what its keys say, and goes back."""

import pytest
from textual.pilot import Pilot
from textual.widgets import Input

from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.base.sheet import SheetScreen
from fresh_chair.tui.weigh.screen import Weigh
from fresh_chair.tui.widgets.asking import ChoiceLine, WordLine
from tests.tui.conftest import SIZES, WIDE, picture, shows, until

OPENED = {
    "machine": ("m", "waits, restarts, hands against elapsed"),
    "routes": ("r", "first choice right"),
    "comparisons": ("c", "18 over all tasks"),
    "across": ("e", "findings met by newcomers"),
    "verdicts": ("v", "without a verdict"),
    "scorecard": ("s", "gets it done"),
    "contradictions": ("x", "without an answer"),
}


def sheet_of(app: FreshChair) -> str:
    return app.screen.sheet_name if isinstance(app.screen, SheetScreen) else ""


async def weighed(pilot: Pilot[None], app: FreshChair) -> None:
    await pilot.press("5")
    await until(pilot, lambda: isinstance(app.screen, Weigh))
    await until(pilot, shows(app, "who fared better"), most=3000)


async def typed(pilot: Pilot[None], app: FreshChair, words: str) -> None:
    await until(pilot, lambda: app.screen.query_one(WordLine).asking)
    app.screen.query_one(Input).value = words
    await pilot.press("enter")


async def chosen(pilot: Pilot[None], app: FreshChair, key: str) -> None:
    await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
    await pilot.press(key)


@pytest.mark.parametrize("size", SIZES)
async def test_every_sheet_opens_from_the_answer_and_goes_back(demo: OpenStudy, size: tuple[int, int]) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=size) as pilot:
        for name, (key, words) in OPENED.items():
            await weighed(pilot, app)
            await pilot.press(key)
            await until(pilot, lambda name=name: sheet_of(app) == name, most=3000)  # type: ignore[misc]
            await until(pilot, shows(app, words), most=3000)
            await pilot.press("escape")
            await until(pilot, lambda: isinstance(app.screen, Weigh))


@pytest.mark.parametrize("size", SIZES)
async def test_the_first_page_has_the_chairs_and_how_sure_one_can_be(demo: OpenStudy, size: tuple[int, int]) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=size) as pilot:
        await pilot.press("5")
        await until(pilot, shows(app, "A Saltmarsh 9", "who fared better", "open against B, C", "worst findings"))
        if size == WIDE:
            await until(pilot, shows(app, "C Oakum 24", "enough: ease", "Nothing was told that could turn."), most=3000)


async def test_times_and_intervals_are_changed_for_all_figures(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await weighed(pilot, app)
        await pilot.press("t", "right")
        await until(pilot, shows(app, "elapsed time:", "adjusted Wald"), most=3000)
        await pilot.press("i")
        await until(pilot, shows(app, "Clopper-Pearson"), most=3000)
        assert "expert" not in picture(app)
        await pilot.press("t", "i")
        await until(pilot, shows(app, "hands time:", "adjusted Wald", "expert"), most=3000)


async def test_a_verdict_is_asked_for_revised_and_opened_again(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await weighed(pilot, app)
        await pilot.press("v")
        await until(pilot, shows(app, "5 records"))
        await pilot.press("a")
        await chosen(pilot, app, "3")
        await chosen(pilot, app, "4")
        await chosen(pilot, app, "2")
        await typed(pilot, app, "memory is added")
        await typed(pilot, app, "it swapped all day")
        await until(pilot, shows(app, "6 records"))
        told = [held.record for held in evidence_of_kind(demo, "verdict")][-1]
        assert (told.chair, told.audience, told.says) == ("C", "old hardware", "recommended if")  # type: ignore[union-attr]
        await pilot.press("end", "m")
        await until(pilot, shows(app, "open again"))
        await pilot.press("v")
        await chosen(pilot, app, "4")
        await typed(pilot, app, "nobody adds memory")
        await until(pilot, shows(app, "7 records"))
        assert [held.record for held in evidence_of_kind(demo, "verdict")][-1].revises == f"verdict:{told.id}"  # type: ignore[union-attr]


async def test_a_score_is_given_with_its_reason_and_the_card_opens_to_its_evidence(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await weighed(pilot, app)
        await pilot.press("s")
        await until(pilot, shows(app, "A firm rank is no test"), most=3000)
        await pilot.press("s")
        await chosen(pilot, app, "1")
        await chosen(pilot, app, "2")
        await typed(pilot, app, "3")
        await typed(pilot, app, "nobody came back")
        await until(pilot, lambda: len(evidence_of_kind(demo, "score")) == 4)
        await until(pilot, shows(app, "none"))
        await pilot.press("enter")
        await until(pilot, shows(app, "0.4 gives 0, 1 gives 10", "P01 at A"))
        await pilot.press("right")
        await until(pilot, shows(app, "for old hardware, 2 of 2"))
        await pilot.press("c")
        await until(pilot, shows(app, "criteria", "6 records"))
        await pilot.press("escape")
        await until(pilot, shows(app, "1 of 2"))


async def test_a_contradiction_is_answered_where_it_stands(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await weighed(pilot, app)
        await pilot.press("x")
        await until(pilot, shows(app, "3 without an answer"))
        await pilot.press("s")
        await typed(pilot, app, "it is said at the counter")
        await until(pilot, shows(app, "2 without an answer"))
        await pilot.press("c")
        await typed(pilot, app, "the verdict")
        await until(pilot, shows(app, "1 without an answer"))


async def test_all_comparisons_are_drawn_on_one_axis_with_each_persons_times(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await weighed(pilot, app)
        await pilot.press("c")
        await until(pilot, shows(app, "18 over all tasks"))
        await pilot.press("d")
        await until(pilot, shows(app, "the first less the second", "Dark screen"))
        for _ in range(40):
            await pilot.press("down")
        await until(pilot, shows(app, "of each person", "P01"))
        await pilot.press("d")
        await until(pilot, shows(app, "over all tasks", "Holm"))


async def test_figures_are_laid_out_anew_where_the_room_beside_them_changes(demo: OpenStudy) -> None:
    """The terminal keeps its size: a column that comes and goes beside the figures is enough."""

    def chairs_across() -> bool:
        head = next(row for row in picture(app).splitlines() if "A Saltmarsh" in row)
        return "B Lanternwood" in head

    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await weighed(pilot, app)
        await until(pilot, chairs_across)
        # Nothing is computed any more that would have it drawn again.
        await until(pilot, shows(app, "How sure, and what it hangs on"), most=3000)
        app.screen.query_one("#tasks").styles.display = "block"
        await until(pilot, lambda: not chairs_across())
        app.screen.query_one("#tasks").styles.display = "none"
        await until(pilot, chairs_across)
