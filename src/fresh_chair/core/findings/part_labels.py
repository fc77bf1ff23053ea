"""Labels of the fields of a finding's parts, and the fields they cannot be without."""

from fresh_chair.core.evidence.labels import EvidenceLabel

PART_LABELS: dict[str, tuple[EvidenceLabel, ...]] = {
    "cause": (
        EvidenceLabel("words", "because"),
        EvidenceLabel("lies", "lies in"),
        EvidenceLabel("sure", "how sure"),
        EvidenceLabel("reason", "reason", "Why it is thought, or why it was changed; a guess may do without."),
        EvidenceLabel(
            "ruled_out_by", "ruled out by", "The trial, the control or the fact; only where it is ruled out."
        ),
    ),
    "trial": (
        EvidenceLabel("tried", "tried"),
        EvidenceLabel("result", "result"),
        EvidenceLabel("cause", "of the cause", "The id of the cause that was put to the test."),
        EvidenceLabel("when", "on", "A day such as 2026-11-20."),
        EvidenceLabel("by", "by"),
        EvidenceLabel("note", "note"),
    ),
    "workaround": (
        EvidenceLabel("steps", "way round"),
        EvidenceLabel("takes", "takes"),
        EvidenceLabel("skill", "found by"),
        EvidenceLabel("rights", "needs rights"),
        EvidenceLabel("risk", "risk"),
        EvidenceLabel("lasts", "lasts"),
        EvidenceLabel("helped", "helped"),
        EvidenceLabel("tried_by", "tried by"),
    ),
    "excuse": (
        EvidenceLabel("sort", "excused as"),
        EvidenceLabel("reason", "reason"),
        EvidenceLabel("severity", "excused severity", "0 to 4, never above the one as met."),
        EvidenceLabel("by", "excused by", "A thing such as fault:laptop-12/1 or alteration:C/1."),
        EvidenceLabel("again", "look again when"),
    ),
}
PART_NEEDED: dict[str, tuple[tuple[str, str], ...]] = {
    "cause": (("words", "say what it may be"),),
    "trial": (("tried", "say what was tried"), ("result", "say whether it helped")),
    "workaround": (("steps", "say how it is got round"),),
    "excuse": (
        ("sort", "say what kind of excuse it is"),
        ("reason", "say why it is excused"),
    ),
}
