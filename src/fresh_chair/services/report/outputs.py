"""Telling: reports, charts and data, written into a folder."""

import json
import re
from collections.abc import Iterator
from contextlib import closing
from dataclasses import replace
from pathlib import Path
from typing import Any, Literal

from fresh_chair import __version__
from fresh_chair.core.figures.study_figures import Weighing
from fresh_chair.core.findings.sorted_snags import all_snags
from fresh_chair.core.plan.people import code_alone
from fresh_chair.core.sitting.journal import Entry, RecordingOpened
from fresh_chair.core.sitting.state.sitting import Phase
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.findings.sorting import sorted_snags_of
from fresh_chair.services.report.documents import Produce
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.services.system.child import in_child
from fresh_chair.services.system.files import Written, write_file


def write_report(
    opened: StudyReading, folder: Path, *, weighing: Weighing | None = None, words: Words = ENGLISH
) -> Iterator[Written]:
    """Write charts and the report into a folder, one file after another, so that progress can be shown.

    Args:
        opened: The open study.
        folder: Made where it is missing; files of the same names are replaced.
        weighing: The figures, where they are known already.
        words: The language of its sentences.

    Raises:
        OutsideError: Where the folder or the disk refuses; files written before stay.
    """
    from fresh_chair.draw.charts import outcomes_chart, times_chart
    from fresh_chair.draw.paper import saved
    from fresh_chair.tell.report import ReportFacts, html_report, markdown_report

    figures = weighing or weigh(opened)
    charts: dict[str, bytes] = {}
    for name, title, chart in (
        ("outcomes", "outcomes by task and chair", outcomes_chart(figures, words)),
        ("times", "time on task by chair", times_chart(figures, words)),
    ):
        charts[name] = saved(chart, "svg")
        yield write_file(folder / f"{name}.svg", charts[name], f"{title}, SVG")
        yield write_file(folder / f"{name}.pdf", saved(chart, "pdf"), f"{title}, PDF")
    phases = [opened.phase(seat.number) for seat in opened.study.seats if opened.study.counted(seat.participant)]
    facts = ReportFacts(
        figures,
        sorted_snags_of(opened),
        run=phases.count(Phase.ENDED),
        broken_off=phases.count(Phase.BROKEN_OFF),
        to_run=phases.count(Phase.EMPTY),
        uncounted=sum(not opened.study.counted(s.participant) and s.number in opened.begun for s in opened.study.seats),
        found=_found(opened),
        version=__version__,
        words=words,
    )
    yield write_file(folder / "report.md", markdown_report(facts).encode(), "report, Markdown")
    yield write_file(folder / "report.html", html_report(facts, charts).encode(), "report, HTML")


def report_of(path: Path, folder: Path) -> Iterator[Written]:
    """The report of the study at a path, as it is in its file; for a process of its own. Raises as `write_report`."""
    with closing(open_study(path, write=False)) as opened:
        yield from write_report(opened, folder)


def export_of(path: Path, folder: Path) -> Iterator[Written]:
    """The open data of the study at a path, likewise."""
    with closing(open_study(path, write=False)) as opened:
        yield from write_export(opened, folder)


def produced(opened: OpenStudy, what: Literal["report", "export"], *, apart: bool) -> Produce:
    """The producer of a document.

    Args:
        opened: The open study.
        what: Which document.
        apart: Write it in a process of its own, so that nobody's keys wait. That one reads the study file: marks that
            lie in a second place are not in it, and are then written here.
    """
    if apart and not opened.spool.waiting:
        name = f"{__name__}:{what}_of"
        return lambda folder: in_child(name, opened.file.path, folder)
    snapshot = opened.snapshot()
    write = write_report if what == "report" else write_export
    return lambda folder: write(snapshot, folder)


def _found(opened: StudyReading) -> dict[str, int]:
    """How participants' sittings that began found their chair."""
    counted = {seat.number for seat in opened.study.seats if opened.study.counted(seat.participant)}
    found = [sitting.chair_found for number, sitting in opened.sittings.items() if number in counted and sitting.began]
    return {state: found.count(state) for state in ("fresh", "not fresh", "not checked")}


def write_export(opened: StudyReading, folder: Path, *, with_people: bool = False) -> Iterator[Written]:
    """Write the open data into a folder, one file after another.

    Args:
        opened: The open study.
        folder: As for `write_report`.
        with_people: Also what is known of people beside their codes; only where somebody says so.

    Raises:
        OutsideError: As `write_report`.
    """
    from fresh_chair.tell.open_data import Preparation, chair_data, study_json
    from fresh_chair.tell.tables import answers_csv, attempts_csv, marks_csv, snags_csv

    journals = {n: [_told(entry, with_people=with_people) for entry in listed] for n, listed in opened.entries.items()}
    study, snags = opened.study, all_snags(opened.study, opened.sittings, opened.findings)
    yield write_file(folder / "attempts.csv", attempts_csv(study, opened.facts()).encode(), "attempts")
    yield write_file(folder / "answers.csv", answers_csv(study, opened.sittings).encode(), "answers")
    yield write_file(folder / "marks.csv", marks_csv(study, journals).encode(), "marks")
    yield write_file(folder / "snags.csv", snags_csv(study, snags, sorted_snags_of(opened)).encode(), "snags")
    told = study if with_people else replace(study, people=tuple(map(code_alone, study.people)))
    ledgers = tuple(chair_data(letter, opened.known_chairs.of(letter)) for letter in study.chair_by_letter)
    preparation = Preparation(
        hunches=opened.hunches,
        fixture_checks=opened.fixture_checks,
        changes=opened.plans.changes(),
        chairs=ledgers,
        chair_states=opened.chair_states(),
    )
    whole = study_json(told, journals, list(opened.sorting.entries), preparation)
    yield write_file(folder / "study.json", whole.encode(), "the whole study")


def _told(entry: Entry, *, with_people: bool) -> Entry:
    """An entry as it leaves the study: of a recording its file's name at most, for folders are called after people."""
    if isinstance(entry.content, RecordingOpened) and not with_people:
        name = re.split(r"[/\\]", entry.content.file.rstrip("/\\"))[-1]
        return replace(entry, content=replace(entry.content, file=name))
    return entry


def figures_of(opened: StudyReading) -> dict[str, Any]:
    """Every cell's figures as plain data."""
    from fresh_chair.tell.open_data import figures_data

    return figures_data(weigh(opened))


def figures_json(opened: StudyReading) -> str:
    """The same as JSON text."""
    return json.dumps(figures_of(opened), indent=1, allow_nan=False)
