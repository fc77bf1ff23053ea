"""Open data, written into a folder: tables, the whole study, and the figures."""

import json
import re
from collections.abc import Iterator
from dataclasses import replace
from importlib.resources import files
from pathlib import Path
from typing import TYPE_CHECKING, Any

from fresh_chair.core.errors import InputError
from fresh_chair.core.findings.entries.judgements import SeverityRated
from fresh_chair.core.findings.state.parts import PARTS
from fresh_chair.core.plan.people import code_alone
from fresh_chair.core.plan.sheet import RateInterval, TimeMeasure
from fresh_chair.core.sitting.contests import contests_of
from fresh_chair.core.sitting.journal import Attached, Entry, RecordingOpened
from fresh_chair.core.text import count_of
from fresh_chair.core.words.identifying import identifying_words
from fresh_chair.services.evidence.judging_words import judging_words
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.findings.life import life_states
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.findings.workarounds import ways_taken
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.services.system.files import Written, copy_file, write_file

if TYPE_CHECKING:
    from fresh_chair.core.findings.sorted_findings import SortedFindings


Table = tuple[str, str, str]


def write_export(
    opened: StudyReading,
    folder: Path,
    *,
    with_people: bool = False,
    with_attachments: Path | None = None,
    redact: bool = False,
) -> Iterator[Written]:
    """Write the open data into a folder, one file after another: a Data Package around its tables.

    Args:
        opened: The open study.
        folder: Made where it is missing; files of the same names are replaced.
        with_people: Also what is known of people beside their codes; only where somebody says so.
        with_attachments: The study file, where the attached files and their names are to leave it too.
        redact: Without quotes, words typed about people, names of observers and locations of files.

    Raises:
        InputError: Where people's data or attached files are wanted of redacted data.
        OutsideError: Where the folder or the disk refuses; files written before stay.
    """
    from fresh_chair.services.report.data_notes import FEW, data_notes, readme, small_cells
    from fresh_chair.tell.data_package import data_package, resource
    from fresh_chair.tell.redaction import Redactor

    if redact and (with_people or with_attachments is not None):
        raise InputError("Redacted data have neither people's data nor attached files.", "Nothing was written.")
    walks = frozenset(n for n, sitting in opened.sittings.items() if sitting.walk is not None)
    redactor = Redactor(walks, _names_of(opened)) if redact else None
    with_files = with_attachments is not None
    resources = []
    for name, text, what in _tables(opened, with_people=with_people, with_files=with_files):
        told = text if redactor is None else redactor.csv(name, text)
        resources.append(resource(name, told, what))
        yield write_file(folder / name, told.encode(), what)
    if with_attachments is not None:
        yield from _attached_files(opened, with_attachments, folder)
    whole = _whole(opened, with_people=with_people, with_files=with_files)
    yield write_file(folder / "study.json", (redactor.study(whole) if redactor else whole).encode(), "the whole study")
    small, identifying = small_cells(opened), _identifying(opened) if redact else 0
    notes = data_notes(opened, small, with_people=with_people, redacted=redact, identifying=identifying)
    package = data_package(opened.study.id, opened.study.title, resources, notes)
    yield write_file(folder / "datapackage.json", package.encode(), "the package, with a schema of each table")
    for name in ("reproduce.py", "reproduce.R"):
        script = (files("fresh_chair.tell") / "templates" / f"{name}.txt").read_bytes()
        yield write_file(folder / name, script, "works the main figures out again from the tables")
    warned = f"; {count_of(len(small), 'cell')} of fewer than {FEW} people" if small else ""
    text = readme(opened, [(each["path"], each["title"]) for each in resources], notes, small)
    yield write_file(folder / "README.md", text.encode(), f"what is in the data{warned}")


def _identifying(opened: StudyReading) -> int:
    """How many of the reviewer's own texts hold words that may identify a person."""
    return sum(bool(identifying_words(text)) for _, text in judging_words(opened, paragraphs=True))


def _names_of(opened: StudyReading) -> tuple[str, ...]:
    """The names of everybody who logged, judged or rated anything, in the order in which they first did."""
    marks = (entry.author for entries in opened.entries.values() for entry in entries)
    ledgers = (entry.author for entry in (*opened.sorting.entries, *opened.evidence.entries))
    return tuple(dict.fromkeys((*marks, *ledgers)))


def _tables(opened: StudyReading, *, with_people: bool, with_files: bool) -> Iterator[Table]:
    """Every table: the name of its file, its text, its title."""
    from fresh_chair.tell.tables import answers_csv, attempts_csv, marks_csv, snags_csv

    study, found = opened.study, sorted_findings_of(opened)
    journals = _journals(opened, with_people=with_people, with_files=with_files)
    yield "attempts.csv", attempts_csv(study, opened.facts()), "attempts"
    yield from _figure_tables(opened)
    yield "answers.csv", answers_csv(study, opened.sittings), "answers"
    yield "marks.csv", marks_csv(study, journals), "marks"
    yield "snags.csv", snags_csv(study, found), "snags"
    yield from _walk_tables(opened, with_files=with_files)
    yield from _finding_tables(opened, found)
    yield from _evidence_tables(opened)


def _journals(opened: StudyReading, *, with_people: bool, with_files: bool) -> dict[int, list[Entry]]:
    return {
        number: [_told(entry, with_people=with_people, with_files=with_files) for entry in listed]
        for number, listed in opened.entries.items()
    }


def _whole(opened: StudyReading, *, with_people: bool, with_files: bool) -> str:
    """The whole study as JSON."""
    from fresh_chair.tell.open_data import Preparation, chair_data, study_json

    study = opened.study
    told = study if with_people else replace(study, people=tuple(map(code_alone, study.people)))
    ledgers = tuple(chair_data(letter, opened.known_chairs.of(letter)) for letter in study.chair_by_letter)
    preparation = Preparation(
        hunches=opened.hunches,
        fixture_checks=opened.fixture_checks,
        changes=opened.plans.changes(),
        chairs=ledgers,
        chair_states=opened.chair_states(),
        evidence=opened.evidence.entries,
        signatures=opened.plans.signatures().kept,
    )
    # What raters gave unseen by each other leaves the study once they may see it.
    sorting = [
        e for e in opened.sorting.entries if opened.findings.settling or not isinstance(e.content, SeverityRated)
    ]
    return study_json(told, _journals(opened, with_people=with_people, with_files=with_files), sorting, preparation)


def _figure_tables(opened: StudyReading) -> Iterator[Table]:
    """The comparisons of chairs."""
    from fresh_chair.tell.figure_tables import comparisons_csv, overall_csv

    figures = weigh(opened)
    yield "overall.csv", overall_csv(figures), "chairs compared over all tasks"
    yield "comparisons.csv", comparisons_csv(figures), "chairs compared task by task"


def _walk_tables(opened: StudyReading, *, with_files: bool) -> Iterator[Table]:
    """The tables of walks, contests and attached files."""
    from fresh_chair.tell.walk_tables import (
        attachments_csv,
        contest_csv,
        walk_items_csv,
        walk_remarks_csv,
        walk_steps_csv,
    )

    study, sittings = opened.study, opened.sittings
    yield "walk_steps.csv", walk_steps_csv(study, sittings), "steps of walks"
    yield "walk_items.csv", walk_items_csv(study, sittings), "lists of walks"
    yield "walk_remarks.csv", walk_remarks_csv(study, sittings), "marks of walks"
    yield "contest.csv", contest_csv(study, contests_of(study, sittings)), "contests"
    yield "attachments.csv", attachments_csv(study, sittings, with_files=with_files), "attached files"


def _finding_tables(opened: StudyReading, found: "SortedFindings") -> Iterator[Table]:
    """The tables of findings, their severities, ratings and parts; of those there are any of."""
    from fresh_chair.tell.finding_tables import findings_csv, parts_csv, ratings_csv, severities_csv

    study, listed = opened.study, [view.finding for view in found.findings]
    yield "findings.csv", findings_csv(study, found, life_states(opened, found), ways_taken(opened)), "findings"
    if any(finding.severities or finding.earlier_severities for finding in listed):
        yield "severities.csv", severities_csv(study, found), "severities"
    # A rater's severity leaves the study once all may see it.
    if opened.findings.settling:
        yield "ratings.csv", ratings_csv(study, found), "ratings"
    for kind in PARTS:
        if any(finding.parts.get(kind) for finding in listed):
            yield f"{kind}s.csv", parts_csv(study, found, kind), f"{kind}s"


def _evidence_tables(opened: StudyReading) -> Iterator[Table]:
    """The tables of evidence records; of kinds that have any, so that no study has nine empty ones."""
    from fresh_chair.services.evidence.later import later_of
    from fresh_chair.tell.evidence_tables import EVIDENCE_FILES, evidence_csv, later_csv

    state, later = opened.evidence.state, later_of(opened)
    for kind, name in EVIDENCE_FILES.items():
        if state.held(kind):
            yield name, evidence_csv(opened.study, state, kind), name.removesuffix(".csv").replace("_", " ")
    if later:
        yield "later.csv", later_csv(opened.study, later), "the later list"


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
