"""Evidence records that come along when a chair is carried over: those that speak of nothing left behind."""

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from fresh_chair.core.evidence.ledger import EvidencePut, EvidenceState
from fresh_chair.core.evidence.records import Disclosure, EvidenceRecord, LaterItem, kind_of
from fresh_chair.services.evidence.targets import targets_in
from fresh_chair.services.study.open_study import new_id


def carried_evidence(
    state: EvidenceState, letter: str, to: str, records: dict[tuple[str, str], str], *, source: str
) -> list[EvidencePut]:
    """The records of evidence about a chair as they stand in another study.

    A record comes along where it is about that chair or names something that does, and names nothing that stays
    behind: marks, findings and cards of the other study stay there.

    Args:
        state: The evidence of the other study.
        letter: The chair's letter there.
        to: Its letter here.
        records: The new ids of the chair's records, by kind and old id.
        source: Title of the other study.
    """
    known = {f"chair:{letter}": f"chair:{to}"}
    known |= {f"record:{letter}/{kind}/{old}": f"record:{to}/{kind}/{new}" for (kind, old), new in records.items()}
    waiting = [held for of_kind in state.records.values() for held in of_kind.values()]
    found: list[EvidencePut] = []
    while True:
        ready = [held for held in waiting if _comes(held.record, letter, known)]
        if not ready:
            return found
        for held in ready:
            name = new_id()[:8]
            known[f"{kind_of(held.record)}:{held.record.id}"] = f"{kind_of(held.record)}:{name}"
        for held in ready:
            waiting.remove(held)
            old = f"{kind_of(held.record)}:{held.record.id}"
            found.append(EvidencePut(_as_here(held.record, known[old], to, known), held.source or source))


def _comes(record: EvidenceRecord, letter: str, known: dict[str, str]) -> bool:
    named = [target for _, target in targets_in(record)]
    if isinstance(record, LaterItem) and record.done:
        return False
    about = getattr(record, "chair", "")
    if about:
        return about == letter and all(target in known for target in named)
    # A reference that is tied to nothing says nothing about the chair.
    return bool(named) and all(target in known for target in named)


def _as_here(record: EvidenceRecord, name: str, to: str, known: dict[str, str]) -> EvidenceRecord:
    values: dict[str, Any] = {"id": name.partition(":")[2], **dict(_targets_here(record, known))}
    if getattr(record, "chair", ""):
        values["chair"] = to
    if isinstance(record, Disclosure):
        values["sitting"] = 0
    return replace(record, **values)


def _targets_here(record: EvidenceRecord, known: dict[str, str]) -> Iterator[tuple[str, str]]:
    for field, target in targets_in(record):
        yield field, known[target]
