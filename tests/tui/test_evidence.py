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
        await until(pilot, shows(app, "1 of 8 kinds"))
        await pilot.press("a")
        await typed(pilot, "")
        await until(pilot, shows(app, "cannot be without"))
        await typed(pilot, "the release before")
        await until(pilot, shows(app, "1 record"))
        await pilot.press("right", "a")
        await typed(pilot, "ChairA")
        await typed(pilot, "release before")
        await until(pilot, shows(app, "2 of 8 kinds"))
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
        await until(pilot, shows(app, "6 of 8 kinds"))
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
        await pilot.press("i")
        await until(pilot, shows(app, "Nothing is listed yet"))
        await pilot.press("r")
        await until(pilot, shows(app, "filled in from"))
        await until(pilot, shows(app, "skylark"))
        await pilot.press("a")
        await typed(pilot, "to burn discs")
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
        filled = [row.at["A"] for row in inventory_rows(demo)[:-1]]
        assert all(item is not None and item.evidence == "measured" for item in filled)
