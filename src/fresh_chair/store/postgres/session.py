"""One program's talk with a server about one study: two connections, made anew when they are lost."""

from __future__ import annotations

import secrets
import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from threading import RLock
from typing import TYPE_CHECKING

import psycopg
from psycopg import Connection

from fresh_chair.core.errors import NotSaved
from fresh_chair.core.frozen import frozen
from fresh_chair.store.address import ServerAddress
from fresh_chair.store.postgres.connecting import ServerRow, Tries, connect, marked
from fresh_chair.store.postgres.troubles import is_away, reading, writing

if TYPE_CHECKING:
    from fresh_chair.store.tables.rows import Rows
    from fresh_chair.store.tables.statements import Look, StatementResult

# How long it is asked whether a commit reached the server whose answer was lost.
_RESOLVE_SECONDS = 12.0
# Known by a random number; the newest transaction of each session is known by its token.
_BEGIN = "BEGIN; SELECT fresh_chair.mark_commit('{session}', '{token}')"
_RIGHTS = (
    "SELECT id, pg_has_role(crew || '_logs', 'USAGE') AS logs, COALESCE(away, '') AS away, channel FROM study "
    "WHERE name = ?"
)


@frozen
class StudyRights:
    """A study as a login may have it.

    Attributes:
        study_id: Its permanent id; empty where there is none, or not for this login.
        logs: Whether the login may add to its ledgers, and see its people.
        away: Where it was moved to; empty while it is here.
        channel: Where its stations are told of news.
    """

    study_id: str = ""
    logs: bool = False
    away: str = ""
    channel: str = ""


class ServerSession:
    """Two connections to a server, one that reads and one that writes.

    Args:
        address: The server and the study's name.
        station: What this program is called there.
        tries: When it is tried again after it could not be reached; shared by all who talk to it.
    """

    def __init__(self, address: ServerAddress, *, station: str = "", tries: Tries | None = None) -> None:
        self.tries = tries or Tries()
        self.address = address
        self.station = station
        self._reader: Connection[ServerRow] | None = None
        self._writer: Connection[ServerRow] | None = None
        self._reading = RLock()
        self._writing = RLock()
        # Whether others who look all the time know that the server cannot be reached: then nothing waits for it.
        self.is_away: Callable[[], bool] = lambda: False
        self._session = secrets.token_hex(8)
        self._left = False
        self._whole: Connection[ServerRow] | None = None
        self._rights = StudyRights()

    @property
    def name(self) -> str:
        """The study's name as it may stand in a sentence."""
        return self.address.name

    @property
    def study_id(self) -> str:
        """The permanent id of the study; empty while there is none. Raises FileProblem."""
        return self.rights.study_id

    @property
    def logs(self) -> bool:
        """Whether this login may add to the study's ledgers, and see its people. Raises FileProblem."""
        return self.rights.logs

    @property
    def rights(self) -> StudyRights:
        """The study as this login may have it, asked once where it is there. Raises FileProblem."""
        if not self._rights.study_id:
            self.ask_again()
        return self._rights

    def ask_again(self) -> None:
        """Ask the server anew for the rights of this login. Raises FileProblem."""
        for row in self.read(_RIGHTS, (self.address.study,)):
            self._rights = StudyRights(*row)

    def beside(self, station: str) -> ServerSession:
        """Another session about the same study, which need not ask for it again. Raises FileProblem."""
        made = ServerSession(self.address, station=station, tries=self.tries)
        made._rights = self.rights
        return made

    def reader(self) -> Connection[ServerRow]:
        """The connection that reads. Raises psycopg.Error."""
        if self._whole is not None:
            return self._whole
        self._reader = self._usable(self._reader)
        return self._reader

    def writer(self) -> Connection[ServerRow]:
        """The connection that writes. Raises psycopg.Error."""
        self._writer = self._usable(self._writer)
        return self._writer

    def _usable(self, connection: Connection[ServerRow] | None) -> Connection[ServerRow]:
        """A connection that works, as far as is known: the one there is, or a new one. Raises psycopg.Error."""
        if connection is not None and not connection.closed:
            return connection
        if connection is not None:
            connection.close()
        if self._left:
            raise psycopg.OperationalError("the study was left")
        if self.is_away():
            raise psycopg.OperationalError("it is tried again and again beside the keys")
        if self.tries.seconds:
            raise psycopg.OperationalError("the server did not answer a moment ago")
        try:
            made = connect(self.address, station=self.station)
        except psycopg.Error:
            self.tries.failed()
            raise
        self.tries.succeeded()
        if self._left:
            made.close()
            raise psycopg.OperationalError("the study was left")
        return made

    def read(self, query: str, values: Sequence[object] = ()) -> list[ServerRow]:
        """The rows of a query; a connection that was lost meanwhile is made once more. Raises FileProblem."""
        with reading(self.name), self._reading:
            for last in (False, True):
                connection = self.reader()
                try:
                    return connection.execute(marked(query), tuple(values)).fetchall()
                except psycopg.Error as problem:
                    if last or self._whole is not None or not is_away(problem):
                        raise
                    connection.close()
        raise AssertionError

    @contextmanager
    def look(self) -> Iterator[Look]:
        """Read several queries as of one moment. Raises FileProblem."""
        self.read("SELECT 1")
        with reading(self.name), self._reading:
            reader = self.reader()
            if self._whole is not None:
                yield lambda query, values: list(reader.execute(marked(query), tuple(values)).fetchall())
                return
            reader.execute("BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY")
            try:
                yield lambda query, values: list(reader.execute(marked(query), tuple(values)).fetchall())
            finally:
                _roll_back(reader)

    @contextmanager
    def changing(self, study: str | None = None, *, brings: bool = False, turn: int | None = None) -> Iterator[Rows]:
        """A transaction that writes; it is on the server's disk when it ends, or nothing of it is kept.

        Args:
            study: The id of a study that is not there yet.
            brings: Whether entries are brought that were logged elsewhere.
            turn: The number under which this station holds the sitting that is added to; None where it holds none.

        Raises:
            NotSaved: Where the server refuses, cannot be reached, or cannot say whether it has kept it.
        """
        if self._whole is not None:
            with writing(self.name), self._writing:
                yield _rows(self, self._whole, self.study_id if study is None else study, brings=brings)
            return
        with writing(self.name), self._writing:
            new, study = study is not None, self.study_id if study is None else study
            with self._transaction(new=new) as writer:
                yield _rows(self, writer, study, brings=brings, turn=turn)

    @contextmanager
    def whole(self) -> Iterator[None]:
        """Make all that is changed within one transaction, in which a new study comes to be. Raises NotSaved."""
        with writing(self.name), self._writing, self._reading, self._transaction(new=True) as writer:
            self._whole = writer
            try:
                yield
            finally:
                self._whole = None

    @contextmanager
    def _transaction(self, *, new: bool) -> Iterator[Connection[ServerRow]]:
        """A transaction that is on the server's disk when it ends; where the answer is lost, it is asked for again."""
        writer, token = self._begun(new=new)
        try:
            yield writer
        except BaseException:
            _roll_back(writer)
            raise
        try:
            writer.execute("COMMIT")
        except psycopg.Error as problem:
            _roll_back(writer)
            if not is_away(problem) or not self._committed(token):
                raise

    def _begun(self, *, new: bool) -> tuple[Connection[ServerRow], str]:
        """A transaction, and the token by which it is known; a lost connection is made once more."""
        token = secrets.token_hex(8)
        for last in (False, True):
            writer = self.writer()
            try:
                # The number of a transaction would not do: after a crash the server gives it to another one.
                writer.execute(_BEGIN.format(session=self._session, token=token))
                if new:
                    crew = self.address.crew or _only_crew(writer)
                    settings = (
                        "SELECT set_config('fresh_chair.study_name', %s, true), "
                        "set_config('fresh_chair.crew', %s, true)"
                    )
                    writer.execute(settings, (self.address.study, crew))
                return writer, token
            except psycopg.Error as problem:
                _roll_back(writer)
                if last or not is_away(problem):
                    raise
            except BaseException:
                _roll_back(writer)
                raise
        raise AssertionError

    def _committed(self, token: str) -> bool:
        """Whether the transaction of a token is on the server's disk, where its answer was lost.

        Raises:
            NotSaved: Where the server cannot be asked, or has not ended it yet.
        """
        end = time.monotonic() + _RESOLVE_SECONDS
        while True:
            try:
                writer = self.writer()
                try:
                    # It waits for that transaction, where the server has not noticed yet that nobody hears its answer.
                    writer.execute("BEGIN")
                    found = writer.execute("SELECT fresh_chair.marked_commit(%s)", (self._session,))
                    row = found.fetchone()
                finally:
                    _roll_back(writer)
                return row is not None and row[0] == token
            except psycopg.Error as problem:
                if not is_away(problem) or time.monotonic() > end or self.is_away():
                    raise NotSaved(
                        f"The server of {self.name} was lost before it said whether it kept that.",
                        "Look at it once the server is back, before you do it again.",
                    ) from problem
            time.sleep(0.2)

    def ready(self) -> None:
        """Connect for writing, where that can be done now. Raises NotSaved."""
        with writing(self.name), self._writing:
            self.writer()

    def close(self) -> None:
        """Close both connections, and make no other."""
        self._left = True
        for connection in (self._reader, self._writer):
            if connection is not None:
                connection.close()
        self._reader = self._writer = None


def _only_crew(writer: Connection[ServerRow]) -> str:
    """The crew that a new study belongs to where none is said. Raises NotSaved where it is not clear."""
    found = writer.execute("SELECT unnest(crews('plans')) ORDER BY 1").fetchall()
    if len(found) == 1:
        return str(found[0][0])
    if not found:
        raise NotSaved(
            "Your role on the server may not make a study.",
            "A role with the right to plan is granted by its owner.",
        )
    names = ", ".join(str(row[0]) for row in found)
    raise NotSaved(f"You plan for several crews: {names}.", "Say whose study it is: ...?study=NAME&crew=CREW")


def _rows(
    session: ServerSession, connection: Connection[ServerRow], study: str, *, brings: bool, turn: int | None = None
) -> Rows:
    """Writing within the transaction of one connection, and of no other that might come after it."""
    from fresh_chair.store.postgres.rows import ServerRows

    def execute(query: str, values: Sequence[object]) -> StatementResult:
        return connection.execute(marked(query), tuple(values))

    machine = session.station.rpartition("-")[0]
    return ServerRows(execute, study, brings=brings, station=machine, turn=turn)


def _roll_back(connection: Connection[ServerRow]) -> None:
    """End a transaction that failed; a connection that cannot even do that is closed."""
    try:
        if not connection.closed:
            connection.execute("ROLLBACK")
    except psycopg.Error:
        connection.close()
