"""Evidence records by keys: put down, changed, sealed, tied, dropped; every kind on one sheet."""

import pytest

from fresh_chair.core.evidence.records import Against, Forecast, Reference
from fresh_chair.services.evidence.inventory import inventory_rows
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tui.app import FreshChair
from tests.tui.conftest import SIZES, WIDE, shows, until
from tests.tui.sit.test_walking import typed


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_a_reference_is_put_down_and_a_chair_held_against_it(opened: OpenStudy, size: tuple[int, int]) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=size) as pilot:
        await until(pilot, shows(app, "seats"))
        await pilot.press("e")
        await until(pilot, shows(app, "1 of 11 kinds"))
        await pilot.press("a")
        await typed(pilot, "")
        await until(pilot, shows(app, "cannot be without"))
        await typed(pilot, "the release before")
        await until(pilot, shows(app, "1 record"))
        await pilot.press("right", "a")
        await typed(pilot, "ChairA")
        await typed(pilot, "release before")
        await until(pilot, shows(app, "2 of 11 kinds"))
        await pilot.press("e", "3", "2")
        await until(pilot, shows(app, "; wo"))
        (reference,) = (held.record for held in evidence_of_kind(opened, "reference"))
        (against,) = (held.record for held in evidence_of_kind(opened, "against"))
        assert isinstance(reference, Reference)
        assert isinstance(against, Against)
        assert (against.of, against.than, against.says) == ("chair:A", f"reference:{reference.id}", "worse")


async def test_a_forecast_is_sealed_tied_and_dropped_with_its_links_left(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "seats"))
        await pilot.press("e", *["right"] * 5)
        await until(pilot, shows(app, "6 of 11 kinds"))
        await pilot.press("a")
        await typed(pilot, "it gets faster")
        await until(pilot, shows(app, "1 record"))
        await pilot.press("ampersand", "1")
        await typed(pilot, "ChairB")
        await until(pilot, shows(app, "because of"))
        await pilot.press("s", "y")
        await until(pilot, shows(app, "sealed"))
        await pilot.press("e", "1")
        await typed(pilot, " or slower")
        await until(pilot, shows(app, "A sealed forecast cannot be changed"))
        await pilot.press("escape")
        (held,) = evidence_of_kind(opened, "forecast")
        assert isinstance(held.record, Forecast)
        assert (held.record.what, held.record.sealed) == ("it gets faster", True)
        await pilot.press("x")
        await typed(pilot, "typed twice")
        await until(pilot, shows(app, "Nothing of this kind yet"))
        await pilot.press("left")
        await until(pilot, shows(app, "(gone)"))


async def test_the_inventory_is_filled_from_facts_and_by_hand(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "Tern"))
        listed = len(inventory_rows(demo))
        assert listed
        await pilot.press("i", "r")
        await until(pilot, shows(app, "filled in from"))
        await until(pilot, shows(app, "skylark"))
        await pilot.press("a")
        await typed(pilot, "to print labels")
        await pilot.press("end", "p", "6")
        await until(pilot, shows(app, "nowhere"))
        await pilot.press("right", "n")
        await typed(pilot, "Ember")
        await until(pilot, shows(app, "Ember"))
        row = inventory_rows(demo)[-1]
        here, there = row.at["A"], row.at["B"]
        assert here is not None
        assert there is not None
        assert (here.presence, there.presence, there.shown) == ("nowhere", "there", "Ember")
        filled = [row.at["A"] for row in inventory_rows(demo)[listed:-1]]
        assert filled
        assert all(item is not None and item.evidence == "measured" for item in filled)


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_a_succession_of_releases_is_drawn_walked_along_and_tied(demo: OpenStudy, size: tuple[int, int]) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=size) as pilot:
        await until(pilot, shows(app, "Tern"))
        await pilot.press("e", "r")
        await until(pilot, shows(app, "things along 3 releases", "Saltmarsh 7", "the dark look"))
        await pilot.press("right", "right")
        await until(pilot, shows(app, "A Saltmarsh 9"))
        if size == WIDE:
            # A release in hand hides no other one where there is room.
            assert shows(app, "Saltmarsh 7", "Saltmarsh 8", "still to come")()
        before = len(list(demo.evidence.state.links()))
        await pilot.press("ampersand", "1")
        await typed(pilot, "chair:B")
        await until(pilot, lambda: len(list(demo.evidence.state.links())) == before + 1)
        await pilot.press("s")
        await until(pilot, shows(app, "things along 2 releases", "half the memory"))
        await pilot.press("escape")
        await until(pilot, shows(app, "of 11 kinds"))


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_readings_over_time_are_drawn_and_those_of_another_study_stand_beside(
    demo: OpenStudy, size: tuple[int, int]
) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=size) as pilot:
        await until(pilot, shows(app, "Tern"))
        await pilot.press("e", "t")
        await until(pilot, shows(app, "over time", "idle memory"))
        if size == WIDE:
            await until(pilot, shows(app, "from Last winter's trial", "grew at every reading"))
        await pilot.press("escape")
        await until(pilot, shows(app, "of 11 kinds"))


async def test_a_study_without_releases_and_moments_says_how_they_come(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "seats"))
        await pilot.press("e", "r")
        await until(pilot, shows(app, "Nothing is tied into a succession yet"))
        await pilot.press("escape", "t")
        await until(pilot, shows(app, "Nothing was read, thought or met at two moments yet"))


async def test_hunches_stand_among_the_forecasts(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "Tern"))
        await pilot.press("e", *["right"] * 5)
        await until(pilot, shows(app, "6 of 11 kinds", "hunch"))


async def test_a_record_of_a_chair_is_tied_where_it_stands(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "Tern"))
        await pilot.press("2", "c")
        await until(pilot, shows(app, "Starts in under half a minute"))
        await pilot.press("ampersand", "1")
        await typed(pilot, "ChairB")
        await until(pilot, shows(app, "because of"))
