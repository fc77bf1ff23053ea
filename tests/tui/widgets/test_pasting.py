"""Pasting into a line: all of its lines, cleaned, as they will be kept."""

from textual import events
from textual.widgets import Input

from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.plan.screen import Plan
from tests.tui.conftest import WIDE, typed, until


async def test_two_pasted_lines_are_both_there_and_nothing_acts_on_the_terminal(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Plan) and demo.loaded)
        await typed(app, "a", "p", "ctrl+u")
        field = app.focused
        assert isinstance(field, Input)
        app.post_message(events.Paste("one\r\ntwo\x9b\u202e3\x1b[31m\n"))
        await typed(app, "x")
        assert field.value.startswith("one¶two")
        assert field.value.endswith("x")
        assert field.value.isprintable()
