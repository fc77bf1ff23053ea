"""The processor's share while nothing happens: on the board, in an open sitting, under a running clock."""

import os
import select
import sys
import time
from collections.abc import Sequence
from pathlib import Path

from bench.pty_program import PtyProgram
from bench.studies import PROGRAM
from fresh_chair.services.file.new_study import new_demo

SECONDS = 20.0
# What is pressed before, what is waited for, and the aim in per cent of a core.
_CASES: Sequence[tuple[str, tuple[bytes, ...], float]] = (
    ("the board, nobody sits", (), 1.5),
    ("a sitting before its first card", (b"\r",), 1.5),
    ("the board beside an open sitting", (b"\r", b"1"), 1.5),
    ("a running clock", (b"\r", b"\r", b"n", b"\r"), 2.5),
)


def idle(folder: Path) -> None:
    """Each state of the screen, one line each, beside a bare application of the library."""
    print(f"processor while nothing happens, per cent of a core over {SECONDS:.0f} s")
    print(f"  {'a bare application':<34} {share([sys.executable, '-m', 'bench.bare'], b'ready', ()):5.1f}")
    for name, keys, aim in _CASES:
        path = folder / f"idle-{len(keys)}-{name.split()[1]}.fresh"
        new_demo(path)
        found = share([*PROGRAM, "open", str(path)], b"seats", keys)
        print(f"  {name:<34} {found:5.1f}   aim {aim:g}")


def share(command: list[str], shown: bytes, keys: Sequence[bytes]) -> float:
    """The share of a core, in per cent, once these keys were pressed one after the other."""
    program = PtyProgram(command)
    try:
        program.wait_for(shown)
        program.quiet(1.0)
        for key in keys:
            program.key(key)
            program.quiet(0.7)
        program.quiet(1.5)
        begun, worked = time.perf_counter(), program.worked()
        while time.perf_counter() - begun < SECONDS:
            if select.select([program.terminal], [], [], 0.5)[0]:
                os.read(program.terminal, 1 << 16)
        return 100 * (program.worked() - worked) / (time.perf_counter() - begun)
    finally:
        program.close()
