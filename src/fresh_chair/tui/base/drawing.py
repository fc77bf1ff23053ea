"""Places that are drawn whole: at first, at each new width, and when other programs have changed something."""

from textual import events, on

from fresh_chair.tui.base.place import Place


class DrawnPlace(Place):
    """A place whose widgets are filled by `draw`."""

    _draws_soon = False

    def arrived(self) -> None:
        """Show everything once its width is known."""
        self.draw_soon()

    @on(events.Resize)
    def _rewrap(self) -> None:
        self.draw_soon()

    def read_on(self) -> None:
        """Show other programs' changes."""
        self.follow()
        self.draw()

    def draw_soon(self) -> None:
        """Draw after the next paint: once, however many ask for it before."""
        if not self._draws_soon:
            self._draws_soon = True
            self.call_after_refresh(self._draw_now)

    def _draw_now(self) -> None:
        self._draws_soon = False
        if self.stands:
            self.draw()

    def draw(self) -> None:
        """Show everything as it is now."""
        raise NotImplementedError
