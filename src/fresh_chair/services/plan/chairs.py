"""The chairs of a study: added, copied, taken out, carried over from another study."""

from dataclasses import fields, replace
from typing import Any

from fresh_chair.core.checks.parser import at_letters
from fresh_chair.core.errors import InputError
from fresh_chair.core.plan.cards import BY_CHAIR, TaskCard
from fresh_chair.core.plan.chairs import Chair, Machine
from fresh_chair.core.plan.study import Study
from fresh_chair.core.text import legible
from fresh_chair.services.plan.plan_changes import change_plan, made, replaced
from fresh_chair.services.study.open_study import OpenStudy


def free_letter(study: Study) -> str:
    """The first letter that no chair has.

    Raises:
        InputError: Where all are taken.
    """
    taken = set(study.chair_by_letter)
    letter = next((each for each in map(chr, range(ord("A"), ord("Z") + 1)) if each not in taken), None)
    if letter is None:
        raise InputError("A study holds at most 26 chairs, one for each letter.", "Nothing was changed.")
    return letter


def add_chair(opened: OpenStudy, name: str, release: str, desktop: str, *, machine: str = "") -> Chair:
    """One more chair, on the machine named, or on one of its own.

    Raises:
        InputError: Where a part is missing or cannot be so.
    """
    study = opened.study
    machines = study.machines
    if not machine:
        taken = {each.id for each in machines}
        machine = next(each for n in range(1, 100) if (each := f"machine-{n}") not in taken)
        machines = (*machines, Machine(id=machine, name=f"machine {machine.removeprefix('machine-')}"))
    values = {"letter": free_letter(study), "name": name, "release": release, "desktop": desktop, "machine": machine}
    chair: Chair = made(Chair, values, "The chair")
    change_plan(opened, replaced(opened, chairs=(*study.chairs, chair), machines=machines))
    return chair


def copy_chair(opened: OpenStudy, letter: str) -> Chair:
    """A copy of a chair under a letter of its own; its particulars are changed afterwards."""
    study = opened.study
    copy = replace(_chair(study, letter), letter=free_letter(study), hue=0)
    change_plan(opened, replaced(opened, chairs=(*study.chairs, copy)))
    return copy


def remove_chair(opened: OpenStudy, letter: str) -> None:
    """Take out a chair without sittings. Raises Refused where it has some."""
    study = opened.study
    _chair(study, letter)
    cards = tuple(_without_chair(card, letter) for card in study.cards)
    groups = tuple(replace(g, chairs=tuple(c for c in g.chairs if c != letter)) for g in study.sheet.groups)
    comparing = study.sheet.comparing
    pairs = tuple("-".join(pair) for pair in comparing.pairs_of_letters if letter not in pair)
    used = {chair.machine for chair in study.chairs if chair.letter != letter} | opened.machines_sat_at
    used |= {m.id for m in study.machines if m.id != study.chair_by_letter[letter].machine}
    change_plan(
        opened,
        replaced(
            opened,
            chairs=tuple(chair for chair in study.chairs if chair.letter != letter),
            machines=tuple(m for m in study.machines if m.id in used),
            cards=cards,
            sheet=replace(
                study.sheet,
                groups=tuple(group for group in groups if group.chairs),
                comparing=replace(comparing, pairs=pairs),
            ),
            carried=tuple(finding for finding in study.carried if finding.chair != letter),
        ),
    )


def altered(study: Study, letter: str, words: str) -> Study:
    """The plan with one more alteration of a chair. Raises InputError where there is no such chair, or it cannot be."""
    chair = _chair(study, letter)
    parts = {part.name: getattr(chair, part.name) for part in fields(chair)}
    listed = {name: list(value) if isinstance(value, tuple) else value for name, value in parts.items()}
    listed["alterations"] = [*chair.alterations, words]
    return _with_chair(study, made(Chair, listed, "The alteration"))


def moved(study: Study, letter: str, machine: str) -> tuple[Study, str]:
    """The plan with a chair on another machine, known by its name or id or new; and that machine's name.

    Raises:
        InputError: Where there is no such chair, or it stands there already.
    """
    chair, machines = _chair(study, letter), study.machines
    found = next((m for m in machines if machine.casefold() in (m.id.casefold(), m.name.casefold())), None)
    if found is not None and found.id == chair.machine:
        raise InputError(f"The chair stands on {legible(found.name)} already.", "Nothing was changed.")
    if found is None:
        taken = {each.id for each in machines}
        name = next(each for n in range(1, 1000) if (each := f"machine-{n}") not in taken)
        found = made(Machine, {"id": name, "name": machine}, "The machine")
        machines = (*machines, found)
    return _with_chair(replace(study, machines=machines), replace(chair, machine=found.id)), found.name


def _with_chair(study: Study, chair: Chair) -> Study:
    return replace(study, chairs=tuple(chair if each.letter == chair.letter else each for each in study.chairs))


def _chair(study: Study, letter: str) -> Chair:
    chair = study.chair_by_letter.get(letter)
    if chair is None:
        raise InputError(f"There is no chair {legible(letter[:3])} in this study.", "Nothing was changed.")
    return chair


def _without_chair(card: TaskCard, letter: str) -> TaskCard:
    parts: dict[str, Any] = {
        name: {key: value for key, value in getattr(card, name).items() if key != letter} for name in BY_CHAIR
    }
    checks = tuple(kept for line in card.checks if (kept := at_letters(line, {letter: ""})))
    return replace(card, **parts, checks=checks)
