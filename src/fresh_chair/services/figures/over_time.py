"""Readings, opinions and findings over time: at one chair, and along a succession of releases."""

from collections.abc import Iterable, Iterator, Sequence
from datetime import UTC, datetime
from typing import Literal

from fresh_chair.core.chair.ledger import readings_of
from fresh_chair.core.chair.readings import Series, Taken, creep, kind_of_reading, series_of, unlike, value_in
from fresh_chair.core.chair.record_time import when_text
from fresh_chair.core.chair.records import borrowed_words, number_text, reading_text
from fresh_chair.core.findings.sorted_findings import SortedFindings
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped
from fresh_chair.services.evidence.succession import chair_groups
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.study.snapshot import StudyReading


@frozen
class TimePoint:
    """One point of a course.

    Attributes:
        number: Its number, in the unit of its course; None where it has none.
        counts: Whether it enters the sentence below; readings of other studies and doubted ones stand beside.
        note: Why it stands beside.
    """

    chair: str
    when: str
    words: str
    number: float | None = None
    counts: bool = True
    note: str = ""


@frozen
class TimeCourse:
    """One thing over time, oldest point first within each chair; chairs of a succession in its order.

    Attributes:
        told: What can be said of it, with the conditions that differ.
    """

    sort: Literal["reading", "opinion", "finding"]
    what: str
    unit: str
    points: tuple[TimePoint, ...]
    told: tuple[str, ...]


def courses_of(opened: StudyReading) -> list[TimeCourse]:
    """Everything on record at two moments or more, or at two releases of one succession."""
    groups = chair_groups(opened)
    courses = [*_readings(opened, groups), *_opinions(opened), *_findings(opened, groups)]
    return [course for course in courses if len(course.points) > 1]


def _readings(opened: StudyReading, groups: Sequence[tuple[str, ...]]) -> Iterator[TimeCourse]:
    ledgers, machines = opened.known_chairs.all, opened.study.machine_words
    for group in groups:
        by_kind: dict[tuple[str, str], list[Series]] = {}
        for letter in group:
            if letter in ledgers:
                for series in series_of(readings_of({letter: ledgers[letter]}, machines)):
                    by_kind.setdefault(kind_of_reading(series.taken[-1].reading), []).append(series)
        for listed in by_kind.values():
            newest = listed[-1]
            points = [_reading_point(taken, series, newest.unit) for series in listed for taken in series.taken]
            told = [f"{series.taken[0].chair}: {words}" for series in listed if (words := creep(series))]
            yield TimeCourse("reading", newest.what, newest.unit, tuple(points), (*told, *_along(listed)))


def _reading_point(taken: Taken, series: Series, unit: str) -> TimePoint:
    counts = taken in series.trusted
    notes = [f"from {taken.source}" if taken.source else "", borrowed_words(taken.reading).strip(" ()")]
    notes.append(f"doubted: {taken.reading.why}" if taken.reading.trust == "doubted" else "")
    try:
        number = value_in(taken.reading, unit)
    except ValueError:
        number = None
    note = "; ".join(filter(None, notes))
    return TimePoint(taken.chair, when_text(taken.when), reading_text(taken.reading), number, counts, note)


def _along(listed: Sequence[Series]) -> Iterator[str]:
    """From the first release to the last: the newest counted reading of each, and differing conditions."""
    newest = [series.trusted[-1] for series in listed if series.trusted]
    if len(newest) < 2:
        return
    unit = listed[-1].unit
    first, last = value_in(newest[0].reading, unit), value_in(newest[-1].reading, unit)
    said = f"from {newest[0].chair} to {newest[-1].chair}: {number_text(first)} to {number_text(last)} {unit}".rstrip()
    differing = unlike(newest)
    yield said + (f"; not to be compared: {'; '.join(differing)}" if differing else "; under like conditions")


def _opinions(opened: StudyReading) -> Iterator[TimeCourse]:
    """Opinions that a later one revised, each with its day."""
    for number, sitting in sorted(opened.sittings.items()):
        chair = opened.study.seat(number).chair
        walls = {entry.id: entry.moment.wall_ns for entry in opened.entries[number]}
        for remark in sitting.remarks.values():
            if remark.revises or not remark.revised_by:
                continue
            chain = [remark]
            while (later := sitting.remarks.get(chain[-1].revised_by)) is not None and later not in chain:
                chain.append(later)
            points = tuple(
                TimePoint(chair, _day(walls.get(each.entry, 0)), f"{each.kind}: {clipped(each.words, 120)}")
                for each in chain
            )
            yield TimeCourse("opinion", clipped(remark.words, 80), "", points, ("the later one holds; both stay",))


def _day(wall_ns: int) -> str:
    return datetime.fromtimestamp(wall_ns / 1e9, UTC).isoformat(" ", "minutes")


def _findings(opened: StudyReading, groups: Sequence[tuple[str, ...]]) -> Iterator[TimeCourse]:
    """Who met each finding at the releases of a succession, and then, where it was carried over."""
    sorting = sorted_findings_of(opened)
    for group in groups:
        titles = {finding.title.casefold(): finding.title for finding in sorting.findings}
        titles |= {c.title.casefold(): c.title for c in sorting.carried if c.chair in group and c.sort == "finding"}
        for key, title in titles.items():
            points = [point for letter in group for point in _finding_points(sorting, key, letter)]
            if any(point.number or not point.counts for point in points):
                yield TimeCourse("finding", title, "", tuple(points), tuple(_came_and_went(points)))


def _finding_points(sorting: SortedFindings, key: str, letter: str) -> Iterator[TimePoint]:
    """A finding at one chair: in the study it was carried over from, and here."""
    for earlier in sorting.carried:
        if earlier.chair == letter and earlier.title.casefold() == key:
            share = earlier.seen_by / earlier.tried if earlier.tried else None
            yield TimePoint(letter, "then", earlier.words, share, counts=False, note=earlier.source)
    for finding in sorting.findings:
        if finding.title.casefold() != key:
            continue
        for spread in finding.spread:
            if spread.chair == letter and (spread.tried or spread.others):
                share = spread.share.x / spread.share.n if spread.share.n else None
                yield TimePoint(letter, "now", spread.words, share)


def _came_and_went(points: Iterable[TimePoint]) -> Iterator[str]:
    """Whether a finding that was carried over was met again."""
    listed = list(points)
    for letter in dict.fromkeys(point.chair for point in listed):
        then = [p for p in listed if p.chair == letter and not p.counts]
        now = [p for p in listed if p.chair == letter and p.counts]
        if then and now:
            yield f"{letter}: {'met again' if now[-1].number else 'not met again'}"
