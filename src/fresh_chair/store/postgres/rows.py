"""Writing on a server: ledgers and all that stands beside the plan through its functions, an act each."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import TYPE_CHECKING, Any

import psycopg

from fresh_chair.core.errors import Superseded
from fresh_chair.core.text import legible
from fresh_chair.store.postgres.troubles import ANOTHERS
from fresh_chair.store.tables.rows import Rows

if TYPE_CHECKING:
    from fresh_chair.store.tables.statements import Execute

_PLANNED = frozenset({"machine", "chair", "card", "person", "carried", "chair_state", "seat"})
_LEDGERS = {
    "sort_entry": "append_to_sorting",
    "evidence_entry": "append_to_evidence",
    "chair_entry": "append_to_chairs",
}
# So many rows are given to a function at once.
_AT_ONCE = 2_000
Listed = Sequence[Mapping[str, Any]]


class ServerRows(Rows):
    """A transaction's writing on a server, whose functions decide which login may write.

    Args:
        execute, study: As `Rows`.
        brings: Whether entries are brought that were logged elsewhere, by whomever they name.
        station: The machine that writes.
        turn: The number under which that station holds the sitting; None for whoever adds to one beside the moderator.
    """

    def __init__(
        self,
        execute: Execute,
        study: str,
        *,
        brings: bool = False,
        station: str = "",
        turn: int | None = None,
    ) -> None:
        super().__init__(execute, study, _all_at_once)
        self._brings = brings
        self._holder = station or None, turn
        self._erased = ""
        self._acts: Mapping[str, Callable[[Listed], None]] = {
            "entry": self._append_to_sittings,
            "baseline_state": lambda rows: self._each("keep_baseline", rows, "number", "body"),
            "attached_file": lambda rows: self._each("keep_file", rows, "name", "body"),
            "pulse": lambda rows: self._each("beat", rows, "sitting", "ticks_ns", "boot", "wall_ns"),
            "hunch": lambda rows: self._each("put_hunch", rows, *_HUNCH),
            "script": lambda rows: self._each("add_script", rows, "number", "wall_ns", "author", "text"),
            "change": lambda rows: self._listed("add_changes", rows),
            "fixture_check": lambda rows: self._listed("note_bench", rows),
            "erasure": self._record_erasures,
        }

    def put(self, table: str, rows: Iterable[Mapping[str, Any]], *, key: Sequence[str] = ()) -> None:
        """Write rows through the function that is for them."""
        listed = list(rows)
        if table in _PLANNED:
            alike: dict[tuple[str, ...], list[Mapping[str, Any]]] = defaultdict(list)
            for row in listed:
                alike[tuple(row)].append(row)
            for some in alike.values():
                self._call("put_plan", table, _json(some), list(key))
        elif table == "study":
            for row in listed:
                self._call("make_study", _json([row])[1:-1])
        elif table in _LEDGERS:
            self._listed(_LEDGERS[table], listed, self._brings)
        else:
            self._acts[table](listed)

    def drop(self, table: str, column: str, values: Iterable[object]) -> None:
        """Delete rows, as `put`."""
        for value in values:
            if table == "hunch":
                self._call("drop_hunch", value)
            elif table == "attached_file":
                self._call("drop_file", value)
            else:
                self.remove(table, {column: value})

    def change(self, table: str, values: Mapping[str, object], where: Mapping[str, object]) -> int:
        """Change rows of the plan; returns how many."""
        return int(self._call("change_plan", table, json.dumps(dict(values)), json.dumps(dict(where))))

    def remove(self, table: str, where: Mapping[str, object]) -> None:
        """Delete rows of the plan."""
        self._call("drop_plan", table, json.dumps(dict(where)))

    def change_head(self, values: Mapping[str, object], *, revision: int | None = None) -> bool:
        """Change the study's own row; False where it is not at that revision."""
        return bool(self._call("change_head", json.dumps(dict(values)), revision))

    def refer_to_state(self, sitting: str, wall_ns: int) -> None:
        """The function that appends the first entry notes the chair's state as well."""

    def hold_state(self, sitting: str, state: int) -> None:
        """As `refer_to_state`."""

    def seal_hunches(self, chair: str, wall_ns: int) -> None:
        """Seal every open hunch at a chair."""
        self._call("seal_hunches", chair, wall_ns)

    def drop_sittings(self, sittings: Sequence[str], participant: str) -> None:
        """Delete the entries of a person's sittings, which the server knows."""
        self._call("drop_sittings_of", participant)

    def rewrite(self, table: str, number: int, body: object, *, sitting: str = "") -> None:
        """Put another content into a row of a ledger, for an erasure that is on record."""
        if table == "baseline_state":
            self._call("rewrite_baseline", self._of_whom(""), number, body)
        else:
            self._call("rewrite", self._of_whom(sitting), table, sitting, number, body)

    def _of_whom(self, sitting: str) -> str:
        """For whose erasure a row is changed: of this transaction, or one that is on record from before."""
        if self._erased:
            return self._erased
        if sitting:
            return str(self.one("SELECT participant FROM seat WHERE study = ? AND id = ?", sitting))
        return str(self.one("SELECT participant FROM erasure WHERE study = ? ORDER BY wall_ns DESC LIMIT 1"))

    def _append_to_sittings(self, rows: Listed) -> None:
        by_sitting: dict[str, list[Mapping[str, Any]]] = defaultdict(list)
        for row in rows:
            by_sitting[row["sitting"]].append(row)
        for sitting, listed in by_sitting.items():
            for first in range(0, len(listed), _AT_ONCE):
                some = _json(listed[first : first + _AT_ONCE])
                try:
                    self._call("append_to_sitting", sitting, some, self._brings, *self._holder)
                except psycopg.Error as problem:
                    if problem.sqlstate != ANOTHERS:
                        raise
                    raise Superseded(legible(problem.diag.message_primary or "")) from problem

    def _record_erasures(self, rows: Listed) -> None:
        for row in rows:
            self._erased = row["participant"]
        self._each("record_erasure", rows, "participant", "wall_ns", "author", "figures_kept")

    def _listed(self, function: str, rows: Listed, *more: object) -> None:
        for first in range(0, len(rows), _AT_ONCE):
            self._call(function, _json(rows[first : first + _AT_ONCE]), *more)

    def _each(self, function: str, rows: Listed, *columns: str) -> None:
        for row in rows:
            self._call(function, *(row[name] for name in columns))

    def _call(self, function: str, *values: object) -> Any:
        """Call a function of the server's for this study; returns its answer."""
        marks = ", ".join("?" * (len(values) + 1))
        return self._execute(f"SELECT fresh_chair.{function}({marks})", (self.study, *values)).fetchone()[0]


def _all_at_once(query: str, listed: Sequence[Sequence[object]]) -> None:
    raise AssertionError("all is written by functions of the server")


_HUNCH = ("id", "card", "chair", "words", "severity", "written_wall_ns", "sealed_wall_ns", "late")


def _json(rows: Listed) -> str:
    return json.dumps([dict(row) for row in rows], ensure_ascii=False)
