"""Writing rows into the tables of a study, in the same SQL that reads them."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from typing import TYPE_CHECKING, Any

from fresh_chair.core.errors import NotSaved

if TYPE_CHECKING:
    from fresh_chair.store.tables.statements import Execute, ExecuteAll

# The version of the documents that a plan is made of.
DOCUMENT = 1
# The newest state that the chair was in when the sitting began.
_REFER_TO_STATE = (
    "UPDATE seat SET state = (SELECT MAX(held.number) FROM chair_state AS held WHERE held.study = seat.study AND "
    "held.chair = seat.chair AND (held.since_wall_ns IS NULL OR held.since_wall_ns <= ?)) "
    "WHERE study = ? AND id = ? AND state IS NULL"
)
_SEAL = "UPDATE hunch SET sealed_wall_ns = ? WHERE study = ? AND chair = ? AND sealed_wall_ns IS NULL"
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

    def change(self, table: str, values: Mapping[str, object], where: Mapping[str, object]) -> int:
        """Change rows of the plan whose columns hold certain values; returns how many."""
        marks, found_by = (", ".join(f"{name} = ?" for name in values), _found_by(where))
        return self.execute(
            f"UPDATE {table} SET {marks} WHERE study = ?{found_by}", (*values.values(), self.study, *where.values())
        )

    def remove(self, table: str, where: Mapping[str, object]) -> None:
        """Delete rows of the plan whose columns hold certain values."""
        self._execute(f"DELETE FROM {table} WHERE study = ?{_found_by(where)}", (self.study, *where.values()))

    def change_head(self, values: Mapping[str, object], *, revision: int | None = None) -> bool:
        """Change the study's own row.

        Args:
            values: By column.
            revision: Where it is given, a change of the plan is counted; False where it is not at that one.
        """
        marks = [f"{name} = ?" for name in values]
        given: tuple[object, ...] = (*values.values(), self.study)
        if revision is None:
            return not marks or bool(self.execute(f"UPDATE study SET {', '.join(marks)} WHERE id = ?", given))
        marks.append("revision = revision + 1")
        query = f"UPDATE study SET {', '.join(marks)} WHERE id = ? AND revision = ?"
        return bool(self.execute(query, (*given, revision)))

    def execute(self, query: str, values: Sequence[object]) -> int:
        """Change rows by a query with parameters of its own; returns how many."""
        return self._execute(query, tuple(values)).rowcount

    def refer_to_state(self, sitting: str, wall_ns: int) -> None:
        """Note which state the chair was in when a sitting began."""
        self._execute(_REFER_TO_STATE, (wall_ns, self.study, sitting))

    def hold_state(self, sitting: str, state: int) -> None:
        """Note by its number which state the chair was in when a sitting began elsewhere."""
        query = "UPDATE seat SET state = ? WHERE study = ? AND id = ? AND state IS NULL"
        self._execute(query, (state, self.study, sitting))

    def seal_hunches(self, chair: str, wall_ns: int) -> None:
        """Seal every open hunch at a chair."""
        self._execute(_SEAL, (wall_ns, self.study, chair))

    def drop_sittings(self, sittings: Sequence[str], participant: str) -> None:
        """Delete the entries of a person's sittings, after their erasure was put on record."""
        del participant
        for table in ("entry", "pulse"):
            self.drop(table, "sitting", sittings)

    def rewrite(self, table: str, number: int, body: object, *, sitting: str = "") -> None:
        """Put another content into a row of a ledger, because a person is erased."""
        within, values = (" AND sitting = ?", (sitting,)) if sitting else ("", ())
        query = f"UPDATE {table} SET body = ? WHERE study = ? AND number = ?{within}"
        self._execute(query, (body, self.study, number, *values))

    def chair_id(self, letter: str) -> str:
        """The permanent id of the chair with a letter, or of the one that had it last."""
        return str(self.one(_ID_OF_CHAIR, letter) or letter)

    def sitting_id(self, number: int) -> str:
        """The permanent id of a sitting. Raises NotSaved where none is planned under that number."""
        found = self.one("SELECT id FROM seat WHERE study = ? AND number = ?", number)
        if found is None:
            raise NotSaved(f"No sitting {number} is planned.", "This was not saved; all that was shown before is.")
        return str(found)


def _found_by(where: Mapping[str, object]) -> str:
    return "".join(f" AND {name} = ?" for name in where)
