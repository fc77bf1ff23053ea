"""The phases of a sitting, apart from its state: the board names them before any journal is read."""

from enum import StrEnum


class Phase(StrEnum):
    """The next thing a sitting waits for."""

    EMPTY = "empty"
    READING = "reading"
    WALKING = "walking"
    LEFT_RUNNING = "left_running"
    RUNNING = "running"
    JUDGING = "judging"
    EASE = "ease"
    USABILITY = "usability"
    CLOSING = "closing"
    ENDED = "ended"
    BROKEN_OFF = "broken_off"

    @property
    def open(self) -> bool:
        """True while someone sits there."""
        return self not in (Phase.EMPTY, Phase.ENDED, Phase.BROKEN_OFF)
