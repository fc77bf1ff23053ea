"""Targets: the things that evidence can speak of, each named by its sort and its id, as `mark:4f2a...`, `chair:B`."""

import re
from typing import Annotated, Literal, get_args

from fresh_chair.core.bounds import MaxLen
from fresh_chair.core.text import clipped, legible

Sort = Literal[
    "mark", "step", "attempt", "sitting", "record", "chair", "card", "fault", "alteration", "finding", "hunch",
    "reference", "change", "inventory", "against", "forecast", "later", "advice", "disclosure", "link",
    "verdict", "criterion", "score", "answer", "paragraph", "choice", "reply", "final",
    "cause", "trial", "workaround", "excuse",
]  # fmt: skip
SORTS: tuple[Sort, ...] = get_args(Sort)
Target = Annotated[str, MaxLen(160)]
_TARGET = re.compile(rf"({'|'.join(SORTS)}):([^\s:][^\s]{{0,140}})")


def require_target(what: str, text: str, *, needed: bool = False) -> None:
    """Do nothing where a text is a target, or empty where none is needed. Raises ValueError for all others."""
    if (text or needed) and not _TARGET.fullmatch(text):
        shown = legible(clipped(text, 40))
        raise ValueError(f"{what} is the sort and the id of a thing, such as chair:B or mark:4f2a, not {shown!r}")


def target_parts(target: str) -> tuple[str, str]:
    """Sort and id of a target; both empty for none.

    >>> target_parts("record:A/claim/4f2a")
    ('record', 'A/claim/4f2a')
    """
    match = _TARGET.fullmatch(target)
    return ("", "") if match is None else (match[1], match[2])
