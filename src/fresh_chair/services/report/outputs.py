"""Open data, written into a folder: tables, the whole study, and the figures."""

import json
import re
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from fresh_chair.core.findings.entries.judgements import SeverityRated
from fresh_chair.core.findings.state.parts import PARTS
from fresh_chair.core.plan.people import code_alone
from fresh_chair.core.plan.sheet import RateInterval, TimeMeasure
from fresh_chair.core.sitting.contests import contests_of
from fresh_chair.core.sitting.journal import Attached, Entry, RecordingOpened
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.findings.life import life_states
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.findings.workarounds import ways_taken
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.services.system.files import Written, copy_file, write_file

if TYPE_CHECKING:
    from fresh_chair.core.findings.sorted_findings import SortedFindings


def _figure_tables(opened: StudyReading, folder: Path) -> Iterator[Written]:
    """The comparisons of chairs."""
    from fresh_chair.tell.figure_tables import comparisons_csv, overall_csv

    figures = weigh(opened)
    yield write_file(folder / "overall.csv", overall_csv(figures).encode(), "chairs compared over all tasks")
    yield write_file(folder / "comparisons.csv", comparisons_csv(figures).encode(), "chairs compared task by task")


def write_export(
    opened: StudyReading, folder: Path, *, with_people: bool = False, with_attachments: Path | None = None
) -> Iterator[Written]:
    """Write the open data into a folder, one file after another.

    Args:
        opened: The open study.
        folder: As for `write_report`.
        with_people: Also what is known of people beside their codes; only where somebody says so.
        with_attachments: The study file, where the attached files and their names are to leave it too.

    Raises:
        OutsideError: As `write_report`.
    """
    from fresh_chair.tell.open_data import Preparation, chair_data, study_json
    from fresh_chair.tell.tables import answers_csv, attempts_csv, marks_csv, snags_csv

    with_files = with_attachments is not None
    journals = {
        n: [_told(entry, with_people=with_people, with_files=with_files) for entry in listed]
        for n, listed in opened.entries.items()
    }
    study, found = opened.study, sorted_findings_of(opened)
    yield write_file(folder / "attempts.csv", attempts_csv(study, opened.facts()).encode(), "attempts")
    yield from _figure_tables(opened, folder)
    yield write_file(folder / "answers.csv", answers_csv(study, opened.sittings).encode(), "answers")
    yield write_file(folder / "marks.csv", marks_csv(study, journals).encode(), "marks")
    yield write_file(folder / "snags.csv", snags_csv(study, found).encode(), "snags")
    yield from _walk_tables(opened, folder, with_files=with_files)
    yield from _finding_tables(opened, folder, found)
    yield from _evidence_tables(opened, folder)
    if with_attachments is not None:
        yield from _attached_files(opened, with_attachments, folder)
    told = study if with_people else replace(study, people=tuple(map(code_alone, study.people)))
    ledgers = tuple(chair_data(letter, opened.known_chairs.of(letter)) for letter in study.chair_by_letter)
    preparation = Preparation(
        hunches=opened.hunches,
        fixture_checks=opened.fixture_checks,
        changes=opened.plans.changes(),
        chairs=ledgers,
        chair_states=opened.chair_states(),
        evidence=opened.evidence.entries,
    )
    # What raters gave unseen by each other leaves the study once they may see it.
    sorting = [
        e for e in opened.sorting.entries if opened.findings.settling or not isinstance(e.content, SeverityRated)
    ]
    whole = study_json(told, journals, sorting, preparation)
    yield write_file(folder / "study.json", whole.encode(), "the whole study")


def _walk_tables(opened: StudyReading, folder: Path, *, with_files: bool) -> Iterator[Written]:
    """The tables of walks, contests and attached files."""
    from fresh_chair.tell.walk_tables import (
        attachments_csv,
        contest_csv,
        walk_items_csv,
        walk_remarks_csv,
        walk_steps_csv,
    )

    study, sittings = opened.study, opened.sittings
    yield write_file(folder / "walk_steps.csv", walk_steps_csv(study, sittings).encode(), "steps of walks")
    yield write_file(folder / "walk_items.csv", walk_items_csv(study, sittings).encode(), "lists of walks")
    yield write_file(folder / "walk_remarks.csv", walk_remarks_csv(study, sittings).encode(), "marks of walks")
    told = contest_csv(study, contests_of(study, sittings))
    yield write_file(folder / "contest.csv", told.encode(), "contests")
    files = attachments_csv(study, sittings, with_files=with_files)
    yield write_file(folder / "attachments.csv", files.encode(), "attached files")


def _finding_tables(opened: StudyReading, folder: Path, found: "SortedFindings") -> Iterator[Written]:
    """The tables of findings, their severities, ratings and parts; of those there are any of."""
    from fresh_chair.tell.finding_tables import findings_csv, parts_csv, ratings_csv, severities_csv

    study, listed = opened.study, [view.finding for view in found.findings]
    whole = findings_csv(study, found, life_states(opened, found), ways_taken(opened))
    yield write_file(folder / "findings.csv", whole.encode(), "findings")
    if any(finding.severities or finding.earlier_severities for finding in listed):
        yield write_file(folder / "severities.csv", severities_csv(study, found).encode(), "severities")
    # A rater's severity leaves the study once all may see it.
    if opened.findings.settling:
        yield write_file(folder / "ratings.csv", ratings_csv(study, found).encode(), "ratings")
    for kind in PARTS:
        if any(finding.parts.get(kind) for finding in listed):
            yield write_file(folder / f"{kind}s.csv", parts_csv(study, found, kind).encode(), f"{kind}s")


def _evidence_tables(opened: StudyReading, folder: Path) -> Iterator[Written]:
    """The tables of evidence records; of kinds that have any, so that no study has nine empty ones."""
    from fresh_chair.services.evidence.later import later_of
    from fresh_chair.tell.evidence_tables import EVIDENCE_FILES, evidence_csv, later_csv

    state, later = opened.evidence.state, later_of(opened)
    for kind, name in EVIDENCE_FILES.items():
        if state.held(kind):
            yield write_file(folder / name, evidence_csv(opened.study, state, kind).encode(), name.removesuffix(".csv"))
    if later:
        yield write_file(folder / "later.csv", later_csv(opened.study, later).encode(), "the later list")


def _attached_files(opened: StudyReading, study: Path, folder: Path) -> Iterator[Written]:
    """The attached files themselves, under the names that attachments.csv gives them; those that are gone are not."""
    from fresh_chair.services.evidence.attachments import all_attachments, path_of

    done = set()
    for _, attachment in all_attachments(opened):
        path = path_of(attachment, study)
        if attachment.copy_name in done or not path.is_file():
            continue
        done.add(attachment.copy_name)
        yield copy_file(path, folder / attachment.copy_name, "attached file")


def _told(entry: Entry, *, with_people: bool, with_files: bool) -> Entry:
    """An entry as it leaves the study: of a recording its file's name at most, for folders are called after people."""
    content = entry.content
    if isinstance(content, Attached) and not with_files:
        bare = replace(content, name=content.attachment.copy_name, location=content.location and "elsewhere")
        return replace(entry, content=bare)
    if isinstance(entry.content, RecordingOpened) and not with_people:
        name = re.split(r"[/\\]", entry.content.file.rstrip("/\\"))[-1]
        return replace(entry, content=replace(entry.content, file=name))
    return entry


def figures_of(
    opened: StudyReading, *, own: bool = False, times: TimeMeasure | None = None, interval: RateInterval | None = None
) -> dict[str, Any]:
    """Every cell's figures as plain data.

    Args:
        opened: The study.
        own: Of the reviewer's own evidence alone.
        times, interval: Instead of those of the study sheet.
    """
    from fresh_chair.tell.figure_data import figures_data

    return figures_data(weigh(opened, own=own, times=times, interval=interval))


def figures_json(
    opened: StudyReading, *, own: bool = False, times: TimeMeasure | None = None, interval: RateInterval | None = None
) -> str:
    """The same as JSON text."""
    return json.dumps(figures_of(opened, own=own, times=times, interval=interval), indent=1, allow_nan=False)
