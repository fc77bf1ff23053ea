"""A study's home on a server: the rights a login has there, and where its files lie on this machine."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from platformdirs import user_state_path

from fresh_chair.store.address import is_server_address
from fresh_chair.store.home import HomeAddress
from fresh_chair.store.postgres.line import line_to

if TYPE_CHECKING:
    from fresh_chair.store.postgres.session import ServerSession


class ServerHome:
    """The home of one study on a server. Several stations moderate sittings of it at once.

    Args:
        session: The connections.
        write: False to read only.
        observe: For a second observer: read, and add marks to sittings that others moderate.
    """

    # What is on the server stays there; that it cannot be reached just now is said where it matters.
    there = True
    changed = False

    def touched(self) -> tuple[int, ...]:
        """Nothing: stations hear of each other over the server."""
        return ()

    def __init__(self, session: ServerSession, *, write: bool = True, observe: bool = False) -> None:
        self._session = session
        self._write = write
        self._observe = observe
        # Leaves the other stations, where this program is one of them.
        self.leave: Callable[[], None] | None = None

    @cached_property
    def line(self) -> str:
        """A warning about the line to the server; empty where it is closed to others."""
        return line_to(self._session.address).words

    @property
    def address(self) -> HomeAddress:
        """The address on the server."""
        return HomeAddress(str(self._session.address), 0)

    @cached_property
    def beside(self) -> Path:
        """A name in a folder of this machine's, in which files that are attached lie."""
        return user_state_path("fresh-chair") / "servers" / self._session.study_id / "study.fresh"

    @property
    def away(self) -> str:
        """Where the study was moved to; empty while it is here."""
        return self._session.rights.away

    @property
    def sees_people(self) -> bool:
        """True for logins with the right to log."""
        return self._session.logs

    @property
    def writable(self) -> bool:
        """True where this program may run sittings."""
        return self._write and not self._observe and self._session.logs and not self.away

    @property
    def observes(self) -> bool:
        """True where this program adds a second observer's marks, and nothing else."""
        return self._observe and self._session.logs and not self.away

    @property
    def shares(self) -> bool:
        """True where this program may write beside others."""
        return self.writable

    def take_over(self) -> bool:
        """Nothing is to be taken over: each sitting has its own moderator."""
        return self.writable

    def is_home_of(self, address: HomeAddress) -> bool:
        """True for marks that were meant for a server: this study is known by its id."""
        return is_server_address(address.path)

    def make_room(self) -> None:
        """The server's disk is its administrator's."""

    def rescue(self) -> Path | None:
        """A server's study is not taken away."""
        return None

    def close(self, *, clean: bool = True) -> None:
        """Leave the other stations, and close the connections."""
        if self.leave is not None:
            self.leave()
        self._session.close()
