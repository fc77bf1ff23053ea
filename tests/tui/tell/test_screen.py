"""Tell: a reader first, what is open in front, and every act by its key."""

from pathlib import Path

import pytest

from fresh_chair.core.evidence.telling import FinalDocument, MakersReply, OwnParagraph, QuoteChoice
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.tell.screen import Tell
from fresh_chair.tui.tell.widgets.document_lines import DocumentLine
from fresh_chair.tui.tell.widgets.document_panel import DocumentPanel
from fresh_chair.tui.widgets.line_list import LineList
from tests.tui.conftest import SIZES, WIDE, shows, until


def place_of(app: FreshChair) -> Tell:
    assert isinstance(app.screen, Tell)
    return app.screen


def take(app: FreshChair, words: str) -> None:
    """Take the first line with these words in hand."""
    panel = app.screen.query_one(DocumentPanel)
    found = next(name for name, line in panel._lines.items() if words in line.words)
    panel.query_one("#document", LineList).take(found)


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_each_reader_has_their_document_and_what_is_open_stands_in_front(
    demo: OpenStudy, size: tuple[int, int]
) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=size) as pilot:
        await pilot.press("6")
        await until(pilot, shows(app, "things open before it goes out"))
        names = list(app.screen.query_one(DocumentPanel)._lines)
        points = [name for name in names if name.startswith("point:")]
        assert points
        assert names[: len(points)] == points
        for reader, title in (("maker", "Saltmarsh 9"), ("researcher", "full report"), ("viewer", "sitting 15")):
            await pilot.press("right")
            await until(pilot, lambda reader=reader: place_of(app).ready is not None)  # type: ignore[misc]
            ready = place_of(app).ready
            assert ready is not None
            assert ready.told.reader == reader
            assert title in f"{ready.document.title} {ready.document.subtitle}"
        await pilot.press("right", "right")
        await until(pilot, shows(app, "things open before it goes out"))


async def test_the_outline_draws_figures_small_and_the_text_is_whole(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await pilot.press("6", "left")
        await until(pilot, lambda: place_of(app).ready is not None)
        panel = app.screen.query_one(DocumentPanel)
        few = len(panel._lines)
        drawn = next(line for line in panel._lines.values() if line.figure == "outcomes")
        assert len(drawn.rows) == 1 + len(demo.study.cards)
        await pilot.press("v")
        await until(pilot, lambda: len(app.screen.query_one(DocumentPanel)._lines) > 3 * few)


async def test_an_open_point_is_answered_and_own_words_are_kept(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await pilot.press("6")
        await until(pilot, shows(app, "13 things open"))
        await pilot.press("a", "s", *"it was meant so", "enter")
        await until(pilot, shows(app, "12 things open"))
        take(app, "The answer")
        await pilot.press("p", *"Read this twice.", "enter")
        await until(pilot, lambda: any("Read this twice." in line.words for line in _lines(app)))
        own = [h.record for h in evidence_of_kind(demo, "paragraph")]
        assert any(isinstance(e, OwnParagraph) and (e.at, e.reader) == ("answer", "decider") for e in own)
        take(app, "Read this twice.")
        await pilot.press("p", *" Or more.", "enter")
        await until(pilot, lambda: any("Read this twice. Or more." in line.words for line in _lines(app)))
        assert len(evidence_of_kind(demo, "paragraph")) == len(own)


def _lines(app: FreshChair) -> list[DocumentLine]:
    return list(app.screen.query_one(DocumentPanel)._lines.values())


async def test_one_chart_is_taken_out_alone(demo: OpenStudy, tmp_path: Path) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await pilot.press("6", "right", "right")
        await until(pilot, lambda: place_of(app).ready is not None)
        take(app, "Who fared better")
        await pilot.press("x")
        await until(pilot, shows(app, "into which file?"))
        await pilot.press("enter")
        await until(pilot, shows(app, "2 files in"), most=2000)
    assert {path.name for path in tmp_path.glob("fared_better.*")} == {"fared_better.svg", "fared_better.pdf"}


async def test_one_sentence_is_copied_or_written_alone(demo: OpenStudy, tmp_path: Path) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await pilot.press("6")
        await until(pilot, lambda: place_of(app).ready is not None)
        take(app, "There is no answer yet")
        await pilot.press("x", "c")
        await until(pilot, lambda: app.clipboard.startswith("There is no answer yet: no machine"))
        await pilot.press("x", "f")
        await until(pilot, shows(app, "into which file?"))
        await pilot.press("enter")
        await until(pilot, lambda: (tmp_path / "sentence.txt").exists())
    assert (tmp_path / "sentence.txt").read_text(encoding="utf-8").strip() == app.clipboard


async def test_open_data_can_leave_the_study_without_words_about_people(demo: OpenStudy, tmp_path: Path) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await pilot.press("6")
        await until(pilot, lambda: place_of(app).ready is not None)
        await pilot.press("O")
        await until(pilot, shows(app, "into which folder?"))
        await pilot.press("enter")
        await until(pilot, shows(app, "files in"), most=4000)
    readme = tmp_path / "demo-data-redacted" / "README.md"
    assert "Redacted: quotes" in readme.read_text(encoding="utf-8")


async def test_makers_get_a_draft_answer_it_and_a_final_one_is_kept(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await pilot.press("6", "right")
        await until(pilot, lambda: place_of(app).ready is not None)
        await pilot.press("u", *"2026-12-31", "enter")
        await until(pilot, shows(app, "answers until 2026-12-31"))
        await until(pilot, lambda: place_of(app).ready is not None)
        take(app, "F8 The green sign")
        await pilot.press("m", *"mended in 10", "enter")
        await until(pilot, lambda: len(evidence_of_kind(demo, "reply")) == 2)
        reply = evidence_of_kind(demo, "reply")[-1].record
        assert isinstance(reply, MakersReply)
        assert (reply.chair, reply.text, reply.of.startswith("finding:")) == ("A", "mended in 10", True)
        await pilot.press("u", *["backspace"] * 10, "enter")
        await until(pilot, lambda: place_of(app).ready is not None and not place_of(app).telling.until)
        await pilot.press("g", "y")
        await until(pilot, lambda: len(evidence_of_kind(demo, "final")) == 3)
        await until(pilot, shows(app, "SHA-256"))
    finals = [each.record for each in evidence_of_kind(demo, "final")]
    assert {each.chair for each in finals if isinstance(each, FinalDocument)} == {"A", "B", "C"}


async def test_the_language_the_formats_and_the_quotes_are_chosen(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await pilot.press("6")
        await until(pilot, lambda: place_of(app).ready is not None)
        await pilot.press("l", "2")
        await until(pilot, shows(app, "Für alle, die entscheiden"))
        await pilot.press("f", *["backspace"] * 18, *"pdf, doc", "enter")
        await until(pilot, shows(app, "'doc' is no format"))
        await pilot.press(*["backspace"] * 5, "enter")
        await until(pilot, lambda: place_of(app).telling.formats == ("pdf",))
        await until(pilot, lambda: place_of(app).ready is not None)
        await pilot.press("k")
        await until(pilot, shows(app, "marks with words, 0 chosen"))
        await pilot.press("o")
        await until(pilot, shows(app, "1 chosen"))
        await pilot.press("u")
        await until(pilot, shows(app, "0 chosen"))
        await pilot.press("f", "escape")
        await until(pilot, lambda: isinstance(app.screen, Tell))
    chosen = [each.record for each in evidence_of_kind(demo, "choice")]
    assert [each.says for each in chosen if isinstance(each, QuoteChoice)] == ["shown first"]
