"""Signals: answered from the loop, also behind hundreds of others that came while it was busy."""

import asyncio
import os
import signal
from collections.abc import Iterator

import pytest

from fresh_chair.tui.base.application.signals import answer_from_loop


@pytest.fixture
def quiet() -> Iterator[list[int]]:
    """Two signals that do nothing but be noted, as before afterwards."""
    noted: list[int] = []
    both = (signal.SIGUSR1, signal.SIGUSR2)
    before = {each: signal.signal(each, lambda number, _: noted.append(number)) for each in both}
    yield noted
    for each, handler in before.items():
        signal.signal(each, handler)


async def test_the_last_of_thousands_is_answered(quiet: list[int]) -> None:
    answered = asyncio.Event()
    answer_from_loop(signal.SIGUSR2, answered.set)
    for _ in range(3000):
        os.kill(os.getpid(), signal.SIGUSR1)
    os.kill(os.getpid(), signal.SIGUSR2)
    assert not answered.is_set()
    await asyncio.wait_for(answered.wait(), 5)


def test_after_the_loop_it_does_what_it_did_before(quiet: list[int]) -> None:
    async def ends() -> None:
        answer_from_loop(signal.SIGUSR2, lambda: None)

    asyncio.run(ends())
    os.kill(os.getpid(), signal.SIGUSR2)
    assert quiet == [signal.SIGUSR2]
