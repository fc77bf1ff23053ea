"""Reviewers' words about a person who is erased: listed, reworded, taken out of the bytes; names in redacted data."""

import csv
import re
from io import StringIO
from pathlib import Path

import pytest

from fresh_chair.core.errors import InputError
from fresh_chair.services.evidence.records import put_evidence
from fresh_chair.services.file.erasing import erase_person
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.file.words_about import reword, still_there, text_at, words_about
from fresh_chair.services.findings.sorting import open_finding
from fresh_chair.services.report.outputs import write_export
from fresh_chair.services.sitting import corrections as correcting
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy

CODE = "P04"


@pytest.fixture
def told(demo: OpenStudy) -> OpenStudy:
    """The demo with words about somebody in a finding, an advice and another one's note."""
    number = next(seat.number for seat in demo.study.seats if seat.participant == CODE and seat.number in demo.entries)
    mark = next(remark for remark in demo.sittings[number].remarks.values() if remark.words)
    open_finding(demo, "the tall one loses the pointer", [f"mark:{mark.entry}"])
    put_evidence(demo, "advice", {"what": f"seat {CODE} nearer to the window"})
    other = next(s for s in demo.study.seats if s.participant != CODE and demo.sittings.get(s.number) is not None)
    correcting.add_late(LiveSitting(demo, other), "note", "0:10", f"as {CODE} did", "seen on the recording")
    return demo


def test_words_that_rest_on_somebodys_marks_or_name_them_are_listed_and_can_be_taken_out(told: OpenStudy) -> None:
    about = words_about(told, CODE)
    texts = {each.text for each in about}
    assert {"the tall one loses the pointer", f"seat {CODE} nearer to the window", f"as {CODE} did"} <= texts
    assert all(text_at(told, each.handle) for each in about)
    erase_person(told, CODE, keep_figures=False)
    stays = {each.text: each for each in still_there(told, about)}
    reword(told, stays["the tall one loses the pointer"], "the pointer is lost")
    reword(told, stays[f"seat {CODE} nearer to the window"])
    reword(told, stays[f"as {CODE} did"])
    # Their traces are no erasures of anybody.
    assert not any("is on record" in problem for check in check_file(told.beside) for problem in check.problems)
    assert "the pointer is lost" in {finding.title for finding in told.findings.by_id.values()}
    told.store.home.make_room()
    data = told.beside.read_bytes()
    for gone in (b"the tall one", b"nearer to the window", f"as {CODE} did".encode()):
        assert gone not in data
    with pytest.raises(InputError, match="is not there any more"):
        reword(told, stays[f"as {CODE} did"])


@pytest.mark.parametrize("handle", ["", "finding", "finding:x", "finding:99999", "sitting:3", "evidence:1/2", "card:1"])
def test_a_handle_that_names_no_entry_is_one_sentence(demo: OpenStudy, handle: str) -> None:
    with pytest.raises(InputError, match=r"names no entry|is not"):
        list(text_at(demo, handle))


def test_redacted_data_name_no_observer_in_any_text_and_say_what_may_identify(told: OpenStudy, tmp_path: Path) -> None:
    observer = next(
        entry.author for entries in told.entries.values() for entry in entries if entry.author != "moderator"
    )
    put_evidence(told, "advice", {"what": f"ask {observer} about Mrs Ashdown"})
    list(write_export(told, tmp_path / "out", redact=True))
    for path in (tmp_path / "out").iterdir():
        assert re.search(rf"\b{observer}\b", path.read_text(encoding="utf-8")) is None, path.name
    rows = list(csv.reader(StringIO((tmp_path / "out" / "advice.csv").read_text(encoding="utf-8"))))
    assert any("ask observer 1 about" in cell for row in rows for cell in row)
    assert "words that may say who somebody is" in (tmp_path / "out" / "README.md").read_text(encoding="utf-8")
