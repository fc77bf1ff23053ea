"""What is typed as a reading is read wholly or refused wholly, and two meanings are never one by chance."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.chair.reading_values import Ambiguous, Value, read_value, version_key, was_misread
from fresh_chair.core.chair.units import converted, scale_of


@pytest.mark.parametrize(
    ("typed", "value"),
    [
        ("412 MiB", Value("measured", 412, unit="MiB")),
        ("412", Value("measured", 412)),
        ("1.500,5 MB", Value("measured", 1500.5, unit="MB")),
        ("1,500.5 MB", Value("measured", 1500.5, unit="MB")),
        ("1 500 MB", Value("measured", 1500, unit="MB")),
        ("1\u202f500,5 MB", Value("measured", 1500.5, unit="MB")),
        ("1'500 MB", Value("measured", 1500, unit="MB")),
        ("1,234,567 B", Value("measured", 1234567, unit="B")),
        ("0,125 s", Value("measured", 0.125, unit="s")),
        ("2,5 s", Value("measured", 2.5, unit="s")),
        ("-3 °C", Value("measured", -3, unit="°C")),
        ("1:30 min", Value("measured", 90, unit="s")),
        ("1:30 h", Value("measured", 5400, unit="s")),
        ("1:02:30", Value("measured", 3750, unit="s")),
        ("2 min 30 s", Value("measured", 150, unit="s")),
        ("1 h 5 min", Value("measured", 3900, unit="s")),
        ("3/5", Value("share", 3, of=5)),
        ("3 of 5", Value("share", 3, of=5)),
        ("6/10 pages", Value("share", 6, of=10, unit="pages")),
        ("40 %", Value("measured", 40, unit="%")),
        ("500+ MB", Value("at least", 500, unit="MB")),
        ("at least 1 s", Value("at least", 1, unit="s")),
        ("> 2 GB", Value("at least", 2, unit="GB")),
        ("at most 2 GB", Value("at most", 2, unit="GB")),
        ("under 2 GB", Value("at most", 2, unit="GB")),
        ("up to 40 s", Value("at most", 40, unit="s")),
        ("<= 40 s", Value("at most", 40, unit="s")),
        ("about 3 min", Value("about", 3, unit="min")),
        ("~3 min", Value("about", 3, unit="min")),
        ("about 1:30 min", Value("about", 90, unit="s")),
        ("40 to 55 s", Value("range", 40, 55, unit="s")),
        ("40-55 s", Value("range", 40, 55, unit="s")),
        ("30 s to 2 min", Value("range", 0.5, 2, unit="min")),
        ("2.10.12", Value("version", version="2.10.12")),
        ("version 4.10", Value("version", version="4.10")),
        ("v6", Value("version", version="v6")),
        ("12 programs", Value("measured", 12, unit="programs")),
        ("felt heavy", Value("felt", felt="heavy")),
    ],
)
def test_each_way_of_writing_it_is_read_as_what_it_is(typed: str, value: Value) -> None:
    assert read_value(typed) == value


def test_where_a_version_is_asked_for_a_number_is_one() -> None:
    assert read_value("4.10", what="version of the browser") == Value("version", version="4.10")
    assert read_value("4.10", what="time to the window") == Value("measured", 4.1)


@pytest.mark.parametrize(
    ("typed", "readings"),
    [
        ("1,024 MB", ("1024 MB", "1.0240 MB")),
        ("1.024 MB", ("1024 MB", "1.0240 MB")),
        ("about 2.500", ("2500", "2.5000")),
        ("1:30", ("1 min 30 s", "1 h 30 min")),
    ],
)
def test_where_two_things_can_be_meant_both_are_said(typed: str, readings: tuple[str, ...]) -> None:
    with pytest.raises(Ambiguous) as raised:
        read_value(typed)
    assert raised.value.readings == readings
    for each in readings:
        read_value(each)


@pytest.mark.parametrize(
    "typed",
    [
        *(
            "",
            "fast",
            "felt",
            "at least",
            "at least 3 to 4 s",
            "1 2 3",
            "nan",
            "inf",
            "5 MB free of 9",
            "1.2.3,4",
            "1,2,3",
        ),
        *(
            "12.",
            "3 s 2 min",
            "2 min 90 s",
            "1:75 min",
            "1:30 MB",
            "7/5",
            "3/0",
            "55 to 40 s",
            "5 MB to 3 s",
        ),
        *("500 + 3 MB", "<<3 s", "3 = 4", "1:2", "10 s at 5 MB"),
    ],
)
def test_what_cannot_be_read_wholly_is_refused_wholly(typed: str) -> None:
    with pytest.raises(ValueError, match=r"."):
        read_value(typed)


@given(st.text(max_size=40))
def test_any_text_is_a_reading_or_refused(text: str) -> None:
    try:
        value = read_value(text)
    except ValueError:
        return
    assert value.low is not None or value.version or value.felt


@given(st.integers(-(10**6), 10**6), st.integers(0, 99), st.sampled_from(["MB", "s", ""]))
def test_a_plain_number_comes_back_as_it_was(whole: int, hundredths: int, unit: str) -> None:
    value = read_value(f"{whole}.{hundredths:02} {unit}")
    sign = -1 if whole < 0 else 1
    assert value.low == pytest.approx(whole + sign * hundredths / 100)


def test_units_are_brought_to_each_other_within_a_dimension_only() -> None:
    assert converted(800, "MB", "GB") == pytest.approx(0.8)
    assert converted(1, "GiB", "MiB") == 1024
    assert converted(1.5, "h", "min") == 90
    assert scale_of("MB") == scale_of("mb")
    with pytest.raises(ValueError, match="different things"):
        converted(1, "MB", "s")


def test_versions_are_ordered_number_by_number() -> None:
    assert sorted(["4.10", "4.9", "4.10~rc1", "4"], key=version_key) == ["4", "4.9", "4.10~rc1", "4.10"]


@pytest.mark.parametrize(
    ("low", "unit", "typed"),
    [
        (1.0, ":30 min", "1:30 min"),
        (2.1, ".12", "2.1.12"),
        (3.0, "/5", "3/5"),
        (2.0, "min 30 s", "2 min 30 s"),
        (500.0, "+ MB", "500+ MB"),
        (1.024, "MB", ""),
    ],
)
def test_what_an_earlier_version_read_in_part_only_is_noticed(low: float, unit: str, typed: str) -> None:
    found = was_misread(low, unit)
    assert found is not None
    assert found[0] == typed


@pytest.mark.parametrize(("low", "unit"), [(412.0, "MiB"), (1.5, "GB"), (90.0, "s"), (None, "")])
def test_what_was_read_wholly_is_not(low: float | None, unit: str) -> None:
    assert was_misread(low, unit) is None
