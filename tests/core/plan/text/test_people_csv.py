"""People from tables that other programs wrote."""

import csv
from io import StringIO

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fresh_chair.core.errors import InputError
from fresh_chair.core.plan.people import Consent, Participant, ScreenerQuestion
from fresh_chair.core.plan.sheet import Group, Sheet
from fresh_chair.core.plan.text.people_csv import (
    MOST_ROWS,
    guessed,
    identifies,
    mapped,
    people_in,
    people_rows,
    read_table,
    targets,
)
from fresh_chair.tell.tables import people_csv

SHEET = Sheet(
    screener=(ScreenerQuestion(id="daily", ask="What do you use?"),),
    consents=(Consent(id="part", words="to take part"),),
    groups=(Group(name="north", chairs=()),),
)
TABLE = "participant;E-mail;Comfort;mother tongue;daily\nP01;ada@example.org;3;Portuguese;a tablet\nP02;;;Finnish;\n"


@pytest.mark.parametrize(
    ("data", "encoding"),
    [
        ("code,language\nP01,Português\n".encode(), "utf-8"),
        ("\ufeffcode,language\nP01,Português\n".encode(), "utf-8"),
        ("code,language\nP01,Português\n".encode("cp1252"), "windows-1252"),
        ("code,language\nP01,Português\n".encode("utf-16"), "utf-16"),
        (b"code\tlanguage\r\nP01\tPortugu\xc3\xaas\r\n", "utf-8"),
        (b"code|language\nP01|Portugu\xc3\xaas\n", "utf-8"),
    ],
)
def test_a_table_is_read_whatever_its_encoding_and_separator(data: bytes, encoding: str) -> None:
    table = read_table(data, name="t.csv")
    assert table.header == ("code", "language")
    assert table.rows == (("P01", "Português"),)
    assert table.encoding == encoding
    assert any("Windows-1252" in remark for remark in table.remarks) == (encoding == "windows-1252")


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "no rows"),
        (b"code,language\n", "no rows"),
        (b"\x00\x01\x02code\n1\n", "binary"),
        (b"x" * 2_000_001, "too large"),
        (b"code\n" + b"P\n" * (MOST_ROWS + 1), "are the most"),
        (b"\xff\xfe\x00", "binary"),
    ],
)
def test_what_is_no_table_is_said_in_one_sentence(data: bytes, said: str) -> None:
    with pytest.raises(InputError, match=said):
        read_table(data, name="t.csv")


def test_columns_are_guessed_from_their_names_and_identifying_ones_are_left_out() -> None:
    table = read_table(TABLE.encode(), name="t.csv")
    mapping = guessed(table, SHEET)
    assert mapping == {0: "code", 2: "comfort", 3: "language", 4: "answers.daily"}
    found = people_in(table, mapping, SHEET, [])
    assert found.people == (
        Participant(code="P01", comfort=3, language="Portuguese", answers={"daily": "a tablet"}),
        Participant(code="P02", language="Finnish"),
    )
    assert any("E-mail" in remark for remark in found.remarks)


@pytest.mark.parametrize("title", ["Name", "first_name", "Family name", "E-Mail", "Phone", "Date of birth", "street"])
def test_columns_that_say_who_people_are_are_recognised(title: str) -> None:
    assert identifies(title)


@pytest.mark.parametrize("title", ["code", "comfort", "Linux before", "renamed files"])
def test_other_columns_are_not(title: str) -> None:
    assert not identifies(title)


def test_every_row_that_cannot_be_is_said_with_its_place_and_the_others_are_found() -> None:
    text = "code,comfort,group\nP01,3,north\nP 02,3,\nP03,9,\nP01,2,\nP05,2,south\nTAKEN,1,\n,1,\nP08,high,\n"
    table = read_table(text.encode(), name="t.csv")
    found = people_in(table, guessed(table, SHEET), SHEET, ["taken"])
    assert [person.code for person in found.people] == ["P01"]
    said = "\n".join(found.problems)
    for reason, row in (
        ("cannot be a participant's code", 3),
        ("out of range", 4),
        ("P01 is there already", 5),
        ("no group 'south'", 6),
        ("TAKEN is there already", 7),
        ("the code is missing", 8),
        ("a whole number", 9),
    ):
        assert any(reason in line and line.endswith(f"row {row}") for line in said.split("\n")), (reason, said)


def test_a_formula_is_kept_as_plain_text_and_said() -> None:
    table = read_table(b'code,profile\nP01,"=HYPERLINK(""x"")"\n', name="t.csv")
    found = people_in(table, guessed(table, SHEET), SHEET, [])
    assert found.people[0].profile == '=HYPERLINK("x")'
    assert any("formula" in remark for remark in found.remarks)
    header, rows = people_rows(found.people, SHEET)
    assert "'=HYPERLINK" in people_csv(header, rows)


def test_escape_sequences_in_a_cell_are_made_visible() -> None:
    table = read_table(b"code,profile\nP01,\x1b[31mred\n", name="t.csv")
    assert people_in(table, guessed(table, SHEET), SHEET, []).people[0].profile == "␛[31mred"


def test_without_a_code_nobody_is_found() -> None:
    table = read_table(b"name,comfort\nAda,3\n", name="t.csv")
    found = people_in(table, guessed(table, SHEET), SHEET, [])
    assert found.people == ()
    assert "no column is mapped to the code" in found.problems[0]


def test_columns_can_be_mapped_by_hand() -> None:
    table = read_table(b"who,comfort\nP01,3\n", name="t.csv")
    assert mapped(guessed(table, SHEET), ["who=code", "comfort="], table, SHEET) == {0: "code"}
    for wrong, said in (("nobody=code", "no column"), ("who=shoe size", "nothing a person has"), ("who", "no column")):
        with pytest.raises(InputError, match=said):
            mapped({}, [wrong], table, SHEET)


_cell = st.text(st.characters(codec="utf-8", exclude_categories=("Cs", "Cc", "Cf", "Cn", "Zl", "Zp")), max_size=20).map(
    str.strip
)


@given(
    st.lists(
        st.builds(
            Participant,
            code=st.from_regex(r"[A-Z][0-9]{1,3}", fullmatch=True),
            profile=_cell,
            uses=_cell.filter(lambda text: not text.startswith("'")),
            comfort=st.one_of(st.none(), st.integers(1, 5)),
            linux=st.sampled_from(["", "never", "tried it", "uses it"]),
            answers=st.dictionaries(st.just("daily"), _cell.filter(bool), max_size=1),
        ).filter(lambda person: not person.profile.startswith("'")),
        min_size=1,
        max_size=5,
        unique_by=lambda person: person.code.casefold(),
    )
)
@settings(deadline=None)
def test_what_is_written_is_read_back(people: list[Participant]) -> None:
    header, rows = people_rows(people, SHEET)
    table = read_table(people_csv(header, rows).encode(), name="t.csv")
    found = people_in(table, guessed(table, SHEET), SHEET, [])
    assert found.problems == ()
    assert list(found.people) == people


def test_the_erased_are_not_written_and_every_target_is_a_column() -> None:
    header, rows = people_rows([Participant(code="P01", erased="2026-11-09"), Participant(code="P02")], SHEET)
    assert [row[0] for row in rows] == ["P02"]
    assert set(targets(SHEET)) <= set(header)
    assert len(list(csv.reader(StringIO(people_csv(header, rows))))) == 2
