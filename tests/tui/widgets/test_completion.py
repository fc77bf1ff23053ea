"""Enter takes the completion that is shown; Tab keeps the letters as they were typed, and the bottom line says so."""

from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tui.app import FreshChair
from tests.tui.conftest import WIDE, shows, typed, until
from tests.tui.sit.test_walking import walking


async def test_enter_takes_what_is_shown_and_tab_keeps_the_letters(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await walking(app, pilot)
        await typed(app, "enter", *"card")
        await until(pilot, shows(app, "Tab", "your letters as they are", "takes what is shown"))
        await typed(app, "enter")
        await typed(app, "enter", *"car", "tab")
        await typed(app, "enter", *"nothing", "space", *"like", "space", *"it", "enter")
        walk = live.state.walk
        await until(pilot, lambda: walk is not None and len(walk.steps) == 3)
        assert walk is not None
        titles = [step.title for step in walk.steps]
        assert titles[0] in ("Card 1", "Card 2")
        assert titles[1:] == ["car", "nothing like it"]
