"""Open data of evidence records: a table for each kind, a column a field; and the later list."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import fields

from fresh_chair.core.clock import Moment
from fresh_chair.core.evidence.later import LaterLine
from fresh_chair.core.evidence.ledger import EvidenceState
from fresh_chair.core.evidence.records import KINDS, evidence_of, is_own
from fresh_chair.core.plan.study import Study
from fresh_chair.tell.tables import Cell, table

# The name of each kind's file.
EVIDENCE_FILES = {
    "reference": "references.csv",
    "against": "against.csv",
    "change": "changes.csv",
    "inventory": "inventory.csv",
    "link": "links.csv",
    "forecast": "forecasts.csv",
    "advice": "advice.csv",
    "disclosure": "disclosures.csv",
    "verdict": "verdicts.csv",
    "criterion": "criteria.csv",
    "score": "scores.csv",
    "answer": "contradictions.csv",
    "paragraph": "paragraphs.csv",
    "choice": "choices.csv",
    "reply": "replies.csv",
    "final": "final_documents.csv",
}
LATER_COLUMNS = ("study", "what", "sort", "due", "when", "chair", "whom", "record", "mark", "source")


def evidence_csv(study: Study, state: EvidenceState, kind: str) -> str:
    """One row a record of a kind that holds; how it is known, and when it was put down and changed."""
    names = [part.name for part in fields(KINDS[kind]) if part.name != "evidence"]

    def rows() -> Iterator[Sequence[Cell]]:
        for held in state.held(kind):
            known = (evidence_of(held.record), is_own(held.record), _utc(held.first), _utc(held.last), held.source)
            values = (getattr(held.record, name) for name in names)
            yield (study.id, *("; ".join(v) if isinstance(v, tuple) else v for v in values), *known)

    return table(("study", *names, "evidence", "own_evidence", "first_utc", "last_utc", "carried_from"), rows())


def later_csv(study: Study, lines: Iterable[LaterLine]) -> str:
    """One row a thing that is not done; `record` is empty for a question that was only logged in a sitting."""
    return table(
        LATER_COLUMNS,
        ((study.id, *(getattr(line, name) for name in LATER_COLUMNS[1:])) for line in lines),
    )


def _utc(moment: Moment) -> str:
    return moment.wall.isoformat(timespec="seconds")
