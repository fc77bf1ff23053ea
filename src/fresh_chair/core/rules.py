"""Which entry may follow now, and why another may not."""

from collections.abc import Callable
from typing import Any

from fresh_chair.core import journal as j
from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import Refused
from fresh_chair.core.sitting import Phase, Sitting


def permit(sitting: Sitting, content: j.Content) -> None:
    """Do nothing where the content may follow now.

    Raises:
        Refused: Says why it may not.
    """
    phase = sitting.phase
    allowed = _ALLOWED[content.kind]
    if phase not in allowed:
        raise Refused(_why_not(content.kind, phase))
    reason = _REFUSALS.get(content.kind, _no_objection)(sitting, content)
    if reason:
        raise Refused(reason)


# Marks whose moment can be corrected; lanes are not among them, since others' time hangs on them.
MOVABLE = ("helped", "wrong_place", "said_done", "marked", "step_reached", "place_visited", *j.WORDABLE)
_OPEN = frozenset(phase for phase in Phase if phase.open)
_RUNNING = frozenset({Phase.RUNNING})
_ALLOWED: dict[str, frozenset[Phase]] = {
    "sitting_began": frozenset({Phase.EMPTY}),
    "chair_found": _OPEN,
    "attempt_started": frozenset({Phase.READING}),
    "card_passed": frozenset({Phase.READING}),
    **dict.fromkeys(
        (
            *("wait_began", "wait_told", "wait_ended", "aside_began", "aside_ended", "helped", "wrong_place"),
            *("said_done", "marked", "step_reached", "place_visited"),
        ),
        _RUNNING,
    ),
    **dict.fromkeys((*j.WORDABLE, "outcome_told"), _OPEN),
    # Corrections come at any time, be it days after.
    **dict.fromkeys(
        ("help_told", "snag_rated", "mark_moved", "added_late", "outcome_corrected"), frozenset(Phase) - {Phase.EMPTY}
    ),
    # The chair answers when it answers, be the sitting over by then.
    "chair_witnessed": frozenset(Phase) - {Phase.EMPTY},
    "worded": frozenset(Phase) - {Phase.EMPTY},
    "attempt_stopped": _RUNNING,
    "outcome_judged": frozenset({Phase.JUDGING}),
    "ease_rated": frozenset({Phase.EASE}),
    "usability_answered": frozenset({Phase.USABILITY, Phase.CLOSING}),
    "usability_declined": frozenset({Phase.USABILITY}),
    "sitting_ended": frozenset({Phase.CLOSING, Phase.USABILITY}),
    "sitting_broken_off": _OPEN - {Phase.RUNNING, Phase.JUDGING},
    "sitting_resumed": _OPEN,
    "struck": frozenset(Phase) - {Phase.EMPTY},
}


def _why_not(kind: str, phase: Phase) -> str:
    what = kind.replace("_", " ")
    if phase is Phase.EMPTY:
        return f"“{what}” cannot come before the sitting has begun."
    if not phase.open:
        return f"“{what}” cannot follow: the sitting is over."
    return f"“{what}” cannot follow now, while the sitting is at “{phase.replace('_', ' ')}”."


def _no_objection(_: Sitting, __: Any) -> str:
    return ""


def _card_objection(sitting: Sitting, content: j.AttemptStarted | j.CardPassed) -> str:
    return "" if content.card == sitting.card else f"The card in hand is {sitting.card}, not {content.card}."


def _lane_objection(sitting: Sitting, content: j.Content) -> str:
    attempt = sitting.attempts[-1]
    state = {
        "wait_began": not attempt.waiting,
        "wait_ended": attempt.waiting,
        "aside_began": not attempt.set_aside,
        "aside_ended": attempt.set_aside,
    }
    return "" if state[content.kind] else f"“{content.kind.replace('_', ' ')}” twice in a row."


def _worded_objection(sitting: Sitting, content: j.Worded) -> str:
    return "" if content.entry in sitting.remarks else "There is no snag, delight or note that these words belong to."


def _wait_told_objection(sitting: Sitting, _: j.WaitTold) -> str:
    return "" if sitting.attempts[-1].waiting else "Nothing is being waited for."


def _help_objection(sitting: Sitting, content: j.HelpTold) -> str:
    known = any(content.entry in attempt.helps for attempt in sitting.attempts)
    return "" if known else "There is no help that this tells of."


def _snag_objection(sitting: Sitting, content: j.SnagRated) -> str:
    remark = sitting.remarks.get(content.entry)
    return "" if remark is not None and remark.kind == "snag" else "There is no snag that this rates."


def _moved_objection(sitting: Sitting, content: j.MarkMoved) -> str:
    known = content.entry in sitting.remarks or any(
        tick.entry == content.entry and tick.kind in MOVABLE for attempt in sitting.attempts for tick in attempt.ticks
    )
    return "" if known else "Only a mark can be moved, and no clock that was started or stopped."


def _told_objection(sitting: Sitting, _: j.OutcomeTold) -> str:
    judged = sitting.attempts and sitting.attempts[-1].outcome is not None
    return "" if judged else "No attempt was judged yet."


def _witness_objection(sitting: Sitting, content: j.ChairWitnessed) -> str:
    if content.attempt == 0:
        return "" if content.card in sitting.cards else "That card is not in this sitting."
    known = content.attempt <= len(sitting.attempts) and sitting.attempts[content.attempt - 1].card == content.card
    return "" if known else "There is no such attempt."


def _late_objection(sitting: Sitting, content: j.AddedLate) -> str:
    if not content.reason.strip():
        return "What is added late needs a reason."
    if content.at_seconds * SECOND > (sitting.at_ns if sitting.over_ns is None else sitting.over_ns):
        return "The sitting had not come that far."
    in_attempt = content.mark in ("helped", "wrong_place")
    if in_attempt and sitting.attempt_at(round(content.at_seconds * SECOND)) is None:
        return "No clock ran at that moment."
    return "" if in_attempt or content.words.strip() else "What is added late needs words."


def _corrected_objection(sitting: Sitting, content: j.OutcomeCorrected) -> str:
    if content.attempt > len(sitting.attempts) or sitting.attempts[content.attempt - 1].outcome is None:
        return "There is no such attempt that was judged."
    return "" if content.reason.strip() else "Judging otherwise needs a reason."


def _outcome_objection(_: Sitting, content: j.OutcomeJudged) -> str:
    missing = content.outcome.needs_reason and not content.reason.strip()
    return f"“{content.outcome.words}” needs a reason." if missing else ""


_REFUSALS: dict[str, Callable[[Sitting, Any], str]] = {
    "attempt_started": _card_objection,
    "card_passed": _card_objection,
    **dict.fromkeys(("wait_began", "wait_ended", "aside_began", "aside_ended"), _lane_objection),
    "worded": _worded_objection,
    "wait_told": _wait_told_objection,
    "help_told": _help_objection,
    "snag_rated": _snag_objection,
    "mark_moved": _moved_objection,
    "added_late": _late_objection,
    "outcome_corrected": _corrected_objection,
    "outcome_told": _told_objection,
    "chair_witnessed": _witness_objection,
    "outcome_judged": _outcome_objection,
}
