"""The base of all contents of a journal: when one may follow, its effect, its words, its line of text."""

from collections.abc import Mapping
from typing import Annotated, ClassVar

from fresh_chair.core.bounds import Ge, Le, MinLen
from fresh_chair.core.codec import encoded
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import LedgerEntry, Typed
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.attempt import Attempt
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Sitting

# Longer than any sitting or recording of one.
MOST_SECONDS = 200_000
Seconds = Annotated[float, Ge(0), Le(MOST_SECONDS)]
Why = Annotated[Typed, MinLen(1)]
Ordinal = Annotated[int, Ge(1), Le(99)]
Severity = Annotated[int, Ge(0), Le(4)]

OPEN = frozenset(phase for phase in Phase if phase.open)
BEGUN = frozenset(Phase) - {Phase.EMPTY}
RUNNING = frozenset({Phase.RUNNING})
READING = frozenset({Phase.READING})
BETWEEN = frozenset({Phase.READING, Phase.LEFT_RUNNING, Phase.USABILITY, Phase.CLOSING})
# Kinds that may carry words, then or later.
WORDABLE = ("snag", "delight", "note", "quote", "warning", "question", "line")
# Marks on an attempt's line of time that may be given words at any later moment.
WORDED_MARKS = ("helped", "wrong_place", "said_done", "marked", "step_reached", "place_visited")
NO_SUCH_ATTEMPT = "There is no such attempt that was judged."


@frozen
class Told:
    """Everything an entry's words may need."""

    study: Study
    sitting: Sitting
    entry: LedgerEntry
    at_ns: int

    def title(self, card: str) -> str:
        """A card's title; its id where the plan has no such card."""
        return self.study.card_by_id[card].title if card in self.study.card_by_id else card

    def tried(self, number: int) -> str:
        """The title of an attempt's card."""
        known = 0 < number <= len(self.sitting.attempts)
        return self.title(self.sitting.attempts[number - 1].card) if known else f"attempt {number}"


class Happening:
    """One kind of content. A new kind is a class like these in its family, a name in `journal`, a key in `tui/sit`.

    Attributes:
        kind: Its name on disk.
        phases: In which phases of a sitting it may follow.
        observable: Whether a second observer may log it.
        movable: Whether its moment can be corrected; lanes are not, since others' time hangs on them.
        undoable: Whether the key that takes back the last mark takes it back.
        falls: Whether it falls with the entry it speaks of, where that is struck.
        afterwards: Whether it may be said at any later time: it tells of earlier entries, and moves no clock.
        letter: Its letter on a line of time; empty for none.
        said: Its words, where they are always the same.
        typed: Its line of text, where it is always the same.
    """

    __slots__ = ()
    kind: str
    phases: ClassVar[frozenset[Phase]] = frozenset()
    observable: ClassVar[bool] = False
    movable: ClassVar[bool] = False
    undoable: ClassVar[bool] = True
    falls: ClassVar[bool] = False
    afterwards: ClassVar[bool] = False
    letter: ClassVar[str] = ""
    said: ClassVar[str] = ""
    typed: ClassVar[str] = ""

    def objection(self, sitting: Sitting) -> str:
        """Why it may not follow now though the phase allows it, as a sentence; empty where it may."""
        return ""

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        """Change the state of the sitting by it; the rules have let it through."""

    def sentence(self, told: Told) -> str | None:
        """Its line in the journal; None for one that shows in another entry's line."""
        return self.said

    def line(self, numbers: Mapping[str, int]) -> str:
        """Its line of text without the time; `numbers` are those of entries, by id."""
        return self.typed or f"entry {encoded(self)}"


def in_hand(sitting: Sitting) -> Attempt:
    """The attempt in hand, which the rules have made sure of."""
    attempt = sitting.latest
    assert attempt is not None
    return attempt


def judged(sitting: Sitting, number: int) -> Attempt | None:
    """The attempt of that number, where it stands and was judged."""
    attempt = sitting.attempts[number - 1] if number <= len(sitting.attempts) else None
    return attempt if attempt is not None and attempt.judged else None


def observer_of(sitting: Sitting, entry: LedgerEntry) -> str:
    """The second observer who made an entry; empty for the moderator."""
    return entry.author if entry.author in sitting.observers else ""
