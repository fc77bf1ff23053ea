"""The plan on disk: older files are brought along, sealed hunches stay sealed, the erased are gone."""

import json
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest
from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine

import fresh_chair.store as store
from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import FileProblem, NotSaved, Refused
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.services.file import erasing
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.plan import people
from fresh_chair.services.plan import preparation as preparing
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.store.sqlite.form.schema import APPLICATION_ID, HEAD, migrate
from fresh_chair.store.sqlite.study_file import connect_writer
from tests.builders import FakeClock, file_of
from tests.damage import of_sitting

SECRET = "told in confidence 4711"


@pytest.fixture
def first_version(tmp_path: Path) -> Path:
    """A study file as the first version of the program wrote it, with a sitting that has begun."""
    path = tmp_path / "old.fresh"
    config = Config()
    config.set_main_option("script_location", str(Path(store.__file__).parent / "migrations"))
    engine = create_engine(f"sqlite:///{path}")
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "s0001")
    engine.dispose()
    chair: dict[str, object] = {
        "letter": "A",
        "name": "Saltmarsh",
        "release": "9",
        "desktop": "Samphire 3",
        "machine": "a laptop",
    }
    chair |= {"edition": "", "stage": "stable", "virtual": True, "installed": "", "known_faults": ["worn"]}
    card: dict[str, object] = {
        "id": "dark",
        "title": "Dark",
        "area": "looks",
        "goal": "Make it dark.",
        "success": "It is.",
        "question": "",
    }
    card |= {"limit_seconds": 60, "start": "", "benchmark_seconds": {"A": 9}, "fixtures": [], "put_back": "Bright."}
    with sqlite3.connect(path) as rows:
        rows.execute(f"PRAGMA application_id = {APPLICATION_ID}")
        rows.execute("INSERT INTO study VALUES ('old', 'An old study', 'Why?', 'borrowers', 0, 3, 1)")
        rows.execute("INSERT INTO chair VALUES ('A', 0, ?)", [json.dumps({**chair, "alterations": []})])
        rows.execute("INSERT INTO card VALUES ('dark', 0, ?)", [json.dumps(card)])
        rows.execute("INSERT INTO person VALUES ('P01', 0, ?)", [json.dumps({"code": "P01", "profile": "retired"})])
        rows.execute("INSERT INTO seat VALUES (1, 'P01', 'A', 1, '[\"dark\"]')")
        body = json.dumps({"kind": "sitting_began"})
        rows.execute("INSERT INTO entry VALUES (1, 1, 'e1', 'sitting_began', 1, 5, 'boot', 7, 'moderator', ?)", [body])
    return path


def test_a_study_of_the_first_version_goes_on(first_version: Path) -> None:
    opened = open_study(first_version)
    study = opened.study
    assert (study.title, study.audience, study.question) == ("An old study", "borrowers", "Why?")
    machine = study.machine_of(study.chairs[0])
    assert (machine.name, machine.virtual, [fault.what for fault in machine.faults]) == ("a laptop", True, ["worn"])
    assert study.cards[0].put_back == ("Bright.",)
    assert study.people[0].profile == "retired"
    assert list(opened.entries) == [1]
    set_field(opened, "chair.A.kernel", "6.12")
    opened.close()
    again = open_study(first_version)
    assert again.study.chairs[0].kernel == "6.12"
    again.close()
    assert not any(check.problems for check in check_file(first_version))
    with sqlite3.connect(first_version) as rows:
        assert rows.execute("SELECT version_num FROM alembic_version").fetchone() == (HEAD,)


@pytest.fixture(params=["s0002", "s0003"])
def later_version(request: pytest.FixtureRequest, first_version: Path) -> Path:
    """The same study as a later version of the program left it, with a dated change, a hunch and what was noted."""
    with closing(connect_writer(f"file:{first_version}?mode=rw", write=True)) as writer:
        migrate(writer, request.param)
        writer.execute("INSERT INTO person VALUES ('E01', 1, ?)", [json.dumps({"code": "E01", "role": "expert"})])
        writer.execute("INSERT INTO seat VALUES (2, 'E01', 'A', 1, '[\"dark\"]')")
        change = "INSERT INTO change VALUES (?, ?, 'mara', ?, ?, ?, ?)"
        writer.execute(change, (1, 6, "chair.A.edition", "", "before anyone sat", 0))
        writer.execute(change, (2, 8, "chair.A.kernel", "6.1", "6.2", 1))
        writer.execute(change, (3, 8, "machine.a-laptop.virtual", "no", "yes", 1))
        writer.execute("INSERT INTO hunch VALUES ('h', 'dark', 'A', 'the menu', 2, 4, 5, 0)")
        body = json.dumps({"kind": "sitting_began"})
        entry = "INSERT INTO entry VALUES (2, 1, 'e2', 'sitting_began', 1, 9, 'boot', 9, 'moderator', ?)"
        writer.execute(entry, [body])
        if request.param == "s0003":
            noted = json.dumps({"kind": "reach_chosen", "way": "here"})
            row = "INSERT INTO chair_entry VALUES (?, ?, 'reach_chosen', 1, 5, 'boot', 7, 'mara', ?)"
            writer.execute(row, (1, "A", noted))
            # A chair that was taken out of the plan since.
            writer.execute(row, (2, "Z", noted))
    return first_version


def test_a_study_of_each_later_version_goes_on(later_version: Path, request: pytest.FixtureRequest) -> None:
    opened = open_study(later_version)
    assert [person.role for person in opened.study.people] == ["participant", "expert"]
    assert [(hunch.chair, hunch.words, hunch.sealed_wall_ns) for hunch in opened.hunches] == [("A", "the menu", 5)]
    assert {number: len(entries) for number, entries in opened.entries.items()} == {1: 1, 2: 1}
    assert [change.path for change in opened.plans.changes()][-1] == "machine.a-laptop.virtual"
    first, second = opened.plans.chair_states()["A"]
    assert (first.since_wall_ns, first.chair.kernel, first.machine.virtual) == (None, "6.1", False)
    assert (second.since_wall_ns, second.machine.virtual) == (8, True)
    assert second.changed == ("kernel: 6.1 became 6.2", "virtual: no became yes")
    assert {number: state.number for number, state in opened.chair_states().items()} == {1: 1, 2: 2}
    if "s0003" in request.node.name:
        assert [entry.chair for entry in opened.known_chairs.entries()] == ["A", "Z"]
    opened.close()
    assert not any(check.problems for check in check_file(later_version))
    with sqlite3.connect(later_version) as rows, pytest.raises(sqlite3.IntegrityError, match="sealed"):
        rows.execute("UPDATE hunch SET severity = 0")


def test_ids_stay_when_numbers_and_letters_are_given_anew(opened: OpenStudy) -> None:
    def ids(table: str, shown: str) -> dict[object, object]:
        return {row[0]: row[1] for row in file_of(opened).read(f"SELECT {shown}, id FROM {table}")}

    chairs, seats = ids("chair", "letter"), ids("seat", "number")
    assert len({*chairs.values(), *seats.values()}) == len(chairs) + len(seats)
    set_field(opened, "chair.A.kernel", "6.12")
    people.add_person(opened, "P77")
    assert ids("chair", "letter") == chairs
    assert {number: name for number, name in ids("seat", "number").items() if number in seats} == seats


def test_a_study_of_the_first_version_is_not_changed_by_a_reader(first_version: Path) -> None:
    before = first_version.read_bytes()
    with pytest.raises(FileProblem, match="older Fresh Chair"):
        open_study(first_version, write=False)
    assert first_version.read_bytes() == before


def test_every_change_is_kept_with_its_date_and_with_how_many_had_sat(opened: OpenStudy, clock: FakeClock) -> None:
    set_field(opened, "sheet.paid_by", "nobody")
    LiveSitting(opened, opened.study.seats[0]).begin(clock.now())
    clock.pass_seconds(60)
    set_field(opened, "sheet.paid_by", "the library")
    first, second = opened.plans.changes()
    assert (first.path, first.before, first.after, first.sittings) == ("sheet.paid_by", "", "nobody", 0)
    assert (second.before, second.after, second.sittings) == ("nobody", "the library", 1)
    assert second.wall_ns - first.wall_ns == 60 * SECOND


@pytest.mark.parametrize("table", ["change", "script", "fixture_check", "erasure"])
def test_what_is_on_record_is_never_changed_by_whoever_writes(demo: OpenStudy, table: str) -> None:
    erasing.erase_person(demo, "P05", keep_figures=True)
    from fresh_chair.services.plan.scripts import apply_script, script_text

    apply_script(demo, script_text(demo).replace("limit_seconds = 480", "limit_seconds = 481"), name="s")
    path = demo.beside
    demo.close()
    with sqlite3.connect(path) as rows:
        assert rows.execute(f"SELECT count(*) FROM {table}").fetchone()[0] > 0
        for statement in (f"DELETE FROM {table}", f"UPDATE {table} SET wall_ns = 1"):
            with pytest.raises(sqlite3.IntegrityError, match="only ever appended"):
                rows.execute(statement)


def test_a_sealed_hunch_and_one_whose_chair_was_sat_at_cannot_change_whoever_writes(
    opened: OpenStudy, clock: FakeClock
) -> None:
    open_one = preparing.write_hunch(opened, "card-1", "B", "still open", 1)
    at_a = preparing.write_hunch(opened, "card-1", "A", "before anyone sat", 2)
    sealed = preparing.write_hunch(opened, "card-2", "B", "sealed", 3)
    opened.preparations.put_hunch(open_one)
    preparing.seal_hunches(opened, [])
    with sqlite3.connect(opened.beside) as rows:
        rows.execute("UPDATE hunch SET sealed_wall_ns = 9 WHERE id = ?", [sealed.id])
    seat = next(seat for seat in opened.study.seats if seat.chair == "A")
    LiveSitting(opened, seat).begin(clock.now())
    with sqlite3.connect(opened.beside) as rows:
        for one in (at_a, sealed):
            for statement in (
                f"UPDATE hunch SET severity = 0 WHERE id = '{one.id}'",
                f"DELETE FROM hunch WHERE id = '{one.id}'",
            ):
                with pytest.raises(sqlite3.IntegrityError, match="hunches are sealed"):
                    rows.execute(statement)
        rows.execute(f"UPDATE hunch SET severity = 0 WHERE id = '{open_one.id}'")
    opened.read_preparations()
    with pytest.raises(Refused, match="has sat"):
        preparing.reword_hunch(opened, at_a, "other words", 0)
    late = preparing.write_hunch(opened, "card-1", "A", "too late", 1)
    assert late.late
    assert late.sealed_wall_ns is not None


def test_the_store_says_that_a_hunch_is_sealed_in_a_sentence(opened: OpenStudy) -> None:
    from dataclasses import replace

    hunch = preparing.write_hunch(opened, "card-1", "A", "words", 1)
    assert preparing.seal_hunches(opened, ["A", "B"]) == 1
    with pytest.raises(NotSaved, match="refused to change a hunch"):
        opened.preparations.put_hunch(replace(hunch, words="others"))
    assert opened.preparations.hunches()[0].words == "words"


@pytest.mark.parametrize("keep", [True, False], ids=["figures kept", "figures dropped"])
def test_the_erased_are_gone_from_the_file_and_leave_a_dated_trace(
    opened: OpenStudy, clock: FakeClock, keep: bool
) -> None:
    set_field(opened, "person.P01.profile", SECRET)
    seat = next(seat for seat in opened.study.seats if seat.participant == "P01")
    live = LiveSitting(opened, seat)
    live.begin(clock.now())
    live.log(j.AttemptStarted(seat.cards[0]), clock.now())
    snag = live.log(j.SnagSeen(), clock.now())
    live.log(j.Worded(snag.id, SECRET), clock.now())
    live.log(j.NoteTaken(SECRET), clock.now())
    clock.pass_seconds(9)
    live.log(j.AttemptStopped(), clock.now())
    live.log(j.OutcomeJudged(Outcome.VOID, SECRET), clock.now())
    live.log(j.SittingBrokenOff(SECRET), clock.now())
    path = opened.beside
    assert SECRET.encode() in b"".join(each.read_bytes() for each in path.parent.glob(f"{path.name}*"))
    erasing.erase_person(opened, "P01", keep_figures=keep)
    for each in path.parent.glob(f"{path.name}*"):
        assert SECRET.encode() not in each.read_bytes(), each.name
    person = opened.study.person_by_code["P01"]
    assert person.profile == ""
    assert person.erased == people.today(opened)
    (trace,) = opened.preparations.erasures()
    assert (trace.participant, trace.figures_kept, trace.wall_ns) == ("P01", keep, clock.wall_ns)
    kept = opened.entries.get(seat.number, [])
    assert bool(kept) == keep
    if keep:
        assert opened.sittings[seat.number].attempts[0].snags == 1
        assert [entry.moment.ticks_ns for entry in kept] == sorted(entry.moment.ticks_ns for entry in kept)
    with pytest.raises(Refused, match="was erased"):
        erasing.erase_person(opened, "P01", keep_figures=keep)
    with pytest.raises(Refused, match="not written again"):
        set_field(opened, "person.P01.profile", "again")
    opened.close()
    assert not any(check.problems for check in check_file(path))


def test_a_file_is_whole_where_snags_of_the_erased_were_in_findings(demo: OpenStudy) -> None:
    erasing.erase_person(demo, "P05", keep_figures=False)
    path = demo.beside
    demo.close()
    checks = {check.what: check for check in check_file(path)}
    assert not any(check.problems for check in checks.values())
    assert "of people who were erased" in checks["findings"].found


def test_nobody_elses_words_are_touched_when_somebody_is_erased(demo: OpenStudy) -> None:
    others = {n: e for n, e in demo.entries.items() if demo.study.seat(n).participant != "P05"}
    erasing.erase_person(demo, "P05", keep_figures=True)
    demo.reload()
    assert {n: e for n, e in demo.entries.items() if n in others} == others
    with sqlite3.connect(demo.beside) as rows, pytest.raises(sqlite3.IntegrityError, match="only ever appended"):
        rows.execute(f"UPDATE entry SET body = '{{}}' WHERE {of_sitting(7)}")


def test_even_of_the_erased_nothing_but_words_can_be_changed(demo: OpenStudy) -> None:
    erasing.erase_person(demo, "P05", keep_figures=True)
    with sqlite3.connect(demo.beside) as rows:
        for statement in (
            f"UPDATE entry SET ticks_ns = 1 WHERE {of_sitting(11)}",
            f"DELETE FROM entry WHERE {of_sitting(11)}",
        ):
            with pytest.raises(sqlite3.IntegrityError, match="only ever appended"):
                rows.execute(statement)


def test_somebody_who_is_sitting_is_not_erased(opened: OpenStudy, clock: FakeClock) -> None:
    seat = opened.study.seats[0]
    LiveSitting(opened, seat).begin(clock.now())
    with pytest.raises(Refused, match="sitting right now"):
        erasing.erase_person(opened, seat.participant, keep_figures=True)
    with pytest.raises(Refused, match="sitting right now"):
        people.let_go(opened, seat.participant, "ill")
