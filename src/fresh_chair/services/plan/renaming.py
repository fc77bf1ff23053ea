"""Another letter for a chair, another code for a person, everywhere in a plan; only before they were used."""

from dataclasses import replace
from typing import Any

from fresh_chair.core.checks.parser import at_letters
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.plan.cards import BY_CHAIR, TaskCard
from fresh_chair.core.plan.study import Study
from fresh_chair.services.plan.plan_changes import replaced
from fresh_chair.services.study.open_study import OpenStudy


def renamed_chair(opened: OpenStudy, letter: str, new: str) -> Study:
    """The plan with another letter for a chair.

    Raises:
        Refused: Where somebody has sat there, or hunches name it.
        InputError: Where it is no letter, or another chair has it.
    """
    study = opened.study
    if letter == new:
        return study
    if any(seat.chair == letter and seat.number in opened.begun for seat in study.seats):
        raise Refused(f"Somebody has sat at {letter}; its letter stays.", "Nothing was changed.")
    if any(hunch.chair == letter for hunch in opened.hunches):
        raise Refused(f"Hunches name chair {letter}; its letter stays.", "Nothing was changed.")
    if new in study.chair_by_letter:
        raise InputError(f"Chair {new} is there already.", "Nothing was changed.")
    chair = study.chair_by_letter[letter]
    renamed = _renamed(chair, letter=new)
    groups = tuple(
        replace(group, chairs=tuple(new if each == letter else each for each in group.chairs))
        for group in study.sheet.groups
    )
    comparing = study.sheet.comparing
    pairs = tuple("-".join(new if each == letter else each for each in pair) for pair in comparing.pairs_of_letters)
    return replaced(
        opened,
        chairs=tuple(renamed if each.letter == letter else each for each in study.chairs),
        cards=tuple(_card(card, letter, new) for card in study.cards),
        sheet=replace(study.sheet, groups=groups, comparing=replace(comparing, pairs=pairs)),
        carried=tuple(replace(f, chair=new) if f.chair == letter else f for f in study.carried),
        seats=tuple(replace(seat, chair=new) if seat.chair == letter else seat for seat in study.seats),
    )


def renamed_person(opened: OpenStudy, code: str, new: str) -> Study:
    """The plan with another code for a person.

    Raises:
        Refused: Where they have sat.
        InputError: Where it is no code, or somebody has it.
    """
    study = opened.study
    if code == new:
        return study
    if any(seat.participant == code and seat.number in opened.begun for seat in study.seats):
        raise Refused(f"{code} has sat; the code stays.", "Nothing was changed.")
    if any(person.code.casefold() == new.casefold() != code.casefold() for person in study.people):
        raise InputError(f"{new} is in this study already.", "Nothing was changed.")
    person = study.person_by_code[code]
    renamed = _renamed(person, code=new)
    people = tuple(
        renamed if each.code == code else replace(each, replaces=new) if each.replaces == code else each
        for each in study.people
    )
    seats = tuple(replace(seat, participant=new) if seat.participant == code else seat for seat in study.seats)
    return replaced(opened, people=people, seats=seats)


def _card(card: TaskCard, letter: str, new: str) -> TaskCard:
    parts: dict[str, Any] = {
        name: {new if key == letter else key: value for key, value in getattr(card, name).items()} for name in BY_CHAIR
    }
    checks = tuple(at_letters(line, {letter: new}) or line for line in card.checks)
    return replace(card, **parts, checks=checks)


def _renamed(part: Any, **name: str) -> Any:
    try:
        return replace(part, **name)
    except ValueError as problem:
        raise InputError(f"That cannot be: {problem}.", "Nothing was changed.") from problem
