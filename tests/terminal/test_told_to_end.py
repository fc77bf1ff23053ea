"""Commands that are told to end while they write: nothing half made is left, and the exit status says so."""

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

COMMANDS = {
    "demo": ("demo", "--to", "made.fresh", "--no-open"),
    "sound copy": ("check", "{study}", "--sound-copy", "copy.fresh"),
    "export": ("export", "{study}", "--to", "data"),
    "report": ("report", "{study}", "--to", "told"),
}


def hidden(folder: Path) -> list[Path]:
    return [path for path in folder.iterdir() if path.name.startswith(".") and path.name.endswith(".part")]


@pytest.mark.parametrize("name", COMMANDS)
def test_a_command_told_to_end_leaves_nothing_half_made(name: str, demo_path: Path, tmp_path: Path) -> None:
    place = tmp_path / "place"
    place.mkdir()
    words = [word.replace("{study}", str(demo_path)) for word in COMMANDS[name]]
    with subprocess.Popen(
        [sys.executable, "-m", "fresh_chair", *words],
        cwd=place,
        env={**os.environ, "XDG_STATE_HOME": str(tmp_path / "state")},
        stdout=subprocess.DEVNULL,
        stderr=subprocess.PIPE,
        text=True,
    ) as process:
        end = time.monotonic() + 60
        while not hidden(place) and process.poll() is None and time.monotonic() < end:
            time.sleep(0.005)
        assert hidden(place), name
        process.send_signal(signal.SIGTERM)
        _, said = process.communicate(timeout=30)
    assert (process.returncode, said.strip()) == (143, "fresh-chair: Told to end; nothing half made is left.")
    assert list(place.iterdir()) == []
