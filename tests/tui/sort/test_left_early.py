"""Questions in a chain that are left: what was answered is kept, as a record or for the next time."""

from fresh_chair.core.findings.state.parts import Workaround
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.sort.page import FindingSheet
from tests.tui.conftest import WIDE, shows, typed, until


async def at_the_page(app: FreshChair, pilot: object) -> FindingSheet:
    finding = next(iter(app.session.opened.findings.by_id))
    from fresh_chair.tui.base.sheets import OpenSheet

    app.post_message(OpenSheet("finding", finding))
    await until(pilot, lambda: isinstance(app.screen, FindingSheet))  # type: ignore[arg-type]
    assert isinstance(app.screen, FindingSheet)
    return app.screen


async def test_a_way_round_left_late_is_kept_with_what_was_said(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        page = await at_the_page(app, pilot)
        before = len(list(page.of.held("workaround")))
        await typed(app, "w")
        await typed(app, *"again", "enter", "1", "escape")
        held = [part for part in page.of.held("workaround") if isinstance(part, Workaround)]
        assert len(held) == before + 1
        assert held[-1].steps == "again"


async def test_a_trial_left_too_early_waits_for_the_next_time(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        page = await at_the_page(app, pilot)
        before = len(list(page.of.held("trial")))
        await typed(app, "t")
        await typed(app, *"cable", "enter", "escape")
        await until(pilot, shows(app, "kept for the next time; still to come: result"))
        await typed(app, "t")
        await typed(app, "enter", "1", "escape")
        held = list(page.of.held("trial"))
        assert len(held) == before + 1
        assert getattr(held[-1], "tried", "") == "cable"
