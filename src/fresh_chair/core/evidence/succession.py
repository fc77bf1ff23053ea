"""Releases in succession, and the life line of each thing along them: came, went, changed, better, worse."""

from collections.abc import Callable, Iterator
from typing import Literal

from fresh_chair.core.evidence.ledger import EvidenceState
from fresh_chair.core.evidence.records import Against, InventoryItem, Reference, ReleaseChange
from fresh_chair.core.evidence.targets import target_parts
from fresh_chair.core.frozen import frozen

EARLIER = "earlier release of"
Sign = Literal["", "came", "went", "changed", "better", "worse", "as it was"]
_SIGN_OF: dict[str, Sign] = {
    "added": "came",
    "removed": "went",
    "new here": "came",
    "back again": "came",
    "gone": "went",
    "better": "better",
    "worse": "worse",
    "as it was": "as it was",
}


@frozen
class LifeCell:
    """One thing in one release.

    Attributes:
        there: Whether it is there; None where that is not known.
        sign: What happened to it with this release.
        words: That in words.
    """

    there: bool | None = None
    sign: Sign = ""
    words: str = ""


@frozen
class LifeLine:
    """One thing along a succession.

    Attributes:
        cells: One a release, oldest first.
        to_come: What is still to come of it, and with what; empty where nothing is.
        records: The records it is drawn from, as targets.
    """

    what: str
    cells: tuple[LifeCell, ...]
    to_come: str
    records: tuple[str, ...]


@frozen
class _Event:
    key: str
    what: str
    release: int
    sign: Sign
    words: str
    record: str
    there: bool | None = None


def successions(state: EvidenceState) -> list[tuple[str, ...]]:
    """The successions of releases, each as targets of chairs and references, oldest first.

    Releases in a circle follow in the order they were named in; `release_circles` says which.
    """
    after, order = _edges(state)
    group = {name: name for name in order}

    def head(name: str) -> str:
        while group[name] != name:
            name = group[name]
        return name

    for earlier, later in after:
        group[head(later)] = head(earlier)
    members: dict[str, list[str]] = {}
    for name in order:
        members.setdefault(head(name), []).append(name)
    return [_ordered(names, after)[0] for names in members.values()]


def release_circles(state: EvidenceState) -> list[tuple[str, ...]]:
    """Releases that are said to be earlier than themselves, by way of others."""
    after, order = _edges(state)
    rest = _ordered(order, after)[1]
    return [rest] if rest else []


def _edges(state: EvidenceState) -> tuple[list[tuple[str, str]], list[str]]:
    """Pairs of an earlier and a later release, and all that are in one, in the order they came in."""
    after: list[tuple[str, str]] = []
    for held in state.held("reference"):
        if isinstance(held.record, Reference) and held.record.earlier_of:
            after.append((f"reference:{held.record.id}", held.record.earlier_of))
    after += [(link.first, link.second) for link in state.links() if link.relation == EARLIER]
    order = list(dict.fromkeys(name for pair in after for name in pair))
    return [pair for pair in after if pair[0] != pair[1]], order


def _ordered(names: list[str], after: list[tuple[str, str]]) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Names with every earlier one before its later ones; and those that are in a circle or behind one."""
    found: list[str] = []
    left = list(names)
    while left:
        free = [name for name in left if not any(b == name and a in left for a, b in after)]
        if not free:
            return (*found, *left), tuple(left)
        found += free
        left = [name for name in left if name not in free]
    return tuple(found), ()


def life_lines(state: EvidenceState, releases: tuple[str, ...], release_of: Callable[[str], str]) -> list[LifeLine]:
    """The things of which anything is on record along a succession, in the order they came in.

    Args:
        state: The evidence of the study.
        releases: The succession, oldest first.
        release_of: The chair or reference that a thing belongs to, as a target; empty for none.
    """
    at = {name: index for index, name in enumerate(releases)}
    events = [*_of_changes(state, at), *_of_comparisons(state, at, release_of), *_of_inventory(state, at)]
    by_thing: dict[str, list[_Event]] = {}
    for event in events:
        by_thing.setdefault(event.key, []).append(event)
    waiting = _to_come(state, at)
    names = {key: listed[0].what for key, listed in by_thing.items()}
    names |= {_key(what): what for what, _, _ in waiting if _key(what) not in names}
    found = []
    for key, what in names.items():
        listed = by_thing.get(key, [])
        coming = [(words, record) for each, words, record in waiting if _key(each) == key]
        records = tuple(dict.fromkeys([*(event.record for event in listed), *(record for _, record in coming)]))
        cells = _cells(listed, len(releases))
        found.append(LifeLine(what, cells, "; ".join(words for words, _ in coming), records))
    return found


def _of_changes(state: EvidenceState, at: dict[str, int]) -> Iterator[_Event]:
    for held in state.held("change"):
        change = held.record
        if not isinstance(change, ReleaseChange) or change.comes or _release_of(change) not in at:
            continue
        parts = f"{change.was} → {change.now}" if change.was and change.now else change.was or change.now
        words = f"{change.sort}: {parts}" if parts else change.sort
        announced = " (announced)" if change.known == "announced" else ""
        yield _Event(
            _key(change.what),
            change.what,
            at[_release_of(change)],
            _SIGN_OF.get(change.sort, "changed"),
            words + announced,
            f"change:{change.id}",
        )


def _of_comparisons(state: EvidenceState, at: dict[str, int], release_of: Callable[[str], str]) -> Iterator[_Event]:
    for held in state.held("against"):
        against = held.record
        if not isinstance(against, Against):
            continue
        here, than = at.get(release_of(against.of)), at.get(against.than)
        if here is None or than is None or than >= here or against.says == "cannot say":
            continue
        sign = _SIGN_OF.get(against.says, "changed")
        what = against.words or against.of
        yield _Event(_key(what), what, here, sign, against.says, f"against:{against.id}")


def _of_inventory(state: EvidenceState, at: dict[str, int]) -> Iterator[_Event]:
    """The item for each purpose that was looked for in two or more of the releases."""
    by_purpose: dict[str, dict[int, InventoryItem]] = {}
    for held in state.held("inventory"):
        item = held.record
        if isinstance(item, InventoryItem) and item.presence != "not looked for" and f"chair:{item.chair}" in at:
            by_purpose.setdefault(_key(item.purpose), {})[at[f"chair:{item.chair}"]] = item
    for key, items in by_purpose.items():
        if len(items) < 2:
            continue
        before: InventoryItem | None = None
        for index, item in sorted(items.items()):
            there = item.presence == "there"
            name = f"{item.shown} {item.version}".strip() or item.presence
            yield _Event(key, item.purpose, index, _turn(before, item), name, f"inventory:{item.id}", there)
            before = item


def _turn(before: InventoryItem | None, item: InventoryItem) -> Sign:
    if before is None:
        return ""
    was, there = before.presence == "there", item.presence == "there"
    if was != there:
        return "came" if there else "went"
    return "changed" if (before.shown, before.version) != (item.shown, item.version) else ""


def _to_come(state: EvidenceState, at: dict[str, int]) -> list[tuple[str, str, str]]:
    """Changes still to come at a release: the thing, its way and time, and the record."""
    found = []
    for held in state.held("change"):
        change = held.record
        if isinstance(change, ReleaseChange) and change.comes and _release_of(change) in at:
            found.append((change.what, f"{change.sort}, {change.comes}", f"change:{change.id}"))
    return found


def _cells(events: list[_Event], count: int) -> tuple[LifeCell, ...]:
    """One cell a release: the event there, and whether the thing is there before and after, as far as that follows."""
    cells = [LifeCell()] * count
    there: list[bool | None] = [None] * count
    for event in events:
        index = event.release
        before = cells[index]
        words = "; ".join(part for part in (before.words, event.words) if part)
        cells[index] = LifeCell(None, before.sign or event.sign, words)
        there[index] = event.sign != "went" if event.there is None else event.there
    # What came was not there before, what went was; anything else goes on as it was.
    for index in range(count - 2, -1, -1):
        if there[index] is None and there[index + 1] is not None:
            sign = cells[index + 1].sign
            there[index] = False if sign == "came" else True if sign == "went" else there[index + 1]
    for index in range(1, count):
        if there[index] is None:
            there[index] = there[index - 1]
    return tuple(LifeCell(stands, cell.sign, cell.words) for stands, cell in zip(there, cells, strict=True))


def _release_of(change: ReleaseChange) -> str:
    return f"chair:{change.chair}" if change.chair else change.release


def _key(what: str) -> str:
    return " ".join(what.casefold().split())


def chair_of(target: str) -> str:
    """The chair that a target names by itself, as a target; empty where it does not.

    >>> chair_of("record:A/claim/4f2a")
    'chair:A'
    """
    sort, name = target_parts(target)
    if sort in ("chair", "reference"):
        return target
    return f"chair:{name.partition('/')[0]}" if sort in ("record", "alteration") else ""
