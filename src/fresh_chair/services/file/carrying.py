"""Carrying a chair over from another study file, with its findings, delights and records."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Literal

from fresh_chair.core.chair.ledger import RecordAttached, RecordPut
from fresh_chair.core.chair.records import Reading
from fresh_chair.core.errors import InputError
from fresh_chair.core.findings.sorted_findings import SortedFindings
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.chairs import CarriedFinding, Chair
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.sitting import Remark
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.chair.enquiries import chair_of
from fresh_chair.services.evidence.attachments import copy_files, relocated
from fresh_chair.services.evidence.records import append_evidence
from fresh_chair.services.file.carried_evidence import carried_evidence
from fresh_chair.services.findings.life import CarriedLife, carried_lives
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.plan.chairs import free_letter
from fresh_chair.services.plan.plan_changes import change_plan, replaced
from fresh_chair.services.study.open_study import OpenStudy, new_id, open_study


def _open_other(opened: OpenStudy, path: Path) -> OpenStudy:
    """Another study, for reading."""
    if path.exists() and path.samefile(opened.beside):
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
    """How much came over with a chair: findings and delights, records of every kind, evidence records."""

    findings: int
    records: int
    evidence: int = 0


def carry_over(opened: OpenStudy, path: Path, letter: str) -> tuple[Chair, Carried]:
    """Bring a chair over from another study file, with its machine and with all that was found there.

    Findings, delights, records and evidence about it come along, each with the study it comes from.

    Returns:
        The chair under its new letter, and how much came with it.

    Raises:
        FileProblem: Where the file is none.
        InputError: Where it has no such chair, or is this study's own file.
    """
    other = _open_other(opened, path)
    try:
        source, found = other.study, sorted_findings_of(other)
        lives = carried_lives(other, found)
        delights, (records, files, ids) = _delights_at(other, letter), _records_of(other, letter)
        state = other.evidence.state
    finally:
        other.close()
    old = source.chair_by_letter.get(letter)
    if old is None:
        raise InputError(
            f"{other.store.name} has no chair {letter[:3]}.", f"It has {', '.join(source.chair_by_letter) or 'none'}."
        )
    study = opened.study
    machine = source.machine_of(old)
    taken = {each.id: each for each in study.machines}
    if machine.id in taken and taken[machine.id] != machine:
        machine = replace(machine, id=next(i for n in range(2, 99) if (i := f"{machine.id[:36]}-{n}") not in taken))
    chair = replace(old, letter=free_letter(study), machine=machine.id, hue=0)
    carried = tuple(carried_of(source, found, lives, delights, letter, chair.letter))
    machines = study.machines if machine.id in taken else (*study.machines, machine)
    new = replaced(opened, chairs=(*study.chairs, chair), machines=machines, carried=(*study.carried, *carried))
    change_plan(opened, new)
    if records:
        copy_files([file.attachment for file in files], other.beside, opened.beside)
        here = [replace(f, attachment=relocated(f.attachment, other.beside, opened.beside)) for f in files]
        opened.note(chair.letter, *records, *here)
    evidence = carried_evidence(state, letter, chair.letter, ids, source=source.title)
    append_evidence(opened, evidence)
    return chair, Carried(len(carried), len(records), len(evidence))


def bring_readings(opened: OpenStudy, letter: str, path: Path, from_letter: str) -> int:
    """Let the readings of a chair in another study stand beside those of a chair here; returns how many came.

    They are marked with the study they come from, and enter no line and no comparison. Those that came before stay.

    Raises:
        FileProblem: Where the file is none.
        InputError: Where either study has no such chair, or the file is this study's own.
        Refused, NotSaved: As `OpenStudy.note`.
    """
    chair = chair_of(opened, letter)
    other = _open_other(opened, path)
    try:
        chair_of(other, from_letter)
        records, _, _ = _records_of(other, from_letter)
    finally:
        other.close()
    there = {
        (held.source, held.source_wall_ns, replace(held.record, id=""))
        for held in opened.known_chairs.of(chair).records.get("reading", {}).values()
    }
    fresh = [
        put
        for put in records
        if isinstance(put.record, Reading) and (put.source, put.source_wall_ns, replace(put.record, id="")) not in there
    ]
    if fresh:
        opened.note(chair, *fresh)
    return len(fresh)


def carried_of(
    source: Study,
    found: SortedFindings,
    lives: Sequence[CarriedLife],
    delights: Sequence[Remark],
    letter: str,
    to: str,
) -> Iterator[CarriedFinding]:
    """Findings and records of another study's chair, as they stand in this one.

    Args:
        source: The other study.
        found: Its findings.
        lives: Findings that were carried over into it, each with its state there.
        delights: What pleased at that chair.
        letter: The chair's letter there.
        to: Its letter here.
    """
    yield from _findings_at(source, found, letter, to)
    for life in (each for each in lives if each.carried.chair == letter):
        # One that was met again came along above, as it is now.
        if life.state in ("", "gone", "not tried"):
            gone: Literal["", "gone"] = "gone" if life.state == "gone" else life.carried.life
            yield replace(life.carried, id=f"{to}-{life.carried.id}"[:200], chair=to, life=gone)
    for earlier in found.carried:
        if earlier.chair == letter and earlier.sort == "delight":
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


def _findings_at(source: Study, found: SortedFindings, letter: str, to: str) -> Iterator[CarriedFinding]:
    """The findings that were met at a chair."""
    for view in found.findings:
        spread = next((each for each in view.spread if each.chair == letter), None)
        if spread is None or not (spread.people or spread.others):
            continue
        yield CarriedFinding(
            id=f"{to}-{view.id}",
            chair=to,
            title=view.title,
            severity=view.severity,
            seen_by=len(spread.people),
            tried=len(spread.tried),
            uncounted=len(spread.others),
            source=source.title,
            source_id=source.id,
            cards=view.cards,
            number=view.finding.number,
        )


def _delights_at(opened: OpenStudy, letter: str) -> list[Remark]:
    return [
        remark
        for seat in opened.study.seats
        if seat.chair == letter and (sitting := opened.sittings.get(seat.number)) is not None
        for remark in sitting.remarks.values()
        if remark.kind == "delight" and remark.words
    ]


def _records_of(
    opened: OpenStudy, letter: str
) -> tuple[list[RecordPut], list[RecordAttached], dict[tuple[str, str], str]]:
    """Every record of a chair with its source and time, the files that show them, and their new ids by the old."""
    ledger = opened.known_chairs.of(letter)
    records, ids = [], dict[tuple[str, str], str]()
    for kind, of_kind in ledger.records.items():
        for held in of_kind.values():
            ids[kind, held.record.id] = name = new_id()
            source_wall_ns = held.source_wall_ns or held.moment.wall_ns
            source = held.source or opened.study.title
            records.append(RecordPut(replace(held.record, id=name), source=source, source_wall_ns=source_wall_ns))
    files = [replace(each, id=ids[each.record, each.id]) for each in ledger.attachments]
    return records, files, ids
