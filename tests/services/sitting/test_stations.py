"""Several stations at one study on a server: no key waits for the network, no mark is lost, doubled or out of order."""

import time
from contextlib import closing
from pathlib import Path

import pytest

from fresh_chair.core.errors import FileProblem, NotSaved, OutsideError
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.replay import replay
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.services.file.erasing import erase_person
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.sitting.bringing import bring_marks
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study import taking_back
from fresh_chair.services.study.mark_outbox import MarkOutbox
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.store import spool
from fresh_chair.store.address import ServerAddress
from fresh_chair.store.tables.store import TableStore
from tests.builders import small_study
from tests.relay import Relay
from tests.servers import TestServer
from tests.stations import comes, on_server, pull_cable, seated, sent, station, watched


def test_a_mark_is_on_this_disk_when_the_server_is_gone_and_follows_when_it_is_back(
    place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch
) -> None:
    with station(place, "room-1", monkeypatch, relay=relay) as opened:
        live = seated(opened, 1)
        comes(lambda: sent(live))
        relay.cut()
        for number in range(30):
            live.log(j.SnagSeen(f"snag {number}"), live.now())
        assert opened.spool.waiting == 30
        lying = [path for folder in spool.places() if folder.is_dir() for path in folder.glob("*.marks")]
        assert sum(path.read_text(encoding="utf-8").count("snag ") for path in lying) >= 30
        comes(lambda: "safe here and will follow" in opened.spool.words)
        assert len(on_server(place)[1]) == len(live.entries) - 30
        live.break_off("enough", live.now())
        assert not live.state.phase.open
        relay.restore()
        comes(lambda: sent(live))
        assert opened.spool.words == ""
        assert on_server(place)[1] == [entry.id for entry in live.entries]
        assert [entry.number for entry in live.entries] == list(range(1, len(live.entries) + 1))
    assert not any(check.problems for check in check_file(place))


def test_a_connection_that_breaks_at_any_byte_loses_and_doubles_nothing(
    place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Broken while marks are under way: whether a commit was kept is found out by offering it again."""
    relay.delay_seconds = 0.002
    with station(place, "room-1", monkeypatch, relay=relay) as opened:
        live = seated(opened, 1)
        for number in range(60):
            live.log(j.SnagSeen(f"snag {number}"), live.now())
            if number % 4 == 3:
                comes(lambda number=number: opened.spool.waiting or number)  # type: ignore[misc]
                relay.break_once()
            live.bring_back()
        comes(lambda: sent(live))
        ids = on_server(place)[1]
        assert ids == [entry.id for entry in live.entries]
        assert len(set(ids)) == len(ids)


def can_read(opened: OpenStudy) -> bool:
    """Whether other programs' changes could be read, as the screen does it again and again."""
    try:
        opened.read_on()
    except FileProblem:
        return False
    return True


def test_a_commit_whose_answer_is_lost_is_asked_for(
    place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The plan is changed over a network that breaks again and again: each change is made once, and said as it is."""
    with station(place, "room-1", monkeypatch, relay=relay) as opened:
        done = []
        for number in range(12):
            relay.delay_seconds = 0.004
            timer = time.monotonic() + 0.004 * (number % 7)
            import threading

            breaking = threading.Timer(max(timer - time.monotonic(), 0), relay.break_once)
            breaking.start()
            try:
                set_field(opened, "study.title", f"title {number}")
                done.append(f"title {number}")
            except Exception:  # noqa: BLE001 - said as not made
                pass
            breaking.join()
            comes(lambda: can_read(opened))
            assert opened.study.title == (done[-1] if done else small_study().title)
    with closing(open_study(place, write=False)) as after:
        assert [change.after for change in after.plans.changes()] == done


def test_where_nothing_is_heard_of_a_commit_that_is_said(
    place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch
) -> None:
    with station(place, "room-1", monkeypatch, relay=relay) as opened:
        assert isinstance(opened.store, TableStore)
        with (
            pytest.raises(NotSaved, match="lost before it said whether it kept that"),
            opened.store.database.changing(),
        ):
            relay.cut()


def test_two_writers_of_one_sitting_see_the_servers_order(
    place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch
) -> None:
    with station(place, "room-1", monkeypatch, relay=relay) as opened:
        live = seated(opened, 1)
        comes(lambda: sent(live))
        with station(place, "gallery", monkeypatch, observer="Ada") as watching:
            beside = LiveSitting(watching, watching.study.seat(1))
            beside.join(beside.now())
            relay.cut()
            for number in range(5):
                live.log(j.SnagSeen(f"moderator {number}"), live.now())
                beside.log(j.SnagSeen(f"observer {number}"), beside.now())
            comes(lambda: sent(beside))
            relay.restore()
            comes(lambda: sent(live))
            live.read_on()
            beside.read_on()
            order = on_server(place)[1]
            for each in (live, beside):
                assert [entry.id for entry in each.entries] == order
                assert [entry.number for entry in each.entries] == list(range(1, len(order) + 1))
            words = [r.words for r in live.state.remarks.values() if r.author == "moderator"]
            assert words == [f"moderator {number}" for number in range(5)]
            assert live.state == replay(1, live.seat.cards, live.entries, lenient=True)
    assert not any(check.problems for check in check_file(place))


def test_what_was_read_before_all_is_to_be_read_anew_is_left(
    place: ServerAddress, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A thread notices that another server answers while marks that were read from the first one are on their way."""
    with (
        station(place, "room-1", monkeypatch) as opened,
        station(place, "gallery", monkeypatch, observer="Ada") as watching,
    ):
        live = seated(opened, 1)
        comes(lambda: sent(live))
        ada = watched(watching, 1)
        ada.log(j.SnagSeen("on its way"), ada.now())
        comes(lambda: sent(ada))
        fresh = live.unread()
        assert fresh
        opened.spool.read_anew(1)
        assert not live.take_in(fresh)
        assert opened.spool.behind(1)
        live.read_on()
        assert [entry.id for entry in live.entries] == on_server(place)[1]
        assert not opened.spool.behind(1)


def test_an_observers_marks_that_come_after_the_end_stand_in_the_attempt_they_were_made_in(
    place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch
) -> None:
    with (
        station(place, "room-1", monkeypatch) as opened,
        station(place, "gallery", monkeypatch, observer="Ada", relay=relay) as watching,
    ):
        live = seated(opened, 1)
        comes(lambda: sent(live))
        ada = watched(watching, 1)
        comes(lambda: sent(ada))
        relay.cut()
        ada.log(j.WrongPlace(), ada.now())
        ada.log(j.SnagSeen("while the cable was out"), ada.now())
        live.log(j.AttemptStopped(), live.now())
        live.log(j.OutcomeJudged(Outcome.GAVE_UP), live.now())
        live.log(j.EaseRated(2), live.now())
        live.break_off("enough", live.now())
        comes(lambda: sent(live))
        relay.restore()
        comes(lambda: sent(ada))
        opened.read_on()
        for each in (opened, watching):
            sitting = each.sittings[1]
            assert sitting.left_out == {}
            assert [tick.kind for tick in sitting.attempts[0].ticks if tick.observer] == ["wrong_place", "snag"]
            assert [(r.words, r.attempt) for r in sitting.remarks.values()] == [("while the cable was out", 1)]
    assert not any(check.problems for check in check_file(place))


def test_marks_that_were_sent_leave_this_disk_with_the_person_they_are_about(
    place: ServerAddress, server: TestServer, database: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    def lying() -> str:
        return "".join(path.read_text() for folder in spool.places() for path in folder.glob("*.marks"))

    owned = server.address("room", login="owner", database=database)
    with station(owned, "room-1", monkeypatch) as opened:
        numbers = {seat.participant: seat.number for seat in opened.study.seats if seat.position == 1}
        for person, words in (("P01", "about the first"), ("P02", "about the second")):
            live = seated(opened, numbers[person])
            live.log(j.SnagSeen(words), live.now())
            live.break_off("enough", live.now())
            comes(lambda live=live: sent(live))  # type: ignore[misc]
        assert "about the first" in lying()
        erase_person(opened, "P01", keep_figures=True)
        assert "about the first" not in lying()
        assert "about the second" in lying()
    with station(owned, "room-1", monkeypatch) as again:
        assert again.replayed.left_apart == []
    assert not any(check.problems for check in check_file(owned))


def test_a_sitting_that_is_planned_no_more_keeps_no_other_from_the_server(
    server: TestServer, place: ServerAddress, database: str, relay: Relay, monkeypatch: pytest.MonkeyPatch
) -> None:
    owned = server.address("room", login="owner", database=database)
    with station(owned, "room-1", monkeypatch, relay=relay) as opened:
        numbers = {seat.participant: seat.number for seat in opened.study.seats if seat.position == 1}
        pull_cable(opened, relay)
        for code in ("P01", "P02"):
            live = LiveSitting(opened, opened.study.seat(numbers[code]))
            live.begin(live.now(), held=True)
            live.break_off("enough", live.now())
        with station(owned, "office", monkeypatch) as office:
            erase_person(office, "P01", keep_figures=False)
        relay.restore()
        comes(lambda: numbers["P02"] in on_server(place))
        comes(lambda: f"No sitting {numbers['P01']} is planned." in opened.spool.words)
    assert "did not reach the server yet." in opened.spool.left_words()


def test_the_disk_of_a_dead_station_is_brought_by_hand(
    place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    with station(place, "room-1", monkeypatch, relay=relay) as opened:
        live = seated(opened, 1)
        comes(lambda: sent(live))
        relay.cut()
        live.log(j.SnagSeen("the last words"), live.now())
        assert isinstance(opened.spool, MarkOutbox)
        lying = next(path for path in spool.places()[0].glob("*.marks"))
        stick = tmp_path / "stick.marks"
        stick.write_bytes(lying.read_bytes())
    lying.unlink()
    with station(place, "office", monkeypatch) as office:
        assert bring_marks(office, stick) == 1
        assert bring_marks(office, stick) == 0
        assert "the last words" in [remark.words for remark in office.sittings[1].remarks.values()]
    assert stick.exists()


def test_leaving_with_marks_on_the_way_says_so_and_the_next_opening_brings_them(
    place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch
) -> None:
    with station(place, "room-1", monkeypatch, relay=relay) as opened:
        live = seated(opened, 1)
        comes(lambda: sent(live))
        relay.cut()
        live.log(j.SnagSeen("one"), live.now())
        live.break_off("enough", live.now())
    assert "did not reach the server yet. They lie in" in opened.spool.left_words()
    with station(place, "room-1", monkeypatch) as again:
        assert again.replayed.merged == 4
        assert [remark.words for remark in again.sittings[1].remarks.values()] == ["one"]


def test_an_observer_whose_first_marks_come_late_is_an_observer_all_the_same(
    place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch
) -> None:
    with station(place, "room-1", monkeypatch) as opened:
        live = seated(opened, 1)
        comes(lambda: sent(live))
        with station(place, "gallery", monkeypatch, relay=relay, observer="Ada") as watching:
            beside = LiveSitting(watching, watching.study.seat(1))
            relay.cut()
            beside.join(beside.now())
            beside.log(j.SnagSeen("seen from the side"), beside.now())
        live.log(j.SnagSeen("seen by the moderator"), live.now())
        comes(lambda: sent(live))
        relay.restore()
        with station(place, "gallery", monkeypatch, relay=relay, observer="Ada") as again:
            assert again.replayed.merged == 2
            assert again.sittings[1].observers == {"Ada"}
            assert again.sittings[1].attempts[0].snags == 1


def test_an_opening_that_fails_midway_leaves_the_marks_to_the_next(
    place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch
) -> None:
    with station(place, "room-1", monkeypatch, relay=relay) as opened:
        live = seated(opened, 1)
        comes(lambda: sent(live))
        relay.cut()
        live.log(j.SnagSeen("one"), live.now())
    taking = taking_back.offer

    def cut_midway(*given: object, **named: object) -> int | None:
        raise NotSaved("The server of room cannot be reached.")

    monkeypatch.setattr(taking_back, "offer", cut_midway)
    with pytest.raises(NotSaved):
        open_study(place)
    monkeypatch.setattr(taking_back, "offer", taking)
    # And where it fails after they were taken up.
    with monkeypatch.context() as patched:
        patched.setattr(OpenStudy, "findings", property(cut_midway))
        with pytest.raises(NotSaved):
            open_study(place)
    # A file that another program holds is refused here.
    spool.brought(next(spool.places()[0].glob("*.marks"))).let_go()
    with station(place, "room-1", monkeypatch) as again:
        assert [remark.words for remark in again.sittings[1].remarks.values()] == ["one"]


def test_others_marks_are_heard_of_within_two_seconds_and_cost_no_asking(
    place: ServerAddress, monkeypatch: pytest.MonkeyPatch
) -> None:
    with station(place, "room-1", monkeypatch) as one, station(place, "office", monkeypatch) as office:
        link = office.store.link
        assert link is not None
        comes(lambda: getattr(link, "_listening", False))
        before = link.news()
        assert link.news() == before
        live = seated(one, 1)
        began = time.monotonic()
        comes(lambda: link.news() != before, within=2)
        comes(lambda: office.take_in(office.unread()) and len(office.entries.get(1, ())) >= 3, within=2)
        assert time.monotonic() - began < 2
        assert office.held_elsewhere == {1: "room-1"}
        assert office.cut_short() == []
        live.break_off("enough", live.now())


def test_documents_are_proposed_to_go_where_one_is(
    place: ServerAddress, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    monkeypatch.chdir(tmp_path)
    with station(place, "room-1", monkeypatch) as one:
        assert one.proposed == tmp_path / "room.fresh"
        assert one.address == place


def test_stations_know_how_far_their_clocks_are_off(place: ServerAddress, monkeypatch: pytest.MonkeyPatch) -> None:
    with station(place, "room-1", monkeypatch) as one:
        link = one.store.link
        assert link is not None
        comes(link.clocks)
        (clock,) = link.clocks()
        assert clock.station == "room-1"
        # One machine: the server's clock is this one's, and asking it is no better than this.
        assert abs(clock.ahead_ns) <= clock.round_trip_ns


def test_what_is_no_mark_is_refused_at_once_while_the_server_is_known_to_be_away(
    place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch
) -> None:
    with station(place, "room-1", monkeypatch, relay=relay) as opened:
        link = opened.store.link
        assert link is not None
        set_field(opened, "study.title", "before")
        pull_cable(opened, relay)
        before = opened.study
        with pytest.raises(OutsideError, match="cannot be reached"):
            set_field(opened, "study.title", "meanwhile")
        # Nothing goes out for that: another try is refused in the same way, and nothing of it is made.
        with pytest.raises(OutsideError, match="cannot be reached"):
            set_field(opened, "study.title", "once more")
        assert opened.study == before
        relay.restore()
        comes(lambda: link.connected)
        set_field(opened, "study.title", "after")
        assert [change.after for change in opened.plans.changes()] == ["before", "after"]
