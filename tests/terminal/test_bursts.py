"""Keys in bursts of 1 to 40 a write, the program stopped now and then: what they do is what they do typed slowly."""

import os
import random
import shutil
import signal
import time
from pathlib import Path

import pytest

from fresh_chair.core.sitting.journal import Entry
from fresh_chair.services.study.open_study import open_study
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.plan.screen import Plan
from tests.terminal.pseudo import PROGRAM, PseudoTerminal
from tests.tui.conftest import typed, until

pytestmark = pytest.mark.long

# Rounds of about six bursts: over 500 bursts by `FRESH_CHAIR_LOOPS=all` with those elsewhere, 50 in the long loops.
ROUNDS = {"all": 90, "long": 4}.get(os.environ.get("FRESH_CHAIR_LOOPS", ""), 2)
_AT_ONCE = 4
_SITTING = 22
_NAMES = {
    "\r": "enter", "\x1b": "escape", " ": "space", ";": "semicolon", "?": "question_mark", "-": "minus",
}  # fmt: skip
_WORDS = ("wrong menu", "1 2 3", "asked; where?", "no - sound", "half done", "ten  steps", "q and s")
# Acts of a sitting whose clock runs: keys, and whether words follow.
_MARKS = ("p", "h", "t", "s{}\r", "d{}\r", "n{}\r", "ww", "s\x1b", "aa")
# Endings: Enter, how it ended, how easy it was.
_ENDINGS = ("\ru5", "\rh3", "\rp4", "\rg{}\r2")


def keys_of(seed: int) -> tuple[str, list[str]]:
    """One sitting's keys, and the same keys parted into bursts."""
    dice = random.Random(seed)
    acts = ["\r", "\r", "n"]
    for _ in range(dice.randint(1, 3)):
        acts.append("\r")
        for _ in range(dice.randint(1, 5)):
            acts.append(dice.choice(_MARKS).format(dice.choice(_WORDS)))
        acts.append(dice.choice(_ENDINGS).format(dice.choice(_WORDS)))
    keys = "".join(acts)
    bursts, at = [], 0
    while at < len(keys):
        size = dice.randint(1, dice.choice((4, 12, 40)))
        bursts.append(keys[at : at + size])
        at += size
    return keys, bursts


def told(entry: Entry) -> tuple[object, ...]:
    """An entry without its id, its moment, and the ids it speaks of."""
    content = entry.content
    kept = {
        name: getattr(content, name)
        for name in ("words", "outcome", "value", "reason", "card", "answer", "score")
        if hasattr(content, name)
    }
    return (content.kind, *sorted((name, str(value)) for name, value in kept.items()))


def settled_file(study: Path, still_seconds: float = 1.5) -> None:
    """Wait until nothing more is written: every key is done."""
    wal, size, since = study.with_name(f"{study.name}-wal"), -1, time.monotonic()
    while time.monotonic() - since < still_seconds:
        now = wal.stat().st_size if wal.exists() else 0
        if now != size:
            size, since = now, time.monotonic()
        time.sleep(0.05)


def logged(study: Path) -> list[tuple[object, ...]]:
    opened = open_study(study)
    try:
        return [told(entry) for entry in opened.entries.get(_SITTING, [])]
    finally:
        opened.close()


async def typed_slowly(study: Path, keys: str) -> list[tuple[object, ...]]:
    """Everything logged by these keys, each pressed when the one before it is done."""
    opened = open_study(study)
    app = FreshChair(opened)
    async with app.run_test(size=(120, 34)) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Plan) and opened.loaded)
        for key in keys:
            await typed(app, _NAMES.get(key, key))
    opened.close()
    return logged(study)


def typed_in_bursts(study: Path, state: Path, bursts: list[str], *, seed: int) -> list[tuple[object, ...]]:
    """Everything logged by these bursts in a real terminal, the program stopped for a while between some of them."""
    dice = random.Random(seed)
    terminal = PseudoTerminal([*PROGRAM, "open", str(study)], state)
    try:
        terminal.wait_for("Enter seats")
        terminal.quiet()
        for burst in bursts:
            terminal.send(burst.encode())
            if dice.random() < 0.3:
                terminal.stop(dice.uniform(0, 0.5))
        terminal.idle()
        settled_file(study)
        # By the system, as no key leaves while the keyboard is in the participant's hands.
        os.kill(terminal.pid, signal.SIGTERM)
        assert terminal.ended() == 143, terminal.text()[-800:]
    finally:
        terminal.close()
    return logged(study)


@pytest.mark.parametrize("part", range(-(-ROUNDS // _AT_ONCE)))
async def test_bursts_log_what_the_same_keys_log_slowly(part: int, demo_path: Path, tmp_path: Path) -> None:
    for round_number in range(min(ROUNDS, _AT_ONCE)):
        seed = part * _AT_ONCE + round_number
        keys, bursts = keys_of(seed)
        slow, fast = (Path(shutil.copy(demo_path, tmp_path / f"{name}{seed}.fresh")) for name in ("slow", "fast"))
        expected = await typed_slowly(slow, keys)
        found = typed_in_bursts(fast, tmp_path / "state", bursts, seed=seed)
        assert len(expected) > 4
        assert found == expected, (seed, bursts)
