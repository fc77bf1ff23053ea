"""An entry that cannot be read, in a journal that goes on: enough of it happens for the rest to make sense.

Nothing of it counts: the attempt it lies in is left out of all figures.
"""

from collections.abc import Callable

from fresh_chair.core.codec import Unreadable
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Sitting

# What says everything by its kind alone.
_BY_KIND: dict[str, j.Content] = {
    content.kind: content
    for content in (
        *(j.SittingBegan(), j.WaitBegan(), j.WaitEnded(), j.AsideBegan(), j.AsideEnded(), j.AttemptStopped()),
        *(j.LeftRunning(), j.EaseRated(None), j.UsabilityDeclined(), j.ObserverJoined(), j.SittingEnded()),
        j.SittingBrokenOff("why cannot be read"),
        *(j.WalkBegan(), j.StepSetAside(), j.RecordingCut(), j.RecordingUncut()),
        j.StepOpened("a step that cannot be read"),
        j.WalkDeclared("why cannot be read"),
        j.ChairAltered("an alteration that cannot be read"),
        j.WalkMoved("a machine that cannot be read", "why cannot be read"),
        j.OutcomeJudged(Outcome.VOID, "how it ended cannot be read"),
    )
}


def stand_in(sitting: Sitting, unreadable: Unreadable) -> j.Content | None:
    """A content in place of an entry that cannot be read, as far as the journal needs it; None for nothing."""
    plain = _BY_KIND.get(unreadable.was)
    if plain is not None:
        return plain
    make = _FROM_STATE.get(unreadable.was)
    return make(sitting, unreadable) if make is not None else None


def touched(sitting: Sitting) -> None:
    """Leave the attempt in hand out of all figures: something in it cannot be read."""
    attempt = sitting.latest
    if attempt is not None and sitting.phase in (Phase.RUNNING, Phase.JUDGING, Phase.EASE):
        attempt.unreadable = True


def _card(sitting: Sitting, unreadable: Unreadable) -> str:
    """The card it was about: the rules let it be no other than the one in hand."""
    return sitting.card or unreadable.card


def _start(sitting: Sitting, unreadable: Unreadable) -> j.Content:
    return j.AttemptStarted(_card(sitting, unreadable))


def _pass(sitting: Sitting, unreadable: Unreadable) -> j.Content:
    return j.CardPassed(_card(sitting, unreadable), "why cannot be read")


def _reopen(sitting: Sitting, unreadable: Unreadable) -> j.Content | None:
    return j.CardReopened(unreadable.card, "why cannot be read") if unreadable.card else None


def _usability(sitting: Sitting, unreadable: Unreadable) -> j.Content | None:
    left = [item for item in range(1, 11) if item not in sitting.usability]
    return j.UsabilityAnswered(left[0], None) if left else None


def _ready(sitting: Sitting, unreadable: Unreadable) -> j.Content | None:
    number = _left(sitting, unreadable)
    return j.LeftReady(number) if number else None


def _take_up(sitting: Sitting, unreadable: Unreadable) -> j.Content | None:
    number = _left(sitting, unreadable)
    return j.TakenUp(number) if number else None


def _left(sitting: Sitting, unreadable: Unreadable) -> int:
    if unreadable.attempt in sitting.left:
        return unreadable.attempt
    return sitting.left[0] if len(sitting.left) == 1 else 0


_FROM_STATE: dict[str, Callable[[Sitting, Unreadable], j.Content | None]] = {
    "attempt_started": _start,
    "card_passed": _pass,
    "card_reopened": _reopen,
    "usability_answered": _usability,
    "left_ready": _ready,
    "taken_up": _take_up,
}
