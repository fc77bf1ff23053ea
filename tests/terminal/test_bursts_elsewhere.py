"""Keys in bursts over the plan's fields, a finding's page and verdicts: what they do is what they do typed slowly."""

import os
import random
import shutil
import signal
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path
from typing import Any

import pytest

from fresh_chair.services.study.open_study import open_study
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.plan.screen import Plan
from tests.terminal.pseudo import PROGRAM, PseudoTerminal
from tests.terminal.test_bursts import settled_file
from tests.tui.conftest import typed, until

pytestmark = pytest.mark.long

# Rounds of each kind: 500 bursts in all with those of sittings by `FRESH_CHAIR_LOOPS=all`.
ROUNDS = {"all": 20, "long": 2}.get(os.environ.get("FRESH_CHAIR_LOOPS", ""), 1)
_NAMES = {"\r": "enter", "\x1b": "escape", " ": "space", "\x1b[C": "right", "\x1b[B": "down", "\x15": "ctrl+u"}
_WORDS = ("asked; twice", "1 of 4 times", "no - sound", "s and q")
_DOWN, _CLEAR = "\x1b[B", "\x15"


def _letters(words: str) -> list[str]:
    return list(words)


def plan_keys(dice: random.Random) -> list[str]:
    """Fields of the study sheet, each changed in its line."""
    keys = ["s"]
    for _ in range(dice.randint(1, 3)):
        keys += [_DOWN] * dice.randint(0, 1)
        keys += ["\r", _CLEAR, *_letters(dice.choice(_WORDS)), "\r"]
    return [*keys, "\x1b"]


def page_keys(dice: random.Random) -> list[str]:
    """Causes, trials and ways round put down on the page of a finding."""
    keys = ["4", "\x1b[C", "\r"]
    acts: list[Callable[[str], list[str]]] = [
        lambda words: ["c", *_letters(words), "\r", "3", "2", *_letters("because"), "\r"],
        lambda words: ["t", *_letters(words), "\r", "1", "\r"],
        lambda words: ["w", *_letters(words), "\r", "4", "2"],
        lambda words: ["w", *_letters(words), "\r", "\x1b"],
    ]
    for _ in range(dice.randint(1, 3)):
        keys += dice.choice(acts)(dice.choice(_WORDS))
    return keys


def verdict_keys(dice: random.Random) -> list[str]:
    """Verdicts for everyone and for some, one with a condition, one revised."""
    keys = ["5", "v"]
    for _ in range(dice.randint(1, 3)):
        says = dice.choice(("1", "2", "4"))
        condition = [*_letters(dice.choice(_WORDS)), "\r"] if says == "2" else []
        keys += ["a", dice.choice("12"), dice.choice("12"), says, *condition, *_letters(dice.choice(_WORDS)), "\r"]
    if dice.random() < 0.5:
        keys += ["v", "1", *_letters(dice.choice(_WORDS)), "\r"]
    return keys


KINDS = {"plan": plan_keys, "page": page_keys, "verdict": verdict_keys}


def told(path: Path) -> Any:
    """The plan's own words, everything that was sorted, and the evidence, without ids."""
    opened = open_study(path, write=False)
    try:
        sorted_so_far = [_without_ids(asdict(entry.content)) for entry in opened.sorting.entries]
        evidence = [_without_ids(asdict(entry.content)) for entry in opened.evidence.entries]
        return opened.study.title, opened.study.question, asdict(opened.study.sheet), sorted_so_far, evidence
    finally:
        opened.close()


def _without_ids(data: Any) -> Any:
    if isinstance(data, dict):
        return {key: _without_ids(value) for key, value in data.items() if key != "id"}
    return [_without_ids(each) for each in data] if isinstance(data, list | tuple) else data


async def slowly(path: Path, keys: list[str]) -> Any:
    opened = open_study(path)
    app = FreshChair(opened)
    async with app.run_test(size=(120, 34)) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Plan) and opened.loaded)
        for key in keys:
            await typed(app, _NAMES.get(key, key))
            await pilot.pause(0.05 if key in ("4", "5", "v", "\r") else 0)
    opened.close()
    return told(path)


def in_bursts(path: Path, state: Path, keys: list[str], dice: random.Random) -> Any:
    terminal = PseudoTerminal([*PROGRAM, "open", str(path)], state)
    try:
        terminal.wait_for("Enter seats")
        terminal.quiet()
        at = 0
        while at < len(keys):
            size = dice.randint(1, dice.choice((4, 12, 40)))
            terminal.send("".join(keys[at : at + size]).encode())
            at += size
            if dice.random() < 0.3:
                terminal.stop(dice.uniform(0, 0.5))
            if keys[min(at, len(keys)) - 1] == "\x1b":
                # A key of its own, and not the beginning of another one.
                terminal.quiet(0.1, most=1.0)
        terminal.idle()
        settled_file(path)
        os.kill(terminal.pid, signal.SIGTERM)
        assert terminal.ended() == 143, terminal.text()[-800:]
    finally:
        terminal.close()
    return told(path)


@pytest.mark.parametrize("kind", KINDS)
async def test_bursts_elsewhere_do_what_the_same_keys_do_slowly(kind: str, demo_path: Path, tmp_path: Path) -> None:
    for seed in range(ROUNDS):
        dice = random.Random(f"{kind} {seed}")
        keys = KINDS[kind](dice)
        slow, fast = (Path(shutil.copy(demo_path, tmp_path / f"{name}{seed}.fresh")) for name in ("slow", "fast"))
        before = told(slow)
        expected = await slowly(slow, keys)
        assert expected != before
        assert in_bursts(fast, tmp_path / "state", keys, dice) == expected, (seed, keys)
