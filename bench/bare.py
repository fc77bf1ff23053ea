"""A bare Textual application: the yardstick for start-up."""

from textual.app import App, ComposeResult
from textual.widgets import Static


class Bare(App[None]):
    """One line of text."""

    def compose(self) -> ComposeResult:
        """The line."""
        yield Static("bare and ready")


if __name__ == "__main__":
    Bare().run()
