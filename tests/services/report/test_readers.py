"""Each reader gets the right document: in their words, of both demos, and nothing in it that is not theirs."""

import re
from collections.abc import Iterator, Mapping
from contextlib import closing
from dataclasses import replace
from itertools import pairwise
from pathlib import Path

import pytest
import yaml
from pypdf import PdfReader

from fresh_chair.core.evidence.telling import Reader
from fresh_chair.services.evidence.records import put_evidence
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.file.new_study import new_demo
from fresh_chair.services.file.new_walk import new_walk_demo
from fresh_chair.services.report.finals import content_hash
from fresh_chair.services.report.reports import READERS, Prepared, Telling, finalize, prepared, write_documents
from fresh_chair.services.report.telling.makers.maker import finding_files, names_another
from fresh_chair.services.report.telling.open_points import open_points
from fresh_chair.services.report.telling.viewer import chapters_of, web_vtt
from fresh_chair.services.report.trace import trace
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.tell.document.markdown import finding_file, markdown_of
from fresh_chair.tell.document.model import Document, Section, plain

# What a decider is never told, in any language.
BANNED = (
    "p", "n", "interval", "median", "significant", "holm", "censored", "sus", "intervall", "signifikant", "zensiert",
    "konfidenzintervall", "mittelwert", "mean", "confidence", "kaplan", "wald",
)  # fmt: skip

Told = Mapping[str, tuple[Prepared, ...]]


def told_of(path: Path) -> tuple[OpenStudy, Told]:
    opened = open_study(path, write=False)
    weighing = weigh(opened)
    told: dict[str, tuple[Prepared, ...]] = {
        reader or "brief": tuple(prepared(opened, Telling(reader, ("md",)), weighing=weighing, beside=path))
        for reader in (*READERS, None)
    }
    return opened, told


@pytest.fixture(scope="module")
def newcomers(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[OpenStudy, Told]]:
    """The demo with every document of it."""
    path = tmp_path_factory.mktemp("readers") / "demo.fresh"
    new_demo(path)
    opened, told = told_of(path)
    with closing(opened):
        yield opened, told


@pytest.fixture(scope="module")
def walks(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[OpenStudy, Told]]:
    """The demo of a reviewer alone with every document of it."""
    path = tmp_path_factory.mktemp("readers") / "walk.fresh"
    new_walk_demo(path)
    opened, told = told_of(path)
    with closing(opened):
        yield opened, told


def text_of(document: Document) -> str:
    return "\n".join(plain(text) for text in document.texts())


def section(document: Document, name: str) -> Section:
    return next(each for _, each in document.walk() if each.id == name)


def test_a_decider_is_told_no_word_of_statistics(
    newcomers: tuple[OpenStudy, Told], walks: tuple[OpenStudy, Told]
) -> None:
    for _, told in (newcomers, walks):
        document = told["decider"][0].document
        headings = " ".join(each.title for _, each in document.walk())
        words = set(re.findall(r"[a-zäöüß0-9]+", f"{text_of(document)} {headings}".lower()))
        # A person's code and a card's own words are theirs; the demos have none of these.
        assert words.isdisjoint(BANNED), words & set(BANNED)


def test_a_decider_is_told_how_sure_one_can_be(newcomers: tuple[OpenStudy, Told]) -> None:
    document = newcomers[1]["decider"][0].document
    answer = text_of(Document("decider", "x", "t", "", "en", (section(document, "answer"),)))
    assert "Of 4 at both, 3 fared better at Saltmarsh 9" in answer
    assert re.search(r"anything from \d+ fewer to \d+ more", answer)
    assert "There is no answer yet" in answer
    assert document.full == "researcher"
    assert document.pages == 2


def test_every_number_of_every_document_leads_to_marks(
    newcomers: tuple[OpenStudy, Told], walks: tuple[OpenStudy, Told]
) -> None:
    for opened, told in (newcomers, walks):
        weighing = weigh(opened)
        numbers = {number for listed in told.values() for each in listed for number in each.document.numbers()}
        assert len(numbers) > 90
        for number in numbers:
            assert trace(opened, weighing, number).id == number
    opened = newcomers[0]
    attempts = {(f.sitting, f.participant) for f in opened.facts() if (f.card, f.chair) == ("dark-screen", "A")}
    found = trace(opened, weigh(opened), "completion/dark-screen/A").marks
    counted = {code for _, code in attempts if opened.study.counted(code)}
    assert {mark.participant for mark in found} == counted
    assert all(opened.entries[mark.sitting][int(mark.entry) - 1].number == int(mark.entry) for mark in found)


def test_the_numbers_of_two_pages_are_anchors_of_the_full_report(
    newcomers: tuple[OpenStudy, Told], walks: tuple[OpenStudy, Told]
) -> None:
    for _, told in (newcomers, walks):
        short, full = told["decider"][0].document.numbers(), told["researcher"][0].document.numbers()
        assert len(short) > 5
        assert set(short) <= set(full)


def test_makers_read_nothing_of_other_chairs(newcomers: tuple[OpenStudy, Told]) -> None:
    opened, told = newcomers
    assert [each.told.chair for each in told["maker"]] == ["A", "B", "C"]
    for each in told["maker"]:
        text = text_of(each.document)
        others = [chair.title for chair in opened.study.chairs if chair.letter != each.told.chair]
        assert not [title for title in others if title in text]
        assert "Nothing is said here of other machines" in plain(each.document.footer)
    assert names_another(told["maker"][0].told, "as Lanternwood has it")
    assert not names_another(told["maker"][0].told, "as Saltmarsh has it")


def test_a_finding_for_makers_is_a_file_with_a_head_that_reads_as_yaml(newcomers: tuple[OpenStudy, Told]) -> None:
    told = newcomers[1]["maker"][0].told
    files = {name: (head, finding_file(head, part)) for name, head, part in finding_files(told)}
    assert len(files) > 10
    for head, text in files.values():
        _, top, body = text.split("---\n", 2)
        assert yaml.safe_load(top) == head
        assert body.strip().startswith("# F")
    head, text = next(pair for name, pair in files.items() if name.startswith("F08-"))
    assert (head["severity"], head["severity_with_workaround"], head["met_by"], head["of"]) == (4, 3, 1, 5)
    for part in ("Asked:", "Expected:", "Happened:", "To see it:", "Tried:", "May be asked for:"):
        assert f"**{part}**" in text
    assert "the makers of Saltmarsh" in text, "their answer to the draft stands at the finding"


def test_a_draft_says_until_when_it_is_to_be_answered(newcomers: tuple[OpenStudy, Told]) -> None:
    telling = Telling("maker", ("md",), chairs=("B",), until="2026-12-31")
    document = next(iter(prepared(newcomers[0], telling))).document
    assert "2026-12-31" in document.status
    assert "2026-12-31" in text_of(document)


def test_the_full_report_has_everything_in_its_place(newcomers: tuple[OpenStudy, Told]) -> None:
    opened, told = newcomers
    document = told["researcher"][0].document
    names = [each.id for each in document.sections]
    order = ["product", "objectives", "participants", "context", "tasks", "procedure", "design", "measures"]
    order += [
        "deviations",
        "results-tasks",
        "results-overall",
        "satisfaction",
        "findings",
        "questionnaires",
        "next-time",
    ]
    assert [name for name in names if name in order] == order
    text = text_of(document)
    for said in (*(card.goal for card in opened.study.cards), *(c.words for c in opened.study.sheet.consents)):
        assert said in text
    for finding in opened.findings.by_id.values():
        assert any(each.id == f"finding-F{finding.number}" for _, each in document.walk())
    assert f"seed {opened.study.seed}" in text
    assert not [person.profile for person in opened.study.people if person.profile and person.profile in text]


def test_records_that_are_read_about_are_said_to_be(newcomers: tuple[OpenStudy, Told]) -> None:
    _, told = newcomers
    rows = [text_of(each.document) for each in told["researcher"]]
    assert re.search(r"taken on trust.* \(of these: 1 read about\)", rows[0])


def test_viewers_read_of_points_that_are_open(walks: tuple[OpenStudy, Told]) -> None:
    told = walks[1]["viewer"][0]
    said = text_of(Document("viewer", "x", "t", "", "en", (section(told.document, "open"),)))
    assert "in no finding yet" in said
    others = [title for letter, title in told.told.titles.items() if title not in told.document.subtitle]
    assert others
    assert not [title for title in others if title in said]


def test_walks_alone_have_all_documents_and_none_reads_like_a_study_of_newcomers(
    walks: tuple[OpenStudy, Told],
) -> None:
    told = walks[1]
    assert set(told) == {"decider", "maker", "researcher", "viewer", "brief"}
    for listed in told.values():
        for each in listed:
            text = text_of(each.document)
            assert not re.search(r"\b0 of 0\b|none yet|n 0\b|0 newcomers|no values", text), each.document.file
            assert not each.document.figures() or each.document.name == "researcher"
    text = text_of(told["decider"][0].document)
    assert "one reviewer's answer" in text
    assert "says nothing of how others fare" in text


def test_chapters_follow_the_recording_from_its_beginning(walks: tuple[OpenStudy, Told]) -> None:
    opened, told = walks
    each = told["viewer"][0]
    chapters = chapters_of(each.told, 1)
    assert chapters[0].begin_seconds == 0
    assert all(one.end_seconds == other.begin_seconds for one, other in pairwise(chapters))
    lines = web_vtt(chapters, each.document.title).splitlines()
    assert lines[0].startswith("WEBVTT")
    assert len([line for line in lines if "-->" in line]) == len(chapters)
    stamp = r"\d\d:[0-5]\d:[0-5]\d\.\d{3}"
    assert all(re.fullmatch(f"{stamp} --> {stamp}", line) for line in lines if "-->" in line)
    careful = text_of(Document("viewer", "x", "t", "", "en", (section(each.document, "careful"),)))
    borrowed = [r for r in opened.sittings[1].remarks.values() if r.evidence in ("read about", "heard") and r.words]
    assert borrowed
    assert all(remark.words in careful for remark in borrowed)
    points = text_of(Document("viewer", "x", "t", "", "en", (section(each.document, "points"),)))
    assert not [remark.words for remark in borrowed if remark.words in points]


def test_own_words_stay_where_they_were_put(demo: OpenStudy) -> None:
    put_evidence(demo, "paragraph", {"text": "Read the table with care.", "at": "row", "reader": "decider"})
    put_evidence(demo, "paragraph", {"text": "Of makers of B alone.", "at": "short", "reader": "maker", "chair": "B"})
    decider = next(iter(prepared(demo, Telling("decider", ("md",))))).document
    assert plain(section(decider, "row").blocks[-1].text) == "Read the table with care."  # type: ignore[union-attr]
    assert plain(section(decider, "foreword").blocks[0].text).startswith("We wrote this")  # type: ignore[union-attr]
    by_chair = {e.told.chair: text_of(e.document) for e in prepared(demo, Telling("maker", ("md",)))}
    assert ["Of makers of B alone." in by_chair[letter] for letter in "ABC"] == [False, True, False]


def test_a_quote_is_left_out_where_nobody_agreed_or_the_reviewer_says_so(demo: OpenStudy) -> None:
    quotes = [
        (number, remark)
        for number, sitting in demo.sittings.items()
        for remark in sitting.remarks.values()
        if remark.kind == "quote" and remark.words
    ]
    number, remark = quotes[0]
    code = demo.study.seat(number).participant

    def shown() -> str:
        return "".join(text_of(each.document) for each in prepared(demo, Telling("maker", ("md",))))

    assert remark.words in shown()
    put_evidence(demo, "choice", {"of": f"mark:{remark.entry}", "says": "left out"})
    decider = text_of(next(iter(prepared(demo, Telling("decider", ("md",))))).document)
    assert remark.words not in decider
    person = demo.study.person_by_code[code]
    assert "quotes" in person.consents


def test_who_did_not_agree_is_not_quoted_and_that_is_open(demo: OpenStudy) -> None:
    quoted = {
        demo.study.seat(number).participant: remark.words
        for number, sitting in demo.sittings.items()
        for remark in sitting.remarks.values()
        if remark.kind == "quote" and remark.words
    }
    code, words = next(iter(quoted.items()))
    people = tuple(replace(p, consents={}) if p.code == code else p for p in demo.study.people)
    demo.amend(replace(demo.study, people=people))
    ready = next(iter(prepared(demo, Telling("researcher", ("md",)))))
    assert words not in text_of(ready.document)
    points = [each for each in open_points(ready.told) if each.sort == "quote" and each.answer is None]
    assert points
    assert all(code in each.words for each in points)
    put_evidence(demo, "answer", {"about": points[0].key, "answer": "stands", "because": "they agreed by telephone"})
    ready = next(iter(prepared(demo, Telling("researcher", ("md",)))))
    assert words in text_of(ready.document)


def test_what_is_open_is_printed_until_it_is_answered(demo: OpenStudy) -> None:
    ready = next(iter(prepared(demo, Telling("researcher", ("md",)))))
    waiting = [each for each in open_points(ready.told) if each.answer is None]
    printed = text_of(Document("researcher", "x", "t", "", "en", (section(ready.document, "open"),)))
    assert {each.sort for each in waiting} >= {"contradiction", "no verdict", "unsorted", "open threshold"}
    assert all(each.words in printed for each in waiting)
    put_evidence(demo, "answer", {"about": waiting[0].key, "answer": "stands", "because": "it was meant so"})
    again = next(iter(prepared(demo, Telling("researcher", ("md",)))))
    left = text_of(Document("researcher", "x", "t", "", "en", (section(again.document, "open"),)))
    assert waiting[0].words not in left
    assert "it was meant so" in text_of(again.document)


@pytest.mark.parametrize("reader", READERS)
def test_a_final_document_is_kept_and_a_later_one_says_where_it_differs(demo: OpenStudy, reader: Reader) -> None:
    telling = Telling(reader, ("md",), chairs=("A",) if reader == "maker" else ())
    before = next(iter(prepared(demo, telling))).document
    assert before.status == "Draft"
    finalize(demo, telling, "2026-11-30")
    final = next(iter(prepared(demo, telling))).document
    assert final.status.startswith("Final, 2026-11-30")
    assert content_hash(final)[:16] in final.status
    assert markdown_of(final).replace(final.status, "") == markdown_of(before).replace("**Draft**", "****")
    name = final.sections[-1].id
    put_evidence(demo, "paragraph", {"text": "One thing more.", "at": name, "reader": reader})
    later = next(iter(prepared(demo, telling))).document
    assert "2026-11-30" in later.status
    changed = text_of(Document("decider", "x", "t", "", "en", (section(later, "changed"),)))
    assert changed.splitlines() == ["Since the final one of 2026-11-30:", f"changed: {final.sections[-1].title}"]


def test_each_viewers_document_has_a_final_one_of_its_own(walks: tuple[OpenStudy, Told], tmp_path: Path) -> None:
    path = tmp_path / "walk.fresh"
    new_walk_demo(path)
    with closing(open_study(path)) as opened:
        numbers = [each.told.sitting for each in walks[1]["viewer"]][:2]
        assert len(set(numbers)) == 2
        telling = Telling("viewer", ("md",), sittings=tuple(numbers))
        finalize(opened, telling, "2026-11-30")
        assert all(each.document.status.startswith("Final, ") for each in prepared(opened, telling))


@pytest.mark.parametrize(("more", "pages", "together"), [("", 2, 0), ("D", 3, 0), ("DEF", 3, 15)])
def test_two_pages_hold_three_machines_and_three_hold_six(tmp_path: Path, more: str, pages: int, together: int) -> None:
    path = tmp_path / "several.fresh"
    new_demo(path)
    with closing(open_study(path)) as opened:
        study = opened.study
        further = [replace(study.chairs[0], letter=letter, name=f"Made-up {letter}") for letter in more]
        opened.amend(replace(study, chairs=(*study.chairs, *further)))
        telling = Telling("decider", ("pdf",))
        document = next(iter(prepared(opened, telling))).document
        answer = text_of(Document("decider", "x", "t", "", "en", (section(document, "answer"),)))
        assert answer.count("people at both") == together
        written = next(write_documents(opened, tmp_path / "out", telling))
    assert len(PdfReader(written.path).pages) == pages
