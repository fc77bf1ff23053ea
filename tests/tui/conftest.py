"""Running the application inside a test, at the two sizes that matter."""

import asyncio
from collections.abc import Callable
from unicodedata import lookup

from textual import events
from textual.pilot import Pilot

from fresh_chair.tui.app import FreshChair

WIDE = (142, 38)
SMALL = (80, 24)
SIZES = [WIDE, SMALL]


async def until(pilot: Pilot[None], condition: Callable[[], object], *, most: int = 1500) -> None:
    """Let the application work until something is so; fail where it never is."""
    for _ in range(most):
        if condition():
            return
        await pilot.pause(0.01)
    seen = picture(pilot.app) if isinstance(pilot.app, FreshChair) else ""
    raise AssertionError(f"it never came to be so; on the screen:\n{seen}")


_SIGNS = {
    "greater_than_sign": ">", "less_than_sign": "<", "slash": "/", "minus": "-", "plus": "+", "apostrophe": "'",
    "exclamation_mark": "!", "semicolon": ";", "comma": ",", "colon": ":",
}  # fmt: skip


async def typed(app: FreshChair, *keys: str) -> None:
    """Press keys as a terminal sends them, and wait until all that they began is done; much quicker than a pilot's."""
    for key in keys:
        character = key if len(key) == 1 else _SIGNS.get(key)
        if character is None and "_" in key:
            character = lookup(key.replace("_", " ").upper())
        app.post_message(events.Key(key, " " if key == "space" else character))
        await asyncio.sleep(0)
        while app.keys_waiting or app.message_queue_size:
            await asyncio.sleep(0)


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
