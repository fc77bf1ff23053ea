"""Acts that wait for the work beside a place; keys typed meanwhile belong to their questions."""

from collections.abc import Callable

from fresh_chair.tui.base.application.keys_in_turn import KeysInTurn
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.widgets.dialogue import Prompt


class WaitingPlace(Place):
    """A place whose acts wait for its work, until it is there, has failed, or Esc."""

    # The act that waits.
    _then: Callable[[bool], object] | None = None

    @property
    def working(self) -> bool:
        """Whether the work is under way, and nothing of it is there."""
        raise NotImplementedError

    @property
    def waits(self) -> bool:
        """True while an act waits for the work."""
        return self._then is not None

    @property
    def ready_for_keys(self) -> bool:
        """False while an act waits: keys behind it are for its question."""
        return super().ready_for_keys and not self.waits

    def once_there(self, said: str) -> Prompt[bool]:
        """Wait for the work, and say so. False where it has failed or is left."""

        def pose(answered: Callable[[bool], object]) -> None:
            if self.working:
                self._then = answered
                self.tell(said, colour="$lamp")
            else:
                answered(True)

        return Prompt(pose)

    def wait_no_more(self) -> None:
        """Give up the act that waits."""
        self.answer_waiting(False)

    def answer_waiting(self, there: bool) -> None:
        """Let the act go on that waits, or give it up."""
        then, self._then = self._then, None
        if then is not None:
            then(there)

    def fail_waiting(self) -> None:
        """Give up the act that waits for work which has failed, and the keys behind it."""
        if self.waits:
            self.drop_typed()
        self.answer_waiting(False)

    def drop_typed(self) -> bool:
        """Forget the keys that wait for a question which is not asked; True where there were any."""
        return isinstance(self.app, KeysInTurn) and self.app.drop_typed()
