"""Days and times of day as they are shown."""

from datetime import datetime


def day_and_time(seconds: float) -> str:
    """A moment since 1970 as local day and time, such as 2026-11-09 10:42."""
    return datetime.fromtimestamp(seconds).strftime("%Y-%m-%d %H:%M")
