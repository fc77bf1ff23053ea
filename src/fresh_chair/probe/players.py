"""Players of this machine over MPRIS, the open D-Bus interface: which are there, whether one plays, where it stands."""

import time
from collections.abc import Callable, Mapping
from types import TracebackType
from typing import Any, Self

from jeepney import DBusAddress, DBusErrorResponse, Properties, message_bus
from jeepney.io.blocking import DBusConnection, Proxy, open_dbus_connection

from fresh_chair.core.errors import OutsideError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped, legible

_PREFIX = "org.mpris.MediaPlayer2."
_PATH = "/org/mpris/MediaPlayer2"
_PLAYER = "org.mpris.MediaPlayer2.Player"
_TIMEOUT_SECONDS = 1.0
_MICRO = 1_000_000
# Longer than any recording; a player that says more is not believed.
_MOST_SECONDS = 200_000
_RATES = (0.01, 100.0)


@frozen
class PlayerState:
    """Where a player stands.

    Attributes:
        position_seconds: In what it plays; None where it does not say.
        rate: Its speed; 1 for as recorded.
        asked_ns: Monotonic time in the middle between the question and its answer, in nanoseconds.
    """

    playing: bool
    position_seconds: float | None
    rate: float
    asked_ns: int

    def at(self, now_ns: int) -> float | None:
        """Where it stands at a monotonic time, in seconds, if it went on as it was."""
        if self.position_seconds is None:
            return None
        gone = (now_ns - self.asked_ns) / 1e9 * self.rate if self.playing else 0.0
        return max(self.position_seconds + gone, 0.0)


class Players:
    """A connection to the session bus, to ask its players. Used by one thread.

    Args:
        address: The bus; the session's own by default.
        ticks: Monotonic nanoseconds.

    Raises:
        OutsideError: Where there is no bus.
    """

    def __init__(self, address: str = "SESSION", *, ticks: Callable[[], int] = time.monotonic_ns) -> None:
        self._ticks = ticks
        try:
            self._connection: DBusConnection = open_dbus_connection(bus=address)
        except (OSError, KeyError, ValueError, RuntimeError, DBusErrorResponse) as problem:
            raise OutsideError(
                "This session has no message bus to ask a player on.",
                "The recording is moved by hand: p, / and arrows.",
            ) from problem

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, value: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._connection.close()

    def names(self) -> list[str]:
        """The players that are there, by their names on the bus without its prefix. Raises OutsideError."""
        found = self._asked(lambda: Proxy(message_bus, self._connection, timeout=_TIMEOUT_SECONDS).ListNames())
        listed = found[0] if found and isinstance(found[0], list) else []
        return sorted(str(name).removeprefix(_PREFIX) for name in listed if str(name).startswith(_PREFIX))

    def state(self, name: str) -> PlayerState:
        """Where a player stands.

        Raises:
            OutsideError: Where it is gone, or does not answer as a player does.
        """
        address = DBusAddress(_PATH, bus_name=f"{_PREFIX}{name}", interface=_PLAYER)
        before = self._ticks()
        found = self._asked(lambda: Proxy(Properties(address), self._connection, timeout=_TIMEOUT_SECONDS).get_all())
        asked = (before + self._ticks()) // 2
        values: Mapping[str, Any] = found[0] if found and isinstance(found[0], dict) else {}
        status, position, rate = (_plain(values.get(key)) for key in ("PlaybackStatus", "Position", "Rate"))
        if status not in ("Playing", "Paused", "Stopped"):
            raise OutsideError(f"{legible(clipped(name, 40))} does not say whether it plays.", "Follow another player.")
        seconds = position / _MICRO if isinstance(position, int) and not isinstance(position, bool) else None
        return PlayerState(
            playing=status == "Playing",
            position_seconds=seconds if seconds is not None and 0 <= seconds <= _MOST_SECONDS else None,
            rate=float(rate) if isinstance(rate, int | float) and _RATES[0] <= rate <= _RATES[1] else 1.0,
            asked_ns=asked,
        )

    def _asked(self, ask: Callable[[], Any]) -> tuple[Any, ...]:
        try:
            answer: tuple[Any, ...] = ask()
        except (OSError, ValueError, TimeoutError, DBusErrorResponse) as problem:
            said = problem.name if isinstance(problem, DBusErrorResponse) else type(problem).__name__
            raise OutsideError(
                f"The player does not answer ({legible(str(said)[-60:])}).", "It may be closed."
            ) from problem
        return answer


def _plain(value: Any) -> Any:
    """The value of a variant, which comes with its type."""
    return value[1] if isinstance(value, tuple) and len(value) == 2 else value
