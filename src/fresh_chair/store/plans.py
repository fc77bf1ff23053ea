"""The plan of a study, in and out of its file."""

import json
import sqlite3
from typing import Any

from fresh_chair.core.clock import Moment
from fresh_chair.core.codec import Unfit, built
from fresh_chair.core.errors import FileProblem
from fresh_chair.core.study import Participant, Seat, Study
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
        from fresh_chair.store.rows import insert_study

        with writing(self._file.name), self._file.engine.begin() as connection:
            insert_study(connection, study, made)

    def add_person(self, person: Participant, seats: tuple[Seat, ...], place: int) -> None:
        """Add one person with their seats.

        Raises:
            NotSaved: Where the disk refuses; nobody is added then.
        """
        from fresh_chair.store.rows import insert_person

        with writing(self._file.name), self._file.engine.begin() as connection:
            insert_person(connection, person, seats, place)

    def read(self) -> Study:
        """The study in the file.

        Raises:
            FileProblem: Where what is there is no study, naming each reason.
        """
        name = self._file.name
        try:
            with reading(name), self._file.rows() as rows:
                head = rows.execute(f"SELECT {', '.join(_HEAD)} FROM study").fetchone()
                if head is None:
                    raise FileProblem(f"{name} has no study in it.", "It was never finished.")
                raw: dict[str, Any] = {
                    **dict(head),
                    **{part: _bodies(rows, table) for part, table in _PARTS.items()},
                    "seats": [
                        {**dict(row), "cards": json.loads(row["cards"])}
                        for row in rows.execute(
                            "SELECT number, participant, chair, position, cards FROM seat ORDER BY number"
                        )
                    ],
                }
            raw["sample"] = bool(raw["sample"])
            study: Study = built(Study, raw, "")
        except Unfit as problem:
            raise FileProblem(f"{name} holds a plan that cannot be used: {problem}.") from problem
        except json.JSONDecodeError as problem:
            raise FileProblem(f"{name} holds a plan that is not JSON.") from problem
        return study


_HEAD = ("id", "title", "question", "audience", "sample", "seed")
_PARTS = {"chairs": "chair", "cards": "card", "people": "person"}


def _bodies(rows: sqlite3.Connection, table: str) -> list[Any]:
    return [json.loads(row[0]) for row in rows.execute(f"SELECT body FROM {table} ORDER BY place")]
