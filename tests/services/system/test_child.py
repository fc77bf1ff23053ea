"""Work in a process of its own: what it says comes back, it can be stopped, and what fails there fails here."""

import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from fresh_chair.core.errors import FileProblem, InputError
from fresh_chair.services.figures.rule_chances import assumed, rule_chances, rule_chances_apart
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.report.reports import Telling, produced
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.system.child import ChildFailed, Stopped, in_child

HERE = __name__


def twice(number: int) -> int:
    return 2 * number


def one_by_one(most: int) -> Iterator[int]:
    for number in range(most):
        print("a library that prints")
        yield number


def refuses() -> None:
    raise InputError("That cannot be.", "Nothing was changed.")


def fails() -> None:
    raise KeyError("no such thing")


def forever() -> Iterator[str]:
    yield "begun"
    while True:
        time.sleep(1)


def two_and_no_end() -> Iterator[int]:
    yield 1
    yield 2
    while True:
        time.sleep(1)


def test_what_a_function_returns_or_yields_comes_back() -> None:
    assert list(in_child(f"{HERE}:twice", 21)) == [42]
    assert list(in_child(f"{HERE}:one_by_one", 3)) == [0, 1, 2]


def test_what_is_refused_there_is_refused_here_and_a_bug_is_told_whole() -> None:
    with pytest.raises(InputError) as told:
        list(in_child(f"{HERE}:refuses"))
    assert (told.value.title, told.value.hint) == ("That cannot be.", "Nothing was changed.")
    with pytest.raises(ChildFailed, match="KeyError: 'no such thing'"):
        list(in_child(f"{HERE}:fails"))


def test_a_child_that_is_not_waited_for_any_more_is_killed() -> None:
    said: list[object] = []
    child = in_child(f"{HERE}:forever", stopped=lambda: bool(said))
    said.append(next(child))
    with pytest.raises(Stopped):
        next(child)
    assert said == ["begun"]


def test_each_value_comes_when_it_is_yielded_and_not_with_the_next_one() -> None:
    child = in_child(f"{HERE}:two_and_no_end")
    assert [next(child), next(child)] == [1, 2]
    child.close()  # type: ignore[attr-defined]


def test_a_child_that_dies_is_a_bug_and_nothing_hangs() -> None:
    with pytest.raises(ChildFailed, match="without a word"):
        list(in_child("os:_exit", 3))


def test_figures_are_the_same_from_a_process_of_their_own(demo: OpenStudy) -> None:
    snapshot = demo.snapshot()
    apart = weigh(snapshot, apart=True)
    demo.computed.forget()
    assert weigh(snapshot) == apart
    plan = assumed(snapshot)
    assert plan is not None
    assert next(rule_chances_apart(plan)) == next(rule_chances(plan))


def test_figures_that_nobody_waits_for_are_given_up(demo: OpenStudy) -> None:
    for apart in (True, False):
        with pytest.raises(Stopped):
            weigh(demo.snapshot(), apart=apart, stopped=lambda: True)
    plan = assumed(demo)
    assert plan is not None
    with pytest.raises(Stopped):
        list(rule_chances_apart(plan, stopped=lambda: True))


@pytest.mark.parametrize("what", [Telling(), None])
def test_a_document_is_the_same_from_a_process_of_its_own(
    demo: OpenStudy, tmp_path: Path, what: Telling | None
) -> None:
    made = {}
    for name, apart in (("here", False), ("there", True)):
        written = list(produced(demo, what, apart=apart)(tmp_path / name))
        made[name] = {each.path.name: each.path.read_bytes() for each in written}
    assert made["here"].keys() == made["there"].keys()
    assert len(made["here"]) > 4
    for file, data in made["here"].items():
        # A process that has drawn other charts before embeds its fonts in a PDF otherwise.
        assert made["there"][file] == data or (file.endswith(".pdf") and data.startswith(b"%PDF")), file


def test_a_file_that_is_gone_is_one_sentence_from_there_too(demo: OpenStudy, tmp_path: Path) -> None:
    produce = produced(demo, Telling(), apart=True)
    demo.beside.rename(tmp_path / "elsewhere.fresh")
    with pytest.raises(FileProblem):
        list(produce(tmp_path / "out"))
