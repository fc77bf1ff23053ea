"""Frozen classes: dataclasses in every respect that the program relies on."""

import copy
import pickle
from dataclasses import FrozenInstanceError, asdict, dataclass, field, fields, is_dataclass, replace

import pytest
from pydantic import TypeAdapter

from fresh_chair.core.frozen import frozen


@frozen
class Point:
    """Two numbers."""

    x: int
    y: int = 2

    def __post_init__(self) -> None:
        if self.x < 0:
            raise ValueError("x is negative")


@frozen(kw_only=True)
class Named:
    """A point with names."""

    point: Point
    names: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class Made:
    """The same by the standard library."""

    x: int
    y: int = 2


@frozen
class Further(Point):
    """One number more."""

    z: int = 3


@frozen
class Empty:
    """Nothing."""


def test_values_are_equal_and_hashed_by_their_fields_and_only_to_their_own_kind() -> None:
    assert Point(1) == Point(1, 2) != Point(1, 3)
    assert len({Point(1), Point(1, 2), Further(1)}) == 2
    assert Point(1) != Further(1)
    pair: object = (1, 2)
    assert Point(1) != pair
    assert Empty() == Empty()
    assert hash(Empty()) == hash(Empty())


def test_a_value_shows_itself_as_a_dataclass_does() -> None:
    assert repr(Point(1)) == repr(Made(1)).replace("Made", "Point")
    assert repr(Named(point=Point(1))) == "Named(point=Point(x=1, y=2), names=[])"


def test_nothing_of_a_value_can_be_set_deleted_or_added() -> None:
    point = Point(1)
    for name in ("x", "other"):
        with pytest.raises(FrozenInstanceError):
            setattr(point, name, 5)
    with pytest.raises(FrozenInstanceError):
        del point.x
    assert not hasattr(point, "__dict__")


def test_defaults_are_made_anew_for_every_value_and_what_is_required_is_asked_for() -> None:
    first, second = Named(point=Point(1)), Named(point=Point(1))
    first.names.append("one")
    assert second.names == []
    assert Named(point=Point(1), names=["given"]).names == ["given"]
    with pytest.raises(TypeError, match="positional"):
        Named(Point(1))  # type: ignore[call-arg]
    with pytest.raises(TypeError, match="missing"):
        Point()  # type: ignore[call-arg]
    with pytest.raises(ValueError, match="negative"):
        Point(-1)


def test_the_standard_library_and_pydantic_take_it_for_a_dataclass() -> None:
    named = Named(point=Further(1, 2, 4), names=["a"])
    assert is_dataclass(named)
    assert [each.name for each in fields(Further)] == ["x", "y", "z"]
    assert asdict(named) == {"point": {"x": 1, "y": 2, "z": 4}, "names": ["a"]}
    assert replace(named, names=["b"]).names == ["b"]
    with pytest.raises(ValueError, match="negative"):
        replace(Point(1), x=-1)
    assert TypeAdapter(Named).validate_python({"point": {"x": 1}}) == Named(point=Point(1))
    match Point(4):
        case Point(x, y):
            assert (x, y) == (4, 2)


@pytest.mark.parametrize("value", [Point(1), Further(1), Named(point=Point(1), names=["a"])])
def test_values_are_copied_and_pickled_whole(value: object) -> None:
    assert copy.deepcopy(value) == value
    assert pickle.loads(pickle.dumps(value)) == value
