"""Successions of releases of the open study, each with the life lines of its things."""

from fresh_chair.core.evidence.succession import LifeLine, chair_of, life_lines, successions
from fresh_chair.core.evidence.targets import target_parts
from fresh_chair.core.frozen import frozen
from fresh_chair.services.evidence.targets import target_words
from fresh_chair.services.study.snapshot import StudyReading


@frozen
class Release:
    """One release of a succession: a chair, or a reference without sittings.

    Attributes:
        letter: The chair's letter; empty for a reference.
    """

    target: str
    title: str
    letter: str


@frozen
class Succession:
    """Releases one after another, oldest first, and the life lines of things along them."""

    releases: tuple[Release, ...]
    lines: tuple[LifeLine, ...]


def successions_of(opened: StudyReading) -> list[Succession]:
    """The successions of a study, in the order they were put down."""
    state = opened.evidence.state
    homes = _homes(opened)
    found = []
    for names in successions(state):
        lines = life_lines(state, names, lambda target: chair_of(target) or homes.get(target, ""))
        found.append(Succession(tuple(_release(opened, name) for name in names), tuple(lines)))
    return found


def chair_groups(opened: StudyReading) -> list[tuple[str, ...]]:
    """Letters of the chairs: those of one succession together, oldest first; each other one by itself."""
    letters = opened.study.chair_by_letter
    groups: list[tuple[str, ...]] = []
    for names in successions(opened.evidence.state):
        parts = [target_parts(name) for name in names]
        group = tuple(name for sort, name in parts if sort == "chair" and name in letters)
        if group:
            groups.append(group)
    seen = {letter for group in groups for letter in group}
    return [*groups, *((letter,) for letter in letters if letter not in seen)]


def _release(opened: StudyReading, target: str) -> Release:
    sort, name = target_parts(target)
    chair = opened.study.chair_by_letter.get(name) if sort == "chair" else None
    if chair is not None:
        return Release(target, chair.title, chair.letter)
    held = opened.evidence.state.find("reference", name) if sort == "reference" else None
    title = getattr(held.record, "name", "") if held is not None else ""
    return Release(target, title or target_words(opened, target), "")


def _homes(opened: StudyReading) -> dict[str, str]:
    """The chair of each mark, step, attempt and sitting, as a target."""
    found = {}
    for number, sitting in opened.sittings.items():
        chair = f"chair:{opened.study.seat(number).chair}"
        found[f"sitting:{number}"] = chair
        found |= {f"attempt:{number}/{attempt.number}": chair for attempt in sitting.tried}
        found |= {f"mark:{remark.entry}": chair for remark in sitting.remarks.values()}
        if sitting.walk is not None:
            found |= {f"step:{step.entry}": chair for step in sitting.walk.steps}
    return found
