"""The plan of a study, in and out of its file."""

import json
from typing import Any

from pydantic import ValidationError
from sqlalchemy import Table, insert, select

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import FileProblem
from fresh_chair.core.outline import reasons
from fresh_chair.core.study import Participant, Seat, Study
from fresh_chair.store import tables
from fresh_chair.store.study_file import StudyFile
from fresh_chair.store.troubles import reading, writing


class Plans:
    """Reads and writes what was decided before anyone sat down."""

    def __init__(self, file: StudyFile) -> None:
        self._file = file

    def write(self, study: Study, made: Moment) -> None:
        """Put a whole new study into an empty file.

        Raises:
            NotSaved: Where the disk refuses; the file is then still empty.
        """
        head = study.model_dump(include={"id", "title", "question", "audience", "sample", "seed"})
        with writing(self._file.name), self._file.engine.begin() as connection:
            connection.execute(insert(tables.study).values(**head, made_wall_ns=made.wall_ns))
            for table, key, values in (
                (tables.chair, "letter", study.chairs),
                (tables.card, "id", study.cards),
                (tables.person, "code", study.people),
            ):
                rows = [
                    {key: getattr(value, key), "place": place, "body": value.model_dump(mode="json")}
                    for place, value in enumerate(values)
                ]
                if rows:
                    connection.execute(insert(table), rows)
            if study.seats:
                connection.execute(insert(tables.seat), [_seat_row(seat) for seat in study.seats])

    def add_person(self, person: Participant, seats: tuple[Seat, ...], place: int) -> None:
        """Add one person with their seats.

        Raises:
            NotSaved: Where the disk refuses; nobody is added then.
        """
        with writing(self._file.name), self._file.engine.begin() as connection:
            row = {"code": person.code, "place": place, "body": person.model_dump(mode="json")}
            connection.execute(insert(tables.person), [row])
            if seats:
                connection.execute(insert(tables.seat), [_seat_row(seat) for seat in seats])

    def read(self) -> Study:
        """The study in the file.

        Raises:
            FileProblem: Where what is there is no study, naming each reason.
        """
        name = self._file.name
        with reading(name), self._file.engine.connect() as connection:
            head = connection.execute(select(tables.study)).mappings().first()
            if head is None:
                raise FileProblem(f"{name} has no study in it.", "It was never finished.")
            columns = ("number", "participant", "chair", "position", "cards")
            seats = connection.execute(select(tables.seat).order_by(tables.seat.c.number)).mappings().all()
            raw: dict[str, Any] = {
                **{key: head[key] for key in ("id", "title", "question", "audience", "sample", "seed")},
                "chairs": connection.execute(_bodies(tables.chair)).scalars().all(),
                "cards": connection.execute(_bodies(tables.card)).scalars().all(),
                "people": connection.execute(_bodies(tables.person)).scalars().all(),
                "seats": [{column: row[column] for column in columns} for row in seats],
            }
        try:
            return Study.model_validate(raw)
        except ValidationError as problem:
            raise FileProblem(f"{name} holds a plan that cannot be used:\n{reasons(problem)}") from problem
        except json.JSONDecodeError as problem:
            raise FileProblem(f"{name} holds a plan that is not JSON.") from problem


def _bodies(table: Table) -> Any:
    return select(table.c.body).order_by(table.c.place)


def _seat_row(seat: Seat) -> dict[str, Any]:
    return {**seat.model_dump(exclude={"cards"}), "cards": list(seat.cards)}
