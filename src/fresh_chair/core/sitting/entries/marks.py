"""Marks on the line of time: help, wrong places, marks without words, steps and spots, and the chair's own answer."""

from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from fresh_chair.core.bounds import Ge
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import LedgerEntry, Typed
from fresh_chair.core.sitting.entries.base import BEGUN, RUNNING, Happening, Ordinal, Told, in_hand, observer_of
from fresh_chair.core.sitting.entries.syntax import Reader, TimedContent, about, kept, made, number, one, words_meant
from fresh_chair.core.sitting.state.attempt import Attempt, Tick
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Sitting

HelpLevel = Literal["repeated the card", "encouraged", "hinted", "showed"]
MarkName = Literal["hesitates", "tries again", "no reaction", "misled", "restart", "new login"]
ChairSays = Literal["confirmed", "contradicted", "cannot tell", "was so before"]
# Marks that need no words have a letter and a line each.
MARK_LETTERS: dict[str, str] = {
    "tries again": "t",
    "hesitates": "z",
    "no reaction": "r",
    "misled": "m",
    "restart": ",",
    "new login": ".",
}
_MARK_WORDS = {
    "no reaction": "the machine does not react",
    "misled": "misled by a message",
    "restart": "the machine is restarted",
    "new login": "a new login",
}


class _Mark(Happening):
    """A mark of the attempt in hand; a second observer's is drawn, and not counted."""

    __slots__ = ()
    phases: ClassVar[frozenset[Phase]] = RUNNING
    observable: ClassVar[bool] = True
    movable: ClassVar[bool] = True

    def _count(self, attempt: Attempt, entry: LedgerEntry) -> None:
        raise NotImplementedError

    def _what(self) -> str | int:
        return ""

    def _named(self, told: Told) -> str:
        return self.said

    def sentence(self, told: Told) -> str:
        """The mark, with its words where it was given some."""
        words = told.sitting.mark_words.get(told.entry.id, "")
        return f"{self._named(told)}{': ' if words else ''}{words}"

    def objection(self, sitting: Sitting) -> str:
        return "" if sitting.attempts else "No attempt has begun yet."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        observer = observer_of(sitting, entry)
        if observer:
            sitting.attempt_of_mark(at_ns).put(Tick(self.kind, at_ns, entry.id, self._what(), observer))
            return
        attempt = in_hand(sitting)
        self._count(attempt, entry)
        attempt.ticks.append(Tick(self.kind, at_ns, entry.id, self._what()))


@frozen
class Helped(_Mark):
    """The moderator helped."""

    kind: Literal["helped"] = "helped"
    letter: ClassVar[str] = "h"
    typed: ClassVar[str] = "helped"

    def _count(self, attempt: Attempt, entry: LedgerEntry) -> None:
        attempt.helps[entry.id] = ""

    def _named(self, told: Told) -> str:
        """The help with how much it was, as far as that was told."""
        level = next((a.helps[told.entry.id] for a in told.sitting.attempts if told.entry.id in a.helps), "")
        return f"helped{': ' if level else ''}{level}"


@frozen
class HelpTold(Happening):
    """How much help an earlier help was."""

    entry: str
    level: HelpLevel
    kind: Literal["help_told"] = "help_told"
    phases: ClassVar[frozenset[Phase]] = BEGUN
    afterwards: ClassVar[bool] = True
    falls: ClassVar[bool] = True

    def objection(self, sitting: Sitting) -> str:
        known = any(self.entry in attempt.helps for attempt in sitting.attempts)
        return "" if known else "There is no help that this tells of."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        for attempt in sitting.attempts:
            if self.entry in attempt.helps:
                attempt.helps[self.entry] = self.level

    def sentence(self, told: Told) -> None:
        """Shown with the help."""

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"help #{numbers[self.entry]} {self.level}"


@frozen
class WrongPlace(_Mark):
    """The participant looked where the thing is not."""

    kind: Literal["wrong_place"] = "wrong_place"
    letter: ClassVar[str] = "p"
    said: ClassVar[str] = "wrong place"
    typed: ClassVar[str] = "wrong place"

    def _count(self, attempt: Attempt, entry: LedgerEntry) -> None:
        attempt.wrong_places += 1


@frozen
class SaidDone(_Mark):
    """The participant said that it is done."""

    kind: Literal["said_done"] = "said_done"
    letter: ClassVar[str] = "f"
    said: ClassVar[str] = "says it is done"
    typed: ClassVar[str] = "says done"

    def _count(self, attempt: Attempt, entry: LedgerEntry) -> None:
        attempt.said_done = True


@frozen
class Marked(_Mark):
    """Something seen that needs no words: a hesitation, another try, no reaction, a restart that the change needs."""

    mark: MarkName
    kind: Literal["marked"] = "marked"

    def _count(self, attempt: Attempt, entry: LedgerEntry) -> None:
        attempt.marks[self.mark] = attempt.marks.get(self.mark, 0) + 1

    def _what(self) -> str:
        return self.mark

    def _named(self, told: Told) -> str:
        return _MARK_WORDS.get(self.mark, self.mark)

    def line(self, numbers: Mapping[str, int]) -> str:
        return self.mark


@frozen
class StepReached(_Mark):
    """The person is at this step of the expected route, counted from 1."""

    step: Ordinal
    kind: Literal["step_reached"] = "step_reached"
    letter: ClassVar[str] = "l"

    def _count(self, attempt: Attempt, entry: LedgerEntry) -> None:
        attempt.steps.add(self.step)

    def _what(self) -> int:
        return self.step

    def _named(self, told: Told) -> str:
        return f"at step {self.step} of the route"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"step {self.step}"


@frozen
class SpotVisited(_Mark):
    """The person is at this spot of the machine, one of the chair's own list or in words."""

    place: Typed
    kind: Literal["place_visited"] = "place_visited"
    letter: ClassVar[str] = "o"

    def _count(self, attempt: Attempt, entry: LedgerEntry) -> None:
        attempt.spots.append(self.place)

    def _what(self) -> str:
        return self.place

    def _named(self, told: Told) -> str:
        return f"at {self.place}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"at {kept(self.place)}"


@frozen
class ChairWitnessed(Happening):
    """The chair's own judgement of an attempt: a fact beside the participant's word and the moderator's judgement.

    Args:
        attempt: Its number in the sitting; 0 for a card that has not been started.
    """

    attempt: Annotated[int, Ge(0)]
    card: str
    when: Literal["before", "after"]
    says: ChairSays
    evidence: Typed = ""
    kind: Literal["chair_witnessed"] = "chair_witnessed"
    # The chair answers when it answers, be the sitting over by then.
    phases: ClassVar[frozenset[Phase]] = BEGUN
    afterwards: ClassVar[bool] = True
    undoable: ClassVar[bool] = False

    def objection(self, sitting: Sitting) -> str:
        if self.attempt == 0:
            return "" if self.card in sitting.cards else "That card is not in this sitting."
        known = self.attempt <= len(sitting.attempts) and sitting.attempts[self.attempt - 1].card == self.card
        return "" if known else "There is no such attempt."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        if self.when == "before":
            sitting.so_before[self.card] = self.says
        if self.attempt:
            attempt = sitting.attempts[self.attempt - 1]
            attempt.chair_says, attempt.chair_evidence = self.says, self.evidence

    def sentence(self, told: Told) -> str:
        evidence = f" ({self.evidence})" if self.evidence else ""
        return f"the chair, {self.when} “{told.title(self.card)}”: {self.says}{evidence}"


def _helped(at_ns: int, rest: str) -> list[TimedContent]:
    """`helped hinted`: a help, and how much it was."""
    return [TimedContent(at_ns, Helped()), TimedContent(at_ns, made(HelpTold, entry="", level=rest), -1)]


def _help(at_ns: int, rest: str) -> list[TimedContent]:
    if rest.startswith("#"):
        return about(at_ns, rest, HelpTold, lambda text: {"level": text})
    return [TimedContent(at_ns, made(HelpTold, entry="", level=rest), -1, last="helped")]


MARKS = (
    *(Helped(), WrongPlace(), SaidDone()),
    *(Marked("hesitates"), Marked("tries again"), Marked("no reaction"), Marked("misled")),
    *(Marked("restart"), Marked("new login")),
)
VERBS: dict[str, Reader] = {
    "helped": _helped,
    "help": _help,
    "step": lambda at, rest: one(at, StepReached, step=number(rest)),
    "at": lambda at, rest: one(at, SpotVisited, place=words_meant(rest)),
}
