"""What is known of the chairs, on disk: entries appended, whole states compressed beside them."""

import zlib

from fresh_chair.core.errors import JournalError
from fresh_chair.core.witness.book import BookEntry, content_from
from fresh_chair.core.witness.state import State, state_from, state_text
from fresh_chair.store.journals import moment_of
from fresh_chair.store.study_file import StudyFile
from fresh_chair.store.troubles import reading, writing

_LARGEST_STATE = 300_000_000


class ChairBooks:
    """Reads and writes what is known of the chairs."""

    def __init__(self, file: StudyFile) -> None:
        self._file = file

    def append(self, entries: list[BookEntry], states: dict[int, State] | None = None) -> None:
        """Put entries on the disk with the states that they speak of, all or none.

        Raises:
            NotSaved: Where the disk refuses; none is kept then.
        """
        from fresh_chair.store.rows import insert_book

        packed = {
            number: zlib.compress(state_text(state).encode(), level=6) for number, state in (states or {}).items()
        }
        with writing(self._file.name), self._file.engine.begin() as connection:
            insert_book(connection, entries, packed)

    def all(self) -> list[BookEntry]:
        """Every entry in its order. Raises FileProblem or JournalError where one cannot be read."""
        query = "SELECT number, chair, version, ticks_ns, boot, wall_ns, author, body FROM chair_entry ORDER BY number"
        with reading(self._file.name), self._file.rows() as rows:
            return [
                BookEntry(
                    row["number"],
                    row["chair"],
                    moment_of(row),
                    row["author"],
                    content_from(row["body"], version=row["version"], where=f"Chairs, entry {row['number']}"),
                )
                for row in rows.execute(query)
            ]

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
        opened = zlib.decompressobj()
        try:
            text = opened.decompress(row[0], _LARGEST_STATE)
            if not opened.eof:
                raise JournalError(f"{where} is not whole, or too large.")
            return state_from(text.decode(), where=where)
        except (zlib.error, UnicodeDecodeError) as problem:
            raise JournalError(f"{where} cannot be read: it is damaged.") from problem
