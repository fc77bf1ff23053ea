"""Units of readings and their dimensions, so that 800 MB and 1.5 GB are the same kind of thing."""

from fresh_chair.core.frozen import frozen

_BYTES = {
    **dict.fromkeys(("b", "byte", "bytes"), 1.0),
    **dict.fromkeys(("kb", "kilobyte", "kilobytes"), 1e3),
    **dict.fromkeys(("mb", "megabyte", "megabytes"), 1e6),
    **dict.fromkeys(("gb", "gigabyte", "gigabytes"), 1e9),
    **dict.fromkeys(("tb", "terabyte", "terabytes"), 1e12),
    "kib": 2.0**10,
    "mib": 2.0**20,
    "gib": 2.0**30,
    "tib": 2.0**40,
}
_SECONDS = {
    **dict.fromkeys(("us", "µs", "microsecond", "microseconds"), 1e-6),
    **dict.fromkeys(("ms", "millisecond", "milliseconds"), 1e-3),
    **dict.fromkeys(("s", "sec", "secs", "second", "seconds"), 1.0),
    **dict.fromkeys(("min", "mins", "minute", "minutes"), 60.0),
    **dict.fromkeys(("h", "hr", "hrs", "hour", "hours"), 3600.0),
    **dict.fromkeys(("d", "day", "days"), 86_400.0),
}
_SHARES = {"": 1.0, "%": 0.01, "percent": 0.01, "per cent": 0.01}


@frozen
class Scale:
    """A unit's dimension and factor.

    Attributes:
        dimension: bytes, seconds, or share; else the unit itself in small letters, compared with its own only.
        factor: How many of the dimension's own unit it is.
    """

    dimension: str
    factor: float


def scale_of(unit: str, *, share: bool = False) -> Scale:
    """A unit's dimension and factor; letters count without regard to case, as units are written in many ways.

    Args:
        unit: As it was typed.
        share: Whether the number is a part of a whole, so that no unit is one too.
    """
    name = " ".join(unit.casefold().split())
    if share or name in ("%", "percent", "per cent"):
        return Scale("share", _SHARES.get(name, 1.0))
    for dimension, known in (("bytes", _BYTES), ("seconds", _SECONDS)):
        if name in known:
            return Scale(dimension, known[name])
    return Scale(f"unit {name}", 1.0)


def converted(value: float, from_unit: str, to_unit: str) -> float:
    """A number in another unit of the same dimension.

    >>> converted(1.5, "GB", "MB"), converted(90, "s", "min")
    (1500.0, 1.5)

    Raises:
        ValueError: Where the two measure different things.
    """
    one, other = scale_of(from_unit), scale_of(to_unit)
    if one.dimension != other.dimension:
        raise ValueError(f"{from_unit} and {to_unit} measure different things")
    return value if one.factor == other.factor else value * one.factor / other.factor


def is_time(unit: str) -> bool:
    """Whether a unit is one of time."""
    return unit.casefold() in _SECONDS
