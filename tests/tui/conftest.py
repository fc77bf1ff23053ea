"""Running the application inside a test, at the two sizes that matter."""

import asyncio
import time
from collections.abc import Callable
from contextlib import suppress
from typing import Any
from unicodedata import lookup, name

import pytest
from textual import events
from textual._compositor import Compositor
from textual.app import App
from textual.pilot import Pilot

from fresh_chair.tui.app import FreshChair

WIDE = (142, 38)
SMALL = (80, 24)
SIZES = [WIDE, SMALL]


async def until(pilot: Pilot[None], condition: Callable[[], object], *, most: int = 1500) -> None:
    """Let the application work until something is so; fail where it never is."""
    end = time.monotonic() + most * 0.012
    while time.monotonic() < end:
        if condition():
            return
        await asyncio.sleep(0.005)
    seen = picture(pilot.app) if isinstance(pilot.app, FreshChair) else ""
    raise AssertionError(f"it never came to be so; on the screen:\n{seen}")


async def typed(app: App[Any], *keys: str) -> None:
    """Press keys as a terminal sends them, and wait until all that they began is done."""
    for key in keys:
        app.post_message(key_event(key))
        await asyncio.sleep(0)
        while app.is_running and (app.message_queue_size or getattr(app, "keys_waiting", False)):
            await asyncio.sleep(0)


# Keys whose names here are not those of their characters.
_SIGNS = {
    "minus": "-", "plus": "+", "slash": "/", "space": " ", "at": "@",
    "less_than_sign": "<", "greater_than_sign": ">", "equals_sign": "=", "underscore": "_",
}  # fmt: skip


def key_event(key: str) -> events.Key:
    """The event of a key by its name or its character."""
    if len(key) == 1 and not key.isalnum():
        spelt = name(key).lower().replace("-", "_").replace(" ", "_")
        return events.Key({sign: word for word, sign in _SIGNS.items()}.get(key, spelt), key)
    if key in _SIGNS:
        return events.Key(key, _SIGNS[key])
    with suppress(KeyError):
        return events.Key(key, lookup(key.replace("_", " ").upper()))
    return events.Key(key, key if len(key) == 1 else None)


def burst(app: App[Any], *keys: str, after: float = 0.0) -> None:
    """Send keys as one write of a terminal, so many seconds after the keys before."""
    for key in keys:
        event = key_event(key)
        event.time += after
        app.post_message(event)


@pytest.fixture(autouse=True)
def _quick_keys(monkeypatch: pytest.MonkeyPatch) -> None:
    """Let a pilot press keys as fast as the application takes them; its own way waits a tenth of a second a key."""

    async def press(pilot: Pilot[Any], *keys: str) -> None:
        await typed(pilot.app, *keys)
        await pilot.pause(0)

    monkeypatch.setattr(Pilot, "press", press)


@pytest.fixture(autouse=True)
def _unpainted(request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch) -> None:
    """Nothing is painted for a terminal that is not there, but by tests of painting; `picture` paints when asked."""
    if request.node.get_closest_marker("painted") is not None:
        return

    def render_update(compositor: Compositor, *_: object, **__: object) -> None:
        compositor._dirty_regions.clear()

    monkeypatch.setattr(Compositor, "render_update", render_update)


def picture(app: FreshChair) -> str:
    """What is on the screen, as text."""
    screen = app.screen
    compositor = screen._compositor
    return "\n".join(strip.text for strip in compositor.render_strips())


def shows(app: FreshChair, *texts: str) -> Callable[[], bool]:
    """A condition: all of these stand on the screen."""

    def condition() -> bool:
        seen = picture(app)
        return all(text in seen for text in texts)

    return condition
