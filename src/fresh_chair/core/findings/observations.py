"""Observations: everything seen once that a finding can stand on, marks of sittings and walks first of all."""

from collections.abc import Mapping

from fresh_chair.core.clock import clock_text
from fresh_chair.core.evidence.kinds import BESIDE_A_NEWCOMER, IN_A_WALK, OWN, Evidence
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.sitting.state.sitting import Remark, Sitting

# Kinds of marks that have something to say about a chair.
MARKED = ("snag", "delight", "quote", "warning", "note", "question", "line")
# The kind that waits to be sorted; the others may feed a finding.
TO_SORT = "snag"


@frozen
class Observation:
    """One thing seen once.

    Attributes:
        target: The mark, or the record of a chair, as a target.
        kind: The mark's kind, or the record's.
        sitting, participant: 0 and empty for a record of a chair.
        attempt: The attempt that was in hand.
        card: The card's id, empty where it was seen between two attempts.
        at_ns: Nanoseconds in the sitting; for a record, when it was read, in seconds.
        findings: Ids of the findings it feeds, as far as these were held together.
        severity: How bad it was as it was typed at once; None where nothing was.
        walked: Whether a reviewer met it alone; such a one is in no share of newcomers.
        evidence: How it is known.
        author: The second observer who made the mark; empty for the moderator.
    """

    target: str
    kind: str
    words: str
    chair: str
    sitting: int = 0
    participant: str = ""
    attempt: int | None = None
    card: str = ""
    at_ns: int = 0
    findings: tuple[str, ...] = ()
    severity: int | None = None
    walked: bool = False
    evidence: Evidence = BESIDE_A_NEWCOMER
    author: str = ""

    @property
    def entry(self) -> str:
        """The id of its entry in the journal; empty for a record of a chair."""
        return self.target.removeprefix("mark:") if self.target.startswith("mark:") else ""

    @property
    def at(self) -> str:
        """Time in the sitting, as on a clock; empty for a record of a chair."""
        return clock_text(self.at_ns) if self.sitting else ""

    @property
    def own(self) -> bool:
        """True where it is the reviewer's own evidence."""
        return self.evidence in OWN

    @property
    def known(self) -> str:
        """How it is known, in brackets, where that is not the usual of its sitting; empty where it is."""
        usual = IN_A_WALK if self.walked else BESIDE_A_NEWCOMER
        return f" ({self.evidence})" if self.sitting and self.evidence != usual else ""


def marks_of_sittings(study: Study, sittings: Mapping[int, Sitting]) -> list[Observation]:
    """Every mark with something to say, in the order of sittings and time."""
    return [
        _observation(seat, sitting, remark)
        for seat in study.seats
        if (sitting := sittings.get(seat.number)) is not None
        for remark in sitting.remarks.values()
        if remark.kind in MARKED and sitting.observed_taken.get(remark.entry, (True, ""))[0]
    ]


def _observation(seat: Seat, sitting: Sitting, remark: Remark) -> Observation:
    card = "" if remark.attempt is None else sitting.attempts[remark.attempt - 1].card
    if remark.step is not None and sitting.walk is not None:
        card = sitting.walk.steps[remark.step - 1].card
    return Observation(
        target=f"mark:{remark.entry}",
        kind=remark.kind,
        words=remark.words,
        chair=seat.chair,
        sitting=seat.number,
        participant=seat.participant,
        attempt=remark.attempt,
        card=card,
        at_ns=remark.at_ns,
        severity=remark.severity,
        walked=sitting.walk is not None,
        evidence=remark.evidence,
        author=remark.author if remark.author in sitting.observers else "",
    )
