"""The moment of a key is that of its arrival, one for all it logs, and never before what was put down already."""

import time

import pytest
from textual import events
from textual.binding import Binding

from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.tui.base.application.keys_in_turn import KeyClock, KeysInTurn


class Keys(KeysInTurn[None]):
    at: float | None = None

    @property
    def key_time(self) -> float | None:
        return self.at


class Ticking:
    """Real time, as ticks since the machine booted."""

    def now(self) -> Moment:
        return Moment(time.monotonic_ns(), "here", time.time_ns())


def test_a_key_that_waited_is_told_at_its_arrival_and_always_the_same() -> None:
    keys = Keys()
    clock = KeyClock(Ticking(), keys)
    keys.at = time.monotonic() - 2.0
    first = clock.now()
    assert abs(first.ticks_ns - keys.at * SECOND) < 0.1 * SECOND
    assert all(clock.now() == first for _ in range(50))
    keys.at = None
    assert clock.now().ticks_ns - first.ticks_ns > 1.5 * SECOND


def test_a_key_never_stands_before_what_was_put_down_while_it_waited() -> None:
    keys = Keys()
    clock = KeyClock(Ticking(), keys)
    arrived = time.monotonic()
    put_down = clock.now()
    keys.at = arrived
    assert clock.now().ticks_ns >= put_down.ticks_ns


class Failing(KeysInTurn[None]):
    BINDINGS = [Binding("ctrl+y", "fail_now", "fails", id="failing.now", tooltip="Fails", priority=True)]

    def action_fail_now(self) -> None:
        raise ZeroDivisionError


async def pressed() -> None:
    async with Failing().run_test() as pilot:
        pilot.app.post_message(events.Key("ctrl+y", None))
        await pilot.pause(0.2)


async def test_a_failure_at_a_key_is_loud() -> None:
    with pytest.raises(ZeroDivisionError):
        await pressed()
