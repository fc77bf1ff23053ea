"""The contract of a study store, run on each: what is kept, in which order, and who is told that they came second."""

import os
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import pytest

from fresh_chair.core.chair.ledger import BaselineTaken, ChairEntry, ReachChosen, chair_id
from fresh_chair.core.chair.state import State
from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.errors import FileProblem, InputError, JournalError, NotBegun, NotSaved, Overtaken
from fresh_chair.core.evidence.hunches import Hunch
from fresh_chair.core.evidence.ledger import EvidenceEntry, EvidencePut, evidence_id
from fresh_chair.core.evidence.records import EvidenceRecord, Forecast, LaterItem
from fresh_chair.core.findings.entries.membership import FindingOpened, SnagJoined
from fresh_chair.core.findings.ledger import SortEntry, sort_id
from fresh_chair.core.plan.chair_states import ChairState
from fresh_chair.core.plan.changes import differences
from fresh_chair.core.plan.fixtures import FixtureCheck
from fresh_chair.core.plan.people import Erasure, Participant
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.services.study.mark_spool import MarkSpool, TakenBack
from fresh_chair.store.home import HomeAddress
from fresh_chair.store.memory.kept import Kept
from fresh_chair.store.memory.store import MemoryStore
from fresh_chair.store.ports import StudyStore
from fresh_chair.store.postgres.home import ServerHome
from fresh_chair.store.postgres.session import ServerSession
from fresh_chair.store.postgres.tables import ServerTables
from fresh_chair.store.sqlite.opening import create_file
from fresh_chair.store.sqlite.study_file import StudyFile
from fresh_chair.store.sqlite.tables import FileTables
from fresh_chair.store.tables.store import TableStore
from tests.builders import small_study
from tests.servers import TestServer

NOW = Moment(5 * SECOND, "boot", 1_760_000_000 * SECOND)
# Opens the same study once more, as another program would.
Opener = Callable[[], StudyStore]


@pytest.fixture(params=["sqlite", "memory", "postgres"])
def opener(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[Opener]:
    made: list[StudyStore] = []
    kept = Kept()
    path = tmp_path / "s.fresh"

    def sqlite() -> StudyStore:
        return TableStore(FileTables(StudyFile(path, os.open(path, os.O_RDWR))))

    def postgres() -> StudyStore:
        server: TestServer = request.getfixturevalue("server")
        database: str = request.getfixturevalue("database")
        session = ServerSession(server.address("contract", login="owner", database=database))
        return TableStore(ServerTables(session, ServerHome(session)))

    def opened() -> StudyStore:
        openers: dict[str, Opener] = {"sqlite": sqlite, "postgres": postgres, "memory": lambda: MemoryStore(kept)}
        made.append(openers[request.param]())
        return made[-1]

    if request.param == "sqlite":
        create_file(path, lambda file: None)
    yield opened
    for store in made:
        store.home.close(clean=False)


@pytest.fixture
def store(opener: Opener) -> StudyStore:
    """A store with a small plan."""
    made = opener()
    made.plans.write(small_study(), NOW)
    return made


def entries(first: int, *contents: j.Content) -> list[Entry]:
    return [Entry(f"e{n}", n, NOW, "moderator", content) for n, content in enumerate(contents, start=first)]


def test_what_is_offered_again_is_not_doubled_and_stands_after_what_came_first(
    store: StudyStore, opener: Opener
) -> None:
    own = entries(1, j.SittingBegan(), j.SnagSeen("one"), j.SnagSeen("two"))
    assert store.journals.add(1, own[:1]) == own[:1]
    others = [replace(own[1], id="other", author="second")]
    assert opener().journals.add(1, others) == others
    # Whether the first has arrived is not known, so all are offered.
    assert [entry.number for entry in store.journals.add(1, own)] == [1, 3, 4]
    assert [entry.number for entry in store.journals.add(1, own)] == [1, 3, 4]
    assert [entry.id for entry in store.journals.since(1, 0)] == ["e1", "other", "e2", "e3"]
    with pytest.raises(InputError):
        store.journals.add(1, entries(5, j.SnagSeen("good"), j.SnagSeen("x" * 2001)))
    assert store.journals.lengths() == {1: 4}


def test_marks_that_come_before_the_sittings_beginning_wait_for_it(store: StudyStore) -> None:
    began, *rest = entries(1, j.SittingBegan(), j.SnagSeen("one"), j.SnagSeen("two"))
    # An observer's first mark has the number 1 where nothing else is known.
    for early in (rest, [replace(rest[0], number=1, author="second")]):
        with pytest.raises(NotBegun):
            store.journals.add(1, early)
    assert store.journals.lengths() == {}
    assert store.journals.add(1, [began]) == [began]
    assert [entry.number for entry in store.journals.add(1, [replace(rest[0], number=1)])] == [2]


def test_a_second_beginning_is_told_and_nothing_of_it_is_kept(store: StudyStore) -> None:
    store.journals.add(1, entries(1, j.SittingBegan(), j.SnagSeen("here")))
    other = [replace(entry, id=f"other-{entry.id}") for entry in entries(1, j.SittingBegan(), j.SnagSeen("there"))]
    with pytest.raises(Overtaken):
        store.journals.add(1, other)
    assert store.journals.lengths() == {1: 2}


def test_what_stood_on_a_replaced_server_comes_back_in_its_order(store: StudyStore, opener: Opener) -> None:
    own = entries(1, j.SittingBegan(), j.SnagSeen("2"), j.SnagSeen("3"), j.SnagSeen("5"))
    others = [Entry(f"o{n}", n, NOW, "second", j.SnagSeen(str(n))) for n in (4, 6)]
    stood = {"e1": 1, "e2": 2, "e3": 3, "e4": 5, "o4": 4, "o6": 6}
    first, second = store.journals, opener().journals
    with pytest.raises(NotBegun):
        second.add(1, others, stood=stood)
    assert [entry.id for entry in first.add(1, own, stood=stood)] == ["e1", "e2", "e3"]
    assert [entry.id for entry in second.add(1, others, stood=stood)] == ["o4"]
    assert [entry.number for entry in first.add(1, own, stood=stood)] == [1, 2, 3, 5]
    assert [entry.number for entry in second.add(1, others, stood=stood)] == [4, 6]
    assert [entry.id for entry in first.since(1, 0)] == ["e1", "e2", "e3", "o4", "e4", "o6"]


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


def put(number: int, record: EvidenceRecord) -> EvidenceEntry:
    return EvidenceEntry(evidence_id(number), number, NOW, "moderator", EvidencePut(record))


def test_evidence_records_are_kept_in_order_and_tell_whoever_came_second(store: StudyStore, opener: Opener) -> None:
    first = put(1, LaterItem(id="a", what="the scanner", due="2027-01-01"))
    store.evidence.append([first])
    other = opener()
    assert other.evidence.all() == [first]
    other.evidence.append([put(2, Forecast(id="b", what="it gets faster"))])
    with pytest.raises(Overtaken):
        store.evidence.append([put(2, Forecast(id="c", what="it gets slower"))])
    assert [entry.number for entry in store.evidence.since(1)] == [2]
    with pytest.raises(InputError):
        store.evidence.append([put(3, LaterItem(id="d" * 41, what="too long an id"))])


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
    assert (first.number, first.path, first.after) == (1, "study.title", "Another title")
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


def amended(store: StudyStore, old: Study, new: Study, *states: ChairState) -> None:
    store.plans.amend(old, new, differences(old, new), moment=NOW, author="mara", sittings=0, states=states)


def test_a_change_against_an_older_revision_is_told_and_nothing_of_it_is_kept(
    store: StudyStore, opener: Opener
) -> None:
    other = opener()
    old = other.plans.read()
    assert not other.plans.overtaken()
    first = replace(old, title="First")
    amended(store, old, first)
    assert other.plans.overtaken()
    with pytest.raises(Overtaken):
        amended(other, old, replace(old, title="Second"))
    assert other.plans.read() == first
    assert not other.plans.overtaken()
    amended(other, first, replace(old, title="Second"))
    assert [change.after for change in store.plans.changes()] == ["First", "Second"]


def test_a_sitting_that_has_begun_meanwhile_keeps_its_plan(store: StudyStore, opener: Opener) -> None:
    old = opener().plans.read()
    store.journals.append(old.seats[0].number, entries(1, j.SittingBegan()))
    with pytest.raises(Overtaken):
        amended(store, old, replace(old, seats=old.seats[1:]))
    assert opener().plans.read() == old


def test_one_person_sits_at_one_chair_several_times(store: StudyStore, opener: Opener) -> None:
    old = store.plans.read()
    store.journals.append(1, entries(1, j.SittingBegan()))
    new = replace(old, seats=(*old.seats, replace(old.seats[0], number=99)))
    amended(store, old, new)
    again = [replace(entry, id=f"again-{entry.id}") for entry in entries(1, j.SittingBegan(), j.SnagSeen())]
    store.journals.append(99, again)
    assert opener().plans.read() == new
    assert {number: len(listed) for number, listed in opener().journals.all().items()} == {1: 1, 99: 2}


def test_a_sitting_refers_to_the_state_its_chair_was_in_when_it_began(store: StudyStore, opener: Opener) -> None:
    old = store.plans.read()
    seats = {seat.chair: seat.number for seat in old.seats}
    later = [
        replace(each, id=f"b-{each.id}", moment=replace(NOW, wall_ns=NOW.wall_ns + 9))
        for each in entries(1, j.SittingBegan())
    ]
    store.journals.append(seats["A"], entries(1, j.SittingBegan()))
    first = store.plans.chair_states()["A"][0]
    changed = replace(old.chairs[0], kernel="6.99")
    newer = replace(first, number=2, since_wall_ns=NOW.wall_ns + 5, chair=changed, changed=("kernel",))
    amended(store, old, new := replace(old, chairs=(changed, *old.chairs[1:])), newer)
    other = next(s.number for s in new.seats if s.chair == "A" and s.number != seats["A"])
    store.journals.append(other, later)
    assert opener().plans.chair_states()["A"] == [first, newer]
    assert [state.number for state in opener().plans.chair_states()["B"]] == [1]
    assert opener().plans.states_of_sittings() == {seats["A"]: 1, other: 2}


def test_the_roles_of_people_are_kept(store: StudyStore, opener: Opener) -> None:
    old = store.plans.read()
    new = replace(
        old, people=(*old.people, Participant(code="R01", role="reviewer"), Participant(code="E01", role="expert"))
    )
    amended(store, old, new)
    assert [person.role for person in opener().plans.read().people] == [*["participant"] * 2, "reviewer", "expert"]


def test_a_letter_given_to_another_chair_says_nothing_of_the_one_before(store: StudyStore, opener: Opener) -> None:
    old = store.plans.read()
    store.chairs.append([about(1, ReachChosen("here"))])
    hunch = Hunch(id="h", card="card-1", chair="A", words="the menu", severity=2, written_wall_ns=5)
    store.preparations.put_hunch(hunch)
    without = replace(
        old,
        chairs=old.chairs[1:],
        seats=tuple(seat for seat in old.seats if seat.chair != "A"),
        cards=tuple(replace(card, benchmark_seconds={"B": 10}) for card in old.cards),
    )
    amended(store, old, without)
    assert [entry.chair for entry in opener().chairs.all()] == ["A"]
    assert [each.chair for each in opener().preparations.hunches()] == ["A"]
    amended(store, without, new := replace(without, chairs=(*without.chairs, replace(old.chairs[0], name="Other"))))
    assert opener().plans.read() == new
    assert "A" not in opener().plans.chair_states()
    store.chairs.append([about(2, ReachChosen("courier"))])
    assert [entry.chair for entry in opener().chairs.all()] == ["A", "A"]


@pytest.mark.parametrize("figures_kept", [True, False])
def test_an_erased_person_leaves_no_words_and_a_trace(store: StudyStore, opener: Opener, figures_kept: bool) -> None:
    elsewhere = LaterItem(id="b", what="the scanner", of="chair:A")
    old = store.plans.read()
    theirs = [seat.number for seat in old.seats if seat.participant == "P01"]
    store.journals.append(theirs[0], entries(1, j.SittingBegan(), j.SnagSeen("my own name")))
    state = State({"settings": {"theme": "light"}, "home": {"secret.txt": "file"}})
    store.chairs.append([about(1, BaselineTaken("here", 1, 2))], {1: state})
    mark = store.journals.all()[theirs[0]][1].id
    store.evidence.append([put(1, LaterItem(id="a", what="my own name", of=f"mark:{mark}")), put(2, elsewhere)])
    erasure = Erasure(participant="P01", wall_ns=7, author="mara", figures_kept=figures_kept)
    gone = Participant(code="P01", erased="2026-01-01", left="erased")
    new = replace(old, people=(gone, *old.people[1:]))
    window = ("A", 0, NOW.wall_ns + 1)
    store.preparations.erase(old, new, erasure, own_places={theirs[0]: frozenset()}, windows=[window])
    again = opener()
    assert again.plans.read() == new
    assert again.preparations.erasures() == [erasure]
    kept = again.journals.all().get(theirs[0], [])
    assert [entry.content for entry in kept] == ([j.SittingBegan(), j.SnagSeen("erased")] if figures_kept else [])
    assert again.chairs.state(1).sections["home"] == {}
    told = [entry.content.record for entry in again.evidence.all() if isinstance(entry.content, EvidencePut)]
    assert told == [LaterItem(id="a", what="erased", of=f"mark:{mark}"), elsewhere]


def test_words_are_replaced_in_the_entry_they_stand_in_with_a_trace(store: StudyStore, opener: Opener) -> None:
    number = store.plans.read().seats[0].number
    store.journals.append(number, entries(1, j.SittingBegan(), j.NoteTaken("as P01 did"), j.NoteTaken("as P01 did")))
    store.evidence.append([put(1, LaterItem(id="a", what="ask P01", of="chair:A"))])
    trace = Erasure(participant=f"sitting:{number}/2 9", wall_ns=9, author="mara", figures_kept=True)
    put_words = store.preparations.reword
    put_words("entry", 2, sitting=number, text="as P01 did", words="as another did", trace=trace)
    second, third = (replace(trace, participant=f"evidence:1 {at}") for at in (10, 11))
    put_words("evidence_entry", 1, sitting=0, text="ask P01", words="ask again", trace=second)
    put_words("evidence_entry", 1, sitting=0, text="not there", words="x", trace=third)
    again = opener()
    words = [getattr(entry.content, "words", "") for entry in again.journals.all()[number]]
    assert words == ["", "as another did", "as P01 did"]
    told = [entry.content.record for entry in again.evidence.all() if isinstance(entry.content, EvidencePut)]
    assert told == [LaterItem(id="a", what="ask again", of="chair:A")]
    assert len(again.preparations.erasures()) == 3


def test_marks_kept_elsewhere_find_back_to_their_home_and_to_no_other(store: StudyStore, tmp_path: Path) -> None:
    address = store.home.address
    assert store.home.there
    assert store.home.is_home_of(address)
    other = tmp_path / "other.fresh"
    other.touch()
    assert not store.home.is_home_of(HomeAddress(str(other), other.stat().st_ino))


def test_what_a_spool_holds_goes_through_the_port(store: StudyStore) -> None:
    spool = MarkSpool(store.home, store.journals, "small", TakenBack())
    spool.keep(1, entries(1, j.SittingBegan()), after="")
    assert (spool.waiting, len(store.journals.all()[1])) == (0, 1)
    store.home.make_room()
    assert spool.bring_back() is False
    spool.close()
