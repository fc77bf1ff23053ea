"""The screens of a study on a server: live boards, a cable that is out, and a seat that is taken elsewhere."""

from collections.abc import Iterator
from contextlib import closing
from dataclasses import replace

import pytest
from textual.widgets import Input

from fresh_chair.core.plan.people import Consent
from fresh_chair.core.sitting import journal as j
from fresh_chair.services.findings.sorting import open_finding
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.plan.plan_changes import change_plan
from fresh_chair.services.plan.readiness import readiness
from fresh_chair.services.server.servers import studies_on
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.store.address import ServerAddress, read_server_address
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.base.sheet import FieldSheet
from fresh_chair.tui.widgets.asking import WordLine
from tests.relay import Relay
from tests.servers import TestServer
from tests.stations import comes, through
from tests.tui.conftest import SIZES, WIDE, picture, shows, until


@pytest.fixture
def here(place: ServerAddress, relay: Relay, monkeypatch: pytest.MonkeyPatch) -> Iterator[OpenStudy]:
    """This station, whose cable can be pulled."""
    monkeypatch.setenv("FRESH_CHAIR_STATION", "room-1")
    opened = open_study(through(place, relay))
    assert opened.store.link is not None
    opened.store.link.join(opened.author)
    yield opened
    opened.close()


@pytest.fixture
def there(place: ServerAddress, monkeypatch: pytest.MonkeyPatch) -> Iterator[OpenStudy]:
    """Another station."""
    monkeypatch.setenv("FRESH_CHAIR_STATION", "room-2")
    with closing(open_study(place)) as opened:
        yield opened


@pytest.mark.parametrize("size", SIZES)
async def test_a_sitting_goes_on_and_ends_with_the_cable_out(
    here: OpenStudy, relay: Relay, place: ServerAddress, size: tuple[int, int]
) -> None:
    app = FreshChair(here)
    async with app.run_test(size=size) as pilot:
        await until(pilot, shows(app, "1st"))
        await pilot.press("enter")
        await until(pilot, lambda: app.session.in_hand is not None)
        await until(pilot, shows(app, "start the clock"))
        await pilot.press("enter")
        await until(pilot, lambda: app.session.in_hand and app.session.in_hand.state.latest is not None)
        await until(pilot, lambda: not here.spool.waiting)
        relay.cut()
        live = app.session.in_hand
        assert live is not None
        await pilot.press("s", "enter", "w", "w", "s", "enter")
        await until(pilot, lambda: here.spool.waiting >= 4)
        assert len(live.state.remarks) == 2
        await until(pilot, shows(app, "safe here and", "follow"))
        live.break_off("enough", live.now())
        await pilot.press("1")
        await until(pilot, shows(app, "1st", "broken off"))
        # Looked back at, without a server.
        app.session.looking_at = live.seat.number
        await pilot.press("3")
        await until(pilot, shows(app, "broken off: enough"))
        relay.restore()
        await until(pilot, lambda: not here.spool.waiting)
        await until(pilot, lambda: not shows(app, "safe here and")())
    with closing(open_study(place, write=False)) as after:
        assert [entry.id for entry in after.entries[live.seat.number]] == [entry.id for entry in live.entries]


async def test_an_observer_elsewhere_joins_the_only_sitting_or_chooses_among_several(
    place: ServerAddress, there: OpenStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    def seated(number: int) -> LiveSitting:
        live = LiveSitting(there, there.study.seat(number))
        live.begin(live.now(), beside=[1])
        live.log(j.AttemptStarted(live.state.card or "none"), live.now())
        return live

    first = seated(1)
    await_sent(there)
    monkeypatch.setenv("FRESH_CHAIR_STATION", "gallery")
    with closing(open_study(place, observe=True, author="Ada")) as watching:
        app = FreshChair(watching)
        async with app.run_test(size=WIDE) as pilot:
            await until(pilot, shows(app, "watches", "snag"))
            assert app.session.live is not None
            assert app.session.live.seat.number == 1
    other = next(seat for seat in there.study.seats if seat.participant != "P01" and seat.chair != first.seat.chair)
    seated(other.number)
    await_sent(there)
    with closing(open_study(place, observe=True, author="Mo")) as watching:
        app = FreshChair(watching)
        app.session.cell = (other.participant, other.chair)
        async with app.run_test(size=WIDE) as pilot:
            await until(pilot, shows(app, "2 sittings go on"))
            await pilot.press("enter")
            await until(pilot, shows(app, "watches", "snag"))
            assert app.session.live is not None
            assert app.session.live.seat.number == other.number


def await_sent(opened: OpenStudy) -> None:
    """Let all marks arrive on the server."""
    comes(lambda: opened.spool.bring_back() or not opened.spool.waiting)


async def test_the_board_shows_other_stations_as_they_go_and_seats_nobody_twice(
    here: OpenStudy, there: OpenStudy
) -> None:
    app = FreshChair(here)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "1st"))
        link = here.store.link
        await until(pilot, lambda: getattr(link, "_listening", False))
        other = LiveSitting(there, there.study.seat(1))
        other.begin(other.now())
        other.log(j.AttemptStarted(other.state.card or "none"), other.now())
        await until(pilot, shows(app, "at room-2"), most=400)
        app.session.cell = (there.study.seat(1).participant, there.study.seat(1).chair)
        await pilot.press("enter")
        await until(pilot, shows(app, "Sitting 1 goes on at room-2"))
        assert app.session.in_hand is None
        other.break_off("enough", other.now())
        await until(pilot, shows(app, "broken off"), most=400)


async def test_others_changes_while_a_question_is_open_are_shown_once_it_is_answered(
    here: OpenStudy, there: OpenStudy
) -> None:
    other = LiveSitting(there, there.study.seat(1))
    other.begin(other.now())
    other.log(j.AttemptStarted(other.state.card or "none"), other.now())
    snags = [other.log(j.SnagSeen(words), other.now()).id for words in ("one trouble", "another trouble")]
    await_sent(there)
    app = FreshChair(here)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "1st"))
        await pilot.press("4")
        await until(pilot, shows(app, "another trouble"))
        await pilot.press("o")
        await until(pilot, lambda: getattr(app.screen, "asking", False))
        open_finding(there, "Found upstairs", [snags[1]])
        await until(pilot, lambda: app._passed_by, most=400)
        await pilot.press("escape")
        await until(pilot, shows(app, "Found upstairs"), most=400)


async def test_figures_stay_as_they_are_read_and_are_worked_out_again_by_their_key(
    here: OpenStudy, there: OpenStudy
) -> None:
    app = FreshChair(here)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "1st"))
        await pilot.press("5")
        await until(pilot, shows(app, "Over all tasks"))
        other = LiveSitting(there, there.study.seat(1))
        other.begin(other.now())
        other.log(j.AttemptStarted(other.state.card or "none"), other.now())
        await_sent(there)
        await until(pilot, shows(app, "5 works them out again"), most=400)
        before = app.screen
        await pilot.press("5")
        await until(pilot, lambda: app.screen is not before)
        await until(pilot, shows(app, "Over all tasks"))
        assert not shows(app, "5 works them out again")()


async def test_a_login_that_only_reads_is_told_so_and_stands_among_the_stations(place: ServerAddress) -> None:
    reads = read_server_address(str(place).replace("planner@", "reader@"))
    with closing(open_study(reads)) as opened:
        assert opened.store.link is not None
        app = FreshChair(opened)
        async with app.run_test(size=WIDE) as pilot:
            await until(pilot, shows(app, "Your login on the server only reads."))
            opened.store.link.join(opened.author)
            await until(pilot, lambda: any(station.connected for station in studies_on(place)[0].stations))
            await pilot.press("4", "a")
            assert app.is_running


async def test_enter_on_a_seat_that_nobody_answers_for_is_asked_about(
    here: OpenStudy, relay: Relay, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("fresh_chair.store.postgres.connecting.SILENT_SECONDS", 1.0)
    app = FreshChair(here)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "1st"))
        await until(pilot, lambda: getattr(here.store.link, "_listening", False))
        await until(pilot, lambda: here.knows_chairs)
        relay.stall()
        await pilot.press("enter")
        await until(pilot, shows(app, "is not kept for room-1", "all the same", "no, leave it"), most=400)
        assert app.session.in_hand is None
        await pilot.press("y")
        await until(pilot, lambda: app.session.in_hand is not None)
        relay.restore()
        await until(pilot, lambda: not here.spool.waiting, most=400)
        link = here.store.link
        await until(pilot, lambda: link is not None and [each.station for each in link.reservations()] == ["room-1"])


async def test_a_sitting_that_goes_on_at_two_stations_is_asked_about(
    here: OpenStudy, there: OpenStudy, relay: Relay
) -> None:
    app = FreshChair(here)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "1st"))
        await until(pilot, lambda: getattr(here.store.link, "_listening", False))
        await until(pilot, lambda: here.knows_chairs)
        relay.cut()
        await until(pilot, lambda: here.store.link is not None and not here.store.link.connected, most=400)
        await pilot.press("enter")
        await until(pilot, shows(app, "all the same"))
        await pilot.press("y")
        await until(pilot, lambda: app.session.in_hand is not None)
        live = app.session.in_hand
        assert live is not None
        other = LiveSitting(there, there.study.seat(live.seat.number))
        other.begin(other.now())
        other.log(j.AttemptStarted(other.state.card or "none"), other.now())
        await_sent(there)
        relay.restore()
        await until(pilot, shows(app, "goes on at room-2 as well", "Break yours off", "no, leave it"), most=600)
        beside = here.spool.clashes[live.seat.number]
        await pilot.press("y")
        await until(pilot, shows(app, "broken off"), most=400)
        await until(pilot, lambda: not here.spool.waiting, most=400)
    with closing(open_study(here.address, write=False)) as after:
        assert after.sittings[beside].broken_reason == "it went on at another station"
        assert after.phase(live.seat.number).open


# As long as a line of the screen: the keys stand beside it all the same.
THEIRS = "theirs, said at the length that a question of a study has, and then some more of it, up to here"


@pytest.mark.parametrize(("key", "after"), [("p", "mine"), ("n", THEIRS), ("e", f"{THEIRS} and more")])
async def test_a_field_that_was_changed_elsewhere_meanwhile_stands_beside_ones_own_words(
    here: OpenStudy, there: OpenStudy, key: str, after: str
) -> None:
    app = FreshChair(here)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "1st"))
        await until(pilot, lambda: here.knows_chairs)
        await pilot.press("s")
        await until(pilot, shows(app, "The study sheet"))
        await pilot.press("enter")
        screen = app.screen
        assert isinstance(screen, FieldSheet)
        await until(pilot, lambda: screen.query_one(WordLine).asking)
        line = screen.in_hand
        assert line is not None
        set_field(there, line.path, THEIRS)
        screen.query_one(WordLine).query_one(Input).value = "mine"
        await pilot.press("enter")
        await until(pilot, shows(app, f"is now “{THEIRS[:50]}", "mine", "put yours there", "leave theirs"), most=400)
        await pilot.press(key)
        if key == "e":
            await until(pilot, lambda: screen.query_one(WordLine).asking)
            assert screen.query_one(WordLine).query_one(Input).value == THEIRS
            await pilot.press(*" and more", "enter")
        await until(pilot, lambda: not screen.asking)
        await until(pilot, lambda: next(each.text for each in screen.lines() if each.path == line.path) == after)


async def test_a_login_that_sees_no_people_is_told_nothing_false_of_them(
    server: TestServer, database: str, place: ServerAddress, there: OpenStudy
) -> None:
    change_plan(
        there,
        replace(there.study, sheet=replace(there.study.sheet, consents=(Consent(id="part", words="to take part"),))),
    )
    assert "without consent" in next(each.words for each in readiness(there).parts if each.id == "person")
    with closing(open_study(server.address("room", login="reader", database=database))) as reading:
        app = FreshChair(reading)
        async with app.run_test(size=WIDE) as pilot:
            await until(pilot, shows(app, "1st", "codes alone"))
            assert "consent" not in picture(app)
