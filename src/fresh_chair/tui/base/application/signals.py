"""Signals answered from the loop: never in the middle of something else, and none lost, however many come."""

import asyncio
import signal
from collections.abc import Callable
from types import FrameType


def answer_from_loop(which: signal.Signals, act: Callable[[], object]) -> None:
    """Let a signal do something from the loop that runs now; after its end, it does as before.

    The loop's own way puts a byte for each signal of any kind into a pipe, and drops those that find it full.
    """
    loop, before = asyncio.get_running_loop(), signal.getsignal(which)

    def told(number: int, frame: FrameType | None) -> None:
        try:
            loop.call_soon_threadsafe(act)
        except RuntimeError:
            if callable(before):
                before(number, frame)

    signal.signal(which, told)
