"""The tables of a study in its file, as the tables' SQL asks for them."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator, Sequence
from contextlib import AbstractContextManager, contextmanager
from typing import TYPE_CHECKING

from fresh_chair.core.text import count_of
from fresh_chair.store.gate import MOST_ENTRIES
from fresh_chair.store.sqlite.form.recognising import display_name
from fresh_chair.store.sqlite.troubles import reading, writing

if TYPE_CHECKING:
    from fresh_chair.core.errors import NotSaved
    from fresh_chair.core.ledger import Signatures
    from fresh_chair.store.sqlite.study_file import StudyFile
    from fresh_chair.store.tables.rows import Rows
    from fresh_chair.store.tables.statements import Look, Row


class FileTables:
    """The tables of one study file.

    Args:
        file: The open study file.
    """

    # A file may come from anywhere, whatever its tables say.
    holds_rules = False
    people_query = "SELECT version, role, body FROM person WHERE study = ? ORDER BY position"

    def __init__(self, file: StudyFile) -> None:
        self.home = file

    @property
    def name(self) -> str:
        """The file's name as it may stand in a sentence."""
        return self.home.name

    @property
    def study_id(self) -> str:
        """The permanent id of the study in the file; empty while there is none. Raises FileProblem."""
        return self.home.study_id

    def read(self, query: str, values: Sequence[object] = ()) -> Sequence[Row]:
        """The rows of a query. Raises FileProblem where the file cannot be read."""
        return self.home.read(query, values)

    @contextmanager
    def look(self) -> Iterator[Look]:
        """Read several queries as of one moment. Raises FileProblem."""
        with reading(self.name), self.home.rows() as rows:
            yield lambda query, values: rows.execute(query, values).fetchall()

    def changing(
        self, study: str | None = None, *, brings: bool = False, turn: int | None = None
    ) -> AbstractContextManager[Rows]:
        """A transaction that writes, as `StudyFile.changing`; a file has one writer, and knows no turns."""
        return self.home.changing(study)

    @contextmanager
    def erasing(self, rows: Rows) -> Iterator[None]:
        """Within a transaction: let appended rows be changed, and mark the file's bytes as still to be packed."""
        from fresh_chair.store.sqlite.erasing import without_triggers

        rows.execute("PRAGMA secure_delete = ON", ())
        with without_triggers(
            self.home.writer(), "entry", "sort_entry", "chair_entry", "baseline_state", "evidence_entry"
        ):
            yield

    def erased(self) -> None:
        """Take away the copy from before an upgrade, in which the erased person still stands."""
        from fresh_chair.store.sqlite.study_file import copy_before

        copy_before(self.home.path).unlink(missing_ok=True)

    def integrity(self) -> tuple[str, tuple[str, ...]]:
        """The file's schema and size, and SQLite's own findings of damage."""
        from fresh_chair.store.sqlite.form.schema import HEAD
        from fresh_chair.store.sqlite.opening import integrity

        try:
            with self.home.rows() as rows:
                problems = integrity(rows)
        except Exception as problem:  # noqa: BLE001 - whatever the database says here is the finding
            return "cannot be read through", (type(problem).__name__,)
        return f"schema {HEAD}, {count_of(self.home.path.stat().st_size, 'byte')}", tuple(problems)

    @property
    def packed(self) -> bool:
        """True where the file's bytes can hold nothing of an erased person."""
        from fresh_chair.store.sqlite.erasing import is_packed

        return is_packed(self.home)

    def pack(self) -> None:
        """Overwrite the freed bytes. Raises NotSaved where another program still reads the file."""
        from fresh_chair.store.sqlite.erasing import pack

        pack(self.home)

    def send_away(self, to: str) -> str:
        """Give the file another name, under which it stays as it was. Raises NotSaved."""
        path = self.home.path
        kept = path.with_name(f"{path.stem}.moved{path.suffix}")
        number = 2
        while kept.exists():
            kept = path.with_name(f"{path.stem}.moved-{number}{path.suffix}")
            number += 1
        self.home.make_room()
        with writing(self.name):
            path.rename(kept)
        return f"{self.name} is called {display_name(kept)} now; nothing more goes into it."

    def call_back(self) -> None:
        """A file that was moved away has another name; this one is here."""

    def ready(self) -> None:
        """Load and connect everything that writing needs. Raises NotSaved where that fails."""
        with writing(self.name):
            import fresh_chair.store.tables.rows  # noqa: F401

            _ = self.home.study_id, self.home.writer()

    def require_numbers(self, table: str, name: str) -> None:
        """Do nothing where every entry of a ledger has a number that one can have. Raises FileProblem."""
        from fresh_chair.store.tables.ledgers import require_number

        query = f"SELECT number FROM {table} WHERE typeof(number) <> 'integer' OR number < 1 OR number > ? LIMIT 1"
        for row in self.read(query, (MOST_ENTRIES,)):
            require_number(row["number"], name)

    def signatures(self) -> Signatures:
        """None: entries in a file have no signatures."""
        from fresh_chair.core.ledger import Signatures

        return Signatures(signed=False)

    def hold(self, rows: Rows, sitting: str) -> None:
        """A transaction that writes holds the whole file."""

    def is_taken(self, problem: NotSaved, table: str) -> bool:
        """True where another program's row of that table has the same number."""
        cause = problem.__cause__
        return isinstance(cause, sqlite3.IntegrityError) and f"{table}.number" in str(cause)
