"""A part of Sit: some of the acts of a sitting that is logged."""

from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.tui.base.parts import ScreenPart
from fresh_chair.tui.sit.live.base import SitBase


class SitPart(ScreenPart[SitBase]):
    """Some of the acts of Sit, where the rules of entries allow them."""

    @property
    def sit(self) -> SitBase:
        """The screen."""
        return self.screen

    @property
    def live(self) -> LiveSitting | None:
        """The sitting that is being logged."""
        return self.screen.live
