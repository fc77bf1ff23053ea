"""The contract of a study store, run on each: what is kept, in which order, and who is told that they came second."""

import os
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import pytest

from fresh_chair.core.chair.ledger import BaselineTaken, ChairEntry, ReachChosen, chair_id
from fresh_chair.core.chair.state import State
from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.errors import FileProblem, InputError, JournalError, NotSaved, Overtaken
from fresh_chair.core.evidence.hunches import Hunch
from fresh_chair.core.findings.ledger import FindingOpened, SnagJoined, SortEntry, sort_id
from fresh_chair.core.plan.changes import differences
from fresh_chair.core.plan.fixtures import FixtureCheck
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.store.memory import Kept, MemoryStore
from fresh_chair.store.ports import StudyStore
from fresh_chair.store.sqlite.store import SqliteStore
from fresh_chair.store.sqlite.study_file import StudyFile, create_file
from tests.builders import small_study

NOW = Moment(5 * SECOND, "boot", 1_760_000_000 * SECOND)
# Opens the same study once more, as another program would.
Opener = Callable[[], StudyStore]


@pytest.fixture(params=["sqlite", "memory"])
def opener(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[Opener]:
    files: list[StudyFile] = []
    kept = Kept()
    path = tmp_path / "s.fresh"

    def sqlite() -> StudyStore:
        files.append(StudyFile(path, os.open(path, os.O_RDWR)))
        return SqliteStore(files[-1])

    if request.param == "sqlite":
        create_file(path, lambda file: None)
    yield sqlite if request.param == "sqlite" else lambda: MemoryStore(kept)
    for file in files:
        file.close(clean=False)


@pytest.fixture
def store(opener: Opener) -> StudyStore:
    """A store with a small plan."""
    made = opener()
    made.plans.write(small_study(), NOW)
    return made


def entries(first: int, *contents: j.Content) -> list[Entry]:
    return [Entry(f"e{n}", n, NOW, "moderator", content) for n, content in enumerate(contents, start=first)]


def sorting(first: int, *contents: FindingOpened | SnagJoined) -> list[SortEntry]:
    return [SortEntry(sort_id(n), n, NOW, "moderator", content) for n, content in enumerate(contents, start=first)]


def about(number: int, content: ReachChosen | BaselineTaken, letter: str = "A") -> ChairEntry:
    return ChairEntry(chair_id(number), number, NOW, "moderator", content, letter)


def test_a_store_without_a_plan_says_so(opener: Opener) -> None:
    with pytest.raises(FileProblem):
        opener().plans.read()


def test_entries_come_back_as_they_were_kept_and_journals_stay_apart(store: StudyStore) -> None:
    first, more = entries(1, j.SittingBegan(), j.SnagSeen("wrong menu")), entries(3, j.SnagSeen())
    store.journals.append(1, first)
    store.journals.append(1, more)
    other = [replace(entry, id=f"other-{entry.id}") for entry in first]
    store.journals.append(2, other)
    assert store.journals.all() == {1: [*first, *more], 2: other}
    assert store.journals.lengths() == {1: 3, 2: 2}
    assert store.journals.since(1, 2) == more
    assert store.journals.since(3, 0) == []


def test_of_two_writers_of_a_sitting_the_second_is_told_and_nothing_of_it_is_kept(
    store: StudyStore, opener: Opener
) -> None:
    other = opener()
    store.journals.append(1, entries(1, j.SittingBegan()))
    late = [replace(entry, id=f"late-{entry.id}") for entry in entries(1, j.SittingBegan(), j.SnagSeen())]
    with pytest.raises(Overtaken):
        other.journals.append(1, late)
    assert [entry.id for entry in other.journals.since(1, 0)] == ["e1"]
    other.journals.append(1, [replace(late[1], number=2)])
    assert [entry.id for entry in store.journals.since(1, 1)] == ["late-e2"]


def test_what_no_reader_would_take_is_refused_before_anything_is_kept(store: StudyStore) -> None:
    good, bad = entries(1, j.SittingBegan(), j.SnagSeen("x" * 2001))
    with pytest.raises(InputError):
        store.journals.append(1, [good, bad])
    with pytest.raises(InputError):
        store.sorting.append(sorting(1, FindingOpened("f", "")))
    with pytest.raises(InputError):
        store.chairs.append([about(1, ReachChosen("x" * 300))])
    assert (store.journals.all(), store.sorting.all(), store.chairs.all()) == ({}, [], [])


def test_the_sorting_ledger_is_kept_in_order_and_tells_whoever_came_second(store: StudyStore, opener: Opener) -> None:
    first = sorting(1, FindingOpened("f", "hidden"), SnagJoined("f", "s"))
    store.sorting.append(first)
    other = opener()
    with pytest.raises(Overtaken):
        other.sorting.append(sorting(2, SnagJoined("f", "t"), SnagJoined("f", "u")))
    assert other.sorting.all() == first
    other.sorting.append(sorting(3, SnagJoined("f", "t")))
    assert store.sorting.since(2) == sorting(3, SnagJoined("f", "t"))


def test_what_is_known_of_chairs_is_kept_with_its_states_all_or_none(store: StudyStore, opener: Opener) -> None:
    state = State({"settings": {"theme": "light"}})
    number = store.chairs.next_state()
    store.chairs.append([about(1, BaselineTaken("here", number, 1))], {number: state})
    assert store.chairs.state(number) == state
    other = opener()
    following = other.chairs.next_state()
    assert following == number + 1
    with pytest.raises(Overtaken):
        other.chairs.append([about(1, BaselineTaken("here", following, 1), "B")], {following: state})
    assert other.chairs.next_state() == following
    with pytest.raises(JournalError):
        other.chairs.state(following)
    other.chairs.append([about(2, ReachChosen("here"), "B")])
    assert store.chairs.since(1) == [about(2, ReachChosen("here"), "B")]
    assert [entry.chair for entry in store.chairs.all()] == ["A", "B"]


def test_the_last_sign_of_life_of_each_sitting_is_known(store: StudyStore, opener: Opener) -> None:
    store.journals.ready()
    assert store.journals.last_beat(1) is None
    store.journals.beat(1, NOW)
    later = replace(NOW, ticks_ns=NOW.ticks_ns + 1)
    store.journals.beat(1, later)
    assert opener().journals.last_beat(1) == later
    assert store.journals.last_beat(2) is None


def test_a_plan_is_replaced_whole_and_what_changed_is_on_record(store: StudyStore, opener: Opener) -> None:
    old = store.plans.read()
    assert (old, store.plans.script(), store.plans.changes()) == (small_study(), None, [])
    new = replace(old, title="Another title", seats=old.seats[:-1])
    store.plans.amend(old, new, differences(old, new), moment=NOW, author="mara", sittings=3, script="script = 1\n")
    again = opener().plans
    assert (again.read(), again.script()) == (new, "script = 1\n")
    first = again.changes()[0]
    assert (first.number, first.place, first.after) == (1, "study.title", "Another title")
    assert (first.author, first.sittings) == ("mara", 3)
    assert {change.wall_ns for change in again.changes()} == {NOW.wall_ns}


def test_a_hunch_can_be_changed_until_it_is_sealed(store: StudyStore) -> None:
    hunch = Hunch(id="h", card="card-1", chair="A", words="the menu", severity=2, written_wall_ns=5)
    early = replace(hunch, id="early", written_wall_ns=1, chair="B")
    store.preparations.put_hunch(hunch)
    store.preparations.put_hunch(early)
    store.preparations.put_hunch(replace(hunch, words="the second menu"))
    assert [each.words for each in store.preparations.hunches()] == ["the menu", "the second menu"]
    store.preparations.seal(["A"], NOW)
    with pytest.raises(NotSaved):
        store.preparations.put_hunch(replace(hunch, words="I knew it"))
    with pytest.raises(NotSaved):
        store.preparations.drop_hunch("h")
    store.preparations.drop_hunch("early")
    (left,) = store.preparations.hunches()
    assert (left.words, left.sealed_wall_ns) == ("the second menu", NOW.wall_ns)


def test_looks_at_the_bench_are_kept_in_their_order(store: StudyStore) -> None:
    looks = [
        FixtureCheck(wall_ns=2, name="a headset", presence="missing"),
        FixtureCheck(wall_ns=1, name="a headset", presence="ready", note="in the drawer"),
    ]
    store.preparations.add_fixture_checks(looks)
    assert store.preparations.fixture_checks() == looks
    assert store.preparations.erasures() == []
