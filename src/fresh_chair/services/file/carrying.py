"""Carrying a chair over from another study file, with its findings, delights and records."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from pathlib import Path

from fresh_chair.core.chair.ledger import RecordPut
from fresh_chair.core.errors import InputError
from fresh_chair.core.findings.sorted_snags import SortedSnags
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.chairs import CarriedFinding, Chair
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.sitting import Remark
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.findings.sorting import sorted_snags_of
from fresh_chair.services.plan.chairs import free_letter
from fresh_chair.services.plan.plan_changes import change_plan, replaced
from fresh_chair.services.study.open_study import OpenStudy, new_id, open_study


def _open_other(opened: OpenStudy, path: Path) -> OpenStudy:
    """Another study, for reading."""
    if path.exists() and path.samefile(opened.file.path):
        raise InputError("That is this study's own file.", "Copy the chair instead.")
    return open_study(path, write=False)


def chairs_in(opened: OpenStudy, path: Path) -> list[tuple[str, str]]:
    """Letters and titles of the chairs in another study's file.

    Raises:
        FileProblem: Where the file is none.
        InputError: Where it is this study's own file.
    """
    other = _open_other(opened, path)
    try:
        return [(chair.letter, chair.title) for chair in other.study.chairs]
    finally:
        other.close()


@frozen
class Carried:
    """How much came over with a chair: findings and delights, and records of every kind."""

    findings: int
    records: int


def carry_over(opened: OpenStudy, path: Path, letter: str) -> tuple[Chair, Carried]:
    """Bring a chair over from another study file, with its machine and with all that was found there.

    Findings, delights and records of every kind come along, each with the study it comes from.

    Returns:
        The chair under its new letter, and how much came with it.

    Raises:
        FileProblem: Where the file is none.
        InputError: Where it has no such chair, or is this study's own file.
    """
    other = _open_other(opened, path)
    try:
        source, sorted_snags = other.study, sorted_snags_of(other)
        delights, records = _delights_at(other, letter), _records_of(other, letter)
    finally:
        other.close()
    old = source.chair_by_letter.get(letter)
    if old is None:
        raise InputError(
            f"{other.file.name} has no chair {letter[:3]}.", f"It has {', '.join(source.chair_by_letter) or 'none'}."
        )
    study = opened.study
    machine = source.machine_of(old)
    taken = {each.id: each for each in study.machines}
    if machine.id in taken and taken[machine.id] != machine:
        machine = replace(machine, id=next(i for n in range(2, 99) if (i := f"{machine.id[:36]}-{n}") not in taken))
    chair = replace(old, letter=free_letter(study), machine=machine.id, hue=0)
    carried = tuple(carried_of(source, sorted_snags, delights, letter, chair.letter))
    machines = study.machines if machine.id in taken else (*study.machines, machine)
    new = replaced(opened, chairs=(*study.chairs, chair), machines=machines, carried=(*study.carried, *carried))
    change_plan(opened, new)
    if records:
        opened.note(chair.letter, *records)
    return chair, Carried(len(carried), len(records))


def carried_of(
    source: Study, sorted_snags: SortedSnags, delights: Sequence[Remark], letter: str, to: str
) -> Iterator[CarriedFinding]:
    """Findings and records of another study's chair, as they stand in this one.

    Args:
        source: The other study.
        sorted_snags: Its findings.
        delights: What pleased at that chair.
        letter: The chair's letter there.
        to: Its letter here.
    """
    for finding in sorted_snags.findings:
        spread = next((each for each in finding.spread if each.chair == letter), None)
        if spread is None or not (spread.people or spread.others):
            continue
        yield CarriedFinding(
            id=f"{to}-{finding.id}",
            chair=to,
            title=finding.title,
            severity=finding.severity,
            seen_by=len(spread.people),
            tried=len(spread.tried),
            uncounted=len(spread.others),
            source=source.title,
            source_id=source.id,
        )
    for earlier in sorted_snags.carried:
        if earlier.chair == letter:
            yield replace(earlier, id=f"{to}-{earlier.id}"[:200], chair=to)
    for delight in delights:
        yield CarriedFinding(
            id=f"{to}-{delight.entry}",
            chair=to,
            title=clipped(legible(delight.words), 200),
            sort="delight",
            source=source.title,
            source_id=source.id,
        )


def _delights_at(opened: OpenStudy, letter: str) -> list[Remark]:
    return [
        remark
        for seat in opened.study.seats
        if seat.chair == letter and (sitting := opened.sittings.get(seat.number)) is not None
        for remark in sitting.remarks.values()
        if remark.kind == "delight" and remark.words
    ]


def _records_of(opened: OpenStudy, letter: str) -> list[RecordPut]:
    """Every record of a chair, with where it comes from and when it was so."""
    ledger = opened.known_chairs.of(letter)
    return [
        RecordPut(
            replace(held.record, id=new_id()),
            source=held.source or opened.study.title,
            source_wall_ns=held.source_wall_ns or held.moment.wall_ns,
        )
        for of_kind in ledger.records.values()
        for held in of_kind.values()
    ]
