"""Dialogues: one question after another at the bottom of a screen, each of which returns its answer.

A dialogue is a coroutine that awaits questions. It goes on in the very call that brings the answer, never in a later
turn of the event loop: the next key may have been pressed already, and belongs to the next question.
"""

from collections.abc import Callable, Coroutine, Generator
from functools import wraps
from typing import Any, Concatenate, Generic, ParamSpec, Protocol, TypeAlias, TypeVar

Dialogue: TypeAlias = Coroutine[Any, Any, object]
Answer = TypeVar("Answer")
Parameters = ParamSpec("Parameters")


class Prompt(Generic[Answer]):
    """A question that a dialogue waits for; awaiting it returns the answer.

    Args:
        pose: Shows the question; gets the function that takes the answer.
    """

    def __init__(self, pose: Callable[[Callable[[Answer], object]], object]) -> None:
        self.pose = pose

    def __await__(self) -> "Generator[Prompt[Answer], Answer, Answer]":
        """Wait for the answer."""
        answer = yield self
        return answer


class Conversation:
    """Runs the dialogues of one screen, one at a time; a new one ends the one that still waits.

    Args:
        ended: Called after the last step of a dialogue.
    """

    def __init__(self, ended: Callable[[], None]) -> None:
        self._ended = ended
        self._waiting: tuple[Dialogue, Prompt[Any]] | None = None

    def begin(self, dialogue: Dialogue) -> None:
        """Run a dialogue up to its first question."""
        self._go_on(dialogue, None)

    def _go_on(self, dialogue: Dialogue, answer: object) -> None:
        try:
            question = dialogue.send(answer)
        except StopIteration:
            self._ended()
            return
        if self._waiting is not None:
            self._waiting[0].close()
        waiting = self._waiting = dialogue, question
        question.pose(lambda found: self._answered(waiting, found))

    def _answered(self, asked: "tuple[Dialogue, Prompt[Any]]", answer: object) -> None:
        # The answer to a question that another one has taken the place of comes too late.
        if self._waiting is asked:
            self._waiting = None
            self._go_on(asked[0], answer)


class Converses(Protocol):
    """Has a screen on which dialogues run."""

    def converse(self, dialogue: Dialogue) -> None:
        """Run a dialogue."""


Asker = TypeVar("Asker", bound=Converses)


def asks(
    method: Callable[Concatenate[Asker, Parameters], Dialogue],
) -> Callable[Concatenate[Asker, Parameters], None]:
    """Make a method that asks callable like any other: it begins its dialogue and returns at the first question."""

    @wraps(method)
    def begin(self: Asker, /, *args: Parameters.args, **kwargs: Parameters.kwargs) -> None:
        self.converse(method(self, *args, **kwargs))

    return begin
