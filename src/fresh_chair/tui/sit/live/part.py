"""A part of Sit: acts that its keys name, and whether each may be done now."""

from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.tui.sit.live.base import SitBase


class SitPart:
    """Some of the acts of Sit. A key names one as `part.act`; the screen that holds the part draws the change.

    Args:
        sit: The screen.
    """

    def __init__(self, sit: SitBase) -> None:
        self.sit = sit

    @property
    def live(self) -> LiveSitting | None:
        """The sitting that is being logged."""
        return self.sit.live

    def may(self, act: str, *arguments: object) -> bool:
        """Whether an act is possible now, where the rules of entries allow it."""
        return True
