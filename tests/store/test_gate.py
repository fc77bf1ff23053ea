"""Nothing is appended, anywhere, that the reader would refuse."""

import math
import sqlite3
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any, get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.chair import ledger as b
from fresh_chair.core.chair import records as r
from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.codec import Unreadable
from fresh_chair.core.errors import FreshChairError, InputError, NotSaved
from fresh_chair.core.findings.entries.judgements import (
    CausePut,
    ExcusePut,
    OccurrenceSaid,
    TrialPut,
    WorkaroundPut,
)
from fresh_chair.core.findings.ledger import CODEC, SortContent, SortEntry
from fresh_chair.core.findings.state.parts import Cause, Workaround
from fresh_chair.core.sitting import journal as j
from fresh_chair.services.chair import records
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.sitting import corrections as correcting
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.text import notes
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.store.gate import chair_row, entry_row, sort_row
from fresh_chair.store.tables.rows import Rows
from tests.builders import Script

NOW = Moment(5 * SECOND, "boot", 1_760_000_000 * SECOND)
KINDS = [kind for kind in get_args(j.Content) if kind is not Unreadable]
# Parts of a finding refuse at once what they cannot be; the gate sees such as are.
PARTS = (CausePut, TrialPut, WorkaroundPut, ExcusePut, OccurrenceSaid)
SORTING = [kind for kind in get_args(SortContent) if kind not in (Unreadable, *PARTS)]
BOOK = [kind for kind in get_args(b.ChairContent) if kind not in (Unreadable, b.RecordPut)]
# Whatever a caller may hand over: the notes on the fields are not looked at here, the gate does that.
_ANY = {
    str: st.text(st.characters(), max_size=2100) | st.text(max_size=30),
    float: st.floats() | st.integers(-(10**30), 10**30).map(float),
    int: st.integers(-(10**30), 10**30) | st.integers(0, 12),
}
_USUAL = {str: st.text(), float: st.floats(), int: st.integers()}


@pytest.fixture(autouse=True, scope="module")
def anything() -> Iterator[None]:
    """Fields of any word and number, here and nowhere else."""
    for kind, strategy in _ANY.items():
        st.register_type_strategy(kind, strategy)
    yield
    for kind, strategy in _USUAL.items():
        st.register_type_strategy(kind, strategy)


def _content(kinds: list[Any]) -> st.SearchStrategy[Any]:
    return st.sampled_from(kinds).flatmap(st.from_type)


def readable_or_refused(row: Callable[[], dict[str, Any]], read: Callable[[str], object], whole: object) -> None:
    """What passes the gate can be read back as it was; all else is refused."""
    try:
        found = row()
    except InputError:
        return
    assert read(found["body"]) == whole


@given(_content(KINDS))
def test_any_entry_of_a_sitting_is_readable_or_refused(content: Any) -> None:
    entry = j.Entry("id", 1, NOW, "moderator", content)
    readable_or_refused(
        lambda: entry_row(entry),
        lambda body: j.CODEC.content_from(body, version=j.ENTRY_VERSION, where="it"),
        content,
    )


@given(_content(SORTING))
def test_any_entry_of_sorting_is_readable_or_refused(content: Any) -> None:
    readable_or_refused(
        lambda: sort_row(SortEntry("sort-1", 1, NOW, "moderator", content)),
        lambda body: CODEC.content_from(body, version=CODEC.version, where="it"),
        content,
    )


@given(st.text(st.characters(), max_size=4100), st.text(st.characters(), max_size=2100))
def test_any_part_of_a_finding_is_readable_or_refused(words: str, reason: str) -> None:
    for content in (
        CausePut("f", Cause(id="c", words=words, reason=reason)),
        WorkaroundPut("f", Workaround(id="w", steps=words, takes=reason)),
    ):
        readable_or_refused(
            lambda content=content: sort_row(SortEntry("sort-1", 1, NOW, "moderator", content)),  # type: ignore[misc]
            lambda body: CODEC.content_from(body, version=CODEC.version, where="it"),
            content,
        )


@given(_content(BOOK))
def test_any_entry_about_a_chair_is_readable_or_refused(content: Any) -> None:
    readable_or_refused(
        lambda: chair_row(b.ChairEntry("chair-1", 1, NOW, "moderator", content, "A")),
        lambda body: b.CODEC.content_from(body, version=b.CODEC.version, where="it"),
        content,
    )


@pytest.mark.parametrize(
    "moment",
    [
        Moment(-1, "b", 1),
        Moment(2**63, "b", 1),
        Moment(1, "b" * 201, 1),
        Moment(1, "b", -1),
        Moment(1, "b", 10**19),
    ],
)
def test_a_moment_that_is_none_is_refused(moment: Moment) -> None:
    with pytest.raises(InputError):
        entry_row(j.Entry("id", 1, moment, "moderator", j.Helped()))


def logged(opened: OpenStudy) -> LiveSitting:
    live = LiveSitting(opened, opened.study.seat(1))
    live.begin(live.now())
    return live


@pytest.mark.parametrize("offset", [-5.0, 250_000.0, math.nan, 1e300, math.inf])
def test_a_recording_that_begins_nowhere_is_refused_and_the_study_opens_as_before(
    opened: OpenStudy, offset: float
) -> None:
    file = opened.beside.with_name("notes.txt")
    file.write_text("0:00 sat down\n")
    with pytest.raises(FreshChairError):
        notes.take_lines(opened, 1, file, recording="x.webm", offset_seconds=offset)
    opened.close()
    again = open_study(opened.beside)
    assert not again.entries.get(1)
    again.close()


def test_words_longer_than_the_reader_takes_are_refused_whole(opened: OpenStudy) -> None:
    live = logged(opened)
    with pytest.raises(InputError, match="cannot be kept"):
        correcting.add_late(live, "snag", "0:00", "x" * 2001, "late")
    assert len(live.entries) == len(opened.journals.all()[1]) == 2


@pytest.mark.parametrize("text", ["inf", "nan", "-inf", "1e400"])
def test_a_benchmark_is_a_finite_number(opened: OpenStudy, text: str) -> None:
    with pytest.raises(InputError):
        set_field(opened, "card.card-1.benchmark_seconds.A", text)
    assert opened.study.card_by_id["card-1"].benchmark_seconds["A"] == 10


@pytest.mark.parametrize("seed", ["9" * 23, "-" + "9" * 23, "1e300"])
def test_a_seed_is_a_number_that_the_file_can_keep(opened: OpenStudy, seed: str) -> None:
    with pytest.raises(InputError):
        set_field(opened, "study.seed", seed)


def test_a_reading_is_a_finite_number(opened: OpenStudy) -> None:
    with pytest.raises(InputError):
        records.put_record(opened, "A", "reading", what="memory", low=math.nan)
    with pytest.raises(InputError):
        opened.note("A", b.RecordPut(r.Reading(id="x", what="memory", low=math.inf)))
    assert records.records_of(opened, "A", "reading") == []


def test_an_extra_field_is_refused() -> None:
    with pytest.raises(FreshChairError, match="a field too many"):
        j.CODEC.content_from('{"kind": "helped", "extra": 1}', version=1, where="it")


def test_an_entry_that_stands_for_an_unreadable_one_is_never_appended(opened: OpenStudy) -> None:
    live = logged(opened)
    entry = j.Entry("x", 3, live.now(), "moderator", Unreadable("helped", "because"))
    with pytest.raises(InputError):
        opened.journals.append(1, [entry])


@pytest.mark.parametrize(
    ("column", "value"),
    [
        ("ticks_ns", "text"),
        ("ticks_ns", math.inf),
        ("wall_ns", "[[["),
        ("wall_ns", -1),
        ("wall_ns", 9_220_000_000_000_000_000),
        ("body", 5),
        ("body", "[" * 200_000),
        ("body", '{"kind":[]}'),
        ("body", '{"kind":"outcome_judged","outcome":[]}'),
        ("body", '{"kind":"snag","words":"\\ud800"}'),
        ("body", b"\xff\xfe"),
        ("version", 99),
        ("author", 7),
    ],
)
def test_whatever_stands_in_a_row_the_file_opens(demo_path: Any, column: str, value: object) -> None:
    from tests.damage import damaged, of_sitting

    damaged(
        demo_path,
        f"UPDATE entry SET {column} = ? WHERE {of_sitting(3)} AND number = 6",
        values=(value,),
    )
    opened = open_study(demo_path)
    entry = opened.entries[3][5]
    left_out = opened.sittings[3].left_out
    opened.close()
    if isinstance(entry.content, Unreadable):
        assert entry.id in left_out
    else:
        # SQLite keeps a number that stands for a text as that text.
        assert (column, value) == ("author", 7)


def test_text_that_no_file_can_hold_is_refused(opened: OpenStudy) -> None:
    live = logged(opened)
    entry = j.Entry("x", 3, live.now(), "a\ud800", j.Helped())
    with pytest.raises(InputError):
        opened.journals.append(1, [entry])
    assert opened.journals.all()[1][-1].number == 2


def test_a_journal_made_by_script_passes_the_gate_as_it_is() -> None:
    script = Script()
    script.at(1, j.SittingBegan())
    assert entry_row(replace(script.entries[0], id="other"))["kind"] == "sitting_began"


def test_rows_reach_sqlite_as_they_are(opened: OpenStudy) -> None:
    logged(opened)
    with sqlite3.connect(opened.beside) as rows:
        kinds = {row[0] for row in rows.execute("SELECT DISTINCT typeof(ticks_ns) FROM entry")}
    rows.close()
    assert kinds == {"integer"}


def test_what_was_committed_into_a_file_that_was_moved_meanwhile_is_not_called_saved(
    small_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    opened = open_study(small_path)
    opened.warm_up()
    written = Rows.put

    def put_and_move(rows: Rows, table: str, values: Any, **more: Any) -> None:
        written(rows, table, values, **more)
        if table == "entry":
            small_path.rename(small_path.with_name("elsewhere.fresh"))

    monkeypatch.setattr(Rows, "put", put_and_move)
    seat = opened.study.seats[0]
    with pytest.raises(NotSaved, match="no longer where it was"):
        opened.journals.append(seat.number, [j.Entry("e1", 1, NOW, "moderator", j.SittingBegan())])
    opened.close()
