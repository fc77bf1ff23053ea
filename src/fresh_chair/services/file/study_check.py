"""Checking the contents of an open study: judgements and records that contradict each other or lack their ground."""

from fresh_chair.core.text import count_of
from fresh_chair.services.evidence.doubts import evidence_doubts
from fresh_chair.services.file.file_check import FileCheck
from fresh_chair.services.findings.doubts import finding_doubts
from fresh_chair.services.study.snapshot import StudyReading


def check_study(opened: StudyReading) -> list[FileCheck]:
    """Records and judgements that the reviewer should look at; the file itself is sound."""
    doubts = tuple(evidence_doubts(opened))
    count = sum(len(records) for records in opened.evidence.state.records.values())
    said = f"{count_of(count, 'record')}, {f'{len(doubts)} to look at' if doubts else 'none contradicts another'}"
    judged = tuple(finding_doubts(opened))
    found = count_of(len(opened.findings.by_id), "finding")
    told = f"{found}, {f'{len(judged)} to look at' if judged else 'each with its ground'}"
    return [
        FileCheck("evidence held together", said, (), doubts),
        FileCheck("findings held together", told, (), judged),
    ]
