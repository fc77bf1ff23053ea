"""Following a player of this machine, so that play, pause and seek there move the clock of a recording here."""

from __future__ import annotations

import time
from collections.abc import Callable
from threading import Event, Lock, Thread
from typing import TYPE_CHECKING

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.sitting.recording import RecordingClock

if TYPE_CHECKING:
    from fresh_chair.probe.players import PlayerState

ASK_SECONDS = 0.2
# Less than this apart, the clock here goes on by itself: positions are asked for, and answers take their time.
_APART_SECONDS = 0.12
# So many questions without an answer, and the player is gone.
_MOST_FAILURES = 5


def players_here(bus: str = "SESSION") -> list[str]:
    """Names of the players that are open on this machine. Raises OutsideError where there is no bus to ask."""
    from fresh_chair.probe.players import Players

    with Players(bus) as players:
        return players.names()


class PlayerFollowing:
    """Asks a player where it stands, in a thread, until it is stopped or the player is gone.

    Args:
        name: The player, as `players_here` names it.
        bus: The bus it is on.
        ticks: Monotonic nanoseconds, the same clock as the recording's.

    Attributes:
        problem: Why it ended by itself; None while it goes on.
    """

    def __init__(self, name: str, *, bus: str = "SESSION", ticks: Callable[[], int] = time.monotonic_ns) -> None:
        self.name = name
        self.problem: FreshChairError | None = None
        self._bus, self._ticks = bus, ticks
        self._seen: PlayerState | None = None
        self._lock, self._stop = Lock(), Event()
        self._thread = Thread(target=self._run, name="player", daemon=True)

    def start(self) -> None:
        """Begin."""
        self._thread.start()

    def stop(self) -> None:
        """End; nothing waits for an answer that is under way."""
        self._stop.set()

    def wait(self, seconds: float) -> None:
        """Wait for its end, at most so long."""
        self._thread.join(seconds)

    @property
    def words(self) -> str:
        """Which player is followed, in a few words."""
        return f"follows {legible(clipped(self.name, 24))}"

    def seen(self) -> PlayerState | None:
        """Where the player stood when it was asked last."""
        with self._lock:
            return self._seen

    def lead(self, clock: RecordingClock) -> bool:
        """Bring a recording's clock to where the player is; True where it had to be moved."""
        seen = self.seen()
        position = None if seen is None else seen.at(self._ticks())
        if seen is None or position is None:
            return False
        apart = abs(clock.position_ns / 1e9 - position) > _APART_SECONDS
        if not apart and clock.playing == seen.playing and clock.speed == seen.rate:
            return False
        clock.align(position, playing=seen.playing, speed=seen.rate)
        return True

    def _run(self) -> None:
        from fresh_chair.probe.players import Players

        failures = 0
        try:
            with Players(self._bus, ticks=self._ticks) as players:
                while not self._stop.is_set():
                    try:
                        state = players.state(self.name)
                    except FreshChairError:
                        failures += 1
                        if failures >= _MOST_FAILURES:
                            raise
                    else:
                        failures = 0
                        with self._lock:
                            self._seen = state
                    self._stop.wait(ASK_SECONDS)
        except FreshChairError as problem:
            self.problem = problem
