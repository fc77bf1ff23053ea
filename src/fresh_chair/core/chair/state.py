"""A chair's state at one moment: everything a person may have changed, by section and name. Never a file's contents."""

import json
from collections.abc import Mapping
from dataclasses import field

from fresh_chair.core.codec import plain_json
from fresh_chair.core.errors import JournalError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import legible

# The parts of a state, in the order in which drift is told.
SECTIONS = (
    "settings",
    "defaults",
    "autostart",
    "panels",
    "programs",
    "packages",
    "sources",
    "networks",
    "printers",
    "users",
    "home",
)
MOST_KEYS = 200_000
LONGEST_VALUE = 400


@frozen
class State:
    """A chair's state as it was read.

    Attributes:
        sections: Value by name, by section; a section that could not be read is not among them.
        unread: Why, by section.
    """

    sections: Mapping[str, Mapping[str, str]]
    unread: Mapping[str, str] = field(default_factory=dict)

    @property
    def count(self) -> int:
        """How many names it holds."""
        return sum(map(len, self.sections.values()))


def state_text(state: State) -> str:
    """The state as JSON."""
    return json.dumps(
        {"state": 1, "sections": {k: dict(v) for k, v in state.sections.items()}, "unread": dict(state.unread)},
        ensure_ascii=False,
        sort_keys=True,
    )


def state_from(text: str, *, where: str) -> State:
    """The state that a JSON text holds.

    Raises:
        JournalError: Where it holds none that this program knows.
    """
    try:
        raw = plain_json(text)
    except ValueError as problem:
        raise JournalError(f"{where} cannot be read: it is not JSON.") from problem
    if not isinstance(raw, dict) or raw.get("state") != 1:
        raise JournalError(f"{where} cannot be read: it is no state that this program knows.")
    sections, unread = raw.get("sections"), raw.get("unread")
    if not isinstance(sections, dict) or not isinstance(unread, dict):
        raise JournalError(f"{where} cannot be read: a part of it is missing.")
    return State(
        {str(n): {str(k): str(v) for k, v in part.items()} for n, part in sections.items() if isinstance(part, dict)},
        {str(name): legible(str(why)) for name, why in unread.items()},
    )
