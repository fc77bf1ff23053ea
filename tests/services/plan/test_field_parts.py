"""Fields that hold several things, changed a part at a time."""

import pytest

from fresh_chair.core.errors import InputError
from fresh_chair.core.plan.sheet import Threshold
from fresh_chair.services.plan import field_parts as parts
from fresh_chair.services.study.open_study import OpenStudy


def test_a_thing_is_added_changed_part_by_part_and_taken_out(opened: OpenStudy) -> None:
    parts.add_part(opened, "sheet.consents", "to take part; all of it | or none")
    parts.add_part(opened, "sheet.consents", "to being asked again")
    first, second = opened.study.sheet.consents
    assert first.words == "to take part; all of it | or none", "signs that part the text of a field are kept as words"
    assert first.id != second.id
    parts.set_part(opened, "sheet.consents", "1.needed", "no")
    assert [each.needed for each in opened.study.sheet.consents] == [True, False]
    lines = parts.part_lines(opened.study, "sheet.consents")
    assert [line.path for line in lines] == [f"{n}.{part}" for n in (0, 1) for part in ("id", "words", "needed")]
    parts.remove_part(opened, "sheet.consents", "0.words")
    assert opened.study.sheet.consents[0].words == "to being asked again"


@pytest.mark.parametrize(("typed", "value"), [("80 %", 0.8), ("80%", 0.8), ("0.75", 0.75)])
def test_a_share_is_understood_as_it_is_said(opened: OpenStudy, typed: str, value: float) -> None:
    parts.add_part(opened, "sheet.thresholds", "so that eight of ten manage")
    parts.set_part(opened, "sheet.thresholds", "0.value", typed)
    assert opened.study.sheet.thresholds == (
        Threshold(measure="completion", value=value, why="so that eight of ten manage"),
    )


@pytest.mark.parametrize(
    ("place", "line", "text"),
    [
        ("sheet.thresholds", "0.measure", "happiness"),
        ("sheet.thresholds", "0.value", "much"),
        ("sheet.paid_by", "0.x", "y"),
    ],
)
def test_what_cannot_be_is_refused_and_nothing_is_changed(opened: OpenStudy, place: str, line: str, text: str) -> None:
    parts.add_part(opened, "sheet.thresholds", "why not")
    before = opened.study
    with pytest.raises(InputError):
        parts.set_part(opened, place, line, text)
    assert opened.study == before


def test_every_part_of_every_list_of_the_demo_says_what_belongs_into_it(demo: OpenStudy) -> None:
    for place in ("sheet.audiences", "sheet.thresholds", "sheet.screener", "sheet.consents"):
        assert parts.is_listed(demo.study, place)
        assert parts.part_lines(demo.study, place)
    assert not parts.is_listed(demo.study, "study.title")
    assert not parts.is_listed(demo.study, "sheet.paid_by")
