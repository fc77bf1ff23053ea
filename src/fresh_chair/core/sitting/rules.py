"""Which entry may follow now, and why another may not."""

from collections.abc import Callable
from typing import Any

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import Refused
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.attempt import Attempt
from fresh_chair.core.sitting.state import Phase, Sitting


def permit(sitting: Sitting, content: j.Content, *, observed: bool = False) -> None:
    """Do nothing where the content may follow now.

    Args:
        sitting: As far as it has come.
        content: What is to follow.
        observed: True where a second observer says it.

    Raises:
        Refused: Says why it may not.
    """
    phase = sitting.phase
    if observed and content.kind not in OBSERVABLE:
        raise Refused(
            "Only the moderator starts, stops and judges.", "Marks and their words are what an observer logs."
        )
    allowed = _ALLOWED[content.kind]
    if phase not in allowed:
        raise Refused(_why_not(content.kind, phase))
    reason = _REFUSALS.get(content.kind, _no_objection)(sitting, content)
    if reason:
        raise Refused(reason)


# Marks whose moment can be corrected; lanes are not among them, since others' time hangs on them.
MOVABLE = ("helped", "wrong_place", "said_done", "marked", "step_reached", "place_visited", *j.WORDABLE)
# What a second observer may log.
OBSERVABLE = (*MOVABLE, "observer_joined", "worded", "snag_rated", "mark_moved", "struck")
_OPEN = frozenset(phase for phase in Phase if phase.open)
_BEGUN = frozenset(Phase) - {Phase.EMPTY}
_NO_ANSWER = "There is no such answer to correct, or it is no number of that scale."
_NO_SUCH = "There is no such attempt that was judged."
_BETWEEN = frozenset({Phase.READING, Phase.LEFT_RUNNING, Phase.USABILITY, Phase.CLOSING})
_RUNNING = frozenset({Phase.RUNNING})
_ALLOWED: dict[str, frozenset[Phase]] = {
    "sitting_began": frozenset({Phase.EMPTY}),
    "chair_found": _OPEN,
    "attempt_started": frozenset({Phase.READING}),
    "card_passed": frozenset({Phase.READING}),
    **dict.fromkeys(
        (
            *("wait_began", "wait_told", "wait_ended", "aside_began", "aside_ended", "helped", "wrong_place"),
            *("said_done", "marked", "step_reached", "place_visited", "left_running"),
        ),
        _RUNNING,
    ),
    **dict.fromkeys((*j.WORDABLE, "outcome_told", "left_ready", "question_answered", "preference_given"), _OPEN),
    **dict.fromkeys(("recording_opened", "observer_joined"), _OPEN),
    "taken_up": frozenset({Phase.READING, Phase.LEFT_RUNNING}),
    "expectation_given": frozenset({Phase.READING}),
    "card_reopened": _BETWEEN,
    # Corrections come at any time, be it days after.
    **dict.fromkeys(
        (
            *("help_told", "snag_rated", "mark_moved", "added_late", "outcome_corrected", "attempt_split"),
            *("attempts_joined", "benchmark_refused"),
        ),
        _BEGUN,
    ),
    # The chair answers when it answers, be the sitting over by then.
    "chair_witnessed": _BEGUN,
    "worded": _BEGUN,
    "attempt_stopped": _RUNNING,
    "outcome_judged": frozenset({Phase.JUDGING}),
    "ease_rated": frozenset({Phase.EASE}),
    "usability_answered": frozenset({Phase.USABILITY, Phase.CLOSING}),
    "usability_declined": frozenset({Phase.USABILITY}),
    "sitting_ended": frozenset({Phase.CLOSING, Phase.USABILITY}),
    "sitting_broken_off": _OPEN - {Phase.RUNNING, Phase.JUDGING},
    "sitting_resumed": _OPEN,
    "sitting_unbegun": frozenset({Phase.READING, Phase.USABILITY}),
    **dict.fromkeys(("rating_corrected", "stop_moved"), _BEGUN),
    # None is ever appended.
    "unreadable": frozenset(),
    "struck": _BEGUN,
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


def _card_objection(sitting: Sitting, content: j.AttemptStarted | j.CardPassed | j.ExpectationGiven) -> str:
    return "" if content.card == sitting.card else f"The card in hand is {sitting.card}, not {content.card}."


def _lane_objection(sitting: Sitting, content: j.Content) -> str:
    attempt = sitting.latest
    assert attempt is not None
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
    attempt = sitting.latest
    return "" if attempt is not None and attempt.waiting else "Nothing is being waited for."


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
    attempt = sitting.latest
    return "" if attempt is not None and attempt.outcome is not None else "No attempt was judged yet."


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
    if content.mark not in j.WORDABLE and sitting.attempt_at(round(content.at_seconds * SECOND)) is None:
        return "No clock ran at that moment."
    return ""


def _corrected_objection(sitting: Sitting, content: j.OutcomeCorrected) -> str:
    if _judged(sitting, content.attempt) is None:
        return _NO_SUCH
    return "" if content.reason.strip() else "Judging otherwise needs a reason."


def _judged(sitting: Sitting, number: int) -> Attempt | None:
    """The attempt of that number, where it stands and was judged."""
    attempt = sitting.attempts[number - 1] if number <= len(sitting.attempts) else None
    return attempt if attempt is not None and attempt.judged else None


def _left_objection(sitting: Sitting, content: j.LeftReady | j.TakenUp) -> str:
    if content.attempt not in sitting.left:
        return "Nothing of that number was left running."
    ready = isinstance(content, j.LeftReady) and not sitting.attempts[content.attempt - 1].waiting
    return "It is ready already." if ready else ""


def _reopened_objection(sitting: Sitting, content: j.CardReopened) -> str:
    if content.card not in sitting.done and content.card not in sitting.passed:
        return "Only a card that was done or passed over can be tried again."
    return "" if content.reason.strip() else "Trying a card again needs a reason."


def _split_objection(sitting: Sitting, content: j.AttemptSplit) -> str:
    attempt = _judged(sitting, content.attempt)
    if attempt is None:
        return _NO_SUCH
    if not attempt.started_ns < round(content.at_seconds * SECOND) < (attempt.stopped_ns or 0):
        return "The attempt did not run at that moment."
    if content.card not in sitting.cards:
        return "That card is not in this sitting."
    return "" if content.reason.strip() else "Splitting an attempt needs a reason."


def _joined_objection(sitting: Sitting, content: j.AttemptsJoined) -> str:
    first, later = _judged(sitting, content.attempt), _judged(sitting, content.later)
    if first is None or later is None:
        return _NO_SUCH
    if first is later or (first.stopped_ns or 0) > later.started_ns:
        return "Only an attempt that began after the other had ended can be joined to it."
    return "" if content.reason.strip() else "Joining attempts needs a reason."


def _refused_objection(sitting: Sitting, content: j.BenchmarkRefused) -> str:
    return _NO_SUCH if _judged(sitting, content.attempt) is None else ""


def _unbegun_objection(sitting: Sitting, content: j.SittingUnbegun) -> str:
    if sitting.attempts or sitting.passed or sitting.usability:
        return "Something was started in it already; it can be broken off."
    return "" if content.reason.strip() else "Taking a beginning back needs a reason."


def _rating_objection(sitting: Sitting, content: j.RatingCorrected) -> str:
    if not content.reason.strip():
        return "Correcting an answer needs a reason."
    if content.what == "usability":
        known = content.item in sitting.usability
        return "" if known and (content.score is None or 1 <= content.score <= 5) else _NO_ANSWER
    if content.what == "question":
        return "" if (content.question, content.attempt) in sitting.asked else _NO_ANSWER
    attempt = _judged(sitting, content.attempt) if content.attempt else None
    given = attempt is not None and (content.what == "expectation" or attempt.ease_asked)
    return "" if given and (content.score is None or 1 <= content.score <= 7) else _NO_ANSWER


def _stop_objection(sitting: Sitting, content: j.StopMoved) -> str:
    attempt = _judged(sitting, content.attempt)
    if attempt is None or attempt.stopped_ns is None:
        return _NO_SUCH
    if attempt.stopped_ns - round(content.seconds_earlier * SECOND) <= attempt.started_ns:
        return "The clock had not started by then."
    return "" if content.reason.strip() else "Moving a clock needs a reason."


def _over_objection(sitting: Sitting, _: j.SittingBrokenOff) -> str:
    return "What was left running has no end yet." if sitting.left else ""


def _asked_objection(sitting: Sitting, content: j.QuestionAnswered) -> str:
    return "" if content.attempt <= len(sitting.attempts) else "There is no such attempt."


def _outcome_objection(_: Sitting, content: j.OutcomeJudged) -> str:
    missing = content.outcome.needs_reason and not content.reason.strip()
    return f"“{content.outcome.words}” needs a reason." if missing else ""


_REFUSALS: dict[str, Callable[[Sitting, Any], str]] = {
    **dict.fromkeys(("attempt_started", "card_passed", "expectation_given"), _card_objection),
    **dict.fromkeys(("left_ready", "taken_up"), _left_objection),
    "card_reopened": _reopened_objection,
    "attempt_split": _split_objection,
    "attempts_joined": _joined_objection,
    "benchmark_refused": _refused_objection,
    "sitting_broken_off": _over_objection,
    "sitting_unbegun": _unbegun_objection,
    "rating_corrected": _rating_objection,
    "stop_moved": _stop_objection,
    "question_answered": _asked_objection,
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
