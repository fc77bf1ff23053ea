"""Findings as open tables: findings, severities, ratings, causes, trials, ways round and excuses, every version."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import fields

from fresh_chair.core.clock import Moment
from fresh_chair.core.findings.sorted_findings import SortedFindings
from fresh_chair.core.findings.state.finding import Finding, JudgedSeverity, Scope
from fresh_chair.core.findings.state.parts import PARTS
from fresh_chair.core.plan.study import Study
from fresh_chair.tell.tables import Cell, table

FINDING_COLUMNS = (
    "study", "finding", "id", "title", "sort", "tags", "severity", "severity_reason", "excused", "suggested",
    "suggested_because", "typed", "comes", "comes_met", "comes_tries", "comes_count", "life", "under", "earlier",
    "merged", "met_by", "tried_by", "also_met_by", "chairs", "cards", "observations", "completed_by_workaround",
)  # fmt: skip
SEVERITY_COLUMNS = (
    "study", "finding", "chair", "audience", "workaround_known", "severity", "reason", "settled", "holds", "author",
    "judged_utc",
)  # fmt: skip
RATING_COLUMNS = ("study", "finding", "rater", "severity", "reason", "unseen", "rated_utc")


def findings_csv(
    study: Study, found: SortedFindings, lives: Mapping[str, str], ways: Mapping[str, Sequence[str]]
) -> str:
    """One row a finding, by number.

    Args:
        study: The plan.
        found: The findings.
        lives: The newest state of each on its life line, by id.
        ways: Attempts that were completed by one of its workarounds, by the finding's id.
    """
    names = {view.id: f"F{view.finding.number}" for view in found.findings}

    def rows() -> Iterator[Sequence[Cell]]:
        for view in sorted(found.findings, key=lambda each: each.finding.number):
            finding, occurrence = view.finding, view.finding.occurrence
            others = sorted({code for each in view.spread for code in each.others})
            yield (
                study.id, names[view.id], finding.id, finding.title, finding.sort, "; ".join(finding.tags),
                finding.severity, finding.reason, finding.excused, view.suggestion.severity,
                "; ".join(view.suggestion.steps), "; ".join(map(str, view.typed)), occurrence.how, occurrence.met,
                occurrence.tries, occurrence.count, lives.get(view.id, ""), names.get(finding.under, ""),
                finding.earlier, "; ".join(f"F{number}" for number in finding.merged), "; ".join(view.people),
                "; ".join(sorted({code for each in view.spread for code in each.tried})), "; ".join(others),
                "; ".join(each.chair for each in view.spread if each.people or each.others), "; ".join(view.cards),
                "; ".join(finding.evidence), "; ".join(ways.get(view.id, ())),
            )  # fmt: skip

    return table(FINDING_COLUMNS, rows())


def severities_csv(study: Study, found: SortedFindings) -> str:
    """One row a severity that was ever judged, with for whom; `holds` is false for one that was judged anew."""

    def rows() -> Iterator[Sequence[Cell]]:
        for finding in _by_number(found):
            for scope, judged in finding.earlier_severities:
                yield _severity_row(study, finding, scope, judged, holds=False)
            for scope, judged in finding.severities.items():
                yield _severity_row(study, finding, scope, judged, holds=True)

    return table(SEVERITY_COLUMNS, rows())


def _severity_row(
    study: Study, finding: Finding, scope: Scope, judged: JudgedSeverity, *, holds: bool
) -> Sequence[Cell]:
    return (
        study.id, f"F{finding.number}", scope.chair, scope.audience, scope.workaround_known, judged.severity,
        judged.reason, judged.settled, holds, judged.author, _utc(judged.moment),
    )  # fmt: skip


def ratings_csv(study: Study, found: SortedFindings) -> str:
    """One row a rating; `unseen` is true where no other rater's could be seen when it was given."""

    def rows() -> Iterator[Sequence[Cell]]:
        for finding in _by_number(found):
            for each in finding.ratings.values():
                told = (each.rater, each.severity, each.reason, each.blind, _utc(each.moment))
                yield (study.id, f"F{finding.number}", *told)

    return table(RATING_COLUMNS, rows())


def parts_csv(study: Study, found: SortedFindings, kind: str) -> str:
    """One row a version of a cause, trial, workaround or excuse, oldest first; the last one holds, or was dropped."""
    names = [part.name for part in fields(PARTS[kind])]

    def rows() -> Iterator[Sequence[Cell]]:
        for finding in _by_number(found):
            for name, versions in finding.parts.get(kind, {}).items():
                for index, version in enumerate(versions):
                    values = [name] if version.part is None else [getattr(version.part, each) for each in names]
                    filled = [*values, *[""] * (len(names) - len(values))]
                    holds = index == len(versions) - 1 and version.part is not None
                    told = (holds, version.reason, version.author, _utc(version.moment))
                    yield (study.id, f"F{finding.number}", *filled, *told)

    return table(("study", "finding", *names, "holds", "dropped_because", "author", "said_utc"), rows())


def _by_number(found: SortedFindings) -> list[Finding]:
    return sorted((view.finding for view in found.findings), key=lambda finding: finding.number)


def _utc(moment: Moment) -> str:
    return moment.wall.isoformat(timespec="seconds")
