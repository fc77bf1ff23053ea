"""Stations at a study on a server, for tests."""

import re
import time
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager

import pytest

from fresh_chair.core.sitting import journal as j
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.store.address import ServerAddress, read_server_address
from tests.relay import Relay


def comes(condition: Callable[[], object], *, within: float = 20) -> None:
    """Wait until something is so; fail where it never is."""
    end = time.monotonic() + within
    while not condition():
        assert time.monotonic() < end, "it never came to be so"
        time.sleep(0.01)


def through(address: ServerAddress, relay: Relay) -> ServerAddress:
    """The same study, at the end of a network that can be cut."""
    return read_server_address(re.sub(r":\d+/", f":{relay.port}/", str(address), count=1))


@contextmanager
def station(
    address: ServerAddress,
    name: str,
    monkeypatch: pytest.MonkeyPatch,
    *,
    relay: Relay | None = None,
    observer: str = "",
) -> Iterator[OpenStudy]:
    """A station of its own name, at the end of a network of its own where one is given."""
    monkeypatch.setenv("FRESH_CHAIR_STATION", name)
    if relay is not None:
        address = through(address, relay)
    opened = open_study(address, observe=bool(observer), author=observer or "moderator")
    assert opened.store.link is not None
    opened.store.link.join(opened.author)
    # As the screen does it after its first paint.
    opened.warm_up()
    try:
        yield opened
    finally:
        opened.close()


def pull_cable(opened: OpenStudy, relay: Relay) -> None:
    """Pull the cable of a station, and let it notice."""
    link = opened.store.link
    assert link is not None
    relay.cut()
    comes(lambda: not link.connected)


def seated(opened: OpenStudy, number: int) -> LiveSitting:
    live = LiveSitting(opened, opened.study.seat(number))
    live.begin(live.now())
    live.log(j.AttemptStarted(live.state.card or "none"), live.now())
    return live


def watched(opened: OpenStudy, number: int) -> LiveSitting:
    """The sitting of another station, joined."""
    comes(lambda: opened.take_in(opened.unread()) or opened.phase(number).open)
    live = LiveSitting(opened, opened.study.seat(number))
    live.join(live.now())
    return live


def sent(live: LiveSitting) -> bool:
    """Whether all marks are on the server and in its order here."""
    live.bring_back()
    if live.opened.spool.behind(live.seat.number):
        live.read_on()
    return not live.opened.spool.waiting


def on_server(address: ServerAddress) -> dict[int, list[str]]:
    with closing(open_study(address, write=False)) as opened:
        return {number: [entry.id for entry in entries] for number, entries in opened.entries.items()}
