"""The marks under numbers that are of no attempt: records of chairs, scores, hunches, ratings, the plan."""

from collections.abc import Iterator

from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.findings.sorted_findings import FindingView
from fresh_chair.core.frozen import frozen
from fresh_chair.core.judgement.scorecard import ScoreRow
from fresh_chair.core.text import slug
from fresh_chair.services.chair.records import record_words
from fresh_chair.services.evidence.records import evidence_lines, evidence_of_kind
from fresh_chair.services.evidence.targets import targets
from fresh_chair.services.findings.forecasts import ForecastLine, forecast_lines
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.judgement.scorecards import scorecards
from fresh_chair.services.sitting.view import look_back_between
from fresh_chair.services.study.snapshot import StudyReading


@frozen
class TracedMark:
    """One mark under a number.

    Attributes:
        sitting, participant, chair: Where it was made; 0 and empty for one of no sitting.
        entry: The number of its entry in the journal, or the id of a record.
        at: Its time in the sitting, as on a clock.
        under: What of the number it belongs to: a task, a finding.
    """

    sitting: int
    participant: str
    chair: str
    entry: str
    at: str
    words: str
    under: str = ""


def of_kinds(opened: StudyReading, kinds: tuple[str, ...], *, chair: str = "", code: str = "") -> Iterator[TracedMark]:
    """The entries of some kinds in counted sittings.

    Args:
        opened: The study.
        kinds: Of entries.
        chair: At this chair alone; empty for all.
        code: Of this person alone, counted or not; empty for all who count.
    """
    for number in sorted(opened.sittings):
        seat = opened.study.seat(number)
        if chair not in ("", seat.chair) or (code and seat.participant != code):
            continue
        if code or opened.study.counted(seat.participant):
            for line in look_back_between(opened, number, kinds=kinds):
                yield TracedMark(number, seat.participant, seat.chair, str(line.number), line.at, line.text)


def of_foreseen(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    """A prediction itself, and its outcome as far as it is on record."""
    line = _predictions(opened)[int(parts[0]) - 1]
    yield TracedMark(0, "", "", line.id, "", f"{line.what}: {line.outcome}; {line.note}".rstrip("; "), line.about)


def _predictions(opened: StudyReading) -> list[ForecastLine]:
    return [line for line in forecast_lines(opened) if not line.late]


def is_foreseen(opened: StudyReading, parts: list[str]) -> bool:
    """Whether there is a prediction of that number."""
    return len(parts) == 1 and parts[0].isdecimal() and 1 <= int(parts[0]) <= len(_predictions(opened))


def of_ratings(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    """Every rater's severity, once all may see them."""
    for finding in opened.findings.by_id.values() if opened.findings.settling else ():
        for rating in finding.ratings.values():
            words = f"{rating.rater} {rating.severity}: {rating.reason}"
            yield TracedMark(0, "", "", finding.id, "", words, f"F{finding.number} {finding.title}")


def of_records(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    """The records under a line of the table of records: of the chair, of the study, or findings met or carried."""
    group, letter = parts[0], parts[1]
    if group.startswith("findings-met"):
        for view in sorted_findings_of(opened).findings:
            yield from _observed(view, letter)
    elif group.startswith("findings-of-its-earlier"):
        for carried in opened.study.carried:
            if carried.chair == letter:
                yield TracedMark(0, "", letter, carried.id, "", carried.title, carried.words)
    elif group.startswith(("changes", "inventory")):
        kind = "change" if group.startswith("changes") else "inventory"
        for held in evidence_of_kind(opened, kind):
            if getattr(held.record, "chair", "") == letter:
                words = "; ".join(text for _, text in evidence_lines(held.record))
                yield TracedMark(0, "", letter, held.record.id, "", words, kind)
    else:
        for kind, records in opened.known_chairs.of(letter).records.items():
            for name, record in records.items():
                yield TracedMark(0, "", letter, name, "", record_words(record.record), kind)


def _observed(view: FindingView, letter: str) -> Iterator[TracedMark]:
    for each in view.observations:
        if each.chair == letter:
            under = f"F{view.finding.number} {view.title}"
            yield TracedMark(
                each.sitting, each.participant, letter, each.entry or each.target, each.at, each.words, under
            )


def of_score(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    """The ground of a score, or of all scores of a scorecard at a chair."""
    known = targets(opened)
    for row in _rows(opened, weighing, parts):
        for cell in row.cells:
            if cell.chair != parts[-1]:
                continue
            yield TracedMark(0, "", cell.chair, row.criterion.id, "", cell.said, row.criterion.name)
            for target in cell.rests_on:
                yield TracedMark(0, "", cell.chair, target, "", known.get(target, target), row.criterion.name)


def _rows(opened: StudyReading, weighing: Weighing, parts: list[str]) -> list[ScoreRow]:
    return [
        row
        for card in scorecards(opened, weighing)
        if slug(card.name) == parts[0]
        for row in card.rows
        if len(parts) < 3 or slug(row.criterion.name) == parts[1]
    ]


def is_score(opened: StudyReading, parts: list[str]) -> bool:
    """Whether an id is of a score or a total: scorecard, criterion, chair."""
    return len(parts) in (2, 3) and parts[-1] in opened.study.chair_by_letter


def of_nothing(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    """Nothing: the number was decided in the plan."""
    yield from ()
