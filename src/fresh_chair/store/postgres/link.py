"""This program as one of several stations at a study on a server."""

from __future__ import annotations

import time
from collections.abc import Sequence
from threading import Event, Thread
from typing import TYPE_CHECKING

import psycopg
from psycopg import sql

from fresh_chair.core.errors import FileProblem, FreshChairError, Refused
from fresh_chair.store.postgres.connecting import ServerRow, Tries, connect
from fresh_chair.store.postgres.shelf import ServerShelf
from fresh_chair.store.stations import OutgoingJournals, Reservation, StationClock

if TYPE_CHECKING:
    from psycopg import Connection

    from fresh_chair.store.postgres.session import ServerSession
    from fresh_chair.store.tables.rows import Rows

_BEAT_SECONDS = 15.0
# A connection that is lost sooner than this did not succeed.
_HELD_SECONDS = 5.0
# Where nothing is heard, one looks by oneself.
_LOOK_SECONDS = 10.0
_ASKED = 5
_LINE = (
    "SELECT (SELECT system_identifier FROM pg_control_system())::text || '/' || "
    "left(pg_walfile_name(pg_current_wal_lsn()), 8)"
)
_SEEN = "SELECT fresh_chair.be_seen(%s, %s, %s)"
_HEARD = (
    "COALESCE((SELECT extract(epoch FROM now() - max(seen)) FROM station "
    "WHERE station.study = seat.study AND station.machine = {of}.station), 1e9)::float8 AS heard"
)
_HELD = (
    f"SELECT seat.number, held.station, held.seated, {_HEARD.format(of='held')}, COALESCE((SELECT first.number "
    "FROM seat AS first WHERE first.study = held.study AND first.id = held.beside), 0) "
    "FROM reservation AS held JOIN seat ON seat.study = held.study AND seat.id = held.sitting "
    "WHERE held.study = ? AND NOT (held.seated AND EXISTS (SELECT FROM entry WHERE entry.study = held.study "
    "AND entry.sitting = held.sitting AND kind IN ('sitting_ended', 'sitting_broken_off'))) ORDER BY seat.number"
)
# Sittings that go on at a station which could not ask for the seat; whose station is heard is not cut short.
_OPEN = (
    f"SELECT seat.number, newest.station, true, {_HEARD.format(of='newest')}, 0 FROM seat "
    "JOIN LATERAL (SELECT station, kind FROM entry WHERE entry.study = seat.study AND entry.sitting = seat.id "
    "AND kind IN ('sitting_began', 'sitting_resumed', 'sitting_ended', 'sitting_broken_off', 'sitting_unbegun') "
    "ORDER BY entry.number DESC LIMIT 1) AS newest ON newest.kind IN ('sitting_began', 'sitting_resumed') "
    "WHERE seat.study = ? AND newest.station <> '' AND NOT EXISTS (SELECT FROM reservation AS held "
    "WHERE held.study = seat.study AND held.sitting = seat.id AND held.seated) ORDER BY seat.number"
)
_HEARD_SECONDS = 60.0
_SAME = (
    "SELECT other.number, other.participant = mine.participant, held.station, mine.participant, chair.letter "
    "FROM seat AS mine JOIN seat AS other ON other.study = mine.study AND other.id <> mine.id "
    "AND (other.participant = mine.participant OR other.chair = mine.chair) "
    "JOIN reservation AS held ON held.study = other.study AND held.sitting = other.id AND held.seated "
    "JOIN chair ON chair.study = mine.study AND chair.id = mine.chair "
    "AND NOT EXISTS (SELECT FROM entry WHERE entry.study = other.study AND entry.sitting = other.id "
    "AND kind IN ('sitting_ended', 'sitting_broken_off')) "
    "WHERE mine.study = ? AND mine.number = ? AND held.station <> ? LIMIT 1"
)


class ServerLink:
    """Hears of the others by notifications, and looks by itself where none come.

    Args:
        session: Connections of its own, which no key waits for.
        outgoing: The journals over them.
        station: The name of this machine among the stations.
    """

    def __init__(self, session: ServerSession, outgoing: OutgoingJournals, station: str) -> None:
        self._session = session
        self.outgoing = outgoing
        self.station = station
        self.shelf = ServerShelf(session)
        self.connected = True
        self._news = 0
        self._looked = time.monotonic()
        self.known: Sequence[Reservation] = ()
        self._turns: dict[int, int] = {}
        self._next = Tries()
        self._leave = Event()
        self._thread: Thread | None = None
        self._listening = False

    @property
    def joined(self) -> bool:
        """Whether a thread looks all the time whether the server can be reached."""
        return self._thread is not None and not self._leave.is_set()

    @property
    def again_seconds(self) -> float:
        """How long it is until the server is tried again, while it cannot be reached."""
        return 0.0 if self.connected else max(self._next.seconds, self._session.tries.seconds)

    def join(self, author: str) -> None:
        """Become known to the others, and listen to them, from a thread of its own."""
        if self._thread is None:
            self._thread = Thread(target=self._run, args=(author,), name="news of other stations", daemon=True)
            self._thread.start()

    def news(self) -> int:
        """A number that is another one once another station may have changed anything; the server is not asked."""
        if not self._listening or time.monotonic() - self._looked > _LOOK_SECONDS:
            self._looked = time.monotonic()
            self._news += 1
        return self._news

    def line(self) -> str:
        """Which line of the server's history answers; another one after it was replaced. Raises FileProblem."""
        try:
            found = str(self._session.read(_LINE)[0][0])
        except FileProblem:
            self.connected = False
            raise
        self.connected = True
        return found

    def confirmed(self) -> bool | None:
        """Whether a second server holds all that was committed so far; None where there is none. Raises FileProblem."""
        found = self._session.read("SELECT confirmed(pg_current_wal_flush_lsn())")[0][0]
        return None if found is None else bool(found)

    def clocks(self) -> list[StationClock]:
        """The clocks of the stations that are there, this one's first. Raises FileProblem."""
        query = (
            "SELECT machine, offset_ns, round_trip_ns FROM station WHERE study = ? AND "
            "seen > now() - interval '45 seconds' ORDER BY machine <> ?, machine, seen"
        )
        found = self._session.read(query, (self._session.study_id, self.station))
        return [StationClock(row[0], row[1], row[2]) for row in found]

    def ahead_ns(self, sitting: int) -> int:
        """How far this clock is ahead of that of the station where a sitting is held; 0 where it is not known."""
        try:
            holder = next((each.station for each in self.reservations() if each.number == sitting), None)
            ahead = {clock.station: clock.ahead_ns for clock in self.clocks()}
        except FileProblem:
            return 0
        if holder is None or holder not in ahead or self.station not in ahead:
            return 0
        return ahead[self.station] - ahead[holder]

    def reservations(self) -> Sequence[Reservation]:
        """Which sittings are held by which stations; as last known where the server cannot be asked."""
        try:
            self.learn(self._session)
            self.connected = True
        except FileProblem:
            self.connected = False
        return self.known

    def learn(self, session: ServerSession) -> None:
        """Learn which sittings are held by which stations, over any session. Raises FileProblem."""
        held = [Reservation(*row) for row in session.read(_HELD, (session.study_id,))]
        begun = [Reservation(*row) for row in session.read(_OPEN, (session.study_id,))]
        goes_on = [each for each in begun if each.station == self.station or each.heard_seconds < _HEARD_SECONDS]
        told = {each.number: each for each in (*held, *goes_on)}
        self.known = [told[number] for number in sorted(told)]

    def reserve(self, sittings: Sequence[int], *, seat: bool = False) -> None:
        """Hold sittings for this station; with `seat`, a person sits down there now. Raises Refused, NotSaved."""
        turns: dict[int, int] = {}
        with self._session.changing() as rows:
            # One station at a time asks and takes.
            rows.execute("SELECT fresh_chair.take_turn_to_reserve(?)", (rows.study,))
            for number in sittings:
                self._require_free(rows, number, seat=seat)
                turn = rows.one("SELECT reserve(?, ?, ?, ?)", rows.sitting_id(number), self.station, seat)
                turns[number] = turn or 0
        if seat:
            self._turns |= turns
        self.reservations()

    def turn_at(self, sitting: int) -> int:
        """The number under which this station holds a seat, as it was given; 0 where the server was never asked."""
        return self._turns.get(sitting, 0)

    def _require_free(self, rows: Rows, number: int, *, seat: bool) -> None:
        """Do nothing where no other station holds a sitting, its person or its chair. Raises Refused."""
        query = "SELECT station, seated FROM reservation WHERE study = ? AND sitting = ? AND station <> ?"
        for station, seated in rows.found(query, rows.sitting_id(number), self.station):
            held = "somebody sits in it there" if seated else "it is kept for that station"
            raise Refused(
                f"Sitting {number} is held by {station}: {held}.",
                f"Where {station} is gone: fresh-chair reserve STUDY {number} --release",
            )
        for other, station, _, heard, _ in rows.found(_OPEN) if seat else ():
            if other == number and station != self.station and heard < _HEARD_SECONDS:
                raise Refused(f"Sitting {number} goes on at {station}.", "It was heard of a moment ago.")
        for other, same_person, station, person, letter in rows.found(_SAME, number, self.station) if seat else ():
            who = person if same_person else f"chair {letter}"
            raise Refused(
                f"{who} is in sitting {other} at {station} right now.", "It is to end there first, or be broken off."
            )

    def seat_beside(self, sitting: int, first: str, *, held: bool = False) -> int:
        """The number of a sitting beside one that another station has begun meanwhile. Raises NotSaved."""
        with self._session.changing() as rows:
            key = rows.sitting_id(sitting)
            station = self.station if held else None
            made = int(rows.one("SELECT seat_beside(?, ?, ?, ?)", key, f"beside-{first}", station))
            turn = rows.one("SELECT max(turn) FROM holder WHERE study = ? AND sitting = ?", rows.sitting_id(made))
        self._turns[made] = turn or 0
        return made

    def release(self, sittings: Sequence[int], *, of_others: bool = False) -> None:
        """Hold sittings no longer; another station's only where that is said. Raises NotSaved."""
        with self._session.changing() as rows:
            for number in sittings:
                station = None if of_others else self.station
                values = (rows.study, rows.sitting_id(number), station)
                rows.execute("SELECT fresh_chair.release(?, ?, ?)", values)
        self.reservations()

    def close(self) -> None:
        """Leave the others."""
        self._leave.set()
        if self._thread is not None:
            self._thread.join(2.0)
        self._session.close()

    # In the thread

    def _run(self, author: str) -> None:
        own = Tries()
        while not self._leave.is_set():
            begun = time.monotonic()
            try:
                with connect(self._session.address, station=self._session.station) as connection:
                    self._tell(connection, author)
                    connection.execute(sql.SQL("LISTEN {}").format(sql.Identifier(self._session.rights.channel)))
                    self._session.tries.succeeded()
                    self._listening = self.connected = True
                    # Whatever came while nothing was heard.
                    self.reservations()
                    self._news += 1
                    self._hear(connection)
            except (psycopg.Error, FreshChairError):
                self.connected = False
            self._listening = False
            if time.monotonic() - begun > _HELD_SECONDS:
                own.succeeded()
            own.failed()
            self._next = own
            self._leave.wait(own.seconds)

    def _hear(self, connection: Connection[ServerRow]) -> None:
        """Hear until one leaves, and be seen meanwhile. Raises psycopg.Error."""
        study, beaten = self._session.study_id, time.monotonic()
        while not self._leave.is_set():
            if list(connection.notifies(timeout=0.5, stop_after=50)):
                # What is held where is known before anybody looks.
                self.reservations()
                self._news += 1
            if time.monotonic() - beaten > _BEAT_SECONDS:
                beaten = time.monotonic()
                connection.execute(_SEEN, (study, self._session.station, False))
        connection.execute(_SEEN, (study, self._session.station, True))

    def _tell(self, connection: Connection[ServerRow], author: str) -> None:
        """Measure the clocks, and tell the others. Raises psycopg.Error."""
        best: tuple[int, int] | None = None
        for _ in range(_ASKED):
            before, sent = time.time_ns(), time.perf_counter_ns()
            row = connection.execute("SELECT (extract(epoch FROM clock_timestamp()) * 1000000)::bigint").fetchone()
            took = time.perf_counter_ns() - sent
            assert row is not None
            if best is None or took < best[0]:
                best = took, before + took // 2 - row[0] * 1000
        assert best is not None
        connection.execute(
            "SELECT fresh_chair.announce(%s, %s, %s, %s, %s, %s)",
            (self._session.study_id, self._session.station, self.station, author, best[1], best[0]),
        )
