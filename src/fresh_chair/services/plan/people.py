"""The people of a study: invited, let go, replaced."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.plan.people import Participant, Role, participant_code
from fresh_chair.core.plan.study import Study
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.plan.plan_changes import change_plan, replaced
from fresh_chair.services.study.open_study import OpenStudy

MOST_PEOPLE = 400


def add_person(
    opened: OpenStudy, code: str, *, role: Role = "participant", replaces: str = "", group: str = ""
) -> Participant:
    """Invite one more person, with seats at the chairs of their group.

    Args:
        replaces: Who left and whose order of chairs they take over.

    Raises:
        InputError: Where the text is no code, or somebody has it already, or nobody left whose place is to be taken.
        NotSaved: Where the disk refuses; nobody is invited then.
    """
    study = opened.study
    code = participant_code(code.strip())
    if any(person.code.casefold() == code.casefold() for person in study.people):
        raise InputError(f"{code} is in this study already.", "Choose another code.")
    if len(study.people) >= MOST_PEOPLE:
        raise InputError(f"A study holds at most {MOST_PEOPLE} people.", "Nobody was added.")
    if replaces:
        before = study.person_by_code.get(replaces)
        if before is None or not before.left:
            raise InputError(f"{replaces} has not left; their place is not free.", "Nobody was added.")
        if any(person.replaces == replaces for person in study.people):
            raise InputError(f"Somebody has taken the place of {replaces} already.", "Nobody was added.")
        group = before.group
    elif not group and study.sheet.groups:
        group = _emptiest(study)
    person = Participant(code=code, role=role, replaces=replaces, group=group)
    change_plan(opened, replaced(opened, people=(*study.people, person)))
    return person


def add_several(opened: OpenStudy, count: int) -> None:
    """Invite that many more participants under the next free codes, all or none.

    Raises:
        InputError: Where the study cannot hold so many.
    """
    if len(opened.study.people) + count > MOST_PEOPLE:
        raise InputError(f"A study holds at most {MOST_PEOPLE} people.", "Nobody was added.")
    study = opened.study
    for _ in range(count):
        group = _emptiest(study) if study.sheet.groups else ""
        study = replace(study, people=(*study.people, Participant(code=next_code(study), group=group)))
    change_plan(opened, study)


def _emptiest(study: Study) -> str:
    """The group with the fewest people who still take part."""
    counts = {
        g.name: sum(p.group == g.name and not p.left and p.counts for p in study.people) for g in study.sheet.groups
    }
    return min(counts, key=lambda name: counts[name])


def next_code(study: Study, role: Role = "participant") -> str:
    """A free code of the kind the study uses."""
    stem = {"participant": "P", "pilot": "T", "expert": "E", "reviewer": "R"}[role]
    taken = {person.code.casefold() for person in study.people}
    width = 2 if role == "participant" else 1
    return next(c for n in range(1, 1000) if (c := f"{stem}{n:0{width}}").casefold() not in taken)


def let_go(opened: OpenStudy, code: str, why: str) -> None:
    """A participant takes part no more; their seats to come are taken away, their sittings stay.

    Raises:
        InputError: Where there is nobody of this code, or no reason.
        Refused: Where they are sitting right now.
    """
    person = person_of(opened, code)
    if not why.strip():
        raise InputError("Say why they left, so that the report can.", "Nothing was changed.")
    if any(seat.participant == code for seat in opened.cut_short()):
        raise Refused(f"{code} is sitting right now.", "End or break off the sitting first.")
    change_person(opened, replace(person, left=why.strip()[:200]))


def today(opened: OpenStudy) -> str:
    """The day by the study's clock, as a date."""
    return date.fromtimestamp(opened.clock.now().wall_ns / SECOND).isoformat()


def agree(opened: OpenStudy, code: str, consents: Sequence[str]) -> None:
    """Put down a person's consents of today; an earlier date of the same one stays.

    Args:
        opened: The study.
        code: Who agreed.
        consents: Ids of what they agreed to, each said by itself; nothing is ever taken as given.

    Raises:
        InputError: Where there is nobody of this code, nothing is named, or the study asks for no such thing.
        Refused: Where they were erased.
    """
    person = person_of(opened, code)
    if person.erased:
        raise Refused(f"{code} was erased on {person.erased}.")
    known = [consent.id for consent in opened.study.sheet.consents]
    if not known:
        raise InputError("The study sheet asks for no consent yet.", "Say on it what people are asked to agree to.")
    strange = [name for name in consents if name not in known]
    if strange:
        said = f"Nobody is asked to agree to “{legible(clipped(strange[0], 40))}”."
        raise InputError(said, f"It is one of: {', '.join(known)}. Nothing was changed.")
    if not consents:
        raise InputError("Say to what they agreed.", f"It is one of: {', '.join(known)}.")
    day = today(opened)
    change_person(opened, replace(person, consents=dict.fromkeys(consents, day) | person.consents))


def change_person(opened: OpenStudy, person: Participant) -> None:
    """Put a changed person in the place of the one of the same code. Raises as `change_plan`."""
    people = tuple(person if each.code == person.code else each for each in opened.study.people)
    change_plan(opened, replaced(opened, people=people))


def person_of(opened: OpenStudy, code: str) -> Participant:
    """The person with a code. Raises InputError where there is none."""
    person = opened.study.person_by_code.get(code)
    if person is None:
        raise InputError(f"There is nobody called {code} in this study.", "Nothing was changed.")
    return person
