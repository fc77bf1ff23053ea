"""The chair in motion: altered within a walk, or left for another machine; each makes a new state of it."""

import re
from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from fresh_chair.core.bounds import Ge, Le, MaxLen, MinLen
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import LedgerEntry, Typed
from fresh_chair.core.sitting.entries.base import Happening, Told, Why
from fresh_chair.core.sitting.entries.syntax import Reader, TimedContent, kept, one, shown, words_meant
from fresh_chair.core.sitting.entries.walks.steps import WALKING, walk_of
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.sitting.state.walk import ChairTurn

# Number of one of the chair's states, as the plan keeps them; 0 where none was made, as in a text typed by hand.
StateNumber = Annotated[int, Ge(0), Le(9999)]
MachineName = Annotated[Typed, MinLen(1), MaxLen(200)]


@frozen
class ChairAltered(Happening):
    """The chair was altered here: a kernel changed, a driver mended, an update; all later steps are of the new state.

    Args:
        words: The alteration.
        state: The chair's state from here on.
    """

    words: Why
    state: StateNumber = 0
    kind: Literal["chair_altered"] = "chair_altered"
    phases: ClassVar[frozenset[Phase]] = WALKING

    def objection(self, sitting: Sitting) -> str:
        return "" if self.words.strip() else "An alteration is of something."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        walk_of(sitting).turns.append(ChairTurn(entry.id, at_ns, self.words, "", self.state))

    def sentence(self, told: Told) -> str:
        return f"the chair is altered: {self.words}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"altered{_numbered(self.state)} {kept(self.words)}"


@frozen
class WalkMoved(Happening):
    """The walk goes on at another machine, with why.

    Args:
        machine: The name of the other machine.
        reason: Why the first was left.
        state: The chair's state from here on.
    """

    machine: MachineName
    reason: Why
    state: StateNumber = 0
    kind: Literal["walk_moved"] = "walk_moved"
    phases: ClassVar[frozenset[Phase]] = WALKING

    def objection(self, sitting: Sitting) -> str:
        if not self.machine.strip():
            return "A walk moves to some machine."
        return "" if self.reason.strip() else "Leaving a machine needs a reason."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        walk_of(sitting).turns.append(ChairTurn(entry.id, at_ns, self.reason, self.machine, self.state))

    def sentence(self, told: Told) -> str:
        return f"on to another machine, {self.machine}: {self.reason}"

    def line(self, numbers: Mapping[str, int]) -> str:
        machine = kept(self.machine).replace("|", f"\\x{ord('|'):04x}")
        return f"moved{_numbered(self.state)} {machine} | {kept(self.reason)}"


def _numbered(state: int) -> str:
    return f" ={state}" if state else ""


def _state_and(rest: str) -> tuple[int, str]:
    match = re.match(r"=(\d{1,4})(?:\s+|$)", rest)
    return (int(match[1]), rest[match.end() :]) if match else (0, rest)


def _altered(at_ns: int, rest: str) -> list[TimedContent]:
    state, what = _state_and(rest)
    return one(at_ns, ChairAltered, words=words_meant(what), state=state)


def _moved(at_ns: int, rest: str) -> list[TimedContent]:
    state, said = _state_and(rest)
    machine, sign, reason = said.partition("|")
    if not sign:
        raise ValueError(f"{shown(said)} does not say why, such as moved the older laptop | the screen flickers")
    return one(at_ns, WalkMoved, machine=words_meant(machine.strip()), reason=words_meant(reason.strip()), state=state)


VERBS: dict[str, Reader] = {"altered": _altered, "moved": _moved}
