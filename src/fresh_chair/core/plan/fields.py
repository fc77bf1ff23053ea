"""Notes on fields that several parts of a plan share.

Plain dataclasses with notes on their fields: Pydantic reads them where a written plan is checked, the codec where a
study file is, so that the start of the program need not load Pydantic.
"""

import re
from collections.abc import Iterable
from datetime import date, time
from typing import Annotated

from fresh_chair.core.bounds import Ge, Gt, Le, MaxLen, MinLen
from fresh_chair.core.text import clipped, legible

Words = Annotated[str, MaxLen(4000)]
Line = Annotated[str, MinLen(1), MaxLen(200)]
Spoken = Annotated[str, MinLen(1), MaxLen(1000)]
Count = Annotated[int, Ge(1)]
Seconds = Annotated[float, Gt(0)]
Limit = Annotated[int, Ge(1), Le(24 * 3600)]
NAME_PATTERN = re.compile(r"[a-z0-9]+(-[a-z0-9]+)*")
FORBID = {"extra": "forbid"}


def require_name(what: str, name: str) -> None:
    """Do nothing where a name is small letters, digits and hyphens. Raises ValueError for all others."""
    if not NAME_PATTERN.fullmatch(name) or len(name) > 40:
        shown = legible(clipped(name, 41))
        raise ValueError(f"{what} is 1 to 40 small letters, digits and hyphens, not {shown!r}")


def require_date(what: str, text: str) -> None:
    """Do nothing where a text is empty or a date. Raises ValueError for all others."""
    if not text:
        return
    try:
        date.fromisoformat(text)
    except ValueError:
        raise ValueError(f"{what} is a date such as 2026-11-09, not {legible(clipped(text, 24))!r}") from None


def require_time(what: str, text: str) -> None:
    """Do nothing where a text is a time of day. Raises ValueError for all others."""
    try:
        if re.fullmatch(r"\d\d:\d\d", text) is None:
            raise ValueError
        time.fromisoformat(text)
    except ValueError:
        raise ValueError(f"{what} is a time such as 09:30, not {legible(clipped(text, 12))!r}") from None


def repeated(what: str, names: Iterable[str]) -> list[str]:
    """A sentence for each name that stands there twice."""
    seen: set[str] = set()
    twice: dict[str, None] = {}
    for name in names:
        if name in seen:
            twice[name] = None
        seen.add(name)
    return [f"the {what} {legible(name)} is listed twice" for name in twice]
