"""Changing a plan, so that its orders fit it and sittings that were run stay as they are."""

from collections.abc import Collection
from dataclasses import replace
from typing import Any

from fresh_chair.core.codec import Unfit, built
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.plan.cards import must_follow
from fresh_chair.core.plan.changes import require_kept
from fresh_chair.core.plan.orders import planned_seats
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.study.open_study import OpenStudy


def change_plan(opened: OpenStudy, new: Study, *, script: str | None = None) -> None:
    """Change the plan; where the change touches the seating, sittings to come are planned anew.

    Raises:
        InputError: Where the plan cannot be so.
        Refused, NotSaved: As `OpenStudy.amend`.
    """
    opened.amend(reordered(opened.study, new, opened.begun), script=script)


def reordered(old: Study, new: Study, begun: Collection[int]) -> Study:
    """The new plan with orders that fit it.

    Where only people came, left or changed, everybody else's orders stay: their running sheets may be printed already.
    """
    same = _matters(old) == _matters(new)
    before, after = _seated(old), _seated(new)
    if same and before == after:
        return new
    fixed = set(begun)
    if same:
        fixed |= {seat.number for seat in old.seats if before.get(seat.participant) == after.get(seat.participant)}
    return replace(new, seats=planned_seats(new, fixed))


def _matters(study: Study) -> tuple[Any, ...]:
    """Everything but the people that an order depends on."""
    cards = tuple((card.id, card.once) for card in study.cards if not card.dropped)
    before = tuple(must_follow(study.cards).items())
    chairs = tuple((chair.letter, chair.put_back) for chair in study.chairs)
    return cards, before, chairs, study.seed, study.sheet.groups


def _seated(study: Study) -> dict[str, tuple[str, ...]]:
    """The facts of each person that an order depends on, by code."""
    return {p.code: (p.role, p.group, "left" if p.left else "", p.replaces) for p in study.people}


def plan_again(opened: OpenStudy, *, seed: int | None = None) -> None:
    """Plan all that has not begun anew, from another seed where one is given. Raises as `OpenStudy.amend`."""
    study = opened.study if seed is None else replace(opened.study, seed=seed)
    opened.amend(replace(study, seats=planned_seats(study, opened.begun)))


def made(kind: type, values: dict[str, Any], what: str) -> Any:
    """A part of a plan from plain values.

    Raises:
        InputError: Says what of it cannot be so.
    """
    try:
        return built(kind, values, "")
    except Unfit as problem:
        reason = str(problem).removesuffix(" @ the whole")
        raise InputError(f"{what} cannot be so: {reason}.", "Nothing was changed.") from problem


def replaced(opened: OpenStudy, **parts: Any) -> Study:
    """The open study's plan with other parts; seats to come that no longer fit them are left out, to be planned anew.

    Raises:
        Refused: Where a part lacks what sittings that have begun are made of.
        InputError: Says what of it cannot be so.
    """
    study, begun = opened.study, opened.begun
    letters = {chair.letter for chair in parts.get("chairs", study.chairs)}
    cards = {card.id for card in parts.get("cards", study.cards)}
    codes = {person.code for person in parts.get("people", study.people)}
    require_kept(study, begun, letters=letters, cards=cards, codes=codes)
    fitting = tuple(
        seat
        for seat in study.seats
        if seat.chair in letters and seat.participant in codes and cards.issuperset(seat.cards)
    )
    try:
        return replace(study, **{"seats": fitting, **parts})
    except ValueError as problem:
        raise InputError(f"The plan cannot be so: {problem}.", "Nothing was changed.") from problem


def sit_again(opened: OpenStudy, number: int) -> Seat:
    """Plan a sitting of the same person at the same chair, after all others, with those of its cards that still hold.

    The earlier one stays as it is. A card that they tried in it is no first try in the later one.

    Raises:
        InputError: Where no such sitting is planned.
        Refused: Where it has not ended, the two are planned again already, the person left or was erased, or the study
            may only be read.
        NotSaved: Where the disk refuses; nothing is planned then.
    """
    study = opened.study
    seat = study.seat(number)
    person = study.person_by_code[seat.participant]
    if person.left or person.erased:
        raise Refused(f"{person.code} {'was erased' if person.erased else 'left'}.", "Nothing was planned.")
    phase = opened.phase(number)
    if phase is Phase.EMPTY:
        raise Refused(f"Sitting {number} is still to be run.", "Run that one; nothing was changed.")
    if phase not in (Phase.ENDED, Phase.BROKEN_OFF):
        raise Refused(f"Sitting {number} has not ended.", "End it or break it off first; nothing was changed.")
    for other in study.seats:
        same = (other.participant, other.chair) == (seat.participant, seat.chair)
        if same and opened.phase(other.number) is Phase.EMPTY:
            raise Refused(f"Sitting {other.number} is planned for that already.", "Run that one; nothing was changed.")
    cards = tuple(card for card in seat.cards if not study.card_by_id[card].dropped)
    again = replace(seat, number=max(each.number for each in study.seats) + 1, cards=cards)
    opened.amend(replace(study, seats=(*study.seats, again)))
    return again
