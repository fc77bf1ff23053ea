"""What leaves the study: complete, open, and cell_text."""

import csv
import json
from contextlib import closing
from dataclasses import replace
from html.parser import HTMLParser
from io import StringIO
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from fresh_chair.core.errors import OutsideError
from fresh_chair.core.plan.people import code_alone
from fresh_chair.core.plan.sheet import StudyQuestion
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.services.file.new_study import new_demo
from fresh_chair.services.findings.sorting import open_finding
from fresh_chair.services.report.outputs import figures_of, write_export
from fresh_chair.services.report.reports import write_report
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.tell.open_data import StudyExport, schema
from fresh_chair.tell.tables import ATTEMPT_COLUMNS, cell_text
from tests.builders import FakeClock

HOSTILE = '<script>alert(1)</script> =cmd|calc \x1b[31m **bold** [link](x) "q" $x^2$'


def rows(folder: Path, name: str) -> list[dict[str, str]]:
    return list(csv.DictReader(StringIO((folder / name).read_text(encoding="utf-8"))))


@pytest.fixture(scope="module")
def told(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The report and the open data of the demo, written once for all tests that only read them."""
    folder = tmp_path_factory.mktemp("told")
    new_demo(folder / "demo.fresh")
    with closing(open_study(folder / "demo.fresh", write=False)) as opened:
        written = {*write_report(opened, folder / "told"), *write_export(opened, folder / "told")}
        assert {each.path for each in written} == set((folder / "told").iterdir())
    return folder / "told"


def test_attempts_have_a_row_each_with_units_in_the_names(demo: OpenStudy, told: Path) -> None:
    wanted = {"study", "sitting", "participant", "chair", "task", "attempt", "outcome", "ease"}
    wanted |= {f"{time}_seconds" for time in ("hands", "wait", "aside", "elapsed")}
    assert wanted <= set(ATTEMPT_COLUMNS)
    attempts = rows(told, "attempts.csv")
    assert len(attempts) == len(demo.facts())
    for row in attempts:
        parts = sum(float(row[f"{lane}_seconds"]) for lane in ("hands", "wait", "aside"))
        assert parts == pytest.approx(float(row["elapsed_seconds"]), abs=1e-5)
        assert row["ease"] == "" or 1 <= int(row["ease"]) <= 7


def test_every_entry_of_every_journal_is_a_row_of_marks(demo: OpenStudy, told: Path) -> None:
    marks = rows(told, "marks.csv")
    assert [(int(m["sitting"]), int(m["entry"]), m["id"]) for m in marks] == [
        (number, entry.number, entry.id) for number in sorted(demo.entries) for entry in demo.entries[number]
    ]


def test_snags_name_the_finding_they_were_put_into(demo: OpenStudy, told: Path) -> None:
    snags = rows(told, "snags.csv")
    names = {finding.id: finding.name for finding in demo.findings.by_id.values()}
    told_of = {f"mark:{row['id']}": row["finding"].split("; ") for row in snags if row["finding"]}
    held = {target: [names[f] for f in fed] for target, fed in demo.findings.findings_of.items()}
    assert {target: fed for target, fed in held.items() if target in told_of} == told_of
    assert set(told_of) == {target for target in held if target.startswith("mark:")} & {
        f"mark:{row['id']}" for row in snags
    }
    assert all(each in ("", "0", "1", "2", "3", "4") for row in snags for each in row["severity"].split("; "))


def test_of_a_recording_only_its_file_s_name_leaves(demo: OpenStudy, tmp_path: Path) -> None:
    from fresh_chair.core.sitting.journal import RecordingOpened
    from fresh_chair.demo.sitting_kinds import RECORDED
    from fresh_chair.services.sitting.live import LiveSitting

    live = LiveSitting(demo, demo.to_run()[0])
    live.begin(live.now())
    live.log(RecordingOpened("/home/somebody/films/p04.webm"), live.now())
    for people in (False, True):
        list(write_export(demo, tmp_path / str(people), with_people=people))
        for name in ("marks.csv", "study.json"):
            text = (tmp_path / str(people) / name).read_text(encoding="utf-8")
            assert "p04.webm" in text
            assert ("/home/somebody" in text) == people
    assert RECORDED in demo.entries


def test_nothing_that_acts_on_a_terminal_stands_in_the_exported_study(demo: OpenStudy, tmp_path: Path) -> None:
    from tests.terminal.test_hostile_fields import HOSTILE, hostile

    path = demo.beside
    demo.close()
    hostile(path)
    opened = open_study(path)
    list(write_export(opened, tmp_path / "data"))
    opened.close()
    for name in ("study.json", "marks.csv", "snags.csv"):
        text = (tmp_path / "data" / name).read_text(encoding="utf-8")
        assert "STOLEN" in text
        assert not [letter for letter in HOSTILE if not letter.isprintable() and letter in text]
    assert "\\u202e" in (tmp_path / "data" / "study.json").read_text(encoding="utf-8")


@pytest.mark.parametrize("text", ["＝1+1", "\u200b=1", " =1", "＠x", "＋1", "－1", "\t=1", "'=1", "|calc"])
def test_no_sign_that_a_spreadsheet_may_take_for_a_formula_begins_a_cell(text: str) -> None:
    assert cell_text(text).startswith("'")


def test_the_whole_study_fits_its_documented_schema(demo: OpenStudy, told: Path) -> None:
    text = (told / "study.json").read_text(encoding="utf-8")
    export = StudyExport.model_validate_json(text)
    assert export.study == replace(demo.study, people=tuple(map(code_alone, demo.study.people)))
    assert not any(person.profile in text for person in demo.study.people)
    assert export.hunches == list(demo.hunches)
    assert export.fixture_checks == list(demo.fixture_checks)
    assert [change.place for change in export.changes] == [change.path for change in demo.plans.changes()]
    assert sum(len(sitting.entries) for sitting in export.sittings) == sum(map(len, demo.entries.values()))
    documented = Path(__file__).parents[2] / "docs" / "study-export.schema.json"
    assert json.loads(documented.read_text(encoding="utf-8")) == json.loads(json.dumps(schema()))


def test_every_cell_of_the_figures_has_counts_estimates_methods_and_n(demo: OpenStudy) -> None:
    data = json.loads(json.dumps(figures_of(demo), allow_nan=False))
    assert len(data["cells"]) == len(demo.study.cards) * len(demo.study.chairs)
    for cell in data["cells"]:
        counted = sum(n for outcome, n in cell["outcomes"].items() if outcome != "void")
        assert counted == cell["n"] == cell["completed"]["n"]
        assert cell["seconds_all"]["n"] == counted - cell["outcomes"]["blocked"]
        for figure in ("completed", "completed_unaided", "seconds_completed", "seconds_all", "ease"):
            assert set(cell[figure]) >= {"value", "low", "high", "n", "method", "level"}


@given(st.text(max_size=30))
def test_no_cell_is_taken_for_a_formula(text: str) -> None:
    shown = cell_text(text)
    assert shown.lstrip()[:1] not in tuple("=+-@\t")
    assert "\n" not in shown


def test_numbers_stay_numbers() -> None:
    assert [cell_text(value) for value in (-3, 2.5, True, None)] == ["-3", "2.5", "true", ""]


class _Tags(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.seen: set[str] = set()
        self.sources: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.seen.add(tag)
        self.sources += [
            value or "" for name, value in attrs if name in ("src", "href") and not (value or "").startswith("#")
        ]


def test_hostile_words_act_nowhere(demo: OpenStudy, tmp_path: Path) -> None:
    live = LiveSitting(demo, demo.to_run()[0])
    live.begin(demo.clock.now())
    live.log(j.AttemptStarted(live.seat.cards[0]), demo.clock.now())
    snag = live.log(j.SnagSeen(HOSTILE), demo.clock.now())
    open_finding(demo, HOSTILE, [f"mark:{snag.id}"])
    list(write_report(demo, tmp_path / "r"))
    list(write_export(demo, tmp_path / "r"))
    html = (tmp_path / "r" / "report.html").read_text(encoding="utf-8")
    tags = _Tags()
    tags.feed(html)
    assert "script" not in tags.seen
    markdown = (tmp_path / "r" / "report.md").read_text(encoding="utf-8")
    assert "\\<script\\>" in markdown
    assert "\\*\\*bold" in markdown
    for path in (tmp_path / "r").glob("*.[chm]*"):
        assert "\x1b" not in path.read_text(encoding="utf-8"), path.name


def test_the_html_report_needs_no_other_file(told: Path) -> None:
    html = (told / "report.html").read_text(encoding="utf-8")
    tags = _Tags()
    tags.feed(html)
    assert html.count("<svg") == 2
    assert tags.sources == []
    assert "url(http" not in html


def test_the_report_says_what_it_is_made_from_and_that_it_is_made_up(demo: OpenStudy, told: Path) -> None:
    text = (told / "report.md").read_text(encoding="utf-8")
    assert "14 sittings run, 1 broken off, 6 still to come" in text
    assert "6 sittings of pilots or the expert counted nowhere" in text
    assert "repair fund" in text
    assert "Sample data" in text
    for card in demo.study.cards:
        assert card.title.split("?")[0] in text


def test_a_folder_that_cannot_be_written_is_said_and_the_study_untouched(demo: OpenStudy, tmp_path: Path) -> None:
    blocked = tmp_path / "file"
    blocked.write_text("x")
    with pytest.raises(OutsideError, match="cannot be written"):
        list(write_report(demo, blocked / "sub"))
    assert blocked.read_text() == "x"


def test_an_empty_study_can_be_told_too(opened: OpenStudy, tmp_path: Path) -> None:
    written = {*write_report(opened, tmp_path / "t"), *write_export(opened, tmp_path / "t")}
    assert {each.path for each in written} == set((tmp_path / "t").iterdir())
    assert rows(tmp_path / "t", "attempts.csv") == []
    assert "None has been sorted yet" in (tmp_path / "t" / "report.md").read_text(encoding="utf-8")
    assert TypeAdapter(StudyExport).validate_json((tmp_path / "t" / "study.json").read_bytes()).sittings == []


def test_what_is_known_of_people_leaves_the_study_only_where_somebody_says_so(demo: OpenStudy, tmp_path: Path) -> None:
    profile = demo.study.people[0].profile
    list(write_export(demo, tmp_path / "bare"))
    list(write_report(demo, tmp_path / "bare"))
    for path in (tmp_path / "bare").iterdir():
        assert profile.encode() not in path.read_bytes(), path.name
    list(write_export(demo, tmp_path / "full", with_people=True))
    assert profile in (tmp_path / "full" / "study.json").read_text(encoding="utf-8")


def test_answers_to_the_studys_own_questions_have_a_row_each(
    opened: OpenStudy, clock: FakeClock, tmp_path: Path
) -> None:
    asked = (
        StudyQuestion(id="sure", ask="How sure are you?", when="after each card", low="not", high="very"),
        StudyQuestion(id="missed", ask="What was missing?", kind="words"),
    )
    opened.amend(replace(opened.study, sheet=replace(opened.study.sheet, questions=asked, ask_preference=True)))
    live = LiveSitting(opened, opened.study.seats[0])
    now = clock.now
    live.begin(now())
    live.log(j.AttemptStarted(live.seat.cards[0]), now())
    live.log(j.AttemptStopped(), now())
    live.log(j.OutcomeJudged(Outcome.UNAIDED), now())
    live.log(j.EaseRated(5), now())
    live.log(j.QuestionAnswered("sure", 1, 6), now())
    live.log(j.QuestionAnswered("missed", 0, None, "=the bin"), now())
    live.log(j.PreferenceGiven(("B", "A"), "it was calm"), now())
    list(write_export(opened, tmp_path))
    told = rows(tmp_path, "answers.csv")
    assert [(r["question"], r["task"], r["attempt"], r["score"], r["words"]) for r in told] == [
        ("sure", live.seat.cards[0], "1", "6", ""),
        ("missed", "", "", "", "'=the bin"),
        ("preference B", "", "", "1", "it was calm"),
        ("preference A", "", "", "2", ""),
    ]
