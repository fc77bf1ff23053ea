"""The plan of a study, in and out of its file."""

import sqlite3
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from fresh_chair.core.clock import Moment
from fresh_chair.core.codec import Unfit, built, plain_json
from fresh_chair.core.errors import FileProblem
from fresh_chair.core.plan.study import Study
from fresh_chair.store.sqlite.study_file import StudyFile
from fresh_chair.store.sqlite.troubles import reading, writing

if TYPE_CHECKING:
    from fresh_chair.core.plan.changes import Change, Difference


class Plans:
    """Reads and writes the plan."""

    def __init__(self, file: StudyFile) -> None:
        self._file = file

    def write(self, study: Study, made: Moment, *, script: str | None = None, author: str = "") -> None:
        """Put a whole new study into an empty file, with its script as it was written where there is one.

        Raises:
            NotSaved: Where the disk refuses; the file is then still empty.
        """
        from fresh_chair.store.sqlite.rows import add_script, insert_study

        with writing(self._file.name), self._file.engine.begin() as connection:
            insert_study(connection, study, made)
            if script is not None:
                add_script(connection, script, made, author)

    def amend(
        self,
        old: Study,
        new: Study,
        changes: "Sequence[Difference]",
        *,
        moment: Moment,
        author: str,
        sittings: int,
        script: str | None = None,
    ) -> None:
        """Replace the plan by a changed one, and put the differences on record: all or nothing.

        Args:
            sittings: How many had begun.
            script: The script's new text, where it changed.

        Raises:
            NotSaved: Where the disk refuses; nothing is changed then.
        """
        from fresh_chair.store.sqlite.rows import add_changes, add_script, replace_plan

        with writing(self._file.name), self._file.engine.begin() as connection:
            replace_plan(connection, old, new)
            add_changes(connection, changes, moment, author, sittings)
            if script is not None:
                add_script(connection, script, moment, author)

    def script(self) -> str | None:
        """The script as it was last written; None where its cards came from elsewhere."""
        found = self._file.read("SELECT text FROM script ORDER BY number DESC LIMIT 1")
        return str(found[0][0]) if found else None

    def changes(self) -> "list[Change]":
        """The dated changes, in their order."""
        from fresh_chair.core.plan.changes import Change

        return self._file.listed(Change, "SELECT * FROM change ORDER BY number", "change")

    def read(self) -> Study:
        """The study in the file.

        Raises:
            FileProblem: Where what is there is no study, naming each reason.
        """
        name = self._file.name
        try:
            with reading(name), self._file.rows() as rows:
                head = rows.execute("SELECT id, title, question, sample, seed, sheet FROM study").fetchone()
                if head is None:
                    raise FileProblem(f"{name} has no study in it.", "It was never finished.")
                raw: dict[str, Any] = {
                    **dict(head),
                    **{part: _bodies(rows, table) for part, table in _PARTS.items()},
                    "seats": [
                        {**dict(row), "cards": plain_json(row["cards"])}
                        for row in rows.execute(
                            "SELECT number, participant, chair, position, cards FROM seat ORDER BY number"
                        )
                    ],
                }
            raw["sample"] = bool(raw["sample"])
            raw["sheet"] = plain_json(raw["sheet"])
            study: Study = built(Study, raw, "")
        except Unfit as problem:
            raise FileProblem(f"{name} holds a plan that cannot be used: {problem}.") from problem
        except ValueError as problem:
            raise FileProblem(f"{name} holds a plan that is not JSON.", "It was left as it is.") from problem
        return study


_PARTS = {"machines": "machine", "chairs": "chair", "cards": "card", "people": "person", "carried": "carried"}


def _bodies(rows: sqlite3.Connection, table: str) -> list[Any]:
    return [plain_json(row[0]) for row in rows.execute(f"SELECT body FROM {table} ORDER BY place")]
