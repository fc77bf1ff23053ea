"""A study on a server: opening over a slow line, keys, many writers at once, a million entries, following."""

import os
import time
from collections.abc import Iterator, Sequence
from contextlib import closing, contextmanager
from dataclasses import replace
from pathlib import Path
from random import Random
from threading import Thread

from tests.builders import small_study
from tests.relay import Relay
from tests.servers import TestServer

from bench.idle import share
from bench.spread import spread
from bench.studies import PROGRAM, busy_study
from fresh_chair.core.sitting import journal as j
from fresh_chair.services.file.moving import move_study
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, create_study, open_study
from fresh_chair.store.address import Address, ServerAddress, read_server_address

# What is pressed at a station where then nothing happens; the aim in per cent of a core.
_IDLE: Sequence[tuple[str, tuple[bytes, ...], float]] = (
    ("a station, the board", (), 1.5),
    ("a station, before the first card", (b"\r",), 1.5),
    ("a station, a running clock", (b"\r", b"\r"), 2.5),
)
_DELAY_SECONDS = 0.01
_WRITERS = 16
_MARKS = 30


def servers(folder: Path) -> None:
    """Measure with a server of one's own on this machine; print."""
    os.environ["XDG_STATE_HOME"] = str(folder / "state")
    server = TestServer()
    try:
        server.make().start().prepared()
        print("a study on a server (PostgreSQL on this machine)")
        _idle(server)
        _opening(server, folder)
        _keys(server, folder)
        _many_writers(server)
        _many_entries(server)
    finally:
        server.remove()


@contextmanager
def _far(server: TestServer, address: ServerAddress) -> Iterator[tuple[ServerAddress, Relay]]:
    """The same address over a line of 20 ms there and back."""
    relay = Relay(server.port)
    relay.delay_seconds = _DELAY_SECONDS
    try:
        yield read_server_address(str(address).replace(f":{server.port}/", f":{relay.port}/")), relay
    finally:
        relay.close()


def _idle(server: TestServer) -> None:
    for number, (name, keys, aim) in enumerate(_IDLE):
        address = server.address(f"idle-{number}")
        create_study(address, replace(small_study(), id=f"idle-{number}"))
        print(f"  {name:<38} {share([*PROGRAM, 'open', str(address)], b'seats', keys):5.1f} %   aim {aim:g}")


def _opening(server: TestServer, folder: Path) -> None:
    path = folder / "busy.fresh"
    busy_study(path, 100_000)
    address = server.address("busy")
    began = time.perf_counter()
    rows = move_study(path, address, copy=True).rows
    print(f"  {rows} rows moved there and compared {time.perf_counter() - began:11.1f} s")
    with _far(server, address) as (far, _):
        taken = []
        for _ in range(5):
            began = time.perf_counter()
            opened = open_study(far, later=True)
            opened.journals.lengths()
            taken.append(time.perf_counter() - began)
            opened.close()
        print(f"  100,000 entries opened over 20 ms, the board {min(taken):12.2f} s, aim 2")
        opened = open_study(far, later=True)
        began = time.perf_counter()
        opened.load()
        print(f"    all of its journals, behind the board {time.perf_counter() - began:13.2f} s")
        opened.unread()
        began = time.perf_counter()
        opened.unread()
        print(f"    following, nothing new {1000 * (time.perf_counter() - began):26.0f} ms")
        _add_one(address)
        began = time.perf_counter()
        opened.take_in(opened.unread())
        print(f"    following, one sitting of 704 entries and one more {1000 * (time.perf_counter() - began):.0f} ms")
        opened.close()


def _add_one(address: Address) -> None:
    with closing(open_study(address)) as other:
        number = max(number for number, sitting in other.sittings.items() if sitting.phase.open)
        live = LiveSitting(other, other.study.seat(number))
        live.log(j.SnagSeen("one more"), live.now())


def _keys(server: TestServer, folder: Path) -> None:
    path = folder / "keys.fresh"
    create_study(path, small_study())
    address = server.address("keys")
    create_study(address, replace(small_study(), id="keys"))
    for name, place in (("a file", path), ("a server", address)):
        with closing(open_study(place)) as opened:
            print(f"  key to kept and counted, {name:10} {spread(_pressed(opened))}")


def _pressed(opened: OpenStudy) -> list[float]:
    live = LiveSitting(opened, opened.study.seat(1))
    live.begin(live.now())
    live.log(j.AttemptStarted(live.state.card or "none"), live.now())
    taken = []
    for _ in range(400):
        began = time.perf_counter()
        live.log(j.WrongPlace(), live.now())
        taken.append(time.perf_counter() - began)
        time.sleep(0.005)
    return taken


def _many_writers(server: TestServer) -> None:
    """Sixteen stations mark twice a second over 20 ms; another screen hears of it."""
    address = server.address("many")
    create_study(address, replace(small_study(people=_WRITERS, chairs=2), id="many"))
    acknowledged: list[float] = []
    heard: list[float] = []
    with _far(server, address) as (far, _), closing(open_study(address)) as screen:
        link = screen.store.link
        assert link is not None
        link.join("screen")
        shown: dict[str, float] = {}
        threads = [Thread(target=_write, args=(far, number, shown, acknowledged)) for number in range(1, _WRITERS + 1)]
        for thread in threads:
            thread.start()
        seen: set[str] = set()
        while any(thread.is_alive() for thread in threads):
            screen.take_in(screen.unread())
            now = time.perf_counter()
            for entries in screen.entries.values():
                for entry in entries:
                    if entry.id in shown and entry.id not in seen:
                        seen.add(entry.id)
                        heard.append(now - shown[entry.id])
            time.sleep(0.2)
    print(f"  {_WRITERS} stations, 2 marks a second each, over 20 ms")
    print(f"    to the server {spread(acknowledged):>42}")
    print(f"    to a screen that looks every 0.2 s {spread(heard)}, aim 2000")


def _write(address: ServerAddress, number: int, shown: dict[str, float], acknowledged: list[float]) -> None:
    dice = Random(number)
    with closing(open_study(address)) as opened:
        live = LiveSitting(opened, opened.study.seat(number))
        live.begin(live.now(), held=True)
        live.log(j.AttemptStarted(live.state.card or "none"), live.now())
        for _ in range(_MARKS):
            entry = live.log(j.SnagSeen("as typed in haste"), live.now())
            began = shown[entry.id] = time.perf_counter()
            while opened.spool.waiting:
                opened.spool.bring_back()
                if opened.spool.behind(number):
                    live.take_in(live.unread())
                time.sleep(0.002)
            acknowledged.append(time.perf_counter() - began)
            time.sleep(max(dice.uniform(0.3, 0.7) - (time.perf_counter() - began), 0))


def _many_entries(server: TestServer) -> None:
    """Twenty studies and a million entries, written by the server itself; then a mark in the midst of them."""
    for number in range(20):
        study = small_study(people=10, chairs=2)
        create_study(server.address(f"many-{number}"), replace(study, id=f"many-{number}"))
    began = time.perf_counter()
    server.admin(
        "SET search_path = fresh_chair",
        "INSERT INTO entry SELECT seat.study, seat.id, n, seat.id || '-' || n, "
        "CASE WHEN n = 1 THEN 'sitting_began' ELSE 'wrong_place' END, 1, n * 1000000000::bigint, 'boot', "
        "1700000000000000000 + n, 'moderator', "
        'CASE WHEN n = 1 THEN \'{"kind": "sitting_began"}\' ELSE \'{"kind": "wrong_place"}\' END '
        "FROM seat, generate_series(1, 2500) AS n WHERE seat.study LIKE 'many-%'",
        "ANALYZE",
        database="harbour",
    )
    ((count, size),) = server.admin(
        "SELECT count(*), pg_size_pretty(pg_database_size('harbour')) FROM fresh_chair.entry", database="harbour"
    )
    print(f"  {count} entries in 23 studies, {size}, written in {time.perf_counter() - began:.0f} s")
    address = server.address("many-7")
    with _far(server, address) as (far, _):
        began = time.perf_counter()
        opened = open_study(far, later=True)
        opened.journals.lengths()
        print(f"    one of them opened over 20 ms, the board {time.perf_counter() - began:10.2f} s")
        taken = []
        for number in range(100):
            entry = j.Entry(f"bench-{number}", 2501 + number, opened.clock.now(), "moderator", j.WrongPlace())
            began = time.perf_counter()
            opened.journals.add(1, [entry])
            taken.append(time.perf_counter() - began)
        opened.close()
    print(f"    a mark added over 20 ms {spread(taken)}")
