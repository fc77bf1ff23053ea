"""Walks: a reviewer alone at a chair; begun, looked at as a screen or a table draws them, declared afterwards."""

from dataclasses import replace

from fresh_chair.core.clock import clock_text
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.evidence.kinds import OWN, Evidence, Side
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.people import Participant
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.contests import ContestView, contests_of
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Remark
from fresh_chair.core.sitting.state.walk import ChairTurn, StepEnding
from fresh_chair.core.sitting.walked import StepLine, step_lines
from fresh_chair.core.text import with_article
from fresh_chair.services.plan.people import next_code
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.recording import open_recording, taken_up
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.study.snapshot import StudyReading


@frozen
class MarkLine:
    """One mark of a walk, with its words so far.

    Attributes:
        side: What it is besides its kind: praise and blame at once, taste, habit, intent.
        revises: The earlier mark that it revises, by its entry; empty for none.
        revised: Whether a later one revises it.
    """

    entry: str
    kind: str
    at: str
    step: int | None
    words: str
    evidence: Evidence
    severity: int | None
    side: Side
    revises: str
    revised: bool


@frozen
class WalkView:
    """A walk as a screen or a table shows it.

    Attributes:
        number: The sitting's number.
        part: Which walk of this reviewer at this chair it is, from 1.
        declared: Why a sitting logged otherwise is a walk; empty for one begun as such.
        untouched: Cards of the script that no step was opened for.
        untold: Lines whose kind is still to be told.
        before: What the part before left open: its open steps, and its questions.
        turns: Where the chair was altered, or left for another machine.
        contest: The contest it is one side of; None for none.
        promised_seconds: How long it is to last; None where that was not said.
    """

    seat: Seat
    number: int
    part: int
    phase: Phase
    declared: str
    steps: tuple[StepLine, ...]
    untouched: tuple[TaskCard, ...]
    untold: tuple[MarkLine, ...]
    before: tuple[str, ...]
    turns: tuple[ChairTurn, ...] = ()
    contest: ContestView | None = None
    promised_seconds: float | None = None

    @property
    def step(self) -> StepLine | None:
        """The step in hand."""
        return next((step for step in self.steps if step.in_hand), None)

    @property
    def open_steps(self) -> tuple[StepLine, ...]:
        """The steps that are neither closed nor in hand."""
        return tuple(step for step in self.steps if step.ending is None and not step.in_hand)


def walk_view(opened: StudyReading, number: int, *, now_ns: int | None = None) -> WalkView:
    """A walk as it stands.

    Args:
        opened: The open study.
        number: The sitting's number.
        now_ns: The present time of the sitting, where a step runs.

    Raises:
        InputError: Where that sitting is no walk.
    """
    seat, sitting = opened.study.seat(number), opened.sittings.get(number)
    if sitting is None or sitting.walk is None:
        raise InputError(f"Sitting {number} is no walk.")
    walk = sitting.walk
    steps = step_lines(sitting, now_ns)
    touched = {step.card for step in walk.steps}
    earlier = [other for other in _walks_of(opened, seat) if other < number]
    return WalkView(
        seat=seat,
        number=number,
        part=len(earlier) + 1,
        phase=sitting.phase,
        declared=walk.declared,
        steps=steps,
        untouched=tuple(opened.study.card_by_id[card] for card in seat.cards if card not in touched),
        untold=tuple(_mark_line(remark) for remark in sitting.remarks.values() if remark.kind == "line"),
        before=_left_open(opened, earlier[-1]) if earlier else (),
        turns=tuple(walk.turns),
        contest=None if walk.contest is None else _contest(opened, number),
        promised_seconds=walk.promised_seconds,
    )


def _contest(opened: StudyReading, number: int) -> ContestView | None:
    found = contests_of(opened.study, opened.sittings)
    return next((view for view in found if number in view.sittings), None)


def walk_marks(opened: StudyReading, number: int, *, own: bool = False) -> tuple[MarkLine, ...]:
    """The marks of a walk in the order of time; with `own`, those that were done, seen or measured alone."""
    sitting = opened.sittings.get(number)
    remarks = sorted(sitting.remarks.values() if sitting is not None else (), key=lambda remark: remark.at_ns)
    return tuple(_mark_line(remark) for remark in remarks if not own or remark.evidence in OWN)


def _mark_line(remark: Remark) -> MarkLine:
    at = clock_text(remark.at_ns)
    return MarkLine(
        entry=remark.entry,
        kind=remark.kind,
        at=at,
        step=remark.step,
        words=remark.words,
        evidence=remark.evidence,
        severity=remark.severity,
        side=remark.side,
        revises=remark.revises,
        revised=bool(remark.revised_by),
    )


def walks(opened: StudyReading) -> list[WalkView]:
    """Every walk of a study that has begun, by its number."""
    return [
        walk_view(opened, seat.number)
        for seat in sorted(opened.study.seats, key=lambda seat: seat.number)
        if (sitting := opened.sittings.get(seat.number)) is not None and sitting.walk is not None
    ]


def own_evidence(view: WalkView) -> WalkView:
    """A walk narrowed to the steps of the reviewer's own evidence: done, seen, measured."""
    return replace(view, steps=tuple(step for step in view.steps if step.own))


def _walks_of(opened: StudyReading, seat: Seat) -> list[int]:
    """Numbers of the walks of the same person at the same chair."""
    return sorted(
        other.number
        for other in opened.study.seats
        if (other.participant, other.chair) == (seat.participant, seat.chair)
        and (sitting := opened.sittings.get(other.number)) is not None
        and sitting.walk is not None
    )


def _left_open(opened: StudyReading, number: int) -> tuple[str, ...]:
    view = walk_view(opened, number)
    left = [f"open: {step.title}" for step in view.steps if step.ending is None]
    put_off = [step for step in view.steps if step.ending is StepEnding.NOT_TRIED and step.reason]
    left += [f"put off: {step.title}, {step.reason}" for step in put_off]
    asked = [remark.words for remark in opened.sittings[number].remarks.values() if remark.kind == "question"]
    return (*left, *(f"to come back to: {words}" for words in asked))


def begin_walk(opened: OpenStudy, letter: str, *, code: str = "", recording: str = "", began: str = "") -> LiveSitting:
    """Begin a walk through a chair, or go on with the one over a recording that is still open there.

    The reviewer is added to the study where they are not there yet.

    Args:
        opened: The open study.
        letter: The chair.
        code: Whose walk; by default the study's first reviewer, or a new one.
        recording: The recording it is logged from, and where in it the walk begins: `walk.webm 2:31`; empty for live.
        began: When it was recorded.

    Raises:
        InputError: Where there is no such chair, or that person is no reviewer.
        Refused: Where another sitting is open, or the study may only be read.
        NotSaved: Where the disk refuses; nothing is planned then, or nothing has begun.
    """
    opened.require_moderating()
    require_chair(opened, letter)
    still_open = opened.cut_short()
    if still_open:
        number = still_open[0].number
        raise Refused(f"Sitting {number} is still open.", "End it or break it off before a walk begins.")
    person = _reviewer(opened.study, code)
    # One over a recording waits without being cut short.
    waits = next(
        (s for s in opened.study.seats if s.participant == person.code and opened.phase(s.number).open), None
    )  # fmt: skip
    if waits is not None and waits.chair == letter and not recording.strip():
        return taken_up(opened, waits.number)
    if waits is not None:
        raise Refused(f"{person.code} walks in sitting {waits.number} already.", "End it or break it off first.")
    seat = walk_seat(opened, letter, person)
    if recording.strip():
        return open_recording(opened, seat.number, recording, began)
    live = LiveSitting(opened, seat)
    live.begin(opened.clock.now())
    return live


def require_chair(opened: OpenStudy, letter: str) -> None:
    """Do nothing where the study has that chair. Raises InputError where it has not."""
    if letter not in opened.study.chair_by_letter:
        listed = ", ".join(opened.study.chair_by_letter) or "none yet"
        raise InputError(f"There is no chair {letter[:12]} in this study.", f"Its chairs: {listed}.")


def walk_seat(opened: OpenStudy, letter: str, person: Participant) -> Seat:
    """The seat of the walk to come: the one that waits for it, or a new one. Raises as `OpenStudy.amend`."""
    study = opened.study
    known = person.code in study.person_by_code
    for seat in study.seats if known else ():
        waits = (seat.participant, seat.chair) == (person.code, letter) and opened.phase(seat.number) is Phase.EMPTY
        if waits:
            return seat
    cards = tuple(card.id for card in study.cards if not card.dropped)
    number = max((seat.number for seat in study.seats), default=0) + 1
    position = sum(seat.participant == person.code for seat in study.seats) + 1
    seat = Seat(number=number, participant=person.code, chair=letter, position=position, cards=cards)
    people = study.people if known else (*study.people, person)
    opened.amend(replace(study, people=people, seats=(*study.seats, seat)))
    return seat


def _reviewer(study: Study, code: str) -> Participant:
    if not code:
        found = next((p for p in study.people if p.role == "reviewer" and not p.left and not p.erased), None)
        return found or Participant(code=next_code(study, "reviewer"), role="reviewer")
    person = study.person_by_code.get(code)
    if person is None:
        from fresh_chair.core.plan.people import participant_code

        return Participant(code=participant_code(code), role="reviewer")
    if person.role != "reviewer":
        raise InputError(f"{code} is {with_article(person.role)}; only a reviewer walks alone.", "Nothing was changed.")
    if person.left or person.erased:
        raise InputError(f"{code} {'was erased' if person.erased else 'left'}.", "Nothing was changed.")
    return person


def declare_walk(opened: OpenStudy, number: int, reason: str) -> None:
    """Declare a sitting that was logged otherwise a walk: it leaves every newcomers' figure, and nothing of it is lost.

    Raises:
        InputError: Where there is no such sitting.
        Refused: Where it has not ended, is a walk already, or no reason is given.
        NotSaved: Where the disk refuses.
    """
    writer = taken_up(opened, opened.study.seat(number).number)
    last = writer.state.line.last
    # It ended long ago: the declaration is of today, and stands after its last entry on the line of time.
    writer.log(j.WalkDeclared(reason.strip()), opened.clock.now() if last is None else last)


def steps_by_title(opened: StudyReading, view: WalkView) -> dict[str, str]:
    """Ids of the cards that a step may be opened for, by title, in the order of the script; untouched ones first."""
    first = {card.title: card.id for card in view.untouched}
    return first | {opened.study.card_by_id[card].title: card for card in view.seat.cards}
