"""The plan of a study, in and out of its tables."""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any

from fresh_chair.core.clock import Moment
from fresh_chair.core.codec import Unfit, built, plain_json
from fresh_chair.core.errors import FileProblem
from fresh_chair.core.plan.study import Study
from fresh_chair.store.tables.database import Database, listed
from fresh_chair.store.tables.rows import DOCUMENT
from fresh_chair.store.tables.statements import Row

if TYPE_CHECKING:
    from fresh_chair.core.ledger import Signatures
    from fresh_chair.core.plan.chair_states import ChairState
    from fresh_chair.core.plan.changes import Change, Difference


class Plans:
    """Reads and writes the plan."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._revision = 0

    def write(self, study: Study, made: Moment, *, script: str | None = None, author: str = "") -> None:
        """Put a whole new study into empty tables, with its script as it was written where there is one.

        Raises:
            NotSaved: Where the database refuses; they are still empty then.
        """
        from fresh_chair.core.plan.chair_states import first_states
        from fresh_chair.store.tables.plan_rows import add_script, insert_study

        with self._database.changing(study.id) as rows:
            insert_study(rows, study, made, first_states(study))
            if script is not None:
                add_script(rows, script, made, author)
        self._revision = 1

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
        states: "Sequence[ChairState]" = (),
    ) -> None:
        """Replace the plan by a changed one, and put the differences on record: all or nothing.

        Args:
            sittings: How many had begun.
            script: The script's new text, where it changed.
            states: The states of chairs that the change brings.

        Raises:
            Overtaken: Where the plan was changed since it was read, or a sitting it changes has begun.
            NotSaved: Where the database refuses; nothing is changed then.
        """
        from fresh_chair.store.tables.plan_rows import (
            add_changes,
            add_script,
            put_states,
            raise_revision,
            replace_plan,
        )

        with self._database.changing() as rows:
            raise_revision(rows, self._revision)
            replace_plan(rows, old, new)
            put_states(rows, states)
            add_changes(rows, changes, moment, author, sittings)
            if script is not None:
                add_script(rows, script, moment, author)
        self._revision += 1

    def overtaken(self) -> bool:
        """True where the plan was changed by another program since it was read here. Raises FileProblem."""
        found = self._database.read("SELECT revision FROM study WHERE id = ?", (self._database.study_id,))
        return bool(found) and found[0][0] != self._revision

    def script(self) -> str | None:
        """The script as it was last written; None where its cards came from elsewhere."""
        query = "SELECT text FROM script WHERE study = ? ORDER BY number DESC LIMIT 1"
        found = self._database.read(query, (self._database.study_id,))
        return str(found[0][0]) if found else None

    def signatures(self) -> "Signatures":
        """The signatures under the study's entries; none in a file. Raises FileProblem."""
        return self._database.signatures()

    def changes(self) -> "list[Change]":
        """The dated changes, in their order."""
        from fresh_chair.core.plan.changes import Change

        query = (
            'SELECT number, wall_ns, author, path, "before", "after", sittings FROM change '
            "WHERE study = ? ORDER BY number"
        )
        return listed(self._database, Change, query, "change")

    def chair_states(self) -> "dict[str, list[ChairState]]":
        """The states of every chair of the plan, oldest first, by its letter. Raises FileProblem."""
        from fresh_chair.core.plan.chair_states import ChairState

        query = (
            "SELECT chair.letter, state.number, state.since_wall_ns, state.version, state.body FROM chair_state AS "
            "state JOIN chair ON chair.study = state.study AND chair.id = state.chair "
            "WHERE state.study = ? AND NOT chair.gone ORDER BY chair.position, state.number"
        )
        found: dict[str, list[ChairState]] = {}
        for row in self._database.read(query, (self._database.study_id,)):
            own = {"number": row["number"], "since_wall_ns": row["since_wall_ns"]}
            with self._readable():
                state = built(ChairState, {**own, **self._document(row)}, "")
            found.setdefault(row["letter"], []).append(state)
        return found

    def states_of_sittings(self) -> dict[int, int]:
        """The number of the state its chair was in, for every sitting that has begun, by the sitting's number."""
        query = "SELECT number, state FROM seat WHERE study = ? AND state IS NOT NULL"
        return {row["number"]: row["state"] for row in self._database.read(query, (self._database.study_id,))}

    def read(self) -> Study:
        """The study in the tables.

        Raises:
            FileProblem: Where what is there is no study, naming each reason.
        """
        name = self._database.name
        study_id = self._database.study_id
        with self._database.look() as look:
            heads = look(_HEAD, (study_id,))
            if not heads:
                raise FileProblem(f"{name} has no study in it.", "It was never finished.")
            head = heads[0]
            documents = {part: look(query, (study_id,)) for part, query in _DOCUMENTS.items()}
            documents["people"] = look(self._database.people_query, (study_id,))
            seats = look(_SEATS, (study_id,))
        with self._readable():
            own = {key: head[key] for key in ("id", "title", "question", "seed")}
            raw: dict[str, Any] = {
                **own,
                "sample": bool(head["sample"]),
                "sheet": self._document(head, "sheet"),
                **{part: [self._document(row) for row in found] for part, found in documents.items()},
                "seats": [{**dict(row), "cards": plain_json(row["cards"])} for row in seats],
            }
            for person, row in zip(raw["people"], documents["people"], strict=True):
                if isinstance(person, dict):
                    person["role"] = row["role"]
            study: Study = built(Study, raw, "")
        self._revision = head["revision"]
        return study

    def _document(self, row: Row, column: str = "body") -> Any:
        """A part of the plan from its row. Raises FileProblem where a newer program wrote it, ValueError for others."""
        if row["version"] != DOCUMENT:
            raise FileProblem(
                f"{self._database.name} holds a plan that a newer Fresh Chair wrote.", "Update Fresh Chair to open it."
            )
        return plain_json(row[column])

    @contextmanager
    def _readable(self) -> Iterator[None]:
        """Turn an unreadable plan into a FileProblem."""
        name = self._database.name
        try:
            yield
        except Unfit as problem:
            raise FileProblem(f"{name} holds a plan that cannot be used: {problem}.") from problem
        except ValueError as problem:
            raise FileProblem(f"{name} holds a plan that is not JSON.", "It was left as it is.") from problem


_HEAD = "SELECT id, title, question, sample, seed, revision, version, sheet FROM study WHERE id = ?"
_DOCUMENTS = {
    "machines": "SELECT version, body FROM machine WHERE study = ? ORDER BY position",
    "chairs": "SELECT version, body FROM chair WHERE study = ? AND NOT gone ORDER BY position",
    "cards": "SELECT version, body FROM card WHERE study = ? ORDER BY position",
    "carried": "SELECT version, body FROM carried WHERE study = ? ORDER BY position",
}
_SEATS = (
    "SELECT seat.number, seat.participant, COALESCE(chair.letter, seat.chair) AS chair, seat.position, seat.cards "
    "FROM seat LEFT JOIN chair ON chair.study = seat.study AND chair.id = seat.chair "
    "WHERE seat.study = ? ORDER BY seat.number"
)
