"""The open data stand on their own: a valid package, scripts that come to the same figures, a redacted form."""

import csv
import json
import os
import shutil
import subprocess
import sys
from collections.abc import Iterator
from contextlib import closing
from dataclasses import replace
from io import StringIO
from pathlib import Path

import pytest
from frictionless import validate

from fresh_chair.core.errors import InputError
from fresh_chair.core.evidence.records import LaterItem
from fresh_chair.core.evidence.telling import MakersReply
from fresh_chair.core.figures.overall.estimates import OverallVerdict
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.file.new_study import new_demo, new_second_round
from fresh_chair.services.file.new_walk import new_walk_demo
from fresh_chair.services.report.data_notes import readme, small_cells
from fresh_chair.services.report.outputs import write_export
from fresh_chair.services.sitting.corrections import judge_again
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.tell.open_data import StudyExport


@pytest.fixture(scope="module")
def exported(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[OpenStudy, Path]]:
    """The demo, open, with its data in a folder."""
    folder = tmp_path_factory.mktemp("package")
    new_demo(folder / "demo.fresh")
    with closing(open_study(folder / "demo.fresh", write=False)) as opened:
        list(write_export(opened, folder / "data"))
        yield opened, folder / "data"


def test_the_package_is_valid_by_its_reference_library(exported: tuple[OpenStudy, Path], tmp_path: Path) -> None:
    new_walk_demo(tmp_path / "walk.fresh")
    with closing(open_study(tmp_path / "walk.fresh", write=False)) as walk:
        list(write_export(walk, tmp_path / "walk"))
    for folder in (exported[1], tmp_path / "walk"):
        report = validate(str(folder / "datapackage.json"))
        problems = [error.message for task in report.tasks for error in task.errors]
        assert report.valid, [error.message for error in report.errors] + problems
        package = json.loads((folder / "datapackage.json").read_text(encoding="utf-8"))
        assert {each["path"] for each in package["resources"]} == {path.name for path in folder.glob("*.csv")}


def figures_of(printed: str) -> dict[tuple[str, str], dict[str, str]]:
    rows = csv.DictReader(StringIO(printed.split("\n\n")[0]))
    return {(row["task"], row["chair"]): row for row in rows}


def overall_of(printed: str) -> dict[tuple[str, str, str], dict[str, str]]:
    rows = csv.DictReader(StringIO(printed.split("\n\n")[1]))
    return {(row["measure"], row["first"], row["second"]): row for row in rows}


def printed_by(*command: str) -> str:
    return subprocess.run(command, capture_output=True, text=True, check=True, timeout=120).stdout


@pytest.fixture(scope="module")
def thinned(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[OpenStudy, Path]]:
    """The second round, of which two cards were done at one chair alone, and one nowhere twice: tasks in common."""
    folder = tmp_path_factory.mktemp("thinned")
    new_second_round(folder / "second.fresh")
    opened = open_study(folder / "second.fresh")
    cards = [card.id for card in opened.study.cards]
    for seat in opened.study.seats:
        sitting = opened.sittings.get(seat.number)
        left_out = cards[:2] if seat.chair == opened.study.chairs[0].letter else cards[2:3]
        for attempt in sitting.tried if sitting is not None else ():
            if attempt.card in left_out and attempt.judged:
                judge_again(LiveSitting(opened, seat), attempt.number, Outcome.VOID, "thinned")
    with closing(opened):
        list(write_export(opened, folder / "data"))
        yield opened, folder / "data"


@pytest.mark.parametrize("which", ["exported", "thinned"])
def test_the_main_result_is_the_same_in_the_program_in_python_and_in_r(
    which: str, request: pytest.FixtureRequest
) -> None:
    opened, folder = request.getfixturevalue(which)
    found = overall_of(printed_by(sys.executable, "-I", str(folder / "reproduce.py")))
    if shutil.which("Rscript") is not None:
        assert overall_of(printed_by("Rscript", str(folder / "reproduce.R"))) == found
    else:
        assert os.environ.get("FRESH_CHAIR_LOOPS") != "long", "R is installed where everything is tested"
    weighed = weigh(opened).overall
    expected: dict[tuple[str, str, str], OverallVerdict] = {
        (measure, verdict.estimate.first, verdict.estimate.second): verdict
        for measure, told in weighed.items()
        if measure != "satisfaction"
        for verdict in told.verdicts
    }
    assert set(found) == set(expected)
    if which == "thinned":
        assert any(verdict.estimate.left_out for verdict in expected.values())
        assert any(verdict.estimate.value is not None and verdict.estimate.left_out for verdict in expected.values())
    for key, row in found.items():
        verdict = expected[key]
        numbers = (verdict.estimate.value, verdict.estimate.error, verdict.estimate.degrees)
        tested = verdict.estimate.value is not None
        for name, value in zip(("estimate", "standard_error", "degrees"), numbers, strict=True):
            assert (row[name] != "") is tested, (key, name)
            assert not tested or float(row[name]) == pytest.approx(value, abs=2e-6, rel=1e-6), (key, name)
        if tested:
            assert float(row["p_holm"]) == pytest.approx(verdict.p_adjusted, abs=2e-6)
        # Completion may have taken the verdict of the tests back.
        said = verdict.said if verdict.before is None else verdict.before
        assert row["verdict"] == said.value, key


def test_the_python_script_comes_to_the_same_figures(exported: tuple[OpenStudy, Path]) -> None:
    opened, folder = exported
    ran = subprocess.run(
        [sys.executable, "-I", str(folder / "reproduce.py")], capture_output=True, text=True, check=True, timeout=60
    )
    found, cells = figures_of(ran.stdout), weigh(opened).cells
    assert set(found) == {key for key, cell in cells.items() if sum(cell.counts.values())}
    for key, row in found.items():
        cell = cells[key]
        assert (int(row["completed"]), int(row["n"])) == (cell.lenient.x, cell.lenient.n)
        for name, value in (
            ("low", cell.lenient.low),
            ("high", cell.lenient.high),
            ("geometric_mean_seconds", cell.completed_seconds.value),
            ("median_seconds", cell.all_seconds.value),
        ):
            assert (row[name] == "") is (value is None), (key, name)
            assert value is None or float(row[name]) == pytest.approx(value, abs=1e-6, rel=1e-6), (key, name)


def test_the_r_script_prints_what_the_python_script_prints(exported: tuple[OpenStudy, Path]) -> None:
    if shutil.which("Rscript") is None:
        assert os.environ.get("FRESH_CHAIR_LOOPS") != "long", "R is installed where everything is tested"
        pytest.skip("R IS NOT INSTALLED HERE: the R script is not tested")
    folder = exported[1]
    told = [
        subprocess.run(command, capture_output=True, text=True, check=True, timeout=120).stdout
        for command in ([sys.executable, "-I", str(folder / "reproduce.py")], ["Rscript", str(folder / "reproduce.R")])
    ]
    assert figures_of(told[0]) == figures_of(told[1])
    assert len(figures_of(told[0])) == 24


def test_redacted_data_have_no_words_about_people_and_say_so(exported: tuple[OpenStudy, Path], tmp_path: Path) -> None:
    opened = exported[0]
    list(write_export(opened, tmp_path / "data", redact=True))
    everything = "".join(path.read_text(encoding="utf-8") for path in (tmp_path / "data").iterdir())
    words = [
        remark.words
        for number, sitting in opened.sittings.items()
        for remark in sitting.remarks.values()
        if remark.words and sitting.walk is None and len(remark.words) > 12 and number
    ]
    assert len(words) > 100
    titles = " ".join(finding.title for finding in opened.findings.by_id.values())
    assert [each for each in words if each in everything and each not in titles] == []
    observers = {name for sitting in opened.sittings.values() for name in sitting.observers}
    raters = {name for finding in opened.findings.by_id.values() for name in finding.ratings}
    assert observers | raters
    columns = ("author", "rater", "reviewer")
    for path in (tmp_path / "data").glob("*.csv"):
        for row in csv.DictReader(StringIO(path.read_text(encoding="utf-8"))):
            assert not {row[name] for name in columns if name in row} & (observers | raters), path.name
    assert "recordings/" not in everything
    later = [each.record for each in evidence_of_kind(opened, "later")]
    assert [each.what for each in later if isinstance(each, LaterItem) and each.what in everything] == []
    assert later
    replies = [each.record for each in evidence_of_kind(opened, "reply")]
    signed = {each.by for each in replies if isinstance(each, MakersReply)}
    whole = json.loads((tmp_path / "data" / "study.json").read_text(encoding="utf-8"))
    records = [each["content"].get("record", {}) for each in whole["evidence"]]
    assert signed
    assert not signed & {record.get("by") for record in records}
    assert "Redacted: quotes" in (tmp_path / "data" / "README.md").read_text(encoding="utf-8")
    StudyExport.model_validate_json((tmp_path / "data" / "study.json").read_text(encoding="utf-8"))
    assert validate(str(tmp_path / "data" / "datapackage.json")).valid
    with pytest.raises(InputError, match="neither people"):
        list(write_export(opened, tmp_path / "no", redact=True, with_people=True))


def test_small_cells_are_warned_of(exported: tuple[OpenStudy, Path]) -> None:
    opened, folder = exported
    few = small_cells(opened)
    cells = weigh(opened).cells
    titles = {card.title: card.id for card in opened.study.cards}
    letters = {chair.title: chair.letter for chair in opened.study.chairs}
    assert few
    assert all(0 < cells[titles[card], letters[chair]].n <= count < 5 for card, chair, count in few)
    readme = (folder / "README.md").read_text(encoding="utf-8")
    assert all(f"- {card}, {chair}: {count}" in readme for card, chair, count in few)


def test_no_title_acts_in_the_readme(demo: OpenStudy) -> None:
    demo.amend(replace(demo.study, title="<b>loans</b> [here](x)", question="# which *one*?"))
    text = readme(demo, [], [], [("| a <i>card</i>", "B", 2)])
    assert "\\<b\\>loans\\</b\\> \\[here\\]\\(x\\)" in text
    assert "\\# which \\*one\\*?" in text
    assert "<i>" not in text.replace("\\<i", "")
