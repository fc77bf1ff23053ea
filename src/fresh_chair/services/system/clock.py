"""The machine's clock, read so that neither suspend nor a changed wall clock can bend it."""

import time
from datetime import datetime
from pathlib import Path

from fresh_chair.core.clock import Moment
from fresh_chair.core.frozen import frozen

_BOOT_ID = Path("/proc/sys/kernel/random/boot_id")


class SystemClock:
    """Ticks since boot that count through suspend, with the wall time beside them."""

    def __init__(self) -> None:
        try:
            self._boot = _BOOT_ID.read_text(encoding="ascii").strip()
        except OSError:
            # Ticks of two runs are then never compared; only the wall clock bridges them.
            self._boot = f"unknown-{time.time_ns()}"

    def now(self) -> Moment:
        """The present moment."""
        return Moment(time.clock_gettime_ns(time.CLOCK_BOOTTIME), self._boot, time.time_ns())


@frozen
class StillClock:
    """A clock that always says the same moment: for records dated to a day that has passed."""

    moment: Moment

    def now(self) -> Moment:
        """That moment."""
        return self.moment


def running_ns() -> int:
    """Nanoseconds since the machine booted, suspend included: two readings far apart tell that one was asleep."""
    return time.clock_gettime_ns(time.CLOCK_BOOTTIME)


def day_and_time(seconds: float) -> str:
    """A moment since 1970 as local day and time, such as 2026-11-09 10:42."""
    return datetime.fromtimestamp(seconds).strftime("%Y-%m-%d %H:%M")
