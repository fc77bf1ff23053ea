"""The panel that figures are drawn on, which tells when they have to be laid out for another width."""

from textual import events
from textual.message import Message
from textual.widgets import Static


class FiguresPanel(Static):
    """Text laid out for a width by its screen."""

    class WidthChanged(Message):
        """The panel got another width: by a resized terminal, a column beside it, or a scroll bar."""

    _laid_out_for = 0

    def on_resize(self, event: events.Resize) -> None:
        """Tell the screen where the width is another one than before."""
        if event.size.width != self._laid_out_for:
            self._laid_out_for = event.size.width
            self.post_message(self.WidthChanged())
