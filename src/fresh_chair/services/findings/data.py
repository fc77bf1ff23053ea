"""Findings as plain data, for JSON."""

from dataclasses import asdict
from typing import Any

from fresh_chair.core.findings.sorted_findings import FindingView
from fresh_chair.core.findings.state.parts import PARTS
from fresh_chair.services.findings.page import FindingPage


def finding_data(view: FindingView, state: str) -> dict[str, Any]:
    """A finding as plain data.

    Args:
        view: The finding.
        state: Its state on its life line; empty where it has none.
    """
    finding = view.finding
    return {
        "number": f"F{finding.number}",
        "merged": [f"F{number}" for number in finding.merged],
        "id": finding.id,
        "title": finding.title,
        "sort": finding.sort,
        "tags": finding.tags,
        "severity": finding.severity,
        "severity_reason": finding.reason,
        "severities": [
            {**asdict(scope), "severity": judged.severity, "reason": judged.reason, "settled": judged.settled}
            for scope, judged in finding.severities.items()
        ],
        "excused": finding.excused,
        "suggested": view.suggestion.severity,
        "suggested_because": list(view.suggestion.steps),
        "typed": list(view.typed),
        "comes": asdict(finding.occurrence),
        "life": state,
        "under": finding.under,
        "earlier": finding.earlier,
        "evidence": finding.evidence,
        "met": [
            {"chair": each.chair, "people": each.people, "tried": len(each.tried), "others": each.others}
            for each in view.spread
        ],
        **{f"{kind}s": [asdict(part) for part in finding.held(kind)] for kind in PARTS},
    }


def page_data(page: FindingPage) -> dict[str, Any]:
    """A finding's page as plain data: the finding, and every section as its lines."""
    sections = {
        section.name: [{"words": line.words, "target": line.target, "chair": line.chair} for line in section.lines]
        for section in page.sections
    }
    return {**finding_data(page.view, ""), "page": sections}
