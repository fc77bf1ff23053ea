"""Writing rows into the tables of a study, in the same SQL that reads them."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from typing import TYPE_CHECKING, Any

from fresh_chair.core.errors import NotSaved

if TYPE_CHECKING:
    from fresh_chair.store.tables.statements import Execute, ExecuteAll

# The version of the documents that a plan is made of.
DOCUMENT = 1
# The chair with a letter; or, where none is planned, the one that had it last.
_ID_OF_CHAIR = "SELECT id FROM chair WHERE study = ? AND letter = ? ORDER BY gone, rowid DESC LIMIT 1"


class Rows:
    """A transaction's writing.

    Args:
        execute: Runs one statement within it.
        study: The id of the study that is written.
        execute_all: Runs one statement for many rows, without waiting for each.
    """

    def __init__(self, execute: Execute, study: str, execute_all: ExecuteAll) -> None:
        self._execute = execute
        self._execute_all = execute_all
        self.study = study

    def put(self, table: str, rows: Iterable[Mapping[str, Any]], *, key: Sequence[str] = ()) -> None:
        """Insert rows; where a key is given, one that is there already is changed in place."""
        alike: dict[str, list[tuple[object, ...]]] = {}
        for row in rows:
            values = {"study": self.study, **row} if table != "study" else dict(row)
            columns = ", ".join(f'"{name}"' for name in values)
            query = f"INSERT INTO {table} ({columns}) VALUES ({', '.join('?' * len(values))})"
            if key:
                changed = ", ".join(f'"{name}" = excluded."{name}"' for name in row if name not in key)
                query += f" ON CONFLICT (study, {', '.join(key)}) DO UPDATE SET {changed}"
            alike.setdefault(query, []).append(tuple(values.values()))
        for query, listed in alike.items():
            if len(listed) == 1:
                self._execute(query, listed[0])
            else:
                self._execute_all(query, listed)

    def drop(self, table: str, column: str, values: Collection[object]) -> None:
        """Delete the rows whose column holds one of these."""
        for value in values:
            self._execute(f"DELETE FROM {table} WHERE study = ? AND {column} = ?", (self.study, value))

    def next_number(self, table: str) -> int:
        """The number that the next row of a table gets."""
        return int(self.one(f"SELECT COALESCE(MAX(number), 0) + 1 FROM {table} WHERE study = ?"))

    def one(self, query: str, *values: object) -> Any:
        """The one value of a query whose first parameter is the study; None where it finds nothing."""
        row = self._execute(query, (self.study, *values)).fetchone()
        return None if row is None else row[0]

    def found(self, query: str, *values: object) -> list[Any]:
        """The rows of a query whose first parameter is the study."""
        return self._execute(query, (self.study, *values)).fetchall()

    def change(self, query: str, *values: object) -> None:
        """Change rows; the first parameter of the query is the study."""
        self._execute(query, (self.study, *values))

    def execute(self, query: str, values: Sequence[object]) -> int:
        """Change rows by a query with parameters of its own; returns how many."""
        return self._execute(query, tuple(values)).rowcount

    def chair_id(self, letter: str) -> str:
        """The permanent id of the chair with a letter, or of the one that had it last."""
        return str(self.one(_ID_OF_CHAIR, letter) or letter)

    def sitting_id(self, number: int) -> str:
        """The permanent id of a sitting. Raises NotSaved where none is planned under that number."""
        found = self.one("SELECT id FROM seat WHERE study = ? AND number = ?", number)
        if found is None:
            raise NotSaved(f"No sitting {number} is planned.", "This was not saved; all that was shown before is.")
        return str(found)
