"""The later list of a study, and of all studies known on this machine."""

from collections.abc import Iterator, Sequence
from contextlib import suppress
from dataclasses import asdict
from datetime import date
from pathlib import Path

from fresh_chair.core.errors import FreshChairError, InputError
from fresh_chair.core.evidence.later import LaterLine, later_lines
from fresh_chair.core.evidence.records import EvidenceRecord
from fresh_chair.core.findings.state.parts import Excuse
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped
from fresh_chair.services.evidence.records import put_evidence
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.store.address import Address
from fresh_chair.store.later_index import LaterIndex


@frozen
class LaterOf:
    """The later list of one study, as far as it is known here.

    Attributes:
        there: Whether the study's file is where it was.
    """

    path: Address
    title: str
    lines: tuple[LaterLine, ...]
    there: bool


def later_of(opened: StudyReading) -> tuple[LaterLine, ...]:
    """The later list of an open study."""
    return later_lines(opened.evidence.state, [*_questions(opened), *_excuses(opened)])


def _questions(opened: StudyReading) -> Iterator[LaterLine]:
    """The questions logged in sittings, each as a thing to come back to."""
    for number, sitting in sorted(opened.sittings.items()):
        seat = opened.study.seat(number)
        for remark in sitting.remarks.values():
            if remark.kind == "question" and remark.words:
                yield LaterLine(
                    what=remark.words,
                    sort="without an answer",
                    due="",
                    when="",
                    chair=seat.chair,
                    whom="",
                    record="",
                    mark=remark.entry,
                    source=f"sitting {number}, {seat.participant} at {seat.chair}",
                )


def _excuses(opened: StudyReading) -> Iterator[LaterLine]:
    """Excuses that say when the finding is to be looked at again."""
    for finding in opened.findings.by_id.values():
        for part in finding.held("excuse"):
            if isinstance(part, Excuse) and part.again:
                yield LaterLine(
                    what=clipped(f"look again at F{finding.number} {finding.title}", 200),
                    sort="look again",
                    due="",
                    when=part.again,
                    chair="",
                    whom="",
                    record="",
                    mark="",
                    source=f"excused: {part.sort}",
                    of=f"excuse:{finding.id}/{part.id}",
                )


def remember_later(opened: OpenStudy, index: LaterIndex | None = None) -> None:
    """Put a study's later list into the index of this machine; made-up studies stay out of it.

    It is a convenience: where the study cannot be read any more, the index stays as it is.
    """
    with suppress(FreshChairError):
        if not opened.replayed.loaded or opened.study.sample:
            return
        lines = [{key: str(value) for key, value in asdict(line).items()} for line in later_of(opened)]
        (index or LaterIndex()).put(opened.study.id, opened.address, opened.study.title, lines)


def later_everywhere(index: LaterIndex | None = None) -> list[LaterOf]:
    """The later lists of all studies known here, from the index alone; the studies are not opened."""
    names = tuple(LaterLine.__dataclass_fields__)
    found = []
    for path, title, lines in (index or LaterIndex()).all():
        read = tuple(_line(line, names) for line in lines)
        found.append(LaterOf(path, title, read, not isinstance(path, Path) or path.is_file()))
    return found


def _line(raw: dict[str, str], names: Sequence[str]) -> LaterLine:
    values = {name: raw.get(name, "") for name in names}
    return LaterLine(**values)  # type: ignore[arg-type]


def due_everywhere(today: date, index: LaterIndex | None = None) -> list[tuple[LaterOf, LaterLine]]:
    """The things due by a day, in all studies known here, the oldest first."""
    day = today.isoformat()
    found = [(of, line) for of in later_everywhere(index) for line in of.lines if line.group(day) == "due"]
    return sorted(found, key=lambda pair: pair[1].due)


def close_later(opened: OpenStudy, line: LaterLine, became: str) -> EvidenceRecord:
    """Close a thing of the list, with its result. Raises InputError, Refused, NotSaved."""
    if not became.strip():
        raise InputError("Say what came of it.", "It stays on the list.")
    return put_evidence(opened, "later", {**_texts(line), "done": "yes", "became": became}, record_id=line.record)


def bring_back(opened: OpenStudy, line: LaterLine, **texts: str) -> EvidenceRecord:
    """Change the day, the event, the chair or the person that a thing waits for. Raises as `close_later`."""
    return put_evidence(opened, "later", {**_texts(line), **texts}, record_id=line.record)


def _texts(line: LaterLine) -> dict[str, str]:
    """A logged question as the texts of a new record; nothing for one that is a record already."""
    if line.record:
        return {}
    return {"what": line.what[:200], "sort": line.sort, "chair": line.chair, "when": line.when, "of": line.target}
