"""The tables of one study on a server, as the tables' SQL asks for them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import AbstractContextManager, contextmanager
from typing import TYPE_CHECKING

from psycopg import errors

from fresh_chair.core.errors import FileProblem

if TYPE_CHECKING:
    from fresh_chair.core.errors import NotSaved
    from fresh_chair.core.ledger import Signatures
    from fresh_chair.store.postgres.home import ServerHome
    from fresh_chair.store.postgres.session import ServerSession
    from fresh_chair.store.tables.rows import Rows
    from fresh_chair.store.tables.statements import Look, Row

_PEOPLE = "SELECT version, role, body FROM person WHERE study = ? ORDER BY position"
_CODES_ONLY = "SELECT version, role, body FROM person_code WHERE study = ? ORDER BY position"


class ServerTables:
    """The tables of one study on a server.

    Args:
        session: The connections.
        home: Where the study is kept.
    """

    holds_rules = True

    def __init__(self, session: ServerSession, home: ServerHome) -> None:
        self._session = session
        self.home = home

    @property
    def name(self) -> str:
        """The study's name as it may stand in a sentence."""
        return self._session.name

    @property
    def study_id(self) -> str:
        """The permanent id of the study; empty while there is none. Raises FileProblem."""
        return self._session.study_id

    @property
    def people_query(self) -> str:
        """Reads people: those who only read see codes and roles, and nothing else of them."""
        return _PEOPLE if self._session.logs else _CODES_ONLY

    def read(self, query: str, values: Sequence[object] = ()) -> Sequence[Row]:
        """The rows of a query. Raises FileProblem where it cannot be read."""
        return self._session.read(query, values)

    def look(self) -> AbstractContextManager[Look]:
        """Read several queries as of one moment. Raises FileProblem."""
        return self._session.look()

    def changing(
        self, study: str | None = None, *, brings: bool = False, turn: int | None = None
    ) -> AbstractContextManager[Rows]:
        """A transaction that writes, as `ServerSession.changing`."""
        return self._session.changing(study, brings=brings, turn=turn)

    @contextmanager
    def erasing(self, rows: Rows) -> Iterator[None]:
        """Within a transaction: the server lets bodies be changed once the erasure is on record in it."""
        yield

    def erased(self) -> None:
        """Copies of a server are its administrator's."""

    def integrity(self) -> tuple[str, tuple[str, ...]]:
        """The server's schema and version, and entries that differ from those that were kept."""
        from fresh_chair.store.postgres.chains import read_chains

        try:
            row = self._session.read("SELECT version_num, current_setting('server_version') FROM alembic_version")[0]
            chains = read_chains(self.read, self.study_id)
        except FileProblem as problem:
            return "cannot be read through", (problem.title,)
        return f"schema {row[0]} on PostgreSQL {row[1]}, {chains.words}", chains.problems

    def signatures(self) -> Signatures:
        """The signatures that the server has put under the entries. Raises FileProblem."""
        from fresh_chair.store.postgres.chains import read_signatures

        return read_signatures(self.read, self.study_id)

    @property
    def packed(self) -> bool:
        """True: a server frees its own bytes in its own time."""
        return True

    def pack(self) -> None:
        """Leave it to the server, which overwrites freed rows in its own time."""

    def send_away(self, to: str) -> str:
        """Let the study take nothing more, and note where it was moved. Raises NotSaved."""
        with self.changing() as rows:
            rows.execute("SELECT fresh_chair.send_away(?, ?)", (rows.study, to))
        return f"{self.name} stays on the server as it was, and takes nothing more until it is moved back."

    def call_back(self) -> None:
        """Let the study take entries again. Raises NotSaved."""
        if self.home.away:
            with self.changing() as rows:
                rows.execute("SELECT fresh_chair.send_away(?, NULL)", (rows.study,))
            self._session.ask_again()

    def ready(self) -> None:
        """Connect, where that can be done now. Raises NotSaved."""
        self._session.ready()

    def require_numbers(self, table: str, name: str) -> None:
        """The tables' own rules hold them."""

    def is_taken(self, problem: NotSaved, table: str) -> bool:
        """True where another program's row of that table has the same number."""
        cause = problem.__cause__
        return isinstance(cause, errors.UniqueViolation) and cause.diag.constraint_name == f"{table}_pkey"

    def hold(self, rows: Rows, sitting: str) -> None:
        """Within a transaction: let no other program append to a sitting until it ends."""
        rows.execute("SELECT fresh_chair.take_turn(?, ?)", (rows.study, sitting))
