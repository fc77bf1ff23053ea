"""Contests: walks of one reviewer at several chairs, on the same steps, each with its own journal and clock."""

from collections.abc import Sequence

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.contests import ContestView, contests_of, step_key
from fresh_chair.core.sitting.state.walk import Step
from fresh_chair.core.text import clipped
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.recording import RecordedSitting, RecordingClock, taken_up
from fresh_chair.services.study.open_study import OpenStudy, new_id
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.services.walk.walks import begin_walk, require_chair, walk_seat


def begin_contest(
    opened: OpenStudy, letters: Sequence[str], *, name: str = "", code: str = "", recording: str = "", began: str = ""
) -> LiveSitting:
    """Begin a contest with the walk at its first chair, or go on with one of the same chairs that is still open.

    Args:
        opened: The open study.
        letters: The chairs, two at least.
        name: The contest's name; a new one by default.
        code, recording, began: As `begin_walk`; one recording shows all chairs.

    Raises:
        InputError: Where a chair is not there, or named twice.
        Refused, NotSaved: As `begin_walk`.
    """
    chairs = tuple(letters)
    for letter in chairs:
        require_chair(opened, letter)
    if len(set(chairs)) < len(chairs) or len(chairs) < 2:
        raise InputError("A contest is between two chairs or more, each named once.", "Nothing was begun.")
    going = next((c for c in contests(opened) if set(c.chairs) == set(chairs) and open_sides(opened, c)), None)
    if going is not None:
        return taken_up(opened, opened.last_in_hand(open_sides(opened, going)))
    taken = {each.name for each in contests(opened)}
    usual = f"contest of {' and '.join(chairs)}"
    free = next(each for n in range(1, 1000) if (each := usual if n == 1 else f"{usual}, {n}") not in taken)
    live = begin_walk(opened, chairs[0], code=code, recording=recording, began=began)
    if live.state.walk is not None and live.state.walk.steps:
        raise Refused(f"A walk through {chairs[0]} is open already.", "End it before a contest begins there.")
    live.log(j.ContestJoined(clipped(name.strip() or free, 60), chairs), live.now())
    return live


def begin_contest_or_walk(
    opened: OpenStudy, letters: Sequence[str], *, code: str = "", recording: str = "", began: str = ""
) -> LiveSitting:
    """Begin a walk at one chair, or a contest of several. Raises as `begin_walk` and `begin_contest`."""
    if len(letters) > 1:
        return begin_contest(opened, letters, code=code, recording=recording, began=began)
    return begin_walk(opened, letters[0], code=code, recording=recording, began=began)


def contests(opened: StudyReading) -> list[ContestView]:
    """Every contest of a study, in the order in which they began."""
    return contests_of(opened.study, opened.sittings)


def contest_of(opened: StudyReading, number: int) -> ContestView | None:
    """The contest that a sitting is one side of; None where it is none."""
    return next((view for view in contests(opened) if number in view.sittings), None)


def open_sides(opened: StudyReading, view: ContestView) -> list[int]:
    """The sittings of a contest that have not ended."""
    return [number for number in view.sittings if number is not None and opened.phase(number).open]


def next_chair(opened: OpenStudy, live: LiveSitting, moment: Moment, letter: str = "") -> LiveSitting:
    """Go on to the same step at the next chair: this walk is set aside, the other one taken up.

    Args:
        opened: The open study.
        live: The walk in hand.
        moment: When the key was pressed.
        letter: Which chair; the next one of the contest by default.

    Returns:
        The walk at the other chair. A step that was closed there stays closed, and nothing is in hand.

    Raises:
        Refused: Where the walk is no part of a contest, or the one at that chair has ended.
        NotSaved: Where the disk refuses; what was logged before stays.
    """
    view, walk = contest_of(opened, live.seat.number), live.state.walk
    if view is None or walk is None:
        raise Refused("This walk is no part of a contest.", "Begin one with two chairs: fresh-chair walk STUDY A B")
    chairs = view.chairs
    to = letter or chairs[(chairs.index(live.seat.chair) + 1) % len(chairs)]
    if to not in chairs or to == live.seat.chair:
        raise InputError(f"The contest is between {' and '.join(chairs)}.", "Nothing was changed.")
    other = view.sittings[chairs.index(to)]
    if other is not None and not opened.phase(other).open:
        raise Refused(f"The walk through {to} has ended.", "This one goes on.")
    step = walk.step or _last_touched(walk.steps)
    if walk.step is not None:
        live.log(j.StepSetAside(), moment)
    going = taken_up(opened, other) if other is not None else _side(opened, live, view, to)
    if isinstance(live, RecordedSitting) and isinstance(going, RecordedSitting):
        going.player.follow(live.player)
    at = going.now()
    if step is not None:
        _take_same(going, step, at)
    return going


def end_contest(opened: OpenStudy, live: LiveSitting) -> int:
    """End every walk of a contest that is open; returns how many. Raises as `log`; those that were ended stay so."""
    view = contest_of(opened, live.seat.number)
    numbers = open_sides(opened, view) if view is not None else []
    for number in numbers:
        side = live if number == live.seat.number else taken_up(opened, number)
        side.log(j.SittingEnded(), side.now())
    return len(numbers)


def other_side(opened: OpenStudy, number: int) -> LiveSitting | None:
    """A walk of the same contest that is still open, to go on with; None where all have ended."""
    view = contest_of(opened, number)
    left = [each for each in open_sides(opened, view) if each != number] if view is not None else []
    return taken_up(opened, opened.last_in_hand(left)) if left else None


def _take_same(going: LiveSitting, step: Step, at: Moment) -> None:
    """Take the same step in hand there."""
    walk = going.state.walk
    assert walk is not None
    wanted = step_key(step.title, step.card)
    same = next((each for each in reversed(walk.steps) if step_key(each.title, each.card) == wanted), None)
    if same is None:
        going.log(j.StepOpened(step.title, step.card), at)
    elif same.ending is None and walk.hand != same.number:
        going.log(j.StepTakenUp(same.entry), at)


def _side(opened: OpenStudy, live: LiveSitting, view: ContestView, letter: str) -> LiveSitting:
    """The walk at a chair of the contest where none has begun yet."""
    study, beside = opened.study, open_sides(opened, view)
    seat = walk_seat(opened, letter, study.person_by_code[live.seat.participant])
    tied, began = live.state.recording, live.state.began
    going: LiveSitting
    if tied is not None and began is not None:
        begin = Moment(0, f"recording-{new_id()}", began.wall_ns)
        going = recorded = RecordedSitting(opened, seat, RecordingClock(begin, tied[1]))
        recorded.begin_at(*tied, begin, beside=beside)
    else:
        going = LiveSitting(opened, seat)
        going.begin(opened.clock.now(), beside=beside)
    going.log(j.ContestJoined(view.name, view.chairs), going.now())
    return going


def _last_touched(steps: Sequence[Step]) -> Step | None:
    """The step that was in hand last."""
    touched = [step for step in steps if step.in_hand]
    return max(touched, key=lambda step: step.in_hand[-1][1]) if touched else None
