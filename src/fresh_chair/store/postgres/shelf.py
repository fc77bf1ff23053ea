"""The attached files of a study that its server keeps, so that every station can show them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from fresh_chair.core.errors import FileProblem

if TYPE_CHECKING:
    from fresh_chair.store.postgres.session import ServerSession


class ServerShelf:
    """The attached files on a server, by the names of their copies.

    Args:
        session: The connections.
    """

    def __init__(self, session: ServerSession) -> None:
        self._session = session

    def names(self) -> frozenset[str]:
        """The names of the attached files that the server keeps. Raises FileProblem."""
        found = self._session.read("SELECT name FROM attached_file WHERE study = ?", (self._session.study_id,))
        return frozenset(str(row[0]) for row in found)

    def get(self, name: str) -> bytes:
        """An attached file. Raises FileProblem where it is not there."""
        query = "SELECT body FROM attached_file WHERE study = ? AND name = ?"
        for row in self._session.read(query, (self._session.study_id, name)):
            return bytes(row[0])
        raise FileProblem("That file is not on the server.", "The station that attached it brings it there.")

    def put(self, name: str, data: bytes) -> None:
        """Let the server keep an attached file, once. Raises NotSaved."""
        with self._session.changing() as rows:
            rows.put("attached_file", [{"name": name, "body": data}])

    def drop(self, name: str) -> None:
        """Let the server keep a file no longer, because a person is erased. Raises NotSaved."""
        with self._session.changing() as rows:
            rows.drop("attached_file", "name", [name])
