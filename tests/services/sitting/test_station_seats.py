"""Seats of several stations: nobody sits twice, and two that could not ask are both kept."""

from contextlib import closing
from dataclasses import replace
from pathlib import Path

import pytest

from fresh_chair.core.errors import Refused
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.sitting.bringing import bring_marks
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.seating import SeatUnanswered, hold_later, hold_seat
from fresh_chair.services.study.open_study import open_study
from fresh_chair.store import spool
from fresh_chair.store.address import ServerAddress
from tests.relay import Relay
from tests.servers import TestServer
from tests.stations import comes, pull_cable, seated, sent, station, watched


def words_of(sitting: Sitting) -> list[str]:
    return [remark.words for remark in sitting.remarks.values()]


def test_nobody_and_no_chair_is_seated_twice(place: ServerAddress, monkeypatch: pytest.MonkeyPatch) -> None:
    with station(place, "room-1", monkeypatch) as one, station(place, "room-2", monkeypatch) as two:
        seats = one.study.seats
        first = seats[0]
        live = seated(one, first.number)
        same_person = next(s for s in seats if s.participant == first.participant and s.chair != first.chair)
        same_chair = next(s for s in seats if s.participant != first.participant and s.chair == first.chair)
        free = next(s for s in seats if s.participant != first.participant and s.chair != first.chair)
        with pytest.raises(Refused, match=f"{first.participant} is in sitting {first.number} at room-1"):
            seated(two, same_person.number)
        with pytest.raises(Refused, match=f"chair {first.chair} is in sitting {first.number} at room-1"):
            seated(two, same_chair.number)
        with pytest.raises(Refused, match=f"Sitting {first.number} is held by room-1: somebody sits"):
            seated(two, first.number)
        other = seated(two, free.number)
        other.break_off("enough", other.now())
        live.break_off("enough", live.now())
        comes(lambda: sent(live))
        comes(lambda: not (two.store.link and two.store.link.reservations()))
        two.read_on()
        assert seated(two, same_chair.number).state.phase.open


def test_without_the_server_only_what_was_kept_beforehand_begins_by_itself(
    place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch
) -> None:
    with station(place, "room-1", monkeypatch, relay=relay) as opened:
        link = opened.store.link
        assert link is not None
        link.reserve([1])
        with station(place, "room-2", monkeypatch) as other, pytest.raises(Refused, match="is kept for that station"):
            seated(other, 1)
        pull_cable(opened, relay)
        with pytest.raises(Refused, match="sitting 3 is not kept for room-1"):
            seated(opened, 3)
        live = seated(opened, 1)
        assert live.state.phase.open
        relay.restore()
        comes(lambda: sent(live))


def test_a_sitting_begun_at_two_stations_is_kept_twice(
    place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch
) -> None:
    with station(place, "room-1", monkeypatch, relay=relay) as cut_off:
        pull_cable(cut_off, relay)
        live = LiveSitting(cut_off, cut_off.study.seat(1))
        live.begin(live.now(), held=True)
        live.log(j.AttemptStarted(live.state.card or "none"), live.now())
        live.log(j.SnagSeen("in the cellar"), live.now())
        with station(place, "room-2", monkeypatch) as other:
            there = seated(other, 1)
            there.log(j.SnagSeen("upstairs"), there.now())
            there.break_off("enough", there.now())
            comes(lambda: sent(there))
        relay.restore()
        comes(lambda: sent(live))
        beside = cut_off.spool.clashes[1]
        with station(place, "gallery", monkeypatch, observer="Ada") as watching:
            ada = watched(watching, beside)
            ada.log(j.SnagSeen("seen from the stairs"), ada.now())
            comes(lambda: sent(ada))
            # Until it ends, this station shows it under the number it began with; others' marks come in there.
            live.log(j.SnagSeen("still in the cellar"), live.now())
            comes(lambda: sent(live))
            live.read_on()
            assert words_of(live.state) == ["in the cellar", "seen from the stairs", "still in the cellar"]
        live.break_off("enough", live.now())
        comes(lambda: sent(live))
        cut_off.read_on()
        assert words_of(cut_off.sittings[1]) == ["upstairs"]
        assert words_of(cut_off.sittings[beside]) == ["in the cellar", "seen from the stairs", "still in the cellar"]
        assert replace(cut_off.study.seat(beside), number=1) == cut_off.study.seat(1)
    assert not any(check.problems for check in check_file(place))


def test_a_sitting_that_another_station_took_goes_on_beside_it(
    place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch
) -> None:
    with station(place, "room-1", monkeypatch, relay=relay) as cut_off:
        live = seated(cut_off, 1)
        seen = live.log(j.SnagSeen(""), live.now())
        comes(lambda: sent(live))
        pull_cable(cut_off, relay)
        # Words for a mark that the server has, and a mark that it has not.
        live.log(j.Worded(seen.id, "seen from the cellar"), live.now())
        live.log(j.SnagSeen("in the cellar"), live.now())
        with station(place, "room-2", monkeypatch) as other:
            link = other.store.link
            assert link is not None
            comes(lambda: other.take_in(other.unread()) or other.phase(1).open)
            with pytest.raises(Refused, match="held by room-1"):
                link.reserve([1], seat=True)
            link.release([1], of_others=True)
            # It was heard of a moment ago: nobody takes it over yet, nor is asked about it.
            assert other.held_elsewhere == {1: "room-1"}
            assert other.cut_short() == []
            with pytest.raises(Refused, match="goes on at room-1"):
                link.reserve([1], seat=True)
            monkeypatch.setattr("fresh_chair.store.postgres.link._HEARD_SECONDS", 0.0)
            link.reserve([1], seat=True)
            there = LiveSitting(other, other.study.seat(1))
            now = there.now()
            there.resume(there.interruption(now), j.Gap.COUNT, now)
            there.log(j.SnagSeen("upstairs"), there.now())
            comes(lambda: sent(there))
            relay.restore()
            comes(lambda: sent(live))
            beside = cut_off.spool.clashes[1]
            there.log(j.SnagSeen("upstairs again"), there.now())
            live.log(j.SnagSeen("in the cellar again"), live.now())
            comes(lambda: sent(there) and sent(live))
            live.read_on()
            # Each of both goes on with its own, and knows of the other.
            assert words_of(live.state) == ["seen from the cellar", "in the cellar", "in the cellar again"]
            assert words_of(there.state) == ["", "upstairs", "upstairs again"]
            comes(lambda: [each.beside for each in link.reservations() if each.number == beside] == [1])
            assert other.held_elsewhere == {beside: "room-1"}
            live.break_off("enough", live.now())
            comes(lambda: sent(live) and beside not in {each.number for each in link.reservations()})
            there.break_off("enough", there.now())
            comes(lambda: sent(there))
        cut_off.read_on()
        assert words_of(cut_off.sittings[1]) == ["", "upstairs", "upstairs again"]
        assert words_of(cut_off.sittings[beside]) == ["seen from the cellar", "in the cellar", "in the cellar again"]
    assert not any(check.problems for check in check_file(place))


def test_a_seat_that_could_not_be_asked_for_is_held_before_any_mark_is_there(
    place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch
) -> None:
    with station(place, "room-1", monkeypatch, relay=relay) as cut_off:
        relay.cut()
        link = cut_off.store.link
        assert link is not None
        # Nobody has noticed yet that the cable is out.
        link.connected = True  # type: ignore[misc]
        with pytest.raises(SeatUnanswered, match=r"does not answer|cannot be reached"):
            hold_seat(cut_off, 1)
        hold_later(cut_off, 1)
        live = LiveSitting(cut_off, cut_off.study.seat(1))
        live.begin(live.now(), held=True)
        with station(place, "room-2", monkeypatch) as other:
            before = other.store.link
            assert before is not None
            assert before.reservations() == []
            relay.restore()
            comes(lambda: sent(live))
            (held,) = before.reservations()
            assert (held.number, held.station, held.seated) == (1, "room-1", True)
        assert link.turn_at(1) == 1


def test_a_row_with_a_far_number_keeps_no_mark_back(
    place: ServerAddress, server: TestServer, database: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    with station(place, "room-1", monkeypatch) as opened:
        live = seated(opened, 1)
        comes(lambda: sent(live))
        server.admin(
            "INSERT INTO fresh_chair.entry (study, sitting, number, id, kind, version, ticks_ns, boot, wall_ns, "
            "author, body) SELECT study, sitting, 1999999, 'far', kind, version, ticks_ns, boot, wall_ns, author, body "
            "FROM fresh_chair.entry WHERE number = 1",
            database=database,
        )
        live.log(j.SnagSeen("after it"), live.now())
        live.break_off("enough", live.now())
        comes(lambda: sent(live))
    with closing(open_study(place, write=False)) as opened:
        assert words_of(opened.sittings[1]) == ["after it"]
        assert not opened.phase(1).open
    (rows,) = (check for check in check_file(place) if check.what == "rows")
    assert len(rows.problems) == 1
    assert "1 entry behind" in rows.problems[0]


def test_marks_that_are_brought_beside_a_sitting_hold_no_seat(
    place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    with station(place, "room-1", monkeypatch, relay=relay) as cut_off:
        pull_cable(cut_off, relay)
        live = LiveSitting(cut_off, cut_off.study.seat(1))
        live.begin(live.now(), held=True)
        (lying,) = spool.places()[0].glob("*.marks")
        stick = tmp_path / "stick.marks"
        stick.write_bytes(lying.read_bytes())
    lying.unlink()
    with station(place, "office", monkeypatch) as office:
        there = seated(office, 1)
        there.break_off("enough", there.now())
        comes(lambda: sent(there))
        planned = {seat.number for seat in office.study.seats}
        assert bring_marks(office, stick)
        (beside,) = (seat for seat in office.study.seats if seat.number not in planned)
        assert office.phase(beside.number).open
        other = next(s for s in office.study.seats if s.chair == beside.chair and s.participant != beside.participant)
    with station(place, "room-2", monkeypatch) as two:
        # Its person and its chair are free: nobody sits there.
        assert seated(two, other.number).state.phase.open
