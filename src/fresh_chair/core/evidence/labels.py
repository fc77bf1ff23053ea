"""Labels of the fields of evidence records, and the values that belong into each."""

from fresh_chair.core.frozen import frozen


@frozen
class EvidenceLabel:
    """One field of a record: its name there, its label, and a note on its values."""

    field: str
    words: str
    note: str = ""


_TARGET = "Typed: chair:B, mark:ID, step:ID, record:A/claim/ID, card:ID, reference:ID, finding:ID, ..."
_KNOWN = EvidenceLabel("evidence", "known by", "Done, seen, measured, read about, ...; empty: the usual of its kind.")
_NOTE = EvidenceLabel("note", "note")
EVIDENCE_LABELS: dict[str, tuple[EvidenceLabel, ...]] = {
    "reference": (
        EvidenceLabel("name", "name", "Such as: the release before; what most systems do."),
        EvidenceLabel("sort", "sort"),
        EvidenceLabel("earlier_of", "earlier release of", "The chair or reference that came after it: chair:A."),
        _NOTE,
    ),
    "against": (
        EvidenceLabel("of", "what", _TARGET),
        EvidenceLabel("than", "against", "A reference or a chair: reference:ID, chair:B."),
        EvidenceLabel("says", "says"),
        EvidenceLabel("words", "in words"),
        EvidenceLabel("differs", "what differs", "In the conditions: another machine, a later update, ..."),
        _KNOWN,
    ),
    "change": (
        EvidenceLabel("chair", "chair", "Its letter; empty where it is of a reference."),
        EvidenceLabel("release", "of release", "A reference that nobody sits at: reference:ID."),
        EvidenceLabel("what", "what"),
        EvidenceLabel("sort", "sort"),
        EvidenceLabel("was", "was", "Before: a name, a place, a version."),
        EvidenceLabel("now", "now"),
        EvidenceLabel("known", "found or announced"),
        EvidenceLabel("comes", "still to come", "With a date or a release; empty where it is here."),
        EvidenceLabel("claim", "promised by claim", "The claim's id."),
        EvidenceLabel("instead", "of the promise", "As promised, something else, or the newest is elsewhere."),
        _KNOWN,
    ),
    "inventory": (
        EvidenceLabel("chair", "chair", "Its letter."),
        EvidenceLabel("purpose", "purpose", "A mail program; something for the tides."),
        EvidenceLabel("presence", "is it there"),
        EvidenceLabel("shown", "shown name"),
        EvidenceLabel("version", "version"),
        EvidenceLabel("package_format", "package format"),
        EvidenceLabel("source", "source"),
        EvidenceLabel("found", "found in"),
        EvidenceLabel("looked", "looked for in"),
        _NOTE,
        _KNOWN,
    ),
    "link": (
        EvidenceLabel("first", "what", _TARGET),
        EvidenceLabel("relation", "how"),
        EvidenceLabel("second", "to what", _TARGET),
        _NOTE,
    ),
    "forecast": (
        EvidenceLabel("what", "what will happen"),
        EvidenceLabel("by", "by", "A date such as 2027-04-01."),
        EvidenceLabel("release", "with which release"),
        EvidenceLabel("sure", "how sure"),
        EvidenceLabel("bears_on", "bears on", _TARGET),
        EvidenceLabel("sealed", "sealed", "Once it is, only how it came out can be said."),
        EvidenceLabel("outcome", "came true"),
        _NOTE,
    ),
    "later": (
        EvidenceLabel("what", "what"),
        EvidenceLabel("sort", "sort"),
        EvidenceLabel("due", "due", "A date such as 2027-04-01."),
        EvidenceLabel("when", "or when", "What else brings it back: when it is final, a release."),
        EvidenceLabel("chair", "at chair"),
        EvidenceLabel("whom", "for whom"),
        EvidenceLabel("of", "comes from", _TARGET),
        EvidenceLabel("done", "done"),
        EvidenceLabel("became", "what came of it"),
    ),
    "advice": (
        EvidenceLabel("what", "advice"),
        EvidenceLabel("to", "to"),
        EvidenceLabel("of", "comes from", _TARGET),
        EvidenceLabel("told", "told where", "Of advice to makers: a bug report, a letter."),
        EvidenceLabel("told_on", "told on", "A date such as 2027-04-01."),
        EvidenceLabel("answer", "answered"),
    ),
    "disclosure": (
        EvidenceLabel("chair", "chair", "Its letter."),
        EvidenceLabel("sitting", "of walk", "The sitting's number; 0 for all of the chair."),
        EvidenceLabel("terms", "terms", "Paid, lent, given, none."),
        EvidenceLabel("price", "price"),
        EvidenceLabel("worth", "said to be worth"),
        EvidenceLabel("group", "release", "Whose editions belong together."),
        EvidenceLabel("edition", "edition"),
        EvidenceLabel("meant_for", "is for"),
        _NOTE,
    ),
    "verdict": (
        EvidenceLabel("chair", "chair", "Its letter; empty for no clear winner among all."),
        EvidenceLabel("audience", "for whom", "One of the study's audiences; empty for everyone."),
        EvidenceLabel("says", "says"),
        EvidenceLabel("condition", "if, or wait for", "The condition, or the release."),
        EvidenceLabel("firm", "how firm"),
        EvidenceLabel("relative_to", "relative to", "Against what: the release before, the other chairs."),
        EvidenceLabel("why", "because"),
        EvidenceLabel("on", "on", "A date such as 2027-04-01."),
        EvidenceLabel("revises", "revises", "The earlier verdict: verdict:ID."),
        EvidenceLabel("met", "condition met on", "A date: from then on it is open again."),
    ),
    "criterion": (
        EvidenceLabel("name", "criterion"),
        EvidenceLabel("scorecard", "scorecard", "Its name; empty where there is one only."),
        EvidenceLabel("audience", "for whom", "Whose weight this is; empty for everyone."),
        EvidenceLabel("weight", "weight"),
        EvidenceLabel("figure", "figure", "What it is mapped from; empty where you score it."),
        EvidenceLabel("worst", "lowest score at", "The figure's value; shares as 0 to 1, times as multiples."),
        EvidenceLabel("best", "highest score at", "The figure's value; in between in proportion."),
        EvidenceLabel("low", "scale from"),
        EvidenceLabel("high", "scale to"),
        EvidenceLabel("names", "scale in words", "From the lowest on, parted by semicolons: poor; fair; good."),
    ),
    "score": (
        EvidenceLabel("criterion", "criterion", "criterion:ID"),
        EvidenceLabel("chair", "chair", "Its letter."),
        EvidenceLabel("value", "score"),
        EvidenceLabel("why", "because"),
    ),
    "answer": (
        EvidenceLabel("about", "contradiction", "Its key, as the list shows it."),
        EvidenceLabel("answer", "answer"),
        EvidenceLabel("because", "because"),
    ),
    "paragraph": (
        EvidenceLabel("text", "paragraph"),
        EvidenceLabel("at", "stands at", "A section, figure or number by its id; foreword by itself."),
        EvidenceLabel("reader", "for", "decider, maker, researcher or viewer; empty for all."),
        EvidenceLabel("chair", "of chair", "Of the documents for makers; empty for all."),
    ),
    "choice": (
        EvidenceLabel("of", "mark", "The quote, or the mark with the picture: mark:ID."),
        EvidenceLabel("says", "is"),
        EvidenceLabel("reader", "for", "decider, maker, researcher or viewer; empty for all."),
    ),
    "reply": (
        EvidenceLabel("chair", "chair", "Whose makers answered; its letter."),
        EvidenceLabel("of", "to finding", "finding:ID; empty for the whole document."),
        EvidenceLabel("text", "answer"),
        EvidenceLabel("by", "by"),
        EvidenceLabel("on", "on", "A date such as 2027-04-01."),
    ),
    "final": (
        EvidenceLabel("reader", "for"),
        EvidenceLabel("chair", "of chair"),
        EvidenceLabel("sitting", "of sitting"),
        EvidenceLabel("on", "on"),
        EvidenceLabel("language", "language"),
        EvidenceLabel("sha256", "hash"),
        EvidenceLabel("sections", "hashes of its sections"),
    ),
}
# What a record cannot be without, and how one asks for it.
NEEDED: dict[str, tuple[tuple[str, str], ...]] = {
    "reference": (("name", "say what it is called"),),
    "against": (("of", "say what is compared"), ("than", "say what it is held against")),
    "change": (("what", "say what changed"),),
    "inventory": (("chair", "say at which chair"), ("purpose", "say what it is for")),
    "link": (("first", "say what is tied"), ("relation", "say how"), ("second", "say what it is tied to")),
    "forecast": (("what", "say what will happen"),),
    "later": (("what", "say what was put off"),),
    "advice": (("what", "say what you advise"),),
    "disclosure": (("chair", "say of which chair"),),
    "verdict": (("says", "say what the verdict is"),),
    "criterion": (("name", "say what the criterion is"),),
    "score": (("criterion", "say of which criterion"), ("chair", "say of which chair"), ("value", "give the score")),
    "answer": (("about", "say which contradiction"), ("because", "say why")),
    "paragraph": (("text", "write the paragraph"),),
    "choice": (("of", "say which mark"),),
    "reply": (("chair", "say whose makers"), ("text", "say what they answered")),
    "final": (("reader", "say for whom"), ("on", "say when"), ("sha256", "give its hash")),
}
