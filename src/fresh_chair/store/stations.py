"""The port of several stations at one study: their clocks, the sittings they hold, news of them, safe marks."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Protocol

from fresh_chair.core.frozen import frozen

if TYPE_CHECKING:
    from fresh_chair.core.sitting.journal import Entry


@frozen
class Reservation:
    """A planned sitting that a station holds.

    Attributes:
        number: The sitting.
        station: Whose it is.
        seated: Whether somebody sits there; else it is only kept for that station.
        heard_seconds: How long ago that station was last heard of.
    """

    number: int
    station: str
    seated: bool
    heard_seconds: float


@frozen
class StationClock:
    """A station's clock, as measured when it joined.

    Attributes:
        station: Whose.
        ahead_ns: By how much it was ahead of the server's.
        round_trip_ns: How long asking took: the measure is no better than half of that.
    """

    station: str
    ahead_ns: int
    round_trip_ns: int


class OutgoingJournals(Protocol):
    """The part of a store's journals that a thread needs which sends marks."""

    def add(self, sitting: int, entries: Sequence[Entry]) -> list[Entry]:
        """Append the entries that are not there yet; returns all with their numbers. Raises InputError, NotSaved."""

    def since(self, sitting: int, number: int) -> list[Entry]:
        """A sitting's entries after the one of a number."""


class AttachedShelf(Protocol):
    """The attached files that a server keeps for all stations, by the names of their copies."""

    def names(self) -> frozenset[str]:
        """The names of the attached files that the server keeps. Raises FileProblem."""

    def get(self, name: str) -> bytes:
        """An attached file. Raises FileProblem where it is not there."""

    def put(self, name: str, data: bytes) -> None:
        """Let the server keep an attached file, once. Raises NotSaved."""

    def drop(self, name: str) -> None:
        """Let the server keep a file no longer, because a person is erased. Raises NotSaved."""


class StationLink(Protocol):
    """This program as one of several stations at a study."""

    @property
    def station(self) -> str:
        """The name of this machine among the stations."""
        ...

    @property
    def outgoing(self) -> OutgoingJournals:
        """The journals over a connection of their own, for the thread that sends marks."""
        ...

    @property
    def shelf(self) -> AttachedShelf:
        """The attached files that the server keeps."""
        ...

    @property
    def connected(self) -> bool:
        """False while the server cannot be reached, as far as is known."""
        ...

    def join(self, author: str) -> None:
        """Become known to the others, and listen to them, from a thread of its own."""

    def news(self) -> int:
        """A number that is another one once another station may have changed anything; the server is not asked."""

    def line(self) -> str:
        """Which line of the server's history answers; another one after it was replaced. Raises FileProblem."""

    def confirmed(self) -> bool | None:
        """Whether a second server holds all that was committed so far; None where there is none. Raises FileProblem."""

    def clocks(self) -> list[StationClock]:
        """The clocks of the stations that are there, this one's first. Raises FileProblem."""

    def ahead_ns(self, sitting: int) -> int:
        """How far this clock is ahead of that of the station where a sitting is held; 0 where it is not known."""

    @property
    def known(self) -> Sequence[Reservation]:
        """Which sittings are held by which stations, as last heard; the server is not asked."""
        ...

    def reservations(self) -> Sequence[Reservation]:
        """The same, asked now where the server can be."""

    def reserve(self, sittings: Sequence[int], *, seat: bool = False) -> None:
        """Hold sittings for this station.

        Args:
            sittings: Their numbers.
            seat: Somebody sits down now: nobody and no chair may be seated elsewhere.

        Raises:
            Refused: Where another station holds one, or seats the same person or chair, by name.
            NotSaved: Where the server cannot be asked.
        """

    def seat_beside(self, sitting: int, first: str) -> int:
        """The number of a sitting beside one that another station has begun meanwhile, for the marks of this one.

        Args:
            sitting: The one that both have begun.
            first: The id of the first mark here; asked twice, the sitting is the same.

        Raises NotSaved.
        """

    def release(self, sittings: Sequence[int], *, of_others: bool = False) -> None:
        """Hold sittings no longer; another station's only where that is said. Raises NotSaved."""

    def close(self) -> None:
        """Leave the others."""
