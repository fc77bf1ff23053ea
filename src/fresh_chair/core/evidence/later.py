"""The later list: everything put off, by the day or event that brings it back; logged questions are on it."""

from collections.abc import Iterable, Sequence
from datetime import date
from typing import Literal

from fresh_chair.core.evidence.ledger import EvidenceState
from fresh_chair.core.evidence.records import LaterItem, LaterSort
from fresh_chair.core.frozen import frozen

Group = Literal["due", "on a day", "with something else", "at a chair", "nothing brings it back yet"]


@frozen
class LaterLine:
    """One thing of the later list.

    Attributes:
        record: Its record's id; empty for a question that was only logged in a sitting.
        mark: The mark it comes from, where it comes from one.
        source: Where it was logged, in words.
        of: The thing it comes from, as a target, where that is no mark.
    """

    what: str
    sort: LaterSort
    due: str
    when: str
    chair: str
    whom: str
    record: str
    mark: str
    source: str
    of: str = ""

    @property
    def target(self) -> str:
        """The thing it comes from, as a target; empty for a record of its own."""
        return self.of or (f"mark:{self.mark}" if self.mark else "")

    def group(self, today: str) -> Group:
        """The day or event that brings it back; `today` is the day by which it is due."""
        if self.due:
            return "due" if self.due <= today else "on a day"
        if self.when:
            return "with something else"
        return "at a chair" if self.chair else "nothing brings it back yet"


def later_lines(state: EvidenceState, logged: Iterable[LaterLine]) -> tuple[LaterLine, ...]:
    """Everything that is not done, records first.

    Args:
        state: The records of the study.
        logged: Questions of sittings, and excuses that say when to look again; one that a record speaks of is that
            record alone.
    """
    items = [held.record for held in state.held("later") if isinstance(held.record, LaterItem)]
    spoken_of = {item.of for item in items}
    logged = [line for line in logged if line.target not in spoken_of]
    return (*(_of_record(item) for item in items if not item.done), *logged)


def _of_record(item: LaterItem) -> LaterLine:
    return LaterLine(
        what=item.what,
        sort=item.sort,
        due=item.due,
        when=item.when,
        chair=item.chair,
        whom=item.whom,
        record=item.id,
        mark=item.of.removeprefix("mark:") if item.of.startswith("mark:") else "",
        source=item.of,
        of=item.of,
    )


GROUPS: tuple[Group, ...] = ("due", "on a day", "with something else", "at a chair", "nothing brings it back yet")


def grouped(lines: Iterable[LaterLine], today: date) -> list[tuple[Group, Sequence[LaterLine]]]:
    """The lines by the day or event that brings them back, due ones first; within a group by day, release or chair."""
    day, by_group = today.isoformat(), dict[Group, list[LaterLine]]()
    for line in lines:
        by_group.setdefault(line.group(day), []).append(line)
    return [
        (group, sorted(by_group[group], key=lambda line: (line.due, line.when, line.chair)))
        for group in GROUPS
        if group in by_group
    ]
