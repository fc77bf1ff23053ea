"""Planning on real files: fields by their place, chairs, people, scripts, hunches, the bench."""

from dataclasses import replace
from pathlib import Path

import pytest

from fresh_chair.core.errors import FileProblem, InputError, Refused
from fresh_chair.core.plan.fixtures import bench_of
from fresh_chair.services.file import carrying
from fresh_chair.services.plan import chairs, people
from fresh_chair.services.plan import preparation as preparing
from fresh_chair.services.plan.editing import field_lines, get_field, require_kind, set_field
from fresh_chair.services.plan.people_files import look_through, open_table, take_people, write_people
from fresh_chair.services.plan.plan_changes import plan_again, sit_again
from fresh_chair.services.plan.readiness import readiness
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, create_study, open_study
from tests.builders import FakeClock, small_study


def reread(opened: OpenStudy) -> OpenStudy:
    opened.close()
    return open_study(opened.beside)


@pytest.mark.parametrize(("kind", "name"), [("study", ""), ("chair", "B"), ("card", "get-online"), ("person", "P02")])
def test_every_field_of_a_sheet_takes_its_own_value_and_changes_nothing(demo: OpenStudy, kind: str, name: str) -> None:
    before, changes = demo.study, len(demo.plans.changes())
    lines = field_lines(demo.study, kind, name)
    assert len(lines) > 10
    for line in lines:
        assert get_field(demo.study, line.path) == line.text
        set_field(demo, line.path, line.text)
    assert demo.study == before
    assert len(demo.plans.changes()) == changes


@pytest.mark.parametrize(
    ("place", "text"),
    [
        ("study.title", "Another question"),
        ("sheet.audiences", "school | many alike machines; office"),
        ("sheet.thresholds", "completion | 0.9 | because; ease | 4"),
        ("sheet.minutes_per_sitting", "50"),
        ("timetable.starts", "08:15; 13:00"),
        ("comparing.primary", "time"),
        ("comparing.pairs", "A-B"),
        ("comparing.margin_time", "1.5"),
        ("machine.one-laptop.memory", "16 GB"),
        ("machine.one-laptop.faults", "worn | missed presses"),
        ("chair.B.kernel", "6.12"),
        ("chair.B.hue", "5"),
        ("chair.B.stage", "rolling snapshot"),
        ("card.card-1.routes.A", "Colours; Dark"),
        ("card.card-1.benchmark_seconds.B", "12.5"),
        ("card.card-1.partly", "It is found; It is half done"),
        ("card.card-2.needs", "card-1"),
        ("person.P01.comfort", "4"),
        ("person.P01.linux", "tried it"),
    ],
)
def test_a_field_is_changed_by_a_line_and_is_there_when_the_file_is_opened_again(
    opened: OpenStudy, place: str, text: str
) -> None:
    set_field(opened, place, text)
    again = reread(opened)
    assert get_field(again.study, place) == text
    again.close()


@pytest.mark.parametrize(
    ("place", "text", "said"),
    [
        ("nonsense", "x", "no field of a plan"),
        ("chair.Z.kernel", "x", "no chair Z"),
        ("chair.A.colour", "x", "no colour"),
        ("person.P01.erased", "2026-11-09", "cannot be set|can be set"),
        ("card.card-1.limit_seconds", "0", "out of range"),
        ("card.card-1.goal", "", "The goal of “Card 1” cannot be so: it is empty"),
        ("card.card-1.needs", "ghost", "no card 'ghost'"),
        ("card.card-1.benchmark_seconds", "3", "no part of it"),
        ("chair.A.kernel.x", "3", "does not have"),
        ("chair.A.letter", "bee", "one of A to Z"),
        ("chair.A.letter", "B", "there already"),
        ("sheet.groups", "one | A, Z", "no chair that is listed"),
        ("timetable.starts", "25:00", "is a time"),
        ("comparing.primary", "luck", "luck"),
        ("comparing.pairs", "A-Z", "no chair that is listed"),
        ("comparing.pairs", "A-A", "two chairs such as A-B"),
        ("comparing.pairs", "A-B; B-A", "twice|more than once|repeated"),
        ("comparing.margin_time", "0.5", "out of range"),
        ("person.P01.code", "P02", "already"),
        ("person.P01.consents.part", "soon", "part it does not have|is a date"),
        ("chair.A.snapshot", "2026-11-01", "rolling snapshot"),
        ("chair.\x1b[31m.kernel", "x", "no chair"),
    ],
)
def test_what_cannot_be_is_said_in_a_sentence_and_nothing_is_changed(
    opened: OpenStudy, place: str, text: str, said: str
) -> None:
    before = opened.study
    with pytest.raises(InputError, match=said) as caught:
        set_field(opened, place, text)
    assert "\x1b" not in str(caught.value)
    assert opened.study == before


def test_a_letter_and_a_code_can_be_changed_everywhere_until_they_were_used(
    opened: OpenStudy, clock: FakeClock
) -> None:
    set_field(opened, "card.card-1.routes.A", "Colours")
    set_field(opened, "comparing.pairs", "A-B")
    set_field(opened, "chair.A.letter", "Q")
    assert opened.study.sheet.comparing.pairs == ("Q-B",)
    set_field(opened, "person.P01.code", "X1")
    assert opened.study.card_by_id["card-1"].routes == {"Q": ("Colours",)}
    assert {(seat.participant, seat.chair) for seat in opened.study.seats} == {
        ("X1", "Q"),
        ("X1", "B"),
        ("P02", "Q"),
        ("P02", "B"),
    }
    for seat in opened.study.seats:
        if (seat.participant, seat.chair) == ("X1", "Q"):
            LiveSitting(opened, seat).begin(clock.now())
    for place in ("chair.Q.letter", "person.X1.code"):
        with pytest.raises(Refused, match="stays"):
            set_field(opened, place, "Y")


def test_a_new_machine_comes_with_its_name_and_one_nobody_stands_on_goes(opened: OpenStudy) -> None:
    set_field(opened, "chair.A.machine", "spare")
    assert {machine.id for machine in opened.study.machines} == {"one-laptop", "spare"}
    set_field(opened, "chair.A.machine", "one-laptop")
    assert {machine.id for machine in opened.study.machines} == {"one-laptop"}


def test_only_what_there_is_has_fields(opened: OpenStudy) -> None:
    for kind, name in (("shoe", ""), ("chair", "Z"), ("person", "nobody")):
        with pytest.raises(InputError):
            require_kind(opened.study, kind, name)


def test_a_chair_is_added_copied_and_taken_out_before_anyone_sat(opened: OpenStudy, clock: FakeClock) -> None:
    added = chairs.add_chair(opened, "Oakum", "24", "Fathom 6")
    assert (added.letter, opened.study.machine_of(added).name) == ("C", "machine 1")
    copied = chairs.copy_chair(opened, "C")
    assert (copied.letter, copied.title, copied.machine) == ("D", "Oakum 24", added.machine)
    assert sum(seat.chair == "D" for seat in opened.study.seats) == 2
    chairs.remove_chair(opened, "C")
    assert [chair.letter for chair in opened.study.chairs] == ["A", "B", "D"]
    LiveSitting(opened, next(s for s in opened.study.seats if s.chair == "A")).begin(clock.now())
    with pytest.raises(Refused, match="sittings that have begun"):
        chairs.remove_chair(opened, "A")
    with pytest.raises(InputError, match="no chair Z"):
        chairs.copy_chair(opened, "Z")


def test_a_chair_is_carried_over_with_its_machine_and_findings(opened: OpenStudy, demo_path: Path) -> None:
    assert carrying.chairs_in(opened, demo_path)[1] == ("B", "Lanternwood 2.1 beta")
    chair, carried = carrying.carry_over(opened, demo_path, "B")
    again = reread(opened)
    kept = again.study.chair_by_letter[chair.letter]
    assert (kept.letter, kept.title, again.study.machine_of(kept).name) == (
        "C",
        "Lanternwood 2.1 beta",
        "refurbished laptop no. 12",
    )
    findings = again.study.carried
    assert len(findings) == carried.findings > 3
    for finding in (each for each in findings if each.sort == "finding"):
        assert finding.chair == "C"
        assert 0 < finding.seen_by <= finding.tried
        assert finding.source.startswith("Tern Harbour")
    with pytest.raises(InputError, match="own file"):
        carrying.carry_over(again, again.beside, "A")
    with pytest.raises(InputError, match="no chair Z"):
        carrying.carry_over(again, demo_path, "Z")
    with pytest.raises(FileProblem):
        carrying.carry_over(again, demo_path.with_name("none.fresh"), "A")
    again.close()


def test_whoever_left_is_replaced_once_in_their_group_and_order(opened: OpenStudy) -> None:
    with pytest.raises(InputError, match="has not left"):
        people.add_person(opened, "P03", replaces="P01")
    with pytest.raises(InputError, match="Say why"):
        people.let_go(opened, "P01", " ")
    people.let_go(opened, "P01", "ill")
    assert not any(seat.participant == "P01" for seat in opened.study.seats)
    people.add_person(opened, "P03", replaces="P01")
    assert sum(seat.participant == "P03" for seat in opened.study.seats) == 2
    with pytest.raises(InputError, match="already"):
        people.add_person(opened, "P04", replaces="P01")


def test_nobody_elses_orders_change_where_people_come_leave_or_are_replaced(demo: OpenStudy) -> None:
    def others() -> dict[int, object]:
        return {seat.number: seat for seat in demo.study.seats if seat.participant not in ("P05", "P08", "P09")}

    before = others()
    people.let_go(demo, "P05", "ill")
    people.add_person(demo, "P08", replaces="P05")
    people.add_person(demo, "P09")
    set_field(demo, "person.P09.role", "pilot")
    assert others() == before
    assert sum(seat.participant == "P08" for seat in demo.study.seats) == 3


def test_several_people_are_added_at_once_or_none(opened: OpenStudy) -> None:
    people.add_several(opened, 5)
    assert [person.code for person in opened.study.people][2:] == ["P03", "P04", "P05", "P06", "P07"]
    with pytest.raises(InputError, match="at most"):
        people.add_several(opened, 400)
    assert len(opened.study.people) == 7


def test_agreeing_puts_todays_date_and_keeps_earlier_ones(opened: OpenStudy) -> None:
    with pytest.raises(InputError, match="asks for no consent"):
        people.agree(opened, "P01", ["part"])
    set_field(opened, "sheet.consents", "part | to take part; quotes | to be quoted")
    set_field(opened, "person.P01.consents.part", "2026-01-02")
    for wrong in ([], ["part", "all"]):
        with pytest.raises(InputError):
            people.agree(opened, "P01", wrong)
    people.agree(opened, "P01", ["part"])
    assert opened.study.person_by_code["P01"].consents == {"part": "2026-01-02"}
    people.agree(opened, "P01", ["quotes"])
    assert opened.study.person_by_code["P01"].consents == {"part": "2026-01-02", "quotes": people.today(opened)}


def test_people_come_from_a_table_and_go_into_one(demo: OpenStudy, tmp_path: Path) -> None:
    written = write_people(demo, tmp_path / "out" / "people.csv")
    other = tmp_path / "other.fresh"
    create_study(other, replace(small_study(people=0), sheet=demo.study.sheet))
    opened = open_study(other)
    table = open_table(written.path)
    from fresh_chair.core.plan.text.people_csv import guessed

    found = look_through(opened, table, guessed(table, opened.study.sheet))
    assert found.problems == ()
    assert take_people(opened, found) == len(demo.study.people)
    assert [replace(p, replaces="") for p in demo.study.people] == list(opened.study.people)
    with pytest.raises(InputError, match="Nobody"):
        take_people(opened, look_through(opened, table, guessed(table, opened.study.sheet)))
    with pytest.raises(FileProblem, match="cannot be read"):
        open_table(tmp_path / "none.csv")
    opened.close()


def test_hunches_are_written_reworded_taken_back_and_sealed(opened: OpenStudy) -> None:
    first = preparing.write_hunch(opened, "card-1", "A", " will look elsewhere ", 2)
    preparing.reword_hunch(opened, first, "will look in the wrong place", 3)
    second = preparing.write_hunch(opened, "card-2", "B", "x", 0)
    preparing.reword_hunch(opened, second, " ", 0)
    (kept,) = opened.hunches
    assert (kept.words, kept.severity, kept.sealed_wall_ns) == ("will look in the wrong place", 3, None)
    assert preparing.seal_hunches(opened, ["A"]) == 1
    assert opened.hunches[0].sealed_wall_ns == opened.clock.now().wall_ns
    with pytest.raises(Refused, match="sealed"):
        preparing.reword_hunch(opened, opened.hunches[0], "x", 0)
    for where in (("ghost", "A"), ("card-1", "Z")):
        with pytest.raises(InputError):
            preparing.write_hunch(opened, *where, "x", 1)
    for words, severity in (("", 1), ("x", 5)):
        with pytest.raises(InputError):
            preparing.write_hunch(opened, "card-1", "A", words, severity)


def test_the_bench_is_looked_at_and_every_look_stays(opened: OpenStudy) -> None:
    set_field(opened, "card.card-1.fixtures", "a headset; a share")
    preparing.look_at_fixture(opened, "A HEADSET", "missing", "flat")
    assert preparing.look_at_all(opened) == 2
    again = reread(opened)
    assert all(each.ready for each in bench_of(again.study, again.fixture_checks))
    assert len(again.fixture_checks) == 3
    with pytest.raises(InputError, match="No card asks"):
        preparing.look_at_fixture(again, "a boat", "ready")
    again.close()


def test_drawing_again_changes_what_has_not_begun_and_nothing_else(demo: OpenStudy) -> None:
    before = {seat.number: seat for seat in demo.study.seats}
    plan_again(demo, seed=4711)
    after = {seat.number: seat for seat in demo.study.seats}
    assert all(after[number] == before[number] for number in demo.begun)
    assert any(after[number] != before[number] for number in before if number not in demo.begun)
    assert demo.study.seed == 4711


def test_readiness_says_what_is_there_and_what_is_not(demo: OpenStudy, opened: OpenStudy) -> None:
    states = {part.id: part.state for part in readiness(demo).parts}
    assert states == {
        "study": "ready",
        "tasks": "open",
        "chair": "ready",
        "person": "open",
        "orders": "open",
        "hunches": "ready",
        "bench": "open",
        "time": "ready",
    }
    assert readiness(demo).people == {"P03": "left", "P07": "consent?", "T1": "pilot", "E1": "expert"}
    assert "nothing is asked of them" in next(part.words for part in readiness(opened).parts if part.id == "person")
    set_field(opened, "sheet.screener", "linux | ever used it? | no")
    set_field(opened, "person.P01.answers.linux", "yes")
    set_field(opened, "card.card-1.success", "")
    set_field(opened, "card.card-1.fixtures", "a boat")
    preparing.look_at_fixture(opened, "a boat", "missing")
    found = readiness(opened)
    states = {part.id: part.state for part in found.parts}
    assert (states["tasks"], states["person"], states["bench"]) == ("wrong", "wrong", "wrong")
    assert found.people == {"P01": "not the one", "P02": "screener?"}
    assert set(found.chairs) == {"A", "B"}


def test_pilots_and_the_expert_are_counted_nowhere(demo: OpenStudy) -> None:
    uncounted = {"E1", "T1"}
    assert {fact.participant for fact in demo.facts()} & uncounted == set()
    from fresh_chair.services.figures.study_figures import weigh
    from fresh_chair.services.findings.observations import sorted_findings_of

    for finding in sorted_findings_of(demo).findings:
        for spread in finding.spread:
            assert not uncounted & {*spread.people, *spread.tried}
    for satisfaction in weigh(demo).satisfaction:
        assert not uncounted & {who for who, _ in satisfaction.scores}


def test_once_more_leaves_out_dropped_cards_and_seats_nobody_who_left(demo: OpenStudy) -> None:
    first = demo.study.seat(7)
    set_field(demo, f"card.{first.cards[0]}.dropped", "yes")
    again = sit_again(demo, 7)
    assert again.cards == first.cards[1:]
    assert demo.study.seat(7) == first
    with pytest.raises(Refused, match="P03 left"):
        sit_again(demo, 15)
    with pytest.raises(InputError):
        sit_again(demo, 999)
