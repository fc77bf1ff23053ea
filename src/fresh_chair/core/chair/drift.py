"""Drift: the differences from the baseline now, without names that move by themselves."""

from collections.abc import Collection, Iterable
from dataclasses import field

from fresh_chair.core.chair.freshness import Freshness
from fresh_chair.core.chair.state import SECTIONS, State
from fresh_chair.core.frozen import frozen


@frozen
class StateDifference:
    """One name that is not as it was.

    Attributes:
        before: What it was; None where it was not there.
        now: What it is; None where it is gone.
    """

    section: str
    key: str
    before: str | None
    now: str | None

    @property
    def name(self) -> str:
        """Section and name, as noise is called by."""
        return f"{self.section}:{self.key}"


@frozen
class Drift:
    """The differences from a baseline.

    Attributes:
        hidden: Differences that were left out, because they move by themselves.
        unread: Sections that could not be compared, and why.
        compared: How many names were compared.
    """

    differences: tuple[StateDifference, ...]
    hidden: tuple[StateDifference, ...] = ()
    unread: dict[str, str] = field(default_factory=dict)
    compared: int = 0

    @property
    def freshness(self) -> Freshness:
        """Fresh where something was compared and nothing differs; a chair that cannot be read is not checked."""
        if self.differences:
            return "not fresh"
        return "fresh" if self.compared else "not checked"


class Noise:
    """Names that move by themselves; one that ends with * stands for all that begin so."""

    def __init__(self, names: Iterable[str] = ()) -> None:
        listed = list(names)
        self._whole = frozenset(name for name in listed if not name.endswith("*"))
        self._begins = tuple(name[:-1] for name in listed if name.endswith("*"))

    def __contains__(self, name: object) -> bool:
        return isinstance(name, str) and (name in self._whole or bool(self._begins and name.startswith(self._begins)))


def differences(before: State, now: State) -> list[StateDifference]:
    """Everything that differs in the sections that both hold, section by section, by name."""
    found = []
    for section in ordered(before.sections.keys() & now.sections.keys()):
        was, has = before.sections[section], now.sections[section]
        if was == has:
            continue
        found += [
            StateDifference(section, key, was.get(key), has.get(key))
            for key in sorted(was.keys() | has.keys())
            if was.get(key) != has.get(key)
        ]
    return found


def drift_of(baseline: State, now: State, noise: Iterable[str] = ()) -> Drift:
    """The differences of a state from the baseline.

    Args:
        baseline: What the chair looked like when it was fresh.
        now: What it looks like now.
        noise: Names that move by themselves.
    """
    left_out = Noise(noise)
    shown: list[StateDifference] = []
    hidden: list[StateDifference] = []
    for each in differences(baseline, now):
        (hidden if each.name in left_out else shown).append(each)
    unread = {**baseline.unread, **now.unread}
    for section in baseline.sections.keys() ^ now.sections.keys():
        unread.setdefault(section, "was read only one of the two times")
    both = baseline.sections.keys() & now.sections.keys()
    compared = sum(len(baseline.sections[s].keys() | now.sections[s].keys()) for s in both)
    return Drift(tuple(shown), tuple(hidden), {name: unread[name] for name in ordered(unread)}, compared)


def noise_between(first: State, second: State) -> list[str]:
    """Names that moved between two baselines of an untouched chair."""
    return [each.name for each in differences(first, second)]


def ordered(sections: Collection[str]) -> list[str]:
    """Sections in the order in which drift is told."""
    return sorted(sections, key=lambda name: (SECTIONS.index(name) if name in SECTIONS else len(SECTIONS), name))
