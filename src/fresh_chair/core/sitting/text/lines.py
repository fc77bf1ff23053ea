"""A sitting's journal as plain text, a line an entry: `2:31 snag wrong menu`. docs/formats.md describes it.

`typed_lines` reads it, and what one types by hand in the same way; nothing is lost between the two.
"""

import json
from collections.abc import Mapping, Sequence

from fresh_chair.core.clock import SECOND
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.entries.base import Happening
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.sitting.replay import entry_times
from fresh_chair.core.text import legible

HEAD = "# fresh-chair sitting 1"


def lines_of(entries: Sequence[Entry], *, title: str = "") -> str:
    """The whole journal as text."""
    numbers = _Numbers({entry.id: entry.number for entry in entries})
    lines = [HEAD, *([f"# {legible(title)}"] if title else [])]
    observers = {entry.author for entry in entries if isinstance(entry.content, j.ObserverJoined)}
    for entry, at_ns in zip(entries, entry_times(entries), strict=True):
        who = f"@{json.dumps(entry.author, ensure_ascii=False)} " if entry.author in observers else ""
        # One that speaks of an entry which is gone tells nothing any more; it is shown, and not read back.
        gone = "# its entry is gone: " if getattr(entry.content, "entry", None) not in (None, *numbers) else ""
        lines.append(f"{gone}{time_text(at_ns)} {who}{_line(entry, numbers)}")
    return "\n".join(lines) + "\n"


class _Numbers(dict[str, int]):
    """The numbers of entries by id; an entry that speaks of one which is gone speaks of number 0."""

    def __missing__(self, key: str) -> int:
        return 0


def time_text(at_ns: int) -> str:
    """A time since the beginning, to the nanosecond where it has any.

    >>> time_text(151 * SECOND), time_text(3_751 * SECOND + 500_000_000)
    ('2:31', '1:02:31.5')
    """
    seconds, rest = divmod(at_ns, SECOND)
    minutes, seconds = divmod(seconds, 60)
    hours, minutes = divmod(minutes, 60)
    shown = f"{hours}:{minutes:02}:{seconds:02}" if hours else f"{minutes}:{seconds:02}"
    return f"{shown}.{rest:09}".rstrip("0") if rest else shown


def _line(entry: Entry, numbers: Mapping[str, int]) -> str:
    content = entry.content
    return content.line(numbers) if isinstance(content, Happening) else f"entry {j.CODEC.body_of(content)}"
