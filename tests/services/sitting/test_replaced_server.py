"""A server is replaced by one that was behind: what was lost with it comes back from the stations, in its order."""

from collections.abc import Iterator
from dataclasses import dataclass

import pytest

from fresh_chair.core.errors import FileProblem
from fresh_chair.core.sitting import journal as j
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study import mark_outbox
from fresh_chair.services.study.open_study import create_study
from fresh_chair.store.address import ServerAddress
from tests.builders import small_study
from tests.relay import Relay
from tests.servers import TestServer, require_server
from tests.stations import comes, on_server, seated, sent, station, watched


@dataclass
class Scene:
    """A server, and one that is to take its place: everything after it was copied is lost with the first."""

    first: TestServer
    second: TestServer

    def place(self, server: TestServer) -> ServerAddress:
        return server.address("room")

    def copy(self) -> None:
        """Let the other server have what is there now."""
        self.second.copy_of(self.first)

    def replace(self, *relays: Relay) -> None:
        """Let the other server take its place behind some networks, which were cut."""
        self.first.stop()
        self.second.start().promote()
        for relay in relays:
            relay.target = self.second.port


@pytest.fixture
def scene() -> Iterator[Scene]:
    require_server()
    first = TestServer().make().start().prepared()
    create_study(first.address("room"), small_study(people=4))
    second = TestServer(["hot_standby=on"])
    try:
        yield Scene(first, second)
    finally:
        first.remove()
        second.remove()


def level(*sittings: LiveSitting) -> bool:
    """Whether everything is on the server and shown in its order, at all stations."""
    try:
        everything = [sent(live) for live in sittings]
        for live in sittings:
            live.read_on()
    except FileProblem:
        # The first to ask after the server was away.
        return False
    return all(everything) and len({tuple(entry.id for entry in live.entries) for live in sittings}) == 1


@pytest.fixture
def two_relays(scene: Scene) -> Iterator[tuple[Relay, Relay]]:
    made = Relay(scene.first.port), Relay(scene.first.port)
    yield made
    for relay in made:
        relay.close()


def test_the_order_is_kept_whoever_comes_back_first(
    scene: Scene, two_relays: tuple[Relay, Relay], monkeypatch: pytest.MonkeyPatch
) -> None:
    own, theirs = two_relays
    scene.copy()
    place = scene.place(scene.first)
    with (
        station(place, "room-1", monkeypatch, relay=own) as opened,
        station(place, "gallery", monkeypatch, relay=theirs, observer="Ada") as watching,
    ):
        live = seated(opened, 1)
        comes(lambda: sent(live))
        ada = watched(watching, 1)
        for words in ("one", "two", "three"):
            for each in (ada, live):
                each.log(j.SnagSeen(words), each.now())
                comes(lambda: level(live, ada))
        before = [entry.id for entry in live.entries]
        own.cut()
        theirs.cut()
        scene.replace(own, theirs)
        live.log(j.SnagSeen("meanwhile"), live.now())
        theirs.restore()
        # The beginning is not there yet: what follows on it waits, and says why.
        comes(lambda: "Sitting 1 has not begun on the server." in watching.spool.words, within=30)
        assert on_server(scene.place(scene.second)) == {}
        assert [entry.id for entry in ada.entries] == before
        own.restore()
        comes(lambda: level(live, ada))
        there = on_server(scene.place(scene.second))
        assert there == {1: [*before, live.entries[-1].id]}
        assert opened.spool.clashes == watching.spool.clashes == {}
        ada.log(j.SnagSeen("and on"), ada.now())
        comes(lambda: level(live, ada))
    assert not any(check.problems for check in check_file(scene.place(scene.second)))


def test_marks_of_a_program_that_ended_are_offered_again_too(
    scene: Scene, two_relays: tuple[Relay, Relay], monkeypatch: pytest.MonkeyPatch
) -> None:
    own, theirs = two_relays
    scene.copy()
    place = scene.place(scene.first)
    with station(place, "room-1", monkeypatch, relay=own) as opened:
        live = seated(opened, 1)
        comes(lambda: sent(live))
        with station(place, "gallery", monkeypatch, relay=theirs, observer="Ada") as watching:
            ada = watched(watching, 1)
            ada.log(j.SnagSeen("from the gallery"), ada.now())
            comes(lambda: level(live, ada))
        before = [entry.id for entry in live.entries]
        own.cut()
        theirs.cut()
        scene.replace(own, theirs)
        theirs.restore()
        with station(place, "gallery", monkeypatch, relay=theirs, observer="Ada") as again:
            # They lie on this disk, and cannot follow yet.
            assert again.spool.waiting == 2
            assert again.replayed.left_apart == []
            assert again.sittings == {}
            own.restore()
            comes(lambda: again.spool.bring_back() or not again.spool.waiting)
            comes(lambda: sent(live))
            comes(lambda: again.take_in(again.unread()) or len(again.entries.get(1, ())) == len(before))
            assert [remark.words for remark in again.sittings[1].remarks.values()] == ["from the gallery"]
    there = on_server(scene.place(scene.second))
    assert sorted(there[1]) == sorted(before)
    assert not any(check.problems for check in check_file(scene.place(scene.second)))


def test_where_a_station_is_gone_with_its_marks_the_others_go_on(
    scene: Scene, two_relays: tuple[Relay, Relay], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(mark_outbox, "_PATIENCE_SECONDS", 1.0)
    own, theirs = two_relays
    place = scene.place(scene.first)
    with (
        station(place, "room-1", monkeypatch, relay=own) as opened,
        station(place, "gallery", monkeypatch, relay=theirs, observer="Ada") as watching,
    ):
        live = seated(opened, 1)
        comes(lambda: sent(live))
        scene.copy()
        ada = watched(watching, 1)
        live.log(j.SnagSeen("lost with its station"), live.now())
        comes(lambda: level(live, ada))
        ada.log(j.SnagSeen("kept"), ada.now())
        comes(lambda: level(live, ada))
        own.cut()
        theirs.cut()
        scene.replace(theirs)
        theirs.restore()
        comes(lambda: level(ada) and [entry.id for entry in ada.entries] == on_server(scene.place(scene.second))[1])
        assert [remark.words for remark in ada.state.remarks.values()] == ["kept"]
        assert ada.state.observers == {"Ada"}
        ada.log(j.SnagSeen("and on"), ada.now())
        comes(lambda: level(ada))
    assert not any(check.problems for check in check_file(scene.place(scene.second)))
