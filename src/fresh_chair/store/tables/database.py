"""The port of databases under the tables' SQL: rows, one consistent look, transactions durable when they end."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from contextlib import AbstractContextManager
from typing import TYPE_CHECKING, Any, Protocol, TypeVar

from fresh_chair.core.codec import Unfit, built
from fresh_chair.core.errors import FileProblem
from fresh_chair.core.text import with_article

if TYPE_CHECKING:
    from fresh_chair.core.errors import NotSaved
    from fresh_chair.core.ledger import Signatures
    from fresh_chair.store.ports import StudyHome
    from fresh_chair.store.tables.rows import Rows
    from fresh_chair.store.tables.statements import Look, Row

T = TypeVar("T")


class Database(Protocol):
    """One study's tables in some database."""

    @property
    def home(self) -> StudyHome:
        """Where the study is kept."""

    @property
    def name(self) -> str:
        """The name of the study's place in a sentence."""

    @property
    def study_id(self) -> str:
        """The permanent id of the study; empty while there is none. Raises FileProblem."""

    @property
    def holds_rules(self) -> bool:
        """True where the database itself refuses numbers and references that no ledger can have."""

    @property
    def people_query(self) -> str:
        """Reads version, role and body of the study's people, as far as they may be seen here."""

    def read(self, query: str, values: Sequence[object] = ()) -> Sequence[Row]:
        """The rows of a query. Raises FileProblem where it cannot be read."""

    def look(self) -> AbstractContextManager[Look]:
        """Read several queries as of one moment. Raises FileProblem."""

    def changing(
        self, study: str | None = None, *, brings: bool = False, turn: int | None = None
    ) -> AbstractContextManager[Rows]:
        """A transaction that writes; it is durable when it ends, or nothing of it is kept.

        Args:
            study: The id of a study that is not there yet.
            brings: Whether entries are brought that were logged elsewhere, by whomever they name.
            turn: The number under which this station holds the sitting that is added to; None where it holds none.

        Raises:
            NotSaved: Where the database refuses.
        """

    def erasing(self, rows: Rows) -> AbstractContextManager[None]:
        """Within a transaction: let appended rows be changed, because a person is erased."""

    def erased(self) -> None:
        """Clear away, after the transaction, copies in which the erased person still stands."""

    def integrity(self) -> tuple[str, tuple[str, ...]]:
        """The form and size of the study's place, and the damage that its database finds in itself."""

    @property
    def packed(self) -> bool:
        """True where no byte that can be freed here holds anything of an erased person."""
        ...

    def pack(self) -> None:
        """Overwrite the bytes that an erasure freed. Raises NotSaved where it cannot be done yet."""

    def send_away(self, to: str) -> str:
        """Close the study, which was moved; returns a sentence that says how. Raises NotSaved."""

    def call_back(self) -> None:
        """Open the study again where it was moved away. Raises NotSaved."""

    def ready(self) -> None:
        """Load and connect everything that writing needs. Raises NotSaved."""

    def require_numbers(self, table: str, name: str) -> None:
        """Do nothing where every entry of a ledger has a number that one can have. Raises FileProblem."""

    def signatures(self) -> Signatures:
        """The signatures under the entries; none where the database puts none there. Raises FileProblem."""

    def hold(self, rows: Rows, sitting: str) -> None:
        """Within a transaction: let no other program append to a sitting until it ends."""

    def is_taken(self, problem: NotSaved, table: str) -> bool:
        """True where it was not saved because another program's row of that table has the same number."""


def listed(
    database: Database,
    kind: type[T],
    query: str,
    what: str,
    *,
    flags: Sequence[str] = (),
    aside: Callable[[str], object] | None = None,
) -> list[T]:
    """Rows as values of one kind.

    Args:
        database: Where they are.
        kind: Their class; a field a column.
        query: Reads them; its one parameter is the study.
        what: What to call one in an error.
        flags: Columns that are yes or no.
        aside: Is told of a row that cannot be such a value, which stands aside then.

    Raises:
        FileProblem: Where one cannot be such a value, and none may stand aside.
    """
    found = []
    for number, row in enumerate(database.read(query, (database.study_id,)), start=1):
        raw: Mapping[str, Any] = dict(zip(row.keys(), row, strict=True))
        raw = {**raw, **{name: raw[name] if raw[name] not in (0, 1) else bool(raw[name]) for name in flags}}
        try:
            found.append(built(kind, raw, ""))
        except Unfit as problem:
            said = f"holds {with_article(what)} that cannot be used ({number}): {problem}"
            if aside is None:
                raise FileProblem(f"{database.name} {said}.") from problem
            aside(f"it {said}; it stands aside")
    return found
