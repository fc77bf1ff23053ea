"""Several raters: each rates unseen by the others, on the screen or on a form; then they are settled."""

import csv
from collections.abc import Iterator, Sequence
from io import StringIO

from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.figures.agreement import Alpha, ordinal_alpha
from fresh_chair.core.findings.entries.judgements import SettlingOpened, SeverityRated
from fresh_chair.core.findings.ledger import SortContent
from fresh_chair.core.findings.sorted_findings import SortedFindings
from fresh_chair.core.findings.state.finding import Finding, JudgedSeverity, Rating
from fresh_chair.core.frozen import frozen
from fresh_chair.core.sitting.authors import MODERATOR, is_observer_name
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.findings.judging import judge_severity, required
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.findings.sorting import commit_sorting, find_finding
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.tell.tables import table

FORM_COLUMNS = ("finding", "title", "seen", "severity", "reason")
_MOST_ROWS = 5_000


@frozen
class RatedFinding:
    """A finding with the severities of all raters who may be seen, and the value they were settled into.

    Attributes:
        spread: The difference of the highest and the lowest rating; None below two.
    """

    finding: Finding
    ratings: tuple[Rating, ...]
    spread: int | None
    settled: JudgedSeverity | None


@frozen
class Ratings:
    """All findings as they were rated, the most disputed first, and how far the raters agree.

    Attributes:
        raters: Who has rated, by name.
        seen: Whether the settling view is open; before that only one's own ratings are here.
    """

    findings: tuple[RatedFinding, ...]
    raters: tuple[str, ...]
    alpha: Alpha
    seen: bool


def require_rater(name: str) -> str:
    """A rater's name. Raises InputError where it is none, or the moderator's."""
    name = name.strip()
    if not is_observer_name(name):
        shown = legible(clipped(name, 40))
        raise InputError(f"{shown!r} is no rater's name: one of at most 40 letters, and not “{MODERATOR}”.")
    return name


def rate(opened: OpenStudy, finding: str, severity: int, reason: str, rater: str) -> None:
    """One rater's severity of a finding.

    Raises:
        InputError: Where the severity is none of 0 to 4, or the reason is missing.
        Refused: Where the ratings can be seen by now and this rater has given one.
        NotSaved: Where the disk refuses.
    """
    if severity not in range(5):
        raise InputError("A severity is 0 to 4.", "Nothing was changed.")
    why = required(reason, "A severity needs a reason.")
    commit_sorting(opened, [SeverityRated(finding, require_rater(rater), severity, why)])


def open_settling(opened: OpenStudy) -> None:
    """Let all ratings be seen from here on. Raises Refused where no finding was rated, or they can be seen already."""
    if not any(finding.ratings for finding in opened.findings.by_id.values()):
        raise Refused("No finding was rated yet.", "A rater opens the study with --rater NAME, or fills in a form.")
    commit_sorting(opened, [SettlingOpened()])


def settle(opened: OpenStudy, finding: str, severity: int, reason: str) -> None:
    """Settle the raters' severities of a finding into one, with the reason. Raises Refused, InputError, NotSaved."""
    if not opened.findings.settling:
        raise Refused("The ratings cannot be seen yet.", "The settling view is opened first.")
    judge_severity(opened, finding, severity, reason, settled=True)


def ratings_of(opened: StudyReading, *, rater: str = "") -> Ratings:
    """The ratings of all findings: everyone's once the settling view is open, else those of one rater alone.

    Args:
        opened: The study.
        rater: Who is looking; empty for the moderator, who sees none before the settling view is open.
    """
    state = opened.findings
    rows = []
    for finding in state.by_id.values():
        held = tuple(each for each in finding.ratings.values() if state.settling or each.rater == rater)
        values = [each.severity for each in held]
        spread = max(values) - min(values) if len(values) > 1 else None
        settled = next((each for each in finding.severities.values() if each.settled), None)
        rows.append(RatedFinding(finding, held, spread, settled if state.settling else None))
    rows.sort(key=lambda row: (-(row.spread or 0), row.finding.number))
    raters = tuple(dict.fromkeys(name for finding in state.by_id.values() for name in finding.ratings))
    blind = [[r.severity for r in row.ratings if r.blind] for row in rows]
    return Ratings(tuple(rows), raters, ordinal_alpha(blind) if state.settling else ordinal_alpha([]), state.settling)


def rating_form(opened: StudyReading, rater: str) -> str:
    """A form as CSV: a row a finding with its observations and this rater's own severities, no other's."""
    return table(FORM_COLUMNS, _form_rows(sorted_findings_of(opened), require_rater(rater)))


def _form_rows(found: SortedFindings, rater: str) -> Iterator[tuple[str, ...]]:
    for view in sorted(found.findings, key=lambda each: each.finding.number):
        seen = "; ".join(legible(each.words) for each in view.observations if each.words)
        mine = view.finding.ratings.get(rater)
        severity = "" if mine is None else str(mine.severity)
        reason = "" if mine is None else mine.reason
        yield f"F{view.finding.number}", view.title, clipped(seen, 2000), severity, reason


def take_form(opened: OpenStudy, text: str, rater: str, *, name: str) -> int:
    """Take a filled form in: all of its severities, or none; returns how many were new or changed.

    Args:
        opened: The open study.
        text: The form.
        rater: Whose it is.
        name: What to call it in an error.

    Raises:
        InputError: All problems at once, each as reason @ line.
        Refused, NotSaved: As `rate`.
    """
    rater = require_rater(rater)
    try:
        rows = list(csv.DictReader(StringIO(text), strict=True))
    except csv.Error as problem:
        raise InputError(f"{name} is no CSV table: {problem}.", "Nothing was taken in.") from problem
    if len(rows) > _MOST_ROWS or not rows or not {"finding", "severity", "reason"} <= set(rows[0]):
        raise InputError(f"{name} is no form: its columns are {', '.join(FORM_COLUMNS)}.", "Nothing was taken in.")
    contents: list[SortContent] = []
    problems: list[str] = []
    for line, row in enumerate(rows, start=2):
        _take_row(opened, row, rater, contents, problems, line)
    if problems:
        raise InputError(f"{name} cannot be taken in: {'; '.join(problems)}.", "Nothing was taken in.")
    if contents:
        commit_sorting(opened, contents)
    return len(contents)


def _take_row(
    opened: OpenStudy, row: dict[str, str], rater: str, contents: list[SortContent], problems: list[str], line: int
) -> None:
    severity, reason = (row.get("severity") or "").strip(), (row.get("reason") or "").strip().removeprefix("'")
    if not severity:
        return
    try:
        finding = find_finding(opened, row.get("finding") or "")
    except InputError as problem:
        problems.append(f"{problem.title.rstrip('.')} @ line {line}")
        return
    if severity not in ("0", "1", "2", "3", "4"):
        problems.append(f"a severity is 0 to 4 @ line {line}")
    elif not reason:
        problems.append(f"a severity needs a reason @ line {line}")
    else:
        before = finding.ratings.get(rater)
        if before is None or (before.severity, before.reason) != (int(severity), reason):
            contents.append(SeverityRated(finding.id, rater, int(severity), clipped(reason, 2000)))


def rating_rows(found: Sequence[RatedFinding]) -> Iterator[tuple[str, str, str, int, str, bool]]:
    """One row a rating: finding, title, rater, severity, reason, and whether it was given unseen by the others."""
    for row in found:
        for each in row.ratings:
            yield row.finding.name, row.finding.title, each.rater, each.severity, each.reason, each.blind
