"""Whose time it is: waits of the machine, asides, and how a wait looks to the person."""

from collections.abc import Mapping
from typing import ClassVar, Literal

from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import LedgerEntry
from fresh_chair.core.sitting.entries.base import RUNNING, Happening, Told, in_hand
from fresh_chair.core.sitting.entries.syntax import Reader, TimedContent, one
from fresh_chair.core.sitting.state.attempt import Attempt, Tick
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Sitting

WaitKind = Literal["shown progress", "silent", "believed frozen"]


class _LaneChange(Happening):
    """A change of the live lane; twice the same in a row cannot have been."""

    __slots__ = ()
    phases: ClassVar[frozenset[Phase]] = RUNNING

    def _changes(self, attempt: Attempt) -> bool:
        raise NotImplementedError

    def _change(self, attempt: Attempt, at_ns: int) -> None:
        raise NotImplementedError

    def objection(self, sitting: Sitting) -> str:
        return "" if self._changes(in_hand(sitting)) else f"“{self.kind.replace('_', ' ')}” twice in a row."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        attempt = in_hand(sitting)
        attempt.close_span(at_ns)
        self._change(attempt, at_ns)
        attempt.ticks.append(Tick(self.kind, at_ns))


@frozen
class WaitBegan(_LaneChange):
    """From here the machine is busy, not the person."""

    kind: Literal["wait_began"] = "wait_began"
    typed: ClassVar[str] = "wait"

    def _changes(self, attempt: Attempt) -> bool:
        return not attempt.waiting

    def _change(self, attempt: Attempt, at_ns: int) -> None:
        attempt.begin_wait(at_ns)

    def sentence(self, told: Told) -> str:
        """The wait with how it looks, as far as that was told."""
        how = next((w.how for a in told.sitting.attempts for w in a.waits if w.begin_ns == told.at_ns), "")
        return f"waiting: {how or 'the machine is busy'}"


@frozen
class WaitEnded(_LaneChange):
    """From here the person has the machine again."""

    kind: Literal["wait_ended"] = "wait_ended"
    said: ClassVar[str] = "the machine is back"
    typed: ClassVar[str] = "back"

    def _changes(self, attempt: Attempt) -> bool:
        return attempt.waiting

    def _change(self, attempt: Attempt, at_ns: int) -> None:
        attempt.end_wait(at_ns)


@frozen
class AsideBegan(_LaneChange):
    """From here time belongs neither to the person nor to the machine."""

    kind: Literal["aside_began"] = "aside_began"
    said: ClassVar[str] = "aside"
    typed: ClassVar[str] = "aside"

    def _changes(self, attempt: Attempt) -> bool:
        return not attempt.set_aside

    def _change(self, attempt: Attempt, at_ns: int) -> None:
        attempt.set_aside = True


@frozen
class AsideEnded(_LaneChange):
    """The interruption is over."""

    kind: Literal["aside_ended"] = "aside_ended"
    said: ClassVar[str] = "back from aside"
    typed: ClassVar[str] = "aside over"

    def _changes(self, attempt: Attempt) -> bool:
        return attempt.set_aside

    def _change(self, attempt: Attempt, at_ns: int) -> None:
        attempt.set_aside = False


@frozen
class WaitTold(Happening):
    """How the wait that runs looks to the person; it counts for the whole wait."""

    how: WaitKind
    kind: Literal["wait_told"] = "wait_told"
    phases: ClassVar[frozenset[Phase]] = RUNNING
    afterwards: ClassVar[bool] = True

    def objection(self, sitting: Sitting) -> str:
        return "" if in_hand(sitting).waiting else "Nothing is being waited for."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        in_hand(sitting).waits[-1].how = self.how

    def sentence(self, told: Told) -> None:
        """Shown with the wait."""

    def line(self, numbers: Mapping[str, int]) -> str:
        return self.how


def _waited(at_ns: int, rest: str) -> list[TimedContent]:
    """`wait silent`: a wait, and how it looked."""
    return [TimedContent(at_ns, WaitBegan()), *one(at_ns, WaitTold, how=rest)]


LANES = (
    *(WaitBegan(), WaitEnded(), AsideBegan(), AsideEnded()),
    *(WaitTold("shown progress"), WaitTold("silent"), WaitTold("believed frozen")),
)
VERBS: dict[str, Reader] = {"wait": _waited}
