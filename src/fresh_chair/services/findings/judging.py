"""Judging findings: severity, causes, trials, ways round, excuses; nothing without its reason, nothing overwritten."""

from collections.abc import Mapping
from dataclasses import asdict, replace
from typing import Any

from fresh_chair.core.errors import InputError
from fresh_chair.core.findings.entries.judgements import (
    FACTOR_VALUES,
    CausePut,
    ExcusePut,
    FactorCorrected,
    OccurrenceSaid,
    PartDropped,
    SeverityJudged,
    SeverityWithdrawn,
    TrialPut,
    WorkaroundPut,
)
from fresh_chair.core.findings.ledger import SortContent
from fresh_chair.core.findings.part_labels import PART_LABELS, PART_NEEDED
from fresh_chair.core.findings.state.finding import EVERYWHERE, Finding, Scope
from fresh_chair.core.findings.state.parts import PARTS, Cause, Excuse, FindingPart, Occurrence, Trial, Workaround
from fresh_chair.core.text import clipped, legible, with_article
from fresh_chair.services.evidence.records import TextForm
from fresh_chair.services.evidence.targets import targets
from fresh_chair.services.findings.sorting import commit_sorting, find_finding
from fresh_chair.services.plan.plan_changes import made
from fresh_chair.services.study.open_study import OpenStudy, new_id

_KEPT = "Nothing was changed."


def judge_severity(
    opened: OpenStudy, finding: str, severity: int, reason: str, *, scope: Scope = EVERYWHERE, settled: bool = False
) -> None:
    """Say how bad a finding is, 0 to 4, for whom, and why.

    Raises:
        InputError: Where the severity is out of range, the reason is missing, or the scope names what is not there.
        NotSaved: Where the disk refuses.
    """
    if severity not in range(5):
        raise InputError("A severity is 0 to 4.", _KEPT)
    why = required(reason, "A severity needs a reason.")
    _require_scope(opened, scope)
    judged = SeverityJudged(finding, severity, why, scope.chair, scope.audience, scope.workaround_known, settled)
    commit_sorting(opened, [judged])


def withdraw_severity(opened: OpenStudy, finding: str, scope: Scope, reason: str) -> None:
    """Let a narrower severity hold no more. Raises InputError, Refused, NotSaved."""
    why = required(reason, "Withdrawing a severity needs a reason.")
    withdrawn = SeverityWithdrawn(finding, why, scope.chair, scope.audience, scope.workaround_known)
    commit_sorting(opened, [withdrawn])


def correct_factor(opened: OpenStudy, finding: str, factor: str, value: str, reason: str) -> None:
    """Correct a factor of the suggested severity, with why. Raises InputError, Refused, NotSaved."""
    if factor not in FACTOR_VALUES:
        raise InputError(f"The factors are: {', '.join(FACTOR_VALUES)}.", _KEPT)
    why = required(reason, "Correcting a factor needs a reason.")
    commit_sorting(opened, [FactorCorrected(finding, factor, value, why)])  # type: ignore[arg-type]


def say_occurrence(opened: OpenStudy, finding: str, **values: Any) -> None:
    """Say whether a finding comes and goes. Raises InputError, NotSaved."""
    before = asdict(find_finding(opened, finding).occurrence)
    occurrence = made(Occurrence, {**before, **values}, "Whether it comes back")
    commit_sorting(opened, [OccurrenceSaid(finding, occurrence)])


def find_part(finding: Finding, kind: str, part: str) -> FindingPart:
    """A part that holds, by its id or its number from 1. Raises InputError where there is none."""
    held = finding.held(kind)
    named = next((each for each in held if each.id == part), None)
    if named is None and part.isdecimal() and 0 < int(part) <= len(held):
        named = held[int(part) - 1]
    if named is None:
        raise InputError(f"F{finding.number} has no {kind} {legible(clipped(part, 40))}.", _KEPT)
    return named


def put_part(opened: OpenStudy, finding: str, kind: str, texts: Mapping[str, str], *, part: str = "") -> FindingPart:
    """A cause, trial, workaround or excuse from texts for its fields, new or changed: all of them, or nothing.

    Args:
        opened: The open study.
        finding: The finding's id.
        kind: What it is.
        texts: What is typed for each field. A revised cause says its reason anew.
        part: The part that is changed, by id; empty for a new one.

    Raises:
        InputError: Where a text is none for its field, a reason is missing, or what it speaks of is not there.
        Refused: Where an excuse would raise the severity, or there is none to excuse.
        NotSaved: Where the disk refuses.
    """
    require_kind(kind)
    of = find_finding(opened, finding)
    before = find_part(of, kind, part) if part else None
    if isinstance(before, Cause) and "reason" not in texts and texts:
        raise InputError("A cause is revised with a reason.", "Say why; the earlier one stays on record with its own.")
    values: dict[str, Any] = asdict(before) if before is not None else {"id": new_id()[:8]}
    form = TextForm(PARTS[kind], kind, PART_LABELS[kind], PART_NEEDED[kind])
    made_part: FindingPart = form.made(texts, values)
    if isinstance(made_part, Excuse) and made_part.by and made_part.by not in targets(opened):
        raise InputError(f"There is no {legible(clipped(made_part.by, 60))} in this study.", _KEPT)
    if isinstance(made_part, Trial) and made_part.cause:
        made_part = replace(made_part, cause=find_part(of, "cause", made_part.cause).id)
    if made_part != before:
        commit_sorting(opened, [_entry(of.id, made_part)])
    return made_part


def drop_part(opened: OpenStudy, finding: str, kind: str, part: str, reason: str) -> None:
    """Let a part hold no more, with why; it stays on record. Raises InputError, Refused, NotSaved."""
    require_kind(kind)
    held = find_part(find_finding(opened, finding), kind, part)
    why = required(reason, f"Dropping {with_article(kind)} needs a reason.")
    commit_sorting(opened, [PartDropped(finding, kind, held.id, why)])  # type: ignore[arg-type]


def required(reason: str, said: str) -> str:
    """The reason, clipped. Raises InputError with `said` where there is none."""
    if not reason.strip():
        raise InputError(said, "Say in a few words why; nothing was changed.")
    return clipped(reason.strip(), 2000)


def _entry(finding: str, part: FindingPart) -> SortContent:
    match part:
        case Cause():
            return CausePut(finding, part)
        case Trial():
            return TrialPut(finding, part)
        case Workaround():
            return WorkaroundPut(finding, part)
        case Excuse():
            return ExcusePut(finding, part)


def require_kind(kind: str) -> None:
    """Do nothing for a kind of part of a finding. Raises InputError for all else."""
    if kind not in PARTS:
        raise InputError(f"A finding has no {legible(clipped(kind, 30))}.", f"It has: {', '.join(PARTS)}.")


def _require_scope(opened: OpenStudy, scope: Scope) -> None:
    if scope.chair and scope.chair not in opened.study.chair_by_letter:
        raise InputError(f"There is no chair {legible(scope.chair[:3])}.", _KEPT)
    audiences = [audience.name for audience in opened.study.sheet.audiences]
    if scope.audience and scope.audience not in audiences:
        known = ", ".join(audiences) or "none yet; the study sheet names them"
        raise InputError(f"There is no audience {legible(clipped(scope.audience, 40))}.", f"These are: {known}.")
