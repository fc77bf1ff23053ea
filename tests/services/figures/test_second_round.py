"""The demo's second round: large enough that every verdict occurs, and one turns."""

from collections.abc import Iterator
from pathlib import Path

import pytest

from fresh_chair.core.figures.overall.estimates import VerdictKind
from fresh_chair.core.words.groups import group_sentences
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.figures.turning import turning
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.file.new_study import new_second_round
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.study.open_study import OpenStudy, open_study


@pytest.fixture(scope="session")
def made(tmp_path_factory: pytest.TempPathFactory) -> bytes:
    path = tmp_path_factory.mktemp("second") / "made.fresh"
    new_second_round(path)
    return path.read_bytes()


@pytest.fixture
def second(made: bytes, tmp_path: Path) -> Iterator[OpenStudy]:
    (tmp_path / "second.fresh").write_bytes(made)
    opened = open_study(tmp_path / "second.fresh")
    yield opened
    opened.close()


def test_every_verdict_occurs_and_nothing_is_wrong_with_the_file(second: OpenStudy) -> None:
    weighing = weigh(second)
    said = {verdict.said for found in weighing.overall.values() for verdict in found.verdicts}
    # Mixed takes a chair that is quicker and completed less; then nobody wins by time, and that is the main measure.
    assert said == set(VerdictKind) - {VerdictKind.MIXED}
    assert not any(check.problems for check in check_file(second.beside))


def test_alike_by_hands_time_turns_by_elapsed_time(second: OpenStudy) -> None:
    weighing = weigh(second)
    assert weighing.overall["time"].verdicts[0].said is VerdictKind.ALIKE
    other = next(way for way in turning(second, weighing).ways if way.way == "the other time")
    assert ("A", "B", "the difference goes beyond the margin") in other.turned
    assert weighing.elapsed is not None
    assert weighing.elapsed.verdicts[0].winner == "A"


def test_groups_are_looked_at_afterwards_unless_they_were_the_question(second: OpenStudy) -> None:
    weighing = weigh(second)
    told = group_sentences(weighing)
    assert [heading for heading, _ in told] == [
        "newcomers, 18 people (looked at afterwards)",
        "used to computers, 6 people (looked at afterwards)",
    ]
    counted = {fact.participant for fact in weighing.facts}
    assert sum(group.people for group in weighing.groups) == len(counted)
    set_field(second, "comparing.by_group", "yes")
    assert all("(the question)" in heading for heading, _ in group_sentences(weigh(second)))


def test_winners_across_unlike_conditions_and_what_turns_contradict_themselves(second: OpenStudy) -> None:
    from fresh_chair.services.judgement.contradictions import contradictions

    weighing = weigh(second)
    found = contradictions(second, weighing, turning(second, weighing))
    sorts = [each.sort for each in found]
    assert sorts.count("a verdict that turns") == 2
    unlike = [each for each in found if each.sort == "a winner across unlike conditions"]
    winners = sum(bool(verdict.winner) for verdict in weighing.overall["time"].verdicts)
    assert len(unlike) == winners
    assert all("differ in" in each.words for each in unlike)
