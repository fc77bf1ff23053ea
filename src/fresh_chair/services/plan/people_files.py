"""People from a CSV file, and into one."""

from collections.abc import Mapping
from pathlib import Path

from fresh_chair.core.errors import InputError
from fresh_chair.core.plan.text.people_csv import (
    MOST_BYTES,
    PeopleFound,
    PeopleTable,
    people_in,
    people_rows,
    read_table,
)
from fresh_chair.core.text import count_of
from fresh_chair.services.plan.people import MOST_PEOPLE
from fresh_chair.services.plan.plan_changes import change_plan, replaced
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.system.files import Written, name_of, read_bytes, write_file


def open_table(path: Path) -> PeopleTable:
    """The table in a file.

    Raises:
        FileProblem: Where it cannot be read.
        InputError: Where it is no table.
    """
    data = read_bytes(path, MOST_BYTES, kept="Nobody was added.", what="a table of people")
    return read_table(data, name=name_of(path))


def look_through(opened: OpenStudy, table: PeopleTable, mapping: Mapping[int, str]) -> PeopleFound:
    """The people that the table's rows would add to the study."""
    return people_in(table, mapping, opened.study.sheet, [person.code for person in opened.study.people])


def take_people(opened: OpenStudy, found: PeopleFound) -> int:
    """Add the people that were found, all or none; returns how many.

    Raises:
        InputError: Where there is nobody to add, or too many.
        Refused, NotSaved: As `change_plan`.
    """
    if not found.people:
        raise InputError("Nobody in this table can be added.", "See the reasons beside it.")
    if len(opened.study.people) + len(found.people) > MOST_PEOPLE:
        raise InputError(f"A study holds at most {MOST_PEOPLE} people.", "Nobody was added.")
    change_plan(opened, replaced(opened, people=(*opened.study.people, *found.people)))
    return len(found.people)


def write_people(opened: OpenStudy, path: Path) -> Written:
    """Write the people of the study into a CSV file. Raises OutsideError where the disk refuses."""
    from fresh_chair.tell.tables import people_csv

    header, rows = people_rows(opened.study.people, opened.study.sheet)
    return write_file(path, people_csv(header, rows).encode(), f"{count_of(len(rows), 'person', 'people')}")
