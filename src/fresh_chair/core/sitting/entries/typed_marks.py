"""The words typed after a mark: `-10 !3 wrong menu` moves it ten seconds back, rates it 3 of 4, and words it."""

import re

from fresh_chair.core.frozen import frozen

_LEAD = re.compile(r"\s*(?:-(?P<back>\d{1,4})|!(?P<severity>[0-4]))(?=\s|$)")


@frozen
class TypedMark:
    """The parts of a typed line.

    Attributes:
        seconds_earlier: How far the mark is moved back; 0 for not at all.
        severity: 0 to 4; None where none was typed.
    """

    words: str
    seconds_earlier: int = 0
    severity: int | None = None


def read_typed(text: str) -> TypedMark:
    """The parts of a line.

    >>> read_typed("-10 !3 wrong menu")
    TypedMark(words='wrong menu', seconds_earlier=10, severity=3)
    """
    back, severity, at = 0, None, 0
    while match := _LEAD.match(text, at):
        at = match.end()
        if match["back"]:
            back = min(int(match["back"]), 3600)
        else:
            severity = int(match["severity"])
    return TypedMark(text[at:].strip(), back, severity)
