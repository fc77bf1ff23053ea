"""Readings side by side: over time at one chair, and across chairs only with the differences of their conditions."""

from collections.abc import Iterable, Sequence

from fresh_chair.core.chair.record_time import NOT_KNOWN, When
from fresh_chair.core.chair.records import Reading, evidence_of, number_text, reading_text
from fresh_chair.core.chair.units import converted, scale_of
from fresh_chair.core.clock import SECOND
from fresh_chair.core.evidence.kinds import OWN
from fresh_chair.core.frozen import frozen

# Minutes since boot that differ by less than this factor are the same condition.
_ALIKE_MINUTES = 2.0
# Creep is said where the last reading is this much above the first, and no two fall between.
_CREEP = 1.1
_CONDITIONS = (
    ("open_now", "open besides"),
    ("network", "network"),
    ("power", "power"),
    ("medium", "installed or live"),
    ("method", "method"),
)


@frozen
class Taken:
    """A reading and when it was taken.

    Attributes:
        machine: What it was taken on; empty where that is not known.
        source: The study it was carried over from; such a one stands beside, and in no line or comparison.
    """

    reading: Reading
    when: When
    chair: str
    machine: str = ""
    source: str = ""


@frozen
class Series:
    """Readings of one thing at one chair, oldest first; those whose time is not known last.

    Attributes:
        unit: The unit all its numbers are brought to, which is that of the newest.
        trusted: Those whose numbers count: measured by the reviewer, and not doubted.
    """

    what: str
    unit: str
    taken: tuple[Taken, ...]

    @property
    def trusted(self) -> tuple[Taken, ...]:
        """Readings that may enter a line or a comparison."""
        sound = (t for t in self.taken if not t.source and t.reading.trust != "doubted")
        own = (t for t in sound if evidence_of(t.reading) in OWN)
        return tuple(t for t in own if _is_number(t.reading))

    @property
    def values(self) -> list[float]:
        """The numbers of the trusted ones, in the series' unit."""
        return [value_in(t.reading, self.unit) for t in self.trusted]


def _is_number(reading: Reading) -> bool:
    return reading.precision in ("measured", "share") and reading.low is not None


def value_in(reading: Reading, unit: str) -> float:
    """A reading's number in a unit of the same dimension; a share as a part of one, or in per cent.

    Raises:
        ValueError: Where the reading has no number.
    """
    if reading.low is None:
        raise ValueError("this reading has no number")
    if reading.precision == "share" and reading.of:
        return reading.low / reading.of / scale_of(unit, share=True).factor
    return converted(reading.low, reading.unit, unit)


def series_of(taken: Iterable[Taken]) -> list[Series]:
    """Readings grouped by subject and dimension of unit, each by time; capitals make no difference."""
    groups: dict[tuple[str, str], list[Taken]] = {}
    for each in taken:
        groups.setdefault(kind_of_reading(each.reading), []).append(each)
    found = []
    for parts in groups.values():
        ordered = sorted(parts, key=lambda t: (t.when.clock == NOT_KNOWN, t.when.clock, t.when.ns))
        numbers = [t.reading for t in ordered if _is_number(t.reading)]
        newest = numbers[-1] if numbers else ordered[-1].reading
        unit = "%" if newest.precision == "share" else newest.unit
        found.append(Series(ordered[-1].reading.what, unit, tuple(ordered)))
    return found


def kind_of_reading(reading: Reading) -> tuple[str, str]:
    """The key that readings of the same thing share."""
    what = " ".join(reading.what.casefold().split())
    if reading.precision == "version":
        return what, "version"
    if reading.precision == "felt":
        return what, "felt"
    return what, scale_of(reading.unit, share=reading.precision == "share").dimension


def unlike(taken: Sequence[Taken]) -> list[str]:
    """The conditions in which readings differ, each as a few words; empty where all are known and alike.

    What is not known is not alike, and the machine is a condition.
    """
    readings = [t.reading for t in taken]
    found = []
    minutes = [r.minutes_up for r in readings]
    known = [m for m in minutes if m is not None]
    if len(known) < len(minutes):
        found.append("minutes since boot: not known" + (" for some" if known else ""))
    if known and max(known) > _ALIKE_MINUTES * max(min(known), 1):
        found.append(f"minutes since boot: {', '.join(number_text(round(m)) for m in known)}")
    for name, words in _CONDITIONS:
        values = list(dict.fromkeys(str(getattr(r, name)).strip() or NOT_KNOWN for r in readings))
        if len(values) > 1:
            found.append(f"{words}: {', '.join(values)}")
        elif values == [NOT_KNOWN]:
            found.append(f"{words}: not known")
    machines = list(dict.fromkeys(t.machine or NOT_KNOWN for t in taken))
    if len(machines) > 1 or machines == [NOT_KNOWN]:
        found.append(f"machine: {', '.join(machines)}")
    return found


def creep(series: Series) -> str:
    """Whether a figure grows with time, in a sentence; empty where too little is known to say anything."""
    trusted, values = series.trusted, series.values
    if len(values) < 2:
        return ""
    unit = f" {series.unit}" if series.unit else ""
    differing = unlike(trusted)
    under = f"; conditions: {'; '.join(differing)}" if differing else ""
    span = _span([t.when for t in trusted])
    if not span:
        low, high = number_text(min(values)), number_text(max(values))
        return f"between {low} and {high}{unit}; when they were read is not known of all{under}"
    change = values[-1] - values[0]
    if len(values) >= 3 and values == sorted(values) and values[0] > 0 and values[-1] >= _CREEP * values[0]:
        return f"grew at every reading, by {number_text(round(change, 2))}{unit} in {span}{under}"
    if len(values) == 2:
        return f"two readings, {number_text(round(change, 2))}{unit} apart in {span}; too few for a line{under}"
    return f"between {number_text(min(values))} and {number_text(max(values))}{unit} in {span}{under}"


def _span(when: Sequence[When]) -> str:
    """From the first moment to the last, in words; empty where they are not on one line of time."""
    if {w.clock for w in when} not in ({"wall"}, {"recording"}):
        return ""
    hours = (when[-1].ns - when[0].ns) / SECOND / 3600
    return f"{hours:.0f} h" if hours >= 2 else f"{hours * 60:.0f} min"


def across(series: Iterable[Series]) -> str:
    """The newest readings of one thing at several chairs, in a sentence that names the unlike conditions."""
    listed = list(series)
    by_chair: dict[str, Taken] = {}
    for each in listed:
        numbers = each.trusted or tuple(t for t in each.taken if t.reading.trust != "doubted" and not t.source)
        for taken in numbers[-1:]:
            before = by_chair.get(taken.chair)
            if before is None or (_is_number(taken.reading) and not _is_number(before.reading)):
                by_chair[taken.chair] = taken
    newest = list(by_chair.values())
    if len(newest) < 2:
        return "read at one chair only; nothing to compare"
    figures = ", ".join(f"{t.chair} {reading_text(t.reading)}" for t in newest)
    if any(t.reading.precision == "version" for t in newest):
        same = len({t.reading.version for t in newest}) == 1
        return f"{figures}: {'the same version' if same else 'different versions'}"
    if not all(_is_number(t.reading) for t in newest):
        return f"{figures}: not all of them numbers, so each stands for itself"
    differing = unlike(newest)
    if differing:
        return f"{figures}: not to be compared; conditions differ or are not known ({'; '.join(differing)})"
    return f"{figures}: under like conditions, one reading each"
