"""The ledgers of the chairs, read when first needed and kept up to date."""

from collections.abc import Mapping, Sequence
from threading import Lock

from fresh_chair.core.chair.ledger import ChairContent, ChairEntry, ChairLedger, replay_chairs, take_in
from fresh_chair.core.chair.state import State
from fresh_chair.core.clock import Moment
from fresh_chair.store.sqlite.chair_ledgers import ChairLedgers
from fresh_chair.store.sqlite.study_file import StudyFile


class KnownChairs:
    """The ledgers of all chairs of one study.

    Reading a chair takes a while and is done beside the screen; so entries may come from another thread.
    """

    def __init__(self, file: StudyFile) -> None:
        self._stored = ChairLedgers(file)
        self._ledgers: dict[str, ChairLedger] | None = None
        self._count = 0
        self._lock = Lock()
        self._writing = Lock()

    def forget(self) -> None:
        """Read everything again when it is next needed."""
        with self._lock:
            self._ledgers = None

    @property
    def known(self) -> set[str]:
        """Letters of the chairs of which anything is known."""
        return set(self.all)

    @property
    def all(self) -> dict[str, ChairLedger]:
        """Every ledger's state, by the chair's letter; a copy that other threads' entries do not change."""
        with self._lock:
            return dict(self._read())

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
        with self._writing:
            with self._lock:
                self._read()
                count = self._count
            entries = [
                ChairEntry(count + place, letter, moment, author, content)
                for place, content in enumerate(contents, start=1)
            ]
            # Whoever only looks does not wait for the disk.
            self._stored.append(entries, dict(states))
            with self._lock:
                ledgers = self._read()
                if self._count == count:
                    self._count += len(entries)
                    for entry in entries:
                        take_in(ledgers, entry)

    def next_state(self) -> int:
        """The number of the next state."""
        return self._stored.next_state()

    def state(self, number: int) -> State:
        """A whole state. Raises JournalError where it cannot be read."""
        return self._stored.state(number)

    def entries(self) -> list[ChairEntry]:
        """Every entry as it was written."""
        return self._stored.all()

    def _read(self) -> dict[str, ChairLedger]:
        if self._ledgers is None:
            entries = self._stored.all()
            self._count = entries[-1].number if entries else 0
            self._ledgers = replay_chairs(entries)
        return self._ledgers
