"""A study on a server opened, or made: whole or not at all."""

from __future__ import annotations

import os
import socket
from collections.abc import Callable

from fresh_chair.core.errors import FileProblem
from fresh_chair.core.text import legible
from fresh_chair.store.address import ServerAddress
from fresh_chair.store.postgres.home import ServerHome
from fresh_chair.store.postgres.link import ServerLink
from fresh_chair.store.postgres.preparing import require_current
from fresh_chair.store.postgres.session import ServerSession
from fresh_chair.store.postgres.tables import ServerTables
from fresh_chair.store.postgres.troubles import reading
from fresh_chair.store.tables.journals import Journals
from fresh_chair.store.tables.store import TableStore


def machine_name() -> str:
    """The name by which other stations know this machine: its own, or one's choice of it."""
    return legible(os.environ.get("FRESH_CHAIR_STATION") or socket.gethostname().partition(".")[0])[:40]


def station_name() -> str:
    """The name by which the server knows this program: the machine's and its process."""
    return f"{machine_name()}-{os.getpid()}"


def open_study_on_server(address: ServerAddress, *, write: bool = True, observe: bool = False) -> TableStore:
    """The store of a study on a server.

    Args:
        address: The server, and the study's name.
        write: False to read only.
        observe: Read, and add to journals beside the moderator.

    Raises:
        FileProblem: Where the server cannot be reached, or has no such study for this login.
    """
    session = _session(address)
    try:
        if not session.study_id:
            raise FileProblem(
                f"There is no study {address.name} on that server, or not for you.",
                f"Its studies are listed by: fresh-chair studies {legible(address.server)}",
            )
        home = ServerHome(session, write=write, observe=observe)
        link = _link(session, home)
        home.leave = link.close
        session.is_away = lambda: link.joined and not link.connected
        link.learn(session)
        return TableStore(ServerTables(session, home), link)
    except BaseException:
        session.close()
        raise


def is_on_server(address: ServerAddress) -> bool:
    """Whether a study of that name is on the server, and for this login. Raises FileProblem."""
    session = _session(address)
    try:
        return bool(session.study_id)
    finally:
        session.close()


def create_study_on_server(address: ServerAddress, fill: Callable[[TableStore], None]) -> None:
    """Make a study on a server, in one transaction.

    Args:
        address: The server, and the study's name; there may be none of that name.
        fill: Writes the contents.

    Raises:
        FileProblem: Where there is one already, or the server cannot be reached.
        NotSaved: Where the server refuses; nothing is left of it then.
    """
    session = _session(address)
    try:
        if session.study_id:
            raise FileProblem(
                f"There is a study {address.name} on that server already.", "It was left as it is. Choose another name."
            )
        with session.whole():
            fill(TableStore(ServerTables(session, ServerHome(session))))
    finally:
        session.close()


def _link(session: ServerSession, home: ServerHome) -> ServerLink:
    """This station among the others, over connections that no key waits for."""
    own = session.beside(station_name())
    return ServerLink(own, Journals(ServerTables(own, home)), machine_name())


def _session(address: ServerAddress) -> ServerSession:
    if not address.study:
        raise FileProblem("The address says a server and no study.", f"Say which: {legible(address.server)}?study=NAME")
    session = ServerSession(address, station=station_name())
    try:
        with reading(address.name):
            require_current(session.reader(), address)
    except BaseException:
        session.close()
        raise
    return session
