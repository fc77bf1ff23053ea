"""Words for marks: what was said in helping, words given later and other words, none to come of a struck one."""

from fresh_chair.core.sitting import journal as j
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tui.app import FreshChair
from tests.tui.conftest import WIDE, picture, shows, typed, until
from tests.tui.sit.test_sitting import seated


async def test_a_help_takes_what_was_said_and_other_words_later(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        await typed(app, "h", "v", "e")
        await until(pilot, shows(app, "what was said, at"))
        await typed(app, *"look", "space", *"left", "enter")
        await until(pilot, shows(app, "helped: hinted: look left"))
        entry = next(entry for entry in live.entries if isinstance(entry.content, j.Helped))
        assert live.state.words_of(entry.id) == "look left"
        await typed(app, "p", "e", *"the", "space", *"bar", "enter")
        await until(pilot, shows(app, "wrong place: the bar"))
        await typed(app, "j", "w", "end", *"s", "enter")
        await until(pilot, shows(app, "wrong place: the bars"))
        opened.reload()
        assert opened.sittings[live.seat.number].words_of(entry.id) == "look left"


async def test_words_still_to_come_wait_behind_a_help_alone(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        await typed(app, "s", "escape", "p", "e")
        await until(pilot, shows(app, "snag at"))
        await typed(app, "escape", "h", "e")
        await until(pilot, shows(app, "what was said, at"))
        await typed(app, *"go", "space", *"on", "enter", "e", *"hums", "enter")
        await until(pilot, shows(app, "snag: hums"))
        assert not live.words_waiting()


async def test_a_struck_mark_has_no_words_to_come(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        await typed(app, "s", "escape")
        await until(pilot, shows(app, "words to come"))
        await typed(app, "u")
        await until(pilot, lambda: not live.state.remarks)
        assert "words to come" not in picture(app)
