"""One key after the other: the next one is looked at when everything that the one before it began is done.

Typed in one burst, keys do what they do when they are typed slowly: a letter after Enter never lands in the line that
closes, and an answer never in another question.
"""

import asyncio
import threading
import time
from collections import deque
from typing import Any, Generic, Protocol, TypeVar, runtime_checkable

from textual import events
from textual.driver import Driver
from textual.widget import Widget
from textual.widgets import Input

from fresh_chair.core.clock import SECOND, Clock, Moment
from fresh_chair.tui.base.application.failing import LoudApp
from fresh_chair.tui.base.application.terminal import TerminalDriver

Result = TypeVar("Result")


@runtime_checkable
class Waits(Protocol):
    """A screen that can wait, while the keys wait, for work beside it."""

    @property
    def waits(self) -> bool:
        """True while an act waits."""

    def wait_no_more(self) -> None:
        """Give up the act that waits."""


# So many turns of the loop without a message anywhere, and a key is done.
_STILL_TURNS = 3
# A key that never settles holds back no other longer than this, in seconds.
_MOST_SECONDS = 5.0
# An act that waits for work beside it is waited for as long as the longest work takes, or until Esc.
_MOST_WAITING_SECONDS = 120.0
# After so long a pause, in seconds, an Esc is not typed on from the key before it.
_NOTICED = 0.8
# These do what they do whether all is read or not.
_FREE_KEYS = frozenset({"up", "down", "left", "right", "escape", "question_mark", "ctrl+q"})


class KeysInTurn(LoudApp[Result], Generic[Result]):
    """An application that takes keys and pastes one at a time, with the moment at which each arrived."""

    def __init__(self, *, driver_class: type[Driver] = TerminalDriver) -> None:
        super().__init__(driver_class=driver_class)
        self._typed: deque[events.Key | events.Paste] = deque()
        self._feeding: asyncio.Task[None] | None = None
        self._key_time: float | None = None

    @property
    def key_time(self) -> float | None:
        """When the key in hand arrived, by the clock that messages are timed by; None without one."""
        return self._key_time

    @property
    def keys_waiting(self) -> bool:
        """Whether a key is in hand, or waits for its turn."""
        return self._feeding is not None

    @property
    def settled(self) -> bool:
        """Whether the screen in front is ready for a key; screens that are not say so."""
        return not self.screen_stack or bool(getattr(self.screen, "ready_for_keys", True))

    def drop_typed(self) -> bool:
        """Forget the keys that wait for their turn; True where there were any."""
        dropped = bool(self._typed)
        self._typed.clear()
        return dropped

    async def on_event(self, event: events.Event) -> None:
        """Keep a key that comes from the terminal until its turn; all else goes its way."""
        if isinstance(event, events.Key | events.Paste) and not event.is_forwarded:
            self._typed.append(event)
            if self._feeding is None:
                self._feeding = asyncio.create_task(self._feed())
            return
        await super().on_event(event)

    async def _feed(self) -> None:
        try:
            while self._typed and self.is_running:
                event = self._typed.popleft()
                self._key_time = event.time
                if not await self._once_read(event):
                    continue
                screen = self.screen
                await super().on_event(event)
                # Letters of one field follow each other in its own queue.
                if not (self._is_letter(event) and self._typed and self._is_letter(self._typed[0])):
                    await self._settle(screen)
                self._key_time = None
        except Exception as error:  # noqa: BLE001 - nobody awaits this task: what fails in it must be as loud as elsewhere
            self._handle_exception(error)
        finally:
            self._key_time = None
            self._feeding = None

    def still_reading(self) -> str:
        """The reading that most keys have to wait for, and how far it is; empty where all is there."""
        return ""

    def say_reading(self, words: str) -> None:
        """Say why the key in hand waits; empty words take that away."""

    def say_untaken(self) -> None:
        """Say that keys were not taken, as something else is asked first."""

    async def _once_read(self, event: events.Key | events.Paste) -> bool:
        """Hold a key back until the study is read. False where it is not to be taken."""
        if isinstance(event, events.Key) and event.key in _FREE_KEYS:
            return True
        said, screen = "", self.screen
        while self.is_running and (words := self.still_reading()):
            if words != said:
                said = words
                self.say_reading(words)
            if self._drop_through_escape():
                self.say_reading("")
                return False
            await asyncio.sleep(0.01)
        if not said:
            return True
        self.say_reading("")
        await self._settle(screen)
        if self.screen is screen:
            return True
        # Something is asked now that nobody saw when the key was pressed: it is no answer.
        self.drop_typed()
        self.say_untaken()
        return False

    def _drop_through_escape(self) -> bool:
        """Forget the keys up to an Esc that leaves a wait; True where there is one.

        One that was typed on from other keys belongs to the question they will be in: only an Esc behind the waiting
        key itself, or after a pause, was pressed by somebody who saw that there is a wait.
        """
        before = self._key_time or 0.0
        for at, event in enumerate(self._typed):
            if isinstance(event, events.Key) and event.key == "escape" and (not at or event.time - before > _NOTICED):
                for _ in range(at + 1):
                    self._typed.popleft()
                return True
            before = event.time
        return False

    def _is_letter(self, event: events.Key | events.Paste) -> bool:
        return isinstance(event, events.Key) and event.is_printable and isinstance(self.focused, Input)

    async def _settle(self, screen: Widget) -> None:
        """Wait until nothing is left to do of the last key."""
        still, begun = 0, time.monotonic()
        while still < _STILL_TURNS and self.is_running and self.screen_stack:
            waits = self._waiting is not None
            if time.monotonic() - begun > (_MOST_WAITING_SECONDS if waits else _MOST_SECONDS):
                return
            await asyncio.sleep(0)
            if self.screen_stack and self.screen is not screen:
                # Another place: its own first acts come after it is drawn.
                screen = self.screen
                await self._drawn(screen)
                still = 0
                continue
            if self._queued() or not self.settled:
                still = 0
                if not self.settled:
                    self._leave_at_escape()
                    await asyncio.sleep(0.005)
                continue
            still += 1

    @property
    def _waiting(self) -> Waits | None:
        """The screen in front, while an act of it waits for work beside it."""
        screen: object = self.screen if self.screen_stack else None
        return screen if isinstance(screen, Waits) and screen.waits else None

    def _leave_at_escape(self) -> None:
        """Let Esc, and nothing else, end the wait for work beside the screen."""
        waiting = self._waiting
        if waiting is not None and self._drop_through_escape():
            waiting.wait_no_more()

    async def _drawn(self, screen: Widget) -> None:
        drawn = asyncio.Event()
        screen.call_after_refresh(drawn.set)
        try:
            await asyncio.wait_for(drawn.wait(), _MOST_SECONDS)
        except TimeoutError:
            return

    def _queued(self) -> bool:
        """Whether a message waits anywhere."""
        if not self.screen_stack:
            return False
        if self.message_queue_size or self.screen.message_queue_size:
            return True
        return any(widget.message_queue_size for widget in self.screen.walk_children(Widget))


class KeyClock:
    """A clock that tells, while a key is in hand, the moment at which that key arrived; it never goes back.

    Args:
        clock: The machine's.
        keys: Knows how long the key in hand has been held.
    """

    def __init__(self, clock: Clock, keys: KeysInTurn[Any]) -> None:
        self._clock = clock
        self._keys = keys
        self._thread = threading.get_ident()
        self._told: Moment | None = None
        self._told_for: float | None = None

    def now(self) -> Moment:
        """The present moment; in the thread that takes the keys that of the key in hand."""
        now = self._clock.now()
        if threading.get_ident() != self._thread:
            return now
        key = self._keys.key_time
        if key is not None and key == self._told_for and self._told is not None:
            # Everything that one key logs was logged at one moment.
            return self._told
        held = 0 if key is None else round(max(time.monotonic() - key, 0.0) * SECOND)
        moment = Moment(now.ticks_ns - held, now.boot, now.wall_ns - held)
        # What was put down while the key waited stays before it.
        if self._told is not None and moment.boot == self._told.boot and moment.ticks_ns < self._told.ticks_ns:
            moment = self._told
        self._told, self._told_for = moment, key
        return moment
