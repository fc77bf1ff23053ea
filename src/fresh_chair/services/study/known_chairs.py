"""The ledgers of the chairs, read when first needed and kept up to date."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from fresh_chair.core.chair.ledger import (
    BaselineTaken,
    ChairContent,
    ChairEntry,
    ChairLedger,
    chair_id,
    replay_chairs,
)
from fresh_chair.core.chair.state import State
from fresh_chair.core.clock import Moment
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import EntryStruck
from fresh_chair.core.safe import safe
from fresh_chair.services.study.replayed import ReplayedLedger
from fresh_chair.store.ports import ChairStore


@frozen
class _Known:
    by_letter: Mapping[str, ChairLedger]
    left_out: frozenset[str]


def _replayed(entries: Sequence[ChairEntry], aside: frozenset[str] | None) -> _Known:
    left_out: dict[str, str] = {}
    ledgers = replay_chairs(entries, left_out, aside=aside)
    return _Known(ledgers, frozenset(left_out))


class KnownChairs:
    """The ledgers of all chairs of one study. Reading a chair takes a while; its entries come from another thread."""

    def __init__(self, stored: ChairStore) -> None:
        self._stored = stored
        self.ledger: ReplayedLedger[ChairEntry, _Known] = ReplayedLedger(
            self._stored, _replayed, lambda known: known.left_out
        )

    def forget(self) -> None:
        """Read everything again when it is next needed."""
        self.ledger.forget()

    def read_on(self) -> bool:
        """Take in the entries of other writers; True where there were any. Raises FileProblem."""
        return self.ledger.read_on()

    @property
    def known(self) -> set[str]:
        """Letters of the chairs of which anything is known."""
        return set(self.all)

    @property
    def all(self) -> Mapping[str, ChairLedger]:
        """Every ledger's state, by the chair's letter; later entries make another one."""
        return self.ledger.state.by_letter

    def of(self, letter: str) -> ChairLedger:
        """The ledger of a chair; an empty one where nothing is known of it."""
        return self.all.get(letter) or ChairLedger()

    def put(
        self,
        letter: str,
        contents: Sequence[ChairContent],
        *,
        moment: Moment,
        author: str,
        states: Mapping[int, State],
    ) -> None:
        """Append entries, with the states that they speak of. Raises NotSaved; nothing is kept then."""
        free = {number: number for number in states}

        def make(first: int) -> list[ChairEntry]:
            # Another program may have taken the number since it was asked for.
            following = self.next_state() if states else 0
            free.update({number: following + step for step, number in enumerate(states)})
            return [
                ChairEntry(chair_id(first + step), first + step, moment, author, _renumbered(content, free), letter)
                for step, content in enumerate(contents)
            ]

        self.ledger.append(
            make,
            lambda entries: self._stored.append(entries, {free[number]: state for number, state in states.items()}),
        )

    def strike(self, number: int, reason: str, *, moment: Moment, author: str) -> None:
        """Strike an entry, with why; it stays where it is.

        Raises:
            Refused: Where there is no such entry, or it was struck before.
            NotSaved: Where the disk refuses.
        """
        struck = next((entry for entry in self.entries() if entry.number == number), None)
        letter = struck.chair if struck is not None else "?"
        content = safe(EntryStruck(chair_id(number), reason))
        self.ledger.append(lambda first: [ChairEntry(chair_id(first), first, moment, author, content, letter)])

    def next_state(self) -> int:
        """The number of the next state."""
        return self._stored.next_state()

    def state(self, number: int) -> State:
        """A whole state. Raises JournalError where it cannot be read."""
        return self._stored.state(number)

    def entries(self) -> Sequence[ChairEntry]:
        """Every entry as it was written."""
        return self.ledger.entries


def _renumbered(content: ChairContent, numbers: Mapping[int, int]) -> ChairContent:
    if isinstance(content, BaselineTaken) and content.state in numbers:
        return replace(content, state=numbers[content.state])
    return content
