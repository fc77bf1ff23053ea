"""A sitting taken by another station: the marks of this one go on as a sitting of their own, beside it."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace
from hashlib import sha256
from types import MappingProxyType
from typing import TYPE_CHECKING

from fresh_chair.core.codec import Unreadable
from fresh_chair.core.sitting import journal as j

if TYPE_CHECKING:
    from fresh_chair.core.sitting.journal import Entry
    from fresh_chair.store.stations import StationLink

# An id as it stands in a stored entry: a string by itself.
_WORD = re.compile(r'"([^"\\]+)"')
NO_NAMES: Mapping[str, str] = MappingProxyType({})


def copy_beside(link: StationLink, sitting: int, beside: int, *, first: Entry, after: str) -> Mapping[str, str]:
    """Copy the entries before a certain one into the sitting beside, under ids that follow from those they had.

    It can be said again: nothing is doubled.

    Args:
        link: The way to the server.
        sitting: The sitting that another station moderates.
        beside: The one of this station, which is new.
        first: The first of the entries that go there.
        after: The id of the entry before it; empty where it is the sitting's beginning.

    Returns:
        The ids of the copies, by those of the entries.

    Raises:
        FileProblem, NotSaved: Where the server cannot be asked, or refuses.
    """
    if not after:
        return NO_NAMES
    there = link.outgoing.since(sitting, 0)
    last = next((entry.number for entry in there if entry.id == after), first.number - 1)
    observers = {entry.author for entry in there if isinstance(entry.content, j.ObserverJoined)}
    before = [
        entry
        for entry in there
        if entry.number <= last and entry.author not in observers and not isinstance(entry.content, Unreadable)
    ]
    names = {entry.id: sha256(f"{entry.id} {beside}".encode()).hexdigest()[:16] for entry in before}
    copies = [replace(renamed(entry, names), id=names[entry.id]) for entry in before]
    link.outgoing.add(beside, copies, turn=link.turn_at(beside))
    return names


def renamed(entry: Entry, names: Mapping[str, str]) -> Entry:
    """An entry whose references are to the copies of other entries. Raises InputError where that cannot be kept."""
    if not names:
        return entry
    body = j.CODEC.body_of(entry.content)
    told = _WORD.sub(lambda found: f'"{names.get(found[1], found[1])}"', body)
    if told == body:
        return entry
    return replace(entry, content=j.CODEC.content_from(told, version=j.CODEC.version, where="It"))


def all_renamed(entries: Sequence[Entry], names: Mapping[str, str]) -> list[Entry]:
    """As `renamed`, of several."""
    return [renamed(entry, names) for entry in entries]
