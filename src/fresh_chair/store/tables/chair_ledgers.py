"""The ledgers of the chairs: entries appended, whole states compressed beside them."""

from collections.abc import Mapping, Sequence

from fresh_chair.core.chair.ledger import CODEC, NAME, ChairEntry, chair_id
from fresh_chair.core.chair.state import State
from fresh_chair.core.errors import JournalError
from fresh_chair.store.gate import chair_row
from fresh_chair.store.tables.database import Database
from fresh_chair.store.tables.ledgers import COLUMNS, appending, parts
from fresh_chair.store.tables.packed_states import packed, unpacked

# Under the letter its chair has, or had when it was taken out.
_ENTRIES = (
    f"SELECT COALESCE(chair.letter, noted.chair) AS chair, {', '.join(f'noted.{c}' for c in COLUMNS.split(', '))} "
    "FROM chair_entry AS noted LEFT JOIN chair ON chair.study = noted.study AND chair.id = noted.chair "
    "WHERE noted.study = ? AND noted.number > ? ORDER BY noted.number"
)


class ChairLedgers:
    """Reads and writes the ledgers of the chairs."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def append(self, entries: Sequence[ChairEntry], states: Mapping[int, State] | None = None) -> None:
        """Append entries with the states that they speak of, all or none.

        Raises:
            Overtaken: Where another program's entries or states have those numbers; none of these is kept then.
            NotSaved: Where the database refuses; none is kept then.
        """
        kept = {number: packed(state) for number, state in (states or {}).items()}
        with appending(self._database, "chair_entry", NAME) as rows:
            # The entries first: whoever was overtaken is told so, whatever numbers its states have.
            rows.put("chair_entry", [{**chair_row(entry), "chair": rows.chair_id(entry.chair)} for entry in entries])
            rows.put("baseline_state", [{"number": number, "body": body} for number, body in kept.items()])

    def since(self, number: int) -> list[ChairEntry]:
        """The entries after the one of a number. Raises FileProblem where it cannot be read."""
        found = self._database.read(_ENTRIES, (self._database.study_id, number))
        return [
            ChairEntry(chair_id(at), at, moment, author, content, "" if row is None else str(row["chair"]))
            for at, moment, author, content, row in parts(found, NAME, CODEC, after=number)
        ]

    def all(self) -> list[ChairEntry]:
        """Every entry in its order; those that cannot be read, or are gone, as such. Raises as `since`."""
        return self.since(0)

    def next_state(self) -> int:
        """The number that the next state gets."""
        query = "SELECT COALESCE(MAX(number), 0) + 1 FROM baseline_state WHERE study = ?"
        return int(self._database.read(query, (self._database.study_id,))[0][0])

    def state(self, number: int) -> State:
        """A whole state.

        Raises:
            JournalError: Where it is not there, or no state.
        """
        query = "SELECT body FROM baseline_state WHERE study = ? AND number = ?"
        found = self._database.read(query, (self._database.study_id, number))
        where = f"State {number} of a chair"
        if not found:
            raise JournalError(f"{where} is not in {self._database.name}.")
        return unpacked(found[0][0], where)
