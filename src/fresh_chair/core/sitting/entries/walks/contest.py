"""A contest: walks of one reviewer at several chairs, on the same steps, and which chair was better at each."""

import re
from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from fresh_chair.core.bounds import MaxLen, MinLen
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import LedgerEntry, Typed
from fresh_chair.core.sitting.entries.base import Happening, Told
from fresh_chair.core.sitting.entries.syntax import Reader, TimedContent, about, kept, one, shown, words_meant
from fresh_chair.core.sitting.entries.walks.steps import WALKING, walk_of
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.sitting.state.walk import Contest, Judgement

_LETTER = re.compile("[A-Z]")
ContestName = Annotated[Typed, MinLen(1), MaxLen(60)]
Letters = Annotated[tuple[str, ...], MinLen(2), MaxLen(6)]
# The answers besides a chair's letter.
UNDECIDED = ("neither", "cannot say")


@frozen
class ContestJoined(Happening):
    """The walk is one side of a contest.

    Args:
        contest: Its name; the walks of one contest have the same.
        chairs: Letters of all of its chairs.
    """

    contest: ContestName
    chairs: Letters
    kind: Literal["contest_joined"] = "contest_joined"
    phases: ClassVar[frozenset[Phase]] = WALKING
    undoable: ClassVar[bool] = False

    def objection(self, sitting: Sitting) -> str:
        if walk_of(sitting).contest is not None:
            return "The walk is part of a contest already."
        if len(set(self.chairs)) < len(self.chairs) or not all(_LETTER.fullmatch(each) for each in self.chairs):
            return "A contest is between chairs by their letters, each once."
        return ""

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        walk_of(sitting).contest = Contest(self.contest, self.chairs)

    def sentence(self, told: Told) -> str:
        return f"a contest between {' and '.join(self.chairs)}: {self.contest}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"contest {','.join(self.chairs)} {kept(self.contest)}"


@frozen
class StepCompared(Happening):
    """Which chair was better at a step, with why.

    Args:
        entry: The entry that opened the step here.
        better: A chair's letter, `neither`, or `cannot say`.
    """

    entry: str
    better: Annotated[str, MaxLen(12)]
    reason: Typed = ""
    kind: Literal["step_compared"] = "step_compared"
    phases: ClassVar[frozenset[Phase]] = WALKING
    afterwards: ClassVar[bool] = True
    falls: ClassVar[bool] = True

    def objection(self, sitting: Sitting) -> str:
        walk = walk_of(sitting)
        if walk.contest is None:
            return "The walk is no part of a contest."
        if walk.opened_by(self.entry) is None:
            return "There is no such step."
        known = (*walk.contest.chairs, *UNDECIDED)
        return "" if self.better in known else f"Better is one of: {', '.join(known)}."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        step = walk_of(sitting).opened_by(self.entry)
        assert step is not None
        step.judgement = Judgement(self.better, self.reason, entry.moment.wall_ns)

    def sentence(self, told: Told) -> str:
        walk = told.sitting.walk
        step = walk.opened_by(self.entry) if walk is not None else None
        title = "a step" if step is None else step.title
        why = f": {self.reason}" if self.reason else ""
        said = self.better if self.better in UNDECIDED else f"{self.better} was better"
        return f"{title}, {said}{why}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"better #{numbers[self.entry]} {self.better.replace(' ', '-')} {kept(self.reason)}".rstrip(" ")


def _joined(at_ns: int, rest: str) -> list[TimedContent]:
    letters, _, name = rest.partition(" ")
    return one(at_ns, ContestJoined, contest=words_meant(name), chairs=letters.split(","))


def _better(text: str) -> dict[str, object]:
    better, _, reason = text.partition(" ")
    if not better:
        raise ValueError(f"{shown(text)} does not say which was better, such as better #3 B the menu is nearer")
    return {"better": better.replace("-", " "), "reason": words_meant(reason)}


VERBS: dict[str, Reader] = {
    "contest": _joined,
    "better": lambda at, rest: about(at, rest, StepCompared, _better),
}
