"""What is said as a study opens, and what still comes as the application ends."""

import pytest

from fresh_chair.core.errors import Refused
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.tui.app import FreshChair, count_again
from fresh_chair.tui.base.frame import Spine
from fresh_chair.tui.plan.screen import Plan
from tests.tui.conftest import WIDE, picture, until


async def test_how_it_was_opened_is_never_said_over_the_answer_to_a_key_that_was_quicker(demo: OpenStudy) -> None:
    app = FreshChair(open_study(demo.beside, write=False))
    app.call_later(lambda: app.say_problem(Refused("No answer to", "Ask again.")))
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: "No answer to" in picture(app))
        await pilot.pause()
        assert "No answer to Ask again" in picture(app)
        assert "The file may not be written" not in picture(app)


async def test_what_comes_while_the_application_ends_speaks_to_no_place(
    demo: OpenStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    spoken: list[bool] = []
    app = FreshChair(demo)

    async def late(place: Plan) -> None:
        # Its widgets go before it does, and whatever a thread has sent is still looked at.
        spoken.append(app.front is None)
        count_again(app)

    monkeypatch.setattr(Spine, "on_unmount", late, raising=False)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Plan) and demo.loaded)
    assert spoken == [True]
