"""One line of text for every field, and back."""

from typing import get_type_hints

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.codec import fitted
from fresh_chair.core.errors import InputError
from fresh_chair.core.plan.chairs import Chair, Fault, Machine
from fresh_chair.core.plan.field_syntax import choices_of, line_of, meant
from fresh_chair.core.plan.people import Participant, ScreenerQuestion
from fresh_chair.core.plan.sheet import Sheet, Threshold

_words = (
    st.text(st.sampled_from("abc ;|,\\é“”:"), min_size=1, max_size=12)
    .map(str.strip)
    .filter(lambda text: text and not text.endswith("\\") and "\\" not in text)
)


@given(st.lists(st.builds(Fault, what=_words, excuses=st.one_of(st.just(""), _words)), max_size=4).map(tuple))
def test_things_with_parts_come_back_as_they_were(faults: tuple[Fault, ...]) -> None:
    hint = get_type_hints(Machine, include_extras=True)["faults"]
    assert fitted(Machine, "faults", meant(hint, line_of(faults), "faults")) == faults


@given(st.lists(_words, max_size=5).map(tuple))
def test_lists_of_words_come_back_as_they_were(words: tuple[str, ...]) -> None:
    hint = get_type_hints(Chair, include_extras=True)["labels"]
    assert tuple(meant(hint, line_of(words), "labels")) == words


@given(st.lists(_words, max_size=3).map(tuple))
def test_a_list_within_a_part_comes_back_too(accept: tuple[str, ...]) -> None:
    questions = (ScreenerQuestion(id="q", ask="why?", accept=accept),)
    hint = get_type_hints(Sheet, include_extras=True)["screener"]
    assert fitted(Sheet, "screener", meant(hint, line_of(questions), "screener")) == questions


def test_numbers_yes_and_no_and_words_of_a_list_are_understood() -> None:
    person, sheet = (get_type_hints(kind, include_extras=True) for kind in (Participant, Sheet))
    assert meant(person["comfort"], "3", "comfort") == 3
    assert meant(person["comfort"], "", "comfort") is None
    assert meant(person["linux"], "NEVER", "linux") == "never"
    assert meant(person["linux"], "tr", "linux") == "tried it"
    assert meant(get_type_hints(Machine)["virtual"], "y", "virtual") is True
    assert meant(get_type_hints(Threshold)["value"], "0,8", "value") == pytest.approx(0.8)
    assert fitted(Sheet, "thresholds", meant(sheet["thresholds"], "ease | 5 | because", "x"))[0].why == "because"


@pytest.mark.parametrize(
    ("kind", "field", "text", "said"),
    [
        (Participant, "comfort", "high", "a whole number"),
        (Participant, "comfort", "2.5", "a whole number"),
        (Participant, "linux", "maybe", "one of nothing, never"),
        (Machine, "virtual", "perhaps", "yes or no"),
        (Machine, "faults", "a | b | c", "3 parts, and 2 are known: what | excuses"),
        (Participant, "comfort", "\x1b[31m", "a whole number"),
    ],
)
def test_what_cannot_be_meant_is_said_in_one_harmless_sentence(kind: type, field: str, text: str, said: str) -> None:
    with pytest.raises(InputError) as caught:
        meant(get_type_hints(kind, include_extras=True)[field], text, field)
    assert said in caught.value.title
    assert "\x1b" not in str(caught.value)


def test_only_fields_of_certain_words_have_choices() -> None:
    hints = get_type_hints(Participant, include_extras=True)
    assert choices_of(hints["role"]) == ("participant", "pilot", "expert", "reviewer")
    assert choices_of(hints["profile"]) == ()
