"""Every sheet of every demo, its kinds and lines walked with every key that it shows, and left again."""

import os
import shutil
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from textual.pilot import Pilot
from textual.widgets import OptionList

from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.file.new_study import new_second_round
from fresh_chair.services.file.new_walk import new_walk_demo
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.base.help import Help
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.base.sheets import SHEET_CLASSES, OpenSheet, sheet_class
from tests.tui.conftest import SIZES, typed, until

# Everything is walked by `FRESH_CHAIR_LOOPS=all`; else one demo at one size, with the keys of the first kind and line.
ALL = os.environ.get("FRESH_CHAIR_LOOPS") == "all"
LINES = 40 if ALL else 1
MAKERS: dict[str, Callable[[Path], object]] = {"walk": new_walk_demo, "second": new_second_round}
CASES = [("demo", 0)] if not ALL else [(d, s) for d in ("demo", "second", "walk") for s in (0, 1)]
# These sheets are opened from another one, with what was in hand there.
_FROM_ANOTHER = {"import"}


def argument_of(name: str, opened: OpenStudy) -> Any:
    """What a sheet is opened with."""
    module, _ = SHEET_CLASSES[name]
    seats = [number for number, entries in opened.entries.items() if entries]
    findings = sorted_findings_of(opened).findings
    if module.startswith("weigh."):
        return weigh(opened)
    if name == "finding":
        return findings[0].id if findings else False
    if name in ("journal", "look_back"):
        return seats[0]
    if name == "parts":
        return ("sheet.questions", "questions")
    if name == "record":
        for letter in opened.study.chair_by_letter:
            for held in opened.known_chairs.of(letter).held("claim"):
                return ("claims", "claim", held.record.id)
        return False
    return None


async def leave(pilot: Pilot[None], app: FreshChair, screen: object) -> bool:
    """Back out of whatever a key opened; True where the sheet still stands."""
    for _ in range(6):
        if isinstance(app.screen, Place) and not app.screen.asking:
            return app.screen is screen
        await typed(app, "escape")
    return app.screen is screen


async def open_it(pilot: Pilot[None], app: FreshChair, name: str) -> Place:
    app.post_message(OpenSheet(name, argument_of(name, app.session.opened)))
    await until(pilot, lambda: type(app.screen) is sheet_class(name))
    await pilot.pause()
    assert isinstance(app.screen, Place)
    return app.screen


async def walked(pilot: Pilot[None], app: FreshChair, name: str) -> int:
    """Every key of a sheet at every line of every kind; returns how many were pressed."""
    screen, pressed = await open_it(pilot, app, name), 0
    keys = {binding.key.split(",")[0] for binding in screen.own_keys()} - {"escape", "left", "right"}
    kinds = len(getattr(screen, "kinds", ())) or 1
    for at in range(kinds):
        lists = list(screen.query(OptionList))
        lines = min(max((each.option_count for each in lists), default=1), LINES) or 1
        for line in range(lines):
            for key in [*sorted(keys), "question_mark"]:
                if not ALL and at > 0:
                    break
                await typed(app, key)
                pressed += 1
                if isinstance(app.screen, Help):
                    await typed(app, "escape")
                if not await leave(pilot, app, screen):
                    screen = await open_it(pilot, app, name)
                    for _ in range(at):
                        await typed(app, "right")
                    await typed(app, *["down"] * line)
            await typed(app, "down")
            pressed += 1
        if kinds > 1:
            await typed(app, "right")
            pressed += 1
    if kinds > 1:
        await typed(app, *["left"] * kinds)
    return pressed


@pytest.mark.long
@pytest.mark.painted
@pytest.mark.timeout(7200 if ALL else 300)
@pytest.mark.parametrize(("which", "size"), CASES)
async def test_every_sheet_with_every_key_at_every_line(
    which: str, size: int, demo_path: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    monkeypatch.setenv("EDITOR", "true")
    path = demo_path
    if which in MAKERS:
        path = tmp_path / f"{which}.fresh"
        MAKERS[which](path)
    kept = shutil.copy(path, tmp_path / "kept.fresh")
    opened = open_study(path)
    app = FreshChair(opened)
    async with app.run_test(size=SIZES[size]) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Place) and opened.loaded)
        for name in SHEET_CLASSES:
            if name in _FROM_ANOTHER or argument_of(name, opened) is False:
                continue
            assert await walked(pilot, app, name) > 0, name
            await typed(app, "escape")
            assert isinstance(app.screen, Place), name
    opened.close()
    assert [problem for check in check_file(path) for problem in check.problems] == []
    assert Path(kept).exists()
