"""Marks of several observers of one sitting side by side: the same mark is of one kind, at nearly the same time."""

from collections.abc import Sequence

from fresh_chair.core.frozen import frozen


@frozen
class SeenMark:
    """A mark as one observer made it.

    Attributes:
        seconds: Since the sitting began.
        observer: Who made it.
    """

    kind: str
    seconds: float
    observer: str
    entry: str
    words: str = ""


def matched(marks: Sequence[SeenMark], *, window_seconds: float) -> list[tuple[SeenMark, ...]]:
    """Marks that are one, together, in the order of time; at most one of each observer.

    Pairs of one kind that are nearest in time are matched first, so that a mark between two others is taken for the
    nearer one.

    Args:
        marks: Those of all observers.
        window_seconds: How far apart two marks of one thing may be.
    """
    groups: dict[str, tuple[SeenMark, ...]] = {mark.entry: (mark,) for mark in marks}
    pairs = [
        (abs(a.seconds - b.seconds), a.seconds, a.entry, b.entry)
        for index, a in enumerate(marks)
        for b in marks[index + 1 :]
        if a.kind == b.kind and a.observer != b.observer and abs(a.seconds - b.seconds) <= window_seconds
    ]
    for _, _, a, b in sorted(pairs):
        one, other = groups[a], groups[b]
        if {each.observer for each in one} & {each.observer for each in other}:
            continue
        joined = tuple(sorted((*one, *other), key=lambda each: each.seconds))
        groups |= {each.entry: joined for each in joined}
    unique = {id(group): group for group in groups.values()}
    return sorted(unique.values(), key=lambda group: (group[0].seconds, group[0].entry))
