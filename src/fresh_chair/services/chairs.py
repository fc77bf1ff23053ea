"""The chairs of a study: added, copied, taken out, carried over from another study."""

from dataclasses import replace
from pathlib import Path
from typing import Any

from fresh_chair.core.cards import BY_CHAIR, TaskCard
from fresh_chair.core.chairs import CarriedFinding, Chair, Machine
from fresh_chair.core.errors import InputError
from fresh_chair.core.study import Study
from fresh_chair.core.text import legible
from fresh_chair.core.witness.check_text import at_letters
from fresh_chair.services.desk import Desk, open_desk
from fresh_chair.services.planning import change_plan, made, replaced
from fresh_chair.services.sorting import piles_of


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


def add_chair(desk: Desk, name: str, release: str, desktop: str, *, machine: str = "") -> Chair:
    """One more chair, on the machine named, or on one of its own.

    Raises:
        InputError: Where a part is missing or cannot be so.
    """
    study = desk.study
    machines = study.machines
    if not machine:
        taken = {each.id for each in machines}
        machine = next(each for n in range(1, 100) if (each := f"machine-{n}") not in taken)
        machines = (*machines, Machine(id=machine, name=f"machine {machine.removeprefix('machine-')}"))
    values = {"letter": free_letter(study), "name": name, "release": release, "desktop": desktop, "machine": machine}
    chair: Chair = made(Chair, values, "The chair")
    change_plan(desk, replaced(desk, chairs=(*study.chairs, chair), machines=machines))
    return chair


def copy_chair(desk: Desk, letter: str) -> Chair:
    """A chair like another one, under a letter of its own; what is particular to it is changed afterwards."""
    study = desk.study
    copy = replace(_chair(study, letter), letter=free_letter(study), hue=0)
    change_plan(desk, replaced(desk, chairs=(*study.chairs, copy)))
    return copy


def remove_chair(desk: Desk, letter: str) -> None:
    """Take a chair out on which nobody has sat. Raises Refused where somebody has."""
    study = desk.study
    _chair(study, letter)
    cards = tuple(_without_chair(card, letter) for card in study.cards)
    groups = tuple(replace(g, chairs=tuple(c for c in g.chairs if c != letter)) for g in study.sheet.groups)
    used = {chair.machine for chair in study.chairs if chair.letter != letter}
    change_plan(
        desk,
        replaced(
            desk,
            chairs=tuple(chair for chair in study.chairs if chair.letter != letter),
            machines=tuple(m for m in study.machines if m.id in used or m.id != study.chair_by_letter[letter].machine),
            cards=cards,
            sheet=replace(study.sheet, groups=tuple(group for group in groups if group.chairs)),
            carried=tuple(finding for finding in study.carried if finding.chair != letter),
        ),
    )


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


def _open_other(desk: Desk, path: Path) -> Desk:
    """Another study, for reading."""
    if path.exists() and path.samefile(desk.file.path):
        raise InputError("That is this study's own file.", "Copy the chair instead.")
    return open_desk(path, write=False)


def chairs_in(desk: Desk, path: Path) -> list[tuple[str, str]]:
    """Letters and titles of the chairs in another study's file.

    Raises:
        FileProblem: Where the file is none.
        InputError: Where it is this study's own file.
    """
    other = _open_other(desk, path)
    try:
        return [(chair.letter, chair.title) for chair in other.study.chairs]
    finally:
        other.close()


def carry_over(desk: Desk, path: Path, letter: str) -> tuple[Chair, int]:
    """Bring a chair over from another study file, with its machine and with what was found there.

    Returns:
        The chair under its new letter, and the number of findings that came with it.

    Raises:
        FileProblem: Where the file is none.
        InputError: Where it has no such chair, or is this study's own file.
    """
    other = _open_other(desk, path)
    try:
        source, piles = other.study, piles_of(other)
    finally:
        other.close()
    old = source.chair_by_letter.get(letter)
    if old is None:
        raise InputError(
            f"{other.file.name} has no chair {letter[:3]}.", f"It has {', '.join(source.chair_by_letter) or 'none'}."
        )
    study = desk.study
    machine = source.machine_of(old)
    taken = {each.id: each for each in study.machines}
    if machine.id in taken and taken[machine.id] != machine:
        machine = replace(machine, id=next(i for n in range(2, 99) if (i := f"{machine.id[:36]}-{n}") not in taken))
    chair = replace(old, letter=free_letter(study), machine=machine.id, hue=0)
    findings = []
    for finding in piles.findings:
        spread = next((each for each in finding.spread if each.chair == letter), None)
        if spread is None or not spread.people:
            continue
        findings.append(
            CarriedFinding(
                id=f"{chair.letter}-{finding.id}",
                chair=chair.letter,
                title=finding.title,
                severity=finding.severity,
                seen_by=len(spread.people),
                tried=len(spread.tried),
                source=source.title,
                source_id=source.id,
            )
        )
    machines = study.machines if machine.id in taken else (*study.machines, machine)
    carried = (*study.carried, *findings)
    change_plan(desk, replaced(desk, chairs=(*study.chairs, chair), machines=machines, carried=carried))
    return chair, len(findings)
