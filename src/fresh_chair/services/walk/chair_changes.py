"""Changes that a walk makes to the plan: its chair altered or left for another machine, a card made of a step."""

from collections.abc import Callable

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.rules import permit
from fresh_chair.services.plan.chairs import altered, moved
from fresh_chair.services.plan.scripts import new_card
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.recording import RecordedSitting, taken_up
from fresh_chair.services.study.open_study import OpenStudy


def alter_chair(live: LiveSitting, words: str, moment: Moment) -> int:
    """Put an alteration of the chair on record, in the walk and in the plan; returns the number of its new state.

    Args:
        live: The walk in hand.
        words: The alteration, such as a newer kernel.
        moment: When it was made.

    Raises:
        Refused: Where nothing is said, no walk is in hand, or the recording stands before the last mark.
        NotSaved: Where the disk refuses.
    """
    words = words.strip()
    _require_possible(live, j.ChairAltered(words))
    study = altered(live.opened.study, live.seat.chair, words)
    return _turn(live, study, moment, lambda state: j.ChairAltered(words, state))


def move_walk(live: LiveSitting, machine: str, reason: str, moment: Moment) -> int:
    """Go on with a walk at another machine, known to the study or new; returns the number of the chair's new state.

    Args:
        live: The walk in hand.
        machine: The other machine's name or id.
        reason: Why the first was left.
        moment: When it was left.

    Raises:
        InputError: Where it is the machine the chair stands on already.
        Refused, NotSaved: As `alter_chair`.
    """
    machine, reason = machine.strip(), reason.strip()
    _require_possible(live, j.WalkMoved(machine, reason))
    study, name = moved(live.opened.study, live.seat.chair, machine)
    return _turn(live, study, moment, lambda state: j.WalkMoved(name, reason, state))


def make_card(opened: OpenStudy, number: int, entry: str, moment: Moment | None = None) -> TaskCard:
    """Make a card of the script of a step that stood on no list; a card of the same title is taken where there is one.

    Args:
        opened: The open study.
        number: The walk's sitting.
        entry: The entry that opened the step.
        moment: When; that of the walk's last entry where it has ended.

    Raises:
        InputError, Refused: Where there is no such step, or it is a card already.
        NotSaved: Where the disk refuses.
    """
    writer = taken_up(opened, opened.study.seat(number).number)
    step = writer.state.walk.opened_by(entry) if writer.state.walk is not None else None
    if step is None:
        raise InputError("There is no such step.", "Nothing was changed.")
    permit(writer.state, j.StepMadeCard(entry, "card"))
    title = step.title.casefold()
    card = next((each for each in opened.study.cards if each.title.casefold() == title), None)
    card = card or new_card(opened, step.title, step.title)
    last = writer.state.line.last
    at = moment or last or opened.clock.now()
    writer.log(j.StepMadeCard(entry, card.id), at)
    return card


def _require_possible(live: LiveSitting, content: j.Content) -> None:
    """Refuse an entry that cannot follow before the plan is changed for it."""
    live.opened.require_moderating()
    permit(live.state, content)
    if isinstance(live, RecordedSitting) and live.behind:
        raise Refused("The recording stands before the last mark.", "The chair changes where the walk has come to.")


def _turn(live: LiveSitting, study: Study, moment: Moment, content: Callable[[int], j.Content]) -> int:
    """Change the plan, then log with the number of the state that this made."""
    live.opened.amend(study, within=True)
    state = live.opened.plans.chair_states()[live.seat.chair][-1].number
    live.log(content(state), moment)
    return state
