"""The port of several stations at one study: their clocks, the sittings they hold, news of them, safe marks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from types import MappingProxyType
from typing import TYPE_CHECKING, Protocol

from fresh_chair.core.errors import NotBegun, Overtaken
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
        beside: The sitting beside which it is kept, because two stations have logged that one; 0 where it is none.
    """

    number: int
    station: str
    seated: bool
    heard_seconds: float
    beside: int = 0


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


NOWHERE: Mapping[str, int] = MappingProxyType({})


class OutgoingJournals(Protocol):
    """The part of a store's journals that a thread needs which sends marks.

    Whoever does not know whether entries have arrived offers them again, and none is doubled.
    """

    def add(
        self,
        sitting: int,
        entries: Sequence[Entry],
        *,
        stood: Mapping[str, int] = NOWHERE,
        turn: int | None = None,
    ) -> list[Entry]:
        """Append the entries that are not there yet, by their ids, after all that are there; all or none of those.

        Args:
            sitting: Whose journal they belong to.
            entries: In their order.
            stood: The numbers that some of them, by id, had on a server that was replaced: one of those waits until
                as many are there as stood before it.
            turn: The number under which this station moderates the sitting, 0 where it was never asked for; None for
                entries that are added beside the moderator's.

        Returns:
            Those that are there, with the numbers that they have there: all, but for those that wait.

        Raises:
            Overtaken: Where these begin the sitting and another beginning is there; none is kept then.
            Superseded: Where another station moderates the sitting since; none is kept then.
            NotBegun: Where these do not begin it and nothing is there; none is kept then.
            InputError, NotSaved: Where the store refuses; none is kept then.
        """

    def since(self, sitting: int, number: int) -> list[Entry]:
        """A sitting's entries after the one of a number; unreadable and missing ones stand there as such."""


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

    @property
    def again_seconds(self) -> float:
        """How long it is until the server is tried again, while it cannot be reached."""
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
            seat: Somebody sits down now: nobody and no chair may be seated elsewhere. The station holds the seat until
                another one takes it.

        Raises:
            Refused: Where another station holds one, or seats the same person or chair, by name.
            NotSaved: Where the server cannot be asked.
        """

    def turn_at(self, sitting: int) -> int:
        """The number under which this station holds a seat, as it was given; 0 where the server was never asked."""
        ...

    def seat_beside(self, sitting: int, first: str, *, held: bool = False) -> int:
        """The number of a sitting beside one that another station has begun meanwhile, for the marks of this one.

        Args:
            sitting: The one that both have begun.
            first: The id of the first mark here; asked twice, the sitting is the same.
            held: Whether somebody sits in it at this station now.

        Raises NotSaved.
        """

    def release(self, sittings: Sequence[int], *, of_others: bool = False) -> None:
        """Hold sittings no longer; another station's only where that is said. Raises NotSaved."""

    def close(self) -> None:
        """Leave the others."""


def following(
    sitting: int, entries: Sequence[Entry], there: Mapping[str, int], last: int, stood: Mapping[str, int]
) -> list[Entry]:
    """The entries that can be appended to a journal, numbered: the rule of `OutgoingJournals.add`, of every store.

    Args:
        sitting, entries, stood: As there.
        there: The numbers of those that are in the journal already, by id.
        last: The number of its last entry; 0 where there is none.

    Raises:
        Overtaken, NotBegun: As there.
    """
    from fresh_chair.core.sitting.journal import SittingBegan

    fresh = [entry for entry in entries if entry.id not in there]
    begins = bool(fresh) and isinstance(fresh[0].content, SittingBegan)
    if begins and last and fresh[0].number == 1:
        raise Overtaken(f"Sitting {sitting} has begun elsewhere.", "Both are to be kept.")
    if fresh and not begins and not last:
        raise NotBegun(f"Sitting {sitting} has not begun on the server.")
    numbered: list[Entry] = []
    for number, entry in enumerate(fresh, start=last + 1):
        if stood.get(entry.id, 0) > number:
            break
        numbered.append(replace(entry, number=number))
    return numbered
