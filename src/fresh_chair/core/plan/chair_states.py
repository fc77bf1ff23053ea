"""The states a chair was in: whole, dated, and referred to by the sittings that were held in them."""

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import fields, replace
from typing import ClassVar

from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.chairs import Chair, Machine
from fresh_chair.core.plan.field_syntax import line_of
from fresh_chair.core.plan.fields import FORBID, Count
from fresh_chair.core.plan.study import Study

# What is only a way of showing a chair, and no state of it.
_NO_STATE = ("letter", "hue", "labels", "put_back")


@frozen(kw_only=True)
class ChairState:
    """A chair as it was from one change to the next.

    Attributes:
        number: Which of its chair's states, from 1.
        since_wall_ns: When it became so, nanoseconds since 1970 UTC; None for how it was first.
        changed: What changed then, a few words each.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    number: Count
    since_wall_ns: int | None
    chair: Chair
    machine: Machine
    changed: tuple[str, ...] = ()


def first_states(study: Study) -> list[ChairState]:
    """Every chair of a new study as it is planned."""
    return changed_states(study, {}, {}, wall_ns=0)


def changed_states(
    study: Study, states: Mapping[str, Sequence[ChairState]], held: Mapping[str, Collection[int]], *, wall_ns: int
) -> list[ChairState]:
    """The states that a changed plan brings, each new or in place of the newest one that no sitting was held in.

    Args:
        study: The plan as it is now.
        states: Each chair's states so far, oldest first, by its letter.
        held: Numbers of the states that sittings were held in, by the chair's letter.
        wall_ns: When the plan changed, nanoseconds since 1970 UTC.
    """
    found = []
    for chair in study.chairs:
        machine, before = study.machine_of(chair), list(states.get(chair.letter, ()))
        if before and _same(before[-1], chair, machine):
            continue
        if before and before[-1].number not in held.get(chair.letter, ()):
            before.pop()
        last = before[-1] if before else None
        found.append(
            ChairState(
                number=1 if last is None else last.number + 1,
                since_wall_ns=None if last is None else wall_ns,
                chair=chair,
                machine=machine,
                changed=() if last is None else tuple(_changes(last, chair, machine)),
            )
        )
    return found


def states_of_sittings(
    study: Study, states: Mapping[str, Sequence[ChairState]], numbers: Mapping[int, int]
) -> dict[int, ChairState]:
    """The state its chair was in, for every sitting that refers to one.

    Args:
        study: The plan.
        states: Each chair's states by its letter.
        numbers: The number of the state each sitting was held in, by the sitting's number.
    """
    by_number = {letter: {state.number: state for state in listed} for letter, listed in states.items()}
    found = {}
    for seat in study.seats:
        state = by_number.get(seat.chair, {}).get(numbers.get(seat.number, 0))
        if state is not None:
            found[seat.number] = state
    return found


def _same(state: ChairState, chair: Chair, machine: Machine) -> bool:
    shown = {name: getattr(chair, name) for name in _NO_STATE}
    return replace(state.chair, **shown) == chair and state.machine == machine


def _changes(last: ChairState, chair: Chair, machine: Machine) -> Iterator[str]:
    yield from _field_changes(last.chair, chair)
    if last.machine.id == machine.id:
        yield from _field_changes(last.machine, machine)


def _field_changes(old: Chair | Machine, new: Chair | Machine) -> Iterator[str]:
    for part in fields(old):
        before, after = getattr(old, part.name), getattr(new, part.name)
        if before != after and part.name not in _NO_STATE:
            words = f"{line_of(before) or 'nothing'} became {line_of(after) or 'nothing'}"
            yield f"{part.name.replace('_', ' ')}: {words}"
