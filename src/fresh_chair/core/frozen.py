"""Frozen classes made quickly.

`dataclass(frozen=True, slots=True)` compiles seven functions a class, most of a millisecond; the board needs a hundred
and forty classes before its first paint. Here one function is compiled, and the others are shared. The result is a
dataclass all the same: `fields`, `replace`, `asdict` and Pydantic take it.
"""

from collections.abc import Callable
from dataclasses import MISSING, Field, FrozenInstanceError, dataclass, field, fields
from operator import attrgetter
from typing import Any, TypeVar, cast, dataclass_transform, overload

T = TypeVar("T")


@overload
def frozen(cls: type[T], /) -> type[T]: ...


@overload
def frozen(*, kw_only: bool = False) -> Callable[[type[T]], type[T]]: ...


@dataclass_transform(frozen_default=True, field_specifiers=(field,))
def frozen(cls: Any = None, /, *, kw_only: bool = False) -> Any:
    """Make a class a frozen dataclass with slots, equal and hashed by its fields.

    Args:
        cls: The class, with its fields as annotations.
        kw_only: True where its fields are named at every call.
    """
    if cls is None:
        return lambda cls: _made(cls, kw_only=kw_only)
    return _made(cls, kw_only=kw_only)


def _made(cls: type[Any], *, kw_only: bool) -> type[Any]:
    cls = dataclass(init=False, repr=False, eq=False, kw_only=kw_only)(cls)
    own = fields(cls)
    names = tuple(each.name for each in own)
    inherited = {name for base in cls.__mro__[1:] for name in base.__dict__.get("__slots__", ())}
    namespace = {name: value for name, value in cls.__dict__.items() if name not in names}
    namespace.pop("__dict__", None)
    namespace.pop("__weakref__", None)
    namespace["__slots__"] = tuple(name for name in names if name not in inherited)
    for method in (_repr, _refuse_set, _refuse_delete, _get_state, _set_state):
        namespace.setdefault(method.__name__, method)
    if "__eq__" not in namespace:
        namespace["__eq__"] = _eq
        namespace.setdefault("__hash__", _hash)
    if "__init__" not in namespace:
        namespace["__init__"] = _init(own, hasattr(cls, "__post_init__"))
    # One getter for all values, in C; a class without fields has none.
    namespace["_values"] = staticmethod(attrgetter(*names)) if names else staticmethod(lambda one: ())
    made: Any = type(cls)
    made = made(cls.__name__, cls.__bases__, namespace)
    made.__qualname__ = cls.__qualname__
    return cast("type[Any]", made)


def _init(own: tuple[Field[Any], ...], post: bool) -> Callable[..., None]:
    """The one function of a class that has to be compiled: its parameters are the fields."""
    known: dict[str, Any] = {"_set": object.__setattr__, "_missing": MISSING}
    positional, named = ["self"], list[str]()
    lines: list[str] = []
    for each in own:
        value = each.name
        parameter = each.name
        if each.default is not MISSING:
            known[f"_default_{each.name}"] = each.default
            parameter += f"=_default_{each.name}"
        elif each.default_factory is not MISSING:
            known[f"_make_{each.name}"] = each.default_factory
            parameter += "=_missing"
            value = f"_make_{each.name}() if {each.name} is _missing else {each.name}"
        (named if each.kw_only else positional).append(parameter)
        lines.append(f"_set(self, {each.name!r}, {value})")
    parameters = ", ".join([*positional, *(["*", *named] if named else [])])
    lines += ["self.__post_init__()"] if post else []
    source = f"def __init__({parameters}):\n " + "\n ".join(lines or ["pass"])
    exec(source, known)
    init: Callable[..., None] = known["__init__"]
    return init


def _repr(self: Any) -> str:
    shown = ", ".join(f"{each.name}={getattr(self, each.name)!r}" for each in fields(self) if each.repr)
    return f"{type(self).__qualname__}({shown})"


def _eq(self: Any, other: Any) -> Any:
    if other.__class__ is self.__class__:
        return self._values(self) == self._values(other)
    return NotImplemented


def _hash(self: Any) -> int:
    return hash((type(self), self._values(self)))


def _refuse_set(self: Any, name: str, value: object) -> None:
    raise FrozenInstanceError(f"cannot assign to field {name!r}")


def _refuse_delete(self: Any, name: str) -> None:
    raise FrozenInstanceError(f"cannot delete field {name!r}")


def _get_state(self: Any) -> list[Any]:
    return [getattr(self, each.name) for each in fields(self)]


def _set_state(self: Any, state: list[Any]) -> None:
    for each, value in zip(fields(self), state, strict=True):
        object.__setattr__(self, each.name, value)


_repr.__name__, _eq.__name__, _hash.__name__ = "__repr__", "__eq__", "__hash__"
_refuse_set.__name__, _refuse_delete.__name__ = "__setattr__", "__delattr__"
_get_state.__name__, _set_state.__name__ = "__getstate__", "__setstate__"
