"""The disk of the server is full: stations go on, say so, and send everything once there is room."""

from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest

from fresh_chair.core.sitting import journal as j
from fresh_chair.services.study.open_study import OpenStudy, create_study, open_study
from tests.builders import small_study
from tests.disks import fill, server_disk
from tests.servers import TestServer
from tests.stations import comes, seated, sent, station


@pytest.fixture
def small_disk() -> Iterator[Path]:
    """A file system on which one server leaves little room."""
    yield from server_disk(160)


@pytest.fixture
def small_server(small_disk: Path) -> Iterator[TestServer]:
    """A server there."""
    folder = small_disk / "server"
    folder.mkdir()
    made = TestServer(["wal_recycle=off", "max_wal_size=32MB", "min_wal_size=32MB"], folder=folder)
    try:
        yield made.make().start().prepared()
    finally:
        made.remove()


def _refused(opened: OpenStudy) -> bool:
    return "safe here and will follow" in opened.spool.words


@pytest.mark.long
def test_marks_wait_here_until_the_servers_disk_has_room_again(
    small_server: TestServer, small_disk: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    place = small_server.address("room")
    create_study(place, small_study())
    with station(place, "room-1", monkeypatch) as opened:
        live = seated(opened, 1)
        comes(lambda: sent(live))
        filler = small_disk / "filler"
        fill(filler)
        shown: list[str] = []
        # A log of the server's that can grow no more ends it; so much is written until it takes nothing.
        while not _refused(opened):
            assert len(shown) < 60_000, "the disk was never full"
            for _ in range(100):
                shown.append(live.log(j.SnagSeen("x" * 1900), live.now()).id)
            comes(lambda: sent(live) or _refused(opened), within=60)
        assert opened.spool.waiting
        for _ in range(20):
            shown.append(live.log(j.SnagSeen("shown all the same"), live.now()).id)
        filler.unlink()
        if small_server.process is None or small_server.process.poll() is not None:
            small_server.start()
        comes(lambda: sent(live), within=60)
        there = [entry.id for entry in live.entries]
    with closing(open_study(place, write=False)) as after:
        ids = [entry.id for entry in after.entries[1]]
        assert ids == there
        assert [each for each in ids if each in set(shown)] == shown
