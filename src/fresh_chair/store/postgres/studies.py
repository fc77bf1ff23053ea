"""The studies on a server, and the stations that are connected to each."""

from __future__ import annotations

from collections import defaultdict

from fresh_chair.core.clock import SECOND
from fresh_chair.core.frozen import frozen
from fresh_chair.store.address import ServerAddress
from fresh_chair.store.postgres.connecting import connect
from fresh_chair.store.postgres.preparing import require_current
from fresh_chair.store.postgres.troubles import reading

_STUDIES = """
SELECT id, name, crew, title, COALESCE(away, '') AS away,
    (SELECT count(*) FROM seat WHERE seat.study = study.id) AS planned,
    (SELECT count(DISTINCT sitting) FROM entry WHERE entry.study = study.id) AS begun,
    (SELECT count(*) FROM entry WHERE entry.study = study.id) AS entries
FROM study ORDER BY name
"""
_STATIONS = """
SELECT study, name, login, author, offset_ns, to_char(seen, 'YYYY-MM-DD HH24:MI') || ' UTC' AS seen,
    seen > now() - interval '45 seconds' AS connected
FROM station WHERE seen > now() - interval '1 day' ORDER BY name
"""


@frozen
class ListedStation:
    """A station at a study.

    Attributes:
        name: By which others know it.
        login, author: Who is connected, and under which name they log.
        ahead_seconds: By how much its clock was ahead of the server's when it joined.
        seen: When it was last connected.
        connected: Whether it is now.
    """

    name: str
    login: str
    author: str
    ahead_seconds: float
    seen: str
    connected: bool


@frozen
class ListedStudy:
    """A study on a server.

    Attributes:
        name: In its address.
        crew: Whose it is.
        title: What it is called.
        away: Where it was moved to; empty while it is there.
        planned, begun: Sittings that are planned, and that have begun.
        entries: Entries in the journals of its sittings.
        stations: Who was connected within a day.
    """

    name: str
    crew: str
    title: str
    away: str
    planned: int
    begun: int
    entries: int
    stations: tuple[ListedStation, ...]


def listed_studies(address: ServerAddress) -> list[ListedStudy]:
    """The studies of a server that this login may see. Raises FileProblem."""
    with reading(address.name), connect(address) as connection:
        require_current(connection, address)
        stations: dict[str, list[ListedStation]] = defaultdict(list)
        for row in connection.execute(_STATIONS).fetchall():
            ahead = row["offset_ns"] / SECOND
            stations[row["study"]].append(
                ListedStation(row["name"], row["login"], row["author"], ahead, row["seen"], row["connected"])
            )
        return [
            ListedStudy(
                row["name"], row["crew"], row["title"], row["away"], row["planned"], row["begun"], row["entries"],
                tuple(stations[row["id"]]),
            )
            for row in connection.execute(_STUDIES).fetchall()
        ]  # fmt: skip
