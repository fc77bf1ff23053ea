"""Edges of small functions: the first value on either side of each."""

from dataclasses import dataclass, replace
from datetime import UTC, datetime

import pytest

from fresh_chair.core.chair.answers import Answer, text_of, why_not
from fresh_chair.core.chair.check_answers import names_of
from fresh_chair.core.chair.drift import StateDifference
from fresh_chair.core.chair.drift_words import told
from fresh_chair.core.chair.reading_values import was_misread
from fresh_chair.core.chair.record_time import NOT_KNOWN, when_of
from fresh_chair.core.chair.records import Reading, reading_text
from fresh_chair.core.checks.meaning import Ask, Found, found_text, matches
from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.codec import Unreadable
from fresh_chair.core.errors import InputError
from fresh_chair.core.figures.cell import cell_figures
from fresh_chair.core.figures.completion import adjusted_wald
from fresh_chair.core.figures.duration import card_times
from fresh_chair.core.figures.sample_size import MOST_PEOPLE, half_width, people_for_half_width
from fresh_chair.core.figures.single.comparison import compare_all
from fresh_chair.core.figures.times import paired_ratio
from fresh_chair.core.plan.chairs import Machine
from fresh_chair.core.plan.field_syntax import meant
from fresh_chair.core.plan.orders import position_counts
from fresh_chair.core.plan.sheet import Sheet
from fresh_chair.core.plan.study import Study
from fresh_chair.core.plan.text.people_csv import people_in, read_table
from fresh_chair.core.plan.text.toml import checked
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.replay import replay
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.text import harmless
from fresh_chair.core.words.comparisons import comparison_sentences, unlike_conditions
from tests.builders import Script, fact, small_study


def test_a_moments_wall_time_is_its_own() -> None:
    assert Moment(0, "", 1_760_000_000 * SECOND).wall == datetime.fromtimestamp(1_760_000_000, UTC)


def test_letters_that_join_others_stay_and_those_that_turn_a_line_do_not() -> None:
    assert harmless("a\u200cb") == "a\u200cb"
    assert harmless("a\u202eb") != "a\u202eb"


def test_when_something_was_is_read_to_the_second() -> None:
    assert when_of("1:02:31", 5).ns == (3600 + 2 * 60 + 31) * SECOND
    assert (
        when_of("2026-11-09T10:00:00+00:00", 5).ns == round(datetime(2026, 11, 9, 10, tzinfo=UTC).timestamp()) * SECOND
    )
    assert when_of("not known", 5).clock == NOT_KNOWN
    assert when_of("", 5).ns == 5


def test_an_earlier_reading_with_parted_thousands_is_pointed_at_and_others_are_not() -> None:
    assert was_misread(1.024, "MB") is not None
    assert was_misread(1.0, "MB") is None
    assert was_misread(0.512, "MB") is None
    assert was_misread(1.024, "s") is None


def test_a_share_is_said_as_one_and_a_bound_as_one() -> None:
    assert reading_text(Reading(id="a", what="w", precision="share", low=3, of=5)) == "3 of 5"
    assert reading_text(Reading(id="a", what="w", precision="at least", low=3, unit="s")) == "at least 3 s"


def test_a_program_that_is_gone_is_told_by_the_name_it_had() -> None:
    gone = told([StateDifference("programs", "quill.desktop", "Quill", None)])
    assert gone[0].words == "one program was removed: Quill"
    added = told([StateDifference("programs", "quill.desktop", None, "Quill")])
    assert added[0].words == "one program was added: Quill"


def test_an_answer_in_words_is_itself_empty_or_nothing() -> None:
    assert (found_text(Found("6.1")), found_text(Found("")), found_text(Found(None))) == (
        "6.1",
        "empty",
        "nothing there",
    )


@pytest.mark.parametrize(
    ("pattern", "text", "like"),
    [
        ("a*b*c", "a-b-c", True),
        ("a*b*c", "a-c", False),
        ("a*bb*b*c", "abbc", False),
        ("a*bb*b*c", "abbbc", True),
        ("aa*aa", "aaa", False),
        ("a*x*x*", "axx", True),
        ("a*x*x*", "ax", False),
    ],
)
def test_a_pattern_takes_each_of_its_parts_once(pattern: str, text: str, like: bool) -> None:
    assert matches(pattern, text) is like


def test_a_question_that_was_not_asked_or_read_has_no_text() -> None:
    answers = {"a": Answer("a", "text", ""), "b": Answer("b", "half", "broke off")}
    assert [text_of(answers, name) for name in "abc"] == ["text", "", ""]
    assert [why_not(answers, name) for name in "abc"] == ["", "broke off", "was not asked"]


def test_what_a_check_asks_about_has_the_name_it_has_in_a_state() -> None:
    assert names_of(Ask("setting", ("ini", "~/.config/tide/tide.conf", "Looks", "dark"))) == [
        "settings:ini tide/tide.conf [Looks] dark"
    ]
    assert names_of(Ask("file", ("~/letter.odt",))) == ["home:letter.odt"]
    assert names_of(Ask("user", ("mara",))) == ["users:mara"]
    assert all(name.endswith(" quill") for name in names_of(Ask("package", ("quill",))))


def test_a_share_of_nobody_is_none_and_counts_nobody() -> None:
    nothing = adjusted_wald(0, 0)
    assert (nothing.value, nothing.n, nothing.x) == (None, 0, 0)


def test_two_times_have_a_test_and_one_has_none() -> None:
    assert paired_ratio([(10.0, 20.0)])[1] is None
    ratio, p = paired_ratio([(10.0, 20.0), (10.0, 40.0)])
    assert ratio.n == 2
    assert p is not None
    assert 0 < p < 1


def test_a_half_width_is_reached_by_the_first_number_that_does() -> None:
    people = people_for_half_width(0.2)
    assert half_width(people) <= 0.2 < half_width(people - 1)
    assert people_for_half_width(half_width(MOST_PEOPLE)) <= MOST_PEOPLE
    with pytest.raises(ValueError, match=str(MOST_PEOPLE)):
        people_for_half_width(half_width(MOST_PEOPLE) * 0.99)


def test_every_ease_from_1_to_7_is_counted() -> None:
    facts = [fact("P01", "A", ease=7), fact("P02", "A", ease=1)]
    figures = cell_figures("card-1", "A", facts)
    assert figures.ease_counts == (1, 0, 0, 0, 0, 0, 1)


def with_machines(*machines: Machine, second: str) -> Study:
    study = small_study(chairs=2)
    return replace(study, machines=machines, chairs=(study.chairs[0], replace(study.chairs[1], machine=second)))


def test_a_virtual_machine_is_a_difference_where_not_all_are_one() -> None:
    real, virtual = (
        Machine(id="real", name="a laptop", virtual=False),
        Machine(id="one-laptop", name="a guest", virtual=True),
    )
    both = [
        line for line in unlike_conditions(with_machines(virtual, real, second="real")) if "virtual machine" in line
    ]
    assert len(both) == 1
    assert not any(
        "virtual machine" in line for line in unlike_conditions(with_machines(virtual, real, second="one-laptop"))
    )


@dataclass(frozen=True)
class Pair:
    """Two things, the second of which may be left out."""

    one: str
    two: str = "left out"


def test_a_part_that_may_be_left_out_is_and_one_that_may_not_is_asked_for() -> None:
    assert meant(tuple[Pair, ...], "a | b; c", "pairs") == [{"one": "a", "two": "b"}, {"one": "c"}]
    with pytest.raises(InputError):
        checked(int, "x", name="it", kept="")


def test_of_very_many_reasons_the_first_are_said_and_the_rest_counted() -> None:
    with pytest.raises(InputError) as problem:
        checked(list[int], ["x"] * 200, name="it", kept="")
    lines = problem.value.title.split("\n")[1:]
    assert lines[-1] == f"  and {200 - (len(lines) - 1)} more"
    with pytest.raises(InputError) as few:
        checked(list[int], ["x"] * (len(lines) - 1), name="it", kept="")
    assert "more" not in few.value.title.split("\n")[-1]


def test_without_anybody_at_two_chairs_each_measure_says_so_of_itself() -> None:
    study = small_study()
    completion, time = (sentence for sentence in comparison_sentences(study, compare_all(study, [])["card-1"])[:2])
    assert completion == "Completion: nobody has tried it at two chairs yet, so nothing can be compared."
    assert time == "Time: nobody has completed it at two chairs yet, so no times can be compared."


def test_efficiency_needs_both_times() -> None:
    facts = [fact("P01", "A", 20.0), fact("P02", "A", 20.0), fact("P03", "A", 20.0)]
    assert cell_figures("card-1", "A", facts).efficiency is None
    with_expert = cell_figures("card-1", "A", facts, benchmark_seconds=10.0)
    assert with_expert.efficiency == pytest.approx(2.0)


def test_a_table_of_people_counts_each_cell_that_a_spreadsheet_may_work_out() -> None:
    table = read_table(b"code,uses\nP01,=1+1\nP02,-\nP03,'=2\n", name="t.csv")
    found = people_in(table, {0: "code", 1: "uses"}, Sheet(), [])
    assert any("1 cell" in remark for remark in found.remarks)
    with pytest.raises(InputError, match="no rows"):
        read_table(b"code,uses\n", name="t.csv")


def test_a_comparison_of_completion_says_the_points_it_found() -> None:
    study = small_study(people=8)
    facts = [
        fact(f"P{n:02}", chair, outcome=Outcome.GAVE_UP if chair == "B" and n > 2 else Outcome.UNAIDED)
        for n in range(1, 9)
        for chair in "AB"
    ]
    said = comparison_sentences(study, compare_all(study, facts)["card-1"])[0]
    # All eight at A and two of eight at B: 75 points.
    assert "+75 points" in said or "-75 points" in said
    assert "(+0 to +0" not in said


def test_how_often_each_name_stands_where_is_counted_from_nothing() -> None:
    assert position_counts([("a", "b"), ("a", "c")], ["a", "b", "c", "d"]) == {
        "a": [2, 0], "b": [0, 1], "c": [0, 1], "d": [0, 0],
    }  # fmt: skip


def test_an_answer_of_the_scale_that_cannot_be_read_stands_for_the_first_that_is_missing() -> None:
    script = Script()
    script.at(0, j.SittingBegan(), j.CardPassed("card-1", "x"), j.UsabilityAnswered(1, 4))
    script.at(1, Unreadable("usability_answered", "damaged"), j.UsabilityAnswered(3, 2))
    assert replay(1, ("card-1",), script.entries).usability == {1: 4, 2: None, 3: 2}


def test_two_and_three_names_are_listed_each() -> None:
    study = small_study(chairs=3)
    real = Machine(id="real", name="a laptop", virtual=False)
    guests = (Machine(id="one-laptop", name="a guest", virtual=True), real)
    mixed = replace(study, machines=guests, chairs=(*study.chairs[:2], replace(study.chairs[2], machine="real")))
    (said,) = [line for line in unlike_conditions(mixed) if "ran in a virtual machine" in line]
    assert said == "ChairA 1 and ChairB 1 ran in a virtual machine, the others did not."
    unsaid = replace(mixed, machines=(guests[0], replace(real, virtual=None)))
    (said,) = [line for line in unlike_conditions(unsaid) if "ran in a virtual machine" in line]
    assert said == "ChairA 1 and ChairB 1 ran in a virtual machine; whether the others did was not said."


def test_what_a_card_takes_in_nine_of_ten_is_longer_than_what_it_usually_takes() -> None:
    study = small_study(people=6, chairs=1, cards=1)
    sittings = {}
    for seat in study.seats:
        script = Script()
        script.at(0, j.SittingBegan(), j.AttemptStarted("card-1"))
        script.at(10 * seat.number, j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(5))
        sittings[seat.number] = replay(seat.number, seat.cards, script.entries)
    times = card_times(study, sittings)["card-1", "A"]
    before = card_times(study, {})["card-1", "A"]
    assert times.attempts == len(study.seats)
    assert times.high - times.low == pytest.approx(50.0)
    assert before.high - before.low == pytest.approx(50.0)
    assert times.low < times.likely < times.high
