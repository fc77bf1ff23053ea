"""How the code is built: what imports what, how large a file may be, how keys are named."""

import importlib
import pkgutil
import re
import subprocess
import sys
from pathlib import Path

import pytest
from textual.binding import Binding
from textual.screen import Screen
from textual.widget import Widget

import fresh_chair
from fresh_chair.tui.base.application.themes import DAYLIGHT, DAYLIGHT_THEME, DUSK, DUSK_THEME
from fresh_chair.tui.base.place import Place

SOURCE = Path(fresh_chair.__file__).parent
ROOT = SOURCE.parents[1]
MODULES = sorted(SOURCE.rglob("*.py"))


def test_the_import_contracts_hold() -> None:
    ended = subprocess.run(
        [str(Path(sys.executable).parent / "lint-imports")], cwd=ROOT, capture_output=True, text=True, check=False
    )
    assert ended.returncode == 0, ended.stdout


def test_importing_the_core_loads_no_interface_and_no_database() -> None:
    program = (
        "import pkgutil, importlib, sys, fresh_chair.core as core\n"
        "for m in pkgutil.walk_packages(core.__path__, 'fresh_chair.core.'): importlib.import_module(m.name)\n"
        "heavy = 'textual rich sqlalchemy alembic matplotlib typer sqlite3 psycopg scipy.stats'.split()\n"
        "print(*[n for n in heavy if n in sys.modules])"
    )
    loaded = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=True)
    assert loaded.stdout.split() == []


OPENING = """
import asyncio, sys
from pathlib import Path
from fresh_chair.services.study.open_study import open_study
from fresh_chair.tui.app import FreshChair

async def board():
    opened = open_study(Path(sys.argv[1]), write=False)
    app = FreshChair(opened)
    async with app.run_test(size=(142, 38)) as pilot:
        for _ in range(1500):
            await pilot.pause(0.01)
            strips = app.screen._compositor.render_strips()
            if any("Nobody has sat here yet" in strip.text for strip in strips):
                print(*sys.modules)
                return
    opened.close()

asyncio.run(board())
"""


def test_opening_a_study_to_look_at_it_loads_nothing_heavy(demo_path: Path) -> None:
    loaded = subprocess.run([sys.executable, "-c", OPENING, demo_path], capture_output=True, text=True, check=True)
    assert "fresh_chair.tui.plan.screen" in loaded.stdout.split()
    heavy = {"numpy", "scipy", "matplotlib", "alembic", "sqlalchemy", "psycopg", "pydantic", "jinja2", "typer"}
    assert heavy & set(loaded.stdout.split()) == set()


def test_a_command_loads_no_other_commands() -> None:
    program = (
        "import sys; sys.argv = ['fresh-chair', 'finding', '--help']\n"
        "from fresh_chair.__main__ import main\n"
        "try: main()\n"
        "finally: print(*sys.modules)"
    )
    loaded = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=True).stdout.split()
    others = {"fresh_chair.cli.sitting", "fresh_chair.cli.walks", "fresh_chair.core.sitting.journal", "sqlite3"}
    assert "fresh_chair.cli.finding.lists" in loaded
    assert others & set(loaded) == set()


def test_no_worker_is_described_by_all_it_is_given() -> None:
    """Without a description the library writes out every argument, a whole study too, before the key press returns."""
    for path in MODULES:
        for call in re.findall(r"@work\b.*", path.read_text(encoding="utf-8")):
            assert "description=" in call, f"{path}: {call}"


def test_pyplot_is_used_nowhere_and_modules_hold_no_unfinished_business() -> None:
    for path in MODULES:
        text = path.read_text(encoding="utf-8")
        assert "pyplot" not in text, path
        assert not re.search(r"\b(TODO|FIXME|XXX)\b", text), path
        assert "markup=True" not in text, path


def _owners() -> list[type]:
    import fresh_chair.tui as tui

    for module in pkgutil.walk_packages(tui.__path__, "fresh_chair.tui."):
        importlib.import_module(module.name)
    found: list[type] = []
    for base in (Screen, Widget):
        stack: list[type] = [base]
        while stack:
            children: list[type] = stack.pop().__subclasses__()
            for child in children:
                stack.append(child)
                if child.__module__.startswith("fresh_chair.") and child not in found:
                    found.append(child)
    return found


def test_every_key_has_an_id_place_verb_and_a_tooltip_and_no_two_share_one() -> None:
    seen: dict[str, str] = {}
    for owner in _owners():
        for binding in vars(owner).get("BINDINGS", []):
            assert isinstance(binding, Binding)
            assert binding.id is not None, binding
            assert re.fullmatch(r"[a-z]+\.[a-z_]+", binding.id), binding.id
            assert binding.tooltip, binding.id
            assert binding.id not in seen, binding.id
            seen[binding.id] = owner.__name__
    assert len(seen) > 40


def test_every_action_a_key_names_exists() -> None:
    for owner in _owners():
        for binding in vars(owner).get("BINDINGS", []):
            name = binding.action.split("(")[0].split(".")[-1]
            assert hasattr(owner, f"action_{name}") or binding.action.startswith("app."), binding.id


def test_every_place_is_reached_by_its_digit() -> None:
    digits = {b.key: b.action for b in Place.BINDINGS if isinstance(b, Binding) and b.key.isdigit()}
    assert digits == {
        str(n): f"go('{place}')" for n, place in enumerate(("plan", "set", "sit", "sort", "weigh", "tell"), start=1)
    }


def _contrast(one: str, other: str) -> float:
    def luminance(colour: str) -> float:
        parts = [int(colour[place : place + 2], 16) / 255 for place in (1, 3, 5)]
        linear = [part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts]
        return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]

    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


@pytest.mark.parametrize(("colours", "theme"), [(DUSK, DUSK_THEME), (DAYLIGHT, DAYLIGHT_THEME)], ids=["dusk", "light"])
def test_text_can_be_read_on_every_ground(colours: dict[str, str], theme: object) -> None:
    # WCAG 2.2, success criterion 1.4.3: at least 4.5 to 1.
    variables: dict[str, str] = theme.variables  # type: ignore[attr-defined]
    inks = [colours[name] for name in ("chalk", "thread", "lamp", "moss", "clay", "tide", "plum")]
    inks += [value for name, value in variables.items() if name.startswith("chair-")]
    for ink in inks:
        for ground in ("ink", "board"):
            assert _contrast(ink, colours[ground]) >= 4.5, (ink, ground)
    assert _contrast(colours["chalk"], colours["seam"]) >= 4.5
