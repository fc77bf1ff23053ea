"""The time a person was promised, against the time still needed: cards to leave out so that they go home on time."""

from collections.abc import Mapping
from math import floor

from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.figures.duration import CardTime, card_times
from fresh_chair.core.frozen import frozen
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.sitting.live import LiveSitting

# Of the minutes without any card, welcome and consent take one half, and the questions at the end the other.
_AT_THE_END = 0.5


@frozen
class Timebox:
    """Minutes of one sitting at one moment.

    Attributes:
        left: Until the promised end; below 0 past it.
        needed: What is likely still to come.
        drop: Titles of cards to leave out so that it fits, lowest priority and longest first; never one of priority 1.
    """

    left: float
    needed: float
    drop: tuple[str, ...]

    @property
    def fits(self) -> bool:
        """True where the time needed fits into the time left."""
        return self.needed <= self.left


def likely_times(live: LiveSitting) -> dict[tuple[str, str], CardTime]:
    """The likely time of each card at each chair, from the sittings run so far; computed once a sitting."""
    return card_times(live.opened.study, live.opened.sittings)


def timebox(live: LiveSitting, times: Mapping[tuple[str, str], CardTime], now: Moment) -> Timebox | None:
    """The time left and the time needed; None for experts and reviewers, and for a sitting that is over.

    A sitting that is logged from a recording is over, however far the recording has come.
    """
    study, state = live.opened.study, live.state
    if (
        not study.person_by_code[live.seat.participant].is_newcomer
        or not state.phase.open
        or state.recording is not None
    ):
        return None
    chair, cards = live.seat.chair, study.card_by_id
    left = study.sheet.minutes_per_sitting - state.time_at(now) / SECOND / 60
    at_the_end = study.sheet.minutes_apart * _AT_THE_END
    if state.phase is Phase.CLOSING:
        at_the_end = 0.0
    attempt = state.attempt
    in_hand = {attempt.card: attempt} if attempt is not None else {}
    in_hand |= {state.attempts[number - 1].card: state.attempts[number - 1] for number in state.left}
    needed = at_the_end
    for card, begun in in_hand.items():
        if begun.stopped_ns is None:
            spent = begun.elapsed_ns(state.time_at(now)) / SECOND
            needed += max(times[card, chair].likely - spent, 0.0) / 60
    to_come = [
        times[card, chair]
        for card in state.cards
        if card not in state.done and card not in state.passed and card not in in_hand
    ]
    needed += sum(time.likely for time in to_come) / 60
    drop, over = [], needed - left
    for one in sorted(to_come, key=lambda one: (-cards[one.card].priority, -one.likely)):
        if over <= 0 or cards[one.card].priority == 1:
            break
        drop.append(cards[one.card].title)
        over -= one.likely / 60
    return Timebox(left, needed, tuple(drop))


def in_minutes(box: Timebox | None) -> Timebox | None:
    """The same in whole minutes, as it is shown."""
    return None if box is None else Timebox(float(floor(box.left)), float(round(box.needed)), box.drop)
