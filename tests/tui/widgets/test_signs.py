"""Signs are glyphs of the fonts that terminals use, told apart by shape; and in the plain set nothing but ASCII."""

import os
import subprocess
from dataclasses import fields
from pathlib import Path

import pytest
from fontTools.ttLib import TTFont  # type: ignore[import-untyped]
from textual.binding import Binding
from textual.screen import Screen

from fresh_chair.core.sitting.entries.marks import MARK_LETTERS
from fresh_chair.core.sitting.mark_letters import LETTERS
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.tui.base.plain import ascii_of
from fresh_chair.tui.base.sheets import SHEET_CLASSES, sheet_class
from fresh_chair.tui.sit.screen import Sit
from fresh_chair.tui.widgets.signs import FULL, PLAIN, Signs

FONTS = ("JetBrainsMono-Regular", "DejaVuSansMono.ttf", "NotoSansMono-Regular")


def glyphs_of(signs: Signs) -> set[str]:
    found = ""
    for name in (each.name for each in fields(signs)):
        value = getattr(signs, name)
        found += "".join(value.values()) if isinstance(value, dict) else value
    return set(found)


def shown_keys() -> set[str]:
    screens: list[type[Screen[None]]] = [Sit, *(sheet_class(name) for name in SHEET_CLASSES)]
    bindings = [each for screen in screens for each in screen.BINDINGS if isinstance(each, Binding)]
    return {sign for binding in bindings for sign in binding.key_display or ""}


@pytest.mark.parametrize("font", FONTS)
def test_every_sign_is_a_glyph_of_the_font(font: str) -> None:
    listed = subprocess.run(["fc-list", ":", "file"], capture_output=True, text=True, check=False).stdout
    paths = [line.split(":")[0] for line in listed.splitlines() if font in line]
    if not paths:
        assert not os.environ.get("CI"), f"{font} is not installed"
        pytest.skip(f"{font} is not installed")
    known = set(TTFont(Path(paths[0])).getBestCmap())
    letters = {*LETTERS.values(), *MARK_LETTERS.values(), "¶", *"→↓▏…“”–"}
    assert sorted(sign for sign in glyphs_of(FULL) | shown_keys() | letters if ord(sign) not in known) == []


def test_outcomes_are_told_apart_by_shape() -> None:
    signs = [outcome.sign for outcome in Outcome]
    assert len(set(signs)) == len(signs) == 7
    # Quarter-filled circles are a rating code that many know as another one.
    assert not set(signs) & set("○◔◑◐◕●")


def test_the_plain_set_and_what_plain_makes_of_anything_is_ascii() -> None:
    assert all(sign.isascii() for sign in glyphs_of(PLAIN))
    assert ascii_of("".join(sorted(glyphs_of(FULL)))).isascii()
    assert ascii_of("“Grüße – 日本” → …") == '"Gruse - ????" > .'
