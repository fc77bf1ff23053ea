"""The rules of order: which entry may follow now, and why another may not."""

from collections.abc import Mapping
from typing import Any

from fresh_chair.core.errors import Refused
from fresh_chair.core.sitting.entries.base import BEGUN, Happening
from fresh_chair.core.sitting.journal import CODEC, Content
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Sitting

_KINDS: Mapping[str, Any] = CODEC.kinds
# Marks whose moment can be corrected.
MOVABLE = frozenset(name for name, kind in _KINDS.items() if kind.movable)
# What a second observer may log.
OBSERVABLE = frozenset(name for name, kind in _KINDS.items() if kind.observable)


def permit(sitting: Sitting, content: Content, *, observed: bool = False, on_record: bool = False) -> None:
    """Do nothing where the content may follow now.

    Args:
        sitting: As far as it has come.
        content: What is to follow.
        observed: True where a second observer says it.
        on_record: True for what an observer has logged already: others' entries may have come before it meanwhile, and
            it counts where its key was pressed.

    Raises:
        Refused: Says why it may not.
    """
    phase = sitting.phase
    if observed and content.kind not in OBSERVABLE:
        raise Refused(
            "Only the moderator starts, stops and judges.", "Marks and their words are what an observer logs."
        )
    # An entry that cannot be read is none of these, and never appended.
    if not isinstance(content, Happening) or phase not in (BEGUN if observed and on_record else content.phases):
        raise Refused(_why_not(content.kind, phase))
    reason = content.objection(sitting)
    if reason:
        raise Refused(reason)


def may_follow(kind: str, phase: Phase, *, observed: bool = False) -> bool:
    """Whether an entry of a kind may follow in a phase, as far as the phase alone decides."""
    return phase in _KINDS[kind].phases and (not observed or kind in OBSERVABLE)


def _why_not(kind: str, phase: Phase) -> str:
    named = kind.replace("_", " ")
    if phase is Phase.EMPTY:
        return f"“{named}” cannot come before the sitting has begun."
    if not phase.open:
        return f"“{named}” cannot follow: the sitting is over."
    return f"“{named}” cannot follow now, while the sitting is at “{phase.replace('_', ' ')}”."
