"""Evidence records of a study as text, and taken in from text: all of it, or nothing."""

from collections.abc import Iterator

from fresh_chair.core.errors import InputError
from fresh_chair.core.evidence.ledger import EvidencePut
from fresh_chair.core.evidence.records import EvidenceRecord, kind_of
from fresh_chair.core.evidence.text import read_records_text, records_text
from fresh_chair.core.frozen import frozen
from fresh_chair.services.evidence.records import append_evidence, record_of_texts
from fresh_chair.services.evidence.targets import missing_in, targets
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.study.snapshot import StudyReading


@frozen
class TextTaken:
    """How many records of a text were new, changed, and there already."""

    new: int
    changed: int
    same: int


def evidence_text(opened: StudyReading) -> str:
    """All evidence records of a study that hold, as a text that `take_evidence` reads back."""
    held = opened.evidence.state.records.values()
    return records_text(each.record for of_kind in held for each in of_kind.values())


def take_evidence(opened: OpenStudy, text: str, *, name: str) -> TextTaken:
    """Take the records of a text in; one under an id that is there changes it.

    Raises:
        InputError: All problems of all records at once, each as reason @ record.
        Refused: Where a seal is on one of them, or the study may only be read.
        NotSaved: Where the disk refuses; nothing of it is there then.
    """
    state = opened.evidence.state
    records: list[EvidenceRecord] = []
    problems: list[str] = []
    for each in read_records_text(text, name=name):
        held = state.find(each.kind, each.id)
        try:
            records.append(record_of_texts(each.kind, each.texts, held.record if held else None, record_id=each.id))
        except InputError as problem:
            problems.append(f"{problem.title.rstrip('.')} (line {each.line})")
    problems += _gone(opened, records)
    if problems:
        raise InputError(f"{name} cannot be taken in: {'; '.join(problems)}.", "Nothing was read in.")
    before = {(kind_of(record), record.id): state.find(kind_of(record), record.id) for record in records}
    new = [record for record in records if before[kind_of(record), record.id] is None]
    same = [record for record in records if (h := before[kind_of(record), record.id]) and h.record == record]
    append_evidence(opened, [EvidencePut(record) for record in records if record not in same])
    return TextTaken(len(new), len(records) - len(new) - len(same), len(same))


def _gone(opened: OpenStudy, records: list[EvidenceRecord]) -> Iterator[str]:
    """The things that records speak of and that are neither in the study nor among these records."""
    known = set(targets(opened)) | {f"{kind_of(record)}:{record.id}" for record in records}
    for record in records:
        for what, field in missing_in(opened, record, known):
            yield f"there is no {what} in this study @ {kind_of(record)} {record.id}, {field}"
