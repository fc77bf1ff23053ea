"""When something put on record was so: by the clock, in a recording, or not known."""

import re
from datetime import datetime

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped, legible

NOT_KNOWN = "not known"
_RECORDING = re.compile(r"(?:(?:(\d{1,2}):)?(\d{1,3}):)(\d{2}(?:\.\d{1,3})?)")


@frozen
class When:
    """A moment of one of two lines of time that are never held against each other.

    Attributes:
        clock: wall, recording, or not known.
        ns: Nanoseconds since 1970 UTC, or since the recording's beginning; 0 where not known.
    """

    clock: str
    ns: int = 0


def require_at(text: str) -> None:
    """Do nothing where a text says when, or nothing. Raises ValueError for all others."""
    when_of(text, 0)


def when_of(at: str, typed_wall_ns: int) -> When:
    """When something was so.

    Args:
        at: A day and time such as 2026-11-09T10:00, a time of the recording such as 2:31, `not known`; empty for the
            moment at which it was put down.
        typed_wall_ns: That moment.

    Raises:
        ValueError: Where it is none of these.
    """
    text = at.strip()
    if not text:
        return When("wall", typed_wall_ns)
    if text.casefold() == NOT_KNOWN:
        return When(NOT_KNOWN)
    match = _RECORDING.fullmatch(text)
    if match is not None:
        hours, minutes, seconds = match.groups()
        return When("recording", round((int(hours or 0) * 3600 + int(minutes) * 60 + float(seconds)) * SECOND))
    try:
        moment = datetime.fromisoformat(text)
        if 1980 <= moment.year <= 2200:
            return When("wall", round(moment.timestamp() * SECOND))
    except (ValueError, OverflowError):
        pass
    shown = legible(clipped(text, 30))
    raise ValueError(f"when is 2026-11-09T10:00, 2:31 of the recording, or not known; not “{shown}”")


def when_text(when: When) -> str:
    """A moment as it is read, short."""
    if when.clock == "recording":
        return f"{clock_text(when.ns)} rec."
    if when.clock == NOT_KNOWN:
        return NOT_KNOWN
    return datetime.fromtimestamp(when.ns / SECOND).strftime("%Y-%m-%d %H:%M")
