"""Evidence records as text: read back as they were written, and every wrong line named."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.errors import InputError
from fresh_chair.core.evidence import records as r
from fresh_chair.core.evidence.text import read_records_text, records_text
from fresh_chair.services.evidence.records import record_of_texts
from tests.core.evidence.test_ledger import RECORDS


def read_back(text: str) -> list[r.EvidenceRecord]:
    return [
        record_of_texts(each.kind, each.texts, None, record_id=each.id) for each in read_records_text(text, name="it")
    ]


def test_every_kind_of_record_is_read_back_as_it_was_written() -> None:
    assert read_back(records_text(RECORDS)) == RECORDS


# Words have no line that ends or begins with a space; typed fields are stripped too.
LINES = st.lists(st.text(st.characters(min_codepoint=32, exclude_categories=("C", "Z")), max_size=30), max_size=4)


@given(LINES)
def test_words_of_several_lines_are_read_back(lines: list[str]) -> None:
    words = "\n".join(lines).strip()
    record = r.Advice(id="a", what="say so", answer=words)
    assert read_back(records_text([record])) == [record]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("dream a\n", "dream is no kind of record"),
        ("advice\n", "followed by its id"),
        ("advice a b\n", "followed by its id"),
        (f"advice {'x' * 41}\n", "followed by its id"),
        ("advice a\n  what: x\nadvice a\n", "there is an advice a above @ line 3"),
        ("  what: x\n", "a record is its kind and id, then fields"),
        ("advice a\n  what\n", "a name, a colon and a text @ line 2"),
        ("advice a\n  colour: blue\n", "has no colour"),
        ("advice a\n    | goes on\n", "there is none @ line 2"),
        ("advice a\n  what: x\n  what: y\n", "there twice @ line 3"),
    ],
)
def test_a_wrong_line_is_named(text: str, said: str) -> None:
    with pytest.raises(InputError) as problem:
        read_records_text(text, name="notes.txt")
    assert said in problem.value.title
    assert problem.value.title.startswith("notes.txt cannot be read")


def test_every_wrong_line_is_named_at_once_and_notes_are_passed_over() -> None:
    with pytest.raises(InputError) as problem:
        read_records_text("# a note\n\ndream a\nadvice b\n  colour: blue\n", name="it")
    assert "@ line 3" in problem.value.title
    assert "@ line 5" in problem.value.title
    assert read_records_text("# a note\r\n\r\n", name="it") == []
