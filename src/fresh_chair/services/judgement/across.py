"""All the rest across chairs: findings by severity, readings, claims, defaults, looks, hunches, agreement, walks."""

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Sequence

from fresh_chair.core.chair.ledger import readings_of
from fresh_chair.core.chair.readings import creep, series_of, unlike, value_in
from fresh_chair.core.chair.records import Claim, ConsentItem, Look, WarningMet, evidence_of
from fresh_chair.core.evidence.kinds import KINDS, OWN, Evidence
from fresh_chair.core.evidence.records import InventoryItem, ReleaseChange
from fresh_chair.core.evidence.records import evidence_of as evidence_kind
from fresh_chair.core.figures.agreement import ordinal_alpha
from fresh_chair.core.findings.sorted_findings import FindingView, SortedFindings
from fresh_chair.core.findings.state.finding import Scope
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import count_of
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.findings.forecasts import forecast_lines
from fresh_chair.services.findings.life import carried_lives
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.findings.observers import observed_sittings, observers_of
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.services.walk.walks import walks


@frozen
class AcrossRow:
    """One line of the table.

    Attributes:
        group: The heading it stands under.
        label: Its subject.
        cells: A text for each chair, in the study's order; empty where there is nothing.
        note: What limits it; empty for nothing.
        differing: The conditions in which readings are not alike.
        source: The study it comes from; empty for this one.
        borrowed: How many of what is counted the reviewer neither did, saw nor measured, by their kind of evidence.
    """

    group: str
    label: str
    cells: tuple[str, ...]
    note: str = ""
    differing: tuple[str, ...] = ()
    source: str = ""
    borrowed: tuple[tuple[Evidence, int], ...] = ()


@frozen
class Across:
    """The table, and the lines that are not of one chair."""

    rows: tuple[AcrossRow, ...]
    beside: tuple[tuple[str, str], ...]


def across(opened: StudyReading) -> Across:
    """Everything that is on record of the chairs, side by side; walks stand beside and in none of the others."""
    found = sorted_findings_of(opened)
    letters = [chair.letter for chair in opened.study.chairs]
    rows = [
        *_findings(found, letters),
        *_readings(opened, letters),
        *_counted(opened, letters),
        *_changes(opened, letters),
        *_earlier(opened, found, letters),
        *_walks(opened, letters),
    ]
    return Across(tuple(rows), tuple(_beside(opened, found)))


def _findings(found: SortedFindings, letters: Sequence[str]) -> Iterator[AcrossRow]:
    met: dict[str, list[FindingView]] = {letter: [] for letter in letters}
    for view in found.findings:
        for spread in view.spread:
            if spread.people and spread.chair in met:
                met[spread.chair].append(view)
    for severity in (4, 3, 2, 1, 0):
        cells = []
        for letter in letters:
            problems = [v for v in met[letter] if v.finding.sort == "problem"]
            judged = [(v, v.finding.severity_in(Scope(chair=letter))) for v in problems]
            here = [v for v, each in judged if each is not None and each.severity == severity]
            excused = sum(v.finding.excused is not None and v.finding.excused < severity for v in here)
            cells.append(f"{len(here)}{f', {excused} excused' if excused else ''}" if here else "")
        yield AcrossRow("findings met by newcomers", f"severity {severity}", tuple(cells))
    for sort in ("strength", "oddity", "taste", "request"):
        counts = [sum(v.finding.sort == sort for v in met[letter]) for letter in letters]
        if any(counts):
            yield AcrossRow("findings met by newcomers", sort, tuple(str(each or "") for each in counts))


def _readings(opened: StudyReading, letters: Sequence[str]) -> Iterator[AcrossRow]:
    """The newest trusted reading of each thing; with a note where the conditions are not alike."""
    ledgers = {letter: opened.known_chairs.of(letter) for letter in letters}
    for series in series_of(readings_of(ledgers, opened.study.machine_words)):
        newest = {}
        for taken in series.trusted:
            newest[taken.chair] = taken
        if len(newest) < 2:
            continue
        differing = unlike(list(newest.values()))
        cells = [f"{value_in(newest[c].reading, series.unit):g} {series.unit}" if c in newest else "" for c in letters]
        note = f"not under like conditions: {', '.join(differing)}" if differing else ""
        yield AcrossRow("readings", series.what, tuple(cells), note, tuple(differing))
    for series in series_of(readings_of(ledgers, opened.study.machine_words)):
        # Readings of other studies came with a chair's earlier release: they stand beside, with their source.
        for taken in (each for each in series.taken if each.source and each.reading.low is not None):
            shown = f"{value_in(taken.reading, series.unit):g} {series.unit}"
            cells = [shown if letter == taken.chair else "" for letter in letters]
            note = f"from {taken.source}"
            yield AcrossRow("readings of earlier releases", series.what, tuple(cells), note, (), taken.source)
    for letter in letters:
        for series in series_of(readings_of({letter: ledgers[letter]}, opened.study.machine_words)):
            grew = creep(series)
            if grew.startswith("grew"):
                cells = ["grew" if each == letter else "" for each in letters]
                yield AcrossRow("creep", series.what, tuple(cells), grew)


# What is counted of each kind of record, by which of its fields.
_COUNTED: tuple[tuple[str, str, Callable[[object], Iterable[str]]], ...] = (
    ("claim", "claims", lambda record: [record.answer] if isinstance(record, Claim) else []),
    (
        "consent",
        "defaults and consent",
        lambda record: (
            [f"{record.asked}, {record.switch}" if record.switch != "not known" else record.asked]
            if isinstance(record, ConsentItem)
            else []
        ),
    ),
    ("warning", "warnings", lambda record: [record.effect] if isinstance(record, WarningMet) else []),
    ("look", "looks of programs", lambda record: _fits(record) if isinstance(record, Look) else []),
)


def _fits(look: Look) -> list[str]:
    return [
        fit for fit in (look.theme, look.dark, look.icons, look.letters, look.window_buttons) if fit != "not looked at"
    ]


def _counted(opened: StudyReading, letters: Sequence[str]) -> Iterator[AcrossRow]:
    for kind, group, values in _COUNTED:
        counts: dict[str, Counter[str]] = {}
        kinds: dict[str, list[Evidence]] = {}
        for letter in letters:
            held = opened.known_chairs.of(letter).held(kind)
            counts[letter] = Counter(value for each in held for value in values(each.record))
            for each in held:
                for value in values(each.record):
                    kinds.setdefault(value, []).append(evidence_of(each.record))
        for label in sorted(kinds):
            cells = tuple(str(counts[letter][label] or "") for letter in letters)
            yield AcrossRow(group, label, cells, borrowed=_borrowed(kinds[label]))


def _borrowed(kinds: Iterable[Evidence]) -> tuple[tuple[Evidence, int], ...]:
    counts = Counter(kind for kind in kinds if kind not in OWN)
    return tuple((kind, counts[kind]) for kind in KINDS if counts[kind])


def _changes(opened: StudyReading, letters: Sequence[str]) -> Iterator[AcrossRow]:
    changes = [h.record for h in evidence_of_kind(opened, "change") if isinstance(h.record, ReleaseChange)]
    items = [h.record for h in evidence_of_kind(opened, "inventory") if isinstance(h.record, InventoryItem)]
    for label in ("found", "announced", "still to come"):
        kept = [change for change in changes if ("still to come" if change.comes else change.known) == label]
        counts = [sum(change.chair == letter for change in kept) for letter in letters]
        if any(counts):
            yield AcrossRow("changes of a release", label, tuple(str(each or "") for each in counts))
    for presence in dict.fromkeys(item.presence for item in items):
        here = [item for item in items if item.presence == presence]
        counts = [sum(item.chair == letter for item in here) for letter in letters]
        borrowed = _borrowed(evidence_kind(item) for item in here)
        yield AcrossRow("inventory", presence, tuple(str(each or "") for each in counts), borrowed=borrowed)


def _earlier(opened: StudyReading, found: SortedFindings, letters: Sequence[str]) -> Iterator[AcrossRow]:
    """The fate of the findings of the same chair's earlier release."""
    lives = carried_lives(opened, found)
    states = Counter((each.carried.chair, each.state or "not met yet") for each in lives)
    for state in dict.fromkeys(state for _, state in states):
        cells = tuple(str(states[letter, state] or "") for letter in letters)
        yield AcrossRow("findings of its earlier release", state, cells)


def _walks(opened: StudyReading, letters: Sequence[str]) -> Iterator[AcrossRow]:
    """The reviewer's own walks: in no figure, by their kind of evidence."""
    steps: dict[str, Counter[str]] = {letter: Counter() for letter in letters}
    for view in walks(opened):
        for step in view.steps:
            ended = (step.ending.value if step.ending is not None else "open").replace("_", " ")
            steps[view.seat.chair][f"{ended} ({step.evidence})"] += 1
    for label in sorted({label for each in steps.values() for label in each}):
        yield AcrossRow("the reviewer's walks, in no figure", label, tuple(str(steps[c][label] or "") for c in letters))


def _beside(opened: StudyReading, found: SortedFindings) -> Iterator[tuple[str, str]]:
    """Hunches and forecasts against their outcomes, and how far raters agree."""
    lines = [line for line in forecast_lines(opened) if not line.late]
    for sort in ("hunch", "forecast"):
        ended = [line for line in lines if line.sort == sort and line.outcome in ("came true", "did not")]
        came = sum(line.outcome == "came true" for line in ended)
        waiting = sum(line.sort == sort for line in lines) - len(ended)
        if ended or waiting:
            yield f"{sort}s", f"{came} of {len(ended)} came true; {waiting} open or not to be told"
        for sure in dict.fromkeys(line.sure for line in ended):
            of = [line for line in ended if line.sure == sure]
            yield f"  {sure}", f"{sum(line.outcome == 'came true' for line in of)} of {len(of)}"
    yield from _observers(opened)
    rated = [tuple(each.severity for each in v.finding.ratings.values()) for v in found.findings]
    units = [unit for unit in rated if len(unit) > 1]
    if units:
        alpha = ordinal_alpha(units)
        said = "undefined, all ratings are equal" if alpha.value is None else f"{alpha.value:.2f}"
        yield "raters", f"Krippendorff's alpha {said}, over {count_of(len(units), 'finding')}"


def _observers(opened: StudyReading) -> Iterator[tuple[str, str]]:
    """How far second observers agree with the moderator: on marks, sitting by sitting, and on outcomes in all."""
    seen = [observers_of(opened, number) for number in observed_sittings(opened)]
    known = [each.agreement for each in seen if each.agreement is not None]
    if known:
        mean = 100 * sum(known) / len(known)
        yield "observers", f"any-two agreement {mean:.0f} % over {count_of(len(known), 'sitting')}"
    if seen and seen[0].study_kappa is not None:
        yield "  on outcomes", f"Cohen's kappa {seen[0].study_kappa:.2f} over all sittings"
