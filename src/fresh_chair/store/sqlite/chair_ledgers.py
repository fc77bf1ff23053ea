"""The ledgers of the chairs on disk: entries appended, whole states compressed beside them."""

import zlib
from collections.abc import Mapping, Sequence

from fresh_chair.core.chair.ledger import CODEC, NAME, ChairEntry, chair_id
from fresh_chair.core.chair.state import State, state_from, state_text
from fresh_chair.core.errors import InputError, JournalError
from fresh_chair.store.sqlite.erasing import OWN_NAMES
from fresh_chair.store.sqlite.ledgers import COLUMNS, appending, parts
from fresh_chair.store.sqlite.study_file import StudyFile
from fresh_chair.store.sqlite.troubles import reading

# The largest state that is ever kept, as JSON; a chair with 20,000 names makes one of two million.
_LARGEST_STATE = 32_000_000


class ChairLedgers:
    """Reads and writes the ledgers of the chairs."""

    def __init__(self, file: StudyFile) -> None:
        self._file = file

    def append(self, entries: Sequence[ChairEntry], states: Mapping[int, State] | None = None) -> None:
        """Put entries on the disk with the states that they speak of, all or none.

        Raises:
            Overtaken: Where another program's entries or states have those numbers; none of these is kept then.
            NotSaved: Where the disk refuses; none is kept then.
        """
        from fresh_chair.store.sqlite.rows import insert_chair_entries

        packed = {number: _packed(state) for number, state in (states or {}).items()}
        with appending(self._file, "chair_entry", NAME), self._file.engine.begin() as connection:
            insert_chair_entries(connection, entries, packed)

    def since(self, number: int) -> list[ChairEntry]:
        """The entries after the one of a number. Raises FileProblem where the file cannot be read."""
        query = f"SELECT chair, {COLUMNS} FROM chair_entry WHERE number > ? ORDER BY number"
        found = self._file.read(query, (number,))
        return [
            ChairEntry(chair_id(at), at, moment, author, content, "" if row is None else str(row["chair"]))
            for at, moment, author, content, row in parts(found, NAME, CODEC, after=number)
        ]

    def all(self) -> list[ChairEntry]:
        """Every entry in its order; those that cannot be read, or are gone, as such. Raises as `since`."""
        return self.since(0)

    def next_state(self) -> int:
        """The number that the next state gets."""
        with reading(self._file.name), self._file.rows() as rows:
            return int(rows.execute("SELECT COALESCE(MAX(number), 0) + 1 FROM chair_state").fetchone()[0])

    def state(self, number: int) -> State:
        """A whole state.

        Raises:
            JournalError: Where it is not there, or no state.
        """
        with reading(self._file.name), self._file.rows() as rows:
            row = rows.execute("SELECT body FROM chair_state WHERE number = ?", (number,)).fetchone()
        where = f"State {number} of a chair"
        if row is None:
            raise JournalError(f"{where} is not in {self._file.name}.")
        return _unpacked(row[0], where)


def _packed(state: State) -> bytes:
    """A state as it is kept. Raises InputError where it is larger than any that is read back."""
    try:
        text = state_text(state).encode()
    except UnicodeEncodeError:
        raise InputError(
            "What the chair answered cannot be kept: it is not UTF-8.", "Nothing was put on record."
        ) from None
    if len(text) > _LARGEST_STATE:
        raise InputError(
            f"What the chair answered is too large to be kept: {len(text) // 1_000_000} MB.",
            "Nothing was put on record.",
        )
    return zlib.compress(text, level=6)


def _unpacked(packed: object, where: str) -> State:
    opened = zlib.decompressobj()
    try:
        if not isinstance(packed, bytes):
            raise JournalError(f"{where} cannot be read: it is damaged.")
        text = opened.decompress(packed, _LARGEST_STATE)
        if not opened.eof:
            raise JournalError(f"{where} is not whole, or too large.")
        return state_from(text.decode(), where=where)
    except (zlib.error, UnicodeDecodeError) as problem:
        raise JournalError(f"{where} cannot be read: it is damaged.") from problem


def without_own_names(packed: bytes) -> tuple[bytes, int]:
    """A kept state without the names that people choose themselves, and how many names are left.

    It is an empty one where it cannot be read.
    """
    try:
        state = _unpacked(packed, "A state")
    except JournalError:
        return _packed(State({})), 0
    kept = {name: part if name not in OWN_NAMES else {} for name, part in state.sections.items()}
    left = State(kept, state.unread)
    return _packed(left), left.count
