"""Kinds of evidence, which stay apart wherever something is compared or told; and the sides of a remark."""

from typing import Literal, get_args

Evidence = Literal[
    "done", "seen", "measured", "shown by others", "read about", "heard", "remembered", "expected"
]  # fmt: skip
KINDS: tuple[Evidence, ...] = get_args(Evidence)
# What was said of a record; empty for the usual of its kind.
Said = Literal["", Evidence]
# The reviewer's own; the others are borrowed.
OWN: frozenset[Evidence] = frozenset({"done", "seen", "measured"})
IN_A_WALK: Evidence = "done"
BESIDE_A_NEWCOMER: Evidence = "seen"
# What a remark is besides its kind.
Side = Literal["plain", "praise and blame", "taste", "habit", "intent"]
SIDES: tuple[Side, ...] = get_args(Side)
