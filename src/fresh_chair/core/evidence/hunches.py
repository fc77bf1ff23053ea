"""Hunches: the reviewer's predictions, sealed before the first sitting."""

from collections.abc import Collection, Iterable, Mapping
from typing import Annotated, ClassVar

from fresh_chair.core.bounds import MaxLen, MinLen
from fresh_chair.core.errors import Refused
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.chairs import Severity
from fresh_chair.core.plan.fields import FORBID
from fresh_chair.core.plan.study import Study


@frozen(kw_only=True)
class Hunch:
    """A predicted trouble at one card and chair, and how bad it will be.

    Attributes:
        severity: 0 to 4 (Nielsen 1994); 0 says that nothing will.
        written_wall_ns: When it was written, nanoseconds since 1970 UTC.
        sealed_wall_ns: When it was sealed; None while it may still be changed.
        late: Written after the first sitting at that chair: kept apart, because it is no prediction.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: str
    card: str
    chair: str
    words: Annotated[str, MinLen(1), MaxLen(2000)]
    severity: Severity
    written_wall_ns: int
    sealed_wall_ns: int | None = None
    late: bool = False


def chairs_sat_at(study: Study, begun: Collection[int]) -> set[str]:
    """Chairs where a newcomer, pilots included, has sat down; knowing the way predicts nothing."""
    people = study.person_by_code
    return {seat.chair for seat in study.seats if seat.number in begun and people[seat.participant].is_newcomer}


def require_open(hunch: Hunch, sat_at: Collection[str]) -> None:
    """Do nothing where a hunch may still be changed.

    Raises:
        Refused: Where it is sealed, or somebody has sat at that chair.
    """
    if hunch.sealed_wall_ns is not None:
        raise Refused("This hunch is sealed.", "It stays as it is; another one can be added.")
    if hunch.chair in sat_at:
        raise Refused("Somebody has sat at this chair.", "The hunch stays as it is; another one is added as late.")


def hunches_by_cell(hunches: Iterable[Hunch]) -> Mapping[tuple[str, str], list[Hunch]]:
    """The hunches by card and chair, in the order they were written."""
    cells: dict[tuple[str, str], list[Hunch]] = {}
    for hunch in sorted(hunches, key=lambda hunch: hunch.written_wall_ns):
        cells.setdefault((hunch.card, hunch.chair), []).append(hunch)
    return cells
