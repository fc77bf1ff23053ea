"""Keys in Tell while the documents are still being gathered: each waits for its line, or is refused in one sentence."""

import threading
from typing import Any

import pytest

from fresh_chair.core.evidence.telling import OwnParagraph
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.report.reports import prepared
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.tell import screen
from fresh_chair.tui.tell.screen import Tell
from tests.tui.conftest import WIDE, burst, picture, until
from tests.tui.tell.test_screen import take


def paragraphs(opened: OpenStudy) -> list[str]:
    held = (each.record for each in evidence_of_kind(opened, "paragraph"))
    return [each.text for each in held if isinstance(each, OwnParagraph)]


async def test_own_words_typed_before_the_document_is_there_are_kept_whole(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    before = paragraphs(demo)
    async with app.run_test(size=WIDE) as pilot:
        burst(app, "6", "p", *"quits here", "enter")
        await until(pilot, lambda: len(paragraphs(demo)) > len(before), most=6000)
        assert "quits here" in paragraphs(demo)
        assert isinstance(app.screen, Tell)


async def test_an_answer_to_no_open_point_takes_no_letter_behind_it_for_a_key(
    demo: OpenStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked = threading.Event()

    def late(*arguments: Any, **named: Any) -> Any:
        asked.wait(60)
        return prepared(*arguments, **named)

    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await pilot.press("6")
        await until(pilot, lambda: isinstance(app.screen, Tell) and app.screen.ready is not None, most=6000)
        assert isinstance(app.screen, Tell)
        take(app, "We wrote this for our own counter")
        place = app.screen
        monkeypatch.setattr(screen, "prepared", late)
        place.gathered = None
        place.gather()
        burst(app, "a", "s", "1", "2")
        await until(pilot, lambda: not place.ready_for_keys)
        asked.set()
        await until(pilot, lambda: "The text typed behind it was not taken." in picture(app), most=6000)
        assert isinstance(app.screen, Tell)


async def test_escape_leaves_an_act_that_waits_for_the_document(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    before = paragraphs(demo)
    async with app.run_test(size=WIDE) as pilot:
        burst(app, "6", "p", "1")
        burst(app, "escape", "5", after=1.0)
        await until(pilot, lambda: not isinstance(app.screen, Tell) and app.screen.__class__.__name__ == "Weigh")
        assert paragraphs(demo) == before
