"""The words beside the plan on the board: the readiness of each part, and a word for people and chairs."""

from typing import Literal

from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.people import lacking_consents, screened
from fresh_chair.core.plan.study import Study

State = Literal["ready", "open", "wrong"]


@frozen
class Part:
    """One part of the plan and how far it is.

    Attributes:
        id: Its name, by which its sheet is opened.
        state: ready; open where something could still be said; wrong where sittings would suffer from it.
        words: What is there, and what is not.
    """

    id: str
    title: str
    state: State
    words: str


@frozen
class Readiness:
    """The readiness of all parts, and the words beside people and chairs on the board.

    Attributes:
        people: A word for each person whom something keeps from sitting down, by code.
        chairs: How many fields of each chair are still empty, by letter.
    """

    parts: tuple[Part, ...]
    people: dict[str, str]
    chairs: dict[str, int]


def people_marks(study: Study, *, seen: bool = True) -> dict[str, str]:
    """A word for each person whom something keeps from sitting down, or who is not counted, by code.

    Args:
        study: The plan.
        seen: False where nothing but their codes is seen: nobody lacks anything then, as far as is known.
    """
    said = {}
    for person in study.people:
        if person.erased:
            said[person.code] = "erased"
        elif person.left:
            said[person.code] = "left"
        elif not seen:
            continue
        elif screened(person, study.sheet.screener).result == "failed":
            said[person.code] = "not the one"
        elif lacking_consents(person, study.sheet.consents):
            said[person.code] = "consent?"
        elif screened(person, study.sheet.screener).result == "open":
            said[person.code] = "screener?"
        elif person.role != "participant":
            said[person.code] = person.role
    return said
