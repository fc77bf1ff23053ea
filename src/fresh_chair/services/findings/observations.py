"""Everything of the open study that a finding can stand on, and both lists of Sort."""

from collections.abc import Iterator, Sequence

from fresh_chair.core.chair.records import evidence_of, kind_of
from fresh_chair.core.clock import SECOND
from fresh_chair.core.findings.matching import alike
from fresh_chair.core.findings.observations import Observation, marks_of_sittings
from fresh_chair.core.findings.sorted_findings import FindingView, SortedFindings, in_order, sorted_findings
from fresh_chair.services.chair.records import record_words
from fresh_chair.services.study.snapshot import StudyReading


def sorted_findings_of(opened: StudyReading) -> SortedFindings:
    """Both lists of the open study."""
    return sorted_findings(opened.study, observations_of(opened), opened.findings, opened.facts())


def marks_of(opened: StudyReading) -> list[Observation]:
    """Every mark of every sitting, those of one card together; read once for each state of the journals."""
    study, sittings = opened.study, opened.sittings
    return opened.computed.value(
        "marks", study, opened.entries, lambda: in_order(study, marks_of_sittings(study, sittings))
    )


def observations_of(opened: StudyReading) -> list[Observation]:
    """The marks of all sittings and the records of all chairs."""
    return [*marks_of(opened), *_records(opened)]


def _records(opened: StudyReading) -> Iterator[Observation]:
    for letter in opened.study.chair_by_letter:
        for kind, records in opened.known_chairs.of(letter).records.items():
            for name, held in records.items():
                yield Observation(
                    target=f"record:{letter}/{kind}/{name}",
                    kind=kind_of(held.record),
                    words=record_words(held.record),
                    chair=letter,
                    at_ns=held.moment.wall_ns // SECOND,
                    evidence=evidence_of(held.record),
                )


def similar_to(words: str, others: Sequence[Observation]) -> list[tuple[Observation, float]]:
    """The observations whose words look alike, the closest first, each with how close it is."""
    return [(others[index], close) for index, close in alike(words, [each.words for each in others], closeness)]


def closeness(words: str, others: Sequence[str]) -> list[float]:
    """How close words are to each of several others, from 0 to 1, in any order of words.

    By RapidFuzz's ratio of token sets: it needs no training on texts of the kind, takes a word more or a letter wrong,
    and holds one text against thousands within a key press, which weighing words by their rareness over all of them
    anew at each change would not.
    """
    from rapidfuzz import fuzz, process

    return [float(close) / 100 for close in process.cdist([words], list(others), scorer=fuzz.token_set_ratio)[0]]


# From here on a finding is offered for an observation.
_NEAR = 0.72


def near_findings(observation: Observation, findings: Sequence[FindingView], *, most: int = 3) -> list[FindingView]:
    """The findings whose observations look like one, the closest first; they are offered, and nothing is joined."""
    if not observation.words or not findings:
        return []
    texts = [" ".join(each.words for each in view.observations[:6]) or view.title for view in findings]
    close = zip(findings, closeness(observation.words.casefold(), texts), strict=True)
    near = sorted(((view, how) for view, how in close if how >= _NEAR), key=lambda each: -each[1])
    return [view for view, _ in near[:most]]
