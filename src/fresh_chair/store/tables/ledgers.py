"""Append-only ledgers, one table each: appended, read, never changed; of two writers the second is told."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from sys import intern
from typing import TYPE_CHECKING, Any

from fresh_chair.core.clock import Moment
from fresh_chair.core.codec import Unreadable
from fresh_chair.core.errors import FileProblem, JournalError, NotSaved, Overtaken
from fresh_chair.core.ledger import Codec
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.store.gate import MOST_ENTRIES, evidence_row, moment_problem, sort_row, unreadable_row
from fresh_chair.store.tables.database import Database
from fresh_chair.store.tables.rows import Rows
from fresh_chair.store.tables.statements import Row

if TYPE_CHECKING:
    from fresh_chair.core.evidence.ledger import EvidenceEntry
    from fresh_chair.core.findings.ledger import SortEntry

# The columns that the tables of all ledgers have.
COLUMNS = "number, kind, version, ticks_ns, boot, wall_ns, author, body"
NO_MOMENT = Moment(0, "", 0)
# Rows behind a wider gap of numbers stand aside: no program leaves one, and one row would stand for a million.
WIDEST_GAP = 1_000
_ASIDE = (
    "SELECT {of}, previous, number, (SELECT COUNT(*) FROM {table} AS later WHERE later.study = gaps.study {same} "
    "AND later.number >= gaps.number) FROM (SELECT study, number{within}, LAG(number, 1, 0) "
    "OVER (PARTITION BY study{within} ORDER BY number) AS previous FROM {table} WHERE study = ?) AS gaps "
    "WHERE number - previous > ? + 1 ORDER BY 1, 2"
)
_OF_SITTING = "(SELECT seat.number FROM seat WHERE seat.study = gaps.study AND seat.id = gaps.sitting)"
_NAMES = {"entry": "", "sort_entry": "Sorting", "evidence_entry": "Evidence", "chair_entry": "Chairs"}


class SortLedger:
    """The sorting ledger."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def append(self, entries: Sequence[SortEntry]) -> None:
        """Append entries, all or none.

        Raises:
            Overtaken: Where another program's entries have those numbers; none of these is kept then.
            NotSaved: Where the database refuses; none is kept then.
        """
        with appending(self._database, "sort_entry", "Sorting") as rows:
            rows.put("sort_entry", [sort_row(entry) for entry in entries])

    def since(self, number: int) -> list[SortEntry]:
        """The entries after the one of a number. Raises FileProblem where it cannot be read."""
        from fresh_chair.core.findings.ledger import CODEC, NAME, SortEntry, sort_id

        query = f"SELECT {COLUMNS} FROM sort_entry WHERE study = ? AND number > ? ORDER BY number"
        found = self._database.read(query, (self._database.study_id, number))
        return [
            SortEntry(sort_id(at), at, moment, author, content)
            for at, moment, author, content, _ in parts(found, NAME, CODEC, after=number)
        ]

    def all(self) -> list[SortEntry]:
        """Every entry in its order; those that cannot be read, or are gone, as such. Raises as `since`."""
        return self.since(0)


class EvidenceLedger:
    """The ledger of evidence records."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def append(self, entries: Sequence[EvidenceEntry]) -> None:
        """Append entries, all or none. Raises as `SortLedger.append`."""
        with appending(self._database, "evidence_entry", "Evidence") as rows:
            rows.put("evidence_entry", [evidence_row(entry) for entry in entries])

    def since(self, number: int) -> list[EvidenceEntry]:
        """The entries after the one of a number. Raises FileProblem where it cannot be read."""
        from fresh_chair.core.evidence.ledger import CODEC, NAME, EvidenceEntry, evidence_id

        query = f"SELECT {COLUMNS} FROM evidence_entry WHERE study = ? AND number > ? ORDER BY number"
        found = self._database.read(query, (self._database.study_id, number))
        return [
            EvidenceEntry(evidence_id(at), at, moment, author, content)
            for at, moment, author, content, _ in parts(found, NAME, CODEC, after=number)
        ]

    def all(self) -> list[EvidenceEntry]:
        """Every entry in its order; those that cannot be read, or are gone, as such. Raises as `since`."""
        return self.since(0)


def require_number(number: object, name: str) -> None:
    """Do nothing where a number is one that an entry can have. Raises FileProblem."""
    if type(number) is not int or not 1 <= number <= MOST_ENTRIES:
        raise FileProblem(
            f"{name} holds an entry with the number {legible(clipped(str(number), 20))}.", "It was left as it is."
        )


@contextmanager
def appending(database: Database, table: str, name: str) -> Iterator[Rows]:
    """Append to a ledger's table.

    Raises:
        Overtaken: Where another program's entries have the numbers of these.
        NotSaved: Where the database refuses.
    """
    try:
        with database.changing() as rows:
            yield rows
    except NotSaved as problem:
        if not database.is_taken(problem, table):
            raise
        raise Overtaken(f"{name} has gone on meanwhile.", "It is read on.") from problem


def parts(
    rows: Sequence[Row], name: str, codec: Codec, *, after: int = 0
) -> Iterator[tuple[int, Moment, str, Any, Row | None]]:
    """Number, moment, author, content and row of a ledger's entries; where numbers are missing, an unreadable one.

    It ends before a gap that no program leaves: `rows_aside` names the rows behind it.

    Args:
        rows: The rows, by number, with `COLUMNS` among theirs.
        name: What to call the ledger.
        codec: Reads its contents.
        after: The number of the entry before the first row.

    Raises:
        FileProblem: Where a number is none that an entry can have.
    """
    last, moment = after, NO_MOMENT
    for row in rows:
        number = row["number"]
        require_number(number, name)
        if number - last > WIDEST_GAP + 1:
            return
        for missing in range(last + 1, number):
            yield missing, moment, "", Unreadable("", f"{name}, entry {missing} is missing."), None
        moment, author, content = parts_of(row, f"{name}, entry {number}", codec, moment)
        yield number, moment, author, content, row
        last = number


def rows_aside(database: Database) -> list[str]:
    """A sentence for each gap of numbers behind which the rows of a ledger stand aside. Raises FileProblem."""
    said, done = [], set[str]()
    for table, name in _NAMES.items():
        own = table == "entry"
        query = _ASIDE.format(
            table=table,
            of=_OF_SITTING if own else "0",
            same="AND later.sitting = gaps.sitting" if own else "",
            within=", sitting" if own else "",
        )
        for sitting, before, number, count in database.read(query, (database.study_id, WIDEST_GAP)):
            where = name or f"Sitting {sitting}"
            # What stands behind one gap stands behind the next one, too.
            if where not in done:
                done.add(where)
                gone = f"{before + 1:,} to {number - 1:,}"
                behind = f"{count_of(count, 'entry', 'entries')} behind {'stands' if count == 1 else 'stand'} aside"
                said.append(f"{where}: entries {gone} are missing; {behind}")
    return said


def parts_of(row: Row, where: str, codec: Codec, before: Moment) -> tuple[Moment, str, Any]:
    """Moment, author and content of a ledger's row; an unreadable content stands there as such.

    Args:
        row: With `COLUMNS` among its columns.
        where: What to call it.
        codec: Reads its content.
        before: The moment of the entry before it, for one whose own cannot be read.
    """
    moment, author = before, row["author"]
    why = moment_problem(row["ticks_ns"], row["boot"], row["wall_ns"])
    if not why:
        # A few machines and people stand in a hundred thousand rows: each is held once.
        moment = Moment(row["ticks_ns"], intern(row["boot"]), row["wall_ns"])
    if isinstance(author, str):
        author = intern(author)
    else:
        why, author = "nobody is named as its author", ""
    if not why:
        try:
            return moment, author, codec.content_from(row["body"], version=row["version"], where=where)
        except JournalError as problem:
            why = problem.title
    return moment, author, unreadable_row(row, where, why)
