"""Readings side by side: over time at one chair, and across chairs only with what differed in their conditions."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from fresh_chair.core.clock import SECOND
from fresh_chair.core.witness.records import Reading, number_text, reading_text

# Minutes since boot that differ by less than this factor are the same condition.
_ALIKE_MINUTES = 2.0
# Creep is said where the last reading is this much above the first, and no two fall between.
_CREEP = 1.1


@dataclass(frozen=True, slots=True)
class Taken:
    """A reading and when it was taken."""

    reading: Reading
    wall_ns: int
    chair: str


@dataclass(frozen=True, slots=True)
class Series:
    """Readings of one thing at one chair, oldest first.

    Attributes:
        trusted: Those whose numbers count: measured, and not doubted.
    """

    what: str
    unit: str
    taken: tuple[Taken, ...]

    @property
    def trusted(self) -> tuple[Taken, ...]:
        """Readings that may enter a line or a comparison."""
        return tuple(t for t in self.taken if t.reading.trust != "doubted" and t.reading.precision == "measured")

    @property
    def values(self) -> list[float]:
        """The numbers of the trusted ones."""
        return [t.reading.low for t in self.trusted if t.reading.low is not None]


def series_of(taken: Iterable[Taken]) -> list[Series]:
    """Readings by what was measured and its unit, each by time."""
    groups: dict[tuple[str, str], list[Taken]] = {}
    for each in taken:
        groups.setdefault((each.reading.what, each.reading.unit), []).append(each)
    return [Series(what, unit, tuple(sorted(parts, key=lambda t: t.wall_ns))) for (what, unit), parts in groups.items()]


def unlike(readings: Sequence[Reading]) -> list[str]:
    """What differs in the conditions of several readings, each as a few words; empty where nothing is known to."""
    found = []
    minutes = [r.minutes_up for r in readings if r.minutes_up is not None]
    if minutes and max(minutes) > _ALIKE_MINUTES * max(min(minutes), 1):
        found.append(f"minutes since boot: {', '.join(number_text(round(m)) for m in minutes)}")
    for name, words in (
        ("open_now", "open besides"),
        ("network", "network"),
        ("power", "power"),
        ("medium", "installed or live"),
        ("method", "method"),
    ):
        values = list(dict.fromkeys(str(getattr(r, name)) for r in readings))
        if len(values) > 1:
            found.append(f"{words}: {', '.join(value or 'nothing' for value in values)}")
    unknown = sum(r.minutes_up is None for r in readings)
    if unknown and minutes:
        found.append("minutes since boot: not known for some")
    return found


def creep(series: Series) -> str:
    """Whether a figure grows with time, in a sentence; empty where too little is known to say anything."""
    trusted, values = series.trusted, series.values
    if len(values) < 2:
        return ""
    hours = (trusted[-1].wall_ns - trusted[0].wall_ns) / SECOND / 3600
    span = f"{hours:.0f} h" if hours >= 2 else f"{hours * 60:.0f} min"
    unit = f" {series.unit}" if series.unit else ""
    change = values[-1] - values[0]
    differing = unlike([t.reading for t in trusted])
    under = f"; conditions differed: {'; '.join(differing)}" if differing else ""
    if len(values) >= 3 and values == sorted(values) and values[0] > 0 and values[-1] >= _CREEP * values[0]:
        return f"grew at every reading, by {number_text(round(change, 2))}{unit} in {span}{under}"
    if len(values) == 2:
        return f"two readings, {number_text(round(change, 2))}{unit} apart in {span}; too few for a line{under}"
    return f"between {number_text(min(values))} and {number_text(max(values))}{unit} in {span}{under}"


def across(series: Iterable[Series]) -> str:
    """The newest trusted readings of one thing at several chairs, in a sentence that says what differed."""
    newest = [s.trusted[-1] for s in series if s.trusted]
    if len(newest) < 2:
        return "read at one chair only; nothing to compare"
    figures = ", ".join(f"{t.chair} {reading_text(t.reading)}" for t in newest)
    differing = unlike([t.reading for t in newest])
    if differing:
        return f"{figures}: not to be compared, conditions differ ({'; '.join(differing)})"
    return f"{figures}: under like conditions, one reading each"
