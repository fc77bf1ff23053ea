"""Sentences in another language are data: a made-up language reaches every sentence of figures and documents."""

import re
from contextlib import closing
from io import BytesIO
from pathlib import Path

import pytest
from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po
from pypdf import PdfReader
from tools.collect_messages import TEMPLATE, collected

from fresh_chair.core.errors import InputError
from fresh_chair.core.plan.aims import AIMS
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.core.words.figures import figure_words
from fresh_chair.core.words.planning.sample_sizes import (
    advice_sentence,
    aim_sentence,
    assumption_sentences,
    power_sentences,
)
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.file.new_study import new_demo
from fresh_chair.services.file.new_walk import new_walk_demo
from fresh_chair.services.report.outputs import write_export
from fresh_chair.services.report.printing import PARTS, print_plan
from fresh_chair.services.report.reports import READERS, Telling, prepared, write_report
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.services.system.language import words_in
from fresh_chair.tell.document.model import Run
from tests.cli.forked import run as fresh_chair


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """Catalogues with one made-up language, which says everything in brackets."""
    catalogue = Catalog(locale="de")
    with TEMPLATE.open("rb") as file:
        template = read_po(file)
    for message in template:
        if isinstance(message.id, tuple):
            catalogue.add(message.id, tuple(f"«{each}»" for each in message.id))
        elif message.id:
            catalogue.add(message.id, f"«{message.id}»")
    where = tmp_path / "catalogues" / "de" / "LC_MESSAGES"
    where.mkdir(parents=True)
    with (where / "fresh_chair.mo").open("wb") as file:
        write_mo(file, catalogue)
    return tmp_path / "catalogues"


def outside(text: str) -> str:
    """Everything that stands in no brackets, however deep these are."""
    depth, found = 0, []
    for letter in text:
        depth += (letter == "«") - (letter == "»")
        if not depth and letter != "»":
            found.append(letter)
    return "".join(found)


def test_the_template_holds_every_sentence_there_is() -> None:
    written = BytesIO()
    write_po(written, collected(), sort_by_file=True, omit_header=True, width=120, include_lineno=False)
    assert TEMPLATE.read_bytes() == written.getvalue(), "python -m tools.collect_messages writes it anew"


def test_every_sentence_about_figures_is_said_in_the_language(demo: OpenStudy, folder: Path) -> None:
    words = words_in("de", folder)
    said = figure_words(weigh(demo), words)
    whole = [*(each for listed in said.said.values() for each in listed), said.positions, said.brief, *said.conditions]
    assert len(whole) > 12
    for sentence in whole:
        assert sentence.startswith("«"), sentence
        # What is left without the brackets are signs between sentences, and nothing that a reader would read.
        assert outside(sentence).strip(" .") == "", sentence


def test_no_sentence_of_a_report_stands_there_in_english(demo: OpenStudy, folder: Path, tmp_path: Path) -> None:
    list(write_report(demo, tmp_path / "out", words=words_in("de", folder)))
    text = (tmp_path / "out" / "report.html").read_text(encoding="utf-8")
    with TEMPLATE.open("rb") as file:
        plain = [m.id for m in read_po(file) if isinstance(m.id, str) and len(m.id.split()) > 3 and "%(" not in m.id]
    plain = [message.replace("%%", "%") for message in plain if "{" not in message]
    assert "«" in text
    assert [message for message in plain if message in outside(text)] == []
    assert '<html lang="de">' in text


def test_no_sentence_of_a_printed_sheet_stands_there_in_english(demo: OpenStudy, folder: Path, tmp_path: Path) -> None:
    print_plan(demo, tmp_path / "p.pdf", list(PARTS), words=words_in("de", folder))
    text = " ".join(" ".join(page.extract_text() for page in PdfReader(tmp_path / "p.pdf").pages).split())
    with TEMPLATE.open("rb") as file:
        printed = [m.id for m in read_po(file) if isinstance(m.id, str) and "tell/paper" in str(m.locations)]
    own = {consent.words for consent in demo.study.sheet.consents}
    long = [each for each in printed if len(each.split()) > 2 and "{" not in each and each not in own]
    assert len(long) > 5
    assert [message for message in long if message in text and f"«{message}»" not in text] == []
    for said in ("«I agree»", "«After each card»", "«On the bench»", "«limit", "«Who pays for it"):
        assert said in text


def test_sentences_about_numbers_of_people_are_said_in_the_language(folder: Path) -> None:
    words, (see, _) = words_in("de", folder), AIMS
    assumed = (*assumption_sentences(0.8, 115, 0.4, 54, words), *assumption_sentences(0.85, 0, 0.5, 0, words))
    said = [*power_sentences(8, see, words), aim_sentence(see, 8, 12, words), advice_sentence(words), *assumed]
    assert all(sentence.startswith("«") and sentence.endswith("»") for sentence in said)
    assert "12" in said[2]
    assert "115" in said[4]


def test_english_needs_no_catalogue_and_a_language_that_is_not_there_is_one_sentence(folder: Path) -> None:
    assert words_in("en") is words_in("") is ENGLISH
    with pytest.raises(InputError, match="no sentences in tlh"):
        words_in("tlh", folder)
    (folder / "de" / "LC_MESSAGES" / "fresh_chair.mo").write_bytes(b"no catalogue")
    with pytest.raises(InputError, match="cannot be read"):
        words_in("de", folder)


def test_a_translation_that_cannot_take_the_values_is_said_in_english(tmp_path: Path) -> None:
    catalogue = Catalog(locale="de")
    catalogue.add("Completion: better at {chair}.", "Geschafft: besser bei {stuhl}.")
    catalogue.add("Time: better at {chair}.", "Zeit: besser bei {chair")
    catalogue.add("Findings", "Befunde, 100 %")
    catalogue.add("no test possible", "kein Test")
    where = tmp_path / "de" / "LC_MESSAGES"
    where.mkdir(parents=True)
    with (where / "fresh_chair.mo").open("wb") as file:
        write_mo(file, catalogue)
    words = words_in("de", tmp_path)
    assert words.say("Completion: better at {chair}.", chair="A") == "Completion: better at A."
    assert words.say("Time: better at {chair}.", chair="A") == "Time: better at A."
    assert words.gettext("Findings") == "Findings"
    assert words.say("no test possible") == "kein Test"


@pytest.mark.parametrize("code", ["../../etc", "de/../de", "x" * 300, "d\x1be"])
def test_a_code_that_is_none_reads_no_file(folder: Path, code: str) -> None:
    with pytest.raises(InputError, match="no sentences"):
        words_in(code, folder / "de")


def test_a_catalogue_of_ones_own_lies_in_the_data_folder(
    folder: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    own = tmp_path / "data" / "fresh-chair"
    own.mkdir(parents=True)
    folder.rename(own / "locale")
    assert words_in("de").say("no test possible") == "«no test possible»"


def test_the_command_takes_a_language(demo_path: Path, tmp_path: Path) -> None:
    ended = fresh_chair("report", demo_path, "--to", tmp_path / "out", "--language", "xx")
    assert ended.returncode == 1
    assert "no sentences in xx" in ended.stderr
    assert not (tmp_path / "out").exists()
    assert fresh_chair("report", demo_path, "--to", tmp_path / "out", "--language", "en").returncode == 0


def test_a_number_decides_which_sentence_is_said() -> None:
    words = Words()
    assert [words.count("{count} person", "{count} people", n) for n in (1, 2)] == ["1 person", "2 people"]
    assert words.listed(["A"]) == "A"


def test_german_is_complete_and_takes_the_same_values() -> None:
    with TEMPLATE.open("rb") as file:
        template = read_po(file)
    german = words_in("de")
    alike = {"Distribution", "Kernel", "System Usability Scale", "Desktop", "Clopper-Pearson"}
    for message in template:
        for text in message.id if isinstance(message.id, tuple) else (str(message.id),):
            if not text:
                continue
            said = german.gettext(text)
            if isinstance(message.id, tuple):
                one, many = str(message.id[0]), str(message.id[1])
                said = german.ngettext(one, many, 1 if text == one else 2)
            plain = re.sub(r"\{\w+\}", "", text)
            if len(re.findall(r"[A-Za-z]{2,}", plain)) > 1:
                assert said != text or said in alike, text
            names = sorted(re.findall(r"\{(\w+)\}", text))
            assert sorted(re.findall(r"\{(\w+)\}", said)) == names, text
            # What is put before or behind it decides about the spaces at its ends.
            assert (said[:1] == " ", said[-1:] == " ") == (text[:1] == " ", text[-1:] == " "), text


def test_numbers_and_days_are_written_as_the_language_writes_them() -> None:
    german = words_in("de")
    assert german.number(1.25, ".2f") == "1,25"
    assert german.interval(0.5, 2.5, ".1f") == "0,5 bis 2,5"
    assert german.day("2026-11-27") == "27. November 2026"
    assert ENGLISH.interval(0.5, None, ".1f") == "0.5 to open"


@pytest.fixture(scope="module")
def shouting() -> Words:
    """A language in which every letter of a message is another one, so that what is no message is seen."""
    with TEMPLATE.open("rb") as file:
        known = {str(each) for m in read_po(file) for each in (m.id if isinstance(m.id, tuple) else (m.id,))}

    def say(message: str) -> str:
        if message not in known:
            return message
        pieces = re.split(r"(\{\w+\})", message)
        return "".join(piece if at % 2 else re.sub("[A-Za-z]", "ß", piece) for at, piece in enumerate(pieces))

    return Words(say, lambda one, many, count: say(one if count == 1 else many), "xx")


@pytest.mark.parametrize("walk", [False, True], ids=["newcomers", "walks"])
def test_no_document_has_a_word_that_is_neither_a_message_nor_the_studys_own(
    tmp_path: Path, shouting: Words, *, walk: bool
) -> None:
    (new_walk_demo if walk else new_demo)(tmp_path / "s.fresh")
    with closing(open_study(tmp_path / "s.fresh", write=False)) as opened:
        list(write_export(opened, tmp_path / "data", with_people=True, with_attachments=tmp_path / "s.fresh"))
        data = (tmp_path / "data" / "study.json").read_text(encoding="utf-8").replace("\\", "")
        strange = set()
        for reader in (*READERS, None):
            for each in prepared(opened, Telling(reader, ("md",)), words=shouting):
                titles = [(Run(section.title),) for _, section in each.document.walk()]
                about = (Run(each.document.subtitle), Run(each.document.status), Run(each.document.sample))
                for text in (*each.document.texts(), *titles, about, each.document.footer):
                    strange |= {word for run in text for word in re.findall(r"[A-Za-z]{4,}", run.text)}
        own = set(re.findall(r"[A-Za-z]{4,}", data))
        # The program's name, and names of open standards, are the same everywhere.
        assert strange - own <= {"Fresh", "Chair", "WebVTT"}, sorted(strange - own)
