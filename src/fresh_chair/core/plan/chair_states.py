"""The states a chair was in: at each sitting, and since when it is as it is now."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields, replace
from typing import Any, get_type_hints

from fresh_chair.core.codec import Unfit, fitted
from fresh_chair.core.errors import InputError
from fresh_chair.core.plan.chairs import Chair, Machine
from fresh_chair.core.plan.changes import Change
from fresh_chair.core.plan.field_syntax import meant
from fresh_chair.core.plan.study import Study

# What is only a way of showing a chair, and no state of it.
_NO_STATE = ("letter", "hue", "labels", "put_back")


@dataclass(frozen=True, slots=True)
class ChairState:
    """A chair as it was from one change to the next.

    Attributes:
        since_wall_ns: When it became so, nanoseconds since 1970 UTC; None for how it was first.
        changed: What changed then, a few words each.
    """

    since_wall_ns: int | None
    chair: Chair
    machine: Machine
    changed: tuple[str, ...] = ()


def chair_states(study: Study, changes: Sequence[Change], letter: str) -> list[ChairState]:
    """The states of a chair after its first sitting, oldest first; changes before that make no state.

    They are read back from the dated changes of the plan, the newest first.
    """
    chair = study.chair_by_letter[letter]
    machines = {machine.id: machine for machine in study.machines}
    newest = ChairState(None, chair, machines[chair.machine])
    found = [newest]
    for change in reversed(changes):
        parts = change.place.split(".")
        if not change.sittings or len(parts) != 3 or parts[2] in _NO_STATE:
            continue
        now = found[0]
        kind, name, field = parts
        if kind == "machine" and name in machines:
            # Every machine goes back in time, also while this chair stood on another one.
            machines[name] = _with(machines[name], field, change.before) or machines[name]
        if kind == "chair" and name == letter:
            before = _with(now.chair, field, change.before)
            machine = machines.get(before.machine, now.machine) if before is not None else now.machine
        elif kind == "machine" and name == now.machine.id:
            before, machine = now.chair, machines[name]
        else:
            continue
        if before is None or (before == now.chair and machine == now.machine):
            continue
        words = f"{field.replace('_', ' ')}: {change.before or 'nothing'} became {change.after or 'nothing'}"
        if now.since_wall_ns == change.wall_ns:
            found[0] = replace(now, changed=(words, *now.changed))
            continue
        found[0] = replace(now, since_wall_ns=change.wall_ns, changed=(words, *now.changed))
        found.insert(0, ChairState(None, before, machine))
    return found


def _with(owner: Any, field: str, text: str) -> Any:
    """A chair or a machine with a field as a line of text means it; None where that cannot be told any more."""
    if field not in {part.name for part in fields(owner)}:
        return None
    hint = get_type_hints(type(owner), include_extras=True)[field]
    try:
        return replace(owner, **{field: fitted(type(owner), field, meant(hint, text, field))})
    except (Unfit, InputError, ValueError):
        return None


def state_at(states: Sequence[ChairState], wall_ns: int) -> ChairState:
    """The state a chair was in at a moment."""
    held = [state for state in states if state.since_wall_ns is None or state.since_wall_ns <= wall_ns]
    return held[-1]


def states_of_sittings(study: Study, changes: Sequence[Change], began: Mapping[int, int]) -> dict[int, ChairState]:
    """The state its chair was in for every sitting that has begun.

    Args:
        study: The plan.
        changes: What was changed of it when.
        began: When each sitting began, by its number, nanoseconds since 1970 UTC.
    """
    known: dict[str, list[ChairState]] = {}
    found = {}
    for seat in study.seats:
        if seat.number in began:
            states = known.setdefault(seat.chair, chair_states(study, changes, seat.chair))
            found[seat.number] = state_at(states, began[seat.number])
    return found
