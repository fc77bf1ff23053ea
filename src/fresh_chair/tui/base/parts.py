"""Parts of a screen: acts that its keys name, and whether each may be done now."""

from collections.abc import Mapping
from typing import Generic, TypeVar

from fresh_chair.tui.base.place import Place
from fresh_chair.tui.widgets.dialogue import Dialogue

S = TypeVar("S", bound=Place)


class ScreenPart(Generic[S]):
    """Some of the acts of a screen. A key names one as `part.act`; the screen that holds the part draws the change.

    Args:
        screen: The screen.
    """

    def __init__(self, screen: S) -> None:
        self.screen = screen

    def converse(self, dialogue: Dialogue) -> None:
        """Run a dialogue on the screen."""
        self.screen.converse(dialogue)

    def may(self, act: str, *arguments: object) -> bool:
        """Whether an act is possible now."""
        return True


class Parts(Generic[S]):
    """The parts a screen holds, by name; a key names an act as `part.act`."""

    def __init__(self, parts: Mapping[str, ScreenPart[S]]) -> None:
        self._parts = dict(parts)

    def do(self, act: str, *arguments: object) -> None:
        """Let a part do an act."""
        part, _, verb = act.partition(".")
        getattr(self._parts[part], verb)(*arguments)

    def may(self, act: str, *arguments: object) -> bool:
        """Whether the part finds the act possible now."""
        part, _, verb = act.partition(".")
        return self._parts[part].may(verb, *arguments)
