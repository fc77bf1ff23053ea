"""Readings: what may be typed, what may be compared, and what creeps."""

from dataclasses import asdict
from typing import Any

import pytest

from fresh_chair.core.chair.reading_values import read_value
from fresh_chair.core.chair.readings import Series, Taken, across, creep, series_of, unlike, value_in
from fresh_chair.core.chair.record_time import When, when_of
from fresh_chair.core.chair.records import Reading, reading_text
from fresh_chair.core.clock import SECOND
from fresh_chair.core.codec import Unfit, built


def reading(low: float | None = 1.0, **parts: Any) -> Reading:
    known = {"power": "mains", "network": "online", "medium": "installed", "open_now": "nothing", "method": "by hand"}
    values = {"id": "r", "what": "idle memory", "unit": "MiB", "low": low, "minutes_up": 6.0, **known, **parts}
    made: Reading = built(Reading, values, "")
    return made


def taken(*values: float, chair: str = "A", **parts: Any) -> list[Taken]:
    return [
        Taken(reading(v, **parts), When("wall", n * 1800 * SECOND), chair, "a laptop") for n, v in enumerate(values)
    ]


@pytest.mark.parametrize(
    ("typed", "shown"),
    [
        ("412 MiB", "412 MiB"),
        ("40 to 55 s", "40 to 55 s"),
        ("40-55 s", "40 to 55 s"),
        ("2,5 s", "2.5 s"),
        ("at least 1 s", "at least 1 s"),
        ("never under 1 s", "at least 1 s"),
        ("≥ 3 %", "at least 3 %"),
        ("felt heavy", "felt: heavy"),
        ("felt: like glue", "felt: like glue"),
    ],
)
def test_a_value_a_range_a_lower_bound_and_a_feeling_stay_what_they_are(typed: str, shown: str) -> None:
    made: Reading = built(Reading, {"id": "r", "what": "w", **asdict(read_value(typed))}, "")
    assert reading_text(made) == shown


@pytest.mark.parametrize("typed", ["", "fast", "felt", "at least 3 to 4 s", "1 2 3", "nan"])
def test_what_is_no_reading_is_said_to_be_none(typed: str) -> None:
    with pytest.raises(ValueError, match=r"reading|number|felt|range"):
        read_value(typed)


@pytest.mark.parametrize(
    "parts",
    [
        {"precision": "felt", "low": 1.0, "felt": "slow"},
        {"precision": "felt", "low": None},
        {"low": None},
        {"high": 3.0},
        {"precision": "range", "high": 0.5},
        {"trust": "doubted"},
    ],
)
def test_a_reading_that_contradicts_itself_cannot_be(parts: dict[str, Any]) -> None:
    with pytest.raises(Unfit):
        reading(**{"low": 1.0, **parts})


def test_unlike_conditions_are_named_and_never_compared_silently() -> None:
    one, other = reading(power="mains", network="online"), reading(power="battery", network="online", minutes_up=31.0)

    def at(one: Reading, chair: str = "A", machine: str = "a laptop") -> Taken:
        return Taken(one, When("wall", 0), chair, machine)

    assert unlike([at(one), at(other)]) == ["minutes since boot: 6, 31", "power: mains, battery"]
    assert unlike([at(one), at(reading(power="mains", network="online", minutes_up=9.0))]) == []
    sides = [Series("m", "MiB", (at(each, chair),)) for each, chair in ((one, "A"), (other, "B"))]
    assert "not to be compared; conditions differ" in across(sides)
    assert "power: mains, battery" in across(sides)
    machines = [Series("m", "MiB", (at(one, chair, f"laptop {chair}"),)) for chair in "AB"]
    assert "machine: laptop A, laptop B" in across(machines)
    alike = [Series("m", "MiB", (at(one, chair),)) for chair in "AB"]
    assert "under like conditions" in across(alike)
    assert "one chair only" in across(alike[:1])


def test_creep_is_said_only_of_what_grew_at_every_reading() -> None:
    def said(*values: float, **parts: Any) -> str:
        return creep(series_of(taken(*values, **parts))[0])

    assert said(400, 450, 500).startswith("grew at every reading, by 100 MiB in 60 min")
    assert "too few for a line" in said(400, 900)
    assert said(400, 900, 500).startswith("between 400 and 900 MiB")
    assert said(400, 401, 402).startswith("between 400 and 402")
    assert said(400) == ""
    mixed = [*taken(400, 450), Taken(reading(500, minutes_up=90.0), When("wall", 3600 * SECOND), "A", "a laptop")]
    assert "conditions: minutes since boot: 6, 6, 90" in creep(series_of(mixed)[0])


def test_what_is_doubted_or_not_measured_enters_neither_line_nor_comparison() -> None:
    doubted = Taken(reading(9000, trust="doubted", why="the instrument"), When("wall", 99), "A", "a laptop")
    bound = Taken(reading(1, precision="at least"), When("wall", 99), "A", "a laptop")
    series = series_of([*taken(400, 410), doubted, bound])[0]
    assert series.values == [400, 410]
    assert len(series.taken) == 4


def test_units_of_one_dimension_are_one_series_and_capitals_make_no_difference() -> None:
    def at(hour: int, low: float, unit: str, what: str = "idle memory") -> Taken:
        return Taken(reading(low, unit=unit, what=what), When("wall", hour * 3600 * SECOND), "A", "a laptop")

    (series,) = series_of([at(0, 800, "MB"), at(1, 1.2, "GB"), at(2, 1.5, "gb", "Idle  Memory")])
    assert series.values == [0.8, 1.2, 1.5]
    assert creep(series).startswith("grew at every reading, by 0.7 gb in 2 h")
    assert len(series_of([at(0, 800, "MB"), at(1, 90, "s")])) == 2
    shares = [built(Reading, {"id": "r", "what": "share", "precision": "share", "low": 3.0, "of": 5.0}, "")]
    shares.append(built(Reading, {"id": "r", "what": "share", "low": 50.0, "unit": "%"}, ""))
    (mixed,) = series_of([Taken(each, When("wall", n), "A") for n, each in enumerate(shares)])
    assert mixed.values == [60.0, 50.0]


def test_what_is_not_known_is_not_alike() -> None:
    bare = built(Reading, {"id": "r", "what": "idle memory", "low": 1.0, "unit": "MiB"}, "")
    said = across([Series("m", "MiB", (Taken(bare, When("wall", 0), chair),)) for chair in "AB"])
    assert "not to be compared" in said
    for unknown in ("minutes since boot", "network", "power", "open besides", "machine"):
        assert f"{unknown}: not known" in said


def test_figures_whose_hours_are_not_known_never_grew_in_no_time() -> None:
    bare = [Taken(reading(v), When("not known"), "A", "a laptop") for v in (400, 800, 1100)]
    assert "when they were read is not known" in creep(series_of(bare)[0])
    tape = [Taken(reading(v), When("recording", n * 3600 * SECOND), "A", "a laptop") for n, v in enumerate((400, 1100))]
    assert "in 60 min" in creep(series_of(tape)[0])
    mixed = [bare[0], tape[0]]
    assert "is not known of all" in creep(series_of(mixed)[0])


def test_bounds_and_feelings_at_two_chairs_are_not_one_chair_only() -> None:
    felt = built(Reading, {"id": "r", "what": "idle memory", "precision": "felt", "felt": "heavy"}, "")
    bound = reading(2, precision="at most")
    sides = [Series("m", "MiB", (Taken(each, When("wall", 0), chair),)) for each, chair in ((felt, "A"), (bound, "B"))]
    assert across(sides) == "A felt: heavy, B at most 2 MiB: not all of them numbers, so each stands for itself"


def test_versions_are_compared_as_versions() -> None:
    def version(text: str, chair: str) -> Series:
        made = built(Reading, {"id": "r", "what": "kernel", "precision": "version", "version": text}, "")
        return Series("kernel", "", (Taken(made, When("wall", 0), chair),))

    assert across([version("6.1.9", "A"), version("6.1.10", "B")]).endswith("different versions")
    assert across([version("6.1.9", "A"), version("6.1.9", "B")]).endswith("the same version")


@pytest.mark.parametrize(
    ("at", "clock"), [("", "wall"), ("2026-11-09T10:00", "wall"), ("2:31", "recording"), ("not known", "not known")]
)
def test_when_it_was_so_is_the_clock_the_recording_or_not_known(at: str, clock: str) -> None:
    assert when_of(at, 7).clock == clock
    assert reading(at=at).at == at


@pytest.mark.parametrize("at", ["yesterday", "9999-01-01T00:00", "2:61x", "25"])
def test_what_is_no_moment_is_said_to_be_none(at: str) -> None:
    with pytest.raises(Unfit, match="2:31 of the recording"):
        reading(at=at)


@pytest.mark.parametrize(("unit", "value"), [("%", 60.0), ("", 0.6)])
def test_a_share_is_a_part_of_one_or_per_cent(unit: str, value: float) -> None:
    found = read_value("3 of 5")
    reading = Reading(id="r", what="it opened", low=found.low, of=found.of, precision="share")
    assert value_in(reading, unit) == pytest.approx(value)
