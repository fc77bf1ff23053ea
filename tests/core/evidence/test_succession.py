"""Releases in their order, and the life line of each thing along them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.evidence import records as r
from fresh_chair.core.evidence.ledger import EvidenceState
from fresh_chair.core.evidence.succession import LifeLine, chair_of, life_lines, release_circles, successions
from tests.core.evidence.test_ledger import put

BEFORE = r.Reference(id="nine", name="Saltmarsh 9", sort="earlier release", earlier_of="chair:A")
LONG_BEFORE = r.Reference(id="eight", name="Saltmarsh 8", sort="earlier release", earlier_of="reference:nine")
RELEASES = ("reference:eight", "reference:nine", "chair:A")


def lines(*records: r.EvidenceRecord) -> dict[str, LifeLine]:
    state = put(LONG_BEFORE, BEFORE, *records)
    assert successions(state) == [RELEASES]
    return {line.what: line for line in life_lines(state, RELEASES, chair_of)}


def change(name: str, sort: r.ChangeSort, at: str = "chair:A", **more: str) -> r.ReleaseChange:
    where = {"chair": "A"} if at == "chair:A" else {"release": at}
    return r.ReleaseChange(id=f"{name}-{at[-1]}", what=name, sort=sort, **where, **more)  # type: ignore[arg-type]


def signs(line: LifeLine) -> list[str]:
    return [cell.sign for cell in line.cells]


def there(line: LifeLine) -> list[bool | None]:
    return [cell.there for cell in line.cells]


def test_what_came_was_not_there_before_and_what_went_was() -> None:
    told = lines(change("dock", "added", "reference:nine"), change("dock", "removed"), change("clock", "added"))
    assert signs(told["dock"]) == ["", "came", "went"]
    assert there(told["dock"]) == [False, True, False]
    assert there(told["clock"]) == [False, False, True]


def test_what_changed_was_there_before_and_stays() -> None:
    told = lines(change("theme", "behaves otherwise", "reference:nine", was="light", now="dark"))
    assert signs(told["theme"]) == ["", "changed", ""]
    assert there(told["theme"]) == [True, True, True]
    assert told["theme"].cells[1].words == "behaves otherwise: light → dark"


def test_what_is_still_to_come_is_no_change_yet() -> None:
    told = lines(change("encryption", "added", comes="10.1"))
    assert signs(told["encryption"]) == ["", "", ""]
    assert told["encryption"].to_come == "added, 10.1"
    assert told["encryption"].records == ("change:encryption-A",)


def test_a_thing_held_against_the_release_before_has_its_place_there() -> None:
    better = r.Against(id="1", of="chair:A", than="reference:nine", says="better", words="sleep")
    unsaid = r.Against(id="2", of="chair:A", than="reference:nine", says="cannot say", words="sound")
    forward = r.Against(id="3", of="reference:nine", than="chair:A", says="worse", words="fonts")
    told = lines(better, unsaid, forward)
    assert list(told) == ["sleep"]
    assert signs(told["sleep"]) == ["", "", "better"]


def test_the_inventory_of_two_chairs_of_a_succession_tells_what_changed() -> None:
    tie = r.Link(id="t", first="chair:A", relation="earlier release of", second="chair:B")
    at_a = r.InventoryItem(id="1", chair="A", purpose="mail", presence="there", shown="Kettle", version="1")
    at_b = r.InventoryItem(id="2", chair="B", purpose="Mail", presence="there", shown="Pot")
    gone = [
        r.InventoryItem(id="3", chair="A", purpose="discs", presence="there", shown="Ember"),
        r.InventoryItem(id="4", chair="B", purpose="discs", presence="nowhere"),
    ]
    alone = r.InventoryItem(id="5", chair="A", purpose="maps", presence="there")
    state = put(tie, at_a, at_b, *gone, alone)
    (releases,) = successions(state)
    told = {line.what: line for line in life_lines(state, releases, chair_of)}
    assert releases == ("chair:A", "chair:B")
    assert set(told) == {"mail", "discs"}
    assert signs(told["mail"]) == ["", "changed"]
    assert (signs(told["discs"]), there(told["discs"])) == (["", "went"], [True, False])


def test_two_successions_stay_apart() -> None:
    other = r.Reference(id="x", name="another", sort="earlier release", earlier_of="chair:C")
    assert successions(put(LONG_BEFORE, BEFORE, other)) == [RELEASES, ("reference:x", "chair:C")]


def test_releases_that_go_round_are_said_and_still_drawn() -> None:
    round_about = r.Link(id="t", first="chair:A", relation="earlier release of", second="reference:eight")
    state = put(LONG_BEFORE, BEFORE, round_about)
    (circle,) = release_circles(state)
    assert set(circle) == set(RELEASES)
    assert [set(names) for names in successions(state)] == [set(RELEASES)]
    assert release_circles(put(LONG_BEFORE, BEFORE)) == []
    assert successions(EvidenceState()) == []


@given(st.permutations(list(range(6))))
def test_the_order_of_releases_is_that_of_their_ties_however_they_came_in(order: list[int]) -> None:
    ties = [
        r.Link(id=str(n), first=f"reference:{n}", relation="earlier release of", second=f"reference:{n + 1}")
        for n in order
    ]
    assert successions(put(*ties)) == [tuple(f"reference:{n}" for n in range(7))]


@pytest.mark.parametrize(
    ("target", "home"),
    [("chair:A", "chair:A"), ("record:B/claim/1", "chair:B"), ("alteration:B/1", "chair:B"), ("mark:4f", ""), ("", "")],
)
def test_the_chair_that_a_target_names(target: str, home: str) -> None:
    assert chair_of(target) == home
