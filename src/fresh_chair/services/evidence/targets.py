"""The targets of evidence: whether they are there, their words, and both ends of each link."""

from collections.abc import Collection, Iterator
from dataclasses import fields

from fresh_chair.core.errors import InputError
from fresh_chair.core.evidence.ledger import EvidenceState
from fresh_chair.core.evidence.records import EvidenceRecord, Link, kind_of
from fresh_chair.core.evidence.targets import target_parts
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped
from fresh_chair.services.study.snapshot import StudyReading

# The fields that name a target.
TARGET_FIELDS = ("earlier_of", "of", "than", "first", "second", "bears_on", "release", "revises", "criterion")
# The field of an evidence record that says what it is.
_HEAD = {
    "reference": "name",
    "change": "what",
    "inventory": "purpose",
    "forecast": "what",
    "later": "what",
    "advice": "what",
    "against": "words",
    "disclosure": "terms",
    "verdict": "says",
    "criterion": "name",
    "score": "value",
    "answer": "about",
    "link": "relation",
    "paragraph": "text",
    "choice": "says",
    "reply": "text",
    "final": "reader",
}


_PART_WORDS = {"cause": "words", "trial": "tried", "workaround": "steps", "excuse": "reason"}


@frozen
class LinkEnd:
    """A link seen from one of its ends.

    Attributes:
        words: How it is tied, read from this end.
        other: The target at the other end, and what that is called.
        gone: Whether the other end does not hold any more.
    """

    link: Link
    words: str
    other: str
    other_words: str
    gone: bool


def targets(opened: StudyReading) -> dict[str, str]:
    """Everything that can be spoken of, by its target, with its words."""
    return dict(_all(opened))


def numbered_finding(opened: StudyReading, text: str) -> str:
    """A typed target that names a finding by its number, finding:F3 or finding:3, by its id; any other as it is."""
    kind, _, name = text.strip().partition(":")
    digits = name.strip().removeprefix("F").removeprefix("f")
    if kind != "finding" or not digits.isdecimal() or len(digits) > 6:
        return text
    found = opened.findings.by_number(int(digits))
    return text if found is None else f"finding:{found.id}"


def target_words(opened: StudyReading, target: str, known: dict[str, str] | None = None) -> str:
    """A target in words; one that does not hold any more is said to be gone.

    Args:
        opened: The study.
        target: The target.
        known: All targets, where they were asked for already.
    """
    if not target:
        return ""
    found = (targets(opened) if known is None else known).get(target)
    return f"{target} (gone)" if found is None else found


def require_there(opened: StudyReading, record: EvidenceRecord) -> None:
    """Do nothing where all that a record speaks of is there. Raises InputError naming the first that is not."""
    speaks = any(targets_in(record))
    for what, field in missing_in(opened, record, targets(opened) if speaks else {}):
        raise InputError(f"There is no {what} in this study @ {field}.", "Nothing was changed.")


def missing_in(opened: StudyReading, record: EvidenceRecord, known: Collection[str]) -> Iterator[tuple[str, str]]:
    """The things a record speaks of that are not there, each with its field.

    Args:
        opened: The study.
        record: The record.
        known: All targets that are there.
    """
    for field, target in targets_in(record):
        if target not in known:
            yield clipped(target, 60), field
    letter = getattr(record, "chair", "")
    if letter and letter not in opened.study.chair_by_letter:
        yield f"chair {letter}", "chair"


def targets_in(record: EvidenceRecord) -> Iterator[tuple[str, str]]:
    """The targets a record names, each with its field."""
    for part in fields(record):
        value = getattr(record, part.name)
        # A forecast's release is a name, a change's is a reference.
        if part.name in TARGET_FIELDS and value and target_parts(value)[0]:
            yield part.name, value


def links_of(opened: StudyReading, target: str) -> list[LinkEnd]:
    """The links of one thing, as they read from it."""
    tied = [link for link in opened.evidence.state.links() if target in (link.first, link.second)]
    # Most things have none, and a cursor moves over many: what all are called is asked for only where it is needed.
    known = targets(opened) if tied else {}
    found = []
    for link in tied:
        here_first = link.first == target
        other = link.second if here_first else link.first
        words = link.relation if here_first else f"{_REVERSED.get(link.relation, link.relation)}"
        found.append(LinkEnd(link, words, other, target_words(opened, other, known), other not in known))
    return found


# How a link reads from its second end.
_REVERSED = {
    "because of": "is why",
    "excused by": "excuses",
    "speaks for": "is spoken for by",
    "speaks against": "is spoken against by",
    "mended by": "mends",
    "seen through": "shows",
    "earlier release of": "is a later release than",
}


def _all(opened: StudyReading) -> Iterator[tuple[str, str]]:
    study = opened.study
    for chair in study.chairs:
        yield f"chair:{chair.letter}", f"{chair.letter} {chair.title}"
        for number, words in enumerate(chair.alterations, start=1):
            yield f"alteration:{chair.letter}/{number}", f"{chair.letter}, altered: {clipped(words, 60)}"
    for machine in study.machines:
        for number, fault in enumerate(machine.faults, start=1):
            yield f"fault:{machine.id}/{number}", f"{machine.name}, fault: {clipped(fault.what, 60)}"
    for card in study.cards:
        yield f"card:{card.id}", card.title
    yield from _sittings(opened)
    yield from _chairs(opened)
    for finding in opened.findings.by_id.values():
        yield f"finding:{finding.id}", f"F{finding.number} {finding.title}"
        for kind, by_id in finding.parts.items():
            for name, versions in by_id.items():
                part = versions[-1].part
                if part is not None:
                    words = getattr(part, _PART_WORDS[kind])
                    yield f"{kind}:{finding.id}/{name}", f"F{finding.number} {kind}: {clipped(words, 60)}"
    for hunch in opened.hunches:
        yield f"hunch:{hunch.id}", clipped(hunch.words, 60)
    yield from _evidence(opened.evidence.state)


def _sittings(opened: StudyReading) -> Iterator[tuple[str, str]]:
    cards = opened.study.card_by_id
    for number, sitting in sorted(opened.sittings.items()):
        seat = opened.study.seat(number)
        yield f"sitting:{number}", f"sitting {number}, {seat.participant} at {seat.chair}"
        for attempt in sitting.tried:
            title = cards[attempt.card].title if attempt.card in cards else attempt.card
            yield f"attempt:{number}/{attempt.number}", f"{seat.participant} at {seat.chair}: {title}"
        for remark in sitting.remarks.values():
            yield f"mark:{remark.entry}", f"{remark.kind} {clipped(remark.words, 60)}".strip()
        for step in sitting.walk.steps if sitting.walk is not None else ():
            yield f"step:{step.entry}", f"step {clipped(step.title, 60)}"


def _chairs(opened: StudyReading) -> Iterator[tuple[str, str]]:
    from fresh_chair.services.chair.records import record_words

    for letter in opened.study.chair_by_letter:
        for kind, records in opened.known_chairs.of(letter).records.items():
            for held in records.values():
                words = record_words(held.record)
                yield f"record:{letter}/{kind}/{held.record.id}", f"{letter} {kind}: {clipped(words, 60)}"


def _evidence(state: EvidenceState) -> Iterator[tuple[str, str]]:
    for kind, records in state.records.items():
        for name, held in records.items():
            words = str(getattr(held.record, _HEAD[kind_of(held.record)]))
            yield f"{kind}:{name}", f"{kind} {clipped(words, 60)}".strip()


def dangling(opened: StudyReading) -> list[str]:
    """Records that speak of a thing that is gone, a sentence each; they stay as they are."""
    known, found = targets(opened), []
    for kind, records in opened.evidence.state.records.items():
        for name, held in records.items():
            for field, target in targets_in(held.record):
                if target not in known and target_parts(target)[0]:
                    found.append(f"{kind} {name}: {target} is gone @ {field}")
    return found
