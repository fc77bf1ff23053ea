"""Evidence records of a study: put down, changed field by field, sealed, dropped with a reason."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict, fields
from typing import Any, get_type_hints

from fresh_chair.core.codec import fitted
from fresh_chair.core.errors import InputError
from fresh_chair.core.evidence.judged import Criterion, Score
from fresh_chair.core.evidence.labels import EVIDENCE_LABELS, NEEDED, EvidenceLabel
from fresh_chair.core.evidence.ledger import EvidenceContent, EvidenceDropped, EvidenceEntry, EvidencePut, evidence_id
from fresh_chair.core.evidence.ledger import HeldEvidence as HeldEvidence
from fresh_chair.core.evidence.records import KINDS, EvidenceRecord, kind_of
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.field_syntax import line_of, meant
from fresh_chair.core.safe import safe
from fresh_chair.core.text import clipped, legible, with_article
from fresh_chair.services.evidence.targets import numbered_finding, require_there
from fresh_chair.services.plan.plan_changes import made
from fresh_chair.services.study.open_study import OpenStudy, new_id
from fresh_chair.services.study.snapshot import StudyReading

_KEPT = "Nothing was changed."


def evidence_of_kind(opened: StudyReading, kind: str) -> list[HeldEvidence]:
    """The records of one kind that hold, in the order they came in. Raises InputError where there is no such kind."""
    _require_kind(kind)
    return opened.evidence.state.held(kind)


def find_evidence(opened: StudyReading, kind: str, record_id: str) -> EvidenceRecord:
    """A record by its id. Raises InputError where there is none."""
    _require_kind(kind)
    held = opened.evidence.state.find(kind, record_id)
    if held is None:
        raise InputError(f"There is no {kind} {legible(clipped(record_id, 40))}.", _KEPT)
    return held.record


def put_evidence(opened: OpenStudy, kind: str, texts: Mapping[str, str], *, record_id: str = "") -> EvidenceRecord:
    """A record from texts for its fields, new or changed: all of them, or nothing.

    Args:
        opened: The open study.
        kind: What kind of record.
        texts: What is typed for each field.
        record_id: The record that is changed; empty for a new one.

    Raises:
        InputError: Where there is no such kind or record, a text is none for its field, or what it speaks of is not
            there; all of it at once.
        Refused: Where a seal is on it, or the study may only be read.
        NotSaved: Where the disk refuses.
    """
    _require_kind(kind)
    before = find_evidence(opened, kind, record_id) if record_id else None
    texts = {field: numbered_finding(opened, text) for field, text in texts.items()}
    record = record_of_texts(kind, texts, before, record_id=record_id or new_id()[:8])
    require_there(opened, record)
    _require_on_scale(opened, record)
    if record != before:
        append_evidence(opened, [EvidencePut(record)])
    return record


def _require_on_scale(opened: StudyReading, record: EvidenceRecord) -> None:
    """Do nothing for a score on its criterion's scale, or any other record. Raises InputError where it lies beyond."""
    if not isinstance(record, Score):
        return
    criterion = find_evidence(opened, "criterion", record.criterion.removeprefix("criterion:"))
    if isinstance(criterion, Criterion) and not criterion.low <= record.value <= criterion.high:
        scale = f"{criterion.low:g} to {criterion.high:g}"
        raise InputError(f"A score on {legible(criterion.name)} is {scale}, not {record.value:g}.", _KEPT)


def record_of_texts(
    kind: str, texts: Mapping[str, str], before: EvidenceRecord | None, *, record_id: str
) -> EvidenceRecord:
    """A record from texts for its fields; nothing is put down.

    Args:
        kind: What kind of record.
        texts: What is typed for each field.
        before: The record that is changed; None for a new one.
        record_id: The id of a new one.

    Raises:
        InputError: Where a text is none for its field, or one is lacking; all of it at once.
    """
    values: dict[str, Any] = asdict(before) if before is not None else {"id": record_id}
    form = TextForm(KINDS[kind], kind, EVIDENCE_LABELS[kind], NEEDED[kind])
    record: EvidenceRecord = form.made(texts, values)
    return record


@frozen
class TextForm:
    """A class of records that can be made from texts for its fields.

    Attributes:
        made_into: The class.
        name: What one is called in an error.
        labels: Its fields.
        needed: The fields it cannot be without, each with the words that ask for it.
    """

    made_into: type[Any]
    name: str
    labels: Sequence[EvidenceLabel]
    needed: Sequence[tuple[str, str]]

    def made(self, texts: Mapping[str, str], values: dict[str, Any]) -> Any:
        """A record from texts, its other fields from `values`. Raises InputError with all problems at once."""
        hints = get_type_hints(self.made_into, include_extras=True)
        known = [label.field for label in self.labels]
        problems = []
        for field, text in texts.items():
            shown = legible(clipped(field, 40))
            if field not in known:
                problems.append(f"{with_article(self.name)} has no {shown}; it has {', '.join(known)} @ {shown}")
                continue
            try:
                values[field] = fitted(self.made_into, field, meant(hints[field], text, field.replace("_", " ")))
            except (InputError, ValueError) as problem:
                title = problem.title if isinstance(problem, InputError) else str(problem)
                problems.append(f"{title.rstrip('.').removesuffix(f' @ {field}')} @ {shown}")
        lacking = {
            field: asked
            for field, asked in self.needed
            if not str(values.get(field, "")).strip() and not texts.get(field, "").strip()
        }
        problems = [each for each in problems if each.rpartition(" @ ")[2] not in lacking]
        problems += [f"{asked} @ {field}" for field, asked in lacking.items()]
        if problems:
            raise InputError(f"This {self.name} cannot be kept: {'; '.join(problems)}.", _KEPT)
        plain = {field: list(value) if isinstance(value, tuple) else value for field, value in values.items()}
        return made(self.made_into, plain, f"The {self.name}")


def drop_evidence(opened: OpenStudy, kind: str, record_id: str, reason: str) -> None:
    """A record holds no more, with why; it stays in the file, and so do the links to it. Raises as `put_evidence`."""
    find_evidence(opened, kind, record_id)
    if not reason.strip():
        raise InputError("Dropping a record needs a reason.", _KEPT)
    append_evidence(opened, [EvidenceDropped(kind, record_id, clipped(reason.strip(), 2000))])


def evidence_lines(record: EvidenceRecord) -> list[tuple[str, str]]:
    """The fields of a record that say anything, each with its label."""
    plain = {part.name: part.default for part in fields(record)}
    found = []
    for label in EVIDENCE_LABELS[kind_of(record)]:
        value = getattr(record, label.field)
        text = line_of(value)
        if text and (value != plain[label.field] or label.field in ("sort", "relation", "says", "presence", "to")):
            found.append((label.words, text))
    return found


def append_evidence(opened: OpenStudy, contents: Sequence[EvidenceContent]) -> None:
    """Append entries of one moment to the ledger: all of them, or none.

    Raises:
        Refused: Where one cannot follow, or the study may only be read.
        NotSaved: Where the disk refuses.
    """
    opened.require_adding()
    moment, author = opened.clock.now(), opened.author

    def entries(first: int) -> list[EvidenceEntry]:
        return [
            EvidenceEntry(evidence_id(first + step), first + step, moment, author, safe(content))
            for step, content in enumerate(contents)
        ]

    if contents:
        opened.evidence.append(entries)


def _require_kind(kind: str) -> None:
    if kind not in KINDS:
        raise InputError(
            f"{legible(clipped(kind, 30))} is no kind of evidence record.", f"These are: {', '.join(KINDS)}."
        )
