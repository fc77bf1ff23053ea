"""Readings: what may be typed, what may be compared, and what creeps."""

from typing import Any

import pytest

from fresh_chair.core.clock import SECOND
from fresh_chair.core.codec import Unfit, built
from fresh_chair.core.witness.readings import Series, Taken, across, creep, series_of, unlike
from fresh_chair.core.witness.records import Reading, read_value, reading_text


def reading(low: float | None = 1.0, **parts: Any) -> Reading:
    values = {"id": "r", "what": "idle memory", "unit": "MiB", "low": low, "minutes_up": 6.0, **parts}
    made: Reading = built(Reading, values, "")
    return made


def taken(*values: float, chair: str = "A", **parts: Any) -> list[Taken]:
    return [Taken(reading(v, **parts), n * 1800 * SECOND, chair) for n, v in enumerate(values)]


@pytest.mark.parametrize(
    ("typed", "shown"),
    [
        ("412 MiB", "412 MiB"),
        ("5 to 7 min", "5 to 7 min"),
        ("5-7 min", "5 to 7 min"),
        ("2,5 s", "2.5 s"),
        ("at least 1 s", "at least 1 s"),
        ("never under 1 s", "at least 1 s"),
        ("≥ 3 %", "at least 3 %"),
        ("felt sluggish", "felt: sluggish"),
        ("felt: like glue", "felt: like glue"),
    ],
)
def test_a_value_a_range_a_lower_bound_and_a_feeling_stay_what_they_are(typed: str, shown: str) -> None:
    made: Reading = built(Reading, {"id": "r", "what": "w", **read_value(typed)}, "")
    assert reading_text(made) == shown


@pytest.mark.parametrize("typed", ["", "fast", "felt", "at least 3 to 4 s", "1 2 3", "nan"])
def test_what_is_no_reading_is_said_to_be_none(typed: str) -> None:
    with pytest.raises(ValueError, match=r"number|felt|bound"):
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
    assert unlike([one, other]) == ["minutes since boot: 6, 31", "power: mains, battery"]
    assert unlike([one, reading(power="mains", network="online", minutes_up=9.0)]) == []
    sides = [Series("m", "MiB", (Taken(each, 0, chair),)) for each, chair in ((one, "A"), (other, "B"))]
    assert "not to be compared, conditions differ" in across(sides)
    assert "power: mains, battery" in across(sides)
    alike = [Series("m", "MiB", (Taken(one, 0, chair),)) for chair in "AB"]
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
    mixed = [*taken(400, 450), Taken(reading(500, minutes_up=90.0), 3600 * SECOND, "A")]
    assert "conditions differed: minutes since boot: 6, 6, 90" in creep(series_of(mixed)[0])


def test_what_is_doubted_or_not_measured_enters_neither_line_nor_comparison() -> None:
    doubted = Taken(reading(9000, trust="doubted", why="the instrument"), 99, "A")
    bound = Taken(reading(1, precision="at least"), 99, "A")
    series = series_of([*taken(400, 410), doubted, bound])[0]
    assert series.values == [400, 410]
    assert len(series.taken) == 4
