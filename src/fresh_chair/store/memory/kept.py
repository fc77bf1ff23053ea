"""The rows of a study that is kept in memory."""

from dataclasses import dataclass, field
from typing import Any

from fresh_chair.core.chair.state import State
from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import Overtaken
from fresh_chair.core.evidence.hunches import Hunch
from fresh_chair.core.ledger import Codec
from fresh_chair.core.plan.chair_states import ChairState
from fresh_chair.core.plan.changes import Change
from fresh_chair.core.plan.fixtures import FixtureCheck
from fresh_chair.core.plan.people import Erasure
from fresh_chair.core.plan.study import Study

Row = dict[str, Any]


@dataclass(slots=True)
class Kept:
    """Everything that is kept of one study; several stores may stand on it, as several programs on one file."""

    entries: dict[int, list[Row]] = field(default_factory=dict)
    sorting: list[Row] = field(default_factory=list)
    chairs: list[Row] = field(default_factory=list)
    evidence: list[Row] = field(default_factory=list)
    states: dict[int, State] = field(default_factory=dict)
    beats: dict[int, Moment] = field(default_factory=dict)
    study: Study | None = None
    revision: int = 0
    chair_states: dict[str, list[ChairState]] = field(default_factory=dict)
    held: dict[int, int] = field(default_factory=dict)
    scripts: list[str] = field(default_factory=list)
    changes: list[Change] = field(default_factory=list)
    hunches: dict[str, Hunch] = field(default_factory=dict)
    looks: list[FixtureCheck] = field(default_factory=list)
    erasures: list[Erasure] = field(default_factory=list)


def append_rows(kept: list[Row], fresh: list[Row], name: str) -> None:
    """Append rows to a ledger. Raises Overtaken where their numbers are taken."""
    taken = {row["number"] for row in kept}
    if any(row["number"] in taken for row in fresh):
        raise Overtaken(f"{name} has gone on meanwhile.", "It is read on.")
    kept.extend(fresh)


def read_row(row: Row, name: str, codec: Codec) -> tuple[int, Moment, str, Any]:
    """Number, moment, author and content of a row. Raises JournalError."""
    content = codec.content_from(row["body"], version=row["version"], where=f"{name}, entry {row['number']}")
    return row["number"], Moment(row["ticks_ns"], row["boot"], row["wall_ns"]), row["author"], content
