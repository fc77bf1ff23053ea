"""A record is put down whole or not at all, and says when it was so."""

import pytest

from fresh_chair.core.chair.ledger import RecordPut, install_times
from fresh_chair.core.chair.records import Reading
from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import InputError
from fresh_chair.services.chair import records
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.study.open_study import OpenStudy
from tests.builders import FakeClock


@pytest.mark.parametrize(
    ("kind", "fields", "said"),
    [
        ("claim", {"promised": "half", "nosuch": "1"}, "a claim has no nosuch"),
        ("reading", {"what": "m", "value": "1 MB", "minutes_up": "abc"}, "@ minutes_up"),
        ("reading", {"what": "m", "value": "1,024 MB"}, "can be 1024 MB or 1.0240 MB"),
        ("reading", {"what": "m", "value": "1 MB", "trust": "doubted"}, "a doubt needs a reason"),
        ("reading", {"value": "1 MB"}, "say what was measured"),
        ("reading", {"what": "", "value": "1 MB"}, "say what was measured"),
        ("reading", {"what": "m"}, "value='412 MiB'"),
        ("install", {"step": "question", "at": "never"}, "2:31 of the recording"),
    ],
)
def test_a_record_with_one_wrong_field_is_not_kept_at_all(
    opened: OpenStudy, kind: str, fields: dict[str, str], said: str
) -> None:
    with pytest.raises(InputError) as raised:
        records.put_fields(opened, "A", kind, fields)
    assert said in str(raised.value)
    assert records.records_of(opened, "A", kind) == []


def test_all_that_is_wrong_is_said_at_once(opened: OpenStudy) -> None:
    with pytest.raises(InputError) as raised:
        records.put_fields(opened, "A", "reading", {"value": "x", "minutes_up": "y", "nosuch": "z"})
    for part in ("@ value", "@ minutes_up", "@ nosuch", "say what was measured"):
        assert part in str(raised.value)


def test_a_change_of_several_fields_is_one_entry(opened: OpenStudy) -> None:
    record = records.put_fields(opened, "A", "reading", {"what": "m", "value": "1 MB"})
    before = len(opened.known_chairs.entries())
    fields = {"value": "40 to 55 s", "trust": "doubted", "why": "the hand"}
    changed = records.put_fields(opened, "A", "reading", fields, record_id=record.id)
    assert isinstance(changed, Reading)
    assert (changed.low, changed.high, changed.why, changed.typed) == (40, 55, "the hand", "40 to 55 s")
    assert len(opened.known_chairs.entries()) == before + 1


def test_the_same_default_is_recorded_once_a_chair(opened: OpenStudy) -> None:
    first = records.put_fields(opened, "A", "consent", {"item": "location", "switch": "on"})
    records.put_fields(opened, "B", "consent", {"item": "location", "switch": "off"})
    with pytest.raises(InputError, match="on record at chair A already"):
        records.put_fields(opened, "A", "consent", {"item": "Location", "switch": "off"})
    records.put_fields(opened, "A", "consent", {"switch": "off"}, record_id=first.id)
    assert [h.record.switch for h in records.records_of(opened, "A", "consent")] == ["off"]  # type: ignore[union-attr]


def test_an_installation_typed_afterwards_takes_as_long_as_it_took(opened: OpenStudy, clock: FakeClock) -> None:
    for at, step in (("2026-11-02T10:00", "step"), ("2026-11-02T10:40", "question"), ("not known", "note")):
        records.put_fields(opened, "A", "install", {"step": step, "words": "x", "at": at})
        clock.pass_seconds(5)
    held = records.records_of(opened, "A", "install")
    assert list(install_times(held).values()) == [0, 2400 * SECOND, None]


def test_readings_that_an_earlier_version_read_in_part_are_listed_with_how_they_are_put_right(
    opened: OpenStudy,
) -> None:
    opened.note("A", RecordPut(Reading(id="old", what="copying", low=2.0, unit="min 30 s")))
    opened.note("A", RecordPut(Reading(id="fine", what="copying", low=2.0, unit="min")))
    path = opened.beside
    problems = [problem for check in check_file(path) for problem in check.problems]
    assert problems == [
        "chair A, reading old of copying: typed as “2 min 30 s”: only its beginning was read; "
        "put it right with: records set STUDY A reading old value='2 min 30 s'"
    ]
    records.put_fields(opened, "A", "reading", {"value": "2 min 30 s"}, record_id="old")
    assert not [problem for check in check_file(path) for problem in check.problems]
