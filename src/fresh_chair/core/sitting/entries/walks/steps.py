"""The steps of a walk: opened, set aside, come back to and closed in any order; lists gone through; times said."""

import re
from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from fresh_chair.core.bounds import Ge, MaxLen, MinLen
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import LedgerEntry, Typed
from fresh_chair.core.sitting.entries.base import Happening, Seconds, Told
from fresh_chair.core.sitting.entries.syntax import (
    Reader,
    TimedContent,
    about,
    card_and,
    kept,
    number,
    one,
    seconds_in,
    shown,
    words_meant,
)
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.sitting.state.walk import Item, ItemResult, Step, StepEnding, Walk

WALKING = frozenset({Phase.WALKING})
WALKED = WALKING | {Phase.ENDED, Phase.BROKEN_OFF}
Title = Annotated[str, MinLen(1), MaxLen(200)]
MOST_STEPS = 2000
_ITEM = re.compile(r"(\d{1,4}) ([a-z ]+?)(?: = (.*))?")


def walk_of(sitting: Sitting) -> Walk:
    """The sitting's walk, which the rules have made sure of."""
    assert sitting.walk is not None
    return sitting.walk


@frozen
class StepOpened(Happening):
    """A step is in hand from here; one that was in hand is set aside.

    Args:
        title: The step in the reviewer's words.
        card: The card of the script that it is; empty where it stood on no list.
    """

    title: Title
    card: Typed = ""
    kind: Literal["step_opened"] = "step_opened"
    phases: ClassVar[frozenset[Phase]] = WALKING

    def objection(self, sitting: Sitting) -> str:
        if len(walk_of(sitting).steps) < MOST_STEPS:
            return ""
        return f"A walk has at most {MOST_STEPS} steps; the next part of the series is a walk of its own."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        walk = walk_of(sitting)
        walk.set_aside(at_ns)
        step = Step(len(walk.steps) + 1, entry.id, self.title, self.card, at_ns, turn=len(walk.turns))
        step.take(at_ns)
        walk.steps.append(step)
        walk.hand = step.number

    def sentence(self, told: Told) -> str:
        return f"step: {self.title}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"card {self.card} {kept(self.title)}" if self.card else f"open {kept(self.title)}"


@frozen
class StepSetAside(Happening):
    """The step in hand is set aside, with nothing in hand after it; running where the machine works on for it."""

    running: bool = False
    kind: Literal["step_set_aside"] = "step_set_aside"
    phases: ClassVar[frozenset[Phase]] = WALKING

    def objection(self, sitting: Sitting) -> str:
        return "" if walk_of(sitting).hand else "No step is in hand."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        walk_of(sitting).set_aside(at_ns, running=self.running)

    def sentence(self, told: Told) -> str:
        return "left running; the machine works on" if self.running else "set aside"

    def line(self, numbers: Mapping[str, int]) -> str:
        return "leave running" if self.running else "leave"


class _OfStep(Happening):
    """About a step, by the entry that opened it; it falls with that one, where it is struck."""

    __slots__ = ()
    entry: str
    phases: ClassVar[frozenset[Phase]] = WALKING
    falls: ClassVar[bool] = True

    def objection(self, sitting: Sitting) -> str:
        found = sitting.walk.opened_by(self.entry) if sitting.walk is not None else None
        return "" if found is not None else "There is no such step."

    def _step(self, sitting: Sitting) -> Step:
        step = walk_of(sitting).opened_by(self.entry)
        assert step is not None
        return step

    def _title(self, told: Told) -> str:
        """The step's title, for a line in the journal that may be of one that was struck."""
        walk = told.sitting.walk
        step = walk.opened_by(self.entry) if walk is not None else None
        return "a step" if step is None else step.title


@frozen
class StepTakenUp(_OfStep):
    """A step is in hand again: one set aside, or one that was closed too early."""

    entry: str
    kind: Literal["step_taken_up"] = "step_taken_up"

    def objection(self, sitting: Sitting) -> str:
        said = _OfStep.objection(self, sitting)
        in_hand = walk_of(sitting).step
        return said or ("It is in hand already." if in_hand is not None and in_hand.entry == self.entry else "")

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        walk, step = walk_of(sitting), self._step(sitting)
        walk.set_aside(at_ns)
        step.ending, step.reason, step.closed_ns = None, "", None
        step.take(at_ns)
        walk.hand = step.number

    def sentence(self, told: Told) -> str:
        return f"back to: {self._title(told)}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"return #{numbers[self.entry]}"


@frozen
class StepClosed(_OfStep):
    """How a step ended, with why where that was said."""

    entry: str
    ending: StepEnding
    reason: Typed = ""
    kind: Literal["step_closed"] = "step_closed"

    def objection(self, sitting: Sitting) -> str:
        lacking = self.ending.needs_reason and not self.reason.strip()
        said = _OfStep.objection(self, sitting)
        return said or (f"“{self.ending.words}” needs a reason." if lacking else "")

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        walk, step = walk_of(sitting), self._step(sitting)
        if walk.hand == step.number:
            walk.set_aside(at_ns)
        elif step.running_ns is not None:
            step.machine.append((step.running_ns, at_ns))
            step.running_ns = None
        step.ending, step.reason, step.closed_ns = self.ending, self.reason, at_ns

    def sentence(self, told: Told) -> str:
        why = f": {self.reason}" if self.reason else ""
        return f"{self._title(told)}: {self.ending.words}{why}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"close #{numbers[self.entry]} {self.ending.value} {kept(self.reason)}".rstrip(" ")


@frozen
class ItemsListed(_OfStep):
    """A step goes through a list, in one go."""

    entry: str
    items: Annotated[tuple[Title, ...], MinLen(1), MaxLen(200)]
    kind: Literal["items_listed"] = "items_listed"

    def objection(self, sitting: Sitting) -> str:
        said = _OfStep.objection(self, sitting)
        if said:
            return said
        there = {item.name for item in self._step(sitting).items}
        twice = len(set(self.items)) < len(self.items) or not there.isdisjoint(self.items)
        return "A thing stands on a list once." if twice else ""

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        self._step(sitting).items += [Item(name) for name in self.items]

    def sentence(self, told: Told) -> str:
        return f"a list of {len(self.items)}: {', '.join(self.items)}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"list #{numbers[self.entry]} {' | '.join(_piece(name) for name in self.items)}"


@frozen
class ItemJudged(_OfStep):
    """How one thing of a step's list went; `item` is its number on the list, from 1."""

    entry: str
    item: Annotated[int, Ge(1)]
    result: ItemResult
    words: Typed = ""
    kind: Literal["item_judged"] = "item_judged"

    def objection(self, sitting: Sitting) -> str:
        said = _OfStep.objection(self, sitting)
        if said:
            return said
        return "" if self.item <= len(self._step(sitting).items) else "That does not stand on the step's list."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        item = self._step(sitting).items[self.item - 1]
        item.result, item.words = self.result, self.words

    def sentence(self, told: Told) -> str:
        walk = told.sitting.walk
        step = walk.opened_by(self.entry) if walk is not None else None
        there = step is not None and self.item <= len(step.items)
        name = step.items[self.item - 1].name if step is not None and there else f"thing {self.item}"
        return f"{name}: {self.result}{f', {self.words}' if self.words else ''}"

    def line(self, numbers: Mapping[str, int]) -> str:
        words = f" = {kept(self.words)}" if self.words else ""
        return f"item #{numbers[self.entry]} {self.item} {self.result}{words}"


@frozen
class TimeSaid(_OfStep):
    """How long a step took as the reviewer says it; nothing measured it."""

    entry: str
    seconds: Seconds
    kind: Literal["time_said"] = "time_said"

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        self._step(sitting).said_seconds = self.seconds

    def sentence(self, told: Told) -> str:
        return f"{self._title(told)}: took about {self.seconds:g} s, as it was said"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"took #{numbers[self.entry]} {self.seconds!r}"


@frozen
class StepMadeCard(_OfStep):
    """A step that stood on no list is a card of the script from here on."""

    entry: str
    card: Annotated[Typed, MinLen(1)]
    kind: Literal["step_made_card"] = "step_made_card"
    phases: ClassVar[frozenset[Phase]] = WALKED
    afterwards: ClassVar[bool] = True

    def objection(self, sitting: Sitting) -> str:
        said = _OfStep.objection(self, sitting)
        return said or ("It is a card already." if self._step(sitting).card else "")

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        self._step(sitting).card = self.card

    def sentence(self, told: Told) -> str:
        return f"{self._title(told)}: a card of the script from here on"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"is card #{numbers[self.entry]} {self.card}"


def _piece(text: str) -> str:
    """A text as it stands among others on one line: the sign that parts them is written as its number."""
    return kept(text).replace("|", f"\\x{ord('|'):04x}")


def _card(at_ns: int, rest: str) -> list[TimedContent]:
    card, title = card_and(rest)
    return one(at_ns, StepOpened, title=words_meant(title) or card, card=card)


def _closed(text: str) -> dict[str, object]:
    ending, _, reason = text.partition(" ")
    return {"ending": ending, "reason": words_meant(reason)}


def _listed(text: str) -> dict[str, object]:
    return {"items": [words_meant(name.strip()) for name in text.split("|")]}


def _judged(text: str) -> dict[str, object]:
    match = _ITEM.fullmatch(text)
    if match is None:
        raise ValueError(f"{shown(text)} does not say which thing, such as item #3 2 works")
    item, result, words = match.groups()
    return {"item": number(item), "result": result, "words": words_meant(words or "")}


STEPS = (StepSetAside(), StepSetAside(running=True))
VERBS: dict[str, Reader] = {
    "open": lambda at, rest: one(at, StepOpened, title=words_meant(rest)),
    "card": _card,
    "return": lambda at, rest: about(at, rest, StepTakenUp, lambda _: {}),
    "close": lambda at, rest: about(at, rest, StepClosed, _closed),
    "list": lambda at, rest: about(at, rest, ItemsListed, _listed),
    "item": lambda at, rest: about(at, rest, ItemJudged, _judged),
    "is card": lambda at, rest: about(at, rest, StepMadeCard, lambda text: {"card": text}),
    "took": lambda at, rest: about(at, rest, TimeSaid, lambda text: {"seconds": seconds_in(text)}),
}
