"""A part of Sit: acts that its keys name, and whether each may be done now."""

from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.tui.sit.live.base import SitBase
from fresh_chair.tui.widgets.dialogue import Dialogue


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

    def converse(self, dialogue: Dialogue) -> None:
        """Run a dialogue on the screen."""
        self.sit.converse(dialogue)

    def may(self, act: str, *arguments: object) -> bool:
        """Whether an act is possible now, where the rules of entries allow it."""
        return True


class Parts(dict[str, SitPart]):
    """The parts a screen holds, by name; a key names an act as `part.act`."""

    def do(self, act: str, *arguments: object) -> None:
        """Let a part do an act."""
        part, _, verb = act.partition(".")
        getattr(self[part], verb)(*arguments)

    def may(self, act: str, *arguments: object) -> bool:
        """Whether the part finds the act possible now."""
        part, _, verb = act.partition(".")
        return self[part].may(verb, *arguments)
