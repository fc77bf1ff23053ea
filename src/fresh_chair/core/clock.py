"""Moments and the time between them: law 2."""

from datetime import UTC, datetime
from typing import Protocol

from fresh_chair.core.frozen import frozen

SECOND = 1_000_000_000


@frozen
class Moment:
    """One point in time, taken at a key press.

    Args:
        ticks_ns: Nanoseconds since the machine booted, suspend included; comparable only within one boot.
        boot: The boot those ticks belong to.
        wall: Nanoseconds since 1970 UTC by the wall clock, which may be wrong or be set back.
    """

    ticks_ns: int
    boot: str
    wall_ns: int

    @property
    def wall(self) -> datetime:
        """The wall time beside the ticks, in UTC."""
        return datetime.fromtimestamp(self.wall_ns / SECOND, UTC)


class Clock(Protocol):
    """A source of the present moment."""

    def now(self) -> Moment:
        """The present moment."""
        ...


def elapsed_ns(earlier: Moment, later: Moment) -> int:
    """Nanoseconds from one moment to another.

    Within one boot the ticks decide, whatever the wall clock did. Across boots only the wall clock is left;
    a wall clock that was set back gives 0, never a negative time.
    """
    if earlier.boot == later.boot:
        return max(later.ticks_ns - earlier.ticks_ns, 0)
    return max(later.wall_ns - earlier.wall_ns, 0)


def clock_text(nanoseconds: int) -> str:
    """Minutes and seconds as on a clock face, hours only when there are any.

    >>> clock_text(61 * SECOND), clock_text(3_725 * SECOND)
    ('01:01', '1:02:05')
    """
    seconds = nanoseconds // SECOND
    hours, rest = divmod(seconds, 3600)
    minutes, seconds = divmod(rest, 60)
    return f"{hours}:{minutes:02}:{seconds:02}" if hours else f"{minutes:02}:{seconds:02}"
