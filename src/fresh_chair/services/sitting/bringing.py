"""Marks of a station that died, brought by hand from its disk."""

from pathlib import Path

from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.text import legible
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.study.taking_back import offer
from fresh_chair.store.spool import brought


def bring_marks(opened: OpenStudy, file: Path) -> int:
    """Bring in the marks that a station has left in a file, wherever that lay; returns how many were not there yet.

    Raises:
        InputError: Where the file holds no marks, or those of another study.
        Refused: Where one of them cannot follow on what is there; the others were brought in.
        FileProblem, NotSaved: Where the study cannot be read or written.
    """
    leftover = brought(file)
    try:
        if leftover.study != opened.study.id:
            raise InputError("Those marks belong to another study.", "Nothing was brought.")
        found = {number: list(entries) for number, entries in opened.entries.items()}
        link = opened.store.link
        beside = None if link is None else link.seat_beside
        offered = offer(opened.study, opened.journals, leftover, found, beside=beside)
    finally:
        leftover.let_go()
    opened.reload()
    if offered.refused or offered.early:
        raise Refused(f"Some marks in {legible(file.name)} do not follow on what is there.", "They stay in the file.")
    return offered.added
